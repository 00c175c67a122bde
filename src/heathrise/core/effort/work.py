"""Every piece of work of a job: which task, on what, how much of it, what makes it hard. Hours are its rate times these.

The order sums it by task, the fitting plan takes it by what it is done on: both add up to the same.
"""

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping
from typing import NamedTuple

from heathrise.core.cabling.drilling import Drilling, DrillList
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.job import (
    AccessPoint,
    Equipment,
    InRack,
    Job,
    Network,
    OnSheet,
    Ordering,
    Pathway,
    Rack,
    Space,
    Walk,
)
from heathrise.core.library import Hardship, library

# The names of the library's hardships that bear on one thing.
Hard = tuple[str, ...]
WHOLE = "job"
# A pathway that nobody drew is at least so long. [m]
_LEAST_M = 3.0


class Work(NamedTuple):
    """So much of a task on one thing. `each_h` is how long one takes where that is not the task's rate alone, `what` then
    says of what kind.
    """

    task: str
    subject: str
    amount: float
    hard: Hard = ()
    each_h: float | None = None
    what: str = ""


def hole_key(hole: Drilling) -> str:
    """Return what a hole is called among what work is done on: by where it is, never by its number in the list, which
    another hole takes when one comes or goes.
    """
    return f"{hole.wall_id or hole.storey_id}@{hole.at.x_m:.1f},{hole.at.y_m:.1f}"


def mounted(job: Job) -> Iterator[tuple[Equipment | AccessPoint, str]]:
    """Yield what stands on a sheet with how it is mounted."""
    for point in job.of(AccessPoint):
        yield point, point.mount
    for thing in job.of(Equipment):
        if isinstance(thing.place, OnSheet):
            mounts = job.equipment[thing.model].mounts
            yield thing, thing.place.mount or (mounts[0] if mounts else "desk")


def work_of(
    job: Job, runs: Runs, holes: DrillList, hard: frozenset[str], patched: Mapping[str, int]
) -> tuple[Work, ...]:
    """Return all work of a job, task by task. `hard` are the ids of what hangs on hard walls, `patched` says how many
    cords each rack takes.
    """
    new = [plan for plan in runs.plans if not plan.existing]
    return (
        Work("survey", WHOLE, 1),
        *_prepared(job),
        *_pathways(job),
        *_holes(holes),
        *_pulled(job, new),
        *_ended(job, new),
        *_mounted(job, hard),
        *_racks(job, patched),
        *(Work("configure", network.id, 1) for network in job.of(Network)),
        *(Work("walk", space.id, 1) for space in job.of(Space)),
        *(Work("walk-path", walk.id, 1) for walk in job.of(Walk)),
        *(Work("tidy", storey.id, 1) for storey in job.storeys),
        Work("hand-over", WHOLE, 1),
    )


def _prepared(job: Job) -> Iterator[Work]:
    task = "bench" if job.practice.preparation == "bench" else "prepare-site"
    yield from (Work(task, point.id, 1) for point in job.of(AccessPoint))
    yield from (Work(task, thing.id, 1) for thing in job.of(Equipment) if isinstance(thing.place, InRack))


def _pathways(job: Job) -> Iterator[Work]:
    for pathway in job.of(Pathway):
        if not pathway.there:
            yield Work("route", pathway.id, max(pathway.length_m, _LEAST_M))


def _holes(drilled: DrillList) -> Iterator[Work]:
    for hole in drilled.holes:
        if hole.hours:
            yield Work("drill", hole_key(hole), 1, (), hole.hours, hole.through.lower())
        if hole.fire_minutes:
            yield Work("firestop", hole_key(hole), 1)


def _pulled(job: Job, new: list[RunPlan]) -> Iterator[Work]:
    """Yield metres to pull, storey by storey; loops and what has no place of its own go along with them."""
    for plan in new:
        on: dict[str, float] = defaultdict(float)
        for leg in plan.legs:
            on[leg.storey_id] += leg.length_m
        whole = sum(on.values())
        for storey_id, length_m in on.items():
            if whole:
                hard = _storey_hard(job, "pull", storey_id)
                yield Work("pull", plan.run_id, length_m * plan.length_m / whole, hard)


def _ended(job: Job, new: list[RunPlan]) -> Iterator[Work]:
    for plan in new:
        hard = _storey_hard(job, "terminate-device", job.spot(plan.to_id).storey_id)
        yield Work("terminate-device", plan.run_id, 1, hard)
        yield Work("terminate-rack", plan.run_id, 1)
        yield Work("test-run", plan.run_id, 1)


def _mounted(job: Job, hard: frozenset[str]) -> Iterator[Work]:
    for thing, mount in mounted(job):
        task = "mount-point" if isinstance(thing, AccessPoint) else "mount-device"
        yield Work(task, thing.id, 1, _mount_hard(job, thing, mount, task, thing.id in hard))


def _racks(job: Job, patched: Mapping[str, int]) -> Iterator[Work]:
    for rack in job.of(Rack):
        yield Work("rack", rack.id, 1)
        yield Work("power-up", rack.id, 1)
        if patched.get(rack.id):
            yield Work("patch", rack.id, patched[rack.id])
    yield from (Work("switch", thing.id, 1) for thing in job.of(Equipment) if isinstance(thing.place, InRack))


def _bears(task: str, when: str) -> Iterator[tuple[str, Hardship]]:
    rows = library().hardships.items()
    return ((code, row) for code, row in rows if row.when == when and task in row.tasks)


def _storey_hard(job: Job, task: str, storey_id: str) -> Hard:
    """Return what is hard about a storey: everything is carried there, unless people enter on it."""
    entered = min(job.storeys, key=lambda storey: abs(storey.elevation_m)).id
    return () if storey_id == entered else tuple(code for code, _ in _bears(task, "storey"))


def _mount_hard(job: Job, thing: Equipment | AccessPoint, mount: str, task: str, on_hard: bool) -> Hard:
    spot = job.spot(thing.id)
    found = list(_storey_hard(job, task, spot.storey_id))
    high = [pair for pair in _bears(task, "height") if spot.height_m > pair[1].over_m]
    if high:
        found.append(max(high, key=lambda pair: pair[1].over_m)[0])
    if mount in ("outdoor", "pole"):
        found += [code for code, _ in _bears(task, "outdoors")]
    if mount in ("wall", "outdoor") and on_hard:
        found += [code for code, _ in _bears(task, "hard-wall")]
    return tuple(found)


def harder(ordering: Ordering, work: Work) -> dict[str, Hardship]:
    """Return what makes a piece of work longer: what the model knows, and what a person said of the whole job."""
    rows = library().hardships
    chosen = (code for code in ordering.hardships if code in rows and work.task in rows[code].tasks)
    return {code: rows[code] for code in (*work.hard, *chosen)}


def rate_h(ordering: Ordering, work: Work) -> tuple[float, str]:
    """Return how long one takes, and whose figure that is. [h]"""
    row = library().labour[work.task]
    own = next((rate.hours for rate in ordering.rates if rate.task == work.task), None)
    rate, source = (row.hours, row.source) if own is None else (own, "the firm's rate in this job")
    return rate * (1.0 if work.each_h is None else work.each_h), source


def hours_h(ordering: Ordering, work: Work) -> float:
    """Return how long a piece of work takes: amount x rate x hardships. [h]"""
    factor = math.prod(row.factor for row in harder(ordering, work).values())
    return work.amount * rate_h(ordering, work)[0] * factor
