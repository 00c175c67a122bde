"""What floor and ceiling throw back of a ray, compiled: echoes on the same way in plan, longer in height.

On one storey an echo crosses the walls of its ray. To the storey above or below it crosses the floor between
more steeply and elsewhere: often through the stair that its ray misses.
"""

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from heathrise.core.radio.imaging import LOOSE, MEETINGS
from heathrise.core.radio.kernel import at_cosine, slabs_db

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
# Ways between floor and ceiling: by the floor, by the ceiling, by the floor and then the ceiling.
WAYS = 2


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def slabs_of_ray(  # noqa: PLR0913, PLR0917
    legs: int,
    place: Floats,
    shares: Floats,
    source_m: Floats,
    x: float,
    y: float,
    z0: float,
    z1: float,
    by_angle_db: Floats,
    slab_z_m: Floats,
    slab_rows: Ints,
    slab_offsets: Ints,
    slab_edges_m: Floats,
    low_m: float,
    high_m: float,
) -> tuple[float, float, float]:  # pragma: no cover
    """Return what a ray that goes from a height to another by its mirrors loses in floors between two heights, by band.

    `legs` is how many straight pieces it has; it meets its mirrors at `place` (MEETINGS, 3) in plan and at `shares` (MEETINGS,)
    of its way (`reflecting.mirror_met`).
    """
    s0, s1, s2 = 0.0, 0.0, 0.0
    ax, ay, az = source_m[0], source_m[1], z0
    for leg in range(legs):
        bx, by, bz = x, y, z1
        if leg < legs - 1:
            bx, by = place[leg, 0], place[leg, 1]
            for later in range(legs - 2, leg - 1, -1):
                bz = z0 + shares[later] * (bz - z0)
        c0, c1, c2 = slabs_db(
            ax, ay, az, bx - ax, by - ay, bz - az,
            by_angle_db, slab_z_m, slab_rows, slab_offsets, slab_edges_m, low_m, high_m,
        )  # fmt: skip
        s0, s1, s2 = s0 + c0, s1 + c1, s2 + c2
        ax, ay, az = bx, by, bz
    return s0, s1, s2


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def echo_heights(z0: float, z1: float, level_m: Floats, way: int) -> tuple[float, float]:  # pragma: no cover
    """Return from which height to which an echo by one of the `WAYS` goes when it is laid out straight.

    The floor throws back at the lower end, the ceiling at the upper.
    """
    low_m, high_m = min(z0, z1), max(z0, z1)
    if way != 1:
        low_m = 2.0 * level_m[0] - low_m
    if way != 0:
        high_m = 2.0 * level_m[1] - high_m
    return (low_m, high_m) if z0 <= z1 else (high_m, low_m)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def echoed(
    plan_sq: float, z0: float, z1: float, level_m: Floats, level_rows: Ints, back: Floats, way: int
) -> tuple[float, float, float]:  # pragma: no cover
    """Return what floor and ceiling throw back of a ray by one of the `WAYS`, as a share of the ray, by band.

    `plan_sq` is the square of its length in plan, `level_m` (2,) the heights of floor and ceiling and
    `level_rows` (2,) what they are.
    """
    straight_sq = max(plan_sq + (z1 - z0) * (z1 - z0), 1.0)
    from_m, to_m = echo_heights(z0, z1, level_m, way)
    way_sq = max(plan_sq + (to_m - from_m) * (to_m - from_m), 1e-9)
    cosine = abs(to_m - from_m) / math.sqrt(way_sq)
    s0 = straight_sq / max(way_sq, 1.0)
    s1, s2 = s0, s0
    for level in range(2):
        if way in (level, 2):
            b0, b1, b2 = at_cosine(back, level_rows[level], cosine)
            s0, s1, s2 = s0 * b0, s1 * b1, s2 * b2
    return s0, s1, s2


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def by_floor_and_ceiling(  # noqa: PLR0913, PLR0917
    legs: int,
    place: Floats,
    shares: Floats,
    source_m: Floats,
    x: float,
    y: float,
    z: float,
    plan_sq: float,
    level_m: Floats,
    level_rows: Ints,
    through: bool,
    back: Floats,
    by_angle_db: Floats,
    slab_z_m: Floats,
    slab_rows: Ints,
    slab_offsets: Ints,
    slab_edges_m: Floats,
) -> tuple[float, float, float]:  # pragma: no cover
    """Return what floor and ceiling throw back of a ray, as a share of the ray itself, by band.

    `through` says that there is a floor between both ends.
    """
    f0, f1, f2 = 0.0, 0.0, 0.0
    r0, r1, r2 = 0.0, 0.0, 0.0
    if through:
        r0, r1, r2 = slabs_of_ray(
            legs, place, shares, source_m, x, y, source_m[2], z,
            by_angle_db, slab_z_m, slab_rows, slab_offsets, slab_edges_m, level_m[0], level_m[1],
        )  # fmt: skip
    for way in range(WAYS):
        e0, e1, e2 = echoed(plan_sq, source_m[2], z, level_m, level_rows, back, way)
        if through:
            from_m, to_m = echo_heights(source_m[2], z, level_m, way)
            s0, s1, s2 = slabs_of_ray(
                legs, place, shares, source_m, x, y, from_m, to_m,
                by_angle_db, slab_z_m, slab_rows, slab_offsets, slab_edges_m, level_m[0], level_m[1],
            )  # fmt: skip
            e0, e1, e2 = (
                e0 * 10.0 ** ((r0 - s0) / 10.0), e1 * 10.0 ** ((r1 - s1) / 10.0), e2 * 10.0 ** ((r2 - s2) / 10.0)
            )  # fmt: skip
        f0, f1, f2 = f0 + e0, f1 + e1, f2 + e2
    return f0, f1, f2


@njit(cache=True, nogil=True, error_model="numpy", fastmath=LOOSE)
def levels_add(  # noqa: PLR0913, PLR0917
    points_m: Floats,
    source_m: Floats,
    level_m: Floats,
    level_rows: Ints,
    through: bool,
    back: Floats,
    by_angle_db: Floats,
    slab_z_m: Floats,
    slab_rows: Ints,
    slab_offsets: Ints,
    slab_edges_m: Floats,
) -> Floats:  # pragma: no cover
    """Return `by_floor_and_ceiling` for the straight rays to points (n, 3), (3, n)."""
    found, place, shares = np.empty((3, len(points_m))), np.zeros((MEETINGS, 3)), np.zeros(MEETINGS)
    for p in range(len(points_m)):
        x, y, z = points_m[p, 0], points_m[p, 1], points_m[p, 2]
        dx, dy = x - source_m[0], y - source_m[1]
        found[0, p], found[1, p], found[2, p] = by_floor_and_ceiling(
            1, place, shares, source_m, x, y, z, dx * dx + dy * dy, level_m, level_rows, through, back,
            by_angle_db, slab_z_m, slab_rows, slab_offsets, slab_edges_m,
        )  # fmt: skip
    return found
