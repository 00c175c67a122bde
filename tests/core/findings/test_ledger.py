"""The line at the foot: what it totals, what it leaves out, where it leads."""

import pytest
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill

from heathrise.core.findings import assess
from tests.house import House, changed

JOBS = {"school": tern_lane(), "mill": withy_mill(), "clinic": fern_hollow()}


def foot(job):
    return {entry.key: entry for entry in assess(job).ledger}


def cabled(points: int = 2, model: str = "switch-16-poe-2g5") -> House:
    house = House(settled=True)
    house.rack()
    house.switch(model=model)
    for number in range(points):
        point = house.point(f"AP {number + 1}", x=2 + 3 * number)
        house.run(point, f"R-{number + 1:02d}")
    return house


def test_of_an_empty_house_only_what_can_be_said_is_said():
    assert set(foot(House().job)) <= {"spaces", "hours", "kit"}


@pytest.mark.parametrize("name", JOBS)
def test_every_total_is_the_sum_of_its_lines_or_counts_them(name):
    entries, found = foot(JOBS[name]), assess(JOBS[name])
    assert entries["poe"].sum.value == pytest.approx(
        sum(line.value for line in entries["poe"].sum.lines), abs=0.1
    )
    assert entries["ports"].sum.value == sum(line.value for line in entries["ports"].sum.lines)
    scored = entries["spaces"].sum
    assert scored.limit == len(scored.lines) == len(found.spaces)
    assert scored.value == sum(space.holds for space in found.spaces)


@pytest.mark.parametrize("name", JOBS)
def test_the_longest_run_is_the_one_nearest_its_limit(name):
    entry, found = foot(JOBS[name])["longest"], assess(JOBS[name])
    used = {run.run_id: run.length_m / run.limit_m for run in found.runs}
    assert used[entry.goes_to] == max(used.values())


@pytest.mark.parametrize("name", JOBS)
def test_where_spaces_fail_the_total_leads_to_the_worst(name):
    entry, found = foot(JOBS[name])["spaces"], assess(JOBS[name])
    worst = min(found.spaces, key=lambda space: space.share)
    assert entry.goes_to == (None if worst.holds else worst.space_id)


def test_a_switch_over_its_budget_is_where_the_total_leads():
    house = cabled(2)
    good = foot(house.job)["poe"]
    assert (good.sum.holds, good.goes_to) == (True, None)
    model = house.job.equipment["switch-16-poe-2g5"]
    house.add(
        "model", "Weak", code="switch-16-poe-2g5", model=model.model_copy(update={"budget_w": 5}).model_dump()
    )
    bad = foot(house.job)["poe"]
    assert not bad.sum.holds
    assert bad.goes_to == house.d.id_of("switch", "SW1")


def test_runs_that_find_no_port_count_and_break_the_total():
    house = House(settled=True)
    house.rack()
    house.switch(model="switch-8-poe")
    for number in range(9):
        house.run(house.thing(f"Outlet {number}", x=1 + number, y=5), f"R-{number:02d}", cable="cat6-indoor")
    entry = foot(house.job)["ports"]
    assert not entry.sum.holds
    assert entry.sum.value == 9
    assert entry.sum.lines[-1].label == "runs without a port"


def test_a_longer_way_moves_the_total_and_nothing_else_that_is_held():
    house = cabled(1)
    before, after = foot(house.job), foot(changed(house.job, "AP 1", at={"x_m": 5.5, "y_m": 7.5}))
    assert after["longest"].sum.value > before["longest"].sum.value
    assert after["ports"].sum == before["ports"].sum
