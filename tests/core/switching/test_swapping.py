"""Ends that trade ports so that points which cover for each other hang apart: nothing else is worse for it."""

from collections import Counter

from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.derived import runs
from heathrise.core.job import Job, Rack
from heathrise.core.power.derived import feeds
from heathrise.core.switching.ports import asks_in, assign, loads_of, slots_in
from heathrise.core.switching.slots import lost_octaves
from heathrise.core.switching.swapping import traded_apart
from tests.house import House, look_at

MODELS = ("ap-ceiling-wifi6-2x2", "ap-ceiling-wifi6e-4x4", "ap-ceiling-wifi7-2x2")


def rack_of(models: list[str], outlets: int = 0) -> Job:
    house = House(settled=True)
    house.rack(model="rack-22u")
    for n, switch in enumerate(("switch-16-poe-2g5", "switch-24-poe-2g5"), 1):
        house.switch(f"SW{n}", switch)
    for n, model in enumerate(models):
        house.run(house.point(f"AP {n}", x=1 + n % 10, y=1 + n // 10, model=model), f"R-{n:02d}")
    for n in range(outlets):
        house.run(house.thing(f"Outlet {n}", x=1 + n, y=6), f"R-{n + 50}")
    return house.job


def given_out(job: Job):
    look, (rack,) = look_at(job), job.of(Rack)
    asks, slots = asks_in(job, runs(look), rack.id), slots_in(job, rack.id)
    return asks, slots, loads_of(job, asks, feeds(look), rack.id), assign(asks, slots)


def together(placed, slots, pairs) -> int:
    on = {i: slots[n].switch.id for i, n in placed.items()}
    return sum(on[a] == on[b] for a, b in pairs if a in on and b in on)


def drawn(placed, slots, loads) -> Counter:
    found: Counter = Counter()
    for i, n in placed.items():
        if slots[n].poe_class:
            found[slots[n].switch.id] += loads.watts.get((i, slots[n].switch.id), 0.0)
    return found


def test_pairs_that_can_hang_apart_do():
    asks, slots, loads, placed = given_out(rack_of(["ap-ceiling-wifi6-2x2"] * 12))
    pairs = [(0, 1), (2, 3), (8, 9), (10, 11)]
    assert together(placed, slots, pairs) > 0
    assert together(traded_apart(asks, slots, loads, pairs, placed, {}), slots, pairs) == 0


@given(
    st.lists(st.sampled_from(MODELS), min_size=2, max_size=14),
    st.integers(0, 4),
    st.sets(st.tuples(st.integers(0, 13), st.integers(0, 13)), max_size=14),
    st.sets(st.integers(0, 13), max_size=5),
)
@settings(max_examples=40, deadline=None)
def test_nothing_is_worse_for_a_trade(models, outlets, drawn_pairs, held_ends):
    asks, slots, loads, placed = given_out(rack_of(models, outlets))
    pairs = [(a, b) for a, b in drawn_pairs if a < b < len(models)]
    held = {i: placed[i] for i in held_ends if i in placed}
    after = traded_apart(asks, slots, loads, pairs, placed, held)
    assert together(after, slots, pairs) <= together(placed, slots, pairs)
    assert {i: after[i] for i in held} == held
    assert sorted(after.values()) == sorted(placed.values())
    moved = [i for i in placed if after[i] != placed[i]]
    assert all(slots[after[i]].poe_class >= asks[i].poe_class for i in moved)
    assert all(
        lost_octaves(asks[i], slots[after[i]]) <= lost_octaves(asks[i], slots[placed[i]]) for i in moved
    )
    before, then = drawn(placed, slots, loads), drawn(after, slots, loads)
    assert all(then[s] <= max(before[s], 0.8 * loads.budgets[s]) + 1e-6 for s in loads.budgets)


def test_the_same_ports_come_out_each_time():
    asks, slots, loads, placed = given_out(rack_of(["ap-ceiling-wifi6-2x2"] * 9, outlets=3))
    pairs = [(0, 1), (1, 2), (3, 4), (5, 8)]
    found = [traded_apart(asks, slots, loads, pairs, placed, {}) for _ in range(2)]
    assert found[0] == found[1]
