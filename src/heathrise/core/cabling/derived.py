"""Every run of a job, derived one by one."""

from collections import Counter

from heathrise.core.cabling.boxes import Box, boxes_in, spans_m
from heathrise.core.cabling.drilling import DrillList, drill_list
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
from heathrise.core.job import Equipment, InLine, Job, Link, Pathway, Point
from heathrise.core.job.reading import Spot
from heathrise.core.job.view import ids_of, job_of, slice_of
from heathrise.core.library import limit
from heathrise.core.site.derived import building


@derived
def router(look: Look) -> Router:
    """The ways through the building: walls, risers, pathways, heat."""
    bare = Job.model_construct(name="ways", elements=slice_of(look, WAYS))
    return Router(bare, building(look))


@derived
def route(look: Look, run_id: str) -> Route:
    """The way of one run. One that begins at a box on another's way begins where that box stands."""
    job = job_of(look)
    run = job.get(Link, run_id)
    begins = job.by_id[run.a.on]
    if isinstance(begins, Equipment) and isinstance(begins.place, InLine):
        host = job.get(Link, begins.place.link_id)
        if host.id != run_id and job.rack_of(host.a.on) is not None:
            return router(look).route(run, place_along(look, host.id, begins.id), job.spot(run.b.on))
    return route_of(job, router(look), run)


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


def place_along(look: Look, run_id: str, box_id: str) -> Spot:
    """Return where a box on a run's way stands: so far along its legs as its place says, weave counted."""
    legs = route(look, run_id).legs
    boxes = boxes_on(look, run_id)
    weave = limit("cabling.weave")
    whole = sum(leg.length_m for leg in legs) * weave
    spans = spans_m(boxes, whole)
    left = sum(spans[: 1 + next((n for n, box in enumerate(boxes) if box.box_id == box_id), 0)]) / weave
    for leg in legs:
        if left <= leg.length_m or leg is legs[-1]:
            share = min(1.0, left / leg.length_m) if leg.length_m else 0.0
            at = Point(
                x_m=round(leg.a.x_m + share * (leg.b.x_m - leg.a.x_m), 3),
                y_m=round(leg.a.y_m + share * (leg.b.y_m - leg.a.y_m), 3),
            )
            floor_m = building(look).storey(leg.storey_id).elevation_m
            return Spot(leg.storey_id, at, leg.z0_m + share * (leg.z1_m - leg.z0_m) - floor_m)
        left -= leg.length_m
    return job_of(look).spot(box_id)


@derived
def boxes(look: Look) -> dict[str, tuple[Box, ...]]:
    """The boxes that begin runs anew, by run."""
    return boxes_in(job_of(look))


@derived
def boxes_on(look: Look, run_id: str) -> tuple[Box, ...]:
    """The boxes on one run's way."""
    return boxes(look).get(run_id, ())


@derived
def run_plan(look: Look, run_id: str) -> RunPlan:
    """One run: its length, limit, speed and rating."""
    job = job_of(look)
    run = job.get(Link, run_id)
    return plan_run(job, run, route(look, run_id), bundles(look, run_id), boxes_on(look, run_id))


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


@derived
def holes(look: Look) -> DrillList:
    """What is drilled where."""
    return drill_list(job_of(look), runs(look).plans)
