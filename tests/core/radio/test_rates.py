"""Rates against the standard's own tables, and their laws."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.library import library
from heathrise.core.radio.rates import needed_snr_db, phy_rate_mbps, phy_rates_mbps, usable_share


@pytest.mark.parametrize(
    ("generation", "mcs", "width", "streams", "mbps"),
    [
        ("4", 7, 20, 1, 72.2),
        ("5", 8, 80, 1, 390.0),
        ("5", 9, 80, 2, 866.7),
        ("6", 0, 20, 1, 8.6),
        ("6", 11, 20, 1, 143.4),
        ("6", 11, 80, 2, 1201.0),
        ("6E", 11, 160, 2, 2402.0),
        ("7", 13, 320, 2, 5764.7),
    ],
)
def test_phy_rates_are_those_of_the_standard(generation, mcs, width, streams, mbps):
    row = library().mcs[mcs]
    assert phy_rate_mbps(library().phys[generation], row, width, streams) == pytest.approx(mbps, rel=2e-3)


def test_a_width_a_generation_has_not_is_refused():
    with pytest.raises(ValueError, match="no channels of 320 MHz"):
        phy_rate_mbps(library().phys["6"], library().mcs[0], 320, 1)


@pytest.mark.parametrize(
    ("mcs", "width", "streams", "snr"),
    [(0, 20, 1, 2), (7, 40, 1, 28.01), (11, 80, 2, 45.03), (9, 20, 4, 37.02)],
)
def test_wider_and_more_streams_ask_more(mcs, width, streams, snr):
    assert needed_snr_db(library().mcs[mcs], width, streams) == pytest.approx(snr, abs=0.01)


@given(st.floats(-10, 60), st.floats(0, 20), st.sampled_from([20, 40, 80]), st.integers(1, 4))
def test_more_snr_never_means_less_rate(snr, more, width, streams):
    low, high = phy_rates_mbps(np.array([snr, snr + more]), "6", width, streams)
    assert 0 <= low <= high
    assert (low == 0) == (snr < needed_snr_db(library().mcs[0], width, 1))


@pytest.mark.parametrize(
    ("clients", "share"), [(0, 0.55), (1, 0.55), (5, 0.5), (15, 0.45), (30, 0.4), (200, 0.4)]
)
def test_the_usable_share_falls_with_clients(clients, share):
    assert usable_share(clients) == pytest.approx(share)


def test_between_two_counts_it_falls_on_the_logarithm():
    assert usable_share(5**0.5) == pytest.approx(0.525)
