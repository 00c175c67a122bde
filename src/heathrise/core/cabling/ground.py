"""What a metre of cable costs along straight lines of a storey, and what is drilled on the way.

A ruler lies along x or along y. It knows the ground it passes stretch by stretch (room, corridor, loft, open
air, no-go area) and the walls it goes through. Costs are metres of an easy way: a metre in a corridor is one.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely
from cachetools import LRUCache
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from heathrise.core.job import Point, Space, Wall
from heathrise.core.library import BuildUp, limit
from heathrise.core.sums import Noun

Floats = NDArray[np.float64]
Axis = Literal["x", "y"]
# Walls nearer to each other than this along a line are one to drill; a line this near a wall lies in it.
_ONE_WALL_M = 0.05
# Rulers of the places runs end at and turn at, kept while the building stays as it is.
_RULERS_KEPT = 4096


class Hole(Noun):
    """One wall or floor a cable goes through: where, what it is made of, whether it may be drilled, and how long it
    is to hold a fire back. [min]
    """

    storey_id: str
    at: Point
    build_up: str
    wall_id: str | None
    undrilled: bool = False
    fire_minutes: int = 0


@dataclass(frozen=True)
class Ground:
    """What a cable lies in on a stretch: whether a house covers it, its temperature, what a metre costs.

    `blocked_by` is the id of the no-go area or space that forbids it.
    """

    inside: bool
    temperature_c: float
    cost_m: float
    blocked_by: str | None = None

    def alike(self, other: "Ground") -> bool:
        """Whether a cable fares the same in both, whatever they cost to reach."""
        mine = (self.inside, self.temperature_c, self.blocked_by)
        return mine == (other.inside, other.temperature_c, other.blocked_by)


@dataclass(frozen=True)
class Patch:
    """An area of a storey with what a cable lies in there; of several the smallest counts."""

    shape: BaseGeometry
    ground: Ground


@dataclass(frozen=True)
class Ruler:
    """A line of a storey along one axis: the ground between its marks, and the walls through it with their costs. [m]"""

    axis: Axis
    at_m: float
    marks: Floats
    grounds: tuple[Ground, ...]
    places: Floats
    walls: NDArray[np.intp]
    hole_costs: Floats
    hole: Callable[[int, Point], Hole]

    @cached_property
    def costs_upto(self) -> Floats:
        """Cost from the first mark to every mark, without holes."""
        costs = np.array([ground.cost_m for ground in self.grounds[1:-1]])
        return np.concatenate([[0.0], np.cumsum(np.diff(self.marks) * costs)])

    @cached_property
    def rates(self) -> Floats:
        """What a metre costs before the first mark, between each two, and after the last."""
        return np.array([ground.cost_m for ground in self.grounds])

    @cached_property
    def holes_upto(self) -> Floats:
        """What no hole costs, the first, the first two, and so on."""
        return np.concatenate([[0.0], np.cumsum(self.hole_costs)])

    def upto(self, places_m: Floats) -> Floats:
        """Return the cost from a fixed beginning to places on it: what lies between two is their difference.

        A hole belongs to what lies on its lower side.
        """
        n = np.searchsorted(self.marks, places_m, side="right")
        last = np.maximum(n - 1, 0)
        level = self.costs_upto[last] + (places_m - self.marks[last]) * self.rates[n]
        return level + self.holes_upto[np.searchsorted(self.places, places_m, side="right")]

    def cost(self, a_m: float, b_m: float) -> float:
        """Return what the way between two places on it costs."""
        one, other = self.upto(np.array([a_m, b_m]))
        return abs(float(other - one))

    def stretches(self, a_m: float, b_m: float) -> list[tuple[float, float, Ground]]:
        """Return the way from one place to another, cut where the ground changes."""
        low, high = min(a_m, b_m), max(a_m, b_m)
        inner = [float(m) for m in self.marks if low + 1e-6 < m < high - 1e-6]
        cuts = [low, *inner, high]
        parts: list[tuple[float, float, Ground]] = []
        for one, other in pairwise(cuts):
            ground = self.grounds[int(np.searchsorted(self.marks, (one + other) / 2, side="right"))]
            if parts and parts[-1][2].alike(ground):
                parts[-1] = (parts[-1][0], other, parts[-1][2])
            else:
                parts.append((one, other, ground))
        return parts if a_m <= b_m else [(other, one, ground) for one, other, ground in reversed(parts)]

    def drilled(self, a_m: float, b_m: float) -> tuple[Hole, ...]:
        """Return the holes between two places on it."""
        low, high = min(a_m, b_m), max(a_m, b_m)
        return tuple(
            self.hole(int(wall), self.point(float(place)))
            for place, wall in zip(self.places, self.walls, strict=True)
            if low < place <= high
        )

    def point(self, along_m: float) -> Point:
        """Return a place on it as a place on the sheet."""
        if self.axis == "x":
            return Point(x_m=along_m, y_m=self.at_m)
        return Point(x_m=self.at_m, y_m=along_m)


class Rulers:
    """Rulers along one axis side by side, asked at once what each costs up to a place."""

    def __init__(self, rulers: Sequence[Ruler]):
        self._rows = np.arange(len(rulers))
        self._marks = _padded([ruler.marks for ruler in rulers])
        self._upto = _padded([ruler.costs_upto for ruler in rulers])
        self._rates = _padded([ruler.rates for ruler in rulers])
        self._places = _padded([ruler.places for ruler in rulers])
        self._holes_upto = _padded([ruler.holes_upto for ruler in rulers])

    def upto(self, place_m: float) -> Floats:
        """Return what each costs from its fixed beginning to a place, as `Ruler.upto`."""
        n = (self._marks <= place_m).sum(axis=1)
        last = np.maximum(n - 1, 0)
        along_m = place_m - self._marks[self._rows, last]
        level = self._upto[self._rows, last] + along_m * self._rates[self._rows, n]
        holes = (self._places <= place_m).sum(axis=1)
        found: Floats = level + self._holes_upto[self._rows, holes]
        return found


def _padded(rows: Sequence[Floats]) -> Floats:
    """Return rows of several lengths as one array, filled up with infinity."""
    found = np.full((len(rows), max((row.size for row in rows), default=0)), np.inf)
    for n, row in enumerate(rows):
        found[n, : row.size] = row
    return found


class StoreyGround:
    """The ground of one storey, from which rulers are cut."""

    def __init__(
        self,
        storey_id: str,
        patches: Sequence[Patch],
        open_air: Ground,
        walls: Sequence[Wall],
        build_ups: dict[str, BuildUp],
    ):
        self.storey_id = storey_id
        self.patches = sorted(patches, key=lambda patch: (patch.ground.blocked_by is None, patch.shape.area))
        self.open_air = open_air
        self.walls = [wall for wall in walls if wall.build_up is not None]
        self.build_ups = build_ups
        self._tree = shapely.STRtree([patch.shape for patch in self.patches])
        self._edges = _edges_of([patch.shape for patch in self.patches])
        ends = [(w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m) for w in self.walls]
        self._wall_ends = np.array(ends, float).reshape(-1, 4)
        self._wall_costs = np.array([self._hole_cost(wall) for wall in self.walls], float)
        self._rulers: LRUCache[tuple[Axis, float], Ruler] = LRUCache(_RULERS_KEPT)

    def at(self, place: Point) -> Ground:
        """Return the ground at a place."""
        return self._grounds(np.array([[place.x_m, place.y_m]]))[0]

    def ruler(self, axis: Axis, at_m: float) -> Ruler:
        """Return the line along one axis at a place on the other."""
        key = (axis, at_m)
        if key not in self._rulers:
            self._rulers[key] = self._ruler(axis, at_m)
        return self._rulers[key]

    def _ruler(self, axis: Axis, at_m: float) -> Ruler:
        edges = self._edges if axis == "x" else self._edges[:, [1, 0, 3, 2]]
        walls = self._wall_ends if axis == "x" else self._wall_ends[:, [1, 0, 3, 2]]
        lying = self._lying(walls, at_m)
        marks = np.unique(np.concatenate([_crossings(edges, at_m)[1], lying.ravel(), [0.0]]))
        grounds = self._along(axis, at_m, marks, lying)
        places, which = self._through(walls, at_m)
        return Ruler(axis, at_m, marks, grounds, places, which, self._wall_costs[which], self._hole)

    @staticmethod
    def _lying(walls: Floats, at_m: float) -> Floats:
        """Return (from, to) of the walls a line would lie in. [m]"""
        near = np.all(np.abs(walls[:, [1, 3]] - at_m) < _ONE_WALL_M, axis=1)
        return np.sort(walls[near][:, [0, 2]], axis=1)

    def _along(self, axis: Axis, at_m: float, marks: Floats, lying: Floats) -> tuple[Ground, ...]:
        middles = np.concatenate([[marks[0] - 1.0], (marks[:-1] + marks[1:]) / 2, [marks[-1] + 1.0]])
        still = np.full_like(middles, at_m)
        grounds = self._grounds(np.column_stack([middles, still] if axis == "x" else [still, middles]))
        in_wall = np.any((lying[:, :1] <= middles) & (middles <= lying[:, 1:]), axis=0)
        more = limit("cabling.cost_in_wall")
        return tuple(
            Ground(g.inside, g.temperature_c, g.cost_m + more, g.blocked_by) if inside else g
            for g, inside in zip(grounds, in_wall, strict=True)
        )

    def _grounds(self, places: Floats) -> list[Ground]:
        found = [self.open_air] * len(places)
        if self.patches:
            hits = self._tree.query(shapely.points(places), predicate="intersects")
            best: dict[int, int] = {}
            for place, patch in zip(*(row.tolist() for row in hits), strict=True):
                best[place] = min(patch, best.get(place, patch))
            for place, patch in best.items():
                found[place] = self.patches[patch].ground
        return found

    def _through(self, walls: Floats, at_m: float) -> tuple[Floats, NDArray[np.intp]]:
        """Return where a line goes through walls, in its order, and which; of walls that are one the dearest."""
        which, places = _crossings(walls, at_m, touching=True)
        found: list[tuple[float, int]] = []
        for n in np.argsort(places, kind="stable").tolist():
            place, wall = float(places[n]), int(which[n])
            if found and place - found[-1][0] < _ONE_WALL_M:
                if self._wall_costs[wall] > self._wall_costs[found[-1][1]]:
                    found[-1] = (found[-1][0], wall)
            else:
                found.append((place, wall))
        return np.array([place for place, _ in found]), np.array([wall for _, wall in found], int)

    def _hole(self, wall: int, at: Point) -> Hole:
        """Return the hole through one of its walls at a place."""
        through = self.walls[wall]
        return Hole(
            storey_id=self.storey_id,
            at=at,
            build_up=through.build_up or "",
            wall_id=through.id,
            undrilled=self._is_whole(through),
            fire_minutes=through.fire_minutes,
        )

    def _is_whole(self, wall: Wall) -> bool:
        return wall.undrilled or self.build_ups[wall.build_up or ""].undrilled

    def _hole_cost(self, wall: Wall) -> float:
        """Return what going round a wall is worth, in metres."""
        if self._is_whole(wall):
            return limit("cabling.cost_undrilled")
        fire = limit("cabling.cost_fire_wall") if wall.fire_minutes else 0.0
        return self.build_ups[wall.build_up or ""].drill_hours * limit("cabling.cost_drill_hour") + fire


def _crossings(edges: Floats, at_m: float, touching: bool = False) -> tuple[NDArray[np.intp], Floats]:
    """Return which edges (x1, y1, x2, y2) a line y = at meets, and where along x. Edges it lies in are none."""
    low, high = np.minimum(edges[:, 1], edges[:, 3]), np.maximum(edges[:, 1], edges[:, 3])
    meets = (low < at_m) & (at_m < high)
    if touching:
        meets = (low <= at_m + 1e-9) & (at_m - 1e-9 <= high) & (high - low > _ONE_WALL_M)
    which = np.flatnonzero(meets)
    x1, y1, x2, y2 = edges[which].T
    return which, x1 + np.clip((at_m - y1) / (y2 - y1), 0, 1) * (x2 - x1)


def _edges_of(shapes: Sequence[BaseGeometry]) -> Floats:
    """Return the edges of shapes, (n, 4) as x1 y1 x2 y2."""
    rings = shapely.get_rings(list(shapes)) if shapes else []
    found = []
    for ring in rings:
        corners = shapely.get_coordinates(ring)
        found.append(np.hstack([corners[:-1], corners[1:]]))
    return np.concatenate(found) if found else np.zeros((0, 4))


def ground_of(space: Space, inside: bool, temperature_c: float) -> Ground:
    """Return the ground over a space."""
    if space.no_go:
        return Ground(inside, temperature_c, limit("cabling.cost_no_go"), space.id)
    hot = limit("cabling.cost_hot") if space.hottest_c is not None or space.space_kind == "loft" else 1.0
    return Ground(inside, temperature_c, limit(f"cabling.cost_{space.space_kind}") * hot)
