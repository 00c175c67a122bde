"""The hot loop: rays from one access point to many points, every wall and slab crossed.

All rays start at one place, so the walls are first sorted into sectors round it by the angles
they span; a ray then tests only the walls of its own sector, exactly. Compiled by Numba, in
parallel over points, kept on disk.
"""

import math

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SECTORS = 720
TURN = 2 * math.pi


@njit(cache=True)
def _sector_span(ends_m: Floats, i: int, x_m: float, y_m: float) -> tuple[int, int]:  # pragma: no cover
    """Return the first sector a wall touches and how many; all of them for a wall underfoot."""
    a0 = math.atan2(ends_m[i, 1] - y_m, ends_m[i, 0] - x_m)
    a1 = math.atan2(ends_m[i, 3] - y_m, ends_m[i, 2] - x_m)
    turn = a1 - a0
    if turn > math.pi:
        turn -= TURN
    elif turn < -math.pi:
        turn += TURN
    if abs(turn) > math.pi - 1e-6:
        return 0, SECTORS
    low = a0 if turn >= 0 else a0 + turn
    if low < 0:
        low += TURN
    width = TURN / SECTORS
    first = int(math.floor((low - 1e-9) / width))
    last = int(math.floor((low + abs(turn) + 1e-9) / width))
    return first, last - first + 1


@njit(cache=True)
def sector_index(ends_m: Floats, x_m: float, y_m: float) -> tuple[Ints, Ints]:  # pragma: no cover
    """Return (offsets (SECTORS + 1,), wall numbers) of the walls in each sector round a place."""
    n = ends_m.shape[0]
    spans = np.empty((n, 2), np.int64)
    counts = np.zeros(SECTORS + 1, np.int64)
    for i in range(n):
        first, count = _sector_span(ends_m, i, x_m, y_m)
        spans[i, 0] = first
        spans[i, 1] = count
        for k in range(count):
            counts[(first + k) % SECTORS + 1] += 1
    offsets = np.cumsum(counts)
    walls = np.empty(offsets[-1], np.int64)
    fill = offsets[:-1].copy()
    for i in range(n):
        for k in range(spans[i, 1]):
            sector = (spans[i, 0] + k) % SECTORS
            walls[fill[sector]] = i
            fill[sector] += 1
    return offsets, walls


@njit(cache=True)
def _in_area(edges_m: Floats, first: int, last: int, x_m: float, y_m: float) -> bool:  # pragma: no cover
    """Even-odd test of a place against the edges of a polygon with holes."""
    inside = False
    for e in range(first, last):
        y0, y1 = edges_m[e, 1], edges_m[e, 3]
        if (y0 > y_m) != (y1 > y_m):
            x = edges_m[e, 0] + (y_m - y0) * (edges_m[e, 2] - edges_m[e, 0]) / (y1 - y0)
            if x_m < x:
                inside = not inside
    return inside


@njit(parallel=True, cache=True)
def ray_losses(  # noqa: PLR0913, PLR0917
    source_m: Floats,
    points_m: Floats,
    ends_m: Floats,
    heights_m: Floats,
    wall_losses_db: Floats,
    offsets: Ints,
    walls: Ints,
    slab_z_m: Floats,
    slab_losses_db: Floats,
    slab_offsets: Ints,
    slab_edges_m: Floats,
) -> tuple[Floats, Floats]:  # pragma: no cover
    """Return (walls_db (n, 3), slabs_db (n, 3)) summed along each ray from the source.

    A wall is crossed when its ends lie on different sides of the ray (so two walls that meet at
    a corner are never both missed) and the ray is within its heights there.
    """
    n = points_m.shape[0]
    wall_db = np.zeros((n, 3))
    slab_db = np.zeros((n, 3))
    sx, sy, sz = source_m[0], source_m[1], source_m[2]
    width = TURN / SECTORS
    for p in prange(n):
        dx, dy, dz = points_m[p, 0] - sx, points_m[p, 1] - sy, points_m[p, 2] - sz
        a = math.atan2(dy, dx)
        if a < 0:
            a += TURN
        sector = int(a / width) % SECTORS
        w0, w1, w2 = 0.0, 0.0, 0.0
        for k in range(offsets[sector], offsets[sector + 1]):
            i = walls[k]
            ax, ay = ends_m[i, 0] - sx, ends_m[i, 1] - sy
            bx, by = ends_m[i, 2] - sx, ends_m[i, 3] - sy
            side_a = dx * ay - dy * ax
            side_b = dx * by - dy * bx
            if (side_a >= 0) == (side_b >= 0):
                continue
            along = side_a / (side_a - side_b)
            hx, hy = ax + along * (bx - ax), ay + along * (by - ay)
            t = hx / dx if abs(dx) > abs(dy) else hy / dy
            if t <= 0.0 or t >= 1.0:
                continue
            z = sz + t * dz
            if z >= heights_m[i, 0] and z < heights_m[i, 1]:
                w0 += wall_losses_db[i, 0]
                w1 += wall_losses_db[i, 1]
                w2 += wall_losses_db[i, 2]
        wall_db[p, 0], wall_db[p, 1], wall_db[p, 2] = w0, w1, w2
        if dz == 0.0:
            continue
        for s in range(slab_z_m.shape[0]):
            t = (slab_z_m[s] - sz) / dz
            if t <= 0.0 or t >= 1.0:
                continue
            x, y = sx + t * dx, sy + t * dy
            if _in_area(slab_edges_m, slab_offsets[s], slab_offsets[s + 1], x, y):
                for b in range(3):
                    slab_db[p, b] += slab_losses_db[s, b]
    return wall_db, slab_db
