"""Ports given out by constraint: no cap exceeded, what is decided stays, and the fewest patches that a cure takes."""

import itertools

import pytest
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.edit import Put, apply
from heathrise.core.findings import assess
from heathrise.core.job import End, Job, Link
from heathrise.core.switching.replanning import replan, replanned
from tests.house import House, by_label, look_at
from tests.school import badly_patched


def opened(job: Job) -> Job:
    """Return a job with no port decided."""
    puts = [
        Put(element=link.model_copy(update={"a": End(on=rack)}))
        for link in job.of(Link)
        if link.a.port and (rack := job.rack_of(link.a.on))
    ]
    return apply(job, puts).job


def two_switches(points: int, models=("switch-16-poe-2g5", "switch-16-poe-2g5"), **body) -> Job:
    house = House(settled=True)
    house.rack()
    for n, model in enumerate(models, 1):
        house.switch(f"SW{n}", model)
    for n in range(points):
        point = house.point(f"AP {n}", x=1 + (n * 1.7) % 10, y=1 + (n * 2.3) % 6, **body)
        house.run(point, f"R-{n + 10}")
    return house.job


def on(job: Job) -> dict[str, str]:
    return {p.run_label: f"{p.switch_label}/{p.port}" for p in assess(job).ports if p.run_id}


def rules(job: Job) -> list[str]:
    return [f.rule for f in assess(job).findings if f.rule.startswith(("ports.", "power."))]


def test_points_that_cover_for_each_other_are_proposed_on_two_switches():
    job = two_switches(2)
    switches = {port.split("/")[0] for port in on(job).values()}
    assert switches == {"SW1", "SW2"}
    assert "ports.neighbours-on-one-switch" not in rules(job)


def test_a_job_whose_ports_are_all_open_gets_a_plan_without_a_fault():
    for build in (tern_lane, withy_mill):
        found = assess(opened(build()))
        said = [
            f for f in found.findings if f.rule.startswith(("ports.", "power.")) and f.severity == "fault"
        ]
        assert said == []
        assert found.unplaced == ()


def test_watts_are_spread_where_one_switch_would_run_dry():
    # Sixteen of 25 W would be 400 W of 240 on the first switch alone.
    job = two_switches(12, model="ap-ceiling-wifi7-2x2")
    found = assess(job)
    assert all(budget.holds for budget in found.budgets)
    assert "power.budget-over" not in rules(job)


@given(points=st.integers(1, 10), first=st.integers(0, 9))
@settings(max_examples=12, deadline=None)
def test_a_decided_port_never_moves_and_no_port_is_given_twice(points, first):
    job = two_switches(points)
    label = f"R-{10 + first % points}"
    switch = by_label(job, "SW2")
    held = by_label(job, label).model_copy(update={"a": End(on=switch.id, port="5")})
    given_out = on(apply(job, [Put(element=held)]).job)
    assert given_out[label] == "SW2/5"
    assert len(set(given_out.values())) == len(given_out) == points


@given(points=st.integers(1, 12))
@settings(max_examples=10, deadline=None)
def test_what_is_proposed_is_the_same_each_time(points):
    assert on(two_switches(points)) == on(two_switches(points))


# --- anew -----------------------------------------------------------------------------------------------------------


def test_giving_out_anew_mends_what_was_decided_badly_and_then_moves_nothing_more():
    job = badly_patched()
    found = replan(look_at(job))
    assert found.before.under_fed == 1
    assert found.after.under_fed == found.after.over_budget == found.after.unplaced == 0
    assert found.after.together <= found.before.together
    new = apply(job, replanned(look_at(job))).job
    moved = {label for label, port in on(new).items() if on(job)[label] != port}
    assert moved == {move.run_label for move in found.moves}
    assert "power.device-under-fed" not in rules(new)
    assert replan(look_at(new)).moves == ()


def test_nothing_moves_where_nothing_is_wrong():
    house = House(settled=True)
    house.rack()
    house.switch()
    for n in range(4):
        house.run(house.point(f"AP {n}", x=2 + 2 * n, y=4), f"R-{n + 10}", on=("SW1", str(n + 3)))
    found = replan(look_at(house.job))
    assert found.moves == ()
    assert found.proven


def swapped() -> Job:
    """Two devices on each other's ports: one asks for class 5, and the plain one has its port."""
    house = House(settled=True)
    house.rack()
    house.switch()
    strong = house.point("Strong", x=3, y=4, model="ap-ceiling-wifi6e-4x4")
    house.run(strong, "R-10", on=("SW1", "9"))
    for n in range(8):
        house.run(house.point(f"AP {n}", x=1 + n, y=6), f"R-{n + 11}", on=("SW1", str(n + 1)))
    return house.job


def test_the_fewest_patches_move_proven_by_trying_all_of_fewer():
    job = swapped()
    found = replan(look_at(job))
    assert found.before.under_fed == 1
    assert found.after.under_fed == 0
    assert found.proven
    assert len(found.moves) == 2
    # No single patch cures it: every port that feeds class 5 is taken by another.
    switch = by_label(job, "SW1")
    free = [str(n) for n in range(10, 17)]
    runs = [link for link in job.of(Link) if link.a.port]
    for run, port in itertools.product(runs, free):
        one = apply(job, [Put(element=run.model_copy(update={"a": End(on=switch.id, port=port)}))]).job
        assert any(not p.holds for p in assess(one).ports)


@pytest.mark.parametrize("build", [tern_lane, withy_mill])
def test_anew_is_never_worse_than_now_in_what_is_a_fault(build):
    found = replan(look_at(build()))
    assert found.after.unplaced <= found.before.unplaced
    assert found.after.under_fed <= found.before.under_fed
    assert found.after.over_budget <= found.before.over_budget


def test_a_space_that_cannot_be_scored_takes_no_port_away(monkeypatch):
    job = two_switches(2)

    def broken(*_: object) -> None:
        raise RuntimeError("no such cell")

    monkeypatch.setattr("heathrise.core.radio.air.score", broken)
    found = assess(job)
    assert "findings.could-not-run" in {f.rule for f in found.findings}
    assert all(port.run_id for port in found.ports[:1])
    assert len([port for port in found.ports if port.run_id]) == 2
