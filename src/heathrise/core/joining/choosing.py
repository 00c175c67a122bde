"""A way chosen: the operations that put it into the job, as one edit. What follows from them is derived as always."""

from collections.abc import Callable

from heathrise.core.cabling.ends import runs_of
from heathrise.core.cabling.runs import RunPlan, category_that_carries
from heathrise.core.edit import EditError, Operation, Put, Remove
from heathrise.core.job import Equipment, InLine, Job, Link
from heathrise.core.joining.case import Case
from heathrise.core.joining.fibre import cable_of_light
from heathrise.core.library import EquipmentModel

NewId = Callable[[], str]
Chooser = Callable[[Case, Link, RunPlan, NewId], tuple[Operation, ...]]
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
    cleared = tuple(Remove(id=thing.id) for thing in _on_way(case.job, run.id))
    return (*cleared, *CHOOSERS[code](case, run, case.plan, new_id))


def _on_way(job: Job, run_id: str) -> tuple[Equipment, ...]:
    """Return what stands on a run's way."""
    return tuple(
        thing
        for thing in job.of(Equipment)
        if isinstance(thing.place, InLine) and thing.place.link_id == run_id
    )


@chooses("copper")
def copper(case: Case, run: Link, plan: RunPlan, _: NewId) -> tuple[Operation, ...]:
    """A cable that carries the speed in its spaces."""
    cable = category_that_carries(case.job, plan) or plan.cable
    return (Put(element=run.model_copy(update={"medium": "copper", "product": cable})),)


@chooses("fibre")
def fibre(case: Case, run: Link, plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """Fibre, a converter at either end, and at the far one what feeds the thing."""
    put = [Put(element=run.model_copy(update={"medium": "fibre", "product": cable_of_light(plan)}))]
    for where, at_m in (("near", 0.0), ("far", plan.length_m)):
        model = _cheapest(
            case.job, lambda m: any(port.medium == "cage" for port in m.ports) and m.forwards == "through"
        )
        put.append(_box(run, f"Converter of {run.label}, {where} end", model, at_m, new_id))
    takes = case.job.equipment[case.thing.model].takes_class
    if takes:
        fed = _cheapest(
            case.job, lambda m: m.feeds_through and any(port.gives_class >= takes for port in m.ports)
        )
        put.append(_box(run, f"Injector of {run.label}, far end", fed, plan.length_m, new_id))
    return tuple(put)


def _box(run: Link, label: str, model: str, at_m: float, new_id: NewId) -> Put:
    place = InLine(link_id=run.id, at_m=round(at_m, 2))
    return Put(element=Equipment(id=new_id(), label=label, model=model, place=place))


def _cheapest(job: Job, can: Callable[[EquipmentModel], bool]) -> str:
    """Return the cheapest model that can do something. Raises EditError when none can."""
    found = {code: model for code, model in job.equipment.items() if can(model)}
    if not found:
        raise EditError("the library has no equipment for this way")
    return min(found, key=lambda code: found[code].price or 0.0)
