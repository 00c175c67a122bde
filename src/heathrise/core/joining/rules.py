"""What a careful colleague says of runs that no cable of their kind carries."""

from collections.abc import Callable, Iterator
from itertools import count

from heathrise.core.cabling.ends import place_of
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.edit import EditError, Put
from heathrise.core.job import Job, Link, derived_id
from heathrise.core.joining.choosing import fibre_on
from heathrise.core.joining.fibre import dc_fed, dc_load_w
from heathrise.core.joining.second import SecondSpace, built, fibre_between, second_space
from heathrise.core.library import library, limit
from heathrise.core.rule import Fix, Observation, Place, rule
from heathrise.core.site.building import Building
from heathrise.core.units import quantity

# What carries data beyond a plain run, as the practice chooses.
_BEYOND = {"fibre": "fibre", "extender": "an extender at the middle", "bridge": "a radio bridge"}


@rule("runs.over-length", per="run")
def over_length(run: RunPlan, job: Job) -> Iterator[Observation]:
    """A run is longer than its heat and cords allow."""
    if run.holds:
        return
    yield Observation(
        subject_ids=(run.run_id,),
        subject=f"{run.label} to {run.to_label}",
        value=run.span_m,
        limit=run.limit_m,
        unit="m",
        text=f"{run.label} {'has a span of' if run.boxes else 'is'} {quantity(run.span_m, 'm')}; the limit for its way at up to "
        f"{quantity(run.hottest_c, 'C', 0)} is {quantity(run.limit_m, 'm')}.",
        advice=f"Move the rack, add one nearer, take a cooler way, or use {_BEYOND[job.practice.beyond_reach]}. "
        "All ways are compared in Links.",
        place=place_of(job, run.to_id),
        fixes=_fibre_fix(job, run),
        sum=run.length_sum,
    )


def _fibre_fix(job: Job, run: RunPlan) -> tuple[Fix, ...]:
    """Return the fix that runs fibre in its place; none for what lies already or goes to no single thing."""
    model = job.model_of(run.to_id)
    if run.existing or model is None or model.joins:
        return ()
    link = job.get(Link, run.run_id)
    made = iter(range(9))
    try:
        operations = fibre_on(job, link, run, lambda: derived_id(run.run_id, f"fibre {next(made)}"))
    except EditError:
        return ()
    return (Fix(label="Run fibre, with converters", operations=operations),)


@rule("links.dc-low", per="run")
def dc_low(run: RunPlan, job: Job) -> Iterator[Observation]:
    """The pair beside the fibre brings too little voltage to its far end."""
    area = library().cables[run.cable].pair_mm2
    model = job.model_of(run.to_id)
    if area is None or model is None or not model.takes_class:
        return
    info = library().ways["fibre-powered"]
    fed = dc_fed(job, run, info, area, dc_load_w(job, model.max_w, info))
    if fed.holds:
        return
    yield Observation(
        subject_ids=(run.run_id,),
        subject=f"{run.label} to {run.to_label}",
        value=fed.value,
        limit=fed.limit,
        unit="V",
        text=f"The pair in {run.label} brings {quantity(fed.value, 'V')} to its far end; "
        f"{quantity(fed.limit or 0.0, 'V', 0)} is the least.",
        advice="Take a thicker pair, or mains at the far end. A supply of limited power stays within its limits.",
        place=place_of(job, run.to_id),
        sum=fed,
    )


@rule("runs.second-space")
def second_comms_space(job: Job, building: Building, runs: Runs) -> Iterator[Observation]:
    """Several runs of one house are too long for the comms space they start at."""
    found = second_space(job, building, runs)
    if found is None:
        return
    longest = max(plan.length_m for plan in found.runs)
    names = " and ".join(plan.label for plan in found.runs[:3]) + (" and more" if len(found.runs) > 3 else "")
    yield Observation(
        subject_ids=tuple(plan.run_id for plan in found.runs),
        subject=found.space.label,
        value=round(longest, 1),
        limit=min(plan.limit_m for plan in found.runs),
        unit="m",
        text=f"{len(found.runs)} runs are too long for their comms space: {names}. One in {found.space.label} would bring "
        f"them to {quantity(found.longest_m, 'm', 0)} at the most, {quantity(found.between_m, 'm', 0)} from the first.",
        advice="It wants a rack, a switch, fibre and some copper to the first, mains on a circuit of its own (by an "
        "electrician), air, and a door that locks. Ask who sits beside it.",
        place=Place(storey_id=found.space.storey_id, at=found.at),
        fixes=_built_fix(job, found),
    )


def _built_fix(job: Job, found: SecondSpace) -> tuple[Fix, ...]:
    names = _numbered(found.runs[0].run_id, "second space")
    try:
        operations = built(job, found, names)
    except EditError:
        return ()
    return (Fix(label=f"Put one in {found.space.label}", operations=operations),)


@rule("runs.between-racks")
def between_racks(job: Job, runs: Runs) -> Iterator[Observation]:
    """Two comms spaces are joined by copper alone."""
    between: dict[tuple[str, str], list[RunPlan]] = {}
    for plan in runs.plans:
        ends = [job.rack_of(end) for end in (plan.from_id, plan.to_id)]
        if ends[0] and ends[1] and ends[0] != ends[1]:
            between.setdefault((min(ends[0], ends[1]), max(ends[0], ends[1])), []).append(plan)
    for (one, other), plans in between.items():
        if any(not library().cables[plan.cable].conducts for plan in plans):
            continue
        names = sorted(job.by_id[rack].label for rack in (one, other))
        fibre = fibre_between(job, plans[0].from_id, plans[0].to_id, _numbered(one, f"fibre to {other}"))
        yield Observation(
            subject_ids=(one, other),
            subject=" and ".join(names),
            value=len(plans),
            text=f"{names[0]} and {names[1]} are joined by {len(plans)} of copper and no fibre.",
            advice=f"Between comms spaces lie fibre and {limit('cabling.between_copper'):g} of copper: the fibre carries "
            "what comes, the copper what has no fibre port.",
            place=place_of(job, plans[0].to_id),
            fixes=(Fix(label="Run fibre between them", operations=(Put(element=fibre),)),),
        )


def _numbered(of_id: str, purpose: str) -> Callable[[], str]:
    """Return what names what a remedy adds: alike each time it is worked out."""
    numbers = count(1)
    return lambda: derived_id(of_id, f"{purpose} {next(numbers)}")
