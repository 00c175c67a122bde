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

    Without `mirrors` what it sends is taken to go round at once: quicker, and a little less true.
    """

    x_m: float
    y_m: float
    z_m: float
    axis: Vector
    up: Vector
    pattern: str
    mirrors: bool = True


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
        self.losses_db = self._learned(obstacles.losses_db, obstacles.build_ups)
        self.slab_z_m = np.array([slab.z_m for slab in building.slabs], float)
        slab_losses = np.array([s.losses_db for s in building.slabs], float).reshape(-1, 3)
        self.slab_losses_db = self._learned(slab_losses, tuple(s.build_up for s in building.slabs))
        self.slab_offsets, self.slab_edges_m = _rings([slab.area for slab in building.slabs])
        self.areas = building.areas if self.model.area_losses else ()
        self.area_offsets, self.area_edges_m = _rings([area.outline for area in self.areas])
        self.area_heights_m = np.array([area.heights_m for area in self.areas], float).reshape(-1, 2)
        self.area_losses_db_m = np.array([a.losses_db_m for a in self.areas], float).reshape(-1, 3)
        domain = job.site.domain
        self.one_metre_db = np.array([free_space_1m_db(band_mhz(b, domain)) for b in BANDS])
        self.bound_db = np.array([limit(f"air.wall_bound_{b.replace('.', '')}_db") for b in BANDS])

    def _learned(self, losses_db: Floats, build_ups: tuple[str | None, ...]) -> Floats:
        """Return losses with the shift fitted for each build-up; none falls under zero."""
        shifts = {s.build_up: s.shift_db for s in self.learned.shifts} if self.learned else {}
        by_row = np.array([shifts.get(code or "", 0.0) for code in build_ups]).reshape(-1, 1)
        shifted: Floats = np.where(losses_db > 0, np.maximum(losses_db + by_row, 0.0), losses_db)
        return np.ascontiguousarray(shifted)

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
            self.slab_z_m,
            self.slab_losses_db,
            self.slab_offsets,
            self.slab_edges_m,
            self.one_metre_db - self.offset_db,
            self.bound_db,
            limit("air.exponent"),
            self.model.true_angle,
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

    def walls_only_db(self, source_m: Floats, points_m: Floats) -> Float32s:
        """Return what free space and walls alone take of the rays from a place to points (n, 3), (3, n). [dB]"""
        even, ahead = np.zeros(2), np.array([0.0, 0.0, 1.0])
        no_bound = np.full(3, np.inf)
        loss_db, _ = ray_losses(
            source_m,
            ahead,
            even,
            points_m,
            *self._sectors(source_m, points_m),
            np.empty(0),
            np.empty((0, 3)),
            np.zeros(1, np.int64),
            np.empty((0, 4)),
            self.one_metre_db,
            no_bound,
            2.0,
            False,
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
        return sector_index(self.ends_m, self.heights_m, self.losses_db, seen, x_m, y_m, low, high)


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
