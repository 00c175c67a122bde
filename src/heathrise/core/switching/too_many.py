"""The one device too many: what may be done about a device that its rack does not feed, each tried and priced.

Another port, an injector, a larger switch, a small powered one beside it, a device that asks for less.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from heathrise.core.cabling.ends import feeds_on, poe_class_needed
from heathrise.core.cabling.runs import Runs
from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import (
    AccessPoint,
    BrokenReference,
    Equipment,
    InRack,
    Job,
    Link,
    derived_id,
)
from heathrise.core.library import EquipmentModel, limit
from heathrise.core.power.feeds import Feeds, plan_feed
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.ports import PortPlan, Ports, plan_ports, switches_in
from heathrise.core.switching.remedies import injector_for, injector_on, opened_again, traded, with_puts


class WayOut(Noun):
    """One way out: what it costs, what it leaves wrong in the rack, what is to be said of it, and what makes it so."""

    code: str
    label: str
    cost: Sum
    faults: int
    says: str
    outlet: bool
    does_less: bool
    holds: bool
    operations: tuple[Operation, ...]


class Unfed(Noun):
    """Devices that are not fed, with their ways out; of very many only the first, `more` says how many are left."""

    devices: tuple["TooMany", ...]
    more: int


class TooMany(Noun):
    """A device that is not fed, why, and the ways out: those that mend it first, what does less last, then the cheapest."""

    run_id: str
    label: str
    asks_class: int
    gives_class: int
    gives_up: str
    ways: tuple[WayOut, ...]


@dataclass(frozen=True)
class _Case:
    """A run whose device is not fed, with what stands about it."""

    job: Job
    runs: Runs
    feeds: Feeds
    ports: Ports
    run: Link
    port: PortPlan | None
    rack_id: str

    @property
    def needs_class(self) -> int:
        return poe_class_needed(self.job, self.run.b.on)


@dataclass(frozen=True)
class _Idea:
    """A way before it is tried. `items` are what is bought and what is saved, by name. [money]"""

    code: str
    label: str
    says: str
    items: tuple[tuple[str, float], ...]
    operations: tuple[Operation, ...]
    outlet: bool = False
    does_less: bool = False


def unfed(job: Job, ports: Ports) -> tuple[str, ...]:
    """Return the runs whose device gets less than it asks for, or no port, in the order of the ports."""
    short = [port.run_id for port in ports.ports if port.run_id and not port.holds]
    short += [one.run_id for one in ports.unplaced if poe_class_needed(job, job.get(Link, one.run_id).b.on)]
    return tuple(dict.fromkeys(short))


def too_many(job: Job, runs: Runs, feeds: Feeds, ports: Ports, run_id: str) -> TooMany:
    """Return the ways out for one run, each tried on the job. Raises KeyError for a run that is none of a rack."""
    run = job.get(Link, run_id)
    rack_id = job.rack_of(run.a.on)
    if rack_id is None:
        raise KeyError(run_id)
    port = ports.by_run.get(run_id)
    case = _Case(job, runs, feeds, ports, run, port, rack_id)
    ways = [_tried(case, idea) for idea in _ideas(case)]
    model = job.model_of(run.b.on)
    gives = port.poe_class if port else 0
    return TooMany(
        run_id=run_id,
        label=job.by_id[run.b.on].label,
        asks_class=case.needs_class,
        gives_class=gives,
        gives_up=model.under_fed if model is not None and 0 < gives < case.needs_class else "",
        ways=tuple(sorted(ways, key=lambda way: (not way.holds, way.faults, way.does_less, way.cost.value))),
    )


def every_unfed(job: Job, runs: Runs, feeds: Feeds, ports: Ports) -> Unfed:
    """Return every device that is not fed, with its ways out."""
    short = unfed(job, ports)
    # Each way is tried on the whole rack; where many lack power a switch is too small, which the findings say.
    shown = short[: int(limit("power.ways_shown"))]
    devices = tuple(too_many(job, runs, feeds, ports, run_id) for run_id in shown)
    return Unfed(devices=devices, more=len(short) - len(shown))


def way_out(found: TooMany, code: str) -> tuple[Operation, ...]:
    """Return what one way out takes. Raises EditError where it is none of them any more."""
    for way in found.ways:
        if way.code == code:
            return way.operations
    raise EditError("that way is none of the ways out any more; look at them again")


def _ideas(case: _Case) -> Iterator[_Idea]:
    yield from _other_port(case)
    yield from _injector(case)
    yield from _larger_switch(case)
    yield from _one_beside(case)
    yield from _other_device(case)


def _other_port(case: _Case) -> Iterator[_Idea]:
    fixes = opened_again(case.job, case.runs, case.feeds, case.run)
    if case.port is not None and not fixes:
        fixes = traded(case.job, case.runs, case.feeds, case.ports, case.run, case.port)
    for fix in fixes[:1]:
        yield _Idea(
            "port", fix.label, "Nothing is bought; what is patched already moves.", (), fix.operations
        )


def _injector(case: _Case) -> Iterator[_Idea]:
    speed = min(case.port.needs_mbps, case.port.speed_mbps) if case.port else 0
    code = injector_for(case.job, case.needs_class, speed)
    if code is None or case.port is None:
        return
    model = case.job.equipment[code]
    yield _Idea(
        "injector",
        f"{model.label} beside the rack",
        f"{model.caution} One more thing to fail, and no switch can turn it off.",
        ((model.label, model.price or 0.0),),
        (injector_on(case.run, code),),
        outlet=True,
    )


def _larger_switch(case: _Case) -> Iterator[_Idea]:
    """Yield the cheapest switch that, in place of one that stands there, feeds all that hangs on it and this too."""
    for switch, model in switches_in(case.job, case.rack_id):
        if model.forwards != "switch" or (case.port and case.port.switch_id != switch.id):
            continue
        larger = [
            (code, other)
            for code, other in case.job.equipment.items()
            if other.forwards == "switch" and code != switch.model and _beats(other, model, case.needs_class)
        ]
        for code, other in sorted(larger, key=lambda row: row[1].price or 0.0)[:3]:
            changed = Put(element=switch.model_copy(update={"model": code}))
            items = ((other.label, other.price or 0.0), (f"{model.label}, not bought", -(model.price or 0.0)))
            says = "One box as before; its ports keep their numbers. Where the old one is bought already, its price is lost."
            yield _Idea(
                f"larger:{switch.id}:{code}",
                f"{other.label} in place of {switch.label}",
                says,
                items,
                (changed,),
            )


def _beats(other: EquipmentModel, model: EquipmentModel, poe_class: int) -> bool:
    return (
        other.gives_class >= poe_class
        and other.price is not None
        and len(other.port_list) >= len(model.port_list)
        and other.budget_w >= model.budget_w
    )


def _one_beside(case: _Case) -> Iterator[_Idea]:
    """Yield the cheapest powered switch more, which takes this run."""
    shelf = [
        (code, model)
        for code, model in case.job.equipment.items()
        if model.forwards == "switch" and model.racks and model.price is not None
    ]
    fits = [
        (code, model, port.name)
        for code, model in shelf
        for port in model.port_list
        if port.group.gives_class >= case.needs_class and not port.group.uplink
    ]
    if not fits:
        return
    code, model, port = min(fits, key=lambda row: row[1].price or 0.0)
    used = {thing.label for thing in case.job.of(Equipment)}
    label = next(name for name in (f"SW{n}" for n in range(1, 100_000)) if name not in used)
    box = Equipment(
        id=derived_id(case.rack_id, f"switch beside for {case.run.id}"),
        label=label,
        model=code,
        place=InRack(rack_id=case.rack_id),
    )
    moved = case.run.model_copy(update={"a": case.run.a.model_copy(update={"on": box.id, "port": port})})
    yield _Idea(
        "beside",
        f"{model.label} beside what is there",
        "Room for what comes next, and one fails without the other; a unit of the rack and a mains outlet more.",
        ((model.label, model.price or 0.0),),
        (Put(element=box), Put(element=moved)),
        outlet=True,
    )


def _other_device(case: _Case) -> Iterator[_Idea]:
    """Yield the cheapest device of the same kind that is content with what the port gives."""
    thing = case.job.by_id[case.run.b.on]
    gives = case.port.poe_class if case.port else 0
    if not isinstance(thing, AccessPoint | Equipment) or not gives:
        return
    model = case.job.equipment[thing.model]
    alike = [
        (code, other)
        for code, other in case.job.equipment.items()
        if code != thing.model and 0 < other.takes_class <= gives and _same_kind(model, other)
    ]
    if not alike:
        return
    code, other = min(alike, key=lambda row: abs((row[1].price or 0.0) - (model.price or 0.0)))
    yield _Idea(
        "device",
        f"{other.label} in place of {model.label}",
        "It asks for less because it does less: look at the air again after it.",
        ((other.label, other.price or 0.0), (f"{model.label}, not bought", -(model.price or 0.0))),
        (Put(element=thing.model_copy(update={"model": code})),),
        does_less=True,
    )


def _same_kind(model: EquipmentModel, other: EquipmentModel) -> bool:
    """Say whether one can hang where the other hangs and do the same work."""
    return (
        model.radiates == other.radiates
        and model.purpose == other.purpose
        and model.outdoor <= other.outdoor
        and bool(set(model.mounts) & set(other.mounts))
    )


def _tried(case: _Case, idea: _Idea) -> WayOut:
    faults, fed = _after(case, idea.operations)
    currency = case.job.practice.currency
    total = round(sum(price for _, price in idea.items), 2)
    return WayOut(
        code=idea.code,
        label=idea.label,
        cost=Sum(
            label=idea.label,
            value=total,
            unit=currency,
            lines=tuple(SumLine(label=label, value=price, unit=currency) for label, price in idea.items),
            formula="what is bought, less what is not",
            source="prices of the library",
        ),
        faults=faults,
        says=idea.says,
        outlet=idea.outlet,
        does_less=idea.does_less,
        holds=fed,
        operations=idea.operations,
    )


def _after(case: _Case, operations: Sequence[Operation]) -> tuple[int, bool]:
    """Return how many ports and budgets are wrong in the rack after some edits, and whether the device is fed then."""
    try:
        job = with_puts(case.job, *(op for op in operations if isinstance(op, Put)))
    except (EditError, BrokenReference):
        return len(case.ports.ports), False
    plan = case.runs.by_id[case.run.id]
    asks = poe_class_needed(job, case.run.b.on)
    changed = plan.model_copy(update={"asks_class": asks if not plan.boxes else plan.asks_class})
    runs = Runs(
        tuple(changed if one is plan else one for one in case.runs.plans),
        case.runs.pathways,
        case.runs.spares,
    )
    fed = plan_feed(job, changed, frozenset(feeds_on(job)))
    kept = [one for one in case.feeds.plans if one.run_id != plan.run_id]
    feeds = Feeds((*kept, fed) if fed is not None else tuple(kept))
    ports = plan_ports(job, runs, feeds)
    wrong = [port for port in ports.ports if not port.holds and job.rack_of(port.switch_id) == case.rack_id]
    over = [one for one in ports.budgets if not one.holds and job.rack_of(one.switch_id) == case.rack_id]
    mine = ports.by_run.get(case.run.id)
    return len(wrong) + len(over), mine is not None and mine.holds and (fed is None or fed.holds)
