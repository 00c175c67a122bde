"""Mend: the one change that helps most, and spots beyond the ceiling."""

import pytest
import shapely
from demo.drawing import at
from demo.tern_lane import tern_lane

from heathrise.core.edit import apply
from heathrise.core.job import AccessPoint
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.candidates import spots, usual_model
from heathrise.core.radio.mending import mends
from heathrise.core.radio.scene import scene_of
from heathrise.core.site.building import building_of
from tests.house import House

MODEL = "ap-ceiling-wifi6-2x2"
SCHOOL = tern_lane()


def met(job) -> int:
    return sum(score.holds for score in assess_air(job).scores)


@pytest.fixture(scope="module")
def found():
    return mends(SCHOOL, scene_of(building_of(SCHOOL)), MODEL)


def test_each_change_does_what_it_says(found):
    before = met(SCHOOL)
    assert found
    for mend in found[:3]:
        assert mend.before == before
        assert met(apply(SCHOOL, mend.operations).job) == mend.met > before


def test_the_best_comes_first_and_a_move_costs_less_than_a_point(found):
    assert [m.met for m in found] == sorted((m.met for m in found), reverse=True)
    assert max(m.cost for m in found if m.how == "move") < min(m.cost for m in found if m.how == "add")


def test_pinned_points_are_not_moved():
    pinned = [p.model_copy(update={"pinned": True}) for p in SCHOOL.of(AccessPoint)]
    rest = [e for e in SCHOOL.elements if e.kind != "access-point"]
    job = SCHOOL.model_construct(name="x", elements=(*rest, *pinned))
    changes = mends(job, scene_of(building_of(job)), MODEL)
    assert {change.how for change in changes} == {"add"}


def test_where_every_need_is_met_there_is_nothing_to_mend():
    house = House()
    house.point("One", x=3, y=4)
    house.point("Two", x=9, y=4)
    assert met(house.job) == 2
    assert mends(house.job, scene_of(building_of(house.job)), MODEL) == ()


def mounts(job, model=MODEL):
    building = building_of(job)
    found = spots(job, building, model, tuple(s.id for s in building.storeys))
    return {spot.point.mount for spot in found}, found


def test_a_long_side_of_a_hall_is_a_spot_that_faces_in():
    house = House()
    house.d.space(house.ground, "Hall", (20, 0, 40, 12))
    kinds, found = mounts(house.job)
    assert kinds == {"ceiling", "wall"}
    hall = building_of(house.job).polygons[house.d.id_of("space", "Hall")]
    walls = [s.point for s in found if s.point.mount == "wall" and s.space == "Hall"]
    assert {round(p.facing_deg) for p in walls} == {0, 90, 180, 270}
    assert all(hall.contains(shapely.Point(p.at.x_m, p.at.y_m)) for p in walls)


@pytest.mark.parametrize(("model", "kinds"), [(MODEL, {"wall"}), ("ap-wall-wifi6-2x2", {"wall", "desk"})])
def test_an_outlet_that_stays_is_a_spot_without_a_cable(model, kinds):
    house = House()
    house.add("fixture", "Old outlet", storey_id=house.ground, at=at(0.05, 4), fixture_kind="data-outlet")
    _, found = mounts(house.job, model)
    there = [s for s in found if s.cable_m == 0 and abs(s.point.at.y_m - 4) < 0.3 and s.point.at.x_m < 0.5]
    assert {s.point.mount for s in there} == kinds


def test_a_wide_yard_may_have_poles_which_cost_more():
    house = House()
    house.d.space(house.ground, "Yard", (-60, -60, 60, -5), space_kind="outdoor", need="outdoor")
    house.rack()
    _, found = mounts(house.job)
    outdoors = [s for s in found if s.point.mount == "outdoor"]
    assert max(s.point.height_m for s in outdoors) == 4.0
    poles = [s for s in outdoors if s.point.height_m == 4.0]
    assert all(s.cost > 420 for s in poles)


def test_the_usual_model_is_the_one_a_job_has_most_of():
    assert usual_model(SCHOOL) == MODEL
