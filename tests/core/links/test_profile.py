"""What a bridge's path must leave free, and how its masts follow."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.links.bridge import earth_bulge_m, first_zone_m, fresnel_clearance
from heathrise.core.links.profile import Masts, PathPoint, bearing_deg, path_check, tilt_deg

heights = st.floats(1, 40)
ghz = st.sampled_from([2.437, 5.8, 60.0])


def flat(distance_m: float, *obstacles: tuple[float, float]) -> list[PathPoint]:
    """Level ground with things that stand on it."""
    inner = [PathPoint(distance_m=at, obstacle_m=high) for at, high in obstacles]
    return [PathPoint(distance_m=0), *inner, PathPoint(distance_m=distance_m)]


@pytest.mark.parametrize(
    ("d1_km", "d2_km", "f_ghz", "zone_m", "bulge_m"),
    [
        (2.5, 2.5, 5.8, 8.0406, 0.3679),
        (0.1, 0.1, 60, 0.5, 0.0006),
        (1.0, 4.0, 5.8, 6.4325, 0.2355),
        (0.0, 5.0, 5.8, 0.0, 0.0),
    ],
)
def test_zone_and_bulge_anywhere_along_a_path(d1_km, d2_km, f_ghz, zone_m, bulge_m):
    assert first_zone_m(d1_km, d2_km, f_ghz) == pytest.approx(zone_m, abs=1e-4)
    assert earth_bulge_m(d1_km, d2_km) == pytest.approx(bulge_m, abs=1e-4)


def test_the_middle_is_the_widest_place():
    middle = fresnel_clearance(5, 5.8)
    assert middle.first_zone_m == first_zone_m(2.5, 2.5, 5.8)
    assert all(first_zone_m(d, 5 - d, 5.8) <= middle.first_zone_m for d in (0.5, 1.5, 3.0, 4.9))


def test_a_tree_in_the_middle_asks_for_what_it_lacks():
    """200 m at 5.8 GHz: 60 % of 1.608 m is 0.965 m; a line at 6 m over a tree of 5.5 m leaves 0.5 m."""
    found = path_check(flat(200, (100, 5.5)), Masts(from_m=6, to_m=6), 5.8)
    assert not found.is_clear
    assert found.raise_m == pytest.approx(
        0.6 * 17.32 * math.sqrt(0.01 / (5.8 * 0.2)) - 0.5 + 0.0006, abs=1e-3
    )
    higher = Masts(from_m=6 + found.raise_m + 1e-9, to_m=6 + found.raise_m + 1e-9)
    assert path_check(flat(200, (100, 5.5)), higher, 5.8).is_clear


def test_the_worst_place_is_where_most_is_missing_not_where_least_is_free():
    """Half a metre free beside a mast is enough there; a metre in the middle of 5 km is not."""
    found = path_check(flat(5000, (5, 9.5), (2500, 8.5)), Masts(from_m=10, to_m=10), 5.8)
    assert found.worst is not None
    assert found.worst.distance_m == 2500


def test_nothing_between_both_ends_is_clear():
    found = path_check(flat(300), Masts(from_m=4, to_m=4), 60)
    assert (found.is_clear, found.worst, found.places) == (True, None, ())


@pytest.mark.parametrize(
    ("distances", "words"),
    [
        ([0], "two ends"),
        ([5, 10], "begins at 5 m"),
        ([0, 40, 30, 60], "30 m stands after 40 m"),
        ([0, 0], "0 m stands"),
    ],
)
def test_a_profile_that_is_none_says_where(distances, words):
    with pytest.raises(ValueError, match=words):
        path_check([PathPoint(distance_m=d) for d in distances], Masts(from_m=3, to_m=3), 5.8)


@given(heights, heights, st.floats(0, 30), st.floats(0.05, 0.95), ghz)
def test_a_path_is_the_same_from_either_end(start, stop, obstacle, share, f_ghz):
    way = 800.0
    there = path_check(flat(way, (share * way, obstacle)), Masts(from_m=start, to_m=stop), f_ghz)
    back = path_check(flat(way, ((1 - share) * way, obstacle)), Masts(from_m=stop, to_m=start), f_ghz)
    assert there.raise_m == pytest.approx(back.raise_m, abs=1e-9)


@given(heights, st.floats(0, 30), st.floats(0.1, 10), ghz)
def test_higher_masts_never_leave_less(height, obstacle, more, f_ghz):
    points = flat(600, (200, obstacle), (450, obstacle / 2))
    low = path_check(points, Masts(from_m=height, to_m=height), f_ghz)
    high = path_check(points, Masts(from_m=height + more, to_m=height + more), f_ghz)
    assert high.raise_m <= low.raise_m
    assert low.raise_m == 0 or high.raise_m == pytest.approx(max(0, low.raise_m - more), abs=1e-9)


@pytest.mark.parametrize(
    ("east", "north", "bearing"), [(0, 1, 0), (1, 0, 90), (0, -1, 180), (-1, 0, 270), (1, 1, 45)]
)
def test_bearings_go_clockwise_from_north(east, north, bearing):
    assert bearing_deg(east, north) == pytest.approx(bearing)


def test_an_end_looks_up_by_what_the_other_looks_down_and_both_a_little_down_over_the_earth():
    up, down = tilt_deg(100, 5), tilt_deg(100, -5)
    assert (up, down) == (pytest.approx(2.862, abs=1e-3), pytest.approx(-2.862, abs=1e-3))
    assert tilt_deg(5000, 0) == pytest.approx(-math.degrees(math.atan(1.472 / 5000)), abs=1e-4)


@pytest.mark.parametrize(
    "bad", [lambda: bearing_deg(0, 0), lambda: tilt_deg(0, 1), lambda: first_zone_m(1, 1, 0)]
)
def test_what_has_no_answer_is_refused(bad):
    with pytest.raises(ValueError):
        bad()
