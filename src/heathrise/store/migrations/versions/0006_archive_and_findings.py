"""A job may be archived, and keeps how many findings were open when it was last worked out."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("job", sa.Column("archived", sa.DateTime, nullable=True))
    op.add_column("job", sa.Column("faults", sa.Integer, nullable=True))
    op.add_column("job", sa.Column("warnings", sa.Integer, nullable=True))
