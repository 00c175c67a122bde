"""The way the energy takes round to a place: which cells hand it on, and what each stretch costs.

From the place the way goes back to the neighbour that hands over the most, until a cell that is
fed by direct rays. Levels along it are the balance's own, so the stretches add up exactly.
"""

from dataclasses import dataclass
from itertools import groupby, pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.job import Band, Point
from heathrise.core.radio.balance import Balance, balance_of
from heathrise.core.radio.reach import around
from heathrise.core.radio.scene import Scene, Transmitter
from heathrise.core.sums import Noun

Floats = NDArray[np.float64]
# A way longer than this goes in circles; it is cut there.
MOST_STEPS = 2000


class WayPlace(Noun):
    """A corner of the way on the sheet."""

    storey_id: str
    at: Point


@dataclass(frozen=True)
class Stretch:
    """A part of the way: through a space, or through a wall, door or floor by name. [dB, m]"""

    name: str
    loss_db: float
    length_m: float


@dataclass(frozen=True)
class DiffusePath:
    """Where direct rays feed the way, its level there as path gain, and its stretches in order."""

    starts_in: str
    start_gain_db: float
    stretches: tuple[Stretch, ...]
    places: tuple[WayPlace, ...]


def way_round(scene: Scene, transmitter: Transmitter, band: Band, cell: int) -> DiffusePath | None:
    """Return the strongest way round to a cell, None when nothing goes round to it."""
    balance = balance_of(scene)
    level = around(scene, transmitter, band).astype(float)
    if cell < 0 or level[cell] <= 0:
        return None
    cells = _uphill(balance, band, level, cell)[::-1]
    places = _Places(balance)
    names = [places.space(number) for number in cells]
    steps = [
        (places.between(a, b) or f"through {names[i + 1]}", level[a], level[b], places.apart_m(a, b))
        for i, (a, b) in enumerate(pairwise(cells))
    ]
    stretches = []
    for name, run in groupby(steps, key=lambda step: step[0]):
        parts = list(run)
        loss = 10 * np.log10(parts[0][1] / parts[-1][2])
        stretches.append(Stretch(name, float(loss), float(sum(part[3] for part in parts))))
    start = float(10 * np.log10(level[cells[0]]))
    return DiffusePath(names[0], start, tuple(stretches), tuple(places.corners(cells)))


def _uphill(balance: Balance, band: Band, level: Floats, cell: int) -> list[int]:
    """Return cells from a place back to where the way is fed by direct rays."""
    solver = balance.solver(band)
    flow = solver.between
    cells, seen = [cell], {cell}
    while len(cells) < MOST_STEPS:
        here = cells[-1]
        span = slice(flow.indptr[here], flow.indptr[here + 1])
        neighbours = flow.indices[span]
        given = flow.data[span] * level[neighbours]
        fed = solver.taken_m2[here] * level[here] - given.sum()
        best = int(given.argmax()) if len(given) else -1
        if (
            best < 0
            or fed >= given[best]
            or neighbours[best] in seen
            or level[neighbours[best]] <= level[here]
        ):
            break
        cells.append(int(neighbours[best]))
        seen.add(cells[-1])
    return cells


class _Places:
    """Names and places of cells."""

    def __init__(self, balance: Balance):
        self.balance = balance
        self.building = balance.scene.building
        self.starts = np.cumsum([0, *(int((n >= 0).sum()) for n in balance.numbers.values())])
        self.ids = list(balance.numbers)

    def where(self, number: int) -> tuple[str, Point]:
        index = int(np.searchsorted(self.starts, number, side="right")) - 1
        storey_id = self.ids[index]
        grid, numbers = self.balance.grids[storey_id], self.balance.numbers[storey_id]
        row, column = np.argwhere(numbers == number)[0]
        x_m = grid.x0_m + (column + 0.5) * grid.cell_m
        y_m = grid.y0_m + (row + 0.5) * grid.cell_m
        return storey_id, Point(x_m=round(float(x_m), 3), y_m=round(float(y_m), 3))

    def space(self, number: int) -> str:
        storey_id, at = self.where(number)
        found = self.building.space_at(storey_id, at)
        return found.label if found else self.building.storey(storey_id).label

    def apart_m(self, one: int, other: int) -> float:
        (s1, a), (s2, b) = self.where(one), self.where(other)
        rise = self.building.storey(s1).elevation_m - self.building.storey(s2).elevation_m
        return float(np.sqrt((a.x_m - b.x_m) ** 2 + (a.y_m - b.y_m) ** 2 + rise**2))

    def between(self, one: int, other: int) -> str | None:
        """Return the name of the wall, door or floor between two neighbouring cells, None for air."""
        (s1, a), (s2, b) = self.where(one), self.where(other)
        if s1 != s2:
            return self._floor(s1, s2, a)
        z_m = self.building.storey(s1).elevation_m + 1.0
        line = shapely.LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
        o = self.building.obstacles
        near = np.flatnonzero(
            (o.heights_m[:, 0] <= z_m)
            & (o.heights_m[:, 1] > z_m)
            & (np.minimum(o.ends_m[:, 0], o.ends_m[:, 2]) <= max(a.x_m, b.x_m) + 1e-9)
            & (np.maximum(o.ends_m[:, 0], o.ends_m[:, 2]) >= min(a.x_m, b.x_m) - 1e-9)
            & (np.minimum(o.ends_m[:, 1], o.ends_m[:, 3]) <= max(a.y_m, b.y_m) + 1e-9)
            & (np.maximum(o.ends_m[:, 1], o.ends_m[:, 3]) >= min(a.y_m, b.y_m) - 1e-9)
        )
        hit = [int(i) for i in near if line.intersects(shapely.LineString(o.ends_m[i].reshape(2, 2)))]
        return o.names[min(hit, key=lambda i: o.losses_db[i, 1])] if hit else None

    def _floor(self, s1: str, s2: str, at: Point) -> str | None:
        upper = max((self.building.storey(s) for s in (s1, s2)), key=lambda storey: storey.elevation_m)
        here = shapely.Point(at.x_m, at.y_m)
        slabs = self.building.slabs
        return next(
            (s.name for s in slabs if abs(s.z_m - upper.elevation_m) < 1e-6 and s.area.covers(here)), None
        )

    def corners(self, cells: list[int]) -> list[WayPlace]:
        """Return the way as few corners, storey by storey."""
        places = [self.where(number) for number in cells]
        found = []
        for storey_id, run in groupby(places, key=lambda place: place[0]):
            points = [(at.x_m, at.y_m) for _, at in run]
            line = shapely.LineString(points).simplify(0.4) if len(points) > 1 else None
            kept = list(line.coords) if line is not None else points
            found += [WayPlace(storey_id=storey_id, at=Point(x_m=x, y_m=y)) for x, y in kept]
        return found
