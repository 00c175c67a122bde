"""The compiled part of mirrors: images of a source in walls, and the rays by one and two reflections.

An image is where a source seems to stand behind a wall that mirrors it. A ray by a mirror is the
straight line from the image to the receiver; it holds where it meets the mirror inside the mirror's
ends and heights. `parent` names the image an image was made from, -1 for the source itself.
"""

import math

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from heathrise.core.radio.kernel import nearest_m, relative_gain_db, share_inside

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
# A ray this near an end of itself has met the wall it starts or ends on.
_NEAR = 1e-6
# A mirror is cut into so many pieces, each with its own list of the walls in the way of its rays.
PIECES = 16
# Sums and divisions may be rounded together; not-a-number and infinity keep their meaning.
_LOOSE = {"contract", "arcp"}


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def mirrored(ends_m: Floats, i: int, x_m: float, y_m: float) -> tuple[float, float]:  # pragma: no cover
    """Return the image of a place in the line of a wall."""
    ux, uy = ends_m[i, 2] - ends_m[i, 0], ends_m[i, 3] - ends_m[i, 1]
    off = (-uy * (x_m - ends_m[i, 0]) + ux * (y_m - ends_m[i, 1])) / (ux * ux + uy * uy)
    return x_m + 2.0 * off * uy, y_m - 2.0 * off * ux


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _meets(ends_m: Floats, i: int, x0: float, y0: float, x1: float, y1: float) -> float:  # pragma: no cover
    """Return the share of the way from 0 to 1 at which it meets wall i, -1 when it misses it."""
    ax, ay, bx, by = ends_m[i, 0] - x0, ends_m[i, 1] - y0, ends_m[i, 2] - x0, ends_m[i, 3] - y0
    dx, dy = x1 - x0, y1 - y0
    side_a, side_b = dx * ay - dy * ax, dx * by - dy * bx
    if (side_a >= 0) == (side_b >= 0):
        return -1.0
    t = (ax * by - ay * bx) / (side_b - side_a)
    return t if _NEAR < t < 1.0 - _NEAR else -1.0


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def wedge(
    ends_m: Floats,
    heights_m: Floats,
    low_m: float,
    high_m: float,
    i: int,
    x_m: float,
    y_m: float,
    beyond: bool,
) -> Ints:  # pragma: no cover
    """Return the walls that rays from a place through wall i can cross, nearest first: before or beyond it.

    A wall wholly to one side of the wedge, or on the other side of wall i, is left out; a few that
    only graze it stay in and are found not to be crossed.
    """
    ax, ay, bx, by = ends_m[i, 0] - x_m, ends_m[i, 1] - y_m, ends_m[i, 2] - x_m, ends_m[i, 3] - y_m
    if ax * by - ay * bx < 0:
        ax, ay, bx, by = bx, by, ax, ay
    ux, uy = bx - ax, by - ay
    found, near_m = np.empty(ends_m.shape[0], np.int64), np.empty(ends_m.shape[0])
    count = 0
    for k in range(ends_m.shape[0]):
        if k == i or heights_m[k, 0] > high_m or heights_m[k, 1] <= low_m:
            continue
        cx, cy, ex, ey = ends_m[k, 0] - x_m, ends_m[k, 1] - y_m, ends_m[k, 2] - x_m, ends_m[k, 3] - y_m
        if ax * cy - ay * cx < 0 and ax * ey - ay * ex < 0:
            continue
        if bx * cy - by * cx > 0 and bx * ey - by * ex > 0:
            continue
        # The place lies on the left of a to b; what is beyond lies on the right.
        side_c, side_e = ux * (cy - ay) - uy * (cx - ax), ux * (ey - ay) - uy * (ex - ax)
        if beyond and side_c > -1e-9 and side_e > -1e-9:
            continue
        if not beyond and side_c < 1e-9 and side_e < 1e-9:
            continue
        found[count], near_m[count] = k, nearest_m(ends_m, k, x_m, y_m)
        count += 1
    return found[np.argsort(near_m[:count])]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def piece_of(ends_m: Floats, i: int, x: float, y: float) -> int:  # pragma: no cover
    """Return which piece of wall i a place on it belongs to."""
    ux, uy = ends_m[i, 2] - ends_m[i, 0], ends_m[i, 3] - ends_m[i, 1]
    along = ((x - ends_m[i, 0]) * ux + (y - ends_m[i, 1]) * uy) / (ux * ux + uy * uy)
    return min(PIECES - 1, max(0, int(along * PIECES)))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _seen_along(
    ends_m: Floats, i: int, x_m: float, y_m: float, x: float, y: float
) -> float:  # pragma: no cover
    """Return where along wall i, 0 to 1 between its ends, the line from a place through another meets it.

    NaN when the line runs away from the wall.
    """
    ux, uy = ends_m[i, 2] - ends_m[i, 0], ends_m[i, 3] - ends_m[i, 1]
    ax, ay, dx, dy = ends_m[i, 0] - x_m, ends_m[i, 1] - y_m, x - x_m, y - y_m
    turn = dx * uy - dy * ux
    if turn == 0.0 or (ax * uy - ay * ux) / turn <= 0.0:
        return math.nan
    return float((ax * dy - ay * dx) / turn)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def pieces(
    ends_m: Floats, listed: Ints, i: int, x_m: float, y_m: float
) -> tuple[Ints, Ints, Floats]:  # pragma: no cover
    """Return (counts (PIECES,), walls one piece after another, how near each is) of what is in the way.

    A wall stands in the way of the pieces of wall i that its ends are seen in from a place; where
    an end is not seen in the line of the wall at all it stands in the way of every piece.
    """
    spans = np.empty((len(listed), 2), np.int64)
    counts = np.zeros(PIECES, np.int64)
    for n in range(len(listed)):
        k = listed[n]
        one = _seen_along(ends_m, i, x_m, y_m, ends_m[k, 0], ends_m[k, 1])
        other = _seen_along(ends_m, i, x_m, y_m, ends_m[k, 2], ends_m[k, 3])
        spans[n, 0], spans[n, 1] = 0, PIECES
        if not (math.isnan(one) or math.isnan(other)):
            low, high = min(one, other) - 1e-6, max(one, other) + 1e-6
            spans[n, 0] = int(max(0.0, min(low, 1.0)) * PIECES)
            spans[n, 1] = min(PIECES, int(max(0.0, min(high, 1.0)) * PIECES) + 1)
        for piece in range(spans[n, 0], spans[n, 1]):
            counts[piece] += 1
    walls, near_m = np.empty(counts.sum(), np.int64), np.empty(counts.sum())
    fill = np.cumsum(counts) - counts
    for n in range(len(listed)):
        near = nearest_m(ends_m, listed[n], x_m, y_m)
        for piece in range(spans[n, 0], spans[n, 1]):
            walls[fill[piece]], near_m[fill[piece]] = listed[n], near
            fill[piece] += 1
    return counts, walls, near_m


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def ways(
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    source_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    low_m: float,
    high_m: float,
) -> tuple[Ints, Ints, Floats]:  # pragma: no cover
    """Return (offsets, walls, way_m) of what can stand in the way of each image's rays.

    `way_m` (n, 5) has the ends of each and how near it is to where the rays seem to come from: read one
    after another, not gathered.

    Two spans a piece of each mirror: for images of the source the walls before it, and, after all
    pieces, for every image those beyond it.
    """
    counts = np.zeros(2 * PIECES * len(mirror) + 1, np.int64)
    listed, near_m, used = np.empty(1024, np.int64), np.empty(1024), 0
    for m in range(len(mirror)):
        for side in range(2):
            if side == 0 and parent[m] >= 0:
                continue
            x_m, y_m = (images_m[m, 0], images_m[m, 1]) if side == 1 else (source_m[0], source_m[1])
            inside = wedge(ends_m, heights_m, low_m, high_m, mirror[m], x_m, y_m, side == 1)
            found, walls, near = pieces(ends_m, inside, mirror[m], x_m, y_m)
            counts[(2 * m + side) * PIECES + 1 : (2 * m + side + 1) * PIECES + 1] = found
            while used + len(walls) > len(listed):
                listed, near_m = np.concatenate((listed, listed)), np.concatenate((near_m, near_m))
            listed[used : used + len(walls)], near_m[used : used + len(walls)] = walls, near
            used += len(walls)
    way_m = np.empty((used, 5))
    for n in range(used):
        way_m[n, :4], way_m[n, 4] = ends_m[listed[n]], near_m[n]
    return np.cumsum(counts), listed[:used], way_m


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _add_walls(  # noqa: PLR0913, PLR0917
    total: Floats,
    table: Floats,
    listed: Ints,
    way_m: Floats,
    first: int,
    last: int,
    x0: float,
    y0: float,
    z0: float,
    x1: float,
    y1: float,
    z1: float,
    after: float,
    skip: int,
    most_db: float,
) -> bool:  # pragma: no cover
    """Add to `total` (3,) what listed walls, nearest first, cost on the way from 0 to 1, from a share of it.

    False once they cost more than `most_db` at 2.4 GHz, where walls cost least.
    """
    dx, dy = x1 - x0, y1 - y0
    reach_m = math.sqrt(dx * dx + dy * dy)
    for n in range(np.uint64(first), np.uint64(last)):
        if way_m[n, 4] > reach_m:
            break
        ax, ay, bx, by = way_m[n, 0] - x0, way_m[n, 1] - y0, way_m[n, 2] - x0, way_m[n, 3] - y0
        side_a, side_b = dx * ay - dy * ax, dx * by - dy * bx
        if (side_a >= 0) == (side_b >= 0):
            continue
        k = listed[n]
        t = (ax * by - ay * bx) / (side_b - side_a)
        if t <= after + _NEAR or t >= 1.0 - _NEAR or k == skip:
            continue
        z = z0 + t * (z1 - z0)
        if z >= table[k, 4] and z < table[k, 5]:
            total[0] += table[k, 6]
            total[1] += table[k, 7]
            total[2] += table[k, 8]
            if total[0] > most_db:
                return False
    return True


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def fresnel(cosine: float, permittivity: float) -> float:  # pragma: no cover
    """Return the share of power thrown back at an angle to the normal, the mean of both polarisations.

    References
    ----------
    Fresnel's equations for a half space, as in ITU-R P.2040 section 2.
    """
    inside = math.sqrt(permittivity - (1.0 - cosine * cosine))
    te = (cosine - inside) / (cosine + inside)
    tm = (permittivity * cosine - inside) / (permittivity * cosine + inside)
    return float(0.5 * (te * te + tm * tm))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def thrown_back(
    ends_m: Floats, i: int, dx: float, dy: float, dz: float, permittivity: float
) -> float:  # pragma: no cover
    """Return the share of power wall i throws back of a ray."""
    nx, ny = ends_m[i, 1] - ends_m[i, 3], ends_m[i, 2] - ends_m[i, 0]
    cosine = abs(dx * nx + dy * ny) / math.sqrt((nx * nx + ny * ny) * (dx * dx + dy * dy + dz * dz))
    return fresnel(cosine, permittivity)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def by_floor_and_ceiling(
    plan_sq: float, z0: float, z1: float, level_m: Floats, permittivity: float
) -> float:  # pragma: no cover
    """Return what the floor and the ceiling throw back of a ray, as a share of the ray itself.

    `plan_sq` is the square of its length in plan, `level_m` (2,) the heights of floor and ceiling. The
    ray they throw back has the same way in plan, so the same walls, and a longer one in height.
    """
    straight_sq = max(plan_sq + (z1 - z0) * (z1 - z0), 1.0)
    share = 0.0
    for rise in (z0 + z1 - 2.0 * level_m[0], 2.0 * level_m[1] - z0 - z1):
        way_sq = max(plan_sq + rise * rise, 1e-9)
        share += fresnel(abs(rise) / math.sqrt(way_sq), permittivity) * straight_sq / max(way_sq, 1.0)
    return share


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def levels_add(
    points_m: Floats, source_m: Floats, level_m: Floats, permittivity: float
) -> Floats:  # pragma: no cover
    """Return `by_floor_and_ceiling` for the straight rays to points (n, 3)."""
    found = np.empty(len(points_m))
    for p in range(len(points_m)):
        dx, dy = points_m[p, 0] - source_m[0], points_m[p, 1] - source_m[1]
        found[p] = by_floor_and_ceiling(dx * dx + dy * dy, source_m[2], points_m[p, 2], level_m, permittivity)
    return found


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _met(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    m: int,
    ends_m: Floats,
    heights_m: Floats,
    lit: Bools,
    source_z_m: float,
    x: float,
    y: float,
    z: float,
    place: Floats,
    shares: Floats,
) -> bool:  # pragma: no cover
    """Say whether there is a ray by image m to a place.

    `place` (2, 3) becomes where it meets its mirrors, the one nearest the source first; `shares` (2,)
    at which share of the straight way from the image each is met. `lit` (images, PIECES) says which
    pieces of its mirror an image's rays leave by.
    """
    here = m
    while here >= 0:
        i = mirror[here]
        t = _meets(ends_m, i, images_m[here, 0], images_m[here, 1], x, y)
        if t < 0:
            return False
        px = images_m[here, 0] + t * (x - images_m[here, 0])
        py = images_m[here, 1] + t * (y - images_m[here, 1])
        pz = source_z_m + t * (z - source_z_m)
        if pz < heights_m[i, 0] or pz >= heights_m[i, 1] or not lit[here, piece_of(ends_m, i, px, py)]:
            return False
        row = 1 if parent[here] >= 0 else 0
        place[row, 0], place[row, 1], place[row, 2], shares[row] = px, py, pz, t
        x, y, z, here = px, py, pz, parent[here]
    return True


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _back(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    m: int,
    ends_m: Floats,
    x: float,
    y: float,
    z: float,
    permittivity: float,
    place: Floats,
) -> float:  # pragma: no cover
    """Return the share of power the mirrors of a ray that was met throw back."""
    back, here = 1.0, m
    while here >= 0:
        row = 1 if parent[here] >= 0 else 0
        px, py, pz = place[row, 0], place[row, 1], place[row, 2]
        back *= thrown_back(ends_m, mirror[here], x - px, y - py, z - pz, permittivity)
        x, y, z, here = px, py, pz, parent[here]
    return back


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _walls_of_ray(  # noqa: PLR0913, PLR0917
    total: Floats,
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
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
    most_db: float,
) -> bool:  # pragma: no cover
    """Add to `total` (3,) what the walls on the ray by image m cost; False when it is more than `most_db`.

    Walls are listed in two spans a piece of each mirror: walls before it (for images of the source), then,
    after all pieces, walls beyond it.
    """
    here, last = m, -1
    while here >= 0:
        row = 1 if parent[here] >= 0 else 0
        at = (2 * here + 1) * PIECES + piece_of(ends_m, mirror[here], place[row, 0], place[row, 1])
        if not _add_walls(
            total, table, listed, way_m, offsets[at], offsets[at + 1],
            images_m[here, 0], images_m[here, 1], source_m[2], x, y, z, shares[row], last, most_db,
        ):  # fmt: skip
            return False
        x, y, z, last, here = place[row, 0], place[row, 1], place[row, 2], mirror[here], parent[here]
    first = m if parent[m] < 0 else parent[m]
    at = 2 * first * PIECES + piece_of(ends_m, mirror[first], place[0, 0], place[0, 1])
    return _add_walls(
        total, table, listed, way_m, offsets[at], offsets[at + 1],
        source_m[0], source_m[1], source_m[2], x, y, z, 0.0, last, most_db,
    )  # fmt: skip


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def places_along(
    ends_m: Floats, heights_m: Floats, losses_db: Floats, source_z_m: float, low_z_m: float
) -> tuple[Ints, Floats]:  # pragma: no cover
    """Return (offsets (walls + 1,), places (n, 3)) at which walls are looked at: the middle of steps along each.

    None along a wall that throws nothing back, or that rays between two heights do not reach.
    """
    walls = ends_m.shape[0]
    offsets, places = np.zeros(walls + 1, np.int64), np.empty((12 * walls, 3))
    for k in range(walls):
        offsets[k + 1] = offsets[k]
        z = max(low_z_m, min(source_z_m, 0.5 * (heights_m[k, 0] + heights_m[k, 1])))
        if losses_db[k, 1] <= 0.0 or z < heights_m[k, 0] or z >= heights_m[k, 1]:
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


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _reach(  # noqa: PLR0913, PLR0917
    found: Floats,
    m: int,
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    lit: Bools,
    spans: Ints,
    places_m: Floats,
    source_m: Floats,
    one_metre_db: Floats,
    permittivity: float,
    floor_db: float,
) -> None:  # pragma: no cover
    """Fill one image's row of `reach_of`.

    A function of its own: inside a parallel loop every call would count references to its arrays.
    """
    total, place, shares = np.zeros(3), np.zeros((2, 3)), np.zeros(2)
    for k in range(ends_m.shape[0]):
        if mirror[m] == k:
            continue
        for p in range(spans[k], spans[k + 1]):
            x, y, z = places_m[p, 0], places_m[p, 1], places_m[p, 2]
            dx, dy, dz = x - images_m[m, 0], y - images_m[m, 1], z - source_m[2]
            free_db = -one_metre_db[1] - 10.0 * math.log10(max(dx * dx + dy * dy + dz * dz, 1.0))
            if free_db < max(floor_db, found[k]) or not _met(
                mirror, parent, images_m, m, ends_m, heights_m, lit, source_m[2], x, y, z, place, shares
            ):  # fmt: skip
                continue
            back = _back(mirror, parent, m, ends_m, x, y, z, permittivity, place)
            strongest = free_db + 10.0 * math.log10(back)
            total[:] = 0.0
            if strongest > max(floor_db, found[k]) and _walls_of_ray(
                total, mirror, parent, images_m, offsets, table, listed, way_m, m, ends_m, source_m, x, y, z,
                place, shares, strongest - max(floor_db, found[k]),
            ):  # fmt: skip
                found[k] = max(found[k], strongest - total[1])


@njit(parallel=True, cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def reach_of(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    lit: Bools,
    spans: Ints,
    places_m: Floats,
    source_m: Floats,
    one_metre_db: Floats,
    permittivity: float,
    floor_db: float,
) -> Floats:  # pragma: no cover
    """Return the most path gain with which each image's rays meet each wall it could be mirrored by.

    Shape (images, walls), at 5 GHz, seen at the places along each wall (`places_along`); -300 where it is
    under the floor.
    """
    count = mirror.shape[0]
    found = np.full((count, ends_m.shape[0]), -300.0)
    for number in prange(count):
        # Signed: the loop counts without sign, and an image looks for its parent at -1.
        m = int(np.int64(number))
        _reach(
            found[m], m, mirror, parent, images_m, offsets, table, listed, way_m, ends_m, heights_m, lit,
            spans, places_m, source_m, one_metre_db, permittivity, floor_db,
        )  # fmt: skip
    return found


@njit(parallel=True, cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def lit_of(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    source_m: Floats,
    low_z_m: float,
    one_metre_db: Floats,
    floor_db: float,
) -> Bools:  # pragma: no cover
    """Return which pieces of its mirror each image's rays reach over the floor, (images, PIECES), at 5 GHz.

    Seen at the middle and near both ends of a piece. Images of the source come before images of images.
    """
    count = mirror.shape[0]
    lit = np.zeros((count, PIECES), np.bool_)
    for first in (True, False):
        for number in prange(count * PIECES):
            m, piece = int(np.int64(number // PIECES)), int(np.int64(number % PIECES))
            if (parent[m] < 0) != first:
                continue
            i, total, place, shares = mirror[m], np.zeros(3), np.zeros((2, 3)), np.zeros(2)
            z = max(low_z_m, min(source_m[2], 0.5 * (heights_m[i, 0] + heights_m[i, 1])))
            for part in (0.1, 0.5, 0.9):
                along = (piece + part) / PIECES
                x = ends_m[i, 0] + along * (ends_m[i, 2] - ends_m[i, 0])
                y = ends_m[i, 1] + along * (ends_m[i, 3] - ends_m[i, 1])
                dx, dy, dz = x - images_m[m, 0], y - images_m[m, 1], z - source_m[2]
                far_db = 10.0 * math.log10(max(dx * dx + dy * dy + dz * dz, 1.0))
                most_db = -floor_db - one_metre_db[1] - far_db
                total[:] = 0.0
                if first:
                    at = 2 * m * PIECES + piece
                    _add_walls(
                        total, table, listed, way_m, offsets[at], offsets[at + 1],
                        source_m[0], source_m[1], source_m[2], x, y, z, 0.0, i, most_db,
                    )  # fmt: skip
                elif not _met(
                    mirror, parent, images_m, parent[m], ends_m, heights_m, lit, source_m[2], x, y, z,
                    place, shares,
                ) or not _walls_of_ray(
                    total, mirror, parent, images_m, offsets, table, listed, way_m, parent[m], ends_m,
                    source_m, x, y, z, place, shares, most_db,
                ):  # fmt: skip
                    continue
                if total[1] <= most_db:
                    lit[m, piece] = True
                    break
    return lit


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def beams_of(mirror: Ints, ends_m: Floats, lit: Bools) -> Floats:  # pragma: no cover
    """Return the ends of the lit part of each image's mirror, (images, 4); NaN where no piece is lit."""
    beams_m = np.full((mirror.shape[0], 4), math.nan)
    for m in range(mirror.shape[0]):
        pieces_lit = np.flatnonzero(lit[m])
        if len(pieces_lit) == 0:
            continue
        i = mirror[m]
        for end, share in enumerate((pieces_lit[0] / PIECES, (pieces_lit[-1] + 1) / PIECES)):
            for axis in range(2):
                beams_m[m, 2 * end + axis] = ends_m[i, axis] + share * (ends_m[i, 2 + axis] - ends_m[i, axis])
    return beams_m


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _box(points_m: Floats, first: int, last: int) -> Floats:  # pragma: no cover
    """Return the box round some points as x0 y0 x1 y1."""
    box = np.array([points_m[first, 0], points_m[first, 1], points_m[first, 0], points_m[first, 1]])
    for p in range(first, last):
        box[0], box[1] = min(box[0], points_m[p, 0]), min(box[1], points_m[p, 1])
        box[2], box[3] = max(box[2], points_m[p, 0]), max(box[3], points_m[p, 1])
    return box


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
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


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
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
    along = _seen_along(
        ends_m, wall, image_m[0], image_m[1], 0.5 * (box[0] + box[2]), 0.5 * (box[1] + box[3])
    )
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
            total += table[k, 6]
    return total


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _nearest_sq(image_m: Floats, box: Floats) -> float:  # pragma: no cover
    """Return the square of the least distance in plan from an image to a box. [m2]"""
    dx = max(box[0] - image_m[0], 0.0, image_m[0] - box[2])
    dy = max(box[1] - image_m[1], 0.0, image_m[1] - box[3])
    return float(dx * dx + dy * dy)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _fill(  # noqa: PLR0913, PLR0917
    every: Floats,
    twice: Floats,
    first: int,
    last: int,
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    lit: Bools,
    beams_m: Floats,
    mirrors: Floats,
    source_m: Floats,
    level_m: Floats,
    points_m: Floats,
    one_metre_db: Floats,
    permittivity: float,
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
) -> None:  # pragma: no cover
    """Add to `every` and `twice` what the images bring to the points from first to last.

    A function of its own: inside a parallel loop every call would count references to its arrays.
    """
    total, place, shares = np.zeros(3), np.zeros((2, 3)), np.zeros(2)
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
        if left_db < 0.0 or left_db < _shadow_db(
            table, listed, way_m, offsets, m, mirror[m], ends_m, images_m[m], box, low_m, high_m
        ):  # fmt: skip
            continue
        one, two = mirror[m], -1 if parent[m] < 0 else mirror[parent[m]]
        for p in range(first, last):
            x, y, z = points_m[p, 0], points_m[p, 1], points_m[p, 2]
            if not _met(
                mirror, parent, images_m, m, ends_m, heights_m, lit, source_m[2], x, y, z, place, shares
            ):  # fmt: skip
                continue
            dx, dy, dz = x - images_m[m, 0], y - images_m[m, 1], z - source_m[2]
            far_db = 10.0 * math.log10(max(dx * dx + dy * dy + dz * dz, 1.0))
            most_db = -floors_db[p] - one_metre_db[0] - far_db
            total[:] = 0.0
            if most_db < 0.0 or not _walls_of_ray(
                total, mirror, parent, images_m, offsets, table, listed, way_m, m, ends_m, source_m, x, y, z,
                place, shares, most_db,
            ):  # fmt: skip
                continue
            level = by_floor_and_ceiling(dx * dx + dy * dy, source_m[2], z, level_m, permittivity)
            back = _back(mirror, parent, m, ends_m, x, y, z, permittivity, place) * (1.0 + level)
            ox, oy, oz = place[0, 0] - source_m[0], place[0, 1] - source_m[1], place[0, 2] - source_m[2]
            leaves_db = relative_gain_db(ox, oy, oz, axis, up, by_cosine, azimuth_db, elevation_db)
            _add_areas(
                total, two >= 0, place, source_m, x, y, z,
                area_edges_m, area_offsets, area_heights_m, area_losses_db_m,
            )  # fmt: skip
            for band in range(3):
                db = leaves_db - one_metre_db[band] - far_db - total[band]
                gain = back * mirrors[one, band] * 10.0 ** (db / 10.0)
                if two >= 0:
                    gain *= mirrors[two, band]
                    twice[band, p] += gain
                every[band, p] += gain


@njit(parallel=True, cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def mirrored_gain(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    offsets: Ints,
    table: Floats,
    listed: Ints,
    way_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    lit: Bools,
    beams_m: Floats,
    mirrors: Floats,
    source_m: Floats,
    level_m: Floats,
    points_m: Floats,
    tiles: Ints,
    one_metre_db: Floats,
    permittivity: float,
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
) -> tuple[Floats, Floats]:  # pragma: no cover
    """Return the path gain of all mirrored rays to points (n, 3), as ratios of power (3, n) by band.

    The first is the sum over rays by one and by two mirrors, the second that of two alone. Antenna
    under its peak included, and what floor and ceiling throw back of each ray; each mirror throws back
    Fresnel's share of what it does not let through, `mirrors` (walls, 3). Points from tiles[k] to
    tiles[k + 1] lie near each other: an image that shines past all of them is left out for all of them
    at once. So is a ray that free space and walls leave under `floors_db` (n,) at 2.4 GHz.
    """
    n = points_m.shape[0]
    every, twice = np.zeros((3, n)), np.zeros((3, n))
    # Image by image over one tile at a time: an image's walls stay in the nearest cache.
    for tile in prange(len(tiles) - 1):
        _fill(
            every, twice, tiles[tile], tiles[tile + 1],
            mirror, parent, images_m, offsets, table, listed, way_m, ends_m, heights_m, lit, beams_m, mirrors, source_m, level_m,
            points_m,
            one_metre_db, permittivity, floors_db, axis, up, by_cosine, azimuth_db, elevation_db,
            area_edges_m, area_offsets, area_heights_m, area_losses_db_m,
        )  # fmt: skip
    return every, twice


@njit(cache=True, nogil=True, error_model="numpy", fastmath=_LOOSE)
def _add_areas(  # noqa: PLR0913, PLR0917
    total: Floats,
    two: bool,
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
    legs = 3 if two else 2
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
