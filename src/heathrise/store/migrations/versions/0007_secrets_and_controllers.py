"""Passphrases and controllers, sealed; settings sent to controllers, step by step."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0007"
down_revision = "0006"
_INNODB = {"mysql_engine": "InnoDB", "mysql_charset": "utf8mb4"}


def _job(**more: bool) -> sa.Column:
    return sa.Column(
        "job_id", sa.String(36), sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False, **more
    )


def _changed() -> sa.Column:
    return sa.Column("changed", sa.DateTime, server_default=sa.func.now(), nullable=False)


def upgrade() -> None:
    op.create_table(
        "secret",
        _job(primary_key=True),
        sa.Column("element_id", sa.String(36), primary_key=True),
        sa.Column("sealed", mysql.LONGBLOB, nullable=False),
        sa.Column("chars", sa.Integer, nullable=False),
        sa.Column("bits", sa.Float, nullable=False),
        sa.Column("made", sa.Boolean, nullable=False),
        _changed(),
        **_INNODB,
    )
    op.create_table(
        "controller",
        _job(primary_key=True),
        sa.Column("driver", sa.String(40), nullable=False),
        sa.Column("address", sa.String(300), nullable=False),
        sa.Column("account", sa.String(120), nullable=False),
        sa.Column("sealed", mysql.LONGBLOB, nullable=False),
        _changed(),
        **_INNODB,
    )
    op.create_table(
        "push",
        sa.Column("id", sa.String(36), primary_key=True),
        _job(),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("plan", sa.JSON, nullable=False),
        sa.Column("serials", sa.JSON, nullable=False),
        sa.Column("steps", sa.JSON, nullable=False),
        sa.Column("seen", sa.String(40), nullable=False),
        sa.Column("said", sa.String(500), nullable=False),
        sa.Column("backup", mysql.LONGBLOB),
        sa.Column("busy", mysql.DATETIME(fsp=3)),
        sa.Column("created", mysql.DATETIME(fsp=3), nullable=False),
        sa.CheckConstraint("state in ('ready', 'stopped', 'done', 'undone')", name="push_state"),
        sa.Index("push_job", "job_id", "created"),
        **_INNODB,
    )


def downgrade() -> None:
    for table in ("push", "controller", "secret"):
        op.drop_table(table)
