"""Parts of a drawing: storeys beside each other on one sheet, borders round them, details that are no plan."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import networkx as nx
import numpy as np
import shapely
from shapely.geometry import Polygon, box

from heathrise.core.site.drawing import Floats, Words
from heathrise.core.site.loops import loops
from heathrise.core.site.tracing import Traced
from heathrise.core.site.wording import Title, title_of

# Walls this near belong to one building; what is nearer to a plan than this is part of it. [m]
_TOUCH_M, _NEAR_M = 0.15, 1.2
# A plan has as many rooms of at least this size, and walls of this length. [1, m2, m]
_ROOMS, _ROOM_M2, _WALLS_M = 2, 2.0, 12.0
# Outlines that cover each other by this share are storeys of one house.
_ALIKE = 0.7
_BIN_M = 0.05


@dataclass
class Part:
    """Walls that belong together: which, their box, what their title says."""

    walls: list[Traced]
    rooms: list[Polygon]
    title: Title | None = None
    level: int | None = None
    shift: tuple[float, float] = (0.0, 0.0)
    certainty: float = 1.0
    why: str = ""

    @property
    def box(self) -> Polygon:
        """The upright box round its walls."""
        points = np.array([w.ends_m for w in self.walls]).reshape(-1, 2)
        return box(*points.min(axis=0), *points.max(axis=0))

    @property
    def long(self) -> float:
        """How long its walls are together. [m]"""
        return sum(w.length_m for w in self.walls)

    @property
    def is_plan(self) -> bool:
        """Whether it has rooms enough and walls enough for a plan."""
        return sum(room.area >= _ROOM_M2 for room in self.rooms) >= _ROOMS and self.long >= _WALLS_M


class LeftOut(NamedTuple):
    """A part that is no storey, and why."""

    what: str
    walls: int
    why: str


@dataclass
class Sorted:
    """Storeys, and what was left out."""

    storeys: list[Part]
    left: list[LeftOut] = field(default_factory=list)


def parted(walls: Sequence[Traced], words: Sequence[Words]) -> Sorted:
    """Return the storeys of traced walls, lowest first, each with the move that lays it over the lowest."""
    parts, left = _without_borders(_groups(walls))
    parts = _gathered(parts)
    plans = [p for p in parts if p.is_plan]
    if not plans and parts:
        # Nothing closes: what was found may be pieces of one plan, and a person sees to them.
        parts = plans = [Part([w for p in parts for w in p.walls], [r for p in parts for r in p.rooms])]
    _titled(parts, words)
    for part in parts:
        if part not in plans:
            left.append(
                LeftOut("walls", len(part.walls), "a small part away from the plan: a detail or a legend")
            )
    drawn = [p for p in plans if p.title is None or p.title.is_plan]
    for part in plans:
        if part not in drawn and part.title is not None:
            left.append(LeftOut(part.title.words, len(part.walls), "its title says that it is no plan"))
    return Sorted(_storeys(drawn or plans[:1]), left)


def _groups(walls: Sequence[Traced]) -> list[Part]:
    """Return walls that touch, as parts, the longest first."""
    if not walls:
        return []
    shapes = shapely.linestrings(np.array([w.ends_m for w in walls]).reshape(-1, 2, 2))
    one, other = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=_TOUCH_M)
    graph: nx.Graph[int] = nx.Graph()
    graph.add_nodes_from(range(len(walls)))
    graph.add_edges_from(zip(one.tolist(), other.tolist(), strict=True))
    groups = [[walls[i] for i in sorted(group)] for group in nx.connected_components(graph)]
    parts = [Part(group, loops([w.ends_m for w in group])) for group in groups]
    return sorted(parts, key=lambda part: -part.long)


def _without_borders(parts: list[Part]) -> tuple[list[Part], list[LeftOut]]:
    """Return parts less the rectangles without any opening that stand round a plan: borders with their title blocks."""
    plans = [p for p in parts if p.is_plan]
    borders = [p for p in parts if _is_border(p, [q for q in plans if q is not p])]
    if not borders:
        return parts, []
    inside = shapely.union_all([p.box for p in plans if p not in borders])
    left = [
        LeftOut(
            "border", sum(len(p.walls) for p in borders), "a frame round the drawing with its title block"
        )
    ]
    return [p for p in parts if p not in borders and (p in plans or p.box.distance(inside) < 50)], left


def _is_border(part: Part, plans: Sequence[Part]) -> bool:
    if not any(
        part.box.buffer(0.01).contains(plan.box) and part.box.area > 1.1 * plan.box.area for plan in plans
    ):
        return False
    edge = part.box.exterior
    outer = [
        w for w in part.walls if edge.buffer(0.3).contains(shapely.LineString([w.ends_m[:2], w.ends_m[2:]]))
    ]
    closed = sum(w.length_m for w in outer) > 0.9 * edge.length
    return closed and not any(w.gaps_m or w.panes_m for w in outer)


def _gathered(parts: list[Part]) -> list[Part]:
    """Return parts with what lies in or hard by a plan made part of it."""
    out: list[Part] = []
    for part in parts:
        home = next(
            (
                p
                for p in out
                if p.is_plan and p.box.distance(part.box) < (_NEAR_M if not part.is_plan else 0.01)
            ),
            None,
        )
        if home is None:
            out.append(part)
        else:
            home.walls += part.walls
            home.rooms += part.rooms
    return out


def _titled(parts: Sequence[Part], words: Sequence[Words]) -> None:
    """Give each part the title that stands nearest, the larger letters first; one part takes any title of a storey."""
    titles = [(text, title) for text in words if (title := title_of(text.words)) is not None]
    for part in parts:
        shape = part.box
        reach = 0.45 * max(shape.bounds[2] - shape.bounds[0], shape.bounds[3] - shape.bounds[1])
        near = []
        for text, title in titles:
            at = shapely.Point(text.x, text.y)
            if any(room.contains(at) for room in part.rooms):
                continue
            apart = shape.distance(at)
            nearest = shape.distance(at) <= min(p.box.distance(at) for p in parts)
            if nearest and (apart <= reach or (len(parts) == 1 and title.is_plan)):
                near.append((-round(text.height, 2), apart, title))
        if near:
            part.title = min(near, key=lambda n: n[:2])[2]


def _storeys(plans: list[Part]) -> list[Part]:
    """Return plans as storeys: by their titles, else by like outlines; others are houses on one storey."""
    if len(plans) < 2:
        return plans
    titled = [p for p in plans if p.title is not None and p.title.level is not None]
    alike = [p for p in plans[1:] if _like(plans[0], p)]
    if len({p.title.level for p in titled if p.title}) >= 2:
        storeys, rest = titled, [p for p in plans if p not in titled]
    elif alike:
        storeys, rest = [plans[0], *alike], [p for p in plans[1:] if p not in alike]
    else:
        storeys, rest = [plans[0]], plans[1:]
    _levelled(storeys)
    for part in rest:
        home = min(storeys, key=lambda s: s.box.distance(part.box))
        home.walls += part.walls
        home.rooms += part.rooms
    storeys.sort(key=lambda s: s.level or 0)
    for upper in storeys[1:]:
        upper.shift = laid_over(upper.walls, storeys[0].walls)
    return storeys


def _levelled(storeys: list[Part]) -> None:
    """Give each storey a level: by its title; without one, upwards from the lowest on the sheet, left to right."""
    known = [s.title.level for s in storeys if s.title is not None and s.title.level is not None]
    top = max((n for n in known if n < 9), default=0)
    free = 0
    for part in sorted(storeys, key=lambda s: (-round(s.box.centroid.y / 8), s.box.centroid.x)):
        said = part.title.level if part.title else None
        if said is not None:
            part.level, part.certainty, part.why = (top + 1 if said == 9 else said), 0.9, "by its title"
            continue
        while free in known:
            free += 1
        part.level, part.certainty, part.why = free, 0.5, "by where it lies on the sheet"
        known.append(free)


def _like(one: Part, other: Part) -> bool:
    dx, dy = laid_over(other.walls, one.walls)
    moved = shapely.affinity.translate(other.box, dx, dy)
    return bool(moved.intersection(one.box).area > _ALIKE * moved.union(one.box).area)


def laid_over(upper: Sequence[Traced], lower: Sequence[Traced]) -> tuple[float, float]:
    """Return the move that lays most of one storey's walls over another's: outer walls, stairs and shafts agree on it.

    Every pair of upright walls votes for a move across, every pair of level ones for a move along, by their length.
    """
    across, along = (_votes(_levels(upper, axis), _levels(lower, axis)) for axis in (0, 1))
    return across, along


def _levels(walls: Sequence[Traced], axis: int) -> Floats:
    """Return (place, length) of walls that stand across an axis."""
    rows = []
    for wall in walls:
        a, b = np.array(wall.ends_m[:2]), np.array(wall.ends_m[2:])
        if abs(b[axis] - a[axis]) < 0.05 * wall.length_m:
            rows.append(((a[axis] + b[axis]) / 2, wall.length_m))
    return np.array(rows, float).reshape(-1, 2)


def _votes(upper: Floats, lower: Floats) -> float:
    if not len(upper) or not len(lower):
        return 0.0
    moves = (lower[:, 0][None, :] - upper[:, 0][:, None]).ravel()
    weights = np.minimum(lower[:, 1][None, :], upper[:, 1][:, None]).ravel()
    bins = np.round(moves / _BIN_M).astype(int)
    low = int(bins.min())
    counts = np.convolve(np.bincount(bins - low, weights), [0.5, 1, 0.5], "same")
    best = int(np.argmax(counts)) + low
    near = np.abs(bins - best) <= 1
    return float(np.average(moves[near], weights=weights[near]))
