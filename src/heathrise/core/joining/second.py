"""A second comms space: where one would bring runs that are too long within their limit, and what it takes."""

from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

from heathrise.core.cabling.defaults import next_label
from heathrise.core.cabling.ends import poe_class_needed
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import End, Equipment, InRack, Job, Link, Point, Rack, Space
from heathrise.core.joining.bridged import cheapest_switch, cheapest_wall_rack
from heathrise.core.library import library, limit
from heathrise.core.site.building import Building

# Where a rack hangs, over the floor. [m]
_RACK_M = 1.5
# Rooms that are made for it come before rooms that people sit in.
_MADE_FOR_IT = ("comms", "plant", "cellar")
_MAY_BE = (*_MADE_FOR_IT, "corridor", "room")


class SecondSpace(NamedTuple):
    """Where a second comms space would stand: for which runs, how long the longest would be, and the way between. [m]"""

    space: Space
    at: Point
    runs: tuple[RunPlan, ...]
    longest_m: float
    saved_m: float
    between_m: float


def too_long(job: Job, building: Building, runs: Runs) -> tuple[RunPlan, ...]:
    """Return the runs within one house that no cable of their kind carries that far."""
    found = []
    for plan in runs.plans:
        if plan.holds or plan.existing or plan.run_id in runs.spares or job.rack_of(plan.from_id) is None:
            continue
        one, other = (building.house_at(job.spot(end).at) for end in (plan.from_id, plan.to_id))
        if one == other:
            found.append(plan)
    return tuple(found)


def second_space(job: Job, building: Building, runs: Runs) -> SecondSpace | None:
    """Return where a second comms space would stand with the least cable; None where none is wanted or none helps.

    Lengths are estimates along the grain of the building, with weave and loops; the router has the last word.
    """
    long = too_long(job, building, runs)
    if len(long) < limit("cabling.second_space_runs"):
        return None
    found = [
        place
        for space in job.of(Space)
        if _may_stand(building, space) and (place := _at(job, building, space, long)) is not None
    ]
    made = [place for place in found if place.space.space_kind in _MADE_FOR_IT]
    return max(made or found, key=lambda place: place.saved_m, default=None)


def _may_stand(building: Building, space: Space) -> bool:
    cool = space.hottest_c is None and not space.no_go and space.id not in building.shielded
    return space.space_kind in _MAY_BE and cool


def _at(job: Job, building: Building, space: Space, long: Sequence[RunPlan]) -> SecondSpace | None:
    """Return a second comms space in one room; None where it brings some run within nothing."""
    point = building.polygons[space.id].representative_point()
    at = Point(x_m=round(point.x, 2), y_m=round(point.y, 2))
    z_m = building.storey(space.storey_id).elevation_m + _RACK_M
    lengths = [_length_m(job, building, at, z_m, plan.to_id) for plan in long]
    if any(length > plan.limit_m for length, plan in zip(lengths, long, strict=True)):
        return None
    between = _length_m(job, building, at, z_m, long[0].from_id)
    cables = 1 + limit("cabling.between_copper")
    saved = sum(plan.length_m for plan in long) - sum(lengths) - cables * between
    return SecondSpace(space, at, tuple(long), max(lengths), saved, between)


def _length_m(job: Job, building: Building, at: Point, z_m: float, end_id: str) -> float:
    """Return about how long a run from a place would be: along the walls, up to the ceiling and down. [m]"""
    spot = job.spot(end_id)
    storey = building.storey(spot.storey_id)
    end_z = storey.elevation_m + spot.height_m
    top = max(z_m, end_z, storey.elevation_m + storey.ceiling_m)
    level = abs(at.x_m - spot.at.x_m) + abs(at.y_m - spot.at.y_m)
    loops = limit("cabling.loop_rack_m") + limit("cabling.loop_ceiling_m")
    return (level + (top - z_m) + (top - end_z)) * limit("cabling.weave") + loops


def built(job: Job, found: SecondSpace, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return what makes a second comms space: a rack with a switch, fibre to the first, and the long runs moved to it.

    Raises
    ------
    EditError
        If the library has no switch that feeds them all.
    """
    model = cheapest_wall_rack()
    rack = Rack(
        id=new_id(),
        label=_free("TR", (rack.label for rack in job.of(Rack))),
        model=model,
        storey_id=found.space.storey_id,
        at=found.at,
        height_m=_RACK_M,
    )
    code = cheapest_switch(job, [poe_class_needed(job, plan.to_id) for plan in found.runs], uplinks=1)
    switch = Equipment(
        id=new_id(),
        label=_free("SW", (thing.label for thing in job.of(Equipment))),
        model=code,
        place=InRack(rack_id=rack.id),
    )
    home = found.runs[0].from_id
    moved = [job.get(Link, plan.run_id) for plan in found.runs]
    return (
        Put(element=rack),
        Put(element=switch),
        Put(element=fibre_between(job, home, rack.id, new_id)),
        *(Put(element=link.model_copy(update={"a": End(on=rack.id), "pins": ()})) for link in moved),
    )


def fibre_between(job: Job, one: str, other: str, new_id: Callable[[], str]) -> Link:
    """Return fibre between two comms spaces. Raises EditError where the library has none."""
    light = {code: c for code, c in library().cables.items() if not c.joins_earths}
    if not light:
        raise EditError("the library has no fibre")
    product = min(light, key=lambda code: (light[code].box_price or 0.0) / light[code].box_m)
    return Link(
        id=new_id(),
        label=next_label(job),
        medium="fibre",
        product=product,
        a=End(on=one),
        b=End(on=other),
    )


def _free(stem: str, labels: Iterable[str]) -> str:
    taken = set(labels)
    return next(f"{stem}{n}" for n in range(1, 10_000) if f"{stem}{n}" not in taken)
