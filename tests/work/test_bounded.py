"""Reading in bounded processes: what takes too much ends its own reader; what is said comes back."""

import threading
import time

import pytest

from heathrise.exchange.unreadable import Unreadable
from heathrise.work import bounded as module
from heathrise.work.bounded import Busy, bounded


def doubled(number):
    return number * 2


def hoards(gigabytes):
    return len(b"x" * int(gigabytes * 1e9))


def spins():
    while True:
        pass


def waits():
    threading.Event().wait()


def refuses():
    raise Unreadable("the file is of another kind", "Send one of this kind")


def breaks():
    raise KeyError("what somebody wrote")


def test_what_is_read_comes_back():
    assert bounded("the file", 10, doubled, 21) == 42


@pytest.mark.parametrize(("work", "args"), [(hoards, (2.5,)), (spins, ()), (waits, ())])
def test_what_takes_too_much_ends_its_own_reader(work, args):
    begun = time.monotonic()
    with pytest.raises(Unreadable, match="the file needs more memory or time"):
        bounded("the file", 1, work, *args)
    assert time.monotonic() - begun < 20


def test_what_fits_the_bounds_is_read():
    assert bounded("the file", 10, hoards, 0.5) == 500_000_000


def test_a_refusal_comes_back_in_its_own_words():
    with pytest.raises(Unreadable, match="of another kind"):
        bounded("the file", 10, refuses)


def test_an_error_of_the_reader_quotes_nothing_that_was_sent(capfd):
    with pytest.raises(Unreadable, match="could not be read") as caught:
        bounded("the file", 10, breaks)
    assert "somebody wrote" not in str(caught.value)
    said = capfd.readouterr()
    assert "somebody wrote" not in said.out + said.err


def test_whoever_finds_every_reader_taken_is_told_to_come_again(monkeypatch):
    monkeypatch.setattr(module, "_slots", threading.BoundedSemaphore(1))
    monkeypatch.setattr(module, "_QUEUE_S", 0.05)
    with module._slots, pytest.raises(Busy):
        bounded("the file", 10, doubled, 1)
    assert bounded("the file", 10, doubled, 1) == 2
