"""Rays that walls throw back: the kernel against plain steps, the laws they keep, what they change."""

import math

import numpy as np
import pytest
from demo.drawing import at
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import example, given, settings
from hypothesis import strategies as st

from heathrise.core.edit import Put, apply
from heathrise.core.job import AccessPoint
from heathrise.core.library import library, limit
from heathrise.core.library.by_angle import by_angle
from heathrise.core.radio.account import signal_account
from heathrise.core.radio.bounced import bounced_rays
from heathrise.core.radio.coverage import signals
from heathrise.core.radio.echoing import WAYS, echoed
from heathrise.core.radio.imaging import mirrored
from heathrise.core.radio.mirrors import kept_images, mirrored_at
from heathrise.core.radio.reach import direct_db
from heathrise.core.radio.scene import Scene, scene_of
from heathrise.core.site.building import building_of
from tests.house import House, changed

JOBS = {"school": tern_lane(), "mill": withy_mill(), "clinic": fern_hollow()}


def one_wall(length: float = 20.0, build_up: str = "concrete-150") -> tuple[Scene, House]:
    """A wall alone on a large floor, an access point 3 m off it."""
    house = House()
    kept = {"site", "brief", "practice", "storey"}
    house.d.elements = [e for e in house.d.elements if e.kind in kept]
    house.d.wall(house.ground, build_up, (0, 0), (length, 0), label="Mirror")
    house.d.space(house.ground, "Floor", (-10, -10, 30, 20))
    house.point(x=5, y=3, antenna=None)
    return scene_of(building_of(house.job)), house


@pytest.mark.parametrize(
    ("wall", "place", "image"),
    [
        ((0, 0, 10, 0), (3, 4), (3, -4)),
        ((0, 0, 0, 7), (2, 1), (-2, 1)),
        ((0, 0, 5, 5), (4, 0), (0, 4)),
        ((10, 0, 0, 0), (3, -4), (3, 4)),
    ],
)
def test_an_image_lies_as_far_behind_the_wall_as_the_place_before_it(wall, place, image):
    assert mirrored(np.array([wall], float), 0, *place) == pytest.approx(image)


def test_one_wall_gives_one_ray_whose_way_is_as_long_as_from_the_image():
    scene, house = one_wall()
    transmitter = scene.transmitter(house.job.of(AccessPoint)[0])
    (ray,) = [r for r in bounced_rays(scene, transmitter, (11.0, 5.0, 1.0), 1, 0.0) if r.walls]
    (place,) = ray.places
    assert place[:2] == pytest.approx((5 + 6 * 3 / 8, 0))
    far = math.dist((5, -3, transmitter.z_m), (11, 5, 1.0))
    way = math.dist((5, 3, transmitter.z_m), place) + math.dist(place, (11, 5, 1.0))
    assert way == pytest.approx(far)


def test_a_ray_meets_the_mirror_inside_its_ends_or_is_none():
    scene, house = one_wall(length=6)
    transmitter = scene.transmitter(house.job.of(AccessPoint)[0])
    before, past = (bounced_rays(scene, transmitter, place, 1, 0.0) for place in ((5.0, 6, 1), (25.0, 3, 1)))
    assert [len(ray.walls) for ray in before if ray.gain > 0] == [1]
    assert [ray for ray in past if ray.gain > 0] == []


@pytest.mark.parametrize(("far_m", "least", "most"), [(1.0, 0.01, 0.35), (6.0, 0.01, 0.5), (60.0, 1.2, 2.0)])
def test_floor_and_ceiling_throw_back_most_of_a_flat_ray(far_m, least, most):
    """Along a hall nearly two more rays arrive; under the access point next to nothing is added."""
    level_m, rows = np.array([0.0, 3.0]), np.array([0, 0])
    back = by_angle(library().build_ups["concrete-slab-250"], "etsi-like").back[None]
    by_floor, by_ceiling = (echoed(far_m**2, 2.6, 1.0, level_m, rows, back, way) for way in range(WAYS))
    for share in np.add(by_floor, by_ceiling):
        assert least < share < most


def test_an_echo_finds_the_hole_that_its_ray_misses():
    """Up to the next storey the ceiling's echo crosses the floor between nearer the access point."""
    house = House(2)
    house.point(x=2, y=4)
    closed = changed(house.job, "First", slab_build_up="timber-floor-foil")
    house.d.elements = list(closed.elements)
    hole = [at(2.4, 3), at(3.2, 3), at(3.2, 5), at(2.4, 5)]
    lowest, top = house.storeys
    house.add("shaft", "Hole", shaft_kind="void", outline=hole, from_storey_id=lowest, to_storey_id=top)

    def echo(job, x_m):
        scene = scene_of(building_of(job))
        end = (x_m, 4.0, scene.building.storeys[1].elevation_m + 1)
        rays = bounced_rays(scene, scene.transmitter(job.of(AccessPoint)[0]), end, 1, 1.0)
        return sum(ray.gain for ray in rays if not ray.walls)

    far_m = 11.0
    assert echo(house.job, far_m) > 10 * echo(closed, far_m)


def test_a_wall_without_a_build_up_mirrors_nothing():
    _, house = one_wall()
    clear = changed(house.job, "Mirror", build_up=None)
    scene = scene_of(building_of(clear))
    assert len(kept_images(scene, scene.transmitter(clear.of(AccessPoint)[0]), 0).mirror) == 0


@pytest.mark.parametrize("name", JOBS)
@given(st.tuples(st.floats(0, 1), st.floats(0, 1), st.integers(0, 30)))
@example(place=(0.5625, 0.5, 1))
@settings(max_examples=25, deadline=None)
def test_the_kernel_and_the_plain_steps_agree(name, place):
    job = JOBS[name]
    scene = scene_of(building_of(job))
    points = job.of(AccessPoint)
    point = points[place[2] % len(points)]
    inside = scene.building.inside[point.storey_id]
    x0, y0, x1, y1 = inside.bounds
    z_m = scene.building.storey(point.storey_id).elevation_m + limit("air.client_height_m")
    # A little off round numbers: a ray through a corner may count either wall that meets there.
    end = (x0 + 0.0137 + place[0] * (x1 - x0), y0 + 0.0071 + place[1] * (y1 - y0), z_m)
    transmitter, where = scene.transmitter(point), np.array([end])
    kernel = mirrored_at(scene, transmitter, where).every[1, 0]
    straight = 10 ** (float(direct_db(scene.losses(transmitter, where), "5")[0]) / 10)
    plain = sum(ray.gain for ray in bounced_rays(scene, transmitter, end, 1, straight)) if kernel else 0.0
    assert kernel == pytest.approx(plain, rel=1e-3, abs=1e-14)


@pytest.mark.parametrize("name", JOBS)
@given(st.tuples(st.floats(0, 1), st.floats(0, 1), st.integers(0, 30)), st.sampled_from(["2.4", "5"]))
@settings(max_examples=15, deadline=None)
def test_the_account_adds_up_to_the_map_on_every_demo_job(name, place, band):
    job = JOBS[name]
    scene = scene_of(building_of(job))
    points = [p for p in job.of(AccessPoint) if p.mount != "outdoor"]
    point = points[place[2] % len(points)]
    x0, y0, x1, y1 = scene.building.inside[point.storey_id].bounds
    x, y = round(x0 + place[0] * (x1 - x0), 2) + 0.0037, round(y0 + place[1] * (y1 - y0), 2) + 0.0071
    account = signal_account(job, scene, point, band, point.storey_id, at(x, y))
    z_m = scene.building.storey(point.storey_id).elevation_m + limit("air.client_height_m")
    heard = signals(job, scene, band, np.array([[x, y, z_m]]))
    row = [p.id for p in heard.points].index(point.id) if account else -1
    if account is not None:
        assert account.sum.value == pytest.approx(float(heard.way("weaker")[row, 0]), abs=0.1)
        assert sum(line.value for line in account.sum.lines) == pytest.approx(account.sum.value, abs=0.1)


def test_mirrors_bring_the_signal_through_an_open_door_and_can_be_switched_off():
    house = House()
    house.d.elements = [
        e.model_copy(update={"build_up": "reinforced-200"}) if e.label == "Ground middle" else e
        for e in house.d.elements
    ]
    wall = house.d.id_of("wall", "Ground middle")
    house.add("opening", "Passage", wall_id=wall, at_m=3.5, width_m=0.9, opening_kind="opening")
    house.point(x=3.0, y=1.0)
    job = apply(house.job, [Put(element=house.job.air_model)]).job
    off = apply(job, [Put(element=job.air_model.model_copy(update={"mirrors": False}))]).job
    # Off the south-west corner's walls and through the passage, where the straight ray meets the wall.
    levels = [
        signals(j, scene_of(building_of(j)), "5", np.array([[8.013, 0.507, 1.0]])).way("weaker")[0, 0]
        for j in (job, off)
    ]
    assert not scene_of(building_of(off)).mirrors
    assert levels[0] != pytest.approx(levels[1], abs=0.1)
