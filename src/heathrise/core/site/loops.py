"""Spaces from walls: closed loops found and named, and the gaps that keep a loop from closing."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon

from heathrise.core.job import Point, Wall
from heathrise.core.library import limit

Floats = NDArray[np.float64]
# Ends this close touch; less than any gap worth pointing out. [m]
_TOUCH_M = 0.02
Segment = tuple[float, float, float, float]


@dataclass(frozen=True)
class Gap:
    """An end that stops short of what it should meet: from the end, to the place it would meet."""

    wall_id: str
    end: int
    at: tuple[float, float]
    to: tuple[float, float]

    @property
    def width_m(self) -> float:
        """How far it is apart. [m]"""
        return float(np.hypot(self.to[0] - self.at[0], self.to[1] - self.at[1]))


def segments_of(walls: Sequence[Wall]) -> list[Segment]:
    """Return the centre lines of walls."""
    return [(w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m) for w in walls]


def loops(segments: Sequence[Segment]) -> list[Polygon]:
    """Return the rooms the lines enclose, largest first; slivers are left out."""
    if not segments:
        return []
    lines = shapely.linestrings(_lengthened(np.asarray(segments, float)).reshape(-1, 2, 2))
    noded = shapely.node(shapely.union_all(shapely.set_precision(lines, 0.002)))
    rooms = shapely.get_parts(shapely.polygonize(list(shapely.get_parts(noded))))
    wanted = [
        room
        for room in rooms
        if room.area >= limit("plan.space_min_m2")
        and room.area / room.length >= limit("plan.space_min_width_m") / 2
    ]
    return sorted((_plain(room) for room in wanted), key=lambda room: -room.area)


def _lengthened(segments: Floats) -> Floats:
    """Return segments a little longer at both ends: an end that just touches then crosses."""
    spans = segments[:, 2:] - segments[:, :2]
    more = spans / np.hypot(*spans.T)[:, None] * _TOUCH_M
    return np.hstack([segments[:, :2] - more, segments[:, 2:] + more])


def _plain(room: Polygon) -> Polygon:
    """Return a room without the corners other walls left in its sides, and without holes."""
    simple = Polygon(room.exterior).simplify(0.01)
    return simple if simple.is_valid and not simple.is_empty else room


def mended(room: Polygon) -> Polygon | None:
    """Return the largest part of an outline that crosses itself, as it is where it does not; None when nothing is left."""
    if room.is_valid:
        return room
    parts = [part for part in shapely.get_parts(shapely.make_valid(room)) if isinstance(part, Polygon)]
    return max(parts, key=lambda part: part.area, default=None)


def outline(room: Polygon) -> tuple[Point, ...]:
    """Return a room's corners as points, to the centimetre, at most 500."""
    ring = np.asarray(room.exterior.coords)[:-1]
    step = int(np.ceil(len(ring) / 500))
    return tuple(Point(x_m=round(float(x), 2), y_m=round(float(y), 2)) for x, y in ring[::step])


def gaps(walls: Sequence[Wall]) -> list[Gap]:
    """Return ends of walls that stop short of another wall by no more than the limit.

    An end that lies on another wall, or meets another end, is closed and no gap.
    """
    most = limit("plan.loop_gap_m")
    lines = [LineString([(w.a.x_m, w.a.y_m), (w.b.x_m, w.b.y_m)]) for w in walls]
    tree = shapely.STRtree(lines)
    found = []
    for index, wall in enumerate(walls):
        for number, end in enumerate((wall.a, wall.b)):
            here = shapely.Point(end.x_m, end.y_m)
            near = [i for i in tree.query(here, predicate="dwithin", distance=most) if i != index]
            if any(lines[i].crosses(lines[index]) for i in near):
                continue  # it runs a little past what it meets
            if not near:
                continue
            apart = [float(lines[i].distance(here)) for i in near]
            if min(apart) < _TOUCH_M:
                continue
            target = lines[near[int(np.argmin(apart))]]
            to = _target(here, target)
            found.append(Gap(wall.id, number, (end.x_m, end.y_m), to))
    return found


def _target(here: shapely.Point, line: LineString) -> tuple[float, float]:
    """Return the other wall's end when it is about as near as its line, else the foot on it."""
    foot = line.interpolate(line.project(here))
    for x, y in line.coords:
        if np.hypot(x - here.x, y - here.y) <= limit("plan.loop_gap_m"):
            return float(x), float(y)
    return float(foot.x), float(foot.y)
