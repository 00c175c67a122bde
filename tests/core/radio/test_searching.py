"""The search for cheaper plans and the program beside it, on small grounds whose best plan is known by trying all."""

import itertools
import random as chance

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.job import AccessPoint, Space
from heathrise.core.radio.candidates import Spot
from heathrise.core.radio.ground import Ground, Wanted
from heathrise.core.radio.program import solve
from heathrise.core.radio.searching import searched
from tests.house import House

HOUSE = House()
HOUSE.point("Spot")
POINT = HOUSE.job.of(AccessPoint)[0]


def ground(random, spots, spaces, kept=(), least=0):
    """Return a ground where each spot reaches a random third of the places at best and half at second."""
    size = 6
    places = size * spaces
    second = np.array([[random.random() < 0.5 for _ in range(places)] for _ in range(spots)])
    best = second & np.array([[random.random() < 0.6 for _ in range(places)] for _ in range(spots)])
    wanted = tuple(
        Wanted(Space.model_construct(id=str(n)), n * size + np.arange(size), random.random() < 0.5)
        for n in range(spaces)
    )
    return Ground(
        spots=tuple(Spot(POINT, "", 0.0, 0.0, kept=i in kept) for i in range(spots)),
        spaces=wanted,
        best=best,
        second=second,
        prices=np.array([random.choice([10.0, 12.5, 31.0]) for _ in range(spots)]),
        least_points=least,
        places=np.zeros((places, 3)),
        asks=np.zeros((2, places)),
        bands={},
    )


def meets(one, plan):
    """Say whether a plan gives every space what all spots together can, up to its share."""
    counts = [int(one.met(w, plan).sum()) for w in one.spaces]
    return bool((np.array(counts) >= one.reachable()).all()) and len(plan) >= one.least_points


def cheapest(one):
    """Return the least price of all plans there are."""
    spots = range(len(one.spots))
    needed = {i for i, spot in enumerate(one.spots) if spot.kept}
    plans = (
        np.array(p, np.int64)
        for k in range(len(one.spots) + 1)
        for p in itertools.combinations(spots, k)
        if needed <= set(p)
    )
    return min(float(one.prices[plan].sum()) for plan in plans if meets(one, plan))


@given(st.randoms(use_true_random=False), st.integers(2, 8), st.integers(1, 3), st.integers(0, 2))
@settings(max_examples=25, deadline=None)
def test_the_program_finds_the_cheapest_plan_of_all_and_proves_it(random, spots, spaces, least):
    one = ground(random, spots, spaces, kept=(0,), least=least)
    plan, bound, proven, _ = solve(one, np.arange(spots), 20.0)
    assert proven
    assert meets(one, plan)
    assert 0 in plan
    assert float(one.prices[plan].sum()) == pytest.approx(cheapest(one))
    assert bound == pytest.approx(cheapest(one), abs=0.1 * spots)


@given(st.randoms(use_true_random=False), st.integers(3, 9), st.integers(1, 3), st.integers(0, 3))
@settings(max_examples=40, deadline=None)
def test_a_search_keeps_what_is_pinned_meets_what_can_be_met_and_comes_to_the_best(
    random, spots, spaces, least
):
    one = ground(random, spots, spaces, kept=(1,), least=least)
    start = np.arange(spots)
    plan = searched(one, start, 3000)
    assert 1 in plan
    assert meets(one, plan)
    assert cheapest(one) - 1e-6 <= float(one.prices[plan].sum()) <= float(one.prices.sum())
    assert np.array_equal(plan, searched(one, start, 3000))


@given(st.randoms(use_true_random=False), st.integers(3, 9), st.integers(1, 3))
@settings(max_examples=25, deadline=None)
def test_a_search_from_a_plan_that_lacks_something_makes_it_good(random, spots, spaces):
    one = ground(random, spots, spaces, kept=(0,))
    assert meets(one, searched(one, np.array([0]), 3000))


def test_most_searches_of_small_grounds_end_at_the_best_plan():
    grounds = [ground(chance.Random(n), 9, 3) for n in range(20)]
    ends = [float(one.prices[searched(one, np.arange(9), 3000)].sum()) for one in grounds]
    best = [cheapest(one) for one in grounds]
    assert sum(e == pytest.approx(b) for e, b in zip(ends, best, strict=True)) >= 18
