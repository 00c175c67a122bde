"""The first set of runs: to everything that has too few, by the house practice."""

import math
from collections import Counter
from collections.abc import Callable

from heathrise.core.cabling.ends import hung_on, runs_of
from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import AccessPoint, End, Equipment, Job, Link, OnSheet, Rack
from heathrise.core.library import library


def next_label(job: Job, ahead: int = 0) -> str:
    """Return the next free run label, R-01 upwards."""
    used = {link.label for link in job.of(Link)}
    free = (f"R-{n:02d}" for n in range(1, 100_000) if f"R-{n:02d}" not in used)
    for _ in range(ahead):
        next(free)
    return next(free)


def default_cable(job: Job, thing: AccessPoint | Equipment) -> str:
    """Return the practice's cable, or one for outdoors when the thing itself is."""
    model = job.equipment[thing.model]
    cable = job.practice.cable_points if model.radiates else job.practice.cable_other
    if not model.outdoor:
        return cable
    category = library().cables[cable].category
    return next(
        key
        for key, row in library().cables.items()
        if row.category == category and {"general", "outdoor"} <= row.environments
    )


def wanting(job: Job) -> tuple[AccessPoint | Equipment, ...]:
    """Return what stands on the sheet and reaches the network by a cable: points first."""
    things = (t for t in job.of(Equipment) if isinstance(t.place, OnSheet))
    return (*job.of(AccessPoint), *(t for t in things if job.equipment[t.model].links_up))


def lacking_runs(job: Job) -> list[tuple[AccessPoint | Equipment, int]]:
    """Return what has fewer runs than the practice wants, with how many it lacks."""
    have, hung = Counter(link.b.on for link in runs_of(job)), hung_on(job)
    wanted = [
        (thing, job.practice.cables_per_point if job.equipment[thing.model].radiates else 1)
        for thing in wanting(job)
        if thing.id not in hung
    ]
    return [(thing, count - have[thing.id]) for thing, count in wanted if have[thing.id] < count]


def new_run(job: Job, thing: AccessPoint | Equipment, rack_id: str, run_id: str, ahead: int = 0) -> Link:
    """Return a run from a rack to a thing, its ports left open."""
    return Link(
        id=run_id,
        label=next_label(job, ahead),
        product=default_cable(job, thing),
        a=End(on=rack_id),
        b=End(on=thing.id),
    )


def default_runs(job: Job, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return operations that add runs from the first rack to everything that has too few.

    An access point gets as many as the practice says; a fixed thing one.
    """
    racks = job.of(Rack)
    if not racks:
        return ()
    missing = [thing for thing, lacks in lacking_runs(job) for _ in range(lacks)]
    return tuple(
        Put(element=new_run(job, thing, racks[0].id, new_id(), ahead)) for ahead, thing in enumerate(missing)
    )


def nearest_rack(job: Job, thing: AccessPoint | Equipment) -> Rack | None:
    """Return the rack nearest to a thing: on its storey first, then by the distance in plan."""
    spot = job.spot(thing.id)

    def far(rack: Rack) -> tuple[bool, float]:
        apart = math.hypot(rack.at.x_m - spot.at.x_m, rack.at.y_m - spot.at.y_m)
        return rack.storey_id != spot.storey_id, apart

    return min(job.of(Rack), key=far, default=None)


def one_run(job: Job, thing_id: str, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return the operation that runs one more cable to a thing, from the nearest rack; none without a rack.

    Raises
    ------
    EditError
        If the job has no such thing, or it has no port.
    """
    thing = job.by_id.get(thing_id)
    if not isinstance(thing, AccessPoint | Equipment) or not job.equipment[thing.model].port_list:
        raise EditError("what was picked has no port, so no cable can go to it")
    rack = nearest_rack(job, thing)
    return () if rack is None else (Put(element=new_run(job, thing, rack.id, new_id())),)
