"""Length limits, limit lines, conduit: the edges of each rule and its laws."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.cabling.conduit import conduit_fill
from heathrise.core.cabling.lengths import (
    cord_budget_m,
    equivalent_length,
    heat_factor,
    hot_link_m,
    longest_fixed_m,
)
from heathrise.core.cabling.runs import bundle_rise_c, speed_row
from heathrise.core.cabling.testlimits import insertion_loss_limit_db, next_limit_db
from heathrise.core.library import UnknownItem

TEMPERATURE = st.floats(-20, 80)


@pytest.mark.parametrize(
    ("temperature", "screened", "factor"),
    [
        (20, False, 0),
        (-10, False, 0),
        (30, False, 0.04),
        (40, False, 0.08),
        (50, False, 0.14),
        (60, True, 0.08),
    ],
)
def test_heat_factor(temperature, screened, factor):
    assert heat_factor(temperature, screened) == pytest.approx(factor)


@given(TEMPERATURE, TEMPERATURE)
def test_hotter_is_never_longer(one, other):
    cool, hot = sorted((one, other))
    assert hot_link_m(hot, screened=False) <= hot_link_m(cool, screened=False)


@pytest.mark.parametrize(
    ("fixed", "cords", "ok"),
    [
        (90, 10, True),
        (90, 10.01, False),
        (90.01, 5, False),
        (80, 18.33, True),
        (80, 18.34, False),
        (0, 27, True),
    ],
)
def test_the_channel_at_its_edges(fixed, cords, ok):
    assert equivalent_length([(fixed, 20)], cords, 0.2, screened=False).ok is ok


@given(st.floats(0, 90))
def test_a_cord_within_its_budget_always_passes(fixed):
    budget = cord_budget_m(fixed, 0.2)
    assert equivalent_length([(fixed, 20)], budget, 0.2, screened=False).ok


@pytest.mark.parametrize(("derate", "cap"), [(0.2, 27.0), (0.5, 21.0)])
def test_cords_are_capped_however_short_the_link(derate, cap):
    assert cord_budget_m(5, derate) == cap


@given(st.floats(0, 0.3))
def test_a_link_of_the_longest_length_just_passes(heat):
    most = longest_fixed_m(heat, 10, 0.2)
    assert most <= 90
    assert most * (1 + heat) + 12 <= 102 + 1e-9


@pytest.mark.parametrize(
    "call", [lambda: cord_budget_m(-1, 0.2), lambda: equivalent_length([(-1, 20)], 5, 0.2, False)]
)
def test_negative_lengths_are_refused(call):
    with pytest.raises(ValueError, match="negative"):
        call()


@pytest.mark.parametrize(
    ("diameters", "limit"), [([6.1], 0.53), ([6.1] * 2, 0.31), ([6.1] * 3, 0.40), ([], 0.40)]
)
def test_the_fill_limit_depends_on_the_count(diameters, limit):
    assert conduit_fill(26.6, diameters).limit == limit


def test_exactly_full_passes():
    assert conduit_fill(10, [4, 4, 2, 2]).fill == pytest.approx(0.40)
    assert conduit_fill(10, [4, 4, 2, 2]).ok


@pytest.mark.parametrize(("bore", "diameters"), [(0, [6]), (20, [0]), (20, [-3])])
def test_a_conduit_of_nothing_is_refused(bore, diameters):
    with pytest.raises(ValueError, match="above zero"):
        conduit_fill(bore, diameters)


@pytest.mark.parametrize(("cls", "top"), [("D", 100), ("E", 250), ("EA", 500)])
def test_insertion_loss_grows_with_frequency_within_the_class(cls, top):
    values = [insertion_loss_limit_db(cls, f) for f in (1, 4, 16, 62.5, top)]
    assert values == sorted(values)
    with pytest.raises(ValueError, match=f"class {cls}"):
        insertion_loss_limit_db(cls, top + 1)


def test_crosstalk_limits_fall_with_frequency_and_only_where_a_line_is_known():
    assert next_limit_db("E", 16) > next_limit_db("E", 250)
    assert next_limit_db("EA", 100) == next_limit_db("E", 100)
    with pytest.raises(UnknownItem, match="test class named F"):
        next_limit_db("F", 100)


@pytest.mark.parametrize(
    ("category", "speed", "most"),
    [("5e", 1000, 100), ("6", 10000, 55), ("6A", 10000, 100), ("5", 2500, 0), ("5e", 10000, 0)],
)
def test_what_a_category_carries(category, speed, most):
    assert speed_row(category, speed).max_m == most


@pytest.mark.parametrize(
    ("watts", "bundle", "rise"),
    [(0, 100, 0), (15.4, 6, 0), (30, 7, 2), (60, 48, 6), (90, 49, 15), (90, 5000, 15)],
)
def test_a_bundle_warms_by_watts_and_size(watts, bundle, rise):
    assert bundle_rise_c(watts, bundle) == rise
