"""Opening and editing a job has a budget of questions to the database, whatever its size."""

from contextlib import contextmanager

import pytest
from benchmarks.school import reference_school
from sqlalchemy import event

from heathrise.core.edit import Put
from heathrise.core.job import AccessPoint
from heathrise.store.jobs import Edit, commit_edit, create_job, list_jobs, load_job, new_id, step_back


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
        step_back(session, large.id, actor, "undo")
    assert len(asked) <= 12


def test_the_list_asks_once_however_many_jobs(database, large):
    with counted(database) as asked, database.transaction() as session:
        assert [job.id for job in list_jobs(session)] == [large.id]
    assert len(asked) == 1
