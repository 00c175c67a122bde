"""Lines of a drawing become walls, rooms and openings; truth is known because the plans are made."""

from itertools import pairwise

import numpy as np
import pytest
from benchmarks import plans
from demo.drawing import Drawing, at
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.job import Wall
from heathrise.core.site.loops import gaps, loops
from heathrise.core.site.tracing import Traced, trace_walls

FINITE = st.floats(-200, 200, allow_nan=False)
SEGMENTS = st.lists(st.tuples(FINITE, FINITE, FINITE, FINITE), max_size=40)


def faces(made: plans.Plan) -> np.ndarray:
    return np.array([(*a, *b) for ring in made.faces for a, b in pairwise(ring)])


def ends(walls: list[Traced]) -> np.ndarray:
    return np.array([wall.ends_m for wall in walls]).reshape(-1, 4)


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("turn", [0, 17, 45, 88.5])
def test_two_faces_become_one_wall_whatever_the_turn(seed, turn):
    made = plans.plan(seed).turned(turn)
    walls = trace_walls(faces(made))
    found, false = plans.score(ends(walls), made.truth)
    assert found >= 0.95
    assert false <= 0.10
    assert sum(len(wall.gaps_m) for wall in walls) == len(made.doors)
    assert len(loops([wall.ends_m for wall in walls])) == len(made.rooms)


def test_thickness_is_the_distance_of_the_faces():
    made = plans.plan(5)
    thick = sorted({round(t, 2) for _, t in made.walls})
    assert sorted({round(w.thickness_m, 2) for w in trace_walls(faces(made))}) == thick


@pytest.mark.parametrize(
    ("name", "lines", "count", "thickness"),
    [
        ("two faces", [(0, 0, 6, 0), (0, 0.1, 6, 0.1)], 1, 0.1),
        ("a cavity wall of four lines", [(0, y, 6, y) for y in (0, 0.1, 0.18, 0.28)], 1, 0.28),
        ("two walls with a cupboard", [(0, y, 6, y) for y in (0, 0.1, 0.55, 0.64)], 2, None),
        ("five lines are one thick wall", [(0, y, 6, y) for y in (0, 0.05, 0.1, 0.15, 0.5)], 1, 0.5),
        ("a corridor is no wall", [(0, y, 6, y) for y in (0, 0.1, 1.4, 1.5)], 2, 0.1),
        ("drawn twice", [(0, 0, 6, 0), (0, 0, 6, 0), (0, 0.1, 3, 0.1), (3, 0.1, 6, 0.1)], 1, 0.1),
        ("single lines", [(0, 0, 6, 0), (6, 0, 6, 4), (6, 4, 0, 4)], 3, None),
        ("a door gap is bridged", [(x, y, x + 2.5, y) for x in (0, 3.4) for y in (0, 0.1)], 1, 0.1),
        ("a gap too wide is none", [(x, y, x + 3, y) for x in (0, 6.5) for y in (0, 0.1)], 2, 0.1),
    ],
)
def test_the_faces_of_one_wall(name, lines, count, thickness):
    walls = trace_walls(np.array(lines, float))
    assert len(walls) == count, name
    if thickness is not None:
        assert walls[0].thickness_m == pytest.approx(thickness, abs=0.006)


def test_a_table_that_touches_nothing_is_left_out():
    made = plans.plan(1)
    table = [(8, 6, 9.4, 6), (9.4, 6, 9.4, 6.5), (9.4, 6.5, 8, 6.5), (8, 6.5, 8, 6)]
    walls = trace_walls(np.vstack([faces(made), np.array(table, float)]))
    assert len(walls) == len(trace_walls(faces(made)))


@settings(max_examples=60, deadline=None)
@given(SEGMENTS)
def test_any_lines_give_walls_with_length_and_gaps_inside_them(segments):
    for wall in trace_walls(np.array(segments, float).reshape(-1, 4)):
        assert np.isfinite(wall.ends_m).all()
        assert wall.length_m > 0
        assert all(-1e-6 <= a <= b <= wall.length_m + 1e-6 for a, b in wall.gaps_m)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 300), st.floats(-500, 500), st.floats(-500, 500))
def test_where_a_drawing_lies_changes_nothing(seed, dx, dy):
    lines = faces(plans.plan(seed, 9, 7))
    there = trace_walls(lines + np.array([dx, dy, dx, dy]))
    assert len(there) == len(trace_walls(lines))


def test_nothing_gives_nothing():
    assert trace_walls(np.empty((0, 4))) == []
    assert trace_walls(np.array([[1, 1, 1, 1]], float)) == []
    assert loops([]) == []


class TestGaps:
    def walls(self, *pairs):
        d = Drawing("gaps")
        return [
            Wall(
                id=d.id_of("wall", str(n)), label=str(n), storey_id=d.id_of("storey", "s"), a=at(*a), b=at(*b)
            )
            for n, (a, b) in enumerate(pairs)
        ]

    @pytest.mark.parametrize(
        ("short_m", "expected"), [(0.0, 0), (0.01, 0), (0.05, 1), (0.29, 1), (0.31, 0), (1.0, 0)]
    )
    def test_an_end_within_the_limit_is_pointed_out(self, short_m, expected):
        found = gaps(self.walls(((0, 0), (4, 0)), ((4 + short_m, 3), (4 + short_m, -3))))
        assert len(found) == expected

    def test_ends_that_run_past_what_they_meet_are_no_gap(self):
        assert gaps(self.walls(((0, 0), (4.15, 0)), ((4, 3), (4, -3)))) == []

    def test_corners_that_meet_are_no_gap(self):
        assert gaps(self.walls(((0, 0), (4, 0)), ((4, 0), (4, 3)), ((4, 3), (0, 0)))) == []
