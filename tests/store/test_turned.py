"""Rows of schema 1 in a real MariaDB, brought to this release: nothing lost, what was done can be undone."""

import json
from pathlib import Path

import pytest
import sqlalchemy as sa

from heathrise.core.job import Equipment, InLine, Link
from heathrise.exchange.jobfile import read_job
from heathrise.store.database import Database, migrate
from heathrise.store.edits import Asked, step_back
from heathrise.store.jobs import load_job, new_id
from tests.house import by_label

OLD = json.loads((Path(__file__).parents[1] / "exchange" / "schema-1.json").read_text("utf-8"))
BODIES = {body["label"]: body for body in OLD["elements"]}
ANNA, JOB = new_id(), new_id()
PINNED = BODIES["R-1"]
FED = BODIES["R-10"]
DEVICE = BODIES["Desk outlet"]


def put(body, **changes):
    return {"op": "put", "element": body | changes}


# What Anna did last, each with its inverse: a port chosen, an injector put on, an outlet and its run drawn.
CHANGES = [
    ([put(PINNED)], [put(PINNED, pin=None)]),
    ([put(FED)], [put(FED, injector=None)]),
    (
        [put(DEVICE), put(BODIES["R-2"])],
        [{"op": "remove", "id": BODIES["R-2"]["id"]}, {"op": "remove", "id": DEVICE["id"]}],
    ),
]


@pytest.fixture
def turned(server):
    """A database filled at the release before, then brought to this one."""
    url = server.create(f"turned_{new_id()[-12:]}")
    migrate(url, "0003")
    database = Database(url)
    with database.engine.begin() as connection:
        fill(connection)
    migrate(url)
    yield database
    database.engine.dispose()


def fill(connection):
    connection.execute(
        sa.text(
            "insert into job (id, name, revision, created, changed) values (:id, :name, 3, now(), now())"
        ),
        {"id": JOB, "name": OLD["name"]},
    )
    connection.execute(
        sa.text(
            "insert into element (job_id, id, kind, version, place, body)"
            " values (:job, :id, :kind, 1, :place, :body)"
        ),
        [
            {"job": JOB, "id": body["id"], "kind": body["kind"], "place": place, "body": json.dumps(body)}
            for place, body in enumerate(OLD["elements"])
        ],
    )
    connection.execute(
        sa.text(
            "insert into `change` (job_id, revision, actor, edit_id, label, way, operations, inverse)"
            " values (:job, :revision, :actor, :edit, 'drawn', 'edit', :done, :inverse)"
        ),
        [
            {
                "job": JOB,
                "revision": revision,
                "actor": ANNA,
                "edit": new_id(),
                "done": json.dumps(done),
                "inverse": json.dumps(inverse),
            }
            for revision, (done, inverse) in enumerate(CHANGES, start=1)
        ],
    )


def loaded(database):
    with database.transaction() as session:
        return load_job(session, JOB).job


def back(database, way):
    with database.transaction() as session:
        return step_back(session, JOB, Asked(new_id(), ANNA), way)[0].job


def test_what_is_kept_is_what_the_same_file_would_be(turned):
    file = read_job(json.dumps(OLD))
    assert {e.id: e for e in loaded(turned).elements} == {e.id: e for e in file.elements}


def test_all_that_was_done_before_can_be_undone_and_done_again(turned):
    before = {e.id: e for e in loaded(turned).elements}

    undone = back(turned, "undo")
    assert not {DEVICE["id"], BODIES["R-2"]["id"]} & {e.id for e in undone.elements}
    unfed = back(turned, "undo")
    assert not [e for e in unfed.of(Equipment) if isinstance(e.place, InLine)]
    unpinned = by_label(back(turned, "undo"), "R-1")
    assert isinstance(unpinned, Link)
    assert (unpinned.a.on, unpinned.a.port) == (BODIES["TR1"]["id"], None)

    for _ in CHANGES:
        again = back(turned, "redo")
    assert {e.id for e in again.elements} == set(before)
    for label in ("R-1", "R-10", "R-2", "Desk outlet"):
        assert by_label(again, label) == before[BODIES[label]["id"]]


def test_turning_twice_changes_nothing(turned):
    before = loaded(turned)
    migrate(str(turned.engine.url.render_as_string(hide_password=False)))
    assert loaded(turned) == before
