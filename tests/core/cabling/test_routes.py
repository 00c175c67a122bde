"""Routes in three dimensions: lengths that can be added up by hand, and laws."""

import pytest
from demo.drawing import at
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.runs import plan_runs
from heathrise.core.site.building import building_of
from tests.house import House


def planned(house):
    job = house.job
    return plan_runs(job, building_of(job)).plans


def test_a_run_on_one_floor_is_up_along_and_down():
    house = House()
    house.rack(x=1, y=1, height_m=1.5)
    house.run(house.point(x=4, y=5))
    (plan,) = planned(house)
    # Up 1.3 to the middle of the void at 2.8, 3 + 4 along, 0.2 down to 2.6.
    assert sum(leg.length_m for leg in plan.legs) == pytest.approx(1.3 + 7 + 0.2)
    assert plan.length_m == pytest.approx(8.5 * 1.05 + 3 + 3, abs=0.01)
    assert plan.holes == ()


def test_through_the_middle_wall_it_drills_once():
    house = House()
    house.rack(x=1, y=1)
    house.run(house.point(x=9, y=4))
    assert [hole.build_up for hole in planned(house)[0].holes] == ["brick-102"]


def test_an_outlet_has_a_short_loop():
    house = House()
    house.rack(x=1, y=1)
    outlet = house.thing("Outlet", 4, 5)
    house.run(outlet, cable="cat6-indoor")
    (plan,) = planned(house)
    assert [line.value for line in plan.length_sum.lines[-2:]] == [3.0, 0.3]


def test_between_storeys_it_goes_by_the_riser():
    house = House(2)
    house.rack(x=1, y=1, height_m=1.5)
    house.add("riser", "Shaft", at=at(1, 3), from_storey_id=house.ground, to_storey_id=house.storeys[1])
    house.run(house.point(x=1, y=6, storey_id=house.storeys[1]))
    (plan,) = planned(house)
    assert sum(leg.length_m for leg in plan.legs) == pytest.approx(1.3 + 2 + 3 + 3 + 0.2)
    assert "riser" in plan.environments
    assert [hole.build_up for hole in plan.holes] == ["concrete-slab-150"]


def test_of_two_risers_it_takes_the_nearer():
    house = House(2)
    house.rack(x=1, y=1)
    ends = {"from_storey_id": house.ground, "to_storey_id": house.storeys[1]}
    house.add("riser", "Far", at=at(11, 7), **ends)
    house.add("riser", "Near", at=at(1, 2), **ends)
    house.run(house.point(x=2, y=3, storey_id=house.storeys[1]))
    assert any(leg.what == "riser Near" for leg in planned(house)[0].legs)


def test_without_a_riser_it_is_measured_at_the_rack():
    house = House(2)
    house.rack(x=1, y=1)
    house.run(house.point(x=4, y=4, storey_id=house.storeys[1]))
    (plan,) = planned(house)
    (up,) = [leg for leg in plan.legs if leg.environment == "riser"]
    assert (up.a.x_m, up.a.y_m) == (1, 1)


def test_outdoors_is_cut_out_with_its_own_heat():
    house = House()
    house.d.space(house.ground, "Shed", (20, 0, 24, 8), building="Shed")
    house.rack(x=1, y=1)
    house.run(house.point(x=22, y=1), cable="cat6a-indoor")
    (plan,) = planned(house)
    outdoors = [leg for leg in plan.legs if leg.environment == "outdoor"]
    assert sum(leg.length_m for leg in outdoors) == pytest.approx(8, abs=0.8)
    assert {leg.temperature_c for leg in outdoors} == {35}
    assert plan.environments == ("general", "outdoor")


def test_a_hot_loft_shortens_the_limit():
    cool, hot = House(), House()
    hot.d.space(hot.ground, "Hot shaft", (2, 0, 4, 8), hottest_c=60)
    for house in (cool, hot):
        house.rack(x=1, y=1)
        house.run(house.point(x=11, y=1))
    assert planned(hot)[0].limit_m < planned(cool)[0].limit_m
    assert planned(hot)[0].hottest_c >= 60
    assert planned(hot)[0].length_m == planned(cool)[0].length_m


def walled(gap: tuple[float, float] | None, **said) -> House:
    """A rack and a point in one room with a wall between them, open over a part of it at its lower end."""
    house = House()
    house.rack(x=1, y=2)
    house.run(house.point(x=5, y=2))
    top = gap[1] if gap else 0
    house.d.wall(house.ground, "concrete-150", (3, top), (3, 8), label="Between", **said)
    return house


def test_a_dear_wall_is_gone_round_and_a_cheap_one_drilled():
    """Round it is 2 x 0.8 m over a room and four bends more, through it 0.8 h x 5 m; a stud wall is 0.1 h."""
    (round_it,) = planned(walled((0, 1.3)))
    assert round_it.holes == ()
    assert sum(leg.length_m for leg in round_it.legs) < 4 + 1.3 + 0.2 + 3
    cheap = walled((0, 1.3))
    cheap.d.elements = [
        e.model_copy(update={"build_up": "stud-plasterboard"}) if e.label == "Between" else e
        for e in cheap.d.elements
    ]
    (through,) = planned(cheap)
    assert [hole.build_up for hole in through.holes] == ["stud-plasterboard"]
    assert (through.holes[0].at.x_m, through.holes[0].at.y_m) == (3, 2)


def test_a_wall_that_is_not_to_be_drilled_is_gone_round_however_far():
    house = walled((0, 1.3), undrilled=True)
    assert planned(house)[0].holes == ()
    lead = walled((0, 1.3))
    lead.d.elements = [
        e.model_copy(update={"build_up": "lead-lined"}) if e.label == "Between" else e
        for e in lead.d.elements
    ]
    assert planned(lead)[0].holes == ()


def test_with_no_way_round_it_goes_through_and_says_so():
    house = House()
    house.rack(x=1, y=2)
    house.run(house.point(x=4, y=4))
    corners = ((3, 3), (5, 3), (5, 5), (3, 5), (3, 3))
    house.d.wall(house.ground, "concrete-150", *corners, label="Vault", undrilled=True)
    (plan,) = planned(house)
    assert [hole.undrilled for hole in plan.holes] == [True]


def test_a_no_go_area_is_gone_round():
    house = House()
    house.rack(x=1, y=4)
    house.run(house.point(x=5, y=4))
    corners = [at(2, 1), at(4, 1), at(4, 7.0), at(2, 7.0)]
    house.add("no-go", "Transformer", storey_id=house.ground, outline=corners, reason="electrical")
    (plan,) = planned(house)
    assert all(leg.blocked_by is None for leg in plan.legs)
    # Down to 7.3 or up to 0.7 and back: the nearer line is 0.3 off its edge.
    level = sum(leg.length_m for leg in plan.legs if leg.z0_m == leg.z1_m)
    assert level == pytest.approx(4 + 2 * 3.3)


def test_a_corridor_is_taken_before_a_room():
    house = House()
    house.d.elements = [e for e in house.d.elements if e.label not in ("Ground west", "Ground middle")]
    house.d.space(house.ground, "Room", (0, 0, 6, 6))
    house.d.space(house.ground, "Corridor", (0, 6, 12, 8), space_kind="corridor")
    house.rack(x=1, y=6.5)
    house.run(house.point(x=11, y=3))
    legs = planned(house)[0].legs
    along = [leg for leg in legs if leg.a.y_m == leg.b.y_m and leg.z0_m == leg.z1_m]
    assert {leg.a.y_m for leg in along} == {6.5}


def test_a_run_passes_its_pins_in_their_order():
    house = House()
    house.rack(x=1, y=1)
    pins = [{"storey_id": house.ground, "at": at(2, 7)}, {"storey_id": house.ground, "at": at(5, 7)}]
    house.run(house.point(x=5, y=1), pins=pins)
    (plan,) = planned(house)
    level = [leg for leg in plan.legs if leg.z0_m == leg.z1_m]
    assert sum(leg.length_m for leg in level) == pytest.approx(1 + 6 + 3 + 6)
    corners = [(leg.b.x_m, leg.b.y_m) for leg in level]
    assert corners.index((2, 7)) < corners.index((5, 7))


def test_what_stands_on_a_wall_is_reached_without_drilling_it():
    house = House()
    house.rack(x=1, y=1)
    house.run(house.thing("Outlet", 6, 5))
    assert planned(house)[0].holes == ()


@pytest.mark.parametrize(
    ("cable", "model", "away", "verdict", "says"),
    [
        ("cat5e-indoor", "ap-ceiling-wifi6-2x2", 10, "use", "2,500 Mb/s over this channel"),
        ("cat5e-indoor", "ap-ceiling-wifi6e-4x4", 10, "test", "5,000 Mb/s"),
        ("cat5e-clad", "ap-ceiling-wifi6-2x2", 10, "retire", "Copper-clad"),
        ("cat6a-indoor", "ap-ceiling-wifi6-2x2", 110, "retire", "100 m at the most"),
    ],
)
def test_a_cable_that_lies_already_is_used_tested_or_retired_and_says_why(cable, model, away, verdict, says):
    house = House()
    house.rack(x=1, y=1)
    house.run(house.point(x=away, y=1, model=model), cable=cable, there=True)
    (plan,) = planned(house)
    assert plan.keep.verdict == verdict
    assert says in plan.keep.why


def test_a_cable_that_is_to_be_bought_is_not_judged_as_one_that_lies():
    house = House()
    house.rack(x=1, y=1)
    house.run(house.point(x=4, y=1))
    assert planned(house)[0].keep is None


PLACE = st.tuples(st.floats(0.2, 11.8), st.floats(0.2, 7.8))


@given(PLACE, PLACE)
@settings(max_examples=30, deadline=None)
def test_a_run_is_never_shorter_than_the_plan_distance_and_its_sum_adds_up(rack, point):
    house = House()
    house.rack(x=rack[0], y=rack[1])
    house.run(house.point(x=point[0], y=point[1]))
    (plan,) = planned(house)
    along = abs(rack[0] - point[0]) + abs(rack[1] - point[1])
    assert plan.length_m >= along * 1.05
    assert sum(line.value for line in plan.length_sum.lines) == pytest.approx(plan.length_m, abs=0.05)
