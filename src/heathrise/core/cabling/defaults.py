"""The first set of runs: one to everything that has none, by the house practice."""

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


def default_runs(job: Job, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return operations that add a run from the first rack to everything that has none."""
    racks = job.of(Rack)
    if not racks:
        return ()
    served = {run.to_id for run in job.of(Run)}
    things: tuple[AccessPoint | Device, ...] = (*job.of(AccessPoint), *job.of(Device))
    missing = [thing for thing in things if thing.id not in served]
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
