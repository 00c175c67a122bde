"""Mirrored rays one by one, compiled: the walls that mirror them, what is thrown back, how far they reach."""

import math

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from heathrise.core.radio.imaging import LOOSE, MEETINGS, PIECES, add_walls, meets, piece_of
from heathrise.core.radio.kernel import at_cosine

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
# A place on a wall is looked at so much of the way before it.
ON_WALL = 1e-6


@njit(cache=True, nogil=True)
def meetings_before(parent: Ints, m: int) -> int:  # pragma: no cover
    """Return how many mirrors the rays by image m meet before its own."""
    count = 0
    while parent[m] >= 0:
        m, count = parent[m], count + 1
    return count


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def thrown_back(
    table: Floats, back: Floats, i: int, dx: float, dy: float, dz: float
) -> tuple[float, float, float]:  # pragma: no cover
    """Return the share of power wall i throws back of a ray, by band."""
    cosine = abs(table[i, 7] * dx + table[i, 8] * dy) / math.sqrt(dx * dx + dy * dy + dz * dz)
    return at_cosine(back, int(table[i, 6]), cosine)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def mirror_met(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    m: int,
    ends_m: Floats,
    heights_m: Floats,
    lost_db: Floats,
    source_z_m: float,
    x: float,
    y: float,
    z: float,
    place: Floats,
    shares: Floats,
) -> bool:  # pragma: no cover
    """Say whether there is a ray by image m to a place.

    `place` (MEETINGS, 3) becomes where it meets its mirrors, the one nearest the source first; `shares` (MEETINGS,)
    at which share of the straight way from the image each is met. `lost_db` (images, PIECES) is infinite for
    the pieces of its mirror an image's rays do not leave by.
    """
    here = m
    while here >= 0:
        i = mirror[here]
        t = meets(ends_m, i, images_m[here, 0], images_m[here, 1], x, y)
        if t < 0:
            return False
        px = images_m[here, 0] + t * (x - images_m[here, 0])
        py = images_m[here, 1] + t * (y - images_m[here, 1])
        pz = source_z_m + t * (z - source_z_m)
        if (
            pz < heights_m[i, 0]
            or pz >= heights_m[i, 1]
            or math.isinf(lost_db[here, piece_of(ends_m, i, px, py)])
        ):
            return False
        row = meetings_before(parent, here)
        place[row, 0], place[row, 1], place[row, 2], shares[row] = px, py, pz, t
        x, y, z, here = px, py, pz, parent[here]
    return True


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def share_thrown_back(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    m: int,
    table: Floats,
    back: Floats,
    x: float,
    y: float,
    z: float,
    place: Floats,
) -> tuple[float, float, float]:  # pragma: no cover
    """Return the share of power the mirrors of a ray that was met throw back, by band."""
    low, mid, high, here = 1.0, 1.0, 1.0, m
    while here >= 0:
        row = meetings_before(parent, here)
        px, py, pz = place[row, 0], place[row, 1], place[row, 2]
        b0, b1, b2 = thrown_back(table, back, mirror[here], x - px, y - py, z - pz)
        low, mid, high = low * b0, mid * b1, high * b2
        x, y, z, here = px, py, pz, parent[here]
    return low, mid, high


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def walls_of_ray(  # noqa: PLR0913, PLR0917
    total: Floats,
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    by_angle_db: Floats,
    listed: Ints,
    way_m: Floats,
    m: int,
    ends_m: Floats,
    source_m: Floats,
    x: float,
    y: float,
    z: float,
    place: Floats,
    shares: Floats,
    lost_db: Floats,
    most_db: float,
) -> bool:  # pragma: no cover
    """Add to `total` (3,) what the walls on the ray by image m cost; False when it is more than `most_db`.

    What lies beyond a mirror may cost no more than is left of that after `lost_db` (images, PIECES), the least
    its rays have lost before it.

    Walls are listed in two spans a piece of each mirror: walls before it (for images of the source), then,
    after all pieces, walls beyond it.
    """
    here, last = m, -1
    while here >= 0:
        row = meetings_before(parent, here)
        piece = piece_of(ends_m, mirror[here], place[row, 0], place[row, 1])
        at, left_db = (2 * here + 1) * PIECES + piece, most_db - lost_db[here, piece]
        if left_db < 0.0 or not add_walls(
            total, table, by_angle_db, listed, way_m, offsets[at], offsets[at + 1],
            images_m[here, 0], images_m[here, 1], source_m[2], x, y, z, shares[row], last, left_db,
        ):  # fmt: skip
            return False
        x, y, z, last, here = place[row, 0], place[row, 1], place[row, 2], mirror[here], parent[here]
    first = m
    while parent[first] >= 0:
        first = parent[first]
    at = 2 * first * PIECES + piece_of(ends_m, mirror[first], place[0, 0], place[0, 1])
    return add_walls(
        total, table, by_angle_db, listed, way_m, offsets[at], offsets[at + 1],
        source_m[0], source_m[1], source_m[2], x, y, z, 0.0, last, most_db,
    )  # fmt: skip


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def places_along(
    ends_m: Floats, heights_m: Floats, back: Floats, low_m: float, high_m: float
) -> tuple[Ints, Floats]:  # pragma: no cover
    """Return (offsets (walls + 1,), places (n, 3)) at which walls are looked at: the middle of steps along each.

    `back` (walls,) is what each throws back straight on, at 5 GHz. None along a wall that throws nothing
    back, or that rays between two heights do not reach.
    """
    walls = ends_m.shape[0]
    offsets, places = np.zeros(walls + 1, np.int64), np.empty((12 * walls, 3))
    for k in range(walls):
        offsets[k + 1] = offsets[k]
        z = max(low_m, min(high_m, 0.5 * (heights_m[k, 0] + heights_m[k, 1])))
        if back[k] <= 0.0 or z < heights_m[k, 0] or z >= heights_m[k, 1]:
            continue
        length = math.hypot(ends_m[k, 2] - ends_m[k, 0], ends_m[k, 3] - ends_m[k, 1])
        steps = min(12, max(2, int(length)))
        for step in range(steps):
            share, at = (step + 0.5) / steps, offsets[k + 1]
            places[at, 0] = ends_m[k, 0] + share * (ends_m[k, 2] - ends_m[k, 0])
            places[at, 1] = ends_m[k, 1] + share * (ends_m[k, 3] - ends_m[k, 1])
            places[at, 2] = z
            offsets[k + 1] += 1
    return offsets, places[: offsets[walls]]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def _reach(  # noqa: PLR0913, PLR0917
    found: Floats,
    m: int,
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
    lost_db: Floats,
    spans: Ints,
    places_m: Floats,
    source_m: Floats,
    one_metre_db: Floats,
    back: Floats,
    floor_db: float,
) -> None:  # pragma: no cover
    """Fill one image's row of `reach_of`.

    A function of its own: inside a parallel loop every call would count references to its arrays.
    """
    total, place, shares = np.zeros(3), np.zeros((MEETINGS, 3)), np.zeros(MEETINGS)
    for k in range(ends_m.shape[0]):
        if mirror[m] == k:
            continue
        for p in range(spans[k], spans[k + 1]):
            # Just before the wall: it is not in its own way.
            x = places_m[p, 0] + ON_WALL * (images_m[m, 0] - places_m[p, 0])
            y = places_m[p, 1] + ON_WALL * (images_m[m, 1] - places_m[p, 1])
            z = places_m[p, 2]
            dx, dy, dz = x - images_m[m, 0], y - images_m[m, 1], z - source_m[2]
            free_db = -one_metre_db[1] - 10.0 * math.log10(max(dx * dx + dy * dy + dz * dz, 1.0))
            if free_db < max(floor_db, found[k]) or not mirror_met(
                mirror, parent, images_m, m, ends_m, heights_m, lost_db, source_m[2], x, y, z, place, shares
            ):  # fmt: skip
                continue
            _, thrown, _ = share_thrown_back(mirror, parent, m, table, back, x, y, z, place)
            strongest = free_db + 10.0 * math.log10(thrown)
            total[:] = 0.0
            if strongest > max(floor_db, found[k]) and walls_of_ray(
                total, mirror, parent, images_m, offsets, table, by_angle_db, listed, way_m, m, ends_m, source_m, x, y, z,
                place, shares, lost_db, strongest - max(floor_db, found[k]),
            ):  # fmt: skip
                found[k] = max(found[k], strongest - total[1])


@njit(parallel=True, cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def reach_of(  # noqa: PLR0913, PLR0917
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
    lost_db: Floats,
    spans: Ints,
    places_m: Floats,
    source_m: Floats,
    one_metre_db: Floats,
    back: Floats,
    floor_db: float,
    first: int,
    last: int,
) -> Floats:  # pragma: no cover
    """Return the most path gain with which the rays of images from first to last meet each wall they could be mirrored by.

    Shape (last - first, walls), at 5 GHz, seen at the places along each wall (`places_along`); -300 where it is
    under the floor.
    """
    found = np.full((last - first, ends_m.shape[0]), -300.0)
    for number in prange(last - first):
        # Signed: the loop counts without sign, and an image looks for its parent at -1.
        m = int(np.int64(number)) + first
        _reach(
            found[m - first], m, mirror, parent, images_m, offsets, table, by_angle_db, listed, way_m, ends_m, heights_m,
            lost_db, spans, places_m, source_m, one_metre_db, back, floor_db,
        )  # fmt: skip
    return found
