"""Work in processes of its own: one that dies is said to be lost, one nobody waits for ends, one that is done is left."""

import os
import signal
import threading
import time

import pytest

from heathrise.store.database import Database, migrate
from heathrise.store.tables import JobRow
from heathrise.work import background
from heathrise.work.background import Beat

WAIT_S = 30


@pytest.fixture(scope="module")
def own_url(server):
    url = server.create("background")
    migrate(url)
    return url


def ends_well():
    return None


def dies():
    os.kill(os.getpid(), signal.SIGKILL)


def raises():
    raise ValueError("broken")


class Lost:
    """Notes that it was told, in a session that reaches the database."""

    def __init__(self):
        self.told = threading.Event()
        self.jobs = -1

    def __call__(self, session):
        self.jobs = session.query(JobRow).count()
        self.told.set()


@pytest.mark.parametrize("work", [dies, raises])
def test_what_died_is_said_to_be_lost(own_url, work):
    lost = Lost()
    background.start(work, (), own_url, lost)
    assert lost.told.wait(WAIT_S)
    assert lost.jobs == 0


def test_what_ended_well_is_not(own_url):
    lost, later = Lost(), Lost()
    background.start(ends_well, (), own_url, lost)
    # Begun after it and lost: by then the first has long been waited for.
    background.start(dies, (), own_url, later)
    assert later.told.wait(WAIT_S)
    assert not lost.told.is_set()


def test_a_beat_ends_the_work_nobody_waits_for():
    ended = threading.Event()
    said = iter((True, False))
    with Beat(lambda: next(said, False), ended.set):
        assert ended.wait(WAIT_S)


def test_a_beat_stops_with_its_work():
    told, ended = [], threading.Event()

    def tell():
        told.append(time.monotonic())
        return True

    once = threading.Event()
    with Beat(lambda: tell() and (once.set() or True), ended.set):
        assert once.wait(WAIT_S)
    so_far = len(told)
    assert not ended.wait(3 * background._BEAT_S)
    assert len(told) <= so_far + 1


def test_the_database_of_a_lost_work_may_be_away(own_url):
    gone = own_url.replace("/background", "/nowhere")
    lost = Lost()
    background.start(dies, (), gone, lost)
    later = Lost()
    background.start(dies, (), own_url, later)
    assert later.told.wait(WAIT_S)
    assert not lost.told.is_set()
    Database(own_url).engine.dispose()


def test_work_that_has_to_wait_starts_in_its_turn_and_tells_meanwhile(own_url, monkeypatch):
    monkeypatch.setattr(background, "_TELL_S", 0.05)
    free, told = threading.Semaphore(0), threading.Event()
    lost = Lost()

    def waits():
        told.set()
        return True

    background.start(dies, (), own_url, lost, turn=background.Turn(free, waits))
    assert told.wait(WAIT_S)
    assert not lost.told.is_set()
    free.release()
    assert lost.told.wait(WAIT_S)
    assert free.acquire(timeout=WAIT_S), "whoever is next may start"


def test_work_nobody_waits_for_any_more_never_starts(own_url, monkeypatch):
    monkeypatch.setattr(background, "_TELL_S", 0.05)
    gave_up = threading.Event()

    def waits():
        gave_up.set()
        return False

    lost = Lost()
    background.start(dies, (), own_url, lost, turn=background.Turn(threading.Semaphore(0), waits))
    assert gave_up.wait(WAIT_S)
    assert not lost.told.wait(0.3)
