"""Why no way of giving ports out is free of faults: the fewest wants that cannot all hold, and ways out that work."""

import pytest
from demo.load import JOBS
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.derived import runs
from heathrise.core.edit import apply
from heathrise.core.job import Job, Rack
from heathrise.core.power.derived import feeds
from heathrise.core.switching.conflicts import PortsAsked, conflicts_of, core_of, holds
from heathrise.core.switching.derived import covering
from heathrise.core.switching.ports import asks_in, loads_of, paired, slots_in
from heathrise.core.switching.replanning import replan
from tests.house import House, look_at


def points_on(count: int, *switches: str, model: str = "ap-ceiling-wifi6-2x2") -> Job:
    house = House(settled=True)
    house.rack(model="rack-22u")
    for n, switch in enumerate(switches):
        house.switch(f"SW{n + 1}", switch)
    for n in range(count):
        house.run(house.point(f"AP {n}", x=1 + n % 10, y=1 + n // 10, model=model), f"R-{n:02d}")
    return house.job


def asked_of(job: Job) -> PortsAsked:
    look, (rack,) = look_at(job), job.of(Rack)
    asks = asks_in(job, runs(look), rack.id)
    return PortsAsked(
        job,
        rack,
        asks,
        slots_in(job, rack.id),
        loads_of(job, asks, feeds(look), rack.id),
        paired(asks, covering(look)),
    )


def first(job: Job):
    return conflicts_of(asked_of(job), feeds(look_at(job)))


def test_where_all_can_hold_nothing_is_said():
    assert first(points_on(6, "switch-24-poe-2g5")) == ()


def test_one_powered_port_too_few_is_the_whole_reason():
    found = first(points_on(5, "switch-8-poe"))
    words = next(one.wants for one in found if any("class" in want for want in one.wants))
    assert words == ("each of 5 ends has a port, of 8 in TR1", "5 ask for class 4 or more, 4 ports give it")


def test_more_ends_than_ports_needs_no_other_reason():
    found = first(points_on(9, "switch-8-plain"))
    assert any(one.wants == ("each of 9 ends has a port, of 8 in TR1",) for one in found)


def test_watts_are_a_reason_where_ports_are_not():
    found = first(points_on(14, "switch-16-poe-2g5", model="ap-ceiling-wifi6e-4x4"))
    assert any(any("SW1 gives [[240|W]]" in want for want in one.wants) for one in found)


@pytest.mark.parametrize(
    ("count", "switches"), [(5, ("switch-8-poe",)), (9, ("switch-8-plain",)), (10, ("switch-8-poe",) * 2)]
)
def test_each_way_out_does_what_it_says(count, switches):
    """Taken and given out anew, the conflict is gone and nothing is left without a port or power."""
    job = points_on(count, *switches)
    ways = [
        way for one in first(job) for way in one.ways if "class" in " ".join(one.wants) or len(one.wants) == 1
    ]
    assert len(ways) >= 2
    for way in ways:
        after = replan(look_at(apply(job, way.fix.operations).job)).after
        assert (after.unplaced, after.under_fed, after.over_budget) == (0, 0, 0), way.fix.label
        assert way.cost.value == pytest.approx(sum(line.value for line in way.cost.lines))


@given(
    st.integers(1, 12),
    st.lists(
        st.sampled_from(["switch-8-poe", "switch-8-plain", "switch-16-poe-2g5"]), min_size=1, max_size=3
    ),
    st.sampled_from(["ap-ceiling-wifi6-2x2", "ap-ceiling-wifi6e-4x4", "ap-ceiling-wifi7-2x2"]),
)
@settings(max_examples=25, deadline=None)
def test_no_want_of_a_reason_can_be_left_out(count, switches, model):
    asked = asked_of(points_on(count, *switches, model=model))
    core = core_of(asked, asked.wants)
    assert bool(core) != holds(asked, asked.wants)
    if core:
        assert not holds(asked, core)
        assert all(holds(asked, [other for other in core if other != want]) for want in core)


@pytest.mark.parametrize("make", JOBS.values(), ids=JOBS.keys())
def test_a_demo_says_only_what_it_can_be_handed_over_without(make):
    for one in replan(look_at(make())).conflicts:
        assert any(word in " ".join(one.wants) for word in ("Mb/s", "pairs"))
