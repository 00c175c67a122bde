"""A bin for jobs; each edit says whether it stands, so that undo costs the same after ten edits and ten thousand."""

from collections.abc import Iterable

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"

CHANGE = sa.table(
    "change",
    sa.column("id", sa.BigInteger),
    sa.column("job_id", sa.String),
    sa.column("actor", sa.String),
    sa.column("way", sa.String),
    sa.column("target", sa.BigInteger),
    sa.column("standing", sa.String),
)


def upgrade() -> None:
    op.add_column("job", sa.Column("binned", sa.DateTime, nullable=True))
    op.add_column("change", sa.Column("standing", sa.String(6), nullable=True))
    connection = op.get_bind()
    whose = sa.select(CHANGE.c.job_id, CHANGE.c.actor).distinct()
    for job_id, actor in connection.execute(whose).all():
        mine = sa.select(CHANGE.c.id, CHANGE.c.way, CHANGE.c.target)
        mine = mine.where(CHANGE.c.job_id == job_id, CHANGE.c.actor == actor).order_by(CHANGE.c.id)
        for change_id, standing in standings(connection.execute(mine).all()).items():
            row = sa.update(CHANGE).where(CHANGE.c.id == change_id)
            connection.execute(row.values(standing=standing))
    op.create_check_constraint("change_standing", "change", "standing in ('done', 'undone', 'spent')")
    op.create_index("change_stack", "change", ["job_id", "actor", "standing", "id"])
    op.drop_index("change_actor", "change")


def standings(rows: Iterable[tuple[int, str, int | None]]) -> dict[int, str]:
    """Return how each edit of one actor stands: the actor's changes gone through from the first."""
    found: dict[int, str] = {}
    for change_id, way, target in rows:
        if way == "edit":
            for key in [key for key, standing in found.items() if standing == "undone"]:
                found[key] = "spent"
            found[change_id] = "done"
        elif target in found and found[target] != "spent":
            found[target] = "undone" if way == "undo" else "done"
    return found
