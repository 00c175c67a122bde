"""The mirrored rays to one place in plain steps: what each meets, and what it brings.

Written apart from the kernel (`imaging`), so that each checks the other in the tests.
"""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.radio.imaging import ASIDE_M, NEAR, piece_of
from heathrise.core.radio.mirrors import (
    Images,
    floors_db,
    followed_share,
    is_roofed,
    kept_images,
    levels_m,
    own_storey,
    storey_of,
)
from heathrise.core.radio.scene import Scene, Transmitter, pattern_of

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Place = tuple[float, float, float]


@dataclass(frozen=True)
class Bounced:
    """One mirrored ray: the walls that mirror it and where, in order, and its path gain as a ratio.

    What floor and ceiling throw back of it is counted in; a ray without walls has them alone.
    """

    walls: tuple[int, ...]
    places: tuple[Place, ...]
    gain: float

    @property
    def gain_db(self) -> float:
        """Path gain, the antenna under its peak included. [dB]"""
        return 10 * math.log10(self.gain)


def bounced_rays(
    scene: Scene, transmitter: Transmitter, end: Place, band_index: int, direct: float
) -> tuple[Bounced, ...]:
    """Return the mirrored rays to a place of a storey that is followed, the strongest first.

    `direct` is the straight ray's path gain as a ratio of power: floor and ceiling throw it back too.
    """
    own, storey, band = own_storey(scene, transmitter), storey_of(scene, end[2]), band_index
    images = kept_images(scene, transmitter, storey)
    counts = followed_share(scene, own, transmitter.x_m, transmitter.y_m) * followed_share(
        scene, storey, *end[:2]
    )
    end = (end[0] + ASIDE_M[0], end[1] + ASIDE_M[1], end[2])
    where = np.array([end])
    floor_db = float(floors_db(scene.losses(transmitter, where), np.array([0]))[0])
    plan_m = math.dist(end[:2], (transmitter.x_m, transmitter.y_m))
    found = [Bounced((), (), direct * _level_share(scene, transmitter, plan_m, end, band))]
    for image in range(len(images.mirror)):
        met = _meetings(scene, transmitter, images, image, end)
        if met is not None:
            gain = _gain(scene, transmitter, *met, end, band, floor_db, float(images.lost_db[image]))
            found.append(Bounced(*met, counts * gain))
    return tuple(sorted((ray for ray in found if ray.gain > 0), key=lambda ray: -ray.gain))


def _meetings(
    scene: Scene, transmitter: Transmitter, images: Images, image: int, end: Place
) -> tuple[tuple[int, ...], tuple[Place, ...]] | None:
    """Return the walls that mirror the ray by an image and where, nearest the transmitter first."""
    walls: list[int] = []
    places: list[Place] = []
    to, here = end, image
    while here >= 0:
        wall = int(images.mirror[here])
        seen_at = images.places_m[here]
        place = _crossing(scene, wall, (float(seen_at[0]), float(seen_at[1]), transmitter.z_m), to)
        if place is None or not images.lit[here, piece_of(scene.ends_m, wall, place[0], place[1])]:
            return None
        walls.insert(0, wall)
        places.insert(0, place)
        to, here = place, int(images.parent[here])
    return tuple(walls), tuple(places)


def _crossing(scene: Scene, wall: int, start: Place, end: Place) -> Place | None:
    """Return where a straight way meets a wall within its heights, None when it does not."""
    shares = _shares(scene, np.array([wall]), start, end)
    if np.isnan(shares[0]):
        return None
    x, y, z = (float(a + shares[0] * (b - a)) for a, b in zip(start, end, strict=True))
    return x, y, z


def _shares(scene: Scene, walls: Ints, start: Place, end: Place) -> Floats:
    """Return at which share of a straight way it crosses each of some walls, NaN where it does not.

    Cramer's rule on start + s way = a + u along, with 0 < s < 1, 0 <= u <= 1 and the height there.
    """
    a, along = scene.ends_m[walls, :2], scene.ends_m[walls, 2:] - scene.ends_m[walls, :2]
    way, to_a = np.subtract(end, start), a - np.array(start[:2])
    with np.errstate(divide="ignore", invalid="ignore"):
        turn = way[0] * along[:, 1] - way[1] * along[:, 0]
        s = (to_a[:, 0] * along[:, 1] - to_a[:, 1] * along[:, 0]) / turn
        u = (to_a[:, 0] * way[1] - to_a[:, 1] * way[0]) / turn
    z = start[2] + s * way[2]
    met = (s > NEAR) & (s < 1 - NEAR) & (u >= 0) & (u <= 1)
    within = (z >= scene.heights_m[walls, 0]) & (z < scene.heights_m[walls, 1])
    return np.where(met & within, s, np.nan)


def _gain(
    scene: Scene,
    transmitter: Transmitter,
    walls: tuple[int, ...],
    places: tuple[Place, ...],
    end: Place,
    band: int,
    floor_db: float,
    lost_db: float,
) -> float:
    corners = ((transmitter.x_m, transmitter.y_m, transmitter.z_m), *places, end)
    legs = list(pairwise(corners))
    length = sum(math.dist(start, stop) for start, stop in legs)
    walls_db = _walls_db(scene, walls, legs)
    far_db = 20 * math.log10(max(length, 1.0))
    most_db = -floor_db - float(scene.one_metre_db[0]) + scene.offset_db - far_db
    if max(walls_db[0], lost_db) > most_db:
        return 0.0
    areas_db = sum(loss for leg in legs for _, loss in areas_crossed(scene, *leg, band))
    share = 1 + _level_share(scene, transmitter, sum(math.dist(a[:2], b[:2]) for a, b in legs), end, band)
    for wall, (place, stop) in zip(walls, legs[1:], strict=True):
        share *= scene.back_share(int(scene.wall_rows[wall]), cosine_of(scene, wall, place, stop), band)
    way = tuple(b - a for a, b in zip(*legs[0], strict=True))
    leaves_db = pattern_of(scene, transmitter.pattern).relative_db(
        (way[0], way[1], way[2]), transmitter.axis, transmitter.up
    )
    free_db = far_db + float(scene.one_metre_db[band]) - scene.offset_db
    slabs_db = sum(_slabs_db(scene, *leg, band) for leg in legs)
    return share * 10 ** ((leaves_db - free_db - float(walls_db[band]) - areas_db - slabs_db) / 10)


def _slabs_db(scene: Scene, start: Place, end: Place, band: int) -> float:
    """Return what the floors on a straight way cost it."""
    rise, total = end[2] - start[2], 0.0
    for row, slab in zip(scene.slab_rows.tolist(), scene.building.slabs, strict=True):
        share = (slab.z_m - start[2]) / rise if rise else 0.0
        at = (start[0] + share * (end[0] - start[0]), start[1] + share * (end[1] - start[1]))
        if 0 < share < 1 and slab.area.covers(shapely.Point(at)):
            total += scene.crossing_db(row, abs(rise) / math.dist(start, end), band)
    return total


def _walls_db(scene: Scene, walls: tuple[int, ...], legs: list[tuple[Place, Place]]) -> Floats:
    """Return what the walls between its mirrors cost a ray, by band, (3,)."""
    total, every = np.zeros(3), np.arange(len(scene.ends_m))
    for number, (start, stop) in enumerate(legs):
        crossed = ~np.isnan(_shares(scene, every, start, stop))
        crossed[list(walls[max(0, number - 1) : number + 1])] = False
        for wall in np.flatnonzero(crossed):
            row, cosine = int(scene.wall_rows[wall]), cosine_of(scene, int(wall), start, stop)
            total += [scene.crossing_db(row, cosine, band) for band in range(3)]
    return total


def _level_share(scene: Scene, transmitter: Transmitter, plan_m: float, end: Place, band: int) -> float:
    """Return what floor and ceiling throw back of a ray of some length in plan, as a share of it."""
    own, storey = own_storey(scene, transmitter), storey_of(scene, end[2])
    roofed = is_roofed(scene, own, transmitter.x_m, transmitter.y_m) and is_roofed(scene, storey, *end[:2])
    if not roofed:
        return 0.0
    straight, found = max(math.hypot(plan_m, end[2] - transmitter.z_m), 1.0), 0.0
    for height_m, row in zip(*levels_m(scene, transmitter, storey), strict=True):
        rise = abs(transmitter.z_m + end[2] - 2 * height_m)
        way = max(math.hypot(plan_m, rise), 1e-6)
        found += scene.back_share(int(row), rise / way, band) * (straight / max(way, 1.0)) ** 2
    return float(found)


def cosine_of(scene: Scene, wall: int, start: Place, end: Place) -> float:
    """Return the cosine between a way and the normal of a wall."""
    along = scene.ends_m[wall, 2:] - scene.ends_m[wall, :2]
    normal = np.array([-along[1], along[0], 0.0]) / np.hypot(*along)
    way = np.subtract(end, start)
    return abs(float(normal @ way)) / float(np.linalg.norm(way))


def areas_crossed(scene: Scene, start: Place, end: Place, band: int) -> list[tuple[str, float]]:
    """Return (name with length, loss) of the areas a straight way passes through. [dB]"""
    way = np.subtract(end, start)
    found = []
    for area in scene.areas:
        near, far = 0.0, 1.0
        if way[2]:
            at = sorted((z - start[2]) / way[2] for z in area.heights_m)
            near, far = max(0.0, at[0]), min(1.0, at[1])
        elif not area.heights_m[0] <= start[2] < area.heights_m[1]:
            continue
        if far <= near:
            continue
        ends = [np.add(start, share * way) for share in (near, far)]
        inside = area.outline.intersection(shapely.LineString([e[:2] for e in ends])).length
        plan = float(np.hypot(*(ends[1] - ends[0])[:2]))
        length = (far - near) * float(np.linalg.norm(way)) * (inside / plan if plan else 0.0)
        if length > 0.01:
            found.append((f"{area.name}, {length:.1f} m", length * float(area.losses_db_m[band])))
    return found
