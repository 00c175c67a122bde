"""What a careful colleague says of power over the runs, before ports are given out."""

from collections import defaultdict
from collections.abc import Iterator

from heathrise.core.cabling.ends import feeds_on, label_of, place_of, poe_class_needed
from heathrise.core.edit import Remove
from heathrise.core.job import Equipment, InLine, Job, Link
from heathrise.core.library import library
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


@rule("power.passes-too-much", per="feed")
def passes_too_much(feed: FeedPlan, job: Job) -> Iterator[Observation]:
    """A device passes on more than its own class leaves it."""
    number = poe_class_needed(job, job.get(Link, feed.run_id).b.on)
    if not feed.passed_w or not number:
        return
    row = library().poe_class(number)
    if feed.device_max_w <= row.device_w + 1e-9:
        return
    to_id = job.get(Link, feed.run_id).b.on
    end = label_of(job, to_id)
    own = feed.device_max_w - feed.passed_w
    yield Observation(
        subject_ids=(feed.run_id,),
        subject=f"{feed.label} to {end}",
        value=feed.device_max_w,
        limit=row.device_w,
        unit="W",
        text=f"{end} draws {quantity(own, 'W')} and passes on {quantity(feed.passed_w, 'W')}; class {number} leaves it "
        f"{quantity(row.device_w, 'W')}.",
        advice="Feed what hangs on it by a cable of its own, or take a model of a higher class.",
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


@rule("power.two-feeds")
def two_feeds(job: Job) -> Iterator[Observation]:
    """Two things on one cable's way put power on it."""
    on: dict[str, list[Equipment]] = defaultdict(list)
    for thing in job.of(Equipment):
        if isinstance(thing.place, InLine) and job.equipment[thing.model].feeds_through:
            on[thing.place.link_id].append(thing)
    for run_id, feeds in on.items():
        if len(feeds) < 2:
            continue
        run = job.get(Link, run_id)
        names = " and ".join(thing.label for thing in feeds)
        yield Observation(
            subject_ids=(run_id, *(thing.id for thing in feeds)),
            subject=run.label,
            value=len(feeds),
            limit=1,
            unit="feeds",
            text=f"{names} both put power on {run.label}.",
            advice="Keep the one that gives what the device asks for, and take the others off before plugging in.",
            place=place_of(job, run.b.on),
            fixes=(
                Fix(
                    label=f"Take {feeds[-1].label} off", operations=tuple(Remove(id=f.id) for f in feeds[1:])
                ),
            ),
        )
