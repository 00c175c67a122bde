"""What a careful colleague says of power over the runs, before ports are given out."""

from collections.abc import Iterator

from heathrise.core.cabling.ends import feeds_on, label_of, place_of
from heathrise.core.edit import Remove
from heathrise.core.job import Job, Link
from heathrise.core.power.feeds import FeedPlan
from heathrise.core.rule import Fix, Observation, rule
from heathrise.core.units import quantity


@rule("power.voltage-low", per="feed")
def voltage_low(feed: FeedPlan, job: Job) -> Iterator[Observation]:
    """At full load on the hottest day the device gets too little voltage."""
    if feed.holds:
        return
    to_id = job.get(Link, feed.run_id).b.on
    end = label_of(job, to_id)
    got = f"gets {quantity(feed.worst_pd_v, 'V')}" if feed.worst_pd_v is not None else "cannot be fed at all"
    yield Observation(
        subject_ids=(feed.run_id,),
        subject=f"{feed.label} to {end}",
        value=feed.worst_pd_v,
        limit=feed.least_pd_v,
        unit="V",
        text=f"{end} {got} over {feed.label} at full load; it needs {quantity(feed.least_pd_v, 'V')}.",
        advice="Shorten the run, take a thicker gauge, or feed it locally.",
        place=place_of(job, to_id),
        sum=feed.sum,
    )


@rule("power.passive-on-standard")
def passive_on_standard(job: Job) -> Iterator[Observation]:
    """A passive injector feeds a device of a standard class."""
    for run_id, (injector, model) in feeds_on(job).items():
        if all(group.gives_v is None for group in model.ports):
            continue
        run = job.get(Link, run_id)
        end = label_of(job, run.b.on)
        yield Observation(
            subject_ids=(run.id,),
            subject=f"{run.label} to {end}",
            text=f"{run.label} is fed by a passive injector, and {end} is a standard device.",
            advice="Take it off before anything is plugged in; use a standard port or injector.",
            place=place_of(job, run.b.on),
            fixes=(Fix(label="Take the injector off", operations=(Remove(id=injector.id),)),),
        )
