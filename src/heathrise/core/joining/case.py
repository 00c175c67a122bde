"""The case: one thing that data is to reach, and all that the ways to it are worked out from."""

from dataclasses import dataclass

import shapely
from shapely.geometry.base import BaseGeometry

from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import AccessPoint, Equipment, Job, Link, Planting
from heathrise.core.library import limit
from heathrise.core.links.profile import Masts, ProfilePoint
from heathrise.core.site.building import Building
from heathrise.core.sums import Sum


@dataclass(frozen=True)
class Span:
    """The open air between two houses where they are nearest: its places with what stands on each, and how high
    both antennas are mounted. [m]
    """

    length_m: float
    places: tuple[ProfilePoint, ...]
    masts: Masts


@dataclass(frozen=True)
class Heard:
    """The wired access point heard best where the thing stands, and how strongly at 5 GHz. [dBm]"""

    label: str
    rssi_dbm: float
    sum: Sum


@dataclass(frozen=True)
class Case:
    """One thing to reach. `run` is its run as it lies or would lie, `plan` what that would be of copper; None with `no_run`
    saying why there is none."""

    job: Job
    building: Building
    thing: AccessPoint | Equipment
    need: Sum
    run: Link | None
    plan: RunPlan | None
    no_run: str
    houses: tuple[str | None, str | None]
    span: Span | None
    heard: Heard | None

    @property
    def is_apart(self) -> bool:
        """Whether both ends stand in houses with earths of their own."""
        return None not in self.houses and self.houses[0] != self.houses[1]

    @property
    def model_watts(self) -> float:
        """The most the thing draws. [W]"""
        return self.job.equipment[self.thing.model].max_w

    @property
    def radiates(self) -> bool:
        """Whether it serves clients by radio."""
        return self.job.equipment[self.thing.model].radiates

    @property
    def open_m(self) -> float:
        """How much of the run lies in the ground or outdoors where no pathway is: what is to be trenched. [m]"""
        legs = self.plan.legs if self.plan else ()
        return sum(
            leg.length_m
            for leg in legs
            if leg.pathway_id is None and leg.environment in ("outdoor", "ground") and leg.z0_m == leg.z1_m
        )


def span_between(building: Building, one: str, other: str) -> Span | None:
    """Return the open air between two houses; None where they touch."""
    line = shapely.shortest_line(building.houses[one], building.houses[other])
    if line.length <= 0:
        return None
    ends = ProfilePoint(distance_m=0), ProfilePoint(distance_m=line.length)
    between = sorted(_standing(building, line, {one, other}), key=lambda place: place.distance_m)
    # A bare path is still looked at in its middle, where its zone is widest.
    places = between or [ProfilePoint(distance_m=line.length / 2)]
    masts = Masts(from_m=_mount_m(building, one), to_m=_mount_m(building, other))
    return Span(line.length, (ends[0], *_apart(places), ends[1]), masts)


def _standing(building: Building, line: BaseGeometry, ends: set[str]) -> list[ProfilePoint]:
    """Return the middle of every house and every planting over a line, with its height."""
    found = [(area, _height_m(building, name)) for name, area in building.houses.items() if name not in ends]
    found += [
        (shapely.Polygon([(p.x_m, p.y_m) for p in plant.outline]), plant.height_m)
        for plant in building.job.of(Planting)
    ]
    places = []
    for area, height_m in found:
        over = line.intersection(area)
        if over.length > 0:
            places.append(ProfilePoint(distance_m=line.project(over.centroid), obstacle_m=height_m))
    return places


def _apart(places: list[ProfilePoint]) -> list[ProfilePoint]:
    """Return places in order, of those at one distance the highest."""
    highest: dict[float, ProfilePoint] = {}
    for place in places:
        at = round(place.distance_m, 2)
        if at not in highest or highest[at].obstacle_m < place.obstacle_m:
            highest[at] = place
    return [highest[at] for at in sorted(highest) if at > 0]


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
