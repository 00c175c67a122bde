"""What mirrored rays bring to places, compiled: images lit tile by tile, and the gain of each place."""

import math

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from heathrise.core.radio.echoing import by_floor_and_ceiling, slabs_of_ray
from heathrise.core.radio.imaging import LOOSE, MEETINGS, PIECES, add_walls, seen_along
from heathrise.core.radio.kernel import relative_gain_db, share_inside
from heathrise.core.radio.reflecting import meetings_before, mirror_met, share_thrown_back, walls_of_ray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


@njit(parallel=True, cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def lit_of(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    by_angle_db: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    source_m: Floats,
    low_m: float,
    high_m: float,
    one_metre_db: Floats,
    floor_db: float,
    known_db: Floats,
) -> Floats:  # pragma: no cover
    """Return the least each image's rays have lost in walls at each piece of its mirror, (images, PIECES), at 2.4 GHz.

    Infinite for pieces they do not reach over the floor, at 5 GHz. `known_db` is the same of the first of them.

    Seen at the middle and near both ends of a piece. An image comes after the one it was made from.
    """
    count = mirror.shape[0]
    known = known_db.shape[0]
    lost_db = np.full((count, PIECES), np.inf)
    lost_db[:known] = known_db
    for before in range(MEETINGS):
        for number in prange((count - known) * PIECES):
            m, piece = known + int(np.int64(number // PIECES)), int(np.int64(number % PIECES))
            if meetings_before(parent, m) != before:
                continue
            i, total, place, shares = mirror[m], np.zeros(3), np.zeros((MEETINGS, 3)), np.zeros(MEETINGS)
            z = max(low_m, min(high_m, 0.5 * (heights_m[i, 0] + heights_m[i, 1])))
            for part in (0.1, 0.5, 0.9):
                along = (piece + part) / PIECES
                x = ends_m[i, 0] + along * (ends_m[i, 2] - ends_m[i, 0])
                y = ends_m[i, 1] + along * (ends_m[i, 3] - ends_m[i, 1])
                dx, dy, dz = x - images_m[m, 0], y - images_m[m, 1], z - source_m[2]
                far_db = 10.0 * math.log10(max(dx * dx + dy * dy + dz * dz, 1.0))
                most_db = -floor_db - one_metre_db[1] - far_db
                total[:] = 0.0
                if before == 0:
                    at = 2 * m * PIECES + piece
                    add_walls(
                        total, table, by_angle_db, listed, way_m, offsets[at], offsets[at + 1],
                        source_m[0], source_m[1], source_m[2], x, y, z, 0.0, i, most_db,
                    )  # fmt: skip
                elif not mirror_met(
                    mirror, parent, images_m, parent[m], ends_m, heights_m, lost_db, source_m[2], x, y, z,
                    place, shares,
                ) or not walls_of_ray(
                    total, mirror, parent, images_m, offsets, table, by_angle_db, listed, way_m, parent[m], ends_m,
                    source_m, x, y, z, place, shares, lost_db, most_db,
                ):  # fmt: skip
                    continue
                if total[1] <= most_db:
                    lost_db[m, piece] = min(lost_db[m, piece], total[0])
    return lost_db


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def beams_of(mirror: Ints, ends_m: Floats, lost_db: Floats) -> Floats:  # pragma: no cover
    """Return the ends of the lit part of each image's mirror, (images, 4); NaN where no piece is lit."""
    beams_m = np.full((mirror.shape[0], 4), math.nan)
    for m in range(mirror.shape[0]):
        pieces_lit = np.flatnonzero(np.isfinite(lost_db[m]))
        if len(pieces_lit) == 0:
            continue
        i = mirror[m]
        for end, share in enumerate((pieces_lit[0] / PIECES, (pieces_lit[-1] + 1) / PIECES)):
            for axis in range(2):
                beams_m[m, 2 * end + axis] = ends_m[i, axis] + share * (ends_m[i, 2 + axis] - ends_m[i, axis])
    return beams_m


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _box(points_m: Floats, first: int, last: int) -> Floats:  # pragma: no cover
    """Return the box round some points as x0 y0 x1 y1."""
    box = np.array([points_m[first, 0], points_m[first, 1], points_m[first, 0], points_m[first, 1]])
    for p in range(first, last):
        box[0], box[1] = min(box[0], points_m[p, 0]), min(box[1], points_m[p, 1])
        box[2], box[3] = max(box[2], points_m[p, 0]), max(box[3], points_m[p, 1])
    return box


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _shines_past(beam_m: Floats, image_m: Floats, box: Floats) -> bool:  # pragma: no cover
    """Say whether an image's rays by the lit part of its mirror all miss a box: it lies to one side of
    them, or before the mirror; or no part is lit.
    """
    if math.isnan(beam_m[0]):
        return True
    ax, ay = beam_m[0] - image_m[0], beam_m[1] - image_m[1]
    bx, by = beam_m[2] - image_m[0], beam_m[3] - image_m[1]
    if ax * by - ay * bx < 0:
        ax, ay, bx, by = bx, by, ax, ay
    right, left, before = True, True, True
    for corner in range(4):
        cx, cy = box[2 * (corner // 2)] - image_m[0], box[1 + 2 * (corner % 2)] - image_m[1]
        right = right and ax * cy - ay * cx < 0
        left = left and bx * cy - by * cx > 0
        before = before and (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) > 0
    return right or left or before


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _lost_towards(
    ends_m: Floats, i: int, image_m: Floats, lost_db: Floats, box: Floats
) -> float:  # pragma: no cover
    """Return the least that rays by an image to a box have lost at its mirror, wall i: in the pieces the box is seen by."""
    low, high = math.inf, -math.inf
    for corner in range(4):
        x, y = box[2 * (corner // 2)], box[1 + 2 * (corner % 2)]
        along = seen_along(ends_m, i, image_m[0], image_m[1], x, y)
        if math.isnan(along):
            low, high = 0.0, 1.0
            break
        low, high = min(low, along - 1e-6), max(high, along + 1e-6)
    least = math.inf
    if high >= 0.0 and low <= 1.0:
        first, last = int(max(low, 0.0) * PIECES), int(min(high, 1.0) * PIECES)
        for piece in range(min(first, PIECES - 1), min(last, PIECES - 1) + 1):
            least = min(least, lost_db[piece])
    return least


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _shadow_db(  # noqa: PLR0913, PLR0917
    table: Floats,
    listed: Ints,
    way_m: Floats,
    offsets: Ints,
    m: int,
    wall: int,
    ends_m: Floats,
    image_m: Floats,
    box: Floats,
    low_m: float,
    high_m: float,
) -> float:  # pragma: no cover
    """Return what all rays by an image to a box lose at 2.4 GHz, at the least, in walls beyond the mirror.

    The places behind a wall, seen from the image, are a convex piece of the plan: a wall in the way of
    the box's four corners is in the way of all of it.
    """
    along = seen_along(ends_m, wall, image_m[0], image_m[1], 0.5 * (box[0] + box[2]), 0.5 * (box[1] + box[3]))
    piece = PIECES // 2 if math.isnan(along) else min(PIECES - 1, max(0, int(along * PIECES)))
    at = (2 * m + 1) * PIECES + piece
    ux, uy = ends_m[wall, 2] - ends_m[wall, 0], ends_m[wall, 3] - ends_m[wall, 1]
    side = ux * (image_m[1] - ends_m[wall, 1]) - uy * (image_m[0] - ends_m[wall, 0])
    total = 0.0
    for n in range(np.uint64(offsets[at]), np.uint64(offsets[at + 1])):
        k = listed[n]
        if table[k, 4] > low_m or table[k, 5] <= high_m:
            continue
        beyond = True
        for end in range(2):
            px, py = way_m[n, 2 * end] - ends_m[wall, 0], way_m[n, 2 * end + 1] - ends_m[wall, 1]
            beyond = beyond and side * (ux * py - uy * px) <= 1e-9
        ax, ay = way_m[n, 0] - image_m[0], way_m[n, 1] - image_m[1]
        bx, by = way_m[n, 2] - image_m[0], way_m[n, 3] - image_m[1]
        if ax * by - ay * bx < 0:
            ax, ay, bx, by = bx, by, ax, ay
        for corner in range(4):
            if not beyond:
                break
            cx, cy = box[2 * (corner // 2)] - image_m[0], box[1 + 2 * (corner % 2)] - image_m[1]
            behind = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) < -1e-9
            beyond = behind and ax * cy - ay * cx > 1e-9 and cx * by - cy * bx > 1e-9
        if beyond:
            total += table[k, 9]
    return total


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _nearest_sq(image_m: Floats, box: Floats) -> float:  # pragma: no cover
    """Return the square of the least distance in plan from an image to a box. [m2]"""
    dx = max(box[0] - image_m[0], 0.0, image_m[0] - box[2])
    dy = max(box[1] - image_m[1], 0.0, image_m[1] - box[3])
    return float(dx * dx + dy * dy)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _fill(  # noqa: PLR0913, PLR0917
    every: Floats,
    last_met: Floats,
    first: int,
    last: int,
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    by_angle_db: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    beams_m: Floats,
    is_last: Bools,
    lost_db: Floats,
    back: Floats,
    source_m: Floats,
    level_m: Floats,
    level_rows: Ints,
    through: bool,
    roofed: Bools,
    points_m: Floats,
    one_metre_db: Floats,
    floors_db: Floats,
    axis: Floats,
    up: Floats,
    by_cosine: Floats,
    azimuth_db: Floats,
    elevation_db: Floats,
    area_edges_m: Floats,
    area_offsets: Ints,
    area_heights_m: Floats,
    area_losses_db_m: Floats,
    slab_z_m: Floats,
    slab_rows: Ints,
    slab_offsets: Ints,
    slab_edges_m: Floats,
) -> None:  # pragma: no cover
    """Add to `every` and `last_met` what the images bring to the points from first to last.

    A function of its own: inside a parallel loop every call would count references to its arrays.
    """
    total, thrown = np.zeros(3), np.zeros(3)
    place, shares = np.zeros((MEETINGS, 3)), np.zeros(MEETINGS)
    box = _box(points_m, first, last)
    low_m, high_m, widest_db = source_m[2], source_m[2], -1e9
    for p in range(first, last):
        low_m, high_m = min(low_m, points_m[p, 2]), max(high_m, points_m[p, 2])
        widest_db = max(widest_db, -floors_db[p] - one_metre_db[0])
    for m in range(mirror.shape[0]):
        if _shines_past(beams_m[m], images_m[m], box):
            continue
        # What no ray to the tile can be left with is not looked for at each of its places.
        left_db = widest_db - 10.0 * math.log10(max(_nearest_sq(images_m[m], box), 1.0)) + 1e-6
        left_db -= _lost_towards(ends_m, mirror[m], images_m[m], lost_db[m], box)
        if left_db < 0.0 or left_db < _shadow_db(
            table, listed, way_m, offsets, m, mirror[m], ends_m, images_m[m], box, low_m, high_m
        ):  # fmt: skip
            continue
        legs = meetings_before(parent, m) + 2
        for p in range(first, last):
            x, y, z = points_m[p, 0], points_m[p, 1], points_m[p, 2]
            if not mirror_met(
                mirror, parent, images_m, m, ends_m, heights_m, lost_db, source_m[2], x, y, z, place, shares
            ):  # fmt: skip
                continue
            dx, dy, dz = x - images_m[m, 0], y - images_m[m, 1], z - source_m[2]
            far_db = 10.0 * math.log10(max(dx * dx + dy * dy + dz * dz, 1.0))
            thrown[0], thrown[1], thrown[2] = share_thrown_back(
                mirror, parent, m, table, back, x, y, z, place
            )
            most_db = 10.0 * math.log10(thrown.max()) - floors_db[p] - one_metre_db[0] - far_db
            total[:] = 0.0
            if not walls_of_ray(
                total, mirror, parent, images_m, offsets, table, by_angle_db, listed, way_m, m, ends_m, source_m, x, y, z,
                place, shares, lost_db, most_db,
            ):  # fmt: skip
                continue
            if roofed[p]:
                l0, l1, l2 = by_floor_and_ceiling(
                    legs, place, shares, source_m, x, y, z, dx * dx + dy * dy, level_m, level_rows, through, back,
                    by_angle_db, slab_z_m, slab_rows, slab_offsets, slab_edges_m,
                )  # fmt: skip
                thrown[0], thrown[1], thrown[2] = (
                    thrown[0] * (1.0 + l0), thrown[1] * (1.0 + l1), thrown[2] * (1.0 + l2)
                )  # fmt: skip
            ox, oy, oz = place[0, 0] - source_m[0], place[0, 1] - source_m[1], place[0, 2] - source_m[2]
            leaves_db = relative_gain_db(ox, oy, oz, axis, up, by_cosine, azimuth_db, elevation_db)
            _add_areas(
                total, legs, place, source_m, x, y, z,
                area_edges_m, area_offsets, area_heights_m, area_losses_db_m,
            )  # fmt: skip
            s0, s1, s2 = slabs_of_ray(
                legs, place, shares, source_m, x, y, source_m[2], z,
                by_angle_db, slab_z_m, slab_rows, slab_offsets, slab_edges_m, -math.inf, math.inf,
            )  # fmt: skip
            total[0], total[1], total[2] = total[0] + s0, total[1] + s1, total[2] + s2
            for band in range(3):
                db = leaves_db - one_metre_db[band] - far_db - total[band]
                gain = thrown[band] * 10.0 ** (db / 10.0)
                if is_last[m]:
                    last_met[band, p] += gain
                every[band, p] += gain


@njit(parallel=True, cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def mirrored_gain(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    by_angle_db: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    beams_m: Floats,
    is_last: Bools,
    lost_db: Floats,
    back: Floats,
    source_m: Floats,
    level_m: Floats,
    level_rows: Ints,
    through: bool,
    roofed: Bools,
    points_m: Floats,
    tiles: Ints,
    one_metre_db: Floats,
    floors_db: Floats,
    axis: Floats,
    up: Floats,
    by_cosine: Floats,
    azimuth_db: Floats,
    elevation_db: Floats,
    area_edges_m: Floats,
    area_offsets: Ints,
    area_heights_m: Floats,
    area_losses_db_m: Floats,
    slab_z_m: Floats,
    slab_rows: Ints,
    slab_offsets: Ints,
    slab_edges_m: Floats,
) -> tuple[Floats, Floats]:  # pragma: no cover
    """Return the path gain of all mirrored rays to points (n, 3), as ratios of power (3, n) by band.

    The first is the sum over rays by up to MEETINGS mirrors, the second over those by the images that are `is_last`. Antenna
    under its peak included, and what floor and ceiling throw back of each ray to a place that is `roofed`; a
    mirror throws back by the angle it is met at, `back` (rows, cosines, 3). Points from tiles[k] to
    tiles[k + 1] lie near each other: an image that shines past all of them is left out for all of them
    at once. So is a ray that free space and walls leave under `floors_db` (n,) at 2.4 GHz.
    """
    n = points_m.shape[0]
    every, last_met = np.zeros((3, n)), np.zeros((3, n))
    # Image by image over one tile at a time: an image's walls stay in the nearest cache.
    for tile in prange(len(tiles) - 1):
        _fill(
            every, last_met, tiles[tile], tiles[tile + 1],
            mirror, parent, images_m, offsets, table, by_angle_db, listed, way_m, ends_m, heights_m, beams_m, is_last,
            lost_db, back, source_m, level_m,
            level_rows, through, roofed, points_m,
            one_metre_db, floors_db, axis, up, by_cosine, azimuth_db, elevation_db,
            area_edges_m, area_offsets, area_heights_m, area_losses_db_m,
            slab_z_m, slab_rows, slab_offsets, slab_edges_m,
        )  # fmt: skip
    return every, last_met


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _add_areas(  # noqa: PLR0913, PLR0917
    total: Floats,
    legs: int,
    place: Floats,
    source_m: Floats,
    x: float,
    y: float,
    z: float,
    edges_m: Floats,
    offsets: Ints,
    heights_m: Floats,
    losses_db_m: Floats,
) -> None:  # pragma: no cover
    """Add to `total` (3,) what the legs of a mirrored ray lose inside areas."""
    for k in range(heights_m.shape[0]):
        ax, ay, az = source_m[0], source_m[1], source_m[2]
        for leg in range(legs):
            if leg == legs - 1:
                bx, by, bz = x, y, z
            else:
                bx, by, bz = place[leg, 0], place[leg, 1], place[leg, 2]
            dx, dy, dz = bx - ax, by - ay, bz - az
            share = share_inside(
                edges_m, offsets[k], offsets[k + 1], heights_m[k, 0], heights_m[k, 1], ax, ay, az, dx, dy, dz
            )
            if share > 0.0:
                length = share * math.sqrt(dx * dx + dy * dy + dz * dz)
                for band in range(3):
                    total[band] += length * losses_db_m[k, band]
            ax, ay, az = bx, by, bz
