"""Own antenna patterns, contents of spaces, foliage, true angle, open doors: each against a sum by hand."""

import math

import numpy as np
import pytest
from demo.drawing import at
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from heathrise.core.edit import EditError, Put, apply
from heathrise.core.job import Antenna, CutPoint
from heathrise.core.library import library
from heathrise.core.library.by_angle import by_angle
from heathrise.core.radio.account import signal_account
from heathrise.core.radio.coverage import signals
from heathrise.core.radio.scene import scene_of
from heathrise.core.site.building import building_of
from tests.house import House, changed, straight


def level(job, x, y, z=1.0, band="5"):
    job = straight(job)
    heard = signals(job, scene_of(building_of(job)), band, np.array([[x, y, z]]))
    return float(heard.way("weaker").max())


def cut(*rows):
    return [{"angle_deg": a, "relative_db": g} for a, g in rows]


AROUND = cut(*((a, -abs(a) / 9) for a in range(-180, 180, 45)))
UP = cut((-90, -15), (-45, -6), (0, 0), (45, -6), (90, -15), (135, -15), (180, -15), (-135, -15))


def with_antenna(**body) -> House:
    house = House()
    house.add("antenna", "Panel", code="own-panel", azimuth=AROUND, elevation=UP)
    house.point(antenna="own-panel", mount="wall", height_m=1.0, **body)
    return house


@pytest.mark.parametrize(("facing", "lost"), [(90, 0), (0, 10), (180, 10), (270, 20)])
def test_an_own_antenna_is_read_round_its_facing(facing, lost):
    ahead = level(with_antenna(facing_deg=90).job, 5, 4)
    assert ahead - level(with_antenna(facing_deg=facing).job, 5, 4) == pytest.approx(lost, abs=0.01)


def test_tilt_turns_it_down():
    flat, down = with_antenna(facing_deg=90), with_antenna(facing_deg=90, tilt_deg=45)
    assert level(down.job, 5, 4, 1.0) - level(flat.job, 5, 4, 1.0) == pytest.approx(-6, abs=0.05)


@given(
    st.floats(0.5, 11.5), st.floats(0.5, 7.5), st.sampled_from([0, 45, 210]), st.sampled_from([-20, 0, 30])
)
@settings(max_examples=40, deadline=None)
def test_kernel_and_account_read_an_own_antenna_alike(x, y, facing, tilt):
    job = straight(with_antenna(facing_deg=facing, tilt_deg=tilt).job)
    scene = scene_of(building_of(job))
    point = next(e for e in job.elements if e.kind == "access-point")
    found = signal_account(job, scene, point, "5", job.storeys[0].id, at(x, y))
    assert found.sum.value == pytest.approx(level(job, x, y), abs=0.05)


@pytest.mark.parametrize(
    ("azimuth", "words"),
    [
        ([], "0 rows"),
        (cut((0, 0), (10, -1)), "2 rows"),
        (cut((-180, -3), (0, 0), (60, -5)), "gap of"),
        (cut((-180, -3), (-90, -9), (0, 4), (90, -9)), "over the peak"),
        (cut((-180, -3), (-170, 0), (170, 0), (190, 0)), "outside -180 to 180"),
        (cut((0, 0), (0, -1), (90, -3), (180, -5), (-90, -3)), "twice"),
    ],
)
def test_a_pattern_that_cannot_be_is_refused_in_words(azimuth, words):
    with pytest.raises(ValidationError, match=words):
        Antenna.model_validate(
            {
                "id": "00000000-0000-7000-8000-000000000001",
                "label": "Bad",
                "code": "own-bad",
                "azimuth": azimuth,
                "elevation": UP,
            }
        )


def test_an_antenna_in_use_cannot_be_removed_from_under_its_point():
    job = with_antenna().job
    antenna = next(e for e in job.elements if e.kind == "antenna")
    with pytest.raises(EditError, match="own-panel"):
        apply(job, [Put(element=antenna.model_copy(update={"code": "own-other"}))])


@pytest.mark.parametrize(("band", "per_m"), [("2.4", 0.1), ("5", 0.2)])
def test_furniture_costs_by_the_metre(band, per_m):
    house = House()
    house.point(x=0.5, y=4, height_m=1.0, mount="wall")
    bare = level(house.job, 5.5, 4, 1.0, band)
    furnished = changed(house.job, "Ground west", contents="furnished")
    assert bare - level(furnished, 5.5, 4, 1.0, band) == pytest.approx(5 * per_m, abs=1e-3)


def test_contents_can_be_left_out():
    house = House()
    house.point(x=0.5, y=4)
    furnished = changed(house.job, "Ground west", contents="crowd")
    off = apply(furnished, [Put(element=furnished.air_model.model_copy(update={"area_losses": False}))]).job
    assert level(off, 5.5, 4) == level(house.job, 5.5, 4)
    assert level(furnished, 5.5, 4) < level(off, 5.5, 4)


@given(st.floats(-3, 14), st.floats(-3, 11), st.floats(0.2, 2.5), st.floats(0.2, 5.5))
@settings(max_examples=60, deadline=None)
def test_kernel_and_account_agree_on_the_way_through_areas(x, y, height, z):
    house = House(2)
    house.point(x=3.1, y=3.9, height_m=height)
    job = straight(
        changed(changed(house.job, "Ground west", contents="crowd"), "First east", contents="shelves")
    )
    scene = scene_of(building_of(job))
    storey = job.storeys[1 if z >= 3 else 0]
    point = next(e for e in job.elements if e.kind == "access-point")
    found = signal_account(job, scene, point, "5", storey.id, at(x, y))
    where = np.array([[x, y, storey.elevation_m + 1.0]])
    assert found.sum.value == pytest.approx(
        float(signals(job, scene, "5", where).way("weaker")[0, 0]), abs=0.06
    )


def test_a_slanting_ray_pays_more_unless_told_not_to():
    house = House()
    house.point(x=3, y=4, height_m=1.0, mount="wall", facing_deg=90)
    even = apply(house.job, [Put(element=house.job.air_model.model_copy(update={"true_angle": False}))]).job
    assert level(even, 9, 4) == pytest.approx(level(house.job, 9, 4), abs=1e-3)
    found = by_angle(library().build_ups["brick-102"], "etsi-like").loss_db[:, 1]
    slanting = found[round(math.cos(math.atan2(3, 6)) * (len(found) - 1))]
    assert level(even, 9, 7) - level(house.job, 9, 7) == pytest.approx(slanting - 9, abs=0.02)


def test_open_doors_cost_nothing():
    house = House()
    house.point(x=3, y=4, height_m=1.0)
    house.add(
        "opening",
        "Door",
        wall_id=house.d.id_of("wall", "Ground middle"),
        at_m=3.5,
        width_m=1.0,
        build_up="door-solid",
    )
    opened = apply(house.job, [Put(element=house.job.air_model.model_copy(update={"doors": "open"}))]).job
    assert level(opened, 9, 4) - level(house.job, 9, 4) == pytest.approx(6, abs=1e-3)


def test_a_cut_point_has_its_units():
    assert CutPoint(angle_deg=0, relative_db=0).model_dump() == {"angle_deg": 0, "relative_db": 0}
