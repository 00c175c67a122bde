"""Channels: bonded blocks, what the domain allows, least overlap."""

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.job import Radio
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.channels import (
    Seat,
    assign,
    channel_choices,
    overlap,
    shared_weight,
    span_mhz,
)
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


def seats(n, choices=(1, 6, 11)):
    return [Seat(None, Radio(band="2.4", power_dbm=10), 20, choices) for _ in range(n)]


def total(chosen, weights):
    places = seats(len(chosen))
    return sum(shared_weight("2.4", places, weights, chosen, i, c) for i, c in enumerate(chosen))


@given(st.integers(2, 5), st.randoms(use_true_random=False))
@settings(max_examples=40, deadline=None)
def test_no_single_change_can_better_the_plan_and_three_never_clash(n, random):
    weights = np.zeros((n, n))
    for i, j in itertools.combinations(range(n), 2):
        weights[i, j] = weights[j, i] = random.choice([0, 0, 1, 2.5])
    chosen = assign("2.4", seats(n), weights)
    planned = total(chosen, weights)
    for i, channel in itertools.product(range(n), (1, 6, 11)):
        assert planned <= total([*chosen[:i], channel, *chosen[i + 1 :]], weights) + 1e-9
    if n <= 3:
        assert planned == 0


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
