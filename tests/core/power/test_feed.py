"""Power over a cable: balance, laws, edges, and the classes on whole runs."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from heathrise.core.cabling.runs import plan_runs
from heathrise.core.power.feed import NoOperatingPoint, cable_loop_ohm, channel_loop_ohm, feed, max_power_w
from heathrise.core.power.feeds import plan_feeds
from heathrise.core.site.building import building_of
from tests.house import House

LOAD, VOLT, LOOP = st.floats(0, 90), st.floats(37, 57), st.floats(0, 25)


@given(LOAD, VOLT, LOOP)
def test_power_fed_is_power_used_plus_lost(load, volt, loop):
    assume(volt * volt > 4 * loop * load)
    found = feed(load, volt, loop)
    assert found.pse_w == pytest.approx(load + found.loss_w, abs=1e-6)
    assert found.pd_v * found.current_a == pytest.approx(load, abs=1e-6)


@given(LOAD, VOLT, LOOP)
def test_beyond_the_most_the_line_delivers_there_is_no_answer(load, volt, loop):
    assume(loop > 0.01)
    most = max_power_w(volt, loop)
    assume(abs(load - most) > 1e-6)
    if load > most:
        with pytest.raises(NoOperatingPoint, match="the line delivers"):
            feed(load, volt, loop)
    else:
        assert feed(load, volt, loop).pd_v >= volt / 2 - 1e-6


@given(st.floats(1, 60), st.floats(0, 10), st.floats(0, 10))
def test_a_longer_cable_never_costs_less(load, one, other):
    short, long = sorted((one, other))
    assert feed(load, 50, short).pse_w <= feed(load, 50, long).pse_w + 1e-9


def test_a_cable_of_no_resistance_loses_nothing():
    assert feed(30, 50, 0).loss_w == 0


@pytest.mark.parametrize("bad", [(-1, 50, 1), (10, 0, 1), (10, 50, -1), (float("nan"), 50, 1)])
def test_what_is_out_of_range_is_refused(bad):
    with pytest.raises(ValueError, match="must"):
        feed(*bad)


def test_four_pairs_halve_the_loop_and_heat_raises_it():
    assert cable_loop_ohm(24, 20, 100, 2) == pytest.approx(8.42)
    assert cable_loop_ohm(24, 20, 100, 4) == pytest.approx(4.21)
    assert cable_loop_ohm(24, 60, 100, 2) == pytest.approx(8.42 * 1.1572)


def test_a_channel_has_twist_cords_and_connectors_on_top():
    assert channel_loop_ohm(23, 20, 50, 2) == pytest.approx(3.34 * 1.02 + 0.2)
    assert channel_loop_ohm(23, 20, 50, 4) == pytest.approx(1.67 * 1.02 + 0.1)


@pytest.mark.parametrize(("awg", "length", "pairs"), [(28, 10, 2), (24, -1, 2), (24, 10, 3)])
def test_an_unknown_cable_is_refused(awg, length, pairs):
    with pytest.raises(ValueError, match="no cable of"):
        cable_loop_ohm(awg, 20, length, pairs)


def feeds_of(house):
    job = house.job
    return plan_feeds(job, plan_runs(job, building_of(job))).plans


def test_a_run_is_held_at_the_ports_lowest_voltage_and_expected_at_the_usual():
    house = House()
    house.rack()
    house.run(house.point(x=11, y=7))
    (plan,) = feeds_of(house)
    assert plan.poe_class == 4
    worst = feed(14.5, 50, plan.loop_ohm)
    assert plan.worst_pd_v == pytest.approx(worst.pd_v, abs=0.01)
    assert plan.max_source_w == pytest.approx(feed(14.5, 54, plan.loop_ohm).pse_w, abs=0.01)
    assert plan.typical_source_w < plan.max_source_w
    assert plan.holds


def test_an_outlet_is_not_fed():
    house = House()
    house.rack()
    outlet = house.thing()
    house.run(outlet, cable="cat6-indoor")
    assert feeds_of(house) == ()
