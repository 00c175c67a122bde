"""Faces between cells: what walls close, what comes through them, what they throw back."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.radio.faces import faces

CELL_M, COLUMNS, ROWS = 0.5, 12, 8
LOW_M, HIGH_M = 0.0, 3.0
WHOLE = (LOW_M, HIGH_M)


def seen(walls, through=0.1, back=0.4, heights=None):
    """Faces of a grid of 6 x 4 m between walls x0 y0 x1 y1: (right of each cell, below each cell)."""
    ends = np.array(walls, float).reshape(-1, 4)
    high = np.array(heights or [WHOLE] * len(ends), float).reshape(-1, 2)
    shares = [
        np.broadcast_to(np.asarray(share, float).reshape(-1, 1), (len(ends), 3)).copy()
        for share in (through, back)
    ]
    found = faces(ends, high, *shares, 0.0, 0.0, CELL_M, COLUMNS, ROWS, LOW_M, HIGH_M)
    return found[:3], found[3:]


def test_open_air_closes_nothing():
    for solid, passed, thrown in seen([]):
        assert not solid.any()
        assert not passed.any()
        assert not thrown.any()


def test_a_wall_across_closes_one_column_of_faces_and_passes_what_it_lets_through():
    (solid, passed, thrown), (below, _, _) = seen([(3.0, -1, 3.0, 5)])
    (closed,) = np.unique(np.argwhere(solid > 0)[:, 1])
    assert (solid[:, closed] == 1).all()
    assert passed[:, :, closed] == pytest.approx(0.1)
    assert thrown[:, :, closed] == pytest.approx(0.4)
    assert not below.any()


def test_a_wall_half_as_high_closes_half():
    (solid, passed, _), _ = seen([(3.0, -1, 3.0, 5)], heights=[(0.0, 1.5)])
    assert solid.max() == pytest.approx(0.5)
    assert passed.max() == pytest.approx(0.05)


def test_a_wall_wholly_above_the_storey_closes_nothing():
    (solid, _, _), _ = seen([(3.0, -1, 3.0, 5)], heights=[(3.0, 6.0)])
    assert not solid.any()


def test_what_stands_behind_another_wall_only_takes_from_what_comes_through():
    (solid, passed, thrown), _ = seen(
        [(3.0, -1, 3.0, 5), (3.05, -1, 3.05, 5)], through=[0.1, 0.5], back=[0.4, 0.3]
    )
    assert solid.max() == 1
    assert passed.max() == pytest.approx(0.05)
    assert thrown.max() == pytest.approx(0.4)


def test_a_leaf_over_a_sill_shares_the_face_with_it():
    (solid, passed, _), _ = seen(
        [(3.0, -1, 3.0, 5), (3.0, -1, 3.0, 5)], through=[0.1, 0.9], heights=[(0.0, 1.0), (1.0, 3.0)]
    )
    assert solid.max() == pytest.approx(1)
    assert passed.max() == pytest.approx(0.1 / 3 + 0.9 * 2 / 3)


WALL = st.tuples(st.floats(-1, 7), st.floats(-1, 5), st.floats(-1, 7), st.floats(-1, 5))


@given(st.lists(WALL, min_size=1, max_size=6), st.floats(0, 0.6), st.floats(0, 0.4))
@settings(max_examples=60, deadline=None)
def test_no_face_gives_back_more_than_meets_it(walls, through, back):
    for solid, passed, thrown in seen(walls, through, back):
        assert ((solid >= 0) & (solid <= 1 + 1e-6)).all()
        assert (passed >= 0).all()
        assert (thrown >= 0).all()
        assert (passed + thrown <= solid[None] + 1e-9).all()


@given(st.lists(WALL, min_size=1, max_size=5))
@settings(max_examples=60, deadline=None)
def test_a_plan_turned_over_its_corner_has_its_faces_turned_too(walls):
    """What is right of a cell in one plan is below it in the other: no direction is preferred."""
    ends = np.array(walls, float)
    over = ends[:, [1, 0, 3, 2]]
    shares = np.full((len(ends), 3), 0.2)
    high = np.tile(WHOLE, (len(ends), 1))
    here = faces(ends, high, shares, shares, 0.0, 0.0, CELL_M, COLUMNS, ROWS, LOW_M, HIGH_M)
    there = faces(over, high, shares, shares, 0.0, 0.0, CELL_M, ROWS, COLUMNS, LOW_M, HIGH_M)
    assert here[0] == pytest.approx(there[3].T)
    assert here[1] == pytest.approx(np.swapaxes(there[4], 1, 2))
