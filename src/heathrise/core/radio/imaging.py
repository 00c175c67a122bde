"""Images of a source in walls, compiled: where they are, and which walls stand in the way of their rays.

An image is where a source seems to stand behind a wall that mirrors it. A ray by a mirror is the
straight line from the image to the receiver; it holds where it meets the mirror inside the mirror's
ends and heights. `parent` names the image an image was made from, -1 for the source itself.
"""

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from heathrise.core.radio.kernel import at_cosine, nearest_m

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
# A ray this near an end of itself has met the wall it starts or ends on. Less than any step of `ASIDE_M`.
NEAR = 1e-11
# Places are looked at a tenth of a millimetre aside, in a direction no drawing uses. So no ray meets a mirror just
# where another wall does: there it would slip between both of its legs, through any wall. (To move what is degenerate
# a little, and alike everywhere: Edelsbrunner and Muecke, "Simulation of simplicity", 1990.)
ASIDE_M = (0.0000618, 0.0000786, 0.0)
# A mirror is cut into so many pieces, each with its own list of the walls in the way of its rays.
PIECES = 16
# A ray is followed over so many mirrors.
MEETINGS = 3
# Sums and divisions may be rounded together; not-a-number and infinity keep their meaning.
LOOSE = {"contract", "arcp"}


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def mirrored(ends_m: Floats, i: int, x_m: float, y_m: float) -> tuple[float, float]:  # pragma: no cover
    """Return the image of a place in the line of a wall."""
    ux, uy = ends_m[i, 2] - ends_m[i, 0], ends_m[i, 3] - ends_m[i, 1]
    off = (-uy * (x_m - ends_m[i, 0]) + ux * (y_m - ends_m[i, 1])) / (ux * ux + uy * uy)
    return x_m + 2.0 * off * uy, y_m - 2.0 * off * ux


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def meets(ends_m: Floats, i: int, x0: float, y0: float, x1: float, y1: float) -> float:  # pragma: no cover
    """Return the share of the way from 0 to 1 at which it meets wall i, -1 when it misses it."""
    ax, ay, bx, by = ends_m[i, 0] - x0, ends_m[i, 1] - y0, ends_m[i, 2] - x0, ends_m[i, 3] - y0
    dx, dy = x1 - x0, y1 - y0
    side_a, side_b = dx * ay - dy * ax, dx * by - dy * bx
    if (side_a >= 0) == (side_b >= 0):
        return -1.0
    t = (ax * by - ay * bx) / (side_b - side_a)
    return t if NEAR < t < 1.0 - NEAR else -1.0


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
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


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def piece_of(ends_m: Floats, i: int, x: float, y: float) -> int:  # pragma: no cover
    """Return which piece of wall i a place on it belongs to."""
    ux, uy = ends_m[i, 2] - ends_m[i, 0], ends_m[i, 3] - ends_m[i, 1]
    along = ((x - ends_m[i, 0]) * ux + (y - ends_m[i, 1]) * uy) / (ux * ux + uy * uy)
    return min(PIECES - 1, max(0, int(along * PIECES)))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def seen_along(
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


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
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
        one = seen_along(ends_m, i, x_m, y_m, ends_m[k, 0], ends_m[k, 1])
        other = seen_along(ends_m, i, x_m, y_m, ends_m[k, 2], ends_m[k, 3])
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


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def ways(  # noqa: PLR0913, PLR0917
    mirror: Ints,
    parent: Ints,
    images_m: Floats,
    source_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    low_m: float,
    high_m: float,
    first: int,
) -> tuple[Ints, Ints, Floats]:  # pragma: no cover
    """Return (offsets, walls, way_m) of what can stand in the way of the rays of each image from the first on.

    `way_m` (n, 5) has the ends of each and how near it is to where the rays seem to come from: read one
    after another, not gathered.

    Two spans a piece of each mirror: for images of the source the walls before it, and, after all
    pieces, for every image those beyond it.
    """
    counts = np.zeros(2 * PIECES * (len(mirror) - first) + 1, np.int64)
    listed, near_m, used = np.empty(1024, np.int64), np.empty(1024), 0
    for m in range(first, len(mirror)):
        for side in range(2):
            if side == 0 and parent[m] >= 0:
                continue
            x_m, y_m = (images_m[m, 0], images_m[m, 1]) if side == 1 else (source_m[0], source_m[1])
            inside = wedge(ends_m, heights_m, low_m, high_m, mirror[m], x_m, y_m, side == 1)
            found, walls, near = pieces(ends_m, inside, mirror[m], x_m, y_m)
            at = (2 * (m - first) + side) * PIECES + 1
            counts[at : at + PIECES] = found
            while used + len(walls) > len(listed):
                listed, near_m = np.concatenate((listed, listed)), np.concatenate((near_m, near_m))
            listed[used : used + len(walls)], near_m[used : used + len(walls)] = walls, near
            used += len(walls)
    way_m = np.empty((used, 5))
    for n in range(used):
        way_m[n, :4], way_m[n, 4] = ends_m[listed[n]], near_m[n]
    return np.cumsum(counts), listed[:used], way_m


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def add_walls(  # noqa: PLR0913, PLR0917
    total: Floats,
    table: Floats,
    by_angle_db: Floats,
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

    Each by the angle it is met at, from `by_angle_db` (rows, cosines, bands).

    False once they cost more than `most_db` at 2.4 GHz, where walls cost least.
    """
    dx, dy = x1 - x0, y1 - y0
    reach_m = math.sqrt(dx * dx + dy * dy)
    far_m = math.sqrt(dx * dx + dy * dy + (z1 - z0) * (z1 - z0))
    for n in range(np.uint64(first), np.uint64(last)):
        if way_m[n, 4] > reach_m:
            break
        ax, ay, bx, by = way_m[n, 0] - x0, way_m[n, 1] - y0, way_m[n, 2] - x0, way_m[n, 3] - y0
        side_a, side_b = dx * ay - dy * ax, dx * by - dy * bx
        if (side_a >= 0) == (side_b >= 0):
            continue
        k = listed[n]
        t = (ax * by - ay * bx) / (side_b - side_a)
        if t <= after + NEAR or t >= 1.0 - NEAR or k == skip:
            continue
        z = z0 + t * (z1 - z0)
        if z >= table[k, 4] and z < table[k, 5]:
            cosine = abs(table[k, 7] * dx + table[k, 8] * dy) / far_m
            low, mid, high = at_cosine(by_angle_db, int(table[k, 6]), cosine)
            total[0] += low
            total[1] += mid
            total[2] += high
            if total[0] > most_db:
                return False
    return True
