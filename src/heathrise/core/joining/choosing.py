"""A way chosen: the operations that put it into the job, as one edit. What follows from them is derived as always."""

from collections.abc import Callable

from heathrise.core.cabling.ends import runs_of
from heathrise.core.cabling.runs import RunPlan, category_that_carries
from heathrise.core.edit import EditError, Operation, Put, Remove
from heathrise.core.job import Equipment, InLine, Job, Link
from heathrise.core.joining.bridged import Bridging, boxes_on, taken_back
from heathrise.core.joining.bridging import unit_of
from heathrise.core.joining.case import Case
from heathrise.core.joining.fibre import cable_of_light
from heathrise.core.library import EquipmentModel, library

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
    if case.plan is None or case.run is None:
        raise EditError(case.no_run)
    known = any(link.id == case.run.id for link in runs_of(case.job))
    run = case.run if known else case.run.model_copy(update={"id": new_id()})
    back: tuple[Operation, ...] = ()
    if case.bridge is not None:
        back = taken_back(case.job, case.bridge, run.a.on)
    return (*back, *CHOOSERS[code](case, code, run, case.plan, new_id))


def _cleared(job: Job, run: Link) -> tuple[Remove, ...]:
    """Return what takes everything off a run's way."""
    return tuple(Remove(id=thing.id) for thing in boxes_on(job, run.id))


@chooses("copper")
def copper(case: Case, _code: str, run: Link, plan: RunPlan, _: NewId) -> tuple[Operation, ...]:
    """A cable that carries the speed in its spaces."""
    cable = category_that_carries(case.job, plan) or plan.cable
    there = run.there and run.product == cable
    put = Put(element=run.model_copy(update={"medium": "copper", "product": cable, "there": there}))
    return (*_cleared(case.job, run), put)


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
    converter = _cheapest(job, _converts)
    for where, at_m in (("near", 0.0), ("far", plan.length_m)):
        put.append(_box(run, f"Converter of {run.label}, {where} end", converter, at_m, new_id))
    model = job.model_of(run.b.on)
    if model is not None and model.takes_class:
        takes = model.takes_class
        fed = _cheapest(job, lambda m: m.feeds_through and any(port.gives_class >= takes for port in m.ports))
        put.append(_box(run, f"Injector of {run.label}, far end", fed, plan.length_m, new_id))
    return (*_cleared(job, run), *put)


def _converts(model: EquipmentModel) -> bool:
    """Say whether a model passes data from copper to a cage of light."""
    return model.forwards == "through" and any(port.medium == "cage" for port in model.ports)


def _box(run: Link, label: str, model: str, at_m: float, new_id: NewId) -> Put:
    place = InLine(link_id=run.id, at_m=round(at_m, 2))
    return Put(element=Equipment(id=new_id(), label=label, model=model, place=place))


def _cheapest(job: Job, can: Callable[[EquipmentModel], bool]) -> str:
    """Return the cheapest model that can do something. Raises EditError when none can."""
    found = {code: model for code, model in job.equipment.items() if can(model)}
    if not found:
        raise EditError("the library has no equipment for this way")
    return min(found, key=lambda code: found[code].price or 0.0)
