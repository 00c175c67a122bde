"""A way chosen: the operations that put it into the job, as one edit. What follows from them is derived as always."""

from collections.abc import Callable

from heathrise.core.cabling.ends import runs_of
from heathrise.core.cabling.runs import RunPlan, category_that_carries
from heathrise.core.edit import EditError, Operation, Put, Remove
from heathrise.core.job import Equipment, InLine, Job, Link
from heathrise.core.joining.bridged import Bridging, boxes_on, taken_back
from heathrise.core.joining.bridging import unit_of
from heathrise.core.joining.case import Case
from heathrise.core.joining.copper import chain_cable, extender_of, spans_needed
from heathrise.core.joining.fibre import cable_of_light, pair_that_feeds
from heathrise.core.joining.unwired import taken_off
from heathrise.core.joining.way import NO_PORT, has_port
from heathrise.core.library import EquipmentModel, library
from heathrise.core.links.earths import guarded

NewId = Callable[[], str]
Chooser = Callable[[Case, str, Link, RunPlan, NewId], tuple[Operation, ...]]
CHOOSERS: dict[str, Chooser] = {}


def chooses(code: str) -> Callable[[Chooser], Chooser]:
    """Register how a way is put into a job."""

    def keep(chooser: Chooser) -> Chooser:
        CHOOSERS[code] = chooser
        return chooser

    return keep


def chosen(case: Case, code: str, new_id: NewId) -> tuple[Operation, ...]:
    """Return the operations that make a way the thing's own.

    Raises
    ------
    EditError
        If the way cannot be put into a job by itself, or there is no run for it.
    """
    if code not in CHOOSERS:
        raise EditError("this way is compared, not made: place its equipment by hand")
    if library().ways[code].wired and not has_port(case):
        raise EditError(NO_PORT)
    if case.plan is None or case.run is None:
        raise EditError(case.no_run)
    known = any(link.id == case.run.id for link in runs_of(case.job))
    run = case.run if known else case.run.model_copy(update={"id": new_id()})
    back = taken_off(case.job, case.now, run)
    if case.bridge is not None:
        back = taken_back(case.job, case.bridge, run.a.on)
    return (*back, *CHOOSERS[code](case, code, run, case.plan, new_id))


def cleared(job: Job, run: Link) -> tuple[Remove, ...]:
    """Return what takes everything off a run's way."""
    return tuple(Remove(id=thing.id) for thing in boxes_on(job, run.id))


@chooses("copper")
def copper(case: Case, _code: str, run: Link, plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """A cable that carries the speed in its spaces."""
    cable = category_that_carries(case.job, plan) or plan.cable
    there = run.there and run.product == cable
    put = Put(element=run.model_copy(update={"medium": "copper", "product": cable, "there": there}))
    return (*cleared(case.job, run), put, *_guards(case, run, plan, new_id))


def _guards(case: Case, run: Link, plan: RunPlan, new_id: NewId) -> tuple[Put, ...]:
    """Return the surge guards of copper between two houses."""
    return guarded(case.job, run, plan.length_m, new_id) if case.is_apart else ()


@chooses("bridge-60")
@chooses("bridge-5")
@chooses("bridge-2")
@chooses("light-beam")
def bridge(case: Case, code: str, run: Link, _: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """Two units that look at each other, and a rack with a switch behind the far one."""
    if case.span is None or case.houses[1] is None:
        raise EditError("there is no open air between two houses for it to look through")
    model = unit_of(case, library().ways[code])
    rack_id = case.job.rack_of(run.a.on)
    if rack_id is None:
        raise EditError("its run begins at no rack")
    made = Bridging(case.job, case.building, case.span, case.thing, case.houses[1], model, rack_id, new_id)
    known = case.job.by_id.get(run.id) is not None
    return made.operations(None if known else run)


@chooses("extender-chain")
def extender_chain(case: Case, _code: str, run: Link, plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """Boxes on the way at even spans: as many as its length asks for."""
    model, spans = extender_of(case.job, plan), spans_needed(plan)
    boxes = [
        box(run, f"Extender {n} of {run.label}", model, plan.length_m * n / spans, new_id)
        for n in range(1, spans)
    ]
    cable = chain_cable(case.job, plan)
    there = run.there and run.product == cable
    put = Put(element=run.model_copy(update={"medium": "copper", "product": cable, "there": there}))
    return (*cleared(case.job, run), put, *boxes, *_guards(case, run, plan, new_id))


@chooses("fibre")
def fibre(case: Case, _code: str, run: Link, plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """Fibre with what stands at both its ends."""
    return fibre_on(case.job, run, plan, new_id)


def fibre_on(job: Job, run: Link, plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """Return what puts fibre in a run's place: a converter at either end, and at the far one what feeds the thing.

    Raises
    ------
    EditError
        If the library has no converter, or nothing that feeds it.
    """
    # What lies there already is another cable: this one is bought and drawn in.
    light = {"medium": "fibre", "product": cable_of_light(plan), "there": False}
    put = [Put(element=run.model_copy(update=light))]
    converter = cheapest(job, _converts)
    for where, at_m in (("near", 0.0), ("far", plan.length_m)):
        put.append(box(run, f"Converter of {run.label}, {where} end", converter, at_m, new_id))
    model = job.model_of(run.b.on)
    if model is not None and model.takes_class:
        takes = model.takes_class
        fed = cheapest(job, lambda m: m.feeds_through and not m.needs_dc and m.gives_class >= takes)
        put.append(box(run, f"Injector of {run.label}, far end", fed, plan.length_m, new_id))
    return (*cleared(job, run), *put)


@chooses("fibre-powered")
def fibre_powered(case: Case, code: str, run: Link, plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """Fibre with the thinnest pair that feeds it, a supply of limited power at its beginning, a booster at its end."""
    job, takes = case.job, case.job.equipment[case.thing.model].takes_class
    cable, _ = pair_that_feeds(case, library().ways[code])
    if cable is None:
        raise EditError("no pair of the library feeds it over this length")
    put = [Put(element=run.model_copy(update={"medium": "hybrid", "product": cable, "there": False}))]
    parts = (
        ("Supply", 0.0, cheapest(job, lambda m: any(g.medium == "dc" and g.gives_v for g in m.ports))),
        ("Converter, near end,", 0.0, cheapest(job, _converts)),
        ("Converter, far end,", plan.length_m, cheapest(job, _converts)),
        ("Booster", plan.length_m, cheapest(job, lambda m: m.needs_dc and m.gives_class >= takes)),
    )
    put += _guards(case, run, plan, new_id)
    put += [box(run, f"{what} of {run.label}", model, at_m, new_id) for what, at_m, model in parts]
    return (*cleared(job, run), *put)


def _converts(model: EquipmentModel) -> bool:
    """Say whether a model passes data from copper to a cage of light."""
    return model.forwards == "through" and any(port.medium == "cage" for port in model.ports)


def box(run: Link, label: str, model: str, at_m: float, new_id: NewId) -> Put:
    """Return what puts a box on a run's way, so far from its beginning. [m]"""
    place = InLine(link_id=run.id, at_m=round(at_m, 2))
    return Put(element=Equipment(id=new_id(), label=label, model=model, place=place))


def cheapest(job: Job, can: Callable[[EquipmentModel], bool]) -> str:
    """Return the cheapest model that can do something. Raises EditError when none can."""
    found = {code: model for code, model in job.equipment.items() if can(model)}
    if not found:
        raise EditError("the library has no equipment for this way")
    return min(found, key=lambda code: found[code].price or 0.0)
