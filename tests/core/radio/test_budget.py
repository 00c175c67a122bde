"""Link budget and slabs: published figures, laws."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.library.slab import slab_loss_db
from heathrise.core.radio.budget import band_mhz, free_space_1m_db, noise_floor_dbm, path_loss_db

METRES = st.floats(0.1, 5000)


@pytest.mark.parametrize(("f_mhz", "loss_db"), [(2437, 40.18), (5500, 47.25), (6185, 48.27)])
def test_free_space_over_a_metre(f_mhz, loss_db):
    assert free_space_1m_db(f_mhz) == pytest.approx(loss_db, abs=0.01)


@given(METRES, METRES)
def test_further_is_never_louder(one, other):
    near, far = sorted((one, other))
    assert path_loss_db(near, 5500) <= path_loss_db(far, 5500)


@given(METRES)
def test_twice_as_far_is_6_db_more(distance):
    if distance >= 1:
        gap = path_loss_db(2 * distance, 5500) - path_loss_db(distance, 5500)
        assert gap == pytest.approx(6.0206, abs=1e-3)


def test_under_a_metre_counts_as_a_metre():
    assert path_loss_db(0.01, 2437) == path_loss_db(1, 2437)


@given(st.sampled_from([20, 40, 80, 160]))
def test_doubling_the_width_raises_noise_by_3_db(width):
    assert noise_floor_dbm(2 * width, 7) - noise_floor_dbm(width, 7) == pytest.approx(3.0103, abs=1e-3)


@pytest.mark.parametrize(
    "call", [lambda: free_space_1m_db(0), lambda: noise_floor_dbm(-1, 7), lambda: slab_loss_db([], 0)]
)
def test_what_is_out_of_range_is_refused(call):
    with pytest.raises(ValueError, match="above zero"):
        call()


def test_six_gigahertz_stands_for_the_domains_own_middle():
    assert band_mhz("6", "etsi-like") == 6185
    assert band_mhz("6", "fcc-like") == 6525
    assert band_mhz("5", "fcc-like") == 5500


def test_no_slab_and_a_slab_of_air_lose_nothing():
    assert slab_loss_db([], 5.5) == pytest.approx(0, abs=1e-9)
    assert slab_loss_db([("air", 0.3)], 5.5) == pytest.approx(0, abs=1e-6)


def test_metal_lets_nothing_useful_through_and_does_not_overflow():
    assert slab_loss_db([("metal", 0.01)], 5.5) >= 100
    assert slab_loss_db([("concrete", 50.0)], 5.5) == 300


@given(st.floats(0.05, 0.5))
def test_a_slab_reads_the_same_from_both_sides(thickness):
    layers = [("concrete", thickness), ("air", 0.05), ("plasterboard", 0.0125)]
    assert slab_loss_db(layers, 5.5) == pytest.approx(slab_loss_db(layers[::-1], 5.5), rel=1e-6)
    assert slab_loss_db(layers, 5.5) >= 0
