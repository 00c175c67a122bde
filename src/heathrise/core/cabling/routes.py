"""The way of a run through the building: up, along the ceiling void, by a riser, and down.

Level ways follow the grain of the building. The cheapest is taken in length, ground passed, walls drilled and
bends, over all storeys, risers and drawn pathways at once; where nothing is worth going round it has one turn.
A run that was told to pass a place passes it. Of ways that cost the same the first in the order of risers and
pathways is taken, so that neither names nor chance decide.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import shapely
from shapely.geometry.base import BaseGeometry

from heathrise.core.cabling.apart import apart_m
from heathrise.core.cabling.ground import Axis, Ground, Hole, Patch, Ruler, StoreyGround, ground_of
from heathrise.core.cabling.lattice import AXES, Lattice, Level, Node
from heathrise.core.cabling.tracks import Track, tracks_of
from heathrise.core.job import Job, Line, Link, NoGo, Point, Riser, Space, Spot, Wall
from heathrise.core.job.view import Slice
from heathrise.core.library import limit
from heathrise.core.site.building import Building, ring_polygon
from heathrise.core.sums import Noun

# Lines of a storey's lattice keep so far from the edges of rooms, houses and no-go areas.
_OFF_ROOM_M, _OFF_HOUSE_M, _OFF_NO_GO_M, _OFF_MAINS_M = 0.3, 1.0, 0.3, 0.05

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
    blocked_by: str | None = None


@dataclass(frozen=True)
class Route:
    """Legs from the rack to the device, and the walls and floors drilled on the way."""

    legs: tuple[Leg, ...]
    holes: tuple[Hole, ...]
    cost: float

    @property
    def drilled(self) -> tuple[str, ...]:
        """The build-ups drilled on the way."""
        return tuple(hole.build_up for hole in self.holes)

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
        "wall": frozenset({"storey_id", "a", "b", "build_up", "undrilled", "fire_minutes"}),
        "space": frozenset({"storey_id", "outline", "space_kind", "hottest_c", "no_go"}),
        "no-go": frozenset({"storey_id", "outline"}),
        "line": frozenset({"line_kind", "storey_id", "path", "height_m", "load_kva", "keep"}),
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
        self.job = job
        self.building = building
        self.climate = job.site.climate
        self.air_voids = {storey.id for storey in job.storeys if storey.void_air}
        self.risers = job.of(Riser)
        self.rooms = {space.id: space for space in job.of(Space)}
        self.grounds = {storey.id: self._ground(storey.id) for storey in building.storeys}

    # The ground of every storey, and the lattice over all of them.

    def _ground(self, storey_id: str) -> StoreyGround:
        shapes = self.building.polygons
        patches = [
            Patch(shapes[space.id], self._over(space))
            for space in self.rooms.values()
            if space.storey_id == storey_id
        ]
        covered = Ground(True, self.climate.void_c, limit("cabling.cost_room"))
        patches += [Patch(area, covered) for area in self.building.houses.values()]
        patches += [
            Patch(
                ring_polygon(area.outline),
                Ground(True, self.climate.void_c, limit("cabling.cost_no_go"), area.id),
            )
            for area in self.job.of(NoGo)
            if area.storey_id == storey_id
        ]
        beside = Ground(True, self.climate.void_c, limit("cabling.cost_beside_mains"))
        patches += [Patch(area, beside) for area in self._mains(storey_id)]
        open_air = Ground(False, self.climate.outdoors_c, limit("cabling.cost_outdoor"))
        walls = [wall for wall in self.job.of(Wall) if wall.storey_id == storey_id]
        return StoreyGround(storey_id, patches, open_air, walls, self.job.build_ups)

    def _mains(self, storey_id: str) -> list[BaseGeometry]:
        """Return what lies too near to mains in the void of a storey."""
        void_m = self._void_m(storey_id)
        return [
            shapely.LineString([(p.x_m, p.y_m) for p in line.path]).buffer(apart_m(line), cap_style="flat")
            for line in self.job.of(Line)
            if line.line_kind == "mains"
            and line.keep
            and line.storey_id == storey_id
            and abs(void_m - line.height_m) < apart_m(line)
        ]

    def _over(self, space: Space) -> Ground:
        """Return the ground over a space: its ceiling void, or itself where it has none that is cooler."""
        inside = space.space_kind != "outdoor"
        if not inside:
            return ground_of(space, inside, self.climate.outdoors_c)
        hot = space.hottest_c is not None or space.space_kind == "loft"
        return ground_of(space, inside, self._room_c(space, inside) if hot else self.climate.void_c)

    @cached_property
    def lattice(self) -> Lattice:
        """The lines, pathways and risers that cables may take."""
        levels: dict[str, Level] = {}
        first = 0
        risen = list(self._risen())
        for storey in self.building.storeys:
            places = [riser.at for riser, low, high in risen if storey.id in (low, high)]
            tracks = tracks_of(self.job, storey.id)
            level = Level(
                self.grounds[storey.id],
                self._void_m(storey.id),
                self._usual(storey.id),
                places,
                tracks,
                first,
            )
            levels[storey.id] = level
            first += level.size
        steps = [(low, high, riser.at, self._rise_m(low, high)) for riser, low, high in risen]
        return Lattice(levels, steps)

    def _risen(self) -> Iterator[tuple[Riser, str, str]]:
        """Yield every riser between every two storeys next to each other on its way."""
        order = [storey.id for storey in self.building.storeys]
        for riser in self.risers:
            low, high = sorted((order.index(riser.from_storey_id), order.index(riser.to_storey_id)))
            for one, other in pairwise(order[low : high + 1]):
                yield riser, one, other

    def _usual(self, storey_id: str) -> tuple[list[float], list[float]]:
        """Return where lines lie that follow from what is drawn: beside the edges of rooms and in their middle,
        round houses and no-go areas.
        """
        xs: list[float] = []
        ys: list[float] = []
        polygons = self.building.polygons
        rooms = [
            polygons[s.id].bounds for s in self.building.spaces[storey_id] if not polygons[s.id].is_empty
        ]
        offs = [(box, _OFF_ROOM_M) for box in rooms] + [(box, None) for box in rooms]
        offs += [(area.bounds, -_OFF_HOUSE_M) for area in self.building.houses.values() if not area.is_empty]
        offs += [
            (ring_polygon(area.outline).bounds, -_OFF_NO_GO_M)
            for area in self.job.of(NoGo)
            if area.storey_id == storey_id
        ]
        offs += [
            (polygons[s.id].bounds, -_OFF_NO_GO_M)
            for s in self.rooms.values()
            if s.no_go and s.storey_id == storey_id and not polygons[s.id].is_empty
        ]
        offs += [(area.bounds, -_OFF_MAINS_M) for area in self._mains(storey_id)]
        for (x0, y0, x1, y1), off_m in offs:
            for found, low, high in ((xs, x0, x1), (ys, y0, y1)):
                if off_m is None:
                    found.append((low + high) / 2)
                elif high - low > 2 * off_m + 0.2:
                    found += [low + off_m, high - off_m]
        return xs, ys

    # A route, from place to place.

    def route(self, link: Link, start: Spot, end: Spot) -> Route:
        """Return the least-cost route of a run between two places, by the places it was told to pass."""
        if not link.pins and start.storey_id == end.storey_id and start.at == end.at:
            upright = self._drop(start.storey_id, start.at, start.height_m, end.height_m, "upright")
            return Route(upright, (), sum(leg.length_m for leg in upright))
        stops = [
            (start.storey_id, start.at),
            *((p.storey_id, p.at) for p in link.pins),
            (end.storey_id, end.at),
        ]
        cost = 0.0
        nodes = [Node(start.storey_id, start.at, start.height_m)]
        for (storey_id, at), (to_storey_id, to) in pairwise(stops):
            more, passed = self._between(storey_id, at, to_storey_id, to)
            cost += more
            nodes += [Node(storey_id, at, self._void_m(storey_id)), *passed]
            nodes.append(Node(to_storey_id, to, self._void_m(to_storey_id)))
        nodes.append(Node(end.storey_id, end.at, end.height_m))
        drops = sum(abs(self._void_m(spot.storey_id) - spot.height_m) for spot in (start, end))
        return self._drawn(_tidied(nodes), cost + drops)

    def _between(self, storey_id: str, at: Point, to_id: str, to: Point) -> tuple[float, tuple[Node, ...]]:
        """Return the cost of the cheapest way between places in two voids, and what it passes."""
        if (storey_id, at) == (to_id, to):
            return 0.0, ()
        ways: list[tuple[float, tuple[Node, ...]]] = []
        if storey_id == to_id:
            ways += self._plain(storey_id, at, to)
        found = self.lattice.field(storey_id, at).to(self.lattice.levels[to_id].stubs(to))
        if found is not None:
            ways.append(found)
        if ways:
            return min(ways, key=lambda way: round(way[0], 6))
        return self._by_no_riser(storey_id, at, to_id, to)

    def _by_no_riser(
        self, storey_id: str, at: Point, to_id: str, to: Point
    ) -> tuple[float, tuple[Node, ...]]:
        """Return the way straight up or down at the near end, so that the run has a figure; a finding says so."""
        cost, passed = self._between(to_id, at, to_id, to)
        return cost + self._rise_m(storey_id, to_id), (Node(to_id, at, self._void_m(to_id)), *passed)

    def _plain(self, storey_id: str, at: Point, to: Point) -> list[tuple[float, tuple[Node, ...]]]:
        """Return the two ways of one turn, and those by one pathway that both places' own lines meet."""
        level, ground = self.lattice.levels[storey_id], self.grounds[storey_id]
        rulers: dict[tuple[Point, Axis], Ruler] = {
            (place, axis): ground.ruler(axis, place.y_m if axis == "x" else place.x_m)
            for place in (at, to)
            for axis in AXES
        }
        found: list[tuple[float, tuple[Node, ...]]] = []
        for first, second in (AXES, AXES[::-1]):
            corner = Point(x_m=to.x_m, y_m=at.y_m) if first == "x" else Point(x_m=at.x_m, y_m=to.y_m)
            cost = self._end_cost(rulers[at, first], at, corner) + self._end_cost(
                rulers[to, second], to, corner
            )
            turns = at.x_m != to.x_m and at.y_m != to.y_m
            node = Node(storey_id, corner, level.void_m)
            found.append((cost + (limit("cabling.cost_bend") if turns else 0.0), (node,)))
        ons = [on for axis in AXES for on in level.boardings(at, axis, rulers[at, axis])]
        offs = [off for axis in AXES for off in level.boardings(to, axis, rulers[to, axis])]
        for n, mark, on_cost, on_via in ons:
            for m, other, off_cost, off_via in offs:
                if n == m:
                    along = abs(mark - other) * level.tracks[n].share
                    found.append((on_cost + along + off_cost, (*on_via, *reversed(off_via))))
        return found

    @staticmethod
    def _end_cost(ruler: Ruler, end: Point, corner: Point) -> float:
        """Return the cost along a ruler from an end to a corner: what stands on a wall is reached from either side."""
        here, there = (end.x_m, corner.x_m) if ruler.axis == "x" else (end.y_m, corner.y_m)
        if here == there:
            return 0.0
        return ruler.cost(here + math.copysign(1e-6, there - here), there)

    # A way as legs.

    def _drawn(self, nodes: Sequence[Node], cost: float) -> Route:
        legs: list[Leg] = []
        holes: list[Hole] = []
        last = len(nodes) - 2
        for n, (one, other) in enumerate(pairwise(nodes)):
            if one.storey_id != other.storey_id:
                leg, hole = self._rise(one, other)
                legs.append(leg)
                holes.append(hole)
            elif one.at == other.at:
                what = "down to the device" if n == last else "up to the void"
                legs += self._drop(one.storey_id, one.at, one.z_m, other.z_m, what)
            elif one.track is not None and one.track == other.track:
                legs += self._along(one, other)
            else:
                level_legs, drilled = self._level(one, other, n <= 1, n >= last - 1)
                legs += level_legs
                holes += drilled
        return Route(tuple(legs), tuple(holes), cost)

    def _rise(self, one: Node, other: Node) -> tuple[Leg, Hole]:
        """Return the way up or down a riser, and the floor it passes."""
        storey = self.building.storey
        floors = {n.storey_id: storey(n.storey_id).elevation_m for n in (one, other)}
        high = max((one.storey_id, other.storey_id), key=lambda name: floors[name])
        z0, z1 = floors[one.storey_id] + one.z_m, floors[other.storey_id] + other.z_m
        riser = self._riser_at(one, other)
        leg = Leg(
            storey_id=other.storey_id,
            a=one.at,
            b=one.at,
            z0_m=z0,
            z1_m=z1,
            length_m=abs(z1 - z0),
            temperature_c=self.climate.indoors_c,
            environment="riser",
            what=f"riser {riser.label}" if riser else "riser not marked",
        )
        floor_min = int(limit("cabling.floor_fire_min"))
        slab = storey(high).slab_build_up
        return leg, Hole(storey_id=high, at=one.at, build_up=slab, wall_id=None, fire_minutes=floor_min)

    def _riser_at(self, one: Node, other: Node) -> Riser | None:
        ends = {one.storey_id, other.storey_id}
        return next(
            (
                riser
                for riser, low, high in self._risen()
                if {low, high} == ends
                and math.dist((riser.at.x_m, riser.at.y_m), (one.at.x_m, one.at.y_m)) < 1e-5
            ),
            None,
        )

    def _void_m(self, storey_id: str) -> float:
        """Return the middle of a storey's ceiling void above its floor. [m]"""
        storey = self.building.storey(storey_id)
        return storey.ceiling_m + storey.void_m / 2

    def _rise_m(self, one: str, other: str) -> float:
        """Return how far apart the voids of two storeys are. [m]"""
        floor = self.building.storey
        low, high = (floor(name).elevation_m + self._void_m(name) for name in (one, other))
        return abs(high - low)

    def _along(self, one: Node, other: Node) -> list[Leg]:
        """Return the way along a pathway between two marks on it: nothing is drilled, it is there or made once."""
        level = self.lattice.levels[one.storey_id]
        track = level.tracks[one.track if one.track is not None else 0]
        floor = self.building.storey(one.storey_id).elevation_m
        low, high = sorted((one.mark_m, other.mark_m))
        marks = [low, *(v for v in track.corners if low + 1e-9 < v < high - 1e-9), high]
        if one.mark_m > other.mark_m:
            marks.reverse()
        return [self._on(track, one.storey_id, floor, a, b) for a, b in pairwise(marks)]

    def _on(self, track: Track, storey_id: str, floor_m: float, a_m: float, b_m: float) -> Leg:
        pathway = track.pathway
        ground = self.grounds[storey_id].at(track.at((a_m + b_m) / 2))
        return Leg(
            storey_id=storey_id,
            a=track.at(a_m),
            b=track.at(b_m),
            z0_m=floor_m + pathway.height_m,
            z1_m=floor_m + pathway.height_m,
            length_m=abs(b_m - a_m),
            temperature_c=ground.temperature_c,
            environment=pathway.surroundings or ("general" if ground.inside else "outdoor"),
            what=f"{pathway.pathway_kind} {pathway.label}",
            pathway_id=pathway.id,
        )

    def _drop(self, storey_id: str, at: Point, from_m: float, to_m: float, what: str) -> tuple[Leg, ...]:
        length = abs(to_m - from_m)
        if length < 1e-9:
            return ()
        floor = self.building.storey(storey_id).elevation_m
        inside = self.building.house_at(at) is not None
        found = self.building.space_at(storey_id, at)
        leg = Leg(
            storey_id=storey_id,
            a=at,
            b=at,
            z0_m=floor + from_m,
            z1_m=floor + to_m,
            length_m=length,
            temperature_c=self._room_c(self.rooms.get(found.id) if found else None, inside),
            environment="general" if inside else "outdoor",
            what=what,
        )
        return (leg,)

    def _room_c(self, space: Space | None, inside: bool) -> float:
        if space is not None and space.hottest_c is not None:
            return space.hottest_c
        if space is not None and space.space_kind == "loft":
            return self.climate.loft_c
        return self.climate.indoors_c if inside else self.climate.outdoors_c

    def _level(self, one: Node, other: Node, first: bool, last: bool) -> tuple[list[Leg], tuple[Hole, ...]]:
        """Return a level way along one axis, cut where the ground changes, and what it drills."""
        axis: Axis = "x" if abs(one.at.y_m - other.at.y_m) < 1e-9 else "y"
        at_m, a_m, b_m = (
            (one.at.y_m, one.at.x_m, other.at.x_m) if axis == "x" else (one.at.x_m, one.at.y_m, other.at.y_m)
        )
        ruler = self.grounds[one.storey_id].ruler(axis, at_m)
        z_m = self.building.storey(one.storey_id).elevation_m + one.z_m
        legs = [
            Leg(
                storey_id=one.storey_id,
                a=ruler.point(start),
                b=ruler.point(stop),
                z0_m=z_m,
                z1_m=z_m,
                length_m=abs(stop - start),
                temperature_c=ground.temperature_c,
                environment=self._void_space(one.storey_id) if ground.inside else "outdoor",
                what="ceiling void" if ground.inside else "outdoors",
                blocked_by=ground.blocked_by,
            )
            for start, stop, ground in ruler.stretches(a_m, b_m)
        ]
        off = math.copysign(1e-6, b_m - a_m)
        return legs, ruler.drilled(a_m + (off if first else 0.0), b_m - (off if last else 0.0))

    def _void_space(self, storey_id: str) -> Environment:
        return "plenum" if storey_id in self.air_voids else "general"


def _tidied(nodes: Sequence[Node]) -> list[Node]:
    """Return nodes without those that change nothing: twice the same place, the middle of a straight part, of
    several heights at one place all but the first and last.
    """
    kept: list[Node] = []
    for node in nodes:
        if kept and _same(kept[-1], node):
            # What names the pathway is kept of two that are one place.
            if kept[-1].track is None:
                kept[-1] = node
            continue
        while len(kept) > 1 and _straight(kept[-2], kept[-1], node):
            kept.pop()
        kept.append(node)
    return kept


def _same(a: Node, b: Node) -> bool:
    return (
        a.storey_id == b.storey_id
        and abs(a.at.x_m - b.at.x_m) < 1e-6
        and abs(a.at.y_m - b.at.y_m) < 1e-6
        and abs(a.z_m - b.z_m) < 1e-9
        and (a.track is None or b.track is None or a.track == b.track)
    )


def _straight(a: Node, b: Node, c: Node) -> bool:
    """Whether the middle one of three places is on the straight way between the others."""
    if not a.storey_id == b.storey_id == c.storey_id:
        return False
    if a.at == b.at == c.at:
        return True
    if b.at in (a.at, c.at):
        return False
    if a.track is not None and a.track == b.track == c.track:
        return (b.mark_m - a.mark_m) * (c.mark_m - b.mark_m) >= 0
    if b.track is not None and b.track in (a.track, c.track):
        return False
    in_x = abs(a.at.x_m - b.at.x_m) < 1e-9 and abs(b.at.x_m - c.at.x_m) < 1e-9
    in_y = abs(a.at.y_m - b.at.y_m) < 1e-9 and abs(b.at.y_m - c.at.y_m) < 1e-9
    forward = (b.at.x_m - a.at.x_m) * (c.at.x_m - b.at.x_m) + (b.at.y_m - a.at.y_m) * (
        c.at.y_m - b.at.y_m
    ) > 0
    return (in_x or in_y) and forward and a.z_m == b.z_m == c.z_m
