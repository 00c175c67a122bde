"""What a careful colleague says of power over the runs, before ports are given out."""

from collections.abc import Iterator

from heathrise.core.edit import Put
from heathrise.core.job import Job, Run
from heathrise.core.library import library
from heathrise.core.power.feeds import Feeds
from heathrise.core.rule import Fix, Found, Place, rule
from heathrise.core.units import quantity


@rule("power.voltage-low")
def voltage_low(job: Job, feeds: Feeds) -> Iterator[Found]:
    """At full load on the hottest day the device gets too little voltage."""
    for plan in feeds.plans:
        if plan.holds:
            continue
        end = job.end_of(job.get(Run, plan.run_id))
        got = (
            f"gets {quantity(plan.worst_pd_v, 'V')}"
            if plan.worst_pd_v is not None
            else "cannot be fed at all"
        )
        yield Found(
            subject_ids=(plan.run_id,),
            subject=f"{plan.label} to {end.label}",
            value=plan.worst_pd_v,
            limit=plan.least_pd_v,
            unit="V",
            text=f"{end.label} {got} over {plan.label} at full load; it needs "
            f"{quantity(plan.least_pd_v, 'V')}.",
            advice="Shorten the run, take a thicker gauge, or feed it locally.",
            place=Place(storey_id=end.storey_id, at=end.at),
            sum=plan.sum,
        )


@rule("power.passive-on-standard")
def passive_on_standard(job: Job) -> Iterator[Found]:
    """A passive injector feeds a device of a standard class."""
    for run in job.of(Run):
        if run.injector is None or not library().injectors[run.injector].passive:
            continue
        end = job.end_of(run)
        plain = run.model_copy(update={"injector": None})
        yield Found(
            subject_ids=(run.id,),
            subject=f"{run.label} to {end.label}",
            text=f"{run.label} is fed by a passive injector, and {end.label} is a standard device.",
            advice="Take it off before anything is plugged in; use a standard port or injector.",
            place=Place(storey_id=end.storey_id, at=end.at),
            fixes=(Fix(label="Take the injector off", operations=(Put(element=plain),)),),
        )
