"""What is written down on site, photographs, and what was handed over."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0008"
down_revision = "0007"
_INNODB = {"mysql_engine": "InnoDB", "mysql_charset": "utf8mb4"}


def _job(**more: bool) -> sa.Column:
    return sa.Column(
        "job_id", sa.String(36), sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False, **more
    )


def upgrade() -> None:
    op.create_table(
        "record",
        sa.Column("seq", sa.BigInteger, primary_key=True, autoincrement=True),
        _job(),
        sa.Column("id", sa.String(36), nullable=False),
        sa.Column("kind", sa.String(10), nullable=False),
        sa.Column("subject", sa.String(160), nullable=False),
        sa.Column("task", sa.String(160)),
        sa.Column("about", sa.String(36)),
        sa.Column("by", sa.String(80), nullable=False),
        sa.Column("device", sa.String(36), nullable=False),
        sa.Column("said_at", mysql.DATETIME(fsp=3), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=3), nullable=False),
        sa.Column("text", sa.Text, nullable=False),
        sa.Column("number", sa.Double),
        sa.Column("photo", sa.String(36)),
        sa.Column("measured", sa.JSON),
        sa.UniqueConstraint("job_id", "id", name="record_once"),
        sa.Index("record_came", "job_id", "seq"),
        **_INNODB,
    )
    op.create_table(
        "photo",
        _job(primary_key=True),
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("width_px", sa.Integer, nullable=False),
        sa.Column("height_px", sa.Integer, nullable=False),
        sa.Column("body", mysql.LONGBLOB, nullable=False),
        sa.Column("created", sa.DateTime, server_default=sa.func.now(), nullable=False),
        **_INNODB,
    )
    op.create_table(
        "edition",
        sa.Column("id", sa.String(36), primary_key=True),
        _job(),
        sa.Column("number", sa.Integer),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("state", sa.String(8), nullable=False),
        sa.Column("parts", sa.JSON, nullable=False),
        sa.Column("signing", sa.JSON, nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=3), nullable=False),
        sa.Column("signed", mysql.DATETIME(fsp=3)),
        sa.UniqueConstraint("job_id", "number", name="edition_number"),
        sa.CheckConstraint("state in ('making', 'stopped', 'signed')", name="edition_state"),
        sa.Index("edition_job", "job_id", "created"),
        **_INNODB,
    )
    op.create_table(
        "edition_file",
        sa.Column(
            "edition_id",
            sa.String(36),
            sa.ForeignKey("edition.id", ondelete="CASCADE"),
            primary_key=True,
        ),
        sa.Column("name", sa.String(120), primary_key=True),
        sa.Column("kind", sa.String(120), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("size", sa.Integer, nullable=False),
        sa.Column("body", mysql.LONGBLOB, nullable=False),
        **_INNODB,
    )


def downgrade() -> None:
    for table in ("edition_file", "edition", "photo", "record"):
        op.drop_table(table)
