"""Apart from mains: how far data cables keep from mains cables, luminaires and motors, and where they do not."""

import math
from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

import shapely

from heathrise.core.cabling.apart import apart_m
from heathrise.core.cabling.routes import Leg
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import Fixture, Job, Line, Point
from heathrise.core.library import limit

# Two ways are side by side where the angle between them is less than this, and cross otherwise. [degrees]
_BESIDE_DEG = 45.0


class Beside(NamedTuple):
    """A stretch of a run too near to mains: beside what, for how long, how near, and how near it may be. [m]"""

    what_id: str
    label: str
    length_m: float
    apart_m: float
    wanted_m: float
    storey_id: str
    at: Point


def too_near(job: Job, plan: RunPlan) -> Iterator[Beside]:
    """Yield every stretch of a run that lies too near to mains, a luminaire or a heater that stays."""
    floors = {storey.id: storey.elevation_m for storey in job.storeys}
    level = [leg for leg in plan.legs if leg.z0_m == leg.z1_m and leg.length_m > 0]
    for line in job.of(Line):
        if line.line_kind == "mains" and line.keep:
            found = [
                _beside(leg, line, floors[line.storey_id]) for leg in level if leg.storey_id == line.storey_id
            ]
            stretches = [one for one in found if one is not None]
            if stretches:
                nearest = min(stretches, key=lambda one: one.apart_m)
                yield nearest._replace(length_m=sum(one.length_m for one in stretches))
    for fixture in job.of(Fixture):
        if fixture.fixture_kind in ("luminaire", "heater") and fixture.keep:
            for leg in level:
                if leg.storey_id == fixture.storey_id:
                    one = _at_fixture(leg, fixture, floors[fixture.storey_id])
                    if one is not None:
                        yield one
                        break


def _beside(leg: Leg, line: Line, floor_m: float) -> Beside | None:
    """Return how a leg lies beside a mains cable; None where it is far enough, or crosses it."""
    wanted, up = apart_m(line), abs(leg.z0_m - floor_m - line.height_m)
    if up >= wanted:
        return None
    aside = math.sqrt(wanted * wanted - up * up)
    way = shapely.LineString([(leg.a.x_m, leg.a.y_m), (leg.b.x_m, leg.b.y_m)])
    best: Beside | None = None
    for a, b in pairwise(line.path):
        if _angle_deg(leg.a, leg.b, a, b) > _BESIDE_DEG:
            continue
        mains = shapely.LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
        near = way.intersection(mains.buffer(aside, cap_style="flat"))
        if near.length < limit("cabling.beside_least_m"):
            continue
        at = near.interpolate(0.5, normalized=True)
        apart = math.hypot(near.distance(mains), up)
        if best is None or apart < best.apart_m:
            best = Beside(
                what_id=line.id,
                label=line.label,
                length_m=near.length,
                apart_m=apart,
                wanted_m=wanted,
                storey_id=line.storey_id,
                at=Point(x_m=round(at.x, 2), y_m=round(at.y, 2)),
            )
    return best


def _at_fixture(leg: Leg, fixture: Fixture, floor_m: float) -> Beside | None:
    wanted = limit("cabling.apart_gear_m")
    up = abs(leg.z0_m - floor_m - fixture.height_m)
    way = shapely.LineString([(leg.a.x_m, leg.a.y_m), (leg.b.x_m, leg.b.y_m)])
    apart = math.hypot(way.distance(shapely.Point(fixture.at.x_m, fixture.at.y_m)), up)
    if apart >= wanted:
        return None
    return Beside(fixture.id, fixture.label, 0.0, apart, wanted, fixture.storey_id, fixture.at)


def _angle_deg(a: Point, b: Point, c: Point, d: Point) -> float:
    """Return the angle between two ways, 0 for side by side, 90 for square. [degrees]"""
    one = math.atan2(b.y_m - a.y_m, b.x_m - a.x_m)
    other = math.atan2(d.y_m - c.y_m, d.x_m - c.x_m)
    return abs(math.degrees(math.remainder(one - other, math.pi)))
