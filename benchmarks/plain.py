"""The same sum the plain way: Shapely's STRtree finds the walls a ray crosses, NumPy adds them."""

import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.radio.scene import Grid, Scene, Transmitter

Floats = NDArray[np.float64]


class PlainSolution:
    """Wall and slab losses over a grid, one ray a cell, without sectors or compiled code."""

    def __init__(self, scene: Scene):
        ends = scene.ends_m
        self.scene = scene
        self.lines = shapely.linestrings(ends.reshape(-1, 2, 2))
        self.tree = shapely.STRtree(self.lines)

    def losses_db(self, transmitter: Transmitter, grid: Grid, band: int) -> Floats:
        """Return walls and slabs crossed by the ray to each cell, each by its angle, one band. [dB]"""
        points = grid.points_m()
        starts = np.broadcast_to((transmitter.x_m, transmitter.y_m), (len(points), 2))
        rays = shapely.linestrings(np.stack([starts, points[:, :2]], axis=1))
        which, wall = self.tree.query(rays, predicate="intersects")
        hits = shapely.intersection(rays[which], self.lines[wall])
        share = shapely.line_locate_point(rays[which], hits, normalized=True)
        z = transmitter.z_m + share * (points[which, 2] - transmitter.z_m)
        low, high = self.scene.heights_m[wall].T
        crossed = (z >= low) & (z < high)
        ways = points - (transmitter.x_m, transmitter.y_m, transmitter.z_m)
        ends = self.scene.ends_m[wall]
        normals = np.stack([ends[:, 1] - ends[:, 3], ends[:, 2] - ends[:, 0]], axis=1)
        normals /= np.linalg.norm(normals, axis=1, keepdims=True)
        cosines = np.abs((ways[which, :2] * normals).sum(axis=1)) / np.linalg.norm(ways[which], axis=1)
        losses = np.where(crossed, self._read(self.scene.wall_rows[wall], cosines, band), 0.0)
        walls = np.bincount(which, losses, minlength=len(points))
        return walls + self._slabs(transmitter, points, band)

    def _read(self, rows: NDArray[np.int64], cosines: Floats, band: int) -> Floats:
        """Return what build-ups cost at cosines off their normals, at the nearest entry of their tables."""
        last = self.scene.loss_db.shape[1] - 1
        found: Floats = self.scene.loss_db[rows, np.minimum((cosines * last + 0.5).astype(int), last), band]
        return found

    def _slabs(self, transmitter: Transmitter, points: Floats, band: int) -> Floats:
        total = np.zeros(len(points))
        rise = points[:, 2] - transmitter.z_m
        cosines = np.abs(rise) / np.linalg.norm(
            points - (transmitter.x_m, transmitter.y_m, transmitter.z_m), axis=1
        )
        for slab, row in zip(self.scene.building.slabs, self.scene.slab_rows, strict=True):
            with np.errstate(divide="ignore", invalid="ignore"):
                share = (slab.z_m - transmitter.z_m) / rise
            x = transmitter.x_m + share * (points[:, 0] - transmitter.x_m)
            y = transmitter.y_m + share * (points[:, 1] - transmitter.y_m)
            through = (share > 0) & (share < 1)
            inside = shapely.contains_xy(slab.area, np.where(through, x, 1e9), np.where(through, y, 1e9))
            loss = self._read(np.full(len(points), row), cosines, band)
            total += np.where(inside & through, loss, 0.0)
        return total
