"""Opening and editing a job has a budget of questions to the database, whatever its size."""

from contextlib import contextmanager

import pytest
from benchmarks.school import reference_school
from sqlalchemy import event, text

from heathrise.core import edit as edit_module
from heathrise.core.edit import Put, Remove, apply
from heathrise.core.job import AccessPoint, Wall
from heathrise.store.edits import Asked, Edit, commit_edit, history, step_back
from heathrise.store.jobs import caught_up, create_job, list_jobs, load_job, new_id


@contextmanager
def counted(database):
    asked = []

    def note(_connection, _cursor, statement, *_):
        asked.append(statement)

    event.listen(database.engine, "before_cursor_execute", note)
    yield asked
    event.remove(database.engine, "before_cursor_execute", note)


@pytest.fixture
def large(database):
    with database.transaction() as session:
        return create_job(session, reference_school())


def test_opening_a_large_job_asks_twice(database, large):
    with counted(database) as asked, database.transaction() as session:
        assert len(load_job(session, large.id).job.elements) > 1200
    assert len(asked) == 2


def test_an_edit_of_a_large_job_asks_no_more_than_ten_times(database, large):
    point = large.job.of(AccessPoint)[0].model_copy(update={"label": "Renamed"})
    actor = new_id()
    with counted(database) as asked, database.transaction() as session:
        commit_edit(session, large.id, Edit(new_id(), actor, "Rename", 0, (Put(element=point),)))
    assert len(asked) <= 10
    with counted(database) as asked, database.transaction() as session:
        step_back(session, large.id, Asked(new_id(), actor), "undo")
    assert len(asked) <= 12


def test_the_list_asks_once_however_many_jobs(database, large):
    with counted(database) as asked, database.transaction() as session:
        assert [job.id for job in list_jobs(session)] == [large.id]
    assert len(asked) == 1


def test_a_job_known_is_brought_up_to_date_by_what_came_alone(database, large):
    point = large.job.of(AccessPoint)[0].model_copy(update={"label": "Renamed"})
    with database.transaction() as session:
        commit_edit(session, large.id, Edit(new_id(), new_id(), "Rename", 0, (Put(element=point),)))
    with counted(database) as asked, database.transaction() as session:
        newest = caught_up(session, large)
    assert len(asked) == 2
    assert newest.job.by_id[point.id].label == "Renamed"
    shared = [e for e in newest.job.elements if large.job.by_id.get(e.id) is e]
    assert len(shared) == len(large.job.elements) - 1


def test_removing_many_at_once_costs_no_more_for_each_than_a_few(large):
    """Counted in references followed: as many as there are, however many elements go."""
    walls = [wall.id for wall in large.job.of(Wall)]
    followed = []
    real = edit_module.references

    def counting(element):
        followed.append(element.id)
        return real(element)

    edit_module.references = counting
    try:
        few = _followed(large.job, walls[:10], followed)
        many = _followed(large.job, walls[:200], followed)
    finally:
        edit_module.references = real
    assert many <= few + 2 * 200


def _followed(job, ids, followed):
    followed.clear()
    apply(job, [Remove(id=key) for key in ids])
    return len(followed)


def test_an_edit_asks_and_reads_the_same_however_long_the_history(database, large):
    """Counted in statements and in the rows the database examines for them."""
    actor, kept = new_id(), large
    costs = []
    for number in range(60):
        point = kept.job.of(AccessPoint)[0].model_copy(update={"label": f"Name {number}"})
        edit = Edit(new_id(), actor, "Rename", number, (Put(element=point),))
        with counted(database) as asked, database.transaction() as session:
            session.execute(text("flush status"))
            kept = commit_edit(session, large.id, edit, kept)
            history(session, large.id, actor)
            read = session.execute(text("show session status like 'Handler_read%'")).all()
        costs.append((len(asked), sum(int(value) for _, value in read)))
    assert len({statements for statements, _ in costs}) == 1
    assert max(rows for _, rows in costs[30:]) <= max(rows for _, rows in costs[:30]) + 2
