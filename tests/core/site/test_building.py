"""Geometry: walls cut by openings, slabs with holes, houses, risers."""

import pytest
import shapely
from demo.drawing import at

from heathrise.core.job import Point
from heathrise.core.site.building import building_of, named, space_at
from heathrise.core.site.ways import joined_storeys
from tests.house import House


def total(job, name, z):
    """Length of a wall's pieces that stand at a height, by loss at 5 GHz."""
    lengths, obstacles = {}, building_of(job).obstacles
    for ends, (low, high), losses, label in zip(
        obstacles.ends_m, obstacles.heights_m, obstacles.losses_db, obstacles.names, strict=True
    ):
        if named(job, label) in {name, "Door", "Window"} and low <= z < high:
            length = ((ends[2] - ends[0]) ** 2 + (ends[3] - ends[1]) ** 2) ** 0.5
            lengths[losses[1]] = lengths.get(losses[1], 0) + length
    return {loss: pytest.approx(length) for loss, length in lengths.items()}


def test_a_door_replaces_the_wall_up_to_its_head():
    house = House()
    wall = house.d.id_of("wall", "Ground middle")
    house.add("opening", "Door", wall_id=wall, at_m=2, width_m=1, build_up="door-hollow")
    assert total(house.job, "Ground middle", 1.0) == {9: 7, 4: 1}
    assert total(house.job, "Ground middle", 2.5) == {9: 8}


def test_a_window_leaves_the_wall_under_its_sill():
    house = House()
    wall = house.d.id_of("wall", "Ground middle")
    house.add(
        "opening",
        "Window",
        wall_id=wall,
        at_m=0,
        width_m=2,
        sill_m=1,
        height_m=1,
        build_up="glazing-clear",
        opening_kind="window",
    )
    assert total(house.job, "Ground middle", 0.5) == {9: 8}
    assert total(house.job, "Ground middle", 1.5) == {9: 6, 5: 2}


def test_an_opening_past_the_end_is_cut_at_the_end():
    house = House()
    wall = house.d.id_of("wall", "Ground middle")
    house.add("opening", "Door", wall_id=wall, at_m=7.5, width_m=1)
    assert total(house.job, "Ground middle", 1.0) == {9: 7.5, 4: 0.5}


def test_a_house_of_two_storeys_has_one_floor_between_and_one_roof():
    house = House(2)
    slabs = building_of(house.job).slabs
    assert [(named(house.job, s.name), s.z_m) for s in slabs] == [
        ("floor of First", 3.0),
        ("roof of First", 6.0),
    ]
    assert slabs[0].area.area == pytest.approx(96, rel=0.02)


def test_a_stair_is_a_hole_in_the_floor_above():
    house = House(2)
    house.d.space(house.ground, "Stair", (0, 0, 2, 3), space_kind="stair")
    floor = building_of(house.job).slabs[0].area
    assert not floor.covers(shapely.Point(1, 1))
    assert floor.covers(shapely.Point(5, 5))


def test_the_smallest_space_at_a_place_is_the_one_meant():
    house = House()
    house.d.space(house.ground, "Cupboard", (0, 0, 1, 1))
    building = building_of(house.job)
    assert space_at(house.job, building, house.ground, Point(x_m=0.5, y_m=0.5)).label == "Cupboard"
    assert building.space_at(house.ground, Point(x_m=30, y_m=0.5)) is None


def test_houses_are_told_apart_and_the_yard_is_none():
    house = House()
    house.d.space(house.ground, "Yard", (12, 0, 20, 8), space_kind="outdoor")
    house.d.space(house.ground, "Shed", (20, 0, 24, 4), building="Shed")
    building = building_of(house.job)
    assert building.house_at(Point(x_m=3, y_m=3)) == "Main house"
    assert building.house_at(Point(x_m=15, y_m=3)) is None
    assert building.house_at(Point(x_m=22, y_m=2)) == "Shed"


def test_jobs_that_differ_only_in_devices_share_a_building():
    house = House()
    before = building_of(house.job)
    house.point()
    assert building_of(house.job) is before


def test_a_riser_joins_every_storey_between_its_ends():
    house = House(3)
    assert joined_storeys(house.job)[house.ground] == {house.ground}
    house.add("riser", "Shaft", at=at(1, 1), from_storey_id=house.storeys[2], to_storey_id=house.ground)
    assert joined_storeys(house.job)[house.ground] == set(house.storeys)
