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


@dataclass(frozen=True)
class _Met:
    """The walls that mirror the ray by an image and where, nearest the transmitter first."""

    image: int
    walls: tuple[int, ...]
    places: tuple[Place, ...]


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
    floor_db = float(floors_db(scene.losses(transmitter, where), np.array([0]), storey != own)[0])
    straight = ((transmitter.x_m, transmitter.y_m, transmitter.z_m), end)
    found = [Bounced((), (), direct * _echo_share(scene, transmitter, straight, band))]
    for image in range(len(images.mirror)):
        met = _meetings(scene, transmitter, images, image, end)
        if met is not None:
            gain = _gain(scene, transmitter, images, met, end, band, floor_db)
            found.append(Bounced(met.walls, met.places, counts * gain))
    return tuple(sorted((ray for ray in found if ray.gain > 0), key=lambda ray: -ray.gain))


def _meetings(scene: Scene, transmitter: Transmitter, images: Images, image: int, end: Place) -> _Met | None:
    """Return where the ray by an image to a place meets its mirrors; None when there is none."""
    walls: list[int] = []
    places: list[Place] = []
    to, here = end, image
    while here >= 0:
        wall = int(images.mirror[here])
        seen_at = images.places_m[here]
        place = _crossing(scene, wall, (float(seen_at[0]), float(seen_at[1]), transmitter.z_m), to)
        if place is None or math.isinf(_lost_db(scene, images, here, place)):
            return None
        walls.insert(0, wall)
        places.insert(0, place)
        to, here = place, int(images.parent[here])
    return _Met(image, tuple(walls), tuple(places))


def _lost_db(scene: Scene, images: Images, image: int, place: Place) -> float:
    """Return the least that rays by an image have lost in walls where they meet its mirror at a place."""
    wall = int(images.mirror[image])
    return float(images.lost_db[image, piece_of(scene.ends_m, wall, place[0], place[1])])


def _is_left(scene: Scene, images: Images, met: _Met, walls_db: list[float], most_db: float) -> bool:
    """Say whether walls leave anything of a ray, of whose legs each loses `walls_db` at 2.4 GHz.

    What lies beyond a mirror may cost no more than is left after the least that is lost before it.
    """
    lost_db, here = 0.0, met.image
    for place, leg_db in zip(reversed(met.places), reversed(walls_db[1:]), strict=True):
        lost_db += leg_db
        if lost_db > most_db - _lost_db(scene, images, here, place):
            return False
        here = int(images.parent[here])
    return lost_db + walls_db[0] <= most_db


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
    images: Images,
    met: _Met,
    end: Place,
    band: int,
    floor_db: float,
) -> float:
    corners = ((transmitter.x_m, transmitter.y_m, transmitter.z_m), *met.places, end)
    legs = list(pairwise(corners))
    far_db = 20 * math.log10(max(sum(math.dist(start, stop) for start, stop in legs), 1.0))
    thrown = [_thrown_back(scene, met.walls, legs, each) for each in range(3)]
    if not max(thrown):
        return 0.0
    free_db = far_db + float(scene.one_metre_db[0]) - scene.offset_db
    most_db = 10 * math.log10(max(thrown)) - floor_db - free_db
    if not _is_left(scene, images, met, _legs_db(scene, met.walls, legs, 0), most_db):
        return 0.0
    way = tuple(b - a for a, b in zip(*legs[0], strict=True))
    leaves_db = pattern_of(scene, transmitter.pattern).relative_db(
        (way[0], way[1], way[2]), transmitter.axis, transmitter.up
    )
    lost_db = far_db + float(scene.one_metre_db[band]) - scene.offset_db
    lost_db += sum(_legs_db(scene, met.walls, legs, band)) + sum(_slabs_db(scene, *leg, band) for leg in legs)
    lost_db += sum(loss for leg in legs for _, loss in areas_crossed(scene, *leg, band))
    share = thrown[band] * (1 + _echo_share(scene, transmitter, corners, band))
    return share * 10 ** ((leaves_db - lost_db) / 10)


def _thrown_back(scene: Scene, walls: tuple[int, ...], legs: list[tuple[Place, Place]], band: int) -> float:
    """Return the share of a ray that its mirrors throw back."""
    return math.prod(
        scene.back_share(int(scene.wall_rows[wall]), cosine_of(scene, wall, *leg), band)
        for wall, leg in zip(walls, legs[1:], strict=True)
    )


def _slabs_db(scene: Scene, start: Place, end: Place, band: int) -> float:
    """Return what the floors on a straight way cost it."""
    rise, total = end[2] - start[2], 0.0
    for row, slab in zip(scene.slab_rows.tolist(), scene.building.slabs, strict=True):
        share = (slab.z_m - start[2]) / rise if rise else 0.0
        at = (start[0] + share * (end[0] - start[0]), start[1] + share * (end[1] - start[1]))
        if 0 < share < 1 and slab.area.covers(shapely.Point(at)):
            total += scene.crossing_db(row, abs(rise) / math.dist(start, end), band)
    return total


def _legs_db(scene: Scene, walls: tuple[int, ...], legs: list[tuple[Place, Place]], band: int) -> list[float]:
    """Return what the walls between its mirrors cost each leg of a ray."""
    found, every = [], np.arange(len(scene.ends_m))
    for number, (start, stop) in enumerate(legs):
        crossed = ~np.isnan(_shares(scene, every, start, stop))
        crossed[list(walls[max(0, number - 1) : number + 1])] = False
        found.append(
            sum(
                scene.crossing_db(int(scene.wall_rows[wall]), cosine_of(scene, int(wall), start, stop), band)
                for wall in np.flatnonzero(crossed)
            )
        )
    return found


def _echo_share(scene: Scene, transmitter: Transmitter, corners: tuple[Place, ...], band: int) -> float:
    """Return what floor and ceiling throw back of a ray, as a share of it.

    To another storey an echo crosses the floor between elsewhere and more steeply than its ray.
    """
    end = corners[-1]
    own, storey = own_storey(scene, transmitter), storey_of(scene, end[2])
    roofed = is_roofed(scene, own, transmitter.x_m, transmitter.y_m) and is_roofed(scene, storey, *end[:2])
    if not roofed:
        return 0.0
    plan = shapely.LineString([corner[:2] for corner in corners])
    heights, rows = levels_m(scene, transmitter, storey)
    low_m, high_m = sorted((transmitter.z_m, end[2]))
    straight, found = max(math.hypot(plan.length, high_m - low_m), 1.0), 0.0
    between_db = _between_db(scene, plan, transmitter.z_m, end[2], heights, band)
    echoes = ((2 * heights[0] - low_m, high_m), (low_m, 2 * heights[1] - high_m))
    for row, (low, high) in zip(rows.tolist(), echoes, strict=True):
        way = max(math.hypot(plan.length, high - low), 1e-6)
        from_m, to_m = (low, high) if transmitter.z_m <= end[2] else (high, low)
        more_db = _between_db(scene, plan, from_m, to_m, heights, band) - between_db
        share = scene.back_share(row, abs(high - low) / way, band) * (straight / max(way, 1.0)) ** 2
        found += share * 10 ** (-more_db / 10)
    return found


def _between_db(
    scene: Scene, plan: shapely.LineString, from_m: float, to_m: float, heights: Floats, band: int
) -> float:
    """Return what the floors between two levels cost a ray that rises evenly along its way in plan."""
    rise, total = to_m - from_m, 0.0
    for row, slab in zip(scene.slab_rows.tolist(), scene.building.slabs, strict=True):
        share = (slab.z_m - from_m) / rise if rise else 0.0
        is_between = heights[0] + 1e-6 < slab.z_m < heights[1] - 1e-6 and 0 < share < 1
        if is_between and slab.area.covers(plan.interpolate(share, normalized=True)):
            total += scene.crossing_db(row, abs(rise) / math.hypot(plan.length, rise), band)
    return total


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
