"""The way of a run through the building: up, along the ceiling void, by a riser, and down.

Horizontal legs follow the grain of the building: one turn, x first or y first, whichever costs
less in length, walls drilled and ground outdoors. The search over trays and trunks comes with
the cabling work; what is here is measured the same way, part by part.
"""

from dataclasses import dataclass
from itertools import pairwise, product

import networkx as nx
import shapely
from shapely.geometry.base import BaseGeometry

from heathrise.core.job import AccessPoint, Device, Job, Point, Rack, Riser, Run, Space
from heathrise.core.site.building import Building
from heathrise.core.site.ways import riser_graph
from heathrise.core.sums import Noun

# A wall drilled is worth going round for this many metres per hour of drilling.
_METRES_PER_DRILL_HOUR = 5.0
# A metre outdoors is worth three inside: trench, sheath and weather.
_OUTDOOR_FACTOR = 3.0

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


class Router:
    """Finds routes in one building."""

    def __init__(self, job: Job, building: Building):
        self.job = job
        self.building = building
        self.climate = job.site.climate
        self.risers = {riser.id: riser for riser in job.of(Riser)}
        self.graph = riser_graph(job)
        self.walls = {s.id: building.wall_lines(s.id) for s in building.storeys}
        self.trees = {key: shapely.STRtree([line for line, _ in lines]) for key, lines in self.walls.items()}

    def route(self, run: Run) -> Route:
        """Return the least-cost route of a run."""
        rack, end = self.job.get(Rack, run.rack_id), self.job.end_of(run)
        if rack.storey_id == end.storey_id:
            return self._between(rack.at, rack.storey_id, rack.height_m, end.at, end.height_m)
        ways = [self._by_risers(rack, end, path) for path in self._riser_paths(rack, end)]
        if ways:
            return min(ways, key=lambda route: route.cost)
        # Measured straight up at the rack, so that the run has a figure; a finding says so.
        shaft = Riser(
            id=rack.id,
            label="not marked",
            at=rack.at,
            from_storey_id=rack.storey_id,
            to_storey_id=end.storey_id,
        )
        return self._by_risers(rack, end, [(shaft, rack.storey_id, end.storey_id)])

    def _riser_paths(
        self, rack: Rack, end: AccessPoint | Device | Rack
    ) -> list[list[tuple[Riser, str, str]]]:
        """Return the ways up or down with the fewest risers."""
        try:
            paths = list(nx.all_shortest_paths(self.graph, rack.storey_id, end.storey_id))
        except nx.NetworkXNoPath:
            return []
        found: list[list[tuple[Riser, str, str]]] = []
        for path in {tuple(path) for path in paths}:
            steps = list(pairwise(path))
            for keys in product(*(list(self.graph[a][b]) for a, b in steps)):
                found.append([(self.risers[k], a, b) for k, (a, b) in zip(keys, steps, strict=True)])
        return found

    def _by_risers(
        self, rack: Rack, end: AccessPoint | Device | Rack, path: list[tuple[Riser, str, str]]
    ) -> Route:
        at, height_m = rack.at, rack.height_m
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
        """Return the cheaper of the two one-turn ways between places on a storey."""
        corners = (Point(x_m=b.x_m, y_m=a.y_m), Point(x_m=a.x_m, y_m=b.y_m))
        ways = [self._by_corner(a, corner, b, storey_id, from_m, to_m) for corner in corners]
        return min(ways, key=lambda route: route.cost)

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
        space = self.building.space_at(storey_id, at)
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
                    environment="general" if inside else "outdoor",
                    what="ceiling void" if inside else "outdoors",
                )
            )
            cost += (stop - start) * (1.0 if inside else _OUTDOOR_FACTOR)
        drilled = self._drilled(storey_id, line)
        hours = sum(self.job.build_ups[b].drill_hours for b in drilled)
        return Route(tuple(legs), drilled, cost + hours * _METRES_PER_DRILL_HOUR)

    def _void_c(self, storey_id: str, at: Point, inside: bool) -> float:
        if not inside:
            return self.climate.outdoors_c
        space = self.building.space_at(storey_id, at)
        hot = space is not None and (space.hottest_c is not None or space.space_kind == "loft")
        return self._room_c(space, inside) if hot else self.climate.void_c

    def _cuts(self, storey_id: str, line: shapely.LineString) -> list[tuple[float, float]]:
        """Return stretches of a line between the edges of houses and of hotter spaces. [m]"""
        areas: list[BaseGeometry] = list(self.building.houses.values())
        areas += [
            self.building.polygons[s.id]
            for s in self.building.spaces[storey_id]
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


def _joined(parts: list[Route]) -> Route:
    return Route(
        tuple(leg for part in parts for leg in part.legs),
        tuple(name for part in parts for name in part.drilled),
        sum(part.cost for part in parts),
    )
