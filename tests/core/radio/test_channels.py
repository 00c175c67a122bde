"""Channels: bonded blocks, what the domain allows, least overlap."""

import itertools
import random as chance

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.radio.air import assess_air
from heathrise.core.radio.channels import channel_choices, span_mhz
from heathrise.core.radio.colouring import Puzzle, cost, greedy, groups_of, improved, overlap, solve, wandered
from tests.house import House, changed


@pytest.mark.parametrize(
    ("band", "channel", "width", "span"),
    [
        ("2.4", 1, 20, (2402, 2422)),
        ("5", 36, 20, (5170, 5190)),
        ("5", 40, 40, (5170, 5210)),
        ("5", 44, 80, (5170, 5250)),
        ("5", 100, 160, (5490, 5650)),
        ("5", 149, 80, (5735, 5815)),
        ("6", 1, 80, (5945, 6025)),
        ("6", 33, 160, (6105, 6265)),
    ],
)
def test_a_channel_lies_in_its_bonded_block(band, channel, width, span):
    assert span_mhz(band, channel, width) == span


@pytest.mark.parametrize(
    ("one", "other", "share"),
    [((0, 20), (0, 20), 1), ((0, 20), (20, 40), 0), ((0, 40), (20, 40), 1), ((0, 20), (15, 35), 0.25)],
)
def test_overlap_is_of_the_narrower_block(one, other, share):
    assert overlap(one, other) == overlap(other, one) == share


@pytest.mark.parametrize(
    ("changes", "band", "width", "outdoors", "expected"),
    [
        ({}, "2.4", 20, False, (1, 6, 11)),
        ({}, "5", 40, False, (36, 44, 52, 60, 100, 108, 116, 124, 132)),
        ({}, "5", 80, False, (36, 52, 100, 116)),
        ({"radar_channels": False}, "5", 40, False, (36, 44)),
        ({}, "5", 40, True, (100, 108, 116, 124, 132)),
        ({}, "6", 80, False, (1, 17, 33, 49, 65, 81)),
        ({}, "6", 160, False, (1, 33, 65)),
        ({}, "6", 80, True, ()),
    ],
)
def test_choices_follow_domain_practice_and_place(changes, band, width, outdoors, expected):
    job = changed(House().job, "House practice", **changes)
    assert channel_choices(job, band, width, outdoors) == expected


def puzzle(n, random, blocks=3):
    """Return a puzzle of n seats on the same blocks with a random half of the pairs heard."""
    weights = np.zeros((n, n))
    for i, j in itertools.combinations(range(n), 2):
        weights[i, j] = weights[j, i] = random.choice([0, 0, 1, 2.5])
    choices = tuple((20.0 * b, 20.0 * b + 20) for b in range(blocks))
    own = tuple(tuple(random.choice([0.0, 0.0, 0.7]) for _ in choices) for _ in range(n))
    return Puzzle((choices,) * n, tuple(map(tuple, weights.tolist())), own)


@given(st.integers(1, 6), st.randoms(use_true_random=False))
@settings(max_examples=40, deadline=None)
def test_the_plan_is_the_best_of_all_there_are(n, random):
    """Every plan of up to six seats on three blocks, tried one by one."""
    one = puzzle(n, random)
    found = solve(one, 1.0)
    least = min(cost(one, plan) for plan in itertools.product(range(3), repeat=n))
    assert found.proven
    assert found.total == pytest.approx(least, abs=1e-3)
    assert found.bound == pytest.approx(least, abs=1e-3)
    assert found.greedy >= found.total - 1e-9


@given(st.integers(8, 20), st.randoms(use_true_random=False))
@settings(max_examples=10, deadline=None)
def test_without_time_the_plan_is_still_no_worse_than_greedy_and_over_its_bound(n, random):
    one = puzzle(n, random)
    found = solve(one, 0.0)
    assert found.bound <= found.total <= found.greedy + 1e-9
    assert found.total == pytest.approx(cost(one, found.chosen))


@given(st.integers(21, 40), st.randoms(use_true_random=False))
@settings(max_examples=8, deadline=None)
def test_of_many_seats_the_plan_is_no_worse_than_improved_greedy_and_over_its_bound(n, random):
    one = puzzle(n, random)
    found = solve(one, 0.5)
    assert found.bound <= found.total <= cost(one, improved(one, greedy(one))) + 1e-9
    assert found.total == pytest.approx(cost(one, found.chosen))
    assert found.bound > 0 or found.total == 0


def test_most_walks_over_a_few_seats_end_at_the_best_plan():
    puzzles = [puzzle(n, chance.Random(n * 100 + seed)) for n in range(2, 8) for seed in range(6)]
    found = [cost(one, wandered(one, (0,) * len(one.choices), 500)) for one in puzzles]
    best = [
        min(cost(one, p) for p in itertools.product(range(3), repeat=len(one.choices))) for one in puzzles
    ]
    assert all(f >= b - 1e-9 for f, b in zip(found, best, strict=True))
    assert sum(f == pytest.approx(b, abs=1e-6) for f, b in zip(found, best, strict=True)) >= 34


@given(st.integers(1, 40), st.randoms(use_true_random=False))
@settings(max_examples=20, deadline=None)
def test_every_seat_is_in_one_group_of_the_bound(n, random):
    groups = groups_of(np.array(puzzle(n, random).weights))
    assert sorted(i for group in groups for i in group) == list(range(n))
    assert max(map(len, groups)) <= 15


def test_a_neighbour_heard_on_a_channel_keeps_the_plan_off_it():
    house = House()
    house.point(radios=[{"band": "2.4", "power_dbm": 11}])
    alone = assess_air(house.job).radio_plan[0].channel
    house.add("neighbour", "Next door", band="2.4", channel=alone, rssi_dbm=-60)
    assert assess_air(house.job).radio_plan[0].channel != alone
    house.add("neighbour", "Far off", band="2.4", channel=11 if alone == 1 else 1, rssi_dbm=-90)
    assert assess_air(house.job).bands[0].overlap == 0


def test_a_channel_set_by_hand_is_kept_and_its_neighbour_gives_way():
    house = House()
    house.point("One", x=2, radios=[{"band": "2.4", "power_dbm": 11, "channel": 6}])
    house.point("Two", x=10, radios=[{"band": "2.4", "power_dbm": 11}])
    rows = {row.label: row for row in assess_air(house.job).radio_plan}
    assert rows["One"].channel == 6
    assert rows["One"].fixed
    assert rows["Two"].channel in (1, 11)
    assert "One on 6 is heard at" in rows["Two"].reason


def test_a_radio_louder_than_a_sub_band_allows_is_kept_out_of_it():
    house = House()
    house.point(radios=[{"band": "5", "power_dbm": 18.5}])
    (row,) = assess_air(house.job).radio_plan
    assert row.eirp_dbm == 22.5
    assert row.eirp_limit_dbm >= row.eirp_dbm
