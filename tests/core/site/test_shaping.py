"""Drawing actions: what each does to the job, that one undo takes it back, what it refuses."""

import math
from uuid import uuid4

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from heathrise.core.edit import Put, apply
from heathrise.core.job import AccessPoint, Job, Opening, Point, Space, Wall
from heathrise.core.site.actions import Action, NotPossible
from heathrise.core.site.align import alignment, moved, scale_by_length, scale_by_print
from heathrise.core.site.building import building_of, named
from heathrise.core.site.movement import arc_points
from heathrise.core.site.shaping import shape
from tests.house import House, by_label

ACTION: TypeAdapter[Action] = TypeAdapter(Action)


def new_id() -> str:
    return str(uuid4())


def do(job: Job, **action) -> tuple[Job, str]:
    found = shape(job, ACTION.validate_python(action), new_id)
    edited = apply(job, found.operations)
    back = apply(edited.job, edited.inverse).job
    assert {e.id: e for e in back.elements} == {e.id: e for e in job.elements}
    return edited.job, found.note


def refused(job: Job, **action) -> str:
    with pytest.raises(NotPossible) as caught:
        shape(job, ACTION.validate_python(action), new_id)
    return str(caught.value)


@pytest.fixture
def house() -> House:
    made = House()
    made.add("opening", "Door 1", wall_id=made.d.id_of("wall", "Ground middle"), at_m=5.0, width_m=0.9)
    return made


def wall_id(house: House, label: str = "Ground middle") -> str:
    return house.d.id_of("wall", label)


def test_a_wall_is_split_and_its_door_stays_where_it_was(house):
    job, _ = do(house.job, do="split", wall_id=wall_id(house), at_m=3)
    first, second = by_label(job, "Ground middle"), by_label(job, "Ground middle 1")
    assert (first.length_m, second.length_m) == (3, 5)
    (door,) = job.of(Opening)
    assert (door.wall_id, door.at_m) == (second.id, 2.0)


def test_a_split_through_a_door_or_at_an_end_is_refused(house):
    assert "Door 1" in refused(house.job, do="split", wall_id=wall_id(house), at_m=5.4)
    assert "5 cm" in refused(house.job, do="split", wall_id=wall_id(house), at_m=8.0)


def test_two_walls_in_one_line_are_joined_with_their_doors(house):
    halves, _ = do(house.job, do="split", wall_id=wall_id(house), at_m=3)
    ids = [by_label(halves, label).id for label in ("Ground middle", "Ground middle 1")]
    job, _ = do(halves, do="join", ids=ids)
    assert by_label(job, "Ground middle").length_m == pytest.approx(8)
    (door,) = job.of(Opening)
    assert door.at_m == pytest.approx(5.0)


def test_walls_off_one_line_are_not_joined(house):
    ids = [wall_id(house), wall_id(house, "Ground outer 1")]
    assert "no one line" in refused(house.job, do="join", ids=ids)
    assert "two walls" in refused(house.job, do="join", ids=ids[:1])


def test_walls_are_copied_sideways(house):
    job, _ = do(house.job, do="offset", ids=[wall_id(house)], by_m=1.5)
    copy = by_label(job, "Ground middle 1")
    assert {copy.a.x_m, copy.b.x_m} == {4.5}
    assert "centimetre" in refused(house.job, do="offset", ids=[wall_id(house)], by_m=0)


def test_a_curved_wall_is_chords_no_longer_than_the_limit(house):
    job, _ = do(
        house.job,
        do="curve",
        storey_id=house.ground,
        a={"x_m": 0, "y_m": -1},
        through={"x_m": 6, "y_m": -5},
        b={"x_m": 12, "y_m": -1},
    )
    chords = [w for w in job.of(Wall) if w.label.startswith("Curved")]
    assert len(chords) > 10
    assert max(w.length_m for w in chords) <= 0.51
    assert "one line" in refused(
        house.job,
        do="curve",
        storey_id=house.ground,
        a={"x_m": 0, "y_m": 0},
        through={"x_m": 1, "y_m": 0},
        b={"x_m": 2, "y_m": 0},
    )


@settings(max_examples=50, deadline=None)
@given(st.floats(0.5, 20), st.floats(0, 6.2), st.floats(0.3, 2.5), st.floats(0.3, 2.5))
def test_every_corner_of_a_curve_is_on_its_circle(radius, start, one, two):
    at = [
        Point(x_m=radius * math.cos(a), y_m=radius * math.sin(a))
        for a in (start, start + one, start + one + two)
    ]
    points = arc_points(*at)
    assert all(math.hypot(p.x_m, p.y_m) == pytest.approx(radius, abs=0.002) for p in points)


def test_spaces_are_found_from_closed_loops_once(house):
    bare = Job(name="Bare", elements=tuple(e for e in house.job.elements if e.kind != "space"))
    job, note = do(bare, do="find-spaces", storey_id=house.ground)
    assert note.startswith("2 new spaces")
    assert sorted(building_of(job).polygons[s.id].area for s in job.of(Space)) == [48, 48]
    again, note = do(job, do="find-spaces", storey_id=house.ground)
    assert note.startswith("0 new spaces")
    assert len(again.of(Space)) == 2


def test_a_gap_is_pointed_out_closed_and_then_the_loop_is_a_space(house):
    short = by_label(house.job, "Ground middle").model_copy(update={"b": Point(x_m=6, y_m=7.8)})
    elements = tuple(short if e.id == short.id else e for e in house.job.elements if e.kind != "space")
    bare = Job(name="Bare", elements=elements)
    _, note = do(bare, do="find-spaces", storey_id=house.ground)
    assert "1 wall end stops short" in note
    closed, note = do(bare, do="close-gaps", storey_id=house.ground)
    assert note.startswith("1 gap ")
    job, note = do(closed, do="find-spaces", storey_id=house.ground)
    assert note == "2 new spaces found."
    assert len(job.of(Space)) == 2


def test_a_storey_is_copied_on_top_with_its_walls_doors_and_spaces(house):
    job, note = do(house.job, do="copy-storey", storey_id=house.ground)
    lower, upper = job.storeys
    assert "Ground" in note
    assert upper.elevation_m == pytest.approx(3.25)
    assert len([w for w in job.of(Wall) if w.storey_id == upper.id]) == 5
    assert len(job.of(Opening)) == 2
    assert len([s for s in job.of(Space) if s.storey_id == upper.id]) == 2
    assert len({e.label for e in job.elements}) == len(job.elements)
    assert lower.id == house.ground


def test_things_are_moved_turned_copied_in_rows_and_lined_up(house):
    point = house.point()
    other = house.point("AP 2", 9, 6)
    moved, _ = do(house.job, do="move", ids=[point, other], dx_m=1, dy_m=-2)
    assert [(p.at.x_m, p.at.y_m) for p in moved.of(AccessPoint)] == [(4, 2), (10, 4)]
    turned, _ = do(house.job, do="move", ids=[point, other], turn_deg=90)
    assert sorted((round(p.at.x_m, 3), round(p.at.y_m, 3)) for p in turned.of(AccessPoint)) == [
        (5, 8),
        (7, 2),
    ]
    assert {p.facing_deg for p in turned.of(AccessPoint)} == {90}
    rows, _ = do(house.job, do="array", ids=[point], columns=3, rows=2, dx_m=2, dy_m=1.5)
    assert len(rows.of(AccessPoint)) == 7
    lined, _ = do(house.job, do="align", ids=[point, other], along="y")
    assert {p.at.y_m for p in lined.of(AccessPoint)} == {4}
    assert {p.at.x_m for p in lined.of(AccessPoint)} == {3, 9}


@pytest.mark.parametrize(
    ("action", "words"),
    [
        ({"do": "array", "columns": 1, "rows": 1, "dx_m": 1, "dy_m": 1}, "two columns"),
        ({"do": "array", "columns": 50, "rows": 50, "dx_m": 1, "dy_m": 1}, "5,000"),
        ({"do": "align", "along": "x"}, "two things"),
        ({"do": "change", "field": "build_up", "value": "brick-102"}, "field"),
        ({"do": "change", "field": "height_m", "value": "high"}, "cannot take"),
        ({"do": "offset", "by_m": 1}, "walls"),
    ],
)
def test_what_cannot_be_done_says_why(house, action, words):
    many = 3 if action.get("columns") == 50 else 1
    ids = [house.point(f"AP {n}", 1 + n, 1) for n in range(many)]
    assert words in refused(house.job, ids=ids, **action)


def test_one_value_is_given_to_many_and_many_are_removed(house):
    ids = [wall_id(house, f"Ground outer {n}") for n in (1, 2, 3, 4)]
    job, note = do(house.job, do="change", ids=ids, field="build_up", value="stone-500")
    assert note == "4 changed."
    assert {w.build_up for w in job.of(Wall)} == {"stone-500", "brick-102"}
    left, _ = do(house.job, do="remove", ids=[wall_id(house), house.d.id_of("opening", "Door 1")])
    assert left.of(Opening) == ()
    assert "in the job any more" in refused(house.job, do="remove", ids=[new_id()])


def test_a_storey_is_laid_over_another_by_two_points_and_the_error_is_shown():
    house = House(2)
    first = house.storeys[1]
    away, _ = do(
        house.job, do="move", ids=[w.id for w in house.job.of(Wall) if w.storey_id == first], dx_m=30, dy_m=5
    )
    here = [{"x_m": 30, "y_m": 5}, {"x_m": 42, "y_m": 13}]
    there = [{"x_m": 0, "y_m": 0}, {"x_m": 12, "y_m": 8.05}]
    found = shape(
        away,
        ACTION.validate_python({"do": "align-storey", "storey_id": first, "here": here, "there": there}),
        new_id,
    )
    assert found.sum.value == pytest.approx(0.028, abs=0.002)
    assert found.sum.holds
    job = apply(away, found.operations).job
    corners = [w.a for w in job.of(Wall) if w.storey_id == first]
    assert (min(p.x_m for p in corners), min(p.y_m for p in corners)) == pytest.approx((0, 0), abs=0.06)


@given(st.floats(-50, 50), st.floats(-50, 50), st.floats(-170, 170))
@settings(deadline=None)
def test_alignment_brings_two_points_onto_two(dx, dy, turn):
    here = (Point(x_m=1, y_m=2), Point(x_m=9, y_m=-3))
    there = tuple(moved(p, dx, dy, turn) for p in here)
    found = alignment(here, there)
    assert found.error_m <= 0.002
    for one, other in zip(here, there, strict=True):
        landed = moved(one, found.dx_m, found.dy_m, found.turn_deg)
        assert (landed.x_m, landed.y_m) == pytest.approx((other.x_m, other.y_m), abs=0.005)


def test_scales_carry_their_sum_and_refuse_zero():
    assert scale_by_length(500, 12.5).metres_per_px == 0.025
    assert scale_by_print(4961, "A3", 100).metres_per_px == pytest.approx(0.420 * 100 / 4961)
    assert {line.label for line in scale_by_length(500, 12.5).sum.lines} == {"drawn", "measured"}
    for bad in (
        lambda: scale_by_length(0, 1),
        lambda: scale_by_length(1, 0),
        lambda: scale_by_print(100, "A9", 100),
        lambda: scale_by_print(100, "A3", 0),
    ):
        with pytest.raises(ValueError):
            bad()


def test_a_shaft_has_no_slab_and_a_hedge_costs_half_at_each_edge():
    house = House(2)
    before = {named(house.job, s.name): s.area.area for s in building_of(house.job).slabs}
    house.add(
        "shaft",
        "Lift",
        shaft_kind="lift",
        outline=[{"x_m": 1, "y_m": 1}, {"x_m": 3, "y_m": 1}, {"x_m": 3, "y_m": 3}, {"x_m": 1, "y_m": 3}],
        from_storey_id=house.storeys[0],
        to_storey_id=house.storeys[1],
    )
    house.add(
        "planting",
        "Hedge",
        storey_id=house.ground,
        outline=[{"x_m": 0, "y_m": 12}, {"x_m": 12, "y_m": 12}, {"x_m": 12, "y_m": 13}],
        build_up="hedge",
    )
    building = building_of(house.job)
    after = {named(house.job, s.name): s.area.area for s in building.slabs}
    assert before["floor of First"] - after["floor of First"] == pytest.approx(4)
    mine = [
        loss
        for name, loss in zip(building.obstacles.names, building.obstacles.losses_db, strict=True)
        if named(house.job, name) == "Hedge"
    ]
    assert len(mine) == 3
    assert tuple(mine[0]) == pytest.approx((0.2, 0.45, 0.55))


def test_a_space_with_a_slab_of_its_own_splits_the_floor():
    house = House(2)
    room = next(s for s in house.job.of(Space) if s.label == "First west")
    job = apply(house.job, [Put(element=room.model_copy(update={"slab_build_up": "timber-floor"}))]).job
    slabs = {named(job, s.name): s for s in building_of(job).slabs}
    assert slabs["floor of First west"].losses_db == (8, 11, 13)
    assert slabs["floor of First"].losses_db == (16, 24, 27)
