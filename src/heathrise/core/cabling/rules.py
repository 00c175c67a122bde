"""What a careful colleague says of the runs."""

from collections.abc import Iterator

from heathrise.core.cabling.defaults import default_cable, lacking_runs, next_label
from heathrise.core.cabling.runs import (
    RunPlan,
    Runs,
    carries,
    category_that_carries,
    speed_row,
)
from heathrise.core.edit import Put
from heathrise.core.job import AccessPoint, Device, Job, Rack, Run
from heathrise.core.library import library, limit
from heathrise.core.rule import Fix, Found, Place, Severity, rule
from heathrise.core.units import quantity

# What carries data beyond a plain run, as the practice chooses.
_BEYOND = {"fibre": "fibre", "extender": "an extender at the middle", "bridge": "a radio bridge"}
# How bad an access point without a cable is, as the practice gets it its data.
_WITHOUT_RUN: dict[str, Severity] = {
    "wire": "fault",
    "mesh-where-needed": "warning",
    "mesh": "advice",
    "powerline": "warning",
}


def _place(job: Job, plan: RunPlan) -> Place:
    end = job.by_id[plan.to_id]
    assert isinstance(end, AccessPoint | Device | Rack)
    return Place(storey_id=end.storey_id, at=end.at)


def _cable_fix(job: Job, plan: RunPlan, cable: str | None) -> tuple[Fix, ...]:
    """Return the fix that moves a run to a cable; none when no cable serves."""
    if cable is None or cable == plan.cable:
        return ()
    moved = job.get(Run, plan.run_id).model_copy(update={"cable": cable})
    label = f"Move it to {library().cables[cable].label}"
    return (Fix(label=label, operations=(Put(element=moved),)),)


@rule("runs.no-run")
def no_run(job: Job) -> Iterator[Found]:
    """An access point or fixed thing has no cable."""
    served = {run.to_id for run in job.of(Run)}
    racks = job.of(Rack)
    things: tuple[AccessPoint | Device, ...] = (*job.of(AccessPoint), *job.of(Device))
    for thing in things:
        if thing.id in served:
            continue
        fixes: tuple[Fix, ...] = ()
        if racks:
            run = Run(
                id=_run_id(thing.id),
                label=next_label(job),
                rack_id=racks[0].id,
                to_id=thing.id,
                cable=default_cable(job, thing),
            )
            fixes = (Fix(label=f"Run a cable from {racks[0].label}", operations=(Put(element=run),)),)
        yield Found(
            subject_ids=(thing.id,),
            subject=thing.label,
            text=f"{thing.label} has no cable to a rack.",
            advice="Cable first: give it a run.",
            severity=_WITHOUT_RUN[job.practice.backhaul] if isinstance(thing, AccessPoint) else None,
            place=Place(storey_id=thing.storey_id, at=thing.at),
            fixes=fixes,
        )


@rule("runs.fewer-than-practice")
def fewer_than_practice(job: Job) -> Iterator[Found]:
    """An access point has a cable, but fewer than the house practice runs to each."""
    racks = job.of(Rack)
    for thing, lacks in lacking_runs(job):
        have = job.practice.cables_per_point - lacks
        if not isinstance(thing, AccessPoint) or have < 1 or not racks:
            continue
        added = [
            Put(
                element=Run(
                    id=_run_id(thing.id, number + 1),
                    label=next_label(job, number),
                    rack_id=racks[0].id,
                    to_id=thing.id,
                    cable=default_cable(job, thing),
                )
            )
            for number in range(lacks)
        ]
        yield Found(
            subject_ids=(thing.id,),
            subject=thing.label,
            value=have,
            limit=job.practice.cables_per_point,
            text=f"{thing.label} has {have} cable{'s' * (have > 1)}; the house practice runs "
            f"{job.practice.cables_per_point} to each access point.",
            advice="Run the spare while the way is open, or change the practice of this job.",
            place=Place(storey_id=thing.storey_id, at=thing.at),
            fixes=(Fix(label=f"Run {lacks} more", operations=tuple(added)),),
        )


@rule("runs.category-below-practice")
def category_below_practice(job: Job, runs: Runs) -> Iterator[Found]:
    """A run is of a lower category than the house practice takes there."""
    for plan in runs.plans:
        end = job.by_id[plan.to_id]
        if not isinstance(end, AccessPoint | Device):
            continue
        wanted = default_cable(job, end)
        if _RANK[plan.category] < _RANK[library().cables[wanted].category]:
            yield Found(
                subject_ids=(plan.run_id,),
                subject=f"{plan.label} to {plan.to_label}",
                text=f"{plan.label} is Cat {plan.category}; the house practice takes Cat "
                f"{library().cables[wanted].category} there.",
                advice="Move it to the practice's cable, or accept it with a reason.",
                place=_place(job, plan),
                fixes=_cable_fix(job, plan, wanted),
            )


_RANK = {"5e": 0, "6": 1, "6A": 2}


def _run_id(thing_id: str, number: int = 0) -> str:
    """Return an id derived from what the run goes to, so that a fix pressed twice adds one run."""
    return f"{int(thing_id[:8], 16) ^ 0x5A5A5A5A ^ number:08x}{thing_id[8:]}"


@rule("runs.over-length")
def over_length(job: Job, runs: Runs) -> Iterator[Found]:
    """A run is longer than its heat and cords allow."""
    for plan in runs.plans:
        if plan.holds:
            continue
        yield Found(
            subject_ids=(plan.run_id,),
            subject=f"{plan.label} to {plan.to_label}",
            value=plan.length_m,
            limit=plan.limit_m,
            unit="m",
            text=f"{plan.label} is {quantity(plan.length_m, 'm')}; the limit for its way at up to "
            f"{quantity(plan.hottest_c, 'C', 0)} is {quantity(plan.limit_m, 'm')}.",
            advice=f"Move the rack, add one nearer, take a cooler way, or use {_BEYOND[job.practice.beyond_reach]}.",
            place=_place(job, plan),
            sum=plan.length_sum,
        )


@rule("runs.speed-over-category")
def speed_over_category(job: Job, runs: Runs) -> Iterator[Found]:
    """The category does not carry the device's speed over this channel."""
    for plan in runs.plans:
        channel_m = plan.length_m + job.practice.cords_m
        if channel_m <= plan.carries_m:
            continue
        yield Found(
            subject_ids=(plan.run_id,),
            subject=f"{plan.label} to {plan.to_label}",
            value=round(channel_m, 1),
            limit=plan.carries_m,
            unit="m",
            text=f"{plan.label} is {quantity(channel_m, 'm')} of Cat {plan.category} with its "
            f"cords; {plan.speed_mbps:,} Mb/s holds to {quantity(plan.carries_m, 'm', 0)} on it.",
            advice="Move it to a category that carries the speed.",
            place=_place(job, plan),
            fixes=_cable_fix(job, plan, category_that_carries(job, plan)),
            sum=plan.length_sum,
        )


@rule("runs.speed-marginal")
def speed_marginal(job: Job, runs: Runs) -> Iterator[Found]:
    """The category carries the speed only where a test says so."""
    for plan in runs.plans:
        channel_m = plan.length_m + job.practice.cords_m
        row = speed_row(plan.category, plan.speed_mbps)
        if channel_m > plan.carries_m or carries(plan.category, plan, job.practice.cords_m):
            continue
        sure = f"to {quantity(row.warn_over_m, 'm', 0)}" if row.warn_over_m else "only on test"
        yield Found(
            subject_ids=(plan.run_id,),
            subject=f"{plan.label} to {plan.to_label}",
            value=round(channel_m, 1),
            limit=row.warn_over_m,
            unit="m",
            text=f"{plan.label} is {quantity(channel_m, 'm')} of Cat {plan.category} with its "
            f"cords; {plan.speed_mbps:,} Mb/s is sure {sure}.",
            advice="Test it, or move it to a category that is sure.",
            place=_place(job, plan),
            fixes=_cable_fix(job, plan, category_that_carries(job, plan)),
            sum=plan.length_sum,
        )


@rule("runs.wrong-rating")
def wrong_rating(job: Job, runs: Runs) -> Iterator[Found]:
    """A run passes a space its cable may not enter."""
    for plan in runs.plans:
        cable = library().cables[plan.cable]
        missing = set(plan.environments) - cable.environments
        indoors_m = sum(leg.length_m for leg in plan.legs if leg.environment != "outdoor")
        allowed_m = limit("cabling.outdoor_inside_m")
        if missing == {"general"} and not cable.fire_rated and indoors_m <= allowed_m:
            continue
        if missing:
            words = " and ".join(sorted(missing))
            yield Found(
                subject_ids=(plan.run_id,),
                subject=f"{plan.label} to {plan.to_label}",
                text=f"{plan.label} passes {words} space, which {cable.label} may not enter.",
                advice="Use one cable that covers every space it passes, or change type at a box.",
                place=_place(job, plan),
                fixes=_cable_fix(job, plan, category_that_carries(job, plan)),
            )


@rule("runs.copper-clad")
def copper_clad(job: Job, runs: Runs) -> Iterator[Found]:
    """A run is of copper-clad aluminium."""
    for plan in runs.plans:
        if library().cables[plan.cable].copper_clad:
            yield Found(
                subject_ids=(plan.run_id,),
                subject=f"{plan.label} to {plan.to_label}",
                text=f"{plan.label} is copper-clad aluminium, which is no category cable.",
                advice="Use solid copper.",
                place=_place(job, plan),
                fixes=_cable_fix(job, plan, category_that_carries(job, plan)),
            )


@rule("runs.conduit-overfull")
def conduit_overfull(runs: Runs) -> Iterator[Found]:
    """A conduit holds more than its limit."""
    yield from _conduits(runs, over=True)


@rule("runs.conduit-tight")
def conduit_tight(runs: Runs) -> Iterator[Found]:
    """A conduit is within its limit but over the share used when choosing."""
    yield from _conduits(runs, over=False)


def _conduits(runs: Runs, over: bool) -> Iterator[Found]:
    for plan in runs.conduits:
        most = plan.fill.limit if over else plan.fill.limit * limit("cabling.fill_choice")
        if plan.fill.fill <= most + 1e-12 or (not over and not plan.fill.ok):
            continue
        yield Found(
            subject_ids=(plan.conduit_id,),
            subject=plan.label,
            value=round(100 * plan.fill.fill, 1),
            limit=round(100 * most, 1),
            unit="%",
            text=f"{plan.label} is filled to {quantity(100 * plan.fill.fill, '%')} by "
            f"{plan.cables} cables; the {'limit' if over else 'choice'} is "
            f"{quantity(100 * most, '%')}.",
            advice="Take the next bore up, or draw fewer cables through it.",
            sum=plan.sum,
        )
