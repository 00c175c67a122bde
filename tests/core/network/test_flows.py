"""Who reaches whom: what is usual by purpose, what a person presses, and what it says in words."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.edit import EditError, Operation, Remove, apply
from heathrise.core.job import Flow, Job, Network
from heathrise.core.library import library
from heathrise.core.network.flows import flow_matrix, press, reached_by
from heathrise.store.jobs import new_id
from tests.house import House

PURPOSES = tuple(library().purposes)


def networks(*purposes: str) -> Job:
    house = House()
    for n, purpose in enumerate(purposes):
        info = library().purposes[purpose]
        begins = {"isolated": info.isolated, "internet": info.internet}
        house.add("network", purpose, purpose=purpose, vlan=20 + n, subnet=f"10.20.{20 + n}.0/24", **begins)
    return house.job


def reached(job: Job, purpose: str) -> set[str]:
    (one,) = [n for n in job.of(Network) if n.purpose == purpose]
    return {other.purpose for other in reached_by(job, one)}


def pressed(job: Job, one: str, other: str) -> Job:
    by = {network.purpose: network.id for network in job.of(Network)}
    operations: tuple[Operation, ...] = press(job, by[one], by.get(other, other), new_id)
    return apply(job, operations).job


@pytest.mark.parametrize(
    ("purpose", "expected"),
    [
        ("main", {"guest", "things", "cameras", "voice", "staff", "pupils"}),
        ("guest", set()),
        ("things", set()),
        ("cameras", set()),
        ("payment", set()),
        ("pupils", {"things"}),
        ("staff", {"things", "voice"}),
        ("management", set(PURPOSES) - {"management"}),
    ],
)
def test_what_is_usual_follows_the_purpose(purpose, expected):
    assert reached(networks(*PURPOSES), purpose) == expected


def test_a_cell_pressed_is_kept_as_a_decision_and_pressed_back_is_nobodys():
    job = networks("main", "things")
    opened = pressed(job, "things", "main")
    assert reached(opened, "things") == {"main"}
    assert [flow.allowed for flow in opened.of(Flow)] == [True]
    assert pressed(opened, "things", "main").elements == job.elements


@given(st.lists(st.tuples(st.sampled_from(PURPOSES), st.sampled_from(PURPOSES)), max_size=12))
def test_any_presses_each_turn_one_cell_and_no_other(presses):
    job = networks(*PURPOSES)
    for one, other in presses:
        if one == other:
            continue
        before = {(c.from_id, c.to_id): c.allowed for row in flow_matrix(job).rows for c in row.cells}
        job = pressed(job, one, other)
        after = {(c.from_id, c.to_id): c.allowed for row in flow_matrix(job).rows for c in row.cells}
        assert sum(before[key] != after[key] for key in before) == 1


def test_the_internet_is_a_column_too():
    job = pressed(networks("main", "cameras"), "cameras", "internet")
    (cameras,) = [n for n in job.of(Network) if n.purpose == "cameras"]
    assert cameras.internet


def test_the_words_say_what_the_cells_do():
    (row,) = [r for r in flow_matrix(networks("main", "guest", "things")).rows if r.label == "things"]
    assert row.words.startswith(
        "things may open connections to the internet; what it opens to main and guest is dropped."
    )


def test_against_itself_or_what_is_gone_nothing_is_pressed():
    job = networks("main", "guest")
    one = job.of(Network)[0].id
    with pytest.raises(EditError, match="within one network"):
        press(job, one, one, new_id)
    with pytest.raises(EditError, match="not there"):
        press(job, one, "00000000-0000-7000-8000-00000000ffff", new_id)


def test_a_network_that_goes_takes_its_flows_along():
    job = pressed(networks("main", "things"), "things", "main")
    (main,) = [n for n in job.of(Network) if n.purpose == "main"]
    assert apply(job, [Remove(id=main.id)]).job.of(Flow) == ()
