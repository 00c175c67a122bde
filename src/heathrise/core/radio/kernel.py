"""The hot loop: rays from one access point to many points, every wall and slab crossed.

All rays start at one place, so the walls are first sorted into sectors round it by the angles
they span and by distance; a ray then tests only the walls of its own sector as far as it goes,
exactly. Compiled by Numba, in parallel over points, kept on disk.
"""

import math

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
SECTORS = 360
TURN = 2 * math.pi


@njit(cache=True, nogil=True)
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


@njit(cache=True, nogil=True)
def nearest_m(ends_m: Floats, i: int, x_m: float, y_m: float) -> float:  # pragma: no cover
    """Return the least distance in plan from a place to a wall. [m]"""
    ux, uy = ends_m[i, 2] - ends_m[i, 0], ends_m[i, 3] - ends_m[i, 1]
    wx, wy = x_m - ends_m[i, 0], y_m - ends_m[i, 1]
    square = ux * ux + uy * uy
    t = 0.0 if square == 0.0 else min(1.0, max(0.0, (wx * ux + wy * uy) / square))
    return math.sqrt((wx - t * ux) ** 2 + (wy - t * uy) ** 2)


@njit(cache=True, nogil=True)
def bearings(ends_m: Floats, x_m: float, y_m: float) -> tuple[Ints, Floats, Ints]:  # pragma: no cover
    """Return (order, near_m, spans) of the walls seen from a place.

    `order` names the walls nearest first, `near_m` is each wall's least distance, `spans` its
    first sector and how many it touches.
    """
    n = ends_m.shape[0]
    near_m = np.empty(n)
    spans = np.empty((n, 2), np.int64)
    for i in range(n):
        near_m[i] = nearest_m(ends_m, i, x_m, y_m)
        spans[i, 0], spans[i, 1] = _sector_span(ends_m, i, x_m, y_m)
    return np.argsort(near_m), near_m, spans


@njit(cache=True, nogil=True)
def sector_index(
    table: Floats,
    seen: tuple[Ints, Floats, Ints],
    x_m: float,
    y_m: float,
    low_m: float,
    high_m: float,
) -> tuple[Ints, Floats]:  # pragma: no cover
    """Return (offsets (SECTORS + 1,), walls (m, 10)) of the walls in each sector round a place.

    `table` has the walls' ends, heights, rows of the book and normals (`scene`), `seen` is what `bearings`
    found at the place. Walls wholly under `low_m` or over `high_m` are left out. A row is the wall's own
    with its ends relative to the place, and its least distance; each sector's rows stand together, the
    nearest first.
    """
    order, near_m, spans = seen
    counts = np.zeros(SECTORS + 1, np.int64)
    for i in order:
        if table[i, 4] <= high_m and table[i, 5] > low_m:
            for k in range(spans[i, 1]):
                counts[(spans[i, 0] + k) % SECTORS + 1] += 1
    offsets = np.cumsum(counts)
    walls = np.empty((offsets[-1], 10))
    fill = offsets[:-1].copy()
    for i in order:
        if table[i, 4] > high_m or table[i, 5] <= low_m:
            continue
        for k in range(spans[i, 1]):
            sector = (spans[i, 0] + k) % SECTORS
            at = fill[sector]
            fill[sector] = at + 1
            walls[at, :9] = table[i]
            walls[at, 0] -= x_m
            walls[at, 1] -= y_m
            walls[at, 2] -= x_m
            walls[at, 3] -= y_m
            walls[at, 9] = near_m[i]
    return offsets, walls


@njit(cache=True, nogil=True)
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


@njit(parallel=True, cache=True, nogil=True)
def _by_sector(points_m: Floats, x_m: float, y_m: float) -> tuple[Ints, Ints]:  # pragma: no cover
    """Return each point's sector, and the points in the order of their sectors.

    Rays of one sector after another find their walls still in the nearest cache.
    """
    n = points_m.shape[0]
    sectors = np.empty(n, np.int64)
    for p in prange(n):
        a = math.atan2(points_m[p, 1] - y_m, points_m[p, 0] - x_m)
        if a < 0:
            a += TURN
        sectors[p] = int(a * (SECTORS / TURN)) % SECTORS
    starts = np.zeros(SECTORS + 1, np.int64)
    for p in range(n):
        starts[sectors[p] + 1] += 1
    starts = np.cumsum(starts)
    order = np.empty(n, np.int64)
    for p in range(n):
        order[starts[sectors[p]]] = p
        starts[sectors[p]] += 1
    return sectors, order


@njit(cache=True, nogil=True)
def _between(table_db: Floats, degrees: float) -> float:  # pragma: no cover
    """Return a cut's level between its entries, -180 to 180 by the degree."""
    place = degrees + 180.0
    whole = min(int(place), table_db.shape[0] - 2)
    return float(table_db[whole] + (place - whole) * (table_db[whole + 1] - table_db[whole]))


@njit(cache=True, nogil=True)
def _by_cuts(
    dx: float,
    dy: float,
    dz: float,
    far_m: float,
    axis: Floats,
    up: Floats,
    azimuth: Floats,
    elevation: Floats,
) -> float:  # pragma: no cover
    """Return a two-cut antenna's gain under its peak towards a direction."""
    forward = dx * axis[0] + dy * axis[1] + dz * axis[2]
    left = (
        dx * (up[1] * axis[2] - up[2] * axis[1])
        + dy * (up[2] * axis[0] - up[0] * axis[2])
        + dz * (up[0] * axis[1] - up[1] * axis[0])
    )
    above = (dx * up[0] + dy * up[1] + dz * up[2]) / far_m
    turned = math.degrees(math.atan2(left, forward))
    raised = math.degrees(math.asin(min(1.0, max(-1.0, above))))
    return _between(azimuth, turned) + _between(elevation, raised)


@njit(cache=True, nogil=True)
def relative_gain_db(
    dx: float,
    dy: float,
    dz: float,
    axis: Floats,
    up: Floats,
    pattern_db: Floats,
    azimuth_db: Floats,
    elevation_db: Floats,
) -> float:  # pragma: no cover
    """Return an antenna's gain under its peak towards a direction of any length.

    Read off `pattern_db` (by the cosine off the axis, -1 to 1 in even steps) between its entries;
    an antenna with cuts is read round and up in its own frame instead.
    """
    far_m = max(math.sqrt(dx * dx + dy * dy + dz * dz), 1e-9)
    if azimuth_db.shape[0] > 1:
        return _by_cuts(dx, dy, dz, far_m, axis, up, azimuth_db, elevation_db)
    last = pattern_db.shape[0] - 1
    cosine = (dx * axis[0] + dy * axis[1] + dz * axis[2]) / far_m
    place = (min(1.0, max(-1.0, cosine)) + 1.0) * 0.5 * last
    whole = min(int(place), last - 1)
    return float(pattern_db[whole] + (place - whole) * (pattern_db[whole + 1] - pattern_db[whole]))


@njit(cache=True, nogil=True, error_model="numpy", fastmath={"contract", "arcp"})
def at_cosine(table: Floats, row: int, cosine: float) -> tuple[float, float, float]:  # pragma: no cover
    """Return a row's values by band at the entry of a table (rows, cosines, 3) nearest to a cosine."""
    last = table.shape[1] - 1
    at = min(int(cosine * last + 0.5), last)
    return table[row, at, 0], table[row, at, 1], table[row, at, 2]


@njit(parallel=True, cache=True, nogil=True)
def add_areas(
    loss_db: Float32s,
    source_m: Floats,
    points_m: Floats,
    edges_m: Floats,
    offsets: Ints,
    heights_m: Floats,
    losses_db_m: Floats,
) -> None:  # pragma: no cover
    """Add to `loss_db` (3, n) what the rays lose inside areas, by the length of way in each.

    Areas are upright prisms: edges x1 y1 x2 y2 of area k are rows offsets[k] to offsets[k + 1].
    """
    sx, sy, sz = source_m[0], source_m[1], source_m[2]
    for p in prange(points_m.shape[0]):
        dx, dy, dz = points_m[p, 0] - sx, points_m[p, 1] - sy, points_m[p, 2] - sz
        length = math.sqrt(dx * dx + dy * dy + dz * dz)
        for k in range(heights_m.shape[0]):
            share = share_inside(
                edges_m, offsets[k], offsets[k + 1], heights_m[k, 0], heights_m[k, 1], sx, sy, sz, dx, dy, dz
            )
            for band in range(3):
                loss_db[band, p] += share * length * losses_db_m[k, band]


@njit(cache=True, nogil=True)
def share_inside(  # noqa: PLR0913, PLR0917
    edges_m: Floats,
    first: int,
    last: int,
    low_m: float,
    high_m: float,
    sx: float,
    sy: float,
    sz: float,
    dx: float,
    dy: float,
    dz: float,
) -> float:  # pragma: no cover
    """Return the share of a ray inside an upright prism.

    Outlines turn so that the inside is to their left: a crossing from one side goes in and adds
    the share from there to the ray's end, from the other side it goes out and takes it away.
    """
    near, far = 0.0, 1.0
    if dz != 0.0:
        t0, t1 = (low_m - sz) / dz, (high_m - sz) / dz
        near, far = max(0.0, min(t0, t1)), min(1.0, max(t0, t1))
    elif sz < low_m or sz >= high_m:
        return 0.0
    if far <= near:
        return 0.0
    share = (far - near) if _in_area(edges_m, first, last, sx, sy) else 0.0
    for e in range(first, last):
        ax, ay = edges_m[e, 0] - sx, edges_m[e, 1] - sy
        bx, by = edges_m[e, 2] - sx, edges_m[e, 3] - sy
        side_a, side_b = dx * ay - dy * ax, dx * by - dy * bx
        if (side_a >= 0) == (side_b >= 0):
            continue
        t = (ax * by - ay * bx) / (side_b - side_a)
        if t <= 0.0 or t >= 1.0:
            continue
        rest = far - min(far, max(near, t))
        share += rest if side_a >= 0 else -rest
    return max(0.0, share)


@njit(cache=True, nogil=True)
def slabs_db(  # noqa: PLR0913, PLR0917
    sx: float,
    sy: float,
    sz: float,
    dx: float,
    dy: float,
    dz: float,
    by_angle_db: Floats,
    slab_z_m: Floats,
    slab_rows: Ints,
    slab_offsets: Ints,
    slab_edges_m: Floats,
    low_m: float = -math.inf,
    high_m: float = math.inf,
) -> tuple[float, float, float]:  # pragma: no cover
    """Return what the slabs a ray crosses between two heights cost, by band."""
    f0, f1, f2 = 0.0, 0.0, 0.0
    if dz == 0.0:
        return f0, f1, f2
    cosine = abs(dz) / math.sqrt(dx * dx + dy * dy + dz * dz)
    for s in range(slab_z_m.shape[0]):
        t = (slab_z_m[s] - sz) / dz
        if t <= 0.0 or t >= 1.0 or slab_z_m[s] <= low_m + 1e-6 or slab_z_m[s] >= high_m - 1e-6:
            continue
        if _in_area(slab_edges_m, slab_offsets[s], slab_offsets[s + 1], sx + t * dx, sy + t * dy):
            c0, c1, c2 = at_cosine(by_angle_db, slab_rows[s], cosine)
            f0, f1, f2 = f0 + c0, f1 + c1, f2 + c2
    return f0, f1, f2


@njit(parallel=True, cache=True, nogil=True, error_model="numpy", fastmath={"contract", "arcp"})
def ray_losses(  # noqa: PLR0913, PLR0917
    source_m: Floats,
    axis: Floats,
    pattern_db: Floats,
    points_m: Floats,
    offsets: Ints,
    walls: Floats,
    by_angle_db: Floats,
    slab_z_m: Floats,
    slab_rows: Ints,
    slab_offsets: Ints,
    slab_edges_m: Floats,
    one_metre_db: Floats,
    exponent: float,
    up: Floats,
    azimuth_db: Floats,
    elevation_db: Floats,
) -> tuple[Float32s, Float32s]:  # pragma: no cover
    """Return (loss_db (3, n), relative_db (n,)) of the rays from a source to points (n, 3).

    loss = free space over 1 m + 10 exponent log10(max(d, 1)) + walls + slabs, each by the angle it is
    met at; `relative_db` is the antenna's gain under its peak. A wall is crossed when its ends lie on
    different sides of the ray (so two walls that meet at a corner are never both missed) and the
    ray is within its heights there.
    """
    n = points_m.shape[0]
    loss_db = np.empty((3, n), np.float32)
    relative_db = np.empty(n, np.float32)
    sx, sy, sz = source_m[0], source_m[1], source_m[2]
    sectors, order = _by_sector(points_m, sx, sy)
    for q in prange(n):
        p = order[q]
        sector = sectors[p]
        dx, dy, dz = points_m[p, 0] - sx, points_m[p, 1] - sy, points_m[p, 2] - sz
        reach = math.sqrt(dx * dx + dy * dy)
        far_m = math.sqrt(dx * dx + dy * dy + dz * dz)
        w0, w1, w2 = 0.0, 0.0, 0.0
        for k in range(np.uint64(offsets[sector]), np.uint64(offsets[sector + 1])):
            if walls[k, 9] > reach:
                break
            ax, ay, bx, by = walls[k, 0], walls[k, 1], walls[k, 2], walls[k, 3]
            side_a = dx * ay - dy * ax
            side_b = dx * by - dy * bx
            if (side_a >= 0) == (side_b >= 0):
                continue
            # Where the wall's line meets the ray, as a share of the ray.
            t = (ax * by - ay * bx) / (side_b - side_a)
            if t <= 0.0 or t >= 1.0:
                continue
            z = sz + t * dz
            if z >= walls[k, 4] and z < walls[k, 5]:
                cosine = abs(walls[k, 7] * dx + walls[k, 8] * dy) / far_m
                c0, c1, c2 = at_cosine(by_angle_db, int(walls[k, 6]), cosine)
                w0, w1, w2 = w0 + c0, w1 + c1, w2 + c2
        f0, f1, f2 = slabs_db(
            sx, sy, sz, dx, dy, dz, by_angle_db, slab_z_m, slab_rows, slab_offsets, slab_edges_m
        )
        far_db = 10.0 * exponent * math.log10(max(far_m, 1.0))
        loss_db[0, p] = one_metre_db[0] + far_db + w0 + f0
        loss_db[1, p] = one_metre_db[1] + far_db + w1 + f1
        loss_db[2, p] = one_metre_db[2] + far_db + w2 + f2
        relative_db[p] = relative_gain_db(dx, dy, dz, axis, up, pattern_db, azimuth_db, elevation_db)
    return loss_db, relative_db
