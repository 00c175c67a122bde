"""What a careful colleague says of runs that no cable of their kind carries."""

from collections.abc import Iterator

from heathrise.core.cabling.ends import place_of
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.edit import EditError
from heathrise.core.job import Job, Link, derived_id
from heathrise.core.joining.choosing import fibre_on
from heathrise.core.joining.fibre import dc_fed, dc_load_w
from heathrise.core.library import library
from heathrise.core.rule import Fix, Observation, rule
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
    fed = dc_fed(run, info, area, dc_load_w(job, model.max_w, info))
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
