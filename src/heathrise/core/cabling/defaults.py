"""The first set of runs: to everything that has too few, by the house practice."""

from collections import Counter
from collections.abc import Callable

from heathrise.core.edit import Operation, Put
from heathrise.core.job import AccessPoint, Device, Job, Rack, Run
from heathrise.core.library import library


def next_label(job: Job, ahead: int = 0) -> str:
    """Return the next free run label, R-01 upwards."""
    used = {run.label for run in job.of(Run)}
    free = (f"R-{n:02d}" for n in range(1, 100_000) if f"R-{n:02d}" not in used)
    for _ in range(ahead):
        next(free)
    return next(free)


def default_cable(job: Job, thing: AccessPoint | Device) -> str:
    """Return the practice's cable, or one for outdoors when the thing itself is."""
    practice = job.practice
    cable = practice.cable_points if isinstance(thing, AccessPoint) else practice.cable_other
    shelf = library().access_points if isinstance(thing, AccessPoint) else library().devices
    if not shelf[thing.model].outdoor:
        return cable
    category = library().cables[cable].category
    return next(
        key
        for key, row in library().cables.items()
        if row.category == category and {"general", "outdoor"} <= row.environments
    )


def lacking_runs(job: Job) -> list[tuple[AccessPoint | Device, int]]:
    """Return what has fewer runs than the practice wants, with how many it lacks."""
    have = Counter(run.to_id for run in job.of(Run))
    wanted: list[tuple[AccessPoint | Device, int]] = [
        *((point, job.practice.cables_per_point) for point in job.of(AccessPoint)),
        *((device, 1) for device in job.of(Device)),
    ]
    return [(thing, count - have[thing.id]) for thing, count in wanted if have[thing.id] < count]


def default_runs(job: Job, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return operations that add runs from the first rack to everything that has too few.

    An access point gets as many as the practice says; a fixed thing one.
    """
    racks = job.of(Rack)
    if not racks:
        return ()
    missing = [thing for thing, lacks in lacking_runs(job) for _ in range(lacks)]
    return tuple(
        Put(
            element=Run(
                id=new_id(),
                label=next_label(job, ahead),
                rack_id=racks[0].id,
                to_id=thing.id,
                cable=default_cable(job, thing),
            )
        )
        for ahead, thing in enumerate(missing)
    )
