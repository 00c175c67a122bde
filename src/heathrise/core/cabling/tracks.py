"""Drawn pathways as lines with marks along them, where cables get on and off."""

import math
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
import shapely
import shapely.ops

from heathrise.core.job import Job, Pathway, Point
from heathrise.core.library import limit

# Pathways that come nearer than this to each other join.
MEETS_M = 0.3
_NEAR_M = 1e-6


@dataclass(frozen=True)
class Track:
    """A drawn pathway as a line; `corners` and `joins` are marks along it. [m]"""

    pathway: Pathway
    line: shapely.LineString
    corners: tuple[float, ...]
    joins: tuple[float, ...]

    @property
    def share(self) -> float:
        """What a metre along it costs, against one in a ceiling void."""
        return limit("cabling.pathway_there_cost" if self.pathway.there else "cabling.pathway_new_cost")

    @cached_property
    def stations(self) -> tuple[float, ...]:
        """Its ends, corners and joins, in order along it."""
        return tuple(sorted({0.0, self.line.length, *self.corners, *self.joins}))

    def at(self, along_m: float) -> Point:
        """Return the place at a mark."""
        here = self.line.interpolate(along_m)
        return Point(x_m=round(here.x, 6), y_m=round(here.y, 6))

    def met_by(self, axis: str, at_m: float) -> list[float]:
        """Return the marks where a line along an axis meets it; of a part it lies on, none."""
        found, start_m = [], 0.0
        for one, other in pairwise(self.pathway.path):
            a, b = (one.y_m, other.y_m) if axis == "x" else (one.x_m, other.x_m)
            length_m = math.hypot(other.x_m - one.x_m, other.y_m - one.y_m)
            if abs(a - b) > _NEAR_M and min(a, b) - _NEAR_M <= at_m <= max(a, b) + _NEAR_M:
                found.append(start_m + length_m * min(1.0, max(0.0, (at_m - a) / (b - a))))
            start_m += length_m
        return found


def tracks_of(job: Job, storey_id: str) -> tuple[Track, ...]:
    """Return the drawn pathways of a storey, in their own order, with the marks where they join."""
    drawn = [p for p in job.of(Pathway) if p.storey_id == storey_id and len(p.path) > 1]
    lines = [shapely.LineString([(p.x_m, p.y_m) for p in pathway.path]) for pathway in drawn]
    tracks = []
    for pathway, line in zip(drawn, lines, strict=True):
        corners = tuple(line.project(shapely.Point(p.x_m, p.y_m)) for p in pathway.path[1:-1])
        others = [other for other in lines if other is not line and other.distance(line) < MEETS_M]
        joins = tuple(line.project(shapely.ops.nearest_points(line, other)[0]) for other in others)
        tracks.append(Track(pathway, line, corners, joins))
    return tuple(tracks)


def with_stations(track: Track, xs: np.ndarray, ys: np.ndarray) -> Track:
    """Return a track that can also be got on and off where straight parts of it pass lines of a lattice."""
    more, start_m = [], 0.0
    for one, other in pairwise(track.pathway.path):
        dx, dy = other.x_m - one.x_m, other.y_m - one.y_m
        length_m = math.hypot(dx, dy)
        if abs(dy) < _NEAR_M:
            more += [
                start_m + abs(x - one.x_m)
                for x in xs
                if min(one.x_m, other.x_m) < x < max(one.x_m, other.x_m)
            ]
        elif abs(dx) < _NEAR_M:
            more += [
                start_m + abs(y - one.y_m)
                for y in ys
                if min(one.y_m, other.y_m) < y < max(one.y_m, other.y_m)
            ]
        start_m += length_m
    joins = (*track.joins, *(float(mark) for mark in more))
    return Track(track.pathway, track.line, track.corners, joins)
