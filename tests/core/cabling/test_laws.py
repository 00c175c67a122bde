"""Laws that every route keeps, wherever its ends lie."""

import itertools
import math

import pytest
from demo.drawing import at
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.drilling import drill_list
from heathrise.core.cabling.routes import Route, Router
from heathrise.core.cabling.runs import plan_runs
from heathrise.core.edit import Remove, apply
from heathrise.core.job import Link, Pathway
from heathrise.core.job.reading import Spot
from heathrise.core.library import library
from heathrise.core.site.building import building_of
from heathrise.exchange.paper.drawn import bundles
from tests.house import House, by_label

X, Y = st.floats(0.2, 11.8), st.floats(0.2, 7.8)
PLACE = st.tuples(X, Y)
HEIGHT = st.floats(0.2, 2.6)


def routed(house: House, start: tuple[float, float], stop: tuple[float, float], *heights: float) -> Route:
    """The way between two places of a house, on its lowest and its highest storey."""
    job = house.job
    low, high = heights or (1.0, 2.6)
    ends = (
        Spot(house.storeys[0], at(*start), low),
        Spot(house.storeys[-1], at(*stop), high),
    )
    link = by_label(job, "R-01")
    assert isinstance(link, Link)
    return Router(job, building_of(job)).route(link, *ends)


def cabled(storeys: int = 1) -> House:
    house = House(storeys)
    house.rack()
    house.run(house.point())
    return house


def lying(house: House, path: list[tuple[float, float]], there: bool = True) -> House:
    """The same house with a tray in it."""
    places = [at(*place) for place in path]
    house.add(
        "pathway", "Tray", pathway_kind="tray", storey_id=house.ground, path=places, height_m=2.7, there=there
    )
    return house


@given(PLACE, PLACE, HEIGHT, HEIGHT)
@settings(max_examples=40, deadline=None)
def test_a_way_is_as_long_and_as_dear_from_either_end(start, stop, low, high):
    there, back = routed(cabled(), start, stop, low, high), routed(cabled(), stop, start, high, low)
    assert there.length_m == pytest.approx(back.length_m)
    assert there.cost == pytest.approx(back.cost)
    assert sorted(there.drilled) == sorted(back.drilled)


@given(PLACE, PLACE)
@settings(max_examples=40, deadline=None)
def test_every_part_begins_where_the_one_before_ends(start, stop):
    legs = routed(cabled(), start, stop).legs
    for one, other in itertools.pairwise(legs):
        assert (one.b.x_m, one.b.y_m, one.z1_m) == pytest.approx((other.a.x_m, other.a.y_m, other.z0_m))


@given(PLACE, PLACE)
@settings(max_examples=40, deadline=None)
def test_a_level_way_is_as_long_as_both_sides_of_its_corner(start, stop):
    """Nothing is shorter along the grain of a building, and nothing here is longer."""
    level = sum(leg.length_m for leg in routed(cabled(), start, stop).legs if leg.z0_m == leg.z1_m)
    assert level == pytest.approx(abs(start[0] - stop[0]) + abs(start[1] - stop[1]), abs=1e-6)


@given(PLACE, PLACE, PLACE, PLACE, st.booleans())
@settings(max_examples=40, deadline=None)
def test_a_pathway_that_is_drawn_never_makes_a_way_dearer(start, stop, one, other, there):
    plain = routed(cabled(), start, stop)
    with_tray = routed(lying(cabled(), [one, other], there), start, stop)
    assert with_tray.cost <= plain.cost + 1e-9


@given(PLACE, PLACE)
@settings(max_examples=30, deadline=None)
def test_a_wall_more_never_makes_a_way_cheaper(start, stop):
    walled = cabled()
    walled.d.wall(walled.ground, "concrete-150", (3, 0), (3, 8), label="New wall")
    assert routed(walled, start, stop).cost >= routed(cabled(), start, stop).cost - 1e-9


@given(PLACE, PLACE, PLACE)
@settings(max_examples=30, deadline=None)
def test_a_riser_more_never_makes_a_way_between_storeys_dearer(start, stop, new):
    def with_risers(*places):
        house = cabled(2)
        for number, place in enumerate(places):
            house.add(
                "riser",
                f"Riser {number}",
                at=at(*place),
                from_storey_id=house.storeys[0],
                to_storey_id=house.storeys[1],
            )
        return routed(house, start, stop)

    assert with_risers((1, 1), new).cost <= with_risers((1, 1)).cost + 1e-9


def test_a_tray_that_is_there_is_taken_and_named():
    house = lying(cabled(), [(1, 1), (11, 1), (11, 7)])
    found = routed(house, (1, 1), (11, 7))
    tray = by_label(house.job, "Tray")
    assert isinstance(tray, Pathway)
    on_it = [leg for leg in found.legs if leg.pathway_id == tray.id]
    assert sum(leg.length_m for leg in on_it) == pytest.approx(16)
    assert found.drilled == ()


def test_a_tray_out_of_the_way_is_left_alone():
    found = routed(lying(cabled(), [(1, 7.5), (11, 7.5)]), (1, 1), (2, 1))
    assert all(leg.pathway_id is None for leg in found.legs)


def test_nothing_is_laid_between_one_place_and_itself():
    assert routed(cabled(), (3, 3), (3, 3), 1.0, 1.0).length_m == 0


@given(PLACE, PLACE)
@settings(max_examples=20, deadline=None)
def test_between_storeys_without_a_riser_the_way_still_has_a_length(start, stop):
    found = routed(cabled(2), start, stop)
    assert found.length_m >= abs(start[0] - stop[0]) + abs(start[1] - stop[1]) - 1e-6
    assert any(leg.environment == "riser" for leg in found.legs)


@given(PLACE, PLACE, st.lists(PLACE, min_size=1, max_size=3))
@settings(max_examples=20, deadline=None)
def test_a_way_by_places_it_must_pass_is_never_cheaper_and_passes_them(start, stop, pins):
    house = cabled()
    free = routed(house, start, stop)
    led = cabled()
    told = [{"storey_id": led.ground, "at": at(*pin)} for pin in pins]
    led.d.elements = [
        type(e).model_validate(e.model_dump() | {"pins": told}) if e.label == "R-01" else e
        for e in led.d.elements
    ]
    found = routed(led, start, stop)
    assert found.cost >= free.cost - 1e-6
    corners = {(round(leg.b.x_m, 4), round(leg.b.y_m, 4)) for leg in found.legs}
    lines = [(leg.a, leg.b) for leg in found.legs]
    for x, y in pins:
        on = any(
            min(a.x_m, b.x_m) - 1e-6 <= x <= max(a.x_m, b.x_m) + 1e-6
            and min(a.y_m, b.y_m) - 1e-6 <= y <= max(a.y_m, b.y_m) + 1e-6
            for a, b in lines
        )
        assert on or (round(x, 4), round(y, 4)) in corners


@given(st.lists(PLACE, min_size=2, max_size=5))
@settings(max_examples=15, deadline=None)
def test_runs_together_need_no_more_way_and_no_more_holes_than_each_alone(places):
    house = House()
    house.rack()
    for n, (x, y) in enumerate(places):
        house.run(house.point(f"AP {n}", x=x, y=y), f"R-{n:02d}")
    job = house.job
    plans = plan_runs(job, building_of(job)).plans
    level = [leg for plan in plans for leg in plan.legs if leg.z0_m == leg.z1_m]
    together = sum(math.dist(*stroke.points) for stroke in bundles(level))
    assert together <= sum(leg.length_m for leg in level) + 1e-3
    assert len(drill_list(job, plans).holes) <= sum(len(plan.holes) for plan in plans)


@given(st.integers(1, 6))
@settings(max_examples=6, deadline=None)
def test_a_run_taken_away_frees_its_fill(many):
    house = lying(House(), [(1, 1), (11, 1)])
    house.rack()
    house.d.elements = [
        e.model_copy(update={"bore": "metric-50", "pathway_kind": "conduit"}) if e.label == "Tray" else e
        for e in house.d.elements
    ]
    for n in range(many):
        house.run(house.point(f"AP {n}", x=10, y=1 + n / 10), f"R-{n:02d}")
    job = house.job
    (full,) = plan_runs(job, building_of(job)).pathways
    gone = apply(job, [Remove(id=by_label(job, "R-00").id)]).job
    (left,) = plan_runs(gone, building_of(gone)).pathways
    assert len(full.run_ids) == many
    assert len(left.run_ids) == many - 1
    freed = library().cables["cat6a-indoor"].diameter_mm ** 2 / library().bores["metric-50"].bore_mm ** 2
    assert full.fill.fill - left.fill.fill == pytest.approx(freed)
