"""Calculators in processes of their own: the same answers as in place, and a killed one costs a moment."""

import json
import os
import signal

import pytest

from heathrise.core.edit import EditError, Put
from heathrise.core.job import AccessPoint
from heathrise.store.database import Database, migrate
from heathrise.store.edits import Edit, commit_edit
from heathrise.store.jobs import NoSuchJob, create_job, new_id
from heathrise.work.asking import AssessmentAsked, RunsAsked
from heathrise.work.calculators import Apart, InPlace, Message
from tests.house import House

TABLES = ("spaces", "runs", "ports", "findings", "ledger")


@pytest.fixture(scope="module")
def own_url(server):
    url = server.create("calculators")
    migrate(url)
    return url


@pytest.fixture
def opened(own_url):
    """A database, a job in it."""
    database = Database(own_url)
    house = House()
    house.rack()
    house.switch()
    house.run(house.point())
    with database.transaction() as session:
        kept = create_job(session, house.job)
    yield database, kept
    database.engine.dispose()


@pytest.fixture(scope="module")
def apart(own_url):
    made = Apart(own_url, 1)
    yield made
    made.close()


def assessment(job_id, revision, since=None):
    return Message(job_id, "assessment", AssessmentAsked(since=since, tables=TABLES), revision)


def renamed(database, kept, revision):
    point = kept.job.of(AccessPoint)[0].model_copy(update={"label": f"AP {revision}"})
    with database.transaction() as session:
        commit_edit(session, kept.id, Edit(new_id(), new_id(), "renamed", revision, [Put(element=point)]))


def test_one_waits_loaded_and_the_first_question_takes_it(own_url, opened):
    _, kept = opened
    made = Apart(own_url, 2)
    try:
        waiting = made._spare
        made.ask(assessment(kept.id, kept.revision))
        assert made._spare is None
        assert [seat._process for seat in made._seats].count(waiting) == 1
        assert sum(seat._process is not None for seat in made._seats) == 1
    finally:
        made.close()
    assert not waiting.lives


def test_one_that_waited_and_died_is_not_taken(own_url, opened):
    _, kept = opened
    made = Apart(own_url, 1)
    try:
        waiting = made._spare
        waiting.end()
        said = made.ask(assessment(kept.id, kept.revision))
        assert json.loads(said.body)["revision"] == kept.revision
    finally:
        made.close()


def test_what_is_answered_apart_is_what_is_answered_in_place(opened, apart):
    database, kept = opened
    asked = assessment(kept.id, kept.revision)
    there, here = apart.ask(asked), InPlace(database).ask(asked)
    assert json.loads(there.body) == json.loads(here.body)
    assert there.revision == here.revision == kept.revision


def test_an_edit_made_elsewhere_is_in_the_next_answer(opened, apart):
    database, kept = opened
    apart.ask(assessment(kept.id, kept.revision))
    renamed(database, kept, kept.revision)
    said = apart.ask(assessment(kept.id, kept.revision + 1, since=kept.revision))
    assert said.revision == kept.revision + 1
    runs = json.loads(said.body)["tables"]["runs"]["rows"]
    assert [row["to_label"] for row in runs.values()] == [f"AP {kept.revision}"]


def test_a_killed_calculator_is_started_again_and_the_question_answered(opened, apart):
    kept = opened[1]
    before = json.loads(apart.ask(assessment(kept.id, kept.revision)).body)
    process = apart._seats[0]._process
    os.kill(process.pid, signal.SIGKILL)
    process.end()
    assert json.loads(apart.ask(assessment(kept.id, kept.revision)).body) == before


def test_what_the_core_refuses_is_refused_in_its_own_words(opened, apart):
    kept = opened[1]
    with pytest.raises(NoSuchJob):
        apart.ask(assessment(new_id(), 1))
    with pytest.raises(EditError, match="no port"):
        apart.ask(Message(kept.id, "runs.suggest", RunsAsked(to=new_id()), kept.revision))
