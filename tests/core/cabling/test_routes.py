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
    assert plan.drilled == ()


def test_through_the_middle_wall_it_drills_once():
    house = House()
    house.rack(x=1, y=1)
    house.run(house.point(x=9, y=4))
    assert planned(house)[0].drilled == ("brick-102",)


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
    assert "concrete-slab-150" in plan.drilled


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
