"""The tasks of a job, derived; when they are done is worked out from them and the day."""

from heathrise.core.cabling.cutting import cut_lists
from heathrise.core.cabling.derived import holes, runs
from heathrise.core.deriving import Look, derived
from heathrise.core.effort.derived import work
from heathrise.core.fitting.making import Making, made_for
from heathrise.core.fitting.tasks import Hours, Task, in_order
from heathrise.core.job.view import job_of
from heathrise.core.network.runbook import run_book
from heathrise.core.racks.derived import patches
from heathrise.core.site.derived import building


@derived
def tasks(look: Look) -> tuple[Task, ...]:
    """What is done, in the order of the steps, each with what it waits for."""
    job, plans = job_of(look), runs(look)
    if not job.storeys:
        return ()
    making = Making(
        job=job,
        building=building(look),
        runs=plans,
        holes=holes(look),
        cuts=cut_lists(plans.plans),
        patches=patches(look).racks,
        book=run_book(job),
    )
    return in_order(job, made_for(making), Hours.of(job.ordering, work(look)))
