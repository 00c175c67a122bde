"""Jobs, elements, changes, attachments."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0001"
down_revision = None

ENGINE = {"mysql_engine": "InnoDB", "mysql_charset": "utf8mb4"}


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("created", sa.DateTime, server_default=sa.func.now(), nullable=False),
        sa.Column("changed", sa.DateTime, server_default=sa.func.now(), nullable=False),
        **ENGINE,
    )
    op.create_table(
        "element",
        sa.Column("job_id", sa.String(36), sa.ForeignKey("job.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("kind", sa.String(24), nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("place", sa.BigInteger, nullable=False),
        sa.Column("body", sa.JSON, nullable=False),
        sa.Column(
            "storey_id",
            sa.String(36),
            sa.Computed("json_value(body, '$.storey_id')", persisted=False),
        ),
        **ENGINE,
    )
    op.create_index("element_kind", "element", ["job_id", "kind"])
    op.create_table(
        "change",
        sa.Column("id", sa.BigInteger, primary_key=True, autoincrement=True),
        sa.Column("job_id", sa.String(36), sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("actor", sa.String(36), nullable=False),
        sa.Column("edit_id", sa.String(36), nullable=False),
        sa.Column("label", sa.String(120), nullable=False),
        sa.Column("way", sa.String(4), nullable=False),
        sa.Column("target", sa.BigInteger),
        sa.Column("operations", sa.JSON, nullable=False),
        sa.Column("inverse", sa.JSON, nullable=False),
        sa.Column("at", sa.DateTime, server_default=sa.func.now(), nullable=False),
        sa.UniqueConstraint("job_id", "revision", name="change_revision"),
        sa.UniqueConstraint("job_id", "edit_id", name="change_edit"),
        sa.CheckConstraint("way in ('edit', 'undo', 'redo')", name="change_way"),
        **ENGINE,
    )
    op.create_index("change_actor", "change", ["job_id", "actor", "id"])
    op.create_table(
        "attachment",
        sa.Column("job_id", sa.String(36), sa.ForeignKey("job.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("width_px", sa.Integer, nullable=False),
        sa.Column("height_px", sa.Integer, nullable=False),
        sa.Column("body", mysql.LONGBLOB, nullable=False),
        sa.Column("created", sa.DateTime, server_default=sa.func.now(), nullable=False),
        **ENGINE,
    )


def downgrade() -> None:
    for table in ("attachment", "change", "element", "job"):
        op.drop_table(table)
