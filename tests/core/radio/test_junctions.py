"""Where walls meet: no ray slips through, indoors and out, whichever way it is looked at."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.job import AccessPoint
from heathrise.core.radio.mirrors import mirrored_at
from heathrise.core.radio.scene import scene_of
from heathrise.core.site.building import building_of
from tests.house import House

JOBS = {"school": tern_lane, "mill": withy_mill, "clinic": fern_hollow}
QUARTERS = st.integers(1, 47).map(lambda n: n / 4)
# More than a receiver could tell from nothing. [dB]
DARK_DB = 100.0


def sealed(x: float, y: float) -> tuple[House, str]:
    """A house with a sealed room in its north-west corner, its walls against the outer ones, and a point."""
    house = House()
    house.add(
        "build-up",
        "Sealed",
        code="sealed",
        build_kind="wall",
        loss_24_db=DARK_DB,
        loss_5_db=DARK_DB,
        loss_6_db=DARK_DB,
    )
    for label in ("Ground outer", "Ground middle"):
        house.d.elements = [
            e.model_copy(update={"build_up": "sealed"}) if e.label.startswith(label) else e
            for e in house.d.elements
        ]
    house.d.wall(house.ground, "sealed", (0, 3), (6, 3), label="South of it")
    house.point(x=x, y=y, antenna=None)
    return house, house.ground


@given(QUARTERS, QUARTERS)
@settings(max_examples=60, deadline=None)
def test_a_sealed_room_stays_dark_wherever_its_walls_meet(x, y):
    if (x <= 6 and y <= 3) or x % 6 == 0 or y == 3 or y >= 8:
        return
    house, ground = sealed(x, y)
    scene = scene_of(building_of(house.job))
    points = scene.grid(ground).points_m()
    room = (points[:, 0] > 0) & (points[:, 0] < 6) & (points[:, 1] > 0) & (points[:, 1] < 3)
    (point,) = house.job.of(AccessPoint)
    found = mirrored_at(scene, scene.transmitter(point), points[room])
    assert found.every.max() < 10 ** (-DARK_DB / 10)


@pytest.mark.parametrize("name", JOBS)
def test_a_centimetre_aside_it_is_as_loud(name):
    """No place stands out over all of those a centimetre round it: only a ray that slipped through does."""
    job = JOBS[name]()
    scene = scene_of(building_of(job))
    ring = np.array([(math.cos(a), math.sin(a), 0) for a in np.arange(8) * math.pi / 4]) * 0.01
    for point in [p for p in job.of(AccessPoint) if p.mount != "outdoor"][:4]:
        transmitter = scene.transmitter(point)
        points = scene.grid(point.storey_id).points_m()
        inside = scene.building.inside[point.storey_id].buffer(-0.1)
        walls = shapely.union_all([line for line, _ in scene.building.wall_lines(point.storey_id)])
        at = shapely.points(points[:, :2])
        cells = points[shapely.contains(inside, at) & (shapely.distance(walls, at) > 0.02)]
        here = heard_db(scene, transmitter, cells)
        around = np.max([heard_db(scene, transmitter, cells + step) for step in ring], axis=0)
        assert (here - around).max() < 1.5


def heard_db(scene, transmitter, points):
    losses = scene.losses(transmitter, points)
    straight = 10 ** ((losses.relative_db - losses.loss_db[1]).astype(float) / 10)
    return 10 * np.log10(straight + mirrored_at(scene, transmitter, points).every[1])


def yard(stub: bool) -> House:
    """A roof over a large floor, without a wall or with a stub of one 60 m off."""
    house = House()
    house.d.elements = [e for e in house.d.elements if e.kind in {"site", "brief", "practice", "storey"}]
    house.d.space(house.ground, "Floor", (0, 0, 80, 20))
    if stub:
        house.d.wall(house.ground, "brick-102", (75, 10), (75, 10.5), label="Stub")
    house.point(x=5, y=10, antenna=None)
    return house


def test_floor_and_ceiling_echo_whether_or_not_a_wall_is_drawn_somewhere():
    where = np.array([[9.0, 11.0, 1.0]])
    levels = []
    for stub in (False, True):
        job = yard(stub).job
        scene = scene_of(building_of(job))
        levels.append(heard_db(scene, scene.transmitter(job.of(AccessPoint)[0]), where)[0])
    assert levels[0] == pytest.approx(levels[1], abs=0.05)


@given(
    st.tuples(st.floats(-8, 20), st.floats(8.5, 15)),
    st.tuples(st.floats(0.5, 11.5), st.floats(0.5, 7.5)) | st.tuples(st.floats(-8, 20), st.floats(8.5, 15)),
)
@settings(max_examples=60, deadline=None)
def test_out_and_in_are_the_same_way(outdoors, other):
    """What stands outdoors near a wall is mirrored like the rest: both directions agree."""
    house = House()
    house.point(x=3, y=4)
    scene = scene_of(building_of(house.job))
    base = replace(scene.transmitter(house.job.of(AccessPoint)[0]), pattern="isotropic", z_m=1.0)
    gains = []
    for sender, receiver in ((outdoors, other), (other, outdoors)):
        there = replace(base, x_m=sender[0], y_m=sender[1])
        gains.append(heard_db(scene, there, np.array([[*receiver, 1.0]]))[0])
    assert gains[0] == pytest.approx(gains[1], abs=1.0)
