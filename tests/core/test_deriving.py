"""The memo: only what read what changed runs again, and nothing above what came out equal."""

import numpy as np
import pytest
import structlog

from heathrise.core.deriving import Memo, Superseded, alike, bulky, derived, gathered


def note_and_get(look, key):
    look.note(key)
    return look.source[key]


@derived
def parity(look, key):
    return note_and_get(look, key) % 2


@derived
def parities(look):
    return tuple(parity(look, key) for key in sorted(note_and_get(look, "keys")))


@derived
def odd(look):
    return sum(parities(look))


@derived
def breaking(look):
    return 1 // note_and_get(look, "a")


@bulky
def wide(look):
    return np.full(1000, note_and_get(look, "a"))


@derived
def top(look):
    return float(wide(look)[0])


def memo(**values):
    return Memo({"keys": tuple(values), **values})


def advanced(here, **changes):
    here.advance({**here.source, **changes}, here.revision + 1, changes)
    here.worked.clear()
    return here


def test_a_value_is_worked_out_once():
    here = memo(a=1, b=2, c=3)
    assert [odd(here.look), odd(here.look)] == [2, 2]
    assert here.worked == {"core.parity": 3, "core.parities": 1, "core.odd": 1}


def test_what_read_nothing_that_changed_does_not_run():
    here = memo(a=1, b=2, c=3)
    odd(here.look)
    assert odd(advanced(here, elsewhere=7).look) == 2
    assert not here.worked


def test_nothing_runs_above_a_value_that_came_out_equal():
    here = memo(a=1, b=2, c=3)
    odd(here.look)
    assert odd(advanced(here, a=5).look) == 2
    assert here.worked == {"core.parity": 1}
    assert odd(advanced(here, a=4).look) == 1
    assert here.worked == {"core.parity": 1, "core.parities": 1, "core.odd": 1}


def test_a_value_that_raises_raises_for_who_asks_and_is_kept_until_its_reading_changes():
    here = memo(a=0)
    with pytest.raises(ZeroDivisionError):
        breaking(here.look)
    with pytest.raises(ZeroDivisionError):
        breaking(here.look)
    assert here.worked["core.breaking"] == 1
    assert breaking(advanced(here, a=1).look) == 1


def test_of_many_the_one_that_breaks_leaves_the_rest():
    here = memo(a=1, b=2)
    found, broken = gathered(here.look, parity, ("a", "x", "b"))
    assert found == [1, 0]
    assert [(one.subject, type(one.error)) for one in broken] == [("x", KeyError)]


def test_work_on_an_old_revision_stops_between_two_values():
    here = memo(a=1)
    here.want(here.revision + 1)
    with pytest.raises(Superseded):
        odd(here.look)
    assert odd(advanced(here, a=1).look) == 1


def test_arrays_leave_when_room_is_short_and_come_back_without_a_stir():
    here = memo(a=3)
    here.room_bytes = 100
    assert top(here.look) == 3
    here.trim(lambda value: value.nbytes)
    here.worked.clear()
    assert wide(here.look)[0] == 3
    assert top(here.look) == 3
    assert not here.worked
    assert top(advanced(here, a=4).look) == 4


def test_values_of_what_is_gone_are_swept():
    here = memo(a=1, b=2)
    odd(here.look)
    known = len(here)
    advanced(here, keys=("a",), b=None)
    odd(here.look)
    here.sweep()
    assert len(here) == known - 1


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        (np.arange(3), np.arange(3), True),
        (np.arange(3), np.arange(3.0), False),
        ((1, [np.zeros(2)]), (1, [np.zeros(2)]), True),
        ({"a": np.zeros(2)}, {"a": np.ones(2)}, False),
        (1, 1.0, False),
        ((), [], False),
    ],
)
def test_equal_means_equal_to_the_bit_and_of_one_type(one, other, same):
    assert alike(one, other) is same


@derived
def above_breaking(look):
    return breaking(look) + 1


def depth_of(error):
    frames, trace = 0, error.__traceback__
    while trace is not None:
        frames, trace = frames + 1, trace.tb_next
    return frames


def caught(here, ask):
    with pytest.raises(ZeroDivisionError) as found:
        ask(here.look)
    return found.value


def test_one_error_is_the_outcome_of_all_that_hangs_on_it():
    here = memo(a=0)
    assert caught(here, above_breaking) is caught(here, breaking)


def test_asking_again_for_what_broke_does_not_lengthen_its_trace():
    here = memo(a=0)
    first = depth_of(caught(here, above_breaking))
    assert [depth_of(caught(here, above_breaking)) for _ in range(20)] == [first] * 20


def test_what_broke_is_logged_once_and_where_it_broke():
    with structlog.testing.capture_logs() as said:
        here = memo(a=0)
        for _ in range(3):
            caught(here, above_breaking)
    assert [(line["event"], line["value"]) for line in said] == [("value_broke", "core.breaking")]
    assert "ZeroDivisionError" in said[0]["trace"]


def test_what_broke_is_whole_again_once_what_it_read_is():
    here = memo(a=0)
    caught(here, above_breaking)
    assert above_breaking(advanced(here, a=1).look) == 2
