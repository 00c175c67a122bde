"""Signals as paths and powers: the loudest few of many, an offset for a power, antennas many ways at once."""

import numpy as np
import pytest
from demo.tern_lane import tern_lane
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from heathrise.core.deriving import Memo
from heathrise.core.edit import Put, apply
from heathrise.core.findings.slices import SLICES
from heathrise.core.job import BANDS, AccessPoint
from heathrise.core.job.view import changed_keys
from heathrise.core.library import library
from heathrise.core.radio.air import between, heard, sending, standing
from heathrise.core.radio.antenna import pattern
from heathrise.core.radio.channels import between_db, heard_dbm
from heathrise.core.radio.coverage import NOTHING_DBM, loudest, paths, powered, radio_on, ranked, signals
from heathrise.core.radio.scene import scene_of
from heathrise.core.site.building import building_of
from tests.house import House

LEVELS = arrays(
    np.float32,
    st.tuples(st.integers(1, 6), st.integers(1, 8)),
    elements=st.integers(-120, -20).map(float),
)
HOUSE = House(2)
HOUSE.point("A", 3, 4)
HOUSE.point("B", 9, 4)
HOUSE.point("C", 9, 2, storey_id=HOUSE.storeys[1])
JOB = HOUSE.job


@given(LEVELS, st.integers(0, 4))
def test_a_rank_is_what_sorting_all_levels_gives(levels, rank):
    in_order = -np.sort(-levels, axis=0)
    wanted = in_order[rank] if rank < len(levels) else np.full(levels.shape[1], NOTHING_DBM)
    assert np.array_equal(ranked(levels, rank), wanted)


@given(LEVELS)
def test_the_loudest_do_not_hang_on_the_order_of_points(levels):
    n = levels.shape[1]
    one, other = loudest(levels, n, 3), loudest(levels[::-1], n, 3)
    assert all(np.array_equal(a, b) for a, b in zip(one, other, strict=True))


def test_nobody_on_the_air_is_heard_nowhere():
    assert all((level == NOTHING_DBM).all() for level in loudest(iter(()), 4, 2))


@pytest.mark.parametrize("way", ["down", "up", "weaker"])
def test_some_places_are_heard_as_all_of_them_are(way):
    scene = scene_of(building_of(JOB))
    found = signals(JOB, scene, "5", scene.grid(HOUSE.ground))
    some = np.array([3, 40, 41, 200])
    rows = np.stack(list(found.rows(way, some)))
    assert np.array_equal(rows, found.way(way)[:, some])


def test_the_weaker_way_is_the_lesser_of_both():
    scene = scene_of(building_of(JOB))
    found = signals(JOB, scene, "2.4", scene.grid(HOUSE.ground))
    assert np.array_equal(found.way("weaker"), np.minimum(found.down_dbm, found.up_dbm))


@given(st.floats(0, 20), st.floats(0, 20))
def test_three_decibels_more_are_three_more_everywhere_below_the_client(one_dbm, other_dbm):
    scene = scene_of(building_of(JOB))
    along = paths(JOB, scene, "5", scene.grid(HOUSE.ground))
    loud = [powered(_at(JOB, "A", power), along, "5").down_dbm for power in (one_dbm, other_dbm)]
    assert np.allclose(loud[1][0] - loud[0][0], other_dbm - one_dbm, atol=1e-4)
    assert np.array_equal(loud[1][1:], loud[0][1:])


def _at(job, label, power_dbm):
    point = next(p for p in job.of(AccessPoint) if p.label == label)
    on = tuple(
        radio.model_copy(update={"power_dbm": power_dbm})
        for band in BANDS
        if (radio := radio_on(job, point, band)) is not None
    )
    return apply(job, [Put(element=point.model_copy(update={"radios": on}))]).job


@pytest.mark.parametrize("band", BANDS)
def test_what_points_hear_of_each_other_is_their_gain_and_their_power(band):
    job = tern_lane()
    scene = scene_of(building_of(job))
    points = [point for point in job.of(AccessPoint) if radio_on(job, point, band) is not None]
    if not points:
        return
    level = heard_dbm(job, scene, band, points)
    gain = between_db(job, scene, band, points)
    power = np.array([radio_on(job, point, band).power_dbm for point in points])
    apart = ~np.eye(len(points), dtype=bool)
    assert np.allclose(level[apart], (power[:, None] + gain)[apart])
    assert (level[~apart] == NOTHING_DBM).all()
    assert np.array_equal(heard_dbm(job, scene, band, points, gain), level)


def test_one_that_is_off_is_heard_by_nobody():
    job = _off(JOB, "B")
    scene = scene_of(building_of(job))
    points = list(job.of(AccessPoint))
    level = heard_dbm(job, scene, "5", points)
    off = [point.label for point in points].index("B")
    assert (level[off] == NOTHING_DBM).all()
    assert (np.delete(level, off, axis=0).max(axis=1) > NOTHING_DBM).all()


def _off(job, label):
    point = next(p for p in job.of(AccessPoint) if p.label == label)
    radios = [radio_on(job, point, band) for band in BANDS]
    off = tuple(r.model_copy(update={"on": False}) for r in radios if r is not None)
    return apply(job, [Put(element=point.model_copy(update={"radios": off}))]).job


def test_a_power_changes_what_is_sent_and_not_the_ways():
    memo = Memo(JOB)
    before = standing(memo.look, "5"), between(memo.look, "5"), heard(memo.look, HOUSE.ground, "5")
    louder = _at(JOB, "A", 3.0)
    memo.advance(louder, 1, changed_keys(JOB, louder, SLICES))
    after = standing(memo.look, "5"), between(memo.look, "5"), heard(memo.look, HOUSE.ground, "5")
    assert before[0] is after[0]
    assert before[1] is after[1]
    assert before[2].paths is after[2].paths
    assert sending(memo.look, "5").of(AccessPoint)[0].radios[0].power_dbm == 3.0
    assert not np.array_equal(before[2].down_dbm, after[2].down_dbm)


WAYS = arrays(float, st.tuples(st.integers(1, 12), st.just(3)), elements=st.integers(-50, 50).map(float))


@given(WAYS)
def test_an_antenna_towards_many_ways_is_itself_towards_each(ways):
    for code in ("disc", "isotropic", "omni-4"):
        shape = pattern(JOB, code)
        axis, up = (0.0, 0.0, -1.0), (0.0, -1.0, 0.0)
        together = shape.towards_db(ways, axis, up)
        each = [shape.relative_db(tuple(way), axis, up) for way in ways]
        assert together == pytest.approx(each)
        assert (together <= 1e-9).all()


@given(WAYS, st.floats(0.1, 40))
def test_how_far_a_place_is_does_not_turn_the_antenna(ways, times):
    shape = pattern(JOB, next(iter(library().patterns)))
    axis, up = (0.0, 0.0, -1.0), (0.0, -1.0, 0.0)
    assert shape.towards_db(ways * times, axis, up) == pytest.approx(
        shape.towards_db(ways, axis, up), abs=1e-3
    )
