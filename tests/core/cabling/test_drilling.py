"""What is drilled where: one hole for what passes together, a sleeve that holds it, hours by the hole."""

from demo.drawing import at
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.detour import detour
from heathrise.core.cabling.drilling import DrillList, drill_list, sleeve_for
from heathrise.core.cabling.runs import plan_runs
from heathrise.core.edit import Remove, apply
from heathrise.core.findings import assess
from heathrise.core.job import Link, Pin
from heathrise.core.library import library, limit
from heathrise.core.site.building import building_of
from tests.house import House, by_label, look_at


def holes(house: House) -> DrillList:
    job = house.job
    return drill_list(job, plan_runs(job, building_of(job)).plans)


def through_the_middle(*heights: float, **said) -> House:
    """Runs to the other room, level with each of these places on its wall."""
    house = House()
    house.rack(x=1, y=1)
    for n, y in enumerate(heights):
        house.run(house.point(f"AP {n}", x=9, y=y), f"R-0{n}", **said)
    return house


def test_runs_that_pass_a_wall_together_share_one_hole_and_one_sleeve():
    found = holes(through_the_middle(1, 1, 1))
    (hole,) = found.holes
    assert hole.run_labels == ("R-00", "R-01", "R-02")
    assert hole.wall_label == "Ground middle"
    assert found.hours == library().build_ups["brick-102"].drill_hours
    # Three of 7.5 mm are 168.75 mm2; a sleeve of 26.1 mm is filled 24.8 % of the 30 % chosen for.
    assert hole.bore == "plastic-1"
    assert hole.fill.value == 24.8
    assert hole.fill.limit == 30.0


def test_what_is_there_already_is_not_drilled_again():
    assert holes(through_the_middle(1, there=True)).holes == ()


def test_a_wall_that_holds_fire_back_says_so_and_a_floor_does():
    house = through_the_middle(1)
    house.d.elements = [
        e.model_copy(update={"fire_minutes": 30}) if e.label == "Ground middle" else e
        for e in house.d.elements
    ]
    assert [hole.fire_minutes for hole in holes(house).holes] == [30]
    tall = House(2)
    tall.rack(x=1, y=1)
    ends = {"from_storey_id": tall.ground, "to_storey_id": tall.storeys[1]}
    tall.add("riser", "Shaft", at=at(1, 3), **ends)
    tall.run(tall.point(x=1, y=6, storey_id=tall.storeys[1]))
    (floor,) = holes(tall).holes
    assert (floor.wall_label, floor.fire_minutes) == ("floor", limit("cabling.floor_fire_min"))


def test_the_kit_drills_as_many_holes_as_the_list():
    job = through_the_middle(1, 1, 6).job
    found = assess(job)
    lines = [line for line in found.hours if line.label == "Drill: brick leaf 102 mm"]
    assert [line.count for line in lines] == [len(drill_list(job, found.runs).holes)]


@given(st.lists(st.sampled_from([5.2, 6.1, 7.5, 9.0]), min_size=1, max_size=60))
@settings(max_examples=60, deadline=None)
def test_a_sleeve_more_filled_is_never_narrower(ods):
    less, more = sleeve_for(tuple(ods[:-1] or ods)), sleeve_for(tuple(ods))
    bores = library().bores
    # Two cables may fill a bore less than one or three.
    if more is not None and less is not None and len(ods) > 3:
        assert bores[more].bore_mm >= bores[less].bore_mm


def pin(house: House, x: float, y: float) -> Pin:
    return Pin(storey_id=house.ground, at=at(x, y))


def test_a_run_led_through_a_place_says_its_length_before_it_is_decided():
    house = through_the_middle(1)
    job = house.job
    run = by_label(job, "R-00")
    look = look_at(job)
    led = detour(look, run.id, pin(house, 4, 7), 1, None)
    assert led.pins == (pin(house, 4, 7),)
    straight = plan_runs(job, building_of(job)).plans[0]
    assert led.length_m > straight.length_m + 2 * 6
    # More of it lies in the warm void.
    assert led.limit_m < straight.limit_m


def test_pins_stand_in_the_order_the_run_passes_them():
    house = through_the_middle(1)
    job = house.job
    run = by_label(job, "R-00")
    assert isinstance(run, Link)
    first = detour(look_at(job), run.id, pin(house, 4, 7), 1, None)
    house.d.elements = [
        e.model_copy(update={"pins": first.pins}) if e.id == run.id else e for e in house.d.elements
    ]
    look = look_at(house.job)
    legs = first.legs
    before = next(n for n, leg in enumerate(legs) if leg.z0_m == leg.z1_m)
    after = max(n for n, leg in enumerate(legs) if leg.z0_m == leg.z1_m)
    assert [p.at.x_m for p in detour(look, run.id, pin(house, 2, 3), before, None).pins] == [2, 4]
    assert [p.at.x_m for p in detour(look, run.id, pin(house, 8, 5), after, None).pins] == [4, 8]
    assert [p.at.x_m for p in detour(look, run.id, pin(house, 5, 5), None, 0).pins] == [5]


def test_a_storey_taken_away_takes_its_pins_and_leaves_the_run():
    house = House(2)
    house.rack(x=1, y=1)
    upstairs = Pin(storey_id=house.storeys[1], at=at(3, 3))
    house.run(house.point(x=9, y=4), pins=[upstairs.model_dump()])
    left = apply(house.job, [Remove(id=house.storeys[1])]).job
    assert by_label(left, "R-01").pins == ()
