"""Energy that goes round: reflected power in balance between the cells of the air indoors.

Straight rays through heavy walls find too little: the energy comes out of the door and along the
corridor. It is kept here as a balance. Every cell (0.5 m square, a storey high) holds diffuse
power `u`, expressed as path gain. What walls, floors and ceilings scatter of the direct rays, and
what walls mirror on of rays that `mirrors` follows no further, feeds it; it spreads to the
next cell through open faces as by diffusion, passes walls, doors and slabs by their losses, and is
taken up by whatever it meets:

    (taken up + passed on) u  -  sum over neighbours of (conductance x their u)
        =  scattered x direct  +  carried on x mirrored and followed no further

Areas in m2, gains as ratios of power. The matrix is symmetric and depends on the building alone:
it is factored once, and each access point costs one solution. The sum of direct and indirect power
is never below the direct.

References
----------
Power balance between coupled rooms (Hill et al., IEEE Trans. EMC 36(3), 1994; Andersen et al., "Room
electromagnetics", IEEE Antennas Prop. Mag. 49(2), 2007); diffusion between open parts of a space
as in room acoustics (Picaut et al., Acustica 83, 1997), conductance 4/3 of the mean free path over
the step. Constants fitted on traced scenes: docs/accuracy.md.
"""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy import sparse
from scipy.sparse.linalg import SuperLU, splu

from heathrise.core.job import BANDS, Band
from heathrise.core.library import limit
from heathrise.core.radio.faces import faces
from heathrise.core.radio.scene import Grid, Scene
from heathrise.core.radio.threads import each

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
# So many access points are solved for together: with more, the linear algebra starts threads of its own.
_AT_ONCE = 4


@dataclass(frozen=True)
class Faces:
    """Faces between two cells, or a cell and the outside (-1): solid share, shares passed and thrown by band.

    `step_m` is the way between the cells' middles; infinite for floors, which nothing spreads over.
    """

    one: Ints
    other: Ints
    area_m2: Floats
    solid: Floats
    passed: Floats
    thrown: Floats
    step_m: Floats


class Balance:
    """The cells indoors of a building and how power moves between them."""

    def __init__(self, scene: Scene, cell_m: float):
        self.scene = scene
        self.cell_m = cell_m
        self.grids: dict[str, Grid] = {
            storey.id: scene.grid(storey.id, cell_m) for storey in scene.building.storeys
        }

    @cached_property
    def numbers(self) -> dict[str, Ints]:
        """The number of each grid cell among the cells indoors, -1 outdoors, (rows, columns)."""
        found, count = {}, 0
        for storey_id, grid in self.grids.items():
            points = grid.points_m()
            inside = shapely.contains_xy(self.scene.building.inside[storey_id], points[:, 0], points[:, 1])
            numbers = np.full(len(points), -1)
            numbers[inside] = count + np.arange(int(inside.sum()))
            count += int(inside.sum())
            found[storey_id] = numbers.reshape(grid.rows, grid.columns)
        return found

    @cached_property
    def free_path_m(self) -> Floats:
        """The free path between reflections at each cell, 4 V / S of its space, guided, (n,). [m]"""
        found = np.full(self.count, limit("air.free_path_m"))
        building = self.scene.building
        for storey_id, numbers in self.numbers.items():
            points, flat = self.grids[storey_id].points_m(), numbers.ravel()
            height = building.top_m(building.storey(storey_id)) - building.storey(storey_id).elevation_m
            # The largest first: a room inside a hall has its own.
            for space in sorted(building.spaces[storey_id], key=lambda s: -building.polygons[s.id].area):
                shape = building.polygons[space.id]
                here = shapely.contains_xy(shape, points[:, 0], points[:, 1]) & (flat >= 0)
                volume, surface = shape.area * height, 2 * shape.area + shape.length * height
                found[flat[here]] = 4 * volume / surface * _guiding(shape)
        return found

    @cached_property
    def level_back(self) -> Floats:
        """What the floor (0) and the ceiling (1) of each cell's storey throw back by band, (n, 2, 3)."""
        found, scene = np.zeros((self.count, 2, 3)), self.scene
        for numbers, rows in zip(self.numbers.values(), scene.levels, strict=True):
            found[numbers[numbers >= 0]] = scene.book.diffuse(np.array(rows, np.int64))[1]
        return found

    @property
    def count(self) -> int:
        """How many cells there are."""
        return sum(int((numbers >= 0).sum()) for numbers in self.numbers.values())

    @cached_property
    def faces(self) -> Faces:
        """Every face of every cell, upright ones storey by storey, then the floors between."""
        parts = [part for storey_id in self.grids for part in self._upright(storey_id)]
        ids = list(self.grids)
        parts += [self._level(low, high) for low, high in pairwise(ids)]
        columns = zip(*parts, strict=True) if parts else [np.empty(0)] * 7
        return Faces(*(np.concatenate(column) for column in columns))

    def _upright(self, storey_id: str) -> list[tuple[Any, ...]]:
        building, grid, numbers = self.scene.building, self.grids[storey_id], self.numbers[storey_id]
        storey = building.storey(storey_id)
        low, high = storey.elevation_m, building.top_m(storey)
        scene = self.scene
        solid_x, passed_x, thrown_x, solid_y, passed_y, thrown_y = faces(
            scene.ends_m,
            scene.heights_m,
            *scene.book.diffuse(scene.wall_rows),
            grid.x0_m,
            grid.y0_m,
            grid.cell_m,
            grid.columns,
            grid.rows,
            low,
            high,
        )
        parts = []
        for one, other, solid, passed, thrown in (
            (numbers[:, :-1], numbers[:, 1:], solid_x[:, :-1], passed_x[:, :, :-1], thrown_x[:, :, :-1]),
            (numbers[:-1], numbers[1:], solid_y[:-1], passed_y[:, :-1], thrown_y[:, :-1]),
        ):
            used = (one >= 0) | (other >= 0)
            n = int(used.sum())
            area = np.full(n, self.cell_m * (high - low))
            share = np.minimum(solid[used], 1.0)
            through, back = passed[:, used].T, thrown[:, used].T
            parts.append((one[used], other[used], area, share, through, back, np.full(n, self.cell_m)))
        return parts

    def _level(self, low: str, high: str) -> tuple[Any, ...]:
        """Return the floor between two storeys, cell by cell; stairs and atria are open."""
        one, other = self.numbers[low].ravel(), self.numbers[high].ravel()
        both = (one >= 0) & (other >= 0)
        points = self.grids[high].points_m()[both]
        through, back = np.ones((len(points), 3)), np.zeros((len(points), 3))
        scene, slab = self.scene, np.zeros(len(points), np.bool_)
        floor_m = scene.building.storey(high).elevation_m
        for made, *shares in zip(scene.building.slabs, *scene.book.diffuse(scene.slab_rows), strict=True):
            if abs(made.z_m - floor_m) < 1e-6:
                here = shapely.contains_xy(made.area, points[:, 0], points[:, 1])
                through[here] *= shares[0]
                back[here] = shares[1]
                slab |= here
        # Indoors most power runs level: a hole in a floor takes only a share of it along.
        closed = np.where(slab, 1.0, 1.0 - limit("air.open_floor_share"))
        area = np.full(len(points), self.cell_m**2)
        # The rest of a hole is taken for floor that keeps what reaches it.
        return (
            one[both],
            other[both],
            area,
            closed,
            slab[:, None] * through,
            back,
            np.full(len(points), np.inf),
        )

    def solver(self, band: Band) -> "Solver":
        """Return the factored balance of a band, kept."""
        return _solver(self, band)


class Solver:
    """The balance of one band, factored."""

    def __init__(self, balance: Balance, band: Band):
        self.balance = balance
        found, n, index = balance.faces, balance.count, BANDS.index(band)
        back_m2 = found.area_m2 * np.minimum(found.thrown[:, index], found.solid)
        closed_m2 = found.area_m2 * found.solid - back_m2
        self.open_m2 = found.area_m2 * (1 - found.solid) * self._spread()
        self.conductance_m2 = self.open_m2 + np.minimum(found.area_m2 * found.passed[:, index], closed_m2)
        taken, thrown = self._floors(index)
        walls, upright = np.zeros(n), np.isfinite(found.step_m)
        for side in (found.one, found.other):
            inside = side >= 0
            taken += np.bincount(side[inside], (self.open_m2 + closed_m2)[inside], minlength=n)
            thrown += np.bincount(side[inside], back_m2[inside], minlength=n)
            walls += np.bincount(side[inside & upright], back_m2[inside & upright], minlength=n)
        # What floors and walls throw back, and of it what walls do.
        self.taken_m2, self.thrown_m2, self.walls_m2 = taken, thrown, walls
        both = (found.one >= 0) & (found.other >= 0)
        one, other, flow = found.one[both], found.other[both], self.conductance_m2[both]
        between = sparse.csc_matrix((flow, (one, other)), shape=(n, n))
        self.between = (between + between.T).tocsr()
        self.matrix = (sparse.diags(taken) - self.between).tocsc()

    def _spread(self) -> Floats:
        """Return by how much an open face conducts more than its area: 4/3 of the free path over the
        step between cells; 1 through floors and to the outside.
        """
        balance, found = self.balance, self.balance.faces
        path = balance.free_path_m
        between = 2 / (1 / path[found.one] + 1 / path[found.other]) * 4 / 3 / found.step_m
        plain = (found.one < 0) | (found.other < 0) | np.isinf(found.step_m)
        spread: Floats = np.where(plain, 1.0, between)
        return spread

    def _floors(self, index: int) -> tuple[Floats, Floats]:
        """Return what each cell's floor and ceiling take up and throw back, where no other storey lies
        beyond them; those between storeys are faces.
        """
        balance, found = self.balance, self.balance.faces
        taken, thrown = np.zeros(balance.count), np.zeros(balance.count)
        level = np.isinf(found.step_m)
        for row, side in enumerate((found.other[level], found.one[level])):
            free_m2 = balance.cell_m**2 - np.bincount(side, found.area_m2[level], minlength=balance.count)
            back = balance.level_back[:, row, index]
            taken += free_m2 * (1 - back)
            thrown += free_m2 * back
        return taken, thrown

    @property
    def factor(self) -> SuperLU:
        """The factored matrix, kept."""
        return _factor(self)

    def around(self, direct_gain: Floats, last_mirrored: Floats | None = None) -> Float32s:
        """Return the indirect path gain of each cell from its direct one, both (n,) or (n, points).

        Where mirrors were followed, `direct_gain` is the share of it that is scattered
        (`scattered`); `last_mirrored` is what mirrored rays bring that are followed no further: walls
        send it on round.
        """
        source = self.thrown_m2 * direct_gain.T
        if last_mirrored is not None:
            source = source + limit("air.carried_on_share") * self.walls_m2 * last_mirrored.T
        # Several at once read the factors once, a few threads beside each other.
        parts = (
            [source.T] if source.ndim == 1 else np.array_split(source.T, -(-len(source) // _AT_ONCE), axis=1)
        )
        solved = each(lambda part: self.factor.solve(np.asfortranarray(part, np.float32)), parts)
        found: Float32s = np.maximum(solved[0] if source.ndim == 1 else np.hstack(solved), np.float32(0.0))
        return found


def scattered(direct_gain: Floats, followed: Bools) -> Floats:
    """Return the direct gain that feeds the balance: all of it, or the share that is not mirrored where
    mirrors were followed.
    """
    return np.where(followed, limit("air.scattered_share") * direct_gain, direct_gain)


def _guiding(shape: shapely.Polygon) -> float:
    """Return by how much a long space guides: 1 for a room, up to the limit for a corridor."""
    longness = float(shape.length) ** 2 / (16 * float(shape.area))
    return 1.0 + (limit("air.corridor_guides") - 1.0) * min(1.0, max(0.0, longness - 1.5))


@lru_cache(maxsize=8)
def balance_of(scene: Scene, cell_m: float = 0.5) -> Balance:
    """Return the balance of a scene, kept while the scene is."""
    return Balance(scene, cell_m)


@lru_cache(maxsize=12)
def _factor(solver: Solver) -> SuperLU:
    """Factor a balance; several at a time may be, a thread each."""
    options = {"SymmetricMode": True}
    # Halved in memory and quicker to read; off by less than 0.001 dB, as no sum here takes away.
    matrix = solver.matrix.astype(np.float32)
    return splu(matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options=options)


@lru_cache(maxsize=24)
def _solver(balance: Balance, band: Band) -> Solver:
    return Solver(balance, band)
