"""A run led another way by hand: as it would lie if it passed one place more."""

import math
from collections.abc import Sequence

from heathrise.core.cabling.derived import boxes_on, bundles, route, router
from heathrise.core.cabling.routes import Leg
from heathrise.core.cabling.runs import plan_run, route_of
from heathrise.core.deriving import Look
from heathrise.core.edit import EditError
from heathrise.core.job import Job, Link, Pin, Point
from heathrise.core.job.view import job_of
from heathrise.core.sums import Noun

# A pin lies on a leg that comes as near as this.
_ON_M = 1e-3


class Detour(Noun):
    """A run with other pins, before it is decided: its way, and its length against its limit."""

    run_id: str
    pins: tuple[Pin, ...]
    legs: tuple[Leg, ...]
    length_m: float
    limit_m: float
    holds: bool


def detour(look: Look, run_id: str, place: Pin, leg: int | None, pin: int | None) -> Detour:
    """Return a run led through a place: instead of one of its pins, or on one of its legs.

    Raises
    ------
    EditError
        If the job has no such run, or the run no such pin or leg.
    """
    job = job_of(look)
    run = job.by_id.get(run_id)
    if not isinstance(run, Link):
        raise EditError("the run is not there any more")
    pins = list(run.pins)
    if pin is not None:
        if pin >= len(pins):
            raise EditError(f"{run.label} has {len(pins)} pins; there is no other to move")
        pins[pin] = place
    else:
        pins.insert(_pins_before(route(look, run_id).legs, run.pins, leg or 0, place.at), place)
    return _led(look, job, run.model_copy(update={"pins": tuple(pins)}))


def _led(look: Look, job: Job, run: Link) -> Detour:
    found = route_of(job, router(look), run)
    # What it will lie with is not known before it lies there: the thickest bundle it lies with now.
    thickest = max(bundles(look, run.id), default=0)
    plan = plan_run(job, run, found, tuple(thickest for _ in found.legs), boxes_on(look, run.id))
    return Detour(
        run_id=run.id,
        pins=run.pins,
        legs=plan.legs,
        length_m=plan.length_m,
        limit_m=plan.limit_m,
        holds=plan.holds,
    )


def _pins_before(legs: Sequence[Leg], pins: Sequence[Pin], leg: int, at: Point) -> int:
    """Return how many of a run's pins it has passed before a place that was taken hold of on one of its legs."""
    passed, n = 0, 0
    for pin in pins:
        while n < len(legs) and not _on(legs[n], pin):
            n += 1
        if n > leg or (n == leg and _along(legs[n], pin.at) > _along(legs[n], at)):
            break
        passed += 1
    return passed


def _on(leg: Leg, pin: Pin) -> bool:
    a, b, p = leg.a, leg.b, pin.at
    if leg.storey_id != pin.storey_id:
        return False
    whole = math.dist((a.x_m, a.y_m), (b.x_m, b.y_m))
    parts = math.dist((a.x_m, a.y_m), (p.x_m, p.y_m)) + math.dist((p.x_m, p.y_m), (b.x_m, b.y_m))
    return parts - whole < _ON_M


def _along(leg: Leg, at: Point) -> float:
    dx, dy = leg.b.x_m - leg.a.x_m, leg.b.y_m - leg.a.y_m
    return (at.x_m - leg.a.x_m) * dx + (at.y_m - leg.a.y_m) * dy
