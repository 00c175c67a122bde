"""Studies of a job that take long: what was asked, how far it is, what was found."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "study",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("job_id", sa.String(36), sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("asked", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("share", sa.Float, nullable=False),
        sa.Column("doing", sa.String(200), nullable=False),
        sa.Column("beat", mysql.DATETIME(fsp=3), nullable=False),
        sa.Column("result", mysql.LONGBLOB),
        sa.Column("created", mysql.DATETIME(fsp=3), nullable=False),
        sa.CheckConstraint("state in ('running', 'done', 'failed', 'stopped')", name="study_state"),
        sa.Index("study_job", "job_id", "created"),
        mysql_engine="InnoDB",
        mysql_charset="utf8mb4",
    )


def downgrade() -> None:
    op.drop_table("study")
