"""The building as arrays for the kernel, and losses from one access point to many points."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from threading import Lock

import numpy as np
import shapely
from cachetools import cached
from numpy.typing import NDArray

from heathrise.core.job import BANDS, AccessPoint, Antenna
from heathrise.core.library import limit
from heathrise.core.library.by_angle import COSINES, NOTHING, ByAngle, by_angle, even
from heathrise.core.radio.antenna import Pattern, Vector, code_of, frame, pattern
from heathrise.core.radio.budget import band_mhz, free_space_1m_db
from heathrise.core.radio.keeping import room
from heathrise.core.radio.kernel import Ints, add_areas, bearings, ray_losses, sector_index
from heathrise.core.site.building import Building

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]


@dataclass(frozen=True)
class Grid:
    """Cell centres at one height: x = x0 + (column + 0.5) cell, y likewise by row."""

    x0_m: float
    y0_m: float
    cell_m: float
    columns: int
    rows: int
    z_m: float

    def points_m(self) -> Floats:
        """Return the centres row by row, shape (rows * columns, 3); not to be written to."""
        return _centres(self)


@lru_cache(maxsize=16)
def _centres(grid: Grid) -> Floats:
    xs = grid.x0_m + (np.arange(grid.columns) + 0.5) * grid.cell_m
    ys = grid.y0_m + (np.arange(grid.rows) + 0.5) * grid.cell_m
    points = np.empty((grid.rows * grid.columns, 3))
    points[:, 0] = np.tile(xs, grid.rows)
    points[:, 1] = np.repeat(ys, grid.columns)
    points[:, 2] = grid.z_m
    return points


@dataclass(frozen=True)
class Transmitter:
    """Where an access point's antenna is and how it looks: all that its losses depend on.

    Without `mirrors` what it sends is taken to go round at once: quicker, and a little less true. Without
    `floors` mirrored rays are followed on its own storey only, and fewer of them: for spots that are tried.
    """

    x_m: float
    y_m: float
    z_m: float
    axis: Vector
    up: Vector
    pattern: str
    mirrors: bool = True
    floors: bool = True


@dataclass(frozen=True)
class Losses:
    """Path loss between isotropic antennas, (3, n) by band, and gain under the peak, (n,). [dB]"""

    loss_db: Float32s
    relative_db: Float32s


class Scene:
    """A building flattened for the kernel, with the domain's frequencies and the job's steps.

    Losses are those of the library with what the job's calibration learned of each build-up.
    """

    def __init__(self, building: Building):
        obstacles, job = building.obstacles, building.job
        self.building = building
        self.model = job.air_model
        self.mirrors = self.model.round and self.model.mirrors
        self.learned = job.calibration if self.model.calibrated else None
        self.offset_db = self.learned.offset_db if self.learned else 0.0
        self.ends_m = np.ascontiguousarray(obstacles.ends_m)
        self.heights_m = np.ascontiguousarray(obstacles.heights_m)
        self.book = Book(self)
        self.wall_rows = self.book.rows_of(obstacles.build_ups, obstacles.losses_db)
        self.slab_z_m = np.array([slab.z_m for slab in building.slabs], float)
        self.slab_rows = self.book.rows_of(
            tuple(slab.build_up for slab in building.slabs),
            np.array([slab.losses_db for slab in building.slabs], float).reshape(-1, 3),
        )
        self.levels = self._levels()
        # After the last build-up has its row. What floor and ceiling let through straight on, at 5 GHz.
        self.loss_db, self.back = self.book.loss_db, self.book.back
        self.levels_db = [
            (float(self.loss_db[low, -1, 1]), float(self.loss_db[high, -1, 1])) for low, high in self.levels
        ]
        # Straight on.
        self.losses_db = np.ascontiguousarray(self.loss_db[self.wall_rows, -1])
        self.slab_losses_db = np.ascontiguousarray(self.loss_db[self.slab_rows, -1])
        self.walls = _walls(self)
        self.slab_offsets, self.slab_edges_m = _rings([slab.area for slab in building.slabs])
        self.areas = building.areas if self.model.area_losses else ()
        self.area_offsets, self.area_edges_m = _rings([area.outline for area in self.areas])
        self.area_heights_m = np.array([area.heights_m for area in self.areas], float).reshape(-1, 2)
        self.area_losses_db_m = np.array([a.losses_db_m for a in self.areas], float).reshape(-1, 3)
        domain = job.site.domain
        self.one_metre_db = np.array([free_space_1m_db(band_mhz(b, domain)) for b in BANDS])

    def _levels(self) -> tuple[tuple[int, int], ...]:
        """Return which rows of the book the floor and the ceiling of each storey are."""
        site, storeys = self.building.job.site, self.building.storeys
        own = [self.book.row_of(storey.slab_build_up) for storey in storeys]
        above = [*own[1:], self.book.row_of(site.roof_build_up)]
        return tuple(zip(own, above[: len(own)], strict=True))

    def crossing_db(self, row: int, cosine: float, band: int) -> float:
        """Return what a build-up costs a ray that meets it at a cosine off its normal. [dB]"""
        return _read(self.loss_db[row, :, band], cosine)

    def back_share(self, row: int, cosine: float, band: int) -> float:
        """Return the share of power a build-up throws back of such a ray."""
        return _read(self.back[row, :, band], cosine)

    def grid(self, storey_id: str, cell_m: float = 0.5, height_m: float | None = None) -> Grid:
        """Return the grid over everything drawn, at a height above one storey's floor."""
        above = limit("air.client_height_m") if height_m is None else height_m
        box = self.building.bounds
        return Grid(
            box.x0_m,
            box.y0_m,
            cell_m,
            int(np.ceil((box.x1_m - box.x0_m) / cell_m)),
            int(np.ceil((box.y1_m - box.y0_m) / cell_m)),
            self.building.storey(storey_id).elevation_m + above,
        )

    def transmitter(self, point: AccessPoint) -> Transmitter:
        """Return where an access point's antenna is."""
        z_m = self.building.storey(point.storey_id).elevation_m + point.height_m
        code = code_of(self.building.job, point)
        axis, up = frame(point, code, isinstance(self.building.job.patterns[code], Antenna))
        return Transmitter(point.at.x_m, point.at.y_m, z_m, axis, up, code)

    def losses(self, transmitter: Transmitter, points_m: Floats) -> Losses:
        """Return the losses from a transmitter to points (n, 3), for all bands at once."""
        source = np.array([transmitter.x_m, transmitter.y_m, transmitter.z_m])
        shape = pattern_of(self, transmitter.pattern)
        loss_db, relative_db = ray_losses(
            source,
            np.asarray(transmitter.axis),
            shape.by_cosine,
            points_m,
            *self._sectors(source, points_m),
            self.loss_db,
            self.slab_z_m,
            self.slab_rows,
            self.slab_offsets,
            self.slab_edges_m,
            self.one_metre_db - self.offset_db,
            limit("air.exponent"),
            np.asarray(transmitter.up),
            shape.azimuth,
            shape.elevation,
        )
        if self.areas:
            add_areas(
                loss_db,
                source,
                points_m,
                self.area_edges_m,
                self.area_offsets,
                self.area_heights_m,
                self.area_losses_db_m,
            )
        return Losses(loss_db, relative_db)

    def walls_and_slabs_db(self, source_m: Floats, points_m: Floats) -> Float32s:
        """Return what free space, walls and floors take of the rays from a place to points (n, 3), (3, n). [dB]"""
        even, ahead = np.zeros(2), np.array([0.0, 0.0, 1.0])
        loss_db, _ = ray_losses(
            source_m,
            ahead,
            even,
            points_m,
            *self._sectors(source_m, points_m),
            self.loss_db,
            self.slab_z_m,
            self.slab_rows,
            self.slab_offsets,
            self.slab_edges_m,
            self.one_metre_db,
            2.0,
            ahead,
            np.zeros(1),
            np.zeros(1),
        )
        found: Float32s = loss_db
        return found

    def _sectors(self, source_m: Floats, points_m: Floats) -> tuple[Ints, Floats]:
        """Return the walls between a place and points, by the sector round the place they stand in."""
        x_m, y_m, z_m = map(float, source_m)
        heights = points_m[:, 2] if len(points_m) else source_m[2:]
        low, high = min(z_m, float(heights.min())), max(z_m, float(heights.max()))
        seen = _bearings(self, x_m, y_m)
        return sector_index(self.walls, seen, x_m, y_m, low, high)


class Book:
    """What the build-ups of a building cost and throw back by angle, a row each; row 0 is nothing.

    A build-up met straight on costs what the library says and the survey learned of it; without `true_angle`
    it costs that at every angle.
    """

    def __init__(self, scene: Scene):
        job = scene.building.job
        self.build_ups, self.domain, self.model = job.build_ups, job.site.domain, scene.model
        self.shifts = {s.build_up: s.shift_db for s in scene.learned.shifts} if scene.learned else {}
        self.pages: dict[tuple[str, tuple[float, ...]], int] = {}
        self.entries = [NOTHING]

    def rows_of(self, codes: Sequence[str | None], losses_db: Floats) -> Ints:
        """Return the row of each of some build-ups that cost so much straight on, (n,)."""
        return np.array(
            [self._row(code, tuple(loss)) for code, loss in zip(codes, losses_db.tolist(), strict=True)],
            np.int64,
        )

    def row_of(self, code: str) -> int:
        """Return the row of a build-up."""
        return self._row(code, self.build_ups[code].losses_db)

    def _row(self, code: str | None, loss_db: tuple[float, ...]) -> int:
        if code is None:
            return 0
        key = code, loss_db
        if key not in self.pages:
            self.pages[key] = len(self.entries)
            self.entries.append(self._entry(code, (loss_db[0], loss_db[1], loss_db[2])))
        return self.pages[key]

    def _entry(self, code: str, loss_db: tuple[float, float, float]) -> ByAngle:
        made = self.build_ups[code]
        # A planting is met twice, at half its loss each time.
        found = even(loss_db) if made.kind == "planting" else by_angle(made, self.domain)
        if not self.model.true_angle:
            found = ByAngle(np.tile(found.loss_db[-1], (COSINES, 1)), found.back)
        shifted = np.maximum(found.loss_db + self.shifts.get(code, 0.0), 0.0)
        return ByAngle(np.where(found.loss_db > 0, shifted, found.loss_db), found.back)

    @property
    def loss_db(self) -> Floats:
        """Loss by row, cosine off the normal and band, (rows, COSINES, 3). [dB]"""
        return np.ascontiguousarray([entry.loss_db for entry in self.entries])

    @property
    def back(self) -> Floats:
        """Share of power thrown back, likewise."""
        return np.ascontiguousarray([entry.back for entry in self.entries])

    def diffuse(self, rows: Ints) -> tuple[Floats, Floats]:
        """Return (passed, thrown back) of what comes from everywhere, (n, 3) each."""
        passed, back = zip(*(entry.diffuse for entry in self.entries), strict=True)
        return np.array(passed)[rows], np.array(back)[rows]


def _read(column: Floats, cosine: float) -> float:
    return float(column[min(int(cosine * (len(column) - 1) + 0.5), len(column) - 1)])


def _walls(scene: Scene) -> Floats:
    """Return the walls as the kernels read them: ends, heights, row of the book, normal, (walls, 9)."""
    along = scene.ends_m[:, 2:] - scene.ends_m[:, :2]
    normal = (
        np.column_stack([-along[:, 1], along[:, 0]])
        / np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)[:, None]
    )
    return np.column_stack([scene.ends_m, scene.heights_m, scene.wall_rows, normal])


def _rings(areas: Sequence[shapely.geometry.base.BaseGeometry]) -> tuple[Ints, Floats]:
    """Return (offsets, edges) of areas one after another."""
    rings = [_edges(area) for area in areas]
    edges_m = np.concatenate(rings) if rings else np.empty((0, 4))
    return np.cumsum([0, *(len(ring) for ring in rings)]), edges_m


def _edges(area: shapely.geometry.base.BaseGeometry) -> Floats:
    """Return every edge of an area's rings as x1 y1 x2 y2, the inside to the left of each."""
    rings = []
    for part in shapely.get_parts(area):
        if part.geom_type == "Polygon":
            turned = shapely.geometry.polygon.orient(part)
            for ring in (turned.exterior, *turned.interiors):
                xy = np.asarray(ring.coords)[:, :2]
                rings.append(np.hstack([xy[:-1], xy[1:]]))
    return np.concatenate(rings) if rings else np.empty((0, 4))


@lru_cache(maxsize=64)
def pattern_of(scene: Scene, code: str) -> Pattern:
    """Return a pattern as the kernel reads it, kept."""
    return pattern(scene.building.job, code)


@lru_cache(maxsize=128)
def _bearings(scene: Scene, x_m: float, y_m: float) -> tuple[Ints, Floats, Ints]:
    return bearings(scene.ends_m, x_m, y_m)


@lru_cache(maxsize=8)
def scene_of(building: Building) -> Scene:
    """Return the scene of a building, kept while the building is."""
    return Scene(building)


@cached(room(128), lock=Lock())
def grid_losses(scene: Scene, transmitter: Transmitter, grid: Grid) -> Losses:
    """Return the losses from a transmitter over a grid, kept: moving one point recomputes one point."""
    return scene.losses(transmitter, grid.points_m())
