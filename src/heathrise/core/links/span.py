"""The open air between two places: what stands in it, and between two houses where they are nearest."""

from collections.abc import Collection
from dataclasses import dataclass

import shapely
from shapely.geometry.base import BaseGeometry

from heathrise.core.job import PathPoint, Planting, Point
from heathrise.core.library import limit
from heathrise.core.links.profile import Masts
from heathrise.core.site.building import Building, ring_polygon

# Antennas stand so far off the wall they are mounted on.
_OFF_WALL_M = 0.15


@dataclass(frozen=True)
class Span:
    """The open air from one place to another: its places with what stands on each, and how high over the ground
    both antennas are. [m]
    """

    a: Point
    b: Point
    length_m: float
    places: tuple[PathPoint, ...]
    masts: Masts


def span_between(building: Building, one: str, other: str) -> Span | None:
    """Return the open air between two houses where they are nearest, antennas under the eaves; None where they touch."""
    line = shapely.shortest_line(building.houses[one], building.houses[other])
    if line.length <= 2 * _OFF_WALL_M:
        return None
    ends = line.interpolate(_OFF_WALL_M), line.interpolate(line.length - _OFF_WALL_M)
    a, b = (Point(x_m=round(end.x, 3), y_m=round(end.y, 3)) for end in ends)
    masts = Masts(from_m=_mount_m(building, one), to_m=_mount_m(building, other))
    return span_at(building, a, b, masts)


def span_at(building: Building, a: Point, b: Point, masts: Masts) -> Span:
    """Return the open air between two antennas. The houses they are mounted on are not in their way.

    Raises
    ------
    ValueError
        If both stand at one place.
    """
    line = shapely.LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
    if not line.length > 0:
        raise ValueError("both ends of a path stand at one place")
    near = _OFF_WALL_M + 0.2
    mine = {
        name
        for name, area in building.houses.items()
        if any(area.distance(shapely.Point(p.x_m, p.y_m)) <= near for p in (a, b))
    }
    ends = PathPoint(distance_m=0), PathPoint(distance_m=line.length)
    between = sorted(_standing(building, line, mine), key=lambda place: place.distance_m)
    # A bare path is still looked at in its middle, where its zone is widest.
    places = _apart(between, line.length) or [PathPoint(distance_m=line.length / 2)]
    return Span(a, b, line.length, (ends[0], *places, ends[1]), masts)


def _standing(building: Building, line: BaseGeometry, mine: Collection[str]) -> list[PathPoint]:
    """Return the middle of every house and every planting over a line, with its height."""
    found = [(area, _height_m(building, name)) for name, area in building.houses.items() if name not in mine]
    found += [(ring_polygon(plant.outline), plant.height_m) for plant in building.job.of(Planting)]
    places = []
    for area, height_m in found:
        over = line.intersection(area)
        if over.length > 0:
            places.append(PathPoint(distance_m=line.project(over.centroid), obstacle_m=height_m))
    return places


def _apart(places: list[PathPoint], length_m: float) -> list[PathPoint]:
    """Return places in order, of those at one distance the highest."""
    highest: dict[float, PathPoint] = {}
    for place in places:
        at = round(place.distance_m, 2)
        if at not in highest or highest[at].obstacle_m < place.obstacle_m:
            highest[at] = place
    return [highest[at] for at in sorted(highest) if 0 < at < length_m]


def _height_m(building: Building, house: str) -> float:
    """Return the height of a house's top storey over the ground."""
    tops = [
        building.top_m(storey)
        for storey in building.storeys
        if any(space.building == house for space in building.spaces[storey.id])
    ]
    return max(tops, default=0.0)


def _mount_m(building: Building, house: str) -> float:
    """Return how high an antenna is mounted on a house: under its eaves, within reach of a ladder."""
    return max(0.5, min(limit("links.mount_m"), _height_m(building, house)))
