"""What a careful colleague says of the runs."""

import math
from collections.abc import Iterator, Sequence

from heathrise.core.cabling.conduit import conduit_fill
from heathrise.core.cabling.defaults import default_cable, lacking_runs, new_run, wanting
from heathrise.core.cabling.ends import hung_on, place_of, runs_of
from heathrise.core.cabling.routes import Leg
from heathrise.core.cabling.runs import (
    PathwayPlan,
    RunPlan,
    Runs,
    carries,
    category_that_carries,
    speed_row,
)
from heathrise.core.cabling.separation import too_near
from heathrise.core.edit import Put
from heathrise.core.job import (
    AccessPoint,
    Equipment,
    Job,
    Link,
    OnSheet,
    Pathway,
    Point,
    Rack,
    Spot,
    derived_id,
)
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.rule import Fix, Observation, Place, Severity, rule
from heathrise.core.site.building import Building
from heathrise.core.units import quantity

# How bad an access point without a cable is, as the practice gets it its data.
_WITHOUT_RUN: dict[str, Severity] = {
    "wire": "fault",
    "mesh-where-needed": "warning",
    "mesh": "advice",
    "powerline": "warning",
}


def _cable_fix(job: Job, plan: RunPlan, cable: str | None) -> tuple[Fix, ...]:
    """Return the fix that moves a run to a cable; none when no cable serves."""
    if cable is None or cable == plan.cable:
        return ()
    moved = job.get(Link, plan.run_id).model_copy(update={"product": cable})
    label = f"Move it to {library().cables[cable].label}"
    return (Fix(label=label, operations=(Put(element=moved),)),)


@rule("runs.no-run")
def no_run(job: Job) -> Iterator[Observation]:
    """An access point or fixed thing has no cable."""
    served = {run.b.on for run in runs_of(job)} | hung_on(job)
    racks = job.of(Rack)
    for thing in wanting(job):
        if thing.id in served:
            continue
        fixes: tuple[Fix, ...] = ()
        if racks:
            run = new_run(job, thing, racks[0].id, derived_id(thing.id, "run 0"))
            fixes = (Fix(label=f"Run a cable from {racks[0].label}", operations=(Put(element=run),)),)
        radiates = job.equipment[thing.model].radiates
        yield Observation(
            subject_ids=(thing.id,),
            subject=thing.label,
            text=f"{thing.label} has no cable to a rack.",
            advice="Cable first: give it a run.",
            severity=_WITHOUT_RUN[job.practice.backhaul] if radiates else None,
            place=place_of(job, thing.id),
            fixes=fixes,
        )


@rule("runs.one-outlet")
def one_outlet(job: Job) -> Iterator[Observation]:
    """An outlet stands alone where people put things."""
    outlets = [
        thing
        for thing in job.of(Equipment)
        if isinstance(thing.place, OnSheet) and _is_outlet(job.equipment[thing.model])
    ]
    spots = {thing.id: job.spot(thing.id) for thing in outlets}
    racks = job.of(Rack)
    for thing in outlets:
        here = spots[thing.id]
        alone = not any(other is not thing and _at_one_place(here, spots[other.id]) for other in outlets)
        if not alone or not racks or not isinstance(thing.place, OnSheet):
            continue
        beside = Point(x_m=round(here.at.x_m + 0.1, 2), y_m=here.at.y_m)
        second = Equipment(
            id=derived_id(thing.id, "second outlet"),
            label=f"{thing.label} b",
            model=thing.model,
            place=thing.place.model_copy(update={"at": beside}),
        )
        run = new_run(job, second, racks[0].id, derived_id(thing.id, "second outlet's run"))
        yield Observation(
            subject_ids=(thing.id,),
            subject=thing.label,
            value=1,
            limit=2,
            text=f"{thing.label} is the only outlet at its place.",
            advice="Two at every place at the least: run the second with the first.",
            place=place_of(job, thing.id),
            fixes=(Fix(label="Put a second beside it", operations=(Put(element=second), Put(element=run))),),
        )


def _is_outlet(model: EquipmentModel) -> bool:
    """Say whether a model is a bare outlet: it draws nothing itself."""
    return "outlet" in model.mounts and not model.max_w


def _at_one_place(one: Spot, other: Spot) -> bool:
    apart = math.hypot(one.at.x_m - other.at.x_m, one.at.y_m - other.at.y_m)
    return one.storey_id == other.storey_id and apart <= limit("cabling.outlet_place_m")


@rule("runs.fewer-than-practice")
def fewer_than_practice(job: Job) -> Iterator[Observation]:
    """An access point has a cable, but fewer than the house practice runs to each."""
    racks = job.of(Rack)
    there = {run.b.on for run in runs_of(job) if run.there}
    for thing, lacks in lacking_runs(job):
        # What exists and serves is not pressed to the house practice.
        if thing.id in there:
            continue
        have = job.practice.cables_per_point - lacks
        if not job.equipment[thing.model].radiates or have < 1 or not racks:
            continue
        added = [
            Put(
                element=new_run(job, thing, racks[0].id, derived_id(thing.id, f"run {have + number}"), number)
            )
            for number in range(lacks)
        ]
        yield Observation(
            subject_ids=(thing.id,),
            subject=thing.label,
            value=have,
            limit=job.practice.cables_per_point,
            text=f"{thing.label} has {have} cable{'s' * (have > 1)}; the house practice runs "
            f"{job.practice.cables_per_point} to each access point.",
            advice="Run the spare while the way is open, or change the practice of this job.",
            place=place_of(job, thing.id),
            fixes=(Fix(label=f"Run {lacks} more", operations=tuple(added)),),
        )


@rule("runs.category-below-practice", per="run")
def category_below_practice(run: RunPlan, job: Job) -> Iterator[Observation]:
    """A run is of a lower category than the house practice takes there."""
    end = job.by_id[run.to_id]
    serves = run.existing and carries(run.category, run, job.practice.cords_m)
    if not isinstance(end, AccessPoint | Equipment) or serves:
        return
    wanted = default_cable(job, end)
    if rank_of(run.category) < rank_of(library().cables[wanted].category):
        yield Observation(
            subject_ids=(run.run_id,),
            subject=f"{run.label} to {run.to_label}",
            text=f"{run.label} is {name_of(run.category)}; the house practice takes "
            f"{name_of(library().cables[wanted].category)} there.",
            advice="Move it to the practice's cable, or accept it with a reason.",
            place=place_of(job, run.to_id),
            fixes=_cable_fix(job, run, wanted),
        )


def name_of(category: str) -> str:
    """Return what a category is called."""
    return library().categories[category].label


def rank_of(category: str) -> int:
    """Return where a category stands among the others, the poorest first."""
    return library().categories[category].rank


@rule("runs.speed-over-category", per="run")
def speed_over_category(run: RunPlan, job: Job) -> Iterator[Observation]:
    """The category does not carry the device's speed over this channel."""
    channel_m = run.span_m + job.practice.cords_m
    if channel_m <= run.carries_m:
        return
    yield Observation(
        subject_ids=(run.run_id,),
        subject=f"{run.label} to {run.to_label}",
        value=round(channel_m, 1),
        limit=run.carries_m,
        unit="m",
        text=f"{run.label} is {quantity(channel_m, 'm')} of {name_of(run.category)} with its "
        f"cords; {run.speed_mbps:,} Mb/s holds to {quantity(run.carries_m, 'm', 0)} on it.",
        advice=_faster(job, run),
        place=place_of(job, run.to_id),
        fixes=_cable_fix(job, run, category_that_carries(job, run)),
        sum=run.length_sum,
    )


def _faster(job: Job, run: RunPlan) -> str:
    """Say what carries the speed: a better category where there is one, else what is no copper of this length."""
    better = category_that_carries(job, run)
    if better is not None:
        return f"Move it to {library().cables[better].label}, which carries the speed."
    return (
        "No copper carries this speed over this length: bring a switch or the rack nearer, or run fibre. "
        "At a lower speed it serves as it is."
    )


@rule("runs.speed-marginal", per="run")
def speed_marginal(run: RunPlan, job: Job) -> Iterator[Observation]:
    """The category carries the speed only where a test says so."""
    channel_m = run.span_m + job.practice.cords_m
    row = speed_row(run.category, run.speed_mbps)
    if channel_m > run.carries_m or carries(run.category, run, job.practice.cords_m):
        return
    sure = f"to {quantity(row.warn_over_m, 'm', 0)}" if row.warn_over_m else "only on test"
    yield Observation(
        subject_ids=(run.run_id,),
        subject=f"{run.label} to {run.to_label}",
        value=round(channel_m, 1),
        limit=row.warn_over_m,
        unit="m",
        text=f"{run.label} is {quantity(channel_m, 'm')} of {name_of(run.category)} with its "
        f"cords; {run.speed_mbps:,} Mb/s is sure {sure}.",
        advice="Test it, or move it to a category that is sure.",
        place=place_of(job, run.to_id),
        fixes=_cable_fix(job, run, category_that_carries(job, run)),
        sum=run.length_sum,
    )


@rule("runs.wrong-rating", per="run")
def wrong_rating(run: RunPlan, job: Job) -> Iterator[Observation]:
    """A run passes a space its cable may not enter."""
    cable = library().cables[run.cable]
    missing = set(run.environments) - cable.environments
    indoors_m = sum(leg.length_m for leg in run.legs if leg.environment != "outdoor")
    allowed_m = limit("cabling.outdoor_inside_m")
    if missing == {"general"} and not cable.fire_rated and indoors_m <= allowed_m:
        return
    wrong_m = sum(leg.length_m for leg in run.legs if leg.environment in missing)
    if missing:
        words = " and ".join(sorted(missing))
        yield Observation(
            subject_ids=(run.run_id,),
            subject=f"{run.label} to {run.to_label}",
            value=round(wrong_m, 1),
            limit=allowed_m if missing == {"general"} and not cable.fire_rated else 0,
            unit="m",
            text=f"{run.label} passes {quantity(wrong_m, 'm')} of {words} space, which {cable.label} may not "
            "enter.",
            advice="Use one cable that covers every space it passes, or change type at a box.",
            place=place_of(job, run.to_id),
            fixes=_cable_fix(job, run, category_that_carries(job, run)),
        )


@rule("runs.through-no-go", per="run")
def through_no_go(run: RunPlan, job: Job) -> Iterator[Observation]:
    """A run has no way but through an area where nothing may be fitted, or was led through one."""
    legs = [leg for leg in run.legs if leg.blocked_by is not None]
    if not legs or run.existing:
        return
    names = " and ".join(dict.fromkeys(job.by_id[leg.blocked_by].label for leg in legs if leg.blocked_by))
    length_m = sum(leg.length_m for leg in legs)
    yield Observation(
        subject_ids=(run.run_id,),
        subject=f"{run.label} to {run.to_label}",
        value=round(length_m, 1),
        limit=0,
        unit="m",
        text=f"{run.label} passes {quantity(length_m, 'm')} of {names}, where nothing may be fitted.",
        advice="Draw a pathway round it, move what it goes to, or ask who answers for the area and accept it with "
        "their word.",
        place=Place(storey_id=legs[0].storey_id, at=legs[0].a),
        fixes=_unpinned(job, run),
    )


@rule("runs.through-undrilled", per="run")
def through_undrilled(run: RunPlan, job: Job) -> Iterator[Observation]:
    """A run has no way but through a wall that is not to be drilled."""
    holes = [hole for hole in run.holes if hole.undrilled]
    if not holes or run.existing:
        return
    walls = [job.by_id[hole.wall_id].label for hole in holes if hole.wall_id]
    yield Observation(
        subject_ids=(run.run_id, *(hole.wall_id for hole in holes if hole.wall_id)),
        subject=f"{run.label} to {run.to_label}",
        value=len(holes),
        limit=0,
        text=f"{run.label} goes through {' and '.join(dict.fromkeys(walls))}, which is not to be drilled; no way "
        "round was found.",
        advice="Use an opening that is there, draw the pathway it may take, or leave it to whoever answers for the wall. "
        "Never drill lead or structure on a planner's word.",
        place=Place(storey_id=holes[0].storey_id, at=holes[0].at),
        fixes=_unpinned(job, run),
    )


def _unpinned(job: Job, run: RunPlan) -> tuple[Fix, ...]:
    """Return the fix that lets a run find its own way; none for one that does."""
    link = job.get(Link, run.run_id)
    if not link.pins:
        return ()
    free = link.model_copy(update={"pins": ()})
    return (Fix(label="Let it find its own way", operations=(Put(element=free),)),)


@rule("runs.copper-clad", per="run")
def copper_clad(run: RunPlan, job: Job) -> Iterator[Observation]:
    """A run is of copper-clad aluminium."""
    if library().cables[run.cable].copper_clad:
        yield Observation(
            subject_ids=(run.run_id,),
            subject=f"{run.label} to {run.to_label}",
            text=f"{run.label} is copper-clad aluminium, which is no category cable.",
            advice="Use solid copper.",
            place=place_of(job, run.to_id),
            fixes=_cable_fix(job, run, category_that_carries(job, run)),
        )


@rule("runs.conduit-overfull")
def conduit_overfull(runs: Runs, job: Job) -> Iterator[Observation]:
    """A conduit holds more than its limit."""
    yield from _conduits(runs, job, over=True)


@rule("runs.conduit-tight")
def conduit_tight(runs: Runs, job: Job) -> Iterator[Observation]:
    """A conduit is within its limit but over the share used when choosing."""
    yield from _conduits(runs, job, over=False)


def _wider(job: Job, runs: Runs, plan: PathwayPlan) -> tuple[Fix, ...]:
    """Return the fix that takes the least bore with room to spare; none for a pathway that is there already."""
    pathway = job.get(Pathway, plan.pathway_id)
    cables = [library().cables[runs.by_id[run_id].cable].diameter_mm for run_id in plan.run_ids]
    room = limit("cabling.fill_choice")
    roomy = {
        code: bore
        for code, bore in library().bores.items()
        if (fill := conduit_fill(bore.bore_mm, cables)).fill <= fill.limit * room
    }
    if pathway.there or not roomy:
        return ()
    code = min(roomy, key=lambda code: roomy[code].bore_mm)
    wider = pathway.model_copy(update={"bore": code})
    return (Fix(label=f"Take {roomy[code].label}", operations=(Put(element=wider),)),)


def _conduits(runs: Runs, job: Job, over: bool) -> Iterator[Observation]:
    for plan in runs.pathways:
        if plan.fill is None:
            continue
        most = plan.fill.limit if over else plan.fill.limit * limit("cabling.fill_choice")
        if plan.fill.fill <= most + 1e-12 or (not over and not plan.fill.ok):
            continue
        yield Observation(
            subject_ids=(plan.pathway_id,),
            subject=plan.label,
            value=round(100 * plan.fill.fill, 1),
            limit=round(100 * most, 1),
            unit="%",
            text=f"{plan.label} is filled to {quantity(100 * plan.fill.fill, '%')} by "
            f"{len(plan.run_ids)} cables; the {'limit' if over else 'choice'} is "
            f"{quantity(100 * most, '%')}.",
            advice="Take the next bore up, or draw fewer cables through it.",
            fixes=_wider(job, runs, plan),
            sum=plan.sum,
        )


@rule("runs.pull-boxes")
def pull_boxes(runs: Runs, job: Job) -> Iterator[Observation]:
    """A pathway that is there already is longer or turns more than cables are pulled through in one go."""
    for plan in runs.pathways:
        pathway = job.get(Pathway, plan.pathway_id)
        if plan.pull is None or not plan.pull.boxes or not plan.run_ids or not pathway.there:
            continue
        boxes = len(plan.pull.boxes)
        yield Observation(
            subject_ids=(plan.pathway_id,),
            subject=plan.label,
            value=boxes,
            text=f"{plan.label} is {quantity(plan.pull.length_m, 'm')} with {plan.pull.bends:g} right angles; "
            f"{boxes} place{'s' * (boxes > 1)} to pull from on the way are wanted.",
            advice="Look for the boxes it has; where it has none, open it there or take another way.",
            place=_at_box(pathway, plan),
        )


@rule("runs.pull-hard")
def pull_hard(runs: Runs, job: Job) -> Iterator[Observation]:
    """Drawing a cable through a pathway takes more than a cable may bear."""
    for plan in runs.pathways:
        if plan.pull is None or plan.pull.force.holds or not plan.run_ids:
            continue
        force = plan.pull.force
        yield Observation(
            subject_ids=(plan.pathway_id,),
            subject=plan.label,
            value=force.value,
            limit=force.limit,
            unit="N",
            text=f"The hardest pull in {plan.label} is {quantity(force.value, 'N', 0)} on one cable.",
            advice="Pull from the middle both ways, use lubricant for cables, or take out a bend.",
            place=_at_box(job.get(Pathway, plan.pathway_id), plan),
            sum=force,
        )


def _at_box(pathway: Pathway, plan: PathwayPlan) -> Place | None:
    at = plan.pull.boxes[0] if plan.pull and plan.pull.boxes else next(iter(pathway.path), None)
    if at is None or pathway.storey_id is None:
        return None
    return Place(storey_id=pathway.storey_id, at=at)


@rule("runs.beside-mains", per="run")
def beside_mains(run: RunPlan, job: Job) -> Iterator[Observation]:
    """A run lies too near to mains, a luminaire or a heater."""
    if run.existing or not library().cables[run.cable].conducts:
        return
    for stretch in too_near(job, run):
        along = f" for {quantity(stretch.length_m, 'm')}" if stretch.length_m else ""
        yield Observation(
            subject_ids=(run.run_id, stretch.what_id),
            subject=f"{run.label} and {stretch.label}",
            value=round(stretch.apart_m, 2),
            limit=stretch.wanted_m,
            unit="m",
            text=f"{run.label} lies {quantity(stretch.apart_m, 'm', 2)} from {stretch.label}{along}; "
            f"{quantity(stretch.wanted_m, 'm', 2)} are wanted.",
            advice="Lead it aside, cross square, or lay it in earthed metal, where half is enough. Whatever touches mains "
            "is for a licensed electrician.",
            place=Place(storey_id=stretch.storey_id, at=stretch.at),
            fixes=_unpinned(job, run),
        )


@rule("runs.fire-class", per="run")
def fire_class(run: RunPlan, job: Job, building: Building) -> Iterator[Observation]:
    """A cable burns worse than the rules of the place allow where it lies."""
    domain, cable = library().domains[job.site.domain], library().cables[run.cable]
    if run.existing or not domain.fire_classes or cable.fire_class not in domain.fire_classes:
        return
    escapes = [leg for leg in run.legs if _is_escape(building, leg)]
    wanted = domain.fire_escape if escapes else domain.fire_inside
    order = domain.fire_classes
    if wanted is None or order.index(cable.fire_class) >= order.index(wanted):
        return
    yield Observation(
        subject_ids=(run.run_id,),
        subject=f"{run.label} to {run.to_label}",
        text=f"{cable.label} is of class {cable.fire_class}; {wanted} is the least "
        + ("on the escape route it lies in." if escapes else "indoors here."),
        advice="Take a cable of a better class. Which is asked where is for the local rule and the fire officer to say.",
        place=place_of(job, run.to_id),
        fixes=_cable_fix(job, run, _burns_less(job, run, order[order.index(wanted) :])),
    )


def _is_escape(building: Building, leg: Leg) -> bool:
    at = Point(x_m=(leg.a.x_m + leg.b.x_m) / 2, y_m=(leg.a.y_m + leg.b.y_m) / 2)
    space = building.space_at(leg.storey_id, at)
    return space is not None and space.space_kind in ("corridor", "stair")


def _burns_less(job: Job, run: RunPlan, classes: Sequence[str]) -> str | None:
    """Return the cheapest cable of one of these classes that carries the speed in the run's spaces."""
    fits = {
        code: cable.box_price or 0.0
        for code, cable in library().cables.items()
        if cable.fire_class in classes
        and cable.conducts == library().cables[run.cable].conducts
        and set(run.environments) <= cable.environments
        and carries(cable.category, run, job.practice.cords_m)
    }
    return min(fits, key=lambda code: fits[code], default=None)
