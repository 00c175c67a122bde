"""Schema 2 of jobs: elements and kept changes turned; an element's order stands in its body.

The bodies are turned by the core, which turns job files of schema 1 alike. Rows are read and written in
batches, so that a large job takes no more memory than a small one.
"""

import json

import sqlalchemy as sa
from alembic import op

from heathrise.core.job.turning import orders_of, turn, turn_change

revision = "0004"
down_revision = "0003"

BATCH = 500
ELEMENT = sa.table(
    "element",
    sa.column("job_id", sa.String),
    sa.column("id", sa.String),
    sa.column("kind", sa.String),
    sa.column("version", sa.Integer),
    sa.column("body", sa.JSON),
)
CHANGE = sa.table(
    "change",
    sa.column("id", sa.BigInteger),
    sa.column("job_id", sa.String),
    sa.column("operations", sa.JSON),
    sa.column("inverse", sa.JSON),
)


def upgrade() -> None:
    op.drop_column("element", "storey_id")
    op.drop_column("element", "place")
    connection = op.get_bind()
    for (job_id,) in connection.execute(sa.text("select id from job")).all():
        orders = _turn_elements(connection, job_id)
        _turn_changes(connection, job_id, orders)


def _turn_elements(connection: sa.Connection, job_id: str) -> dict[str, int]:
    mine = sa.select(ELEMENT.c.version, ELEMENT.c.body).where(ELEMENT.c.job_id == job_id)
    rows = connection.execute(mine).all()
    orders = orders_of([row.body for row in rows])
    last = len(orders)
    turned = []
    for row in rows:
        for body in turn(row.body, orders):
            last += not body["order"]
            kept = {**body, "order": body["order"] or last}
            turned.append({"job_id": job_id, "version": row.version, "body": kept} | _named(kept))
    connection.execute(sa.delete(ELEMENT).where(ELEMENT.c.job_id == job_id))
    for start in range(0, len(turned), BATCH):
        connection.execute(sa.insert(ELEMENT), turned[start : start + BATCH])
    return orders


def _named(body: dict) -> dict:
    return {"id": body["id"], "kind": body["kind"]}


def _turn_changes(connection: sa.Connection, job_id: str, orders: dict[str, int]) -> None:
    ids = connection.execute(sa.select(CHANGE.c.id).where(CHANGE.c.job_id == job_id)).scalars().all()
    for change_id in ids:
        mine = sa.select(CHANGE.c.operations, CHANGE.c.inverse).where(CHANGE.c.id == change_id)
        row = connection.execute(mine).one()
        done, inverse = turn_change(row.operations, row.inverse, orders)
        if json.dumps([done, inverse]) != json.dumps([row.operations, row.inverse]):
            change = sa.update(CHANGE).where(CHANGE.c.id == change_id)
            connection.execute(change.values(operations=done, inverse=inverse))
