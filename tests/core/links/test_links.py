"""Bridge geometry and shared hops: laws and refusals."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.links.bridge import fresnel_clearance
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
