"""Files being imported, and what the firm chose once."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0002"
down_revision = "0001"

ENGINE = {"mysql_engine": "InnoDB", "mysql_charset": "utf8mb4"}


def upgrade() -> None:
    op.create_table(
        "import",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("job_id", sa.String(36), sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("body", mysql.LONGBLOB, nullable=False),
        sa.Column("asked", sa.JSON, nullable=False),
        sa.Column("turn", sa.Integer, nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("share", sa.Float, nullable=False),
        sa.Column("doing", sa.String(200), nullable=False),
        sa.Column("beat", mysql.DATETIME(fsp=3), nullable=False),
        sa.Column("result", mysql.LONGBLOB),
        sa.Column("png", mysql.LONGBLOB),
        sa.Column("created", sa.DateTime, server_default=sa.func.now(), nullable=False),
        sa.CheckConstraint("state in ('running', 'done', 'failed')", name="import_state"),
        **ENGINE,
    )
    op.create_table(
        "firm_choice",
        sa.Column("topic", sa.String(20), primary_key=True),
        sa.Column("name", sa.String(120), primary_key=True),
        sa.Column("value", sa.JSON, nullable=False),
        sa.Column("changed", sa.DateTime, server_default=sa.func.now(), nullable=False),
        **ENGINE,
    )


def downgrade() -> None:
    op.drop_table("firm_choice")
    op.drop_table("import")
