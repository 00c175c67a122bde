"""What stands between neighbouring cells of a storey: solid share and how much passes, by band.

Two sample lines cross each face between cells, a quarter of a cell off its middle, so that a door
of 0.8 m is seen at any place on the lattice of half a metre.
"""

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SAMPLES = 2


@njit(cache=True, nogil=True)
def faces(  # noqa: PLR0913, PLR0917
    ends_m: Floats,
    heights_m: Floats,
    through: Floats,
    back: Floats,
    x0_m: float,
    y0_m: float,
    cell_m: float,
    columns: int,
    rows: int,
    low_m: float,
    high_m: float,
) -> tuple[Floats, Floats, Floats, Floats, Floats, Floats]:  # pragma: no cover
    """Return (solid, passed, thrown) of the faces to the right of each cell, then of those below it.

    `through` and `back` (walls, 3) are the shares of power from everywhere each wall lets through and
    throws back. `solid` (rows, columns) is the share of a face between `low_m` and `high_m` that is closed
    by walls and leaves; `passed` and `thrown` (3, rows, columns) the shares of power that come through
    these and back from them, by band. A face crossed by several walls passes their product and throws back
    what the first does.
    """
    solid = np.zeros((2, SAMPLES, rows, columns))
    passed = np.zeros((2, SAMPLES, 3, rows, columns))
    thrown = np.zeros((2, SAMPLES, 3, rows, columns))
    for i in range(ends_m.shape[0]):
        share = (min(high_m, heights_m[i, 1]) - max(low_m, heights_m[i, 0])) / (high_m - low_m)
        if share <= 1e-6 or through[i].min() >= 1.0:
            continue
        for way in range(2):
            # Way 0 goes along x over lines of equal y; way 1 the other way round.
            a0, b0 = ends_m[i, way], ends_m[i, 1 - way]
            a1, b1 = ends_m[i, 2 + way], ends_m[i, 3 - way]
            if b0 == b1:
                continue
            origin_a, origin_b = (x0_m, y0_m) if way == 0 else (y0_m, x0_m)
            count_a, count_b = (columns, rows) if way == 0 else (rows, columns)
            for s in range(SAMPLES):
                shift = (s + 0.5) / SAMPLES
                first = max(0, int(math.ceil((min(b0, b1) - origin_b) / cell_m - shift)))
                last = min(count_b - 1, int(math.ceil((max(b0, b1) - origin_b) / cell_m - shift)) - 1)
                for line in range(first, last + 1):
                    b = origin_b + (line + shift) * cell_m
                    a = a0 + (b - b0) / (b1 - b0) * (a1 - a0)
                    link = int(math.ceil((a - origin_a) / cell_m - 0.5)) - 1
                    if link < 0 or link >= count_a - 1:
                        continue
                    row, column = (line, link) if way == 0 else (link, line)
                    _close(solid, passed, thrown, way, s, row, column, share, through[i], back[i])
    return (
        solid[0].sum(axis=0) / SAMPLES,
        passed[0].sum(axis=0) / SAMPLES,
        thrown[0].sum(axis=0) / SAMPLES,
        solid[1].sum(axis=0) / SAMPLES,
        passed[1].sum(axis=0) / SAMPLES,
        thrown[1].sum(axis=0) / SAMPLES,
    )


@njit(cache=True, nogil=True)
def _close(  # noqa: PLR0913, PLR0917
    solid: Floats,
    passed: Floats,
    thrown: Floats,
    way: int,
    s: int,
    row: int,
    column: int,
    share: float,
    through: Floats,
    back: Floats,
) -> None:  # pragma: no cover
    """Put one wall into a face: beside what closes other heights of it, behind what closes the same."""
    before = solid[way, s, row, column]
    behind = before + share > 1.0 + 1e-6
    for band in range(3):
        if behind:
            passed[way, s, band, row, column] *= through[band]
        else:
            passed[way, s, band, row, column] += share * through[band]
            thrown[way, s, band, row, column] += share * back[band]
    if not behind:
        solid[way, s, row, column] = before + share
