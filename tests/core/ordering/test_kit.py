"""The kit list covers what is on the sheet, and the hours follow."""

import math

import pytest

from heathrise.core.cabling.derived import runs
from heathrise.core.ordering.derived import kit as kit_in
from heathrise.core.ordering.needs import spare_points
from tests.house import House, changed, look_at


@pytest.mark.parametrize(("points", "spares"), [(0, 0), (7, 0), (8, 1), (15, 1), (16, 2), (30, 2), (31, 3)])
def test_one_spare_access_point_per_fifteen_begun_from_eight_on(points, spares):
    assert spare_points(points) == spares


def test_an_order_covers_every_routed_metre(school):
    look = look_at(school)
    for line in kit_in(look).lines:
        if line.group == "Cable" and line.unit == "m" and line.pack > 1:
            metres = sum(plan.length_m for plan in runs(look).plans if plan.cable == line.item)
            assert line.order * line.pack >= metres * 1.08
            assert (line.order - 1) * line.pack < metres * 1.08


def test_every_end_has_its_jack_and_packs_are_whole(school):
    look = look_at(school)
    jacks = [line for line in kit_in(look).lines if line.item.startswith("jack-")]
    assert sum(line.need for line in jacks) == 2 * len(runs(look).plans)
    for line in jacks:
        assert line.order * line.pack >= math.ceil(line.need * 1.05)
        assert line.spare == line.order * line.pack - line.need


def test_the_total_is_the_sum_of_its_lines(school):
    kit = kit_in(look_at(school))
    assert sum(line.cost for line in kit.lines) == pytest.approx(kit.cost_sum.value)
    assert sum(line.value for line in kit.hours_sum.lines) == pytest.approx(kit.hours_sum.value, abs=0.1)


def test_more_to_do_is_never_fewer_hours():
    house = House()
    house.rack()
    before = kit_in(look_at(house.job)).hours_sum.value
    house.run(house.point(x=11, y=7))
    assert kit_in(look_at(house.job)).hours_sum.value > before


def test_a_budget_is_a_limit():
    house = House()
    house.rack()
    assert kit_in(look_at(changed(house.job, "Brief", budget=100.0))).cost_sum.holds is False
    assert kit_in(look_at(changed(house.job, "Brief", budget=10_000.0))).cost_sum.holds is True


def test_an_empty_job_orders_nothing():
    house = House()
    bare = house.job.model_copy(update={"elements": ()})
    kit = kit_in(look_at(bare))
    assert kit.lines == ()
    assert kit.hours == ()


def test_cords_are_bought_by_the_length_the_patches_want():
    house = House(settled=True)
    rack = house.rack()
    house.add("equipment", "PP1", model="panel-24", place={"where": "rack", "rack_id": rack})
    house.switch()
    for n in range(3):
        house.run(house.point(f"AP {n}", x=2 + 3 * n), f"R-{n + 10}")
    lines = {line.item: line for line in kit_in(look_at(house.job)).lines}
    assert (lines["cord-05"].order, lines["cord-05"].label) == (3, "Patch cord 0.5 m")
    assert "cord-rack" not in lines
    assert "panel-24" in lines and lines["panel-24"].group == "Rack"
