"""The building derived from a job's walls, openings and spaces.

Obstacles are upright rectangles a ray can cross; slabs are level polygons with holes. Both carry
their loss at 2.4, 5 and 6 GHz. [dB]
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from heathrise.core.job import Element, Job, Opening, Planting, Point, Shaft, Space, Storey, Wall
from heathrise.core.job.view import Slice
from heathrise.core.library import library, limit

Floats = NDArray[np.float64]
OPEN_ABOVE = ("stair", "atrium")
# Half a thick wall: joins the outlines of rooms that were drawn along their inner faces.
JOIN_M = 0.35


@dataclass(frozen=True)
class Obstacles:
    """Upright rectangles: ends (n, 4) as x1 y1 x2 y2, heights (n, 2), losses (n, 3).

    `names` and `build_ups` say what each is; a plain opening has no build-up.
    """

    ends_m: Floats
    heights_m: Floats
    losses_db: Floats
    names: tuple[str, ...]
    build_ups: tuple[str | None, ...]


@dataclass(frozen=True)
class Slab:
    """A level plane at `z_m` over `area`, with its losses."""

    z_m: float
    area: BaseGeometry
    losses_db: tuple[float, float, float]
    name: str
    build_up: str


@dataclass(frozen=True)
class Area:
    """An upright prism the air loses something in on every metre: contents of a space, foliage."""

    outline: Polygon
    heights_m: tuple[float, float]
    losses_db_m: tuple[float, float, float]
    name: str


@dataclass(frozen=True)
class Box:
    """A rectangle of the sheet."""

    x0_m: float
    y0_m: float
    x1_m: float
    y1_m: float


def polygon(space: Space) -> Polygon:
    """Return a space's outline as a valid polygon (a self-crossing one is mended)."""
    return ring_polygon(space.outline)


def ring_polygon(outline: Sequence[Point]) -> Polygon:
    """Return an outline as a valid polygon (a self-crossing one is mended)."""
    shape = Polygon([(p.x_m, p.y_m) for p in outline])
    return shape if shape.is_valid else shape.buffer(0)


def flight_of(stair: Polygon) -> BaseGeometry:
    """Return where a stair leaves the floor above open: over its flight, not over its landings or the hall
    it stands in.

    One flight along the space, or two side by side where it is wide enough, in its middle: where the flight
    runs is not drawn. A stair drawn exactly is a shaft.
    """
    frame = shapely.oriented_envelope(stair)
    corners = np.asarray(frame.exterior.coords)[:4]
    sides = [corners[1] - corners[0], corners[3] - corners[0]]
    sides.sort(key=lambda side: -float(np.hypot(*side)))
    (long_m, along), (short_m, across) = ((float(np.hypot(*s)), s / np.hypot(*s)) for s in sides)
    double = short_m >= 2 * limit("site.flight_width_m")
    width_m = min(short_m, limit("site.flight_width_m") * (2 if double else 1))
    length_m = min(long_m, limit("site.flight_length_m") / (1.4 if double else 1))
    middle = np.asarray(frame.centroid.coords)[0]
    reach = along * length_m / 2, across * width_m / 2
    signs = ((-1, -1), (1, -1), (1, 1), (-1, 1))
    return Polygon([middle + a * reach[0] + b * reach[1] for a, b in signs]).intersection(stair)


class Piece(NamedTuple):
    """One upright rectangle of a wall, opening or planting, and what it is made of."""

    ends_m: tuple[float, float, float, float]
    heights_m: tuple[float, float]
    losses_db: tuple[float, float, float]
    name: str
    build_up: str | None


NOTHING_DB = (0.0, 0.0, 0.0)
# What of a job is geometry. How the air is computed, what was learned of it, antennas and models go with
# it: all of them change losses. Names, needs and people do not.
GEOMETRY = Slice(
    "geometry",
    {
        "site": frozenset({"domain", "roof_build_up"}),
        "storey": frozenset({"elevation_m", "ceiling_m", "void_m", "slab_build_up"}),
        "wall": frozenset({"storey_id", "a", "b", "build_up", "height_m"}),
        "opening": frozenset(
            {"wall_id", "opening_kind", "at_m", "width_m", "sill_m", "height_m", "build_up"}
        ),
        "space": frozenset({"storey_id", "outline", "space_kind", "building", "slab_build_up", "contents"}),
        "shaft": frozenset({"outline", "from_storey_id", "to_storey_id"}),
        "planting": frozenset({"storey_id", "outline", "height_m", "build_up"}),
        "build-up": frozenset({"code", "build_kind", "loss_24_db", "loss_5_db", "loss_6_db", "layers"}),
        "air-model": frozenset({"round", "mirrors", "true_angle", "doors", "area_losses", "calibrated"}),
        "calibration": frozenset(
            {"offset_db", "shifts", "spaces", "near", "points", "before_db", "after_db", "held_out_db"}
        ),
        "antenna": frozenset({"code", "azimuth", "elevation"}),
        "model": frozenset({"code", "model"}),
    },
)


def building_of(job: Job) -> "Building":
    """Return the building of a job; jobs that differ in anything but geometry share one.

    Its elements are bare: their labels are their ids. `named` writes the labels of a job in their place.
    """
    return bare_building(GEOMETRY.of(job))


def spaces_on(job: Job, storey_id: str) -> tuple[Space, ...]:
    """Return the spaces of a storey with all that was said of them."""
    return tuple(space for space in job.of(Space) if space.storey_id == storey_id)


def space_at(job: Job, building: "Building", storey_id: str, at: Point) -> Space | None:
    """Return the smallest space at a place, with all that was said of it."""
    found = building.space_at(storey_id, at)
    return job.get(Space, found.id) if found is not None else None


_ID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")


def named(job: Job, text: str) -> str:
    """Return a text of a building's with the labels of a job in place of ids."""
    return _ID.sub(lambda found: job.by_id[found[0]].label if found[0] in job.by_id else found[0], text)


@lru_cache(maxsize=8)
def bare_building(elements: tuple[Element, ...]) -> "Building":
    """Return the building of the bare elements of a job."""
    return Building(Job.model_construct(name="geometry", elements=elements))


class Building:
    """The geometry of one job, worked out as it is asked for."""

    def __init__(self, job: Job):
        self.job = job

    @cached_property
    def storeys(self) -> tuple[Storey, ...]:
        """Lowest first."""
        return self.job.storeys

    @cached_property
    def spaces(self) -> dict[str, tuple[Space, ...]]:
        """Spaces by storey id."""
        by: dict[str, list[Space]] = {storey.id: [] for storey in self.storeys}
        for space in self.job.of(Space):
            by[space.storey_id].append(space)
        return {key: tuple(value) for key, value in by.items()}

    @cached_property
    def polygons(self) -> dict[str, Polygon]:
        """Outline polygon by space id."""
        return {space.id: polygon(space) for space in self.job.of(Space)}

    def storey(self, storey_id: str) -> Storey:
        """Return a storey by id."""
        return next(s for s in self.storeys if s.id == storey_id)

    def top_m(self, storey: Storey) -> float:
        """Return the height of a storey's ceiling void's top above site zero. [m]"""
        return storey.elevation_m + storey.ceiling_m + storey.void_m

    @cached_property
    def inside(self) -> dict[str, BaseGeometry]:
        """Area under a roof by storey id: the storey's indoor spaces, joined across their walls."""
        areas = {}
        for storey in self.storeys:
            rooms = [self.polygons[s.id] for s in self.spaces[storey.id] if s.space_kind != "outdoor"]
            joined = shapely.union_all([r.buffer(JOIN_M, join_style="mitre") for r in rooms])
            areas[storey.id] = joined.buffer(-JOIN_M, join_style="mitre") if rooms else MultiPolygon()
        return areas

    @cached_property
    def cared_for(self) -> dict[str, BaseGeometry]:
        """Where somebody may want the air, by storey id: indoors, and every space outdoors."""
        return {
            storey.id: shapely.union_all(
                [
                    self.inside[storey.id],
                    *(self.polygons[s.id] for s in self.spaces[storey.id] if s.space_kind == "outdoor"),
                ]
            )
            for storey in self.storeys
        }

    @cached_property
    def shielded(self) -> frozenset[str]:
        """Spaces that are meant to be dark: most of their outline was built to shield."""
        found = set()
        heavy = limit("plan.shielding_db")
        for storey in self.storeys:
            walls = [
                line
                for line, code in self.wall_lines(storey.id)
                if code is not None and self.job.build_ups[code].losses_db[0] >= heavy
            ]
            near = shapely.union_all([wall.buffer(JOIN_M) for wall in walls]) if walls else None
            for space in self.spaces[storey.id] if near is not None else ():
                rim = self.polygons[space.id].exterior
                if rim.intersection(near).length >= limit("plan.shielded_share") * rim.length:
                    found.add(space.id)
        return frozenset(found)

    @cached_property
    def houses(self) -> dict[str, BaseGeometry]:
        """Indoor area by the name of the house, over all storeys."""
        rooms: dict[str, list[BaseGeometry]] = {}
        for space in self.job.of(Space):
            if space.space_kind != "outdoor":
                rooms.setdefault(space.building, []).append(self.polygons[space.id])
        return {
            name: shapely.union_all([r.buffer(JOIN_M, join_style="mitre") for r in found]).buffer(
                -JOIN_M, join_style="mitre"
            )
            for name, found in rooms.items()
        }

    def house_at(self, at: Point) -> str | None:
        """Return the name of the house over a place, None outdoors."""
        here = shapely.Point(at.x_m, at.y_m)
        return next((name for name, area in self.houses.items() if area.covers(here)), None)

    def space_at(self, storey_id: str, at: Point) -> Space | None:
        """Return the smallest space at a place."""
        here = shapely.Point(at.x_m, at.y_m)
        hits = [s for s in self.spaces[storey_id] if self.polygons[s.id].covers(here)]
        return min(hits, key=lambda s: self.polygons[s.id].area, default=None)

    @cached_property
    def obstacles(self) -> Obstacles:
        """Every wall, cut by its openings, as upright rectangles."""
        openings: dict[str, list[Opening]] = {}
        for opening in self.job.of(Opening):
            openings.setdefault(opening.wall_id, []).append(opening)
        pieces = [p for wall in self.job.of(Wall) for p in self._pieces(wall, openings.get(wall.id, []))]
        pieces += [p for plant in self.job.of(Planting) for p in self._hedge(plant)]
        return Obstacles(
            np.asarray([p.ends_m for p in pieces], float).reshape(-1, 4),
            np.asarray([p.heights_m for p in pieces], float).reshape(-1, 2),
            np.asarray([p.losses_db for p in pieces], float).reshape(-1, 3),
            tuple(p.name for p in pieces),
            tuple(p.build_up for p in pieces),
        )

    def _hedge(self, plant: Planting) -> Iterator[Piece]:
        """Yield the edges of a planting: a ray through it crosses two, each costs half."""
        z0 = self.storey(plant.storey_id).elevation_m
        low, mid, high = (loss / 2 for loss in self.job.build_ups[plant.build_up].losses_db)
        for one, other in pairwise((*plant.outline, plant.outline[0])):
            if one != other:
                ends = (one.x_m, one.y_m, other.x_m, other.y_m)
                half = (low, mid, high)
                yield Piece(ends, (z0, z0 + plant.height_m), half, plant.label, plant.build_up)

    def _pieces(self, wall: Wall, openings: list[Opening]) -> list[Piece]:
        """Return a wall's solid parts and its openings."""
        storey = self.storey(wall.storey_id)
        z0 = storey.elevation_m
        z1 = z0 + wall.height_m if wall.height_m is not None else self.top_m(storey)
        build_ups = self.job.build_ups
        code = wall.build_up
        solid = build_ups[code].losses_db if code else NOTHING_DB
        spans = [
            (max(0.0, o.at_m), min(wall.length_m, o.at_m + o.width_m), o)
            for o in sorted(openings, key=lambda o: o.at_m)
        ]
        cuts = [0.0, *(edge for a, b, _ in spans for edge in (a, b)), wall.length_m]
        pieces = [
            Piece(self._along(wall, a, b), (z0, z1), solid, wall.label, code)
            for a, b in list(pairwise(cuts))[::2]
            if b - a > 1e-9
        ]
        for a, b, opening in spans:
            if b - a <= 1e-9:
                continue
            line = self._along(wall, a, b)
            low, high = z0 + opening.sill_m, min(z0 + opening.sill_m + opening.height_m, z1)
            open_door = opening.opening_kind == "door" and self.job.air_model.doors == "open"
            free = opening.opening_kind == "opening" or open_door
            leaf = NOTHING_DB if free else build_ups[opening.build_up].losses_db
            what = None if free else opening.build_up
            bands = (
                (z0, low, solid, wall.label, code),
                (low, high, leaf, opening.label, what),
                (high, z1, solid, wall.label, code),
            )
            pieces += [
                Piece(line, (bottom, top), loss, name, made)
                for bottom, top, loss, name, made in bands
                if top > bottom
            ]
        return pieces

    @staticmethod
    def _along(wall: Wall, from_m: float, to_m: float) -> tuple[float, float, float, float]:
        dx = (wall.b.x_m - wall.a.x_m) / wall.length_m
        dy = (wall.b.y_m - wall.a.y_m) / wall.length_m
        return (
            wall.a.x_m + dx * from_m,
            wall.a.y_m + dy * from_m,
            wall.a.x_m + dx * to_m,
            wall.a.y_m + dy * to_m,
        )

    @cached_property
    def slabs(self) -> tuple[Slab, ...]:
        """Floors between storeys, less stairs and atria open to them, and roofs."""
        build_ups = self.job.build_ups
        roof = build_ups[self.job.site.roof_build_up]
        found: list[Slab] = []
        for index, storey in enumerate(self.storeys):
            above = self.storeys[index + 1] if index + 1 < len(self.storeys) else None
            here = self.inside[storey.id]
            roofed = here
            if above is not None:
                roofed = here.difference(self.inside[above.id].buffer(JOIN_M))
                floor = self.inside[above.id].difference(self._open_above(storey))
                found += self._floors(above, floor)
            found.append(
                Slab(
                    self.top_m(storey),
                    roofed,
                    roof.losses_db,
                    f"roof of {storey.label}",
                    self.job.site.roof_build_up,
                )
            )
        return tuple(slab for slab in found if not slab.area.is_empty)

    def _floors(self, storey: Storey, floor: BaseGeometry) -> Iterator[Slab]:
        """Yield a storey's floor: the parts under spaces with a slab of their own, then the rest."""
        for space in self.spaces[storey.id]:
            if space.slab_build_up is not None:
                own = self.job.build_ups[space.slab_build_up]
                under = self.polygons[space.id].intersection(floor)
                floor = floor.difference(under)
                yield Slab(
                    storey.elevation_m, under, own.losses_db, f"floor of {space.label}", space.slab_build_up
                )
        slab = self.job.build_ups[storey.slab_build_up]
        yield Slab(
            storey.elevation_m, floor, slab.losses_db, f"floor of {storey.label}", storey.slab_build_up
        )

    @cached_property
    def areas(self) -> tuple[Area, ...]:
        """Where the air loses something on every metre."""
        found = []
        for space in self.job.of(Space):
            losses = library().contents[space.contents].losses_db_m
            if max(losses) > 0:
                storey = self.storey(space.storey_id)
                span = storey.elevation_m, self.top_m(storey)
                name = f"{library().contents[space.contents].label} in {space.label}"
                found.append(Area(self.polygons[space.id], span, losses, name))
        return tuple(found)

    def _open_above(self, storey: Storey) -> BaseGeometry:
        """Return where there is no slab over a storey: stairs, atria, and shafts that pass on."""
        holes: list[BaseGeometry] = [
            flight_of(self.polygons[s.id]) if s.space_kind == "stair" else self.polygons[s.id]
            for s in self.spaces[storey.id]
            if s.space_kind in OPEN_ABOVE
        ]
        for shaft in self.job.of(Shaft):
            ends = [self.storey(ref).elevation_m for ref in (shaft.from_storey_id, shaft.to_storey_id)]
            if min(ends) <= storey.elevation_m < max(ends):
                holes.append(ring_polygon(shaft.outline))
        return shapely.union_all(holes) if holes else MultiPolygon()

    @cached_property
    def bounds(self) -> Box:
        """The rectangle round everything drawn, 1 m clear; a 10 m square when nothing is."""
        points = [p for wall in self.job.of(Wall) for p in (wall.a, wall.b)]
        points += [p for space in self.job.of(Space) for p in space.outline]
        if not points:
            return Box(0, 0, 10, 10)
        xs, ys = [p.x_m for p in points], [p.y_m for p in points]
        return Box(
            float(np.floor(min(xs) - 1)),
            float(np.floor(min(ys) - 1)),
            float(np.ceil(max(xs) + 1)),
            float(np.ceil(max(ys) + 1)),
        )

    def wall_lines(self, storey_id: str) -> list[tuple[LineString, str | None]]:
        """Return each wall of a storey as a line with its build-up."""
        return [
            (LineString([(w.a.x_m, w.a.y_m), (w.b.x_m, w.b.y_m)]), w.build_up)
            for w in self.job.of(Wall)
            if w.storey_id == storey_id
        ]
