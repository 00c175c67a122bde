"""All work of a job, derived."""

from heathrise.core.cabling.derived import holes, runs
from heathrise.core.deriving import Look, derived
from heathrise.core.effort.walls import on_hard_walls
from heathrise.core.effort.work import Work, work_of
from heathrise.core.job.view import job_of
from heathrise.core.racks.derived import patches


@derived
def hard_hung(look: Look) -> frozenset[str]:
    """The ids of what would be fixed to stone, brick or concrete."""
    return on_hard_walls(job_of(look))


@derived
def work(look: Look) -> tuple[Work, ...]:
    """Every piece of work, task by task."""
    job = job_of(look)
    if not job.storeys:
        return ()
    patched = {rack.rack_id: len(rack.patches) for rack in patches(look).racks}
    return work_of(job, runs(look), holes(look), hard_hung(look), patched)
