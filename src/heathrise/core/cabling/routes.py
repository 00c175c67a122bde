"""The way of a run through the building: up, along the ceiling void, by a riser, and down.

Level ways follow the grain of the building: one turn, x first or y first, whichever costs less in length,
walls drilled and ground outdoors; and they take the pathways that are drawn where that costs less still.
Of ways that cost the same the first in the order of risers and pathways is taken, so that neither names
nor chance decide.
"""

import math
from dataclasses import dataclass
from itertools import pairwise, product
from typing import Any

import networkx as nx
import shapely
import shapely.ops
from shapely.geometry.base import BaseGeometry

from heathrise.core.job import Job, Link, Pathway, Point, Riser, Space, Spot
from heathrise.core.job.view import Slice
from heathrise.core.library import limit
from heathrise.core.site.building import Building
from heathrise.core.site.ways import riser_graph
from heathrise.core.sums import Noun

# A wall drilled is worth going round for this many metres per hour of drilling.
_METRES_PER_DRILL_HOUR = 5.0
# A metre outdoors is worth three inside: trench, sheath and weather.
_OUTDOOR_FACTOR = 3.0
# Pathways that come nearer than this to each other join.
_MEETS_M = 0.3
# Of equal ways the one with fewer parts.
_STEP_COST = 1e-6

Environment = str


class Leg(Noun):
    """One straight part of a route at one temperature in one environment."""

    storey_id: str
    a: Point
    b: Point
    z0_m: float
    z1_m: float
    length_m: float
    temperature_c: float
    environment: Environment
    what: str
    pathway_id: str | None = None


@dataclass(frozen=True)
class Route:
    """Legs from the rack to the device, and the build-ups drilled on the way."""

    legs: tuple[Leg, ...]
    drilled: tuple[str, ...]
    cost: float

    @property
    def length_m(self) -> float:
        """Route and drops, before weave and loops. [m]"""
        return sum(leg.length_m for leg in self.legs)


# What of a job the ways through it hang on, beside its geometry.
WAYS = Slice(
    "ways",
    {
        "site": frozenset({"climate"}),
        "storey": frozenset({"elevation_m", "void_air"}),
        "space": frozenset({"storey_id", "outline", "space_kind", "hottest_c"}),
        "riser": frozenset({"at", "from_storey_id", "to_storey_id"}),
        "pathway": frozenset(
            {"pathway_kind", "storey_id", "path", "height_m", "surroundings", "there", "bore", "width_mm"}
        ),
        "build-up": frozenset({"code", "build_kind", "drill_hours"}),
    },
)


class Router:
    """Finds routes in one building. Reads what `WAYS` names of a job and nothing else."""

    def __init__(self, job: Job, building: Building):
        self.building = building
        self.climate = job.site.climate
        self.build_ups = job.build_ups
        self.air_voids = {storey.id for storey in job.storeys if storey.void_air}
        self.risers = {riser.id: riser for riser in job.of(Riser)}
        self.graph = riser_graph(job)
        self.rooms = {space.id: space for space in job.of(Space)}
        self.walls = {s.id: building.wall_lines(s.id) for s in building.storeys}
        self.trees = {key: shapely.STRtree([line for line, _ in lines]) for key, lines in self.walls.items()}
        self.tracks = {s.id: tracks_of(job, s.id) for s in building.storeys}

    def route(self, link: Link, start: Spot, end: Spot) -> Route:
        """Return the least-cost route of a run between two places."""
        if start.storey_id == end.storey_id:
            return self._between(start.at, start.storey_id, start.height_m, end.at, end.height_m)
        ways = [self._by_risers(start, end, path) for path in self._riser_paths(start, end)]
        if ways:
            return least(ways)
        # Measured straight up at the near end, so that the run has a figure; a finding says so.
        shaft = Riser(
            id=link.id,
            label="not marked",
            at=start.at,
            from_storey_id=start.storey_id,
            to_storey_id=end.storey_id,
        )
        return self._by_risers(start, end, [(shaft, start.storey_id, end.storey_id)])

    def _riser_paths(self, start: Spot, end: Spot) -> list[list[tuple[Riser, str, str]]]:
        """Return the ways up or down with the fewest risers, in the risers' own order."""
        try:
            paths = list(nx.all_shortest_paths(self.graph, start.storey_id, end.storey_id))
        except nx.NetworkXNoPath:
            return []
        found: list[list[tuple[Riser, str, str]]] = []
        for path in dict.fromkeys(map(tuple, paths)):
            steps = list(pairwise(path))
            for keys in product(*(list(self.graph[a][b]) for a, b in steps)):
                found.append([(self.risers[k], a, b) for k, (a, b) in zip(keys, steps, strict=True)])
        return sorted(found, key=lambda way: [(riser.order, riser.id) for riser, _, _ in way])

    def _by_risers(self, start: Spot, end: Spot, path: list[tuple[Riser, str, str]]) -> Route:
        at, height_m = start.at, start.height_m
        parts: list[Route] = []
        for riser, low, high in path:
            void = self._void_m(low)
            parts.append(self._between(at, low, height_m, riser.at, void))
            parts.append(self._up(riser, low, high))
            at, height_m = riser.at, self._void_m(high)
        parts.append(self._between(at, end.storey_id, height_m, end.at, end.height_m))
        return _joined(parts)

    def _void_m(self, storey_id: str) -> float:
        """Return the middle of a storey's ceiling void above its floor. [m]"""
        storey = self.building.storey(storey_id)
        return storey.ceiling_m + storey.void_m / 2

    def _up(self, riser: Riser, low: str, high: str) -> Route:
        z0 = self.building.storey(low).elevation_m + self._void_m(low)
        z1 = self.building.storey(high).elevation_m + self._void_m(high)
        leg = Leg(
            storey_id=high,
            a=riser.at,
            b=riser.at,
            z0_m=z0,
            z1_m=z1,
            length_m=abs(z1 - z0),
            temperature_c=self.climate.indoors_c,
            environment="riser",
            what=f"riser {riser.label}",
        )
        floor = self.building.storey(high).slab_build_up
        return Route((leg,), (floor,), leg.length_m)

    def _between(self, a: Point, storey_id: str, from_m: float, b: Point, to_m: float) -> Route:
        """Return the cheapest way between places on a storey: one turn, or by pathways."""
        plain = self._by_grain(a, storey_id, from_m, b, to_m)
        tracks = self.tracks[storey_id]
        return least([plain, *self._by_tracks(a, storey_id, from_m, b, to_m, plain)]) if tracks else plain

    def _by_grain(self, a: Point, storey_id: str, from_m: float, b: Point, to_m: float) -> Route:
        """Return the cheaper of the two one-turn ways."""
        corners = (Point(x_m=b.x_m, y_m=a.y_m), Point(x_m=a.x_m, y_m=b.y_m))
        return least([self._by_corner(a, corner, b, storey_id, from_m, to_m) for corner in corners])

    def _by_tracks(
        self, a: Point, storey_id: str, from_m: float, b: Point, to_m: float, plain: Route
    ) -> list[Route]:
        """Return the best way on and off drawn pathways, if any may cost less than the plain one."""
        graph: nx.Graph[Any] = nx.Graph()
        stations = [(n, s) for n, track in enumerate(self.tracks[storey_id]) for s in track.stations((a, b))]
        for n, track in enumerate(self.tracks[storey_id]):
            marks = [s for m, s in stations if m == n]
            for one, other in pairwise(marks):
                graph.add_edge((n, one), (n, other), route=self._along(track, one, other, storey_id))
        for n, s in stations:
            track = self.tracks[storey_id][n]
            at = track.at(s)
            for m, t in stations:
                if m > n and _apart(at, self.tracks[storey_id][m].at(t)) < _MEETS_M:
                    graph.add_edge((n, s), (m, t), route=Route((), (), 0.0))
            if _apart(a, at) < plain.cost:
                on = self._by_grain(a, storey_id, from_m, at, track.pathway.height_m)
                graph.add_edge("a", (n, s), route=on)
            if _apart(at, b) < plain.cost:
                off = self._by_grain(at, storey_id, track.pathway.height_m, b, to_m)
                graph.add_edge((n, s), "b", route=off)
        if "a" not in graph or "b" not in graph or not nx.has_path(graph, "a", "b"):
            return []
        path = nx.shortest_path(graph, "a", "b", weight=lambda _, __, d: d["route"].cost + _STEP_COST)
        parts = []
        for start, stop in pairwise(path):
            part: Route = graph.edges[start, stop]["route"]
            along = isinstance(start, tuple) and isinstance(stop, tuple) and start[0] == stop[0]
            parts.append(_reversed(part) if along and start > stop else part)
        return [_joined(parts)]

    def _along(self, track: "Track", start: float, stop: float, storey_id: str) -> Route:
        """Return the way along a pathway between two marks on it: nothing is drilled, it is there or made once."""
        floor = self.building.storey(storey_id).elevation_m
        pathway = track.pathway
        legs = []
        marks = [start, *(v for v in track.corners if start < v < stop), stop]
        for one, other in pairwise(marks):
            middle = track.at((one + other) / 2)
            inside = self.building.house_at(middle) is not None
            usual = "general" if inside else "outdoor"
            legs.append(
                Leg(
                    storey_id=storey_id,
                    a=track.at(one),
                    b=track.at(other),
                    z0_m=floor + pathway.height_m,
                    z1_m=floor + pathway.height_m,
                    length_m=other - one,
                    temperature_c=self._void_c(storey_id, middle, inside),
                    environment=pathway.surroundings or usual,
                    what=f"{pathway.pathway_kind} {pathway.label}",
                    pathway_id=pathway.id,
                )
            )
        share = limit("cabling.pathway_there_cost" if pathway.there else "cabling.pathway_new_cost")
        return Route(tuple(legs), (), (stop - start) * share)

    def _by_corner(
        self, a: Point, corner: Point, b: Point, storey_id: str, from_m: float, to_m: float
    ) -> Route:
        void = max(self._void_m(storey_id), from_m, to_m)
        if a == b:
            return _joined([self._drop(storey_id, a, from_m, to_m, "upright")])
        return _joined(
            [
                self._drop(storey_id, a, from_m, void, "up to the void"),
                self._level(storey_id, a, corner, void),
                self._level(storey_id, corner, b, void),
                self._drop(storey_id, b, void, to_m, "down to the device"),
            ]
        )

    def _drop(self, storey_id: str, at: Point, from_m: float, to_m: float, what: str) -> Route:
        length = abs(to_m - from_m)
        if length < 1e-9:
            return Route((), (), 0.0)
        floor = self.building.storey(storey_id).elevation_m
        inside = self.building.house_at(at) is not None
        space = self._room(storey_id, at)
        leg = Leg(
            storey_id=storey_id,
            a=at,
            b=at,
            z0_m=floor + from_m,
            z1_m=floor + to_m,
            length_m=length,
            temperature_c=self._room_c(space, inside),
            environment="general" if inside else "outdoor",
            what=what,
        )
        return Route((leg,), (), length)

    def _room(self, storey_id: str, at: Point) -> Space | None:
        """Return the space at a place, with all that was said of it."""
        found = self.building.space_at(storey_id, at)
        return self.rooms.get(found.id) if found is not None else None

    def _room_c(self, space: Space | None, inside: bool) -> float:
        if space is not None and space.hottest_c is not None:
            return space.hottest_c
        if space is not None and space.space_kind == "loft":
            return self.climate.loft_c
        return self.climate.indoors_c if inside else self.climate.outdoors_c

    def _level(self, storey_id: str, a: Point, b: Point, height_m: float) -> Route:
        """Return a level leg, cut where it leaves or enters a house or a hotter space."""
        line = shapely.LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
        if line.length < 1e-9:
            return Route((), (), 0.0)
        z_m = self.building.storey(storey_id).elevation_m + height_m
        legs, cost = [], 0.0
        for start, stop in self._cuts(storey_id, line):
            one, two = line.interpolate(start), line.interpolate(stop)
            middle = line.interpolate((start + stop) / 2)
            here = Point(x_m=middle.x, y_m=middle.y)
            inside = self.building.house_at(here) is not None
            legs.append(
                Leg(
                    storey_id=storey_id,
                    a=Point(x_m=one.x, y_m=one.y),
                    b=Point(x_m=two.x, y_m=two.y),
                    z0_m=z_m,
                    z1_m=z_m,
                    length_m=stop - start,
                    temperature_c=self._void_c(storey_id, here, inside),
                    environment=self._void_space(storey_id) if inside else "outdoor",
                    what="ceiling void" if inside else "outdoors",
                )
            )
            cost += (stop - start) * (1.0 if inside else _OUTDOOR_FACTOR)
        drilled = self._drilled(storey_id, line)
        hours = sum(self.build_ups[b].drill_hours for b in drilled)
        return Route(tuple(legs), drilled, cost + hours * _METRES_PER_DRILL_HOUR)

    def _void_space(self, storey_id: str) -> Environment:
        return "plenum" if storey_id in self.air_voids else "general"

    def _void_c(self, storey_id: str, at: Point, inside: bool) -> float:
        if not inside:
            return self.climate.outdoors_c
        space = self._room(storey_id, at)
        hot = space is not None and (space.hottest_c is not None or space.space_kind == "loft")
        return self._room_c(space, inside) if hot else self.climate.void_c

    def _cuts(self, storey_id: str, line: shapely.LineString) -> list[tuple[float, float]]:
        """Return stretches of a line between the edges of houses and of hotter spaces. [m]"""
        areas: list[BaseGeometry] = list(self.building.houses.values())
        areas += [
            self.building.polygons[s.id]
            for s in (self.rooms[found.id] for found in self.building.spaces[storey_id])
            if s.hottest_c is not None or s.space_kind == "loft"
        ]
        marks = {0.0, line.length}
        for area in areas:
            for point in shapely.get_parts(shapely.intersection(area.boundary, line)):
                if point.geom_type == "Point":
                    marks.add(line.project(point))
        order = sorted(marks)
        return [(a, b) for a, b in pairwise(order) if b - a > 1e-6]

    def _drilled(self, storey_id: str, line: shapely.LineString) -> tuple[str, ...]:
        lines = self.walls[storey_id]
        hits = self.trees[storey_id].query(line, predicate="crosses")
        return tuple(build_up for i in sorted(hits) if (build_up := lines[i][1]) is not None)


@dataclass(frozen=True)
class Track:
    """A drawn pathway as a line with marks along it. [m]"""

    pathway: Pathway
    line: shapely.LineString
    corners: tuple[float, ...]
    joins: tuple[float, ...]

    def at(self, along_m: float) -> Point:
        """Return the place at a mark."""
        here = self.line.interpolate(along_m)
        return Point(x_m=round(here.x, 6), y_m=round(here.y, 6))

    def stations(self, near: tuple[Point, ...]) -> list[float]:
        """Return where it can be entered or left: its ends, its joins, and the places nearest to some."""
        nearest = [self.line.project(shapely.Point(p.x_m, p.y_m)) for p in near]
        return sorted({0.0, self.line.length, *self.joins, *nearest})


def tracks_of(job: Job, storey_id: str) -> tuple[Track, ...]:
    """Return the drawn pathways of a storey, in their own order, with the marks where they join."""
    drawn = [p for p in job.of(Pathway) if p.storey_id == storey_id and len(p.path) > 1]
    lines = [shapely.LineString([(p.x_m, p.y_m) for p in pathway.path]) for pathway in drawn]
    tracks = []
    for pathway, line in zip(drawn, lines, strict=True):
        corners = tuple(line.project(shapely.Point(p.x_m, p.y_m)) for p in pathway.path[1:-1])
        others = [other for other in lines if other is not line and other.distance(line) < _MEETS_M]
        joins = tuple(line.project(shapely.ops.nearest_points(line, other)[0]) for other in others)
        tracks.append(Track(pathway, line, corners, joins))
    return tuple(tracks)


def least(ways: list[Route]) -> Route:
    """Return the cheapest way; of equal ones the first."""
    return min(ways, key=lambda route: round(route.cost, 9))


def _apart(a: Point, b: Point) -> float:
    return math.hypot(a.x_m - b.x_m, a.y_m - b.y_m)


def _reversed(route: Route) -> Route:
    """Return a level route walked the other way."""
    legs = tuple(
        leg.model_copy(update={"a": leg.b, "b": leg.a, "z0_m": leg.z1_m, "z1_m": leg.z0_m})
        for leg in reversed(route.legs)
    )
    return Route(legs, route.drilled, route.cost)


def _joined(parts: list[Route]) -> Route:
    return Route(
        tuple(leg for part in parts for leg in part.legs),
        tuple(name for part in parts for name in part.drilled),
        sum(part.cost for part in parts),
    )
