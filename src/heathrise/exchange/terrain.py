"""A layer of the air as bands and contours: where each level is reached, its tint, where its figure stands."""

from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.radio.scene import Grid

Floats = NDArray[np.float64]
# Contours are drawn through a surface this much finer than the cells.
_FINER = 4
_PALE, _DEEP = (244, 239, 221), (154, 111, 172)
# A contour shorter than this carries no figure.
_LABELLED_M = 5.0


@dataclass(frozen=True)
class Terrain:
    """A grid of values and the levels of its contours."""

    grid: Grid
    values: Floats
    levels: tuple[float, ...]

    @property
    def rows(self) -> Floats:
        """Values by row and column; a place without one lies under every level."""
        return np.nan_to_num(self.values.reshape(self.grid.rows, self.grid.columns), nan=-1e6)

    def rings(self, level: float) -> list[Floats]:
        """Return the outlines of where a level is reached, in metres, (n, 2) each."""
        size = (self.grid.columns * _FINER, self.grid.rows * _FINER)
        fine = cv2.resize(self.rows.astype(np.float32), size, interpolation=cv2.INTER_LINEAR)
        reached = (fine >= level).astype(np.uint8)
        found, _ = cv2.findContours(reached, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
        step = self.grid.cell_m / _FINER
        corner = np.array([self.grid.x0_m, self.grid.y0_m])
        rings = [corner + (ring.reshape(-1, 2) + 0.5) * step for ring in found if len(ring) > 2]
        return [np.asarray(shapely.LineString(ring).simplify(0.4 * step).coords) for ring in rings]

    def contours(self, level: float) -> list[Floats]:
        """Return the lines of a level without what only follows the edge of the sheet."""
        g, rim = self.grid, self.grid.cell_m / _FINER
        x1, y1 = g.x0_m + g.columns * g.cell_m, g.y0_m + g.rows * g.cell_m
        sheet = shapely.box(g.x0_m + rim, g.y0_m + rim, x1 - rim, y1 - rim)
        lines = [shapely.LineString([*ring, ring[0]]).intersection(sheet) for ring in self.rings(level)]
        parts = shapely.get_parts(shapely.line_merge(lines))
        return [np.asarray(part.coords) for part in parts if part.geom_type == "LineString"]

    def labelled(self, ring: Floats) -> tuple[float, float] | None:
        """Return where the figure of a contour stands, None for one too short to carry it."""
        line = shapely.LineString(ring)
        if line.length < _LABELLED_M:
            return None
        at = line.interpolate(0.37, normalized=True)
        return float(at.x), float(at.y)

    def tint(self, number: int) -> str:
        """Return the colour of a band as #RRGGBB, pale sedge to deep heather."""
        share = number / max(len(self.levels), 1)
        mixed = (round(a + share * (b - a)) for a, b in zip(_PALE, _DEEP, strict=True))
        return "#" + "".join(f"{part:02X}" for part in mixed)


def figure(level: float) -> str:
    """Return a level as it stands on a contour."""
    return f"\u2212{-level:g}" if level < 0 else f"{level:g}"
