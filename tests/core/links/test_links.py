"""Bridge geometry and shared hops: laws and refusals."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.links.bridge import fog_db_km, free_space_db, fresnel_clearance, rain_db_km, rain_share
from heathrise.core.links.fibre import fibre_loss_db, pair_loop_ohm
from heathrise.core.links.hops import shared_hops_mbps

RATES = st.lists(st.floats(1, 2000), min_size=1, max_size=5)


@given(RATES, st.floats(1, 2000))
def test_another_hop_always_costs_throughput(rates, extra):
    assert shared_hops_mbps([*rates, extra]) < shared_hops_mbps(rates)


@given(RATES)
def test_the_chain_is_never_faster_than_its_slowest_hop(rates):
    assert shared_hops_mbps(rates) <= min(rates) + 1e-6


@pytest.mark.parametrize("rates", [[], [100, 0], [-5]])
def test_hops_without_a_rate_are_refused(rates):
    with pytest.raises(ValueError, match="above zero"):
        shared_hops_mbps(rates)


@given(st.floats(0.05, 10), st.floats(2, 60))
def test_a_higher_frequency_needs_a_slimmer_zone(distance, f_ghz):
    assert (
        fresnel_clearance(distance, 2 * f_ghz).first_zone_m < fresnel_clearance(distance, f_ghz).first_zone_m
    )


def test_a_bridge_of_no_length_is_refused():
    with pytest.raises(ValueError, match="above zero"):
        fresnel_clearance(0, 5.8)


@pytest.mark.parametrize(
    ("distance_km", "f_ghz", "db"),
    [(1, 1, 92.45), (1, 5.5, 107.26), (0.2, 60.5, 114.11), (10, 2.437, 120.19)],
)
def test_free_space_takes_what_the_recommendation_says(distance_km, f_ghz, db):
    assert free_space_db(distance_km, f_ghz) == pytest.approx(db, abs=0.01)


@pytest.mark.parametrize(("rain_mm_h", "db_km"), [(0, 0), (1, 0.86), (25, 10.25), (35, 13.29), (100, 29.82)])
def test_rain_takes_more_the_harder_it_falls(rain_mm_h, db_km):
    assert rain_db_km(rain_mm_h) == pytest.approx(db_km, abs=0.01)


@pytest.mark.parametrize(("sight_m", "db_km"), [(50, 340), (200, 85), (500, 34)])
def test_fog_takes_more_the_less_one_sees(sight_m, db_km):
    assert fog_db_km(sight_m) == pytest.approx(db_km)


@pytest.mark.parametrize(
    ("length_m", "connectors", "splices", "db"), [(0, 4, 0, 3.0), (1000, 4, 0, 3.4), (1000, 2, 2, 2.5)]
)
def test_the_loss_account_of_a_fibre(length_m, connectors, splices, db):
    assert fibre_loss_db(length_m, 0.4, connectors, splices) == pytest.approx(db)


@pytest.mark.parametrize(
    ("area_mm2", "length_m", "temperature_c", "ohm"),
    [(1.0, 100, 20, 3.448), (2.5, 100, 20, 1.379), (1.0, 100, 60, 3.990)],
)
def test_a_pair_out_and_back(area_mm2, length_m, temperature_c, ohm):
    assert pair_loop_ohm(area_mm2, length_m, temperature_c) == pytest.approx(ohm, abs=0.001)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: free_space_db(0, 5),
        lambda: free_space_db(1, 0),
        lambda: rain_db_km(-1),
        lambda: fog_db_km(0),
        lambda: fibre_loss_db(-1, 0.4, 2, 0),
        lambda: pair_loop_ohm(0, 10, 20),
    ],
)
def test_what_cannot_be_is_refused(wrong):
    with pytest.raises(ValueError, match=r"above zero|below zero|below it"):
        wrong()


@pytest.mark.parametrize(("fade", "share"), [(12.0, 0.01), (1.44, 1.0), (1e6, 0.001), (0.1, 1.0)])
def test_the_share_of_a_year_that_rain_takes_more_than_a_fade(fade, share):
    """The formula gives 1.00 of what 0.01 % takes at 0.01 %, 0.12 of it at 1 %."""
    assert rain_share(fade, 12.0) == pytest.approx(share, rel=0.02)


@given(st.floats(0.1, 60), st.floats(0.1, 60))
def test_more_left_never_stands_less_of_the_year(one, other):
    low, high = sorted((one, other))
    assert rain_share(high, 10) <= rain_share(low, 10) + 1e-12
