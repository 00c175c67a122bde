"""Every run of a job, derived one by one."""

from collections import Counter

from heathrise.core.cabling.ends import poe_class_needed, runs_of, spares_of
from heathrise.core.cabling.routes import WAYS, Route, Router
from heathrise.core.cabling.runs import (
    Cell,
    PathwayPlan,
    RunPlan,
    Runs,
    bundles_of,
    cells_of,
    crowd_of,
    plan_pathway,
    plan_run,
    route_of,
)
from heathrise.core.deriving import Look, derived, gathered
from heathrise.core.job import Job, Link, Pathway
from heathrise.core.job.view import ids_of, job_of, slice_of
from heathrise.core.site.derived import building


@derived
def router(look: Look) -> Router:
    """The ways through the building: walls, risers, pathways, heat."""
    bare = Job.model_construct(name="ways", elements=slice_of(look, WAYS))
    return Router(bare, building(look))


@derived
def route(look: Look, run_id: str) -> Route:
    """The way of one run."""
    job = job_of(look)
    return route_of(job, router(look), job.get(Link, run_id))


@derived
def passes(look: Look, run_id: str) -> tuple[tuple[Cell, ...], ...]:
    """The pieces of the building a run passes through, leg by leg; none for one that is not fed."""
    job = job_of(look)
    is_fed = poe_class_needed(job, job.get(Link, run_id).b.on) > 0 and run_id not in spares(look)
    return cells_of(route(look, run_id)) if is_fed else ()


@derived
def crowd(look: Look) -> Counter[Cell]:
    """How many powered runs pass through each piece of the building."""
    return crowd_of(gathered(look, passes, run_ids(look))[0])


@derived
def bundles(look: Look, run_id: str) -> tuple[int, ...]:
    """How many powered runs lie together on each leg of a run."""
    return bundles_of(route(look, run_id), crowd(look))


@derived
def run_plan(look: Look, run_id: str) -> RunPlan:
    """One run: its length, limit, speed and rating."""
    job = job_of(look)
    run = job.get(Link, run_id)
    return plan_run(job, run, route(look, run_id), bundles(look, run_id))


@derived
def run_ids(look: Look) -> tuple[str, ...]:
    """The ids of all runs in their own order."""
    return tuple(run.id for run in runs_of(job_of(look)))


@derived
def spares(look: Look) -> frozenset[str]:
    """Runs beyond the ports of what they go to."""
    return spares_of(job_of(look))


@derived
def runs(look: Look) -> Runs:
    """All runs and pathways; those that cannot be worked out are named, the rest stands."""
    plans, lost = gathered(look, run_plan, run_ids(look))
    pathways: list[PathwayPlan] = []
    for pathway_id in ids_of(look, Pathway):
        pathways.append(plan_pathway(job_of(look).get(Pathway, pathway_id), plans))
    return Runs(tuple(plans), tuple(pathways), spares(look), tuple(lost))
