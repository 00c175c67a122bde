"""A port for every end of a run in a rack: an assignment problem, solved per rack.

Ends whose port was decided keep it. The rest are proposed by least cost: a port that cannot serve is out,
then speed lost, power class wasted and the runs' own order are weighed, in that order. What is proposed may
move with the next edit; what is decided moves by a person's edit only.
"""

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment

from heathrise.core.cabling.ends import cords_of, feeds_on, label_of, poe_class_needed, runs_of
from heathrise.core.cabling.runs import Runs
from heathrise.core.edit import Operation, Put
from heathrise.core.job import End, Equipment, InRack, Job, Link, Rack
from heathrise.core.library import EquipmentModel, limit
from heathrise.core.power.feeds import FeedPlan, Feeds
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.assigning import give_out
from heathrise.core.switching.slots import NEVER, Ask, Loads, Side, Slot, cost


class PortPlan(Noun):
    """One port of a switch and what is on it, `sum` how its watts come about. `decided` is False for a proposal;
    `purpose` is the kind of network that what hangs on it belongs to, `trunk` where several pass.
    """

    switch_id: str
    switch_label: str
    port: str
    speed_mbps: int
    poe_class: int
    uplink: bool
    run_id: str | None
    side: Side | None
    run_label: str
    to_label: str
    needs_class: int
    needs_mbps: int
    purpose: str
    watts: float
    sum: Sum | None
    decided: bool
    state: str
    holds: bool


class BudgetPlan(Noun):
    """One switch's power by the three methods, against its budget."""

    switch_id: str
    label: str
    model_label: str
    budget_w: float
    by_class: Sum
    by_maximum: Sum
    by_typical: Sum
    used_w: float
    method: str
    ports_used: int
    ports_total: int
    holds: bool
    sum: Sum


class Unplaced(Noun):
    """An end of a run without a port, and why."""

    run_id: str
    side: Side
    rack_id: str
    why: str


@dataclass(frozen=True)
class Ports:
    """What the later stages and the rules read of the ports."""

    ports: tuple[PortPlan, ...]
    budgets: tuple[BudgetPlan, ...]
    unplaced: tuple[Unplaced, ...]

    @cached_property
    def by_run(self) -> dict[str, PortPlan]:
        """The port at a run's near end, by run id."""
        return {port.run_id: port for port in self.ports if port.run_id is not None and port.side == "a"}


def switches_in(job: Job, rack_id: str) -> list[tuple[Equipment, EquipmentModel]]:
    """Return what joins ports in a rack, in its own order."""
    found = []
    for thing in job.of(Equipment):
        model = job.equipment[thing.model]
        if isinstance(thing.place, InRack) and thing.place.rack_id == rack_id and model.joins:
            found.append((thing, model))
    return found


def asks_in(job: Job, runs: Runs, rack_id: str) -> list[Ask]:
    """Return every end that stands in a rack and wants a port there, in the order of the runs."""
    fed = feeds_on(job)
    asks = []
    for run in runs_of(job):
        decided = run.a.port is not None or run.b.port is not None
        if (run.id in runs.spares and not decided) or run.id not in runs.by_id:
            continue
        sides: tuple[tuple[Side, End, End], ...] = (("a", run.a, run.b), ("b", run.b, run.a))
        for side, end, other in sides:
            if job.rack_of(end.on) == rack_id and _has_ports(job, end.on):
                to_rack = job.rack_of(other.on) is not None and _has_ports(job, other.on)
                unfed = run.id in fed or run.id in runs.spares or to_rack
                plan = runs.by_id[run.id]
                asked = plan.asks_class if side == "a" else poe_class_needed(job, other.on)
                to_label = label_of(job, other.on)
                asks.append(Ask(run, side, to_label, plan.speed_mbps, 0 if unfed else asked, to_rack))
    return asks + _cords_in(job, rack_id)


def _has_ports(job: Job, element_id: str) -> bool:
    """Say whether an end is on a rack, or on what joins ports in one; what is only bolted in asks for a port itself."""
    model = job.model_of(element_id)
    return model is None or model.joins


def _cords_in(job: Job, rack_id: str) -> list[Ask]:
    """Return what things of a rack that are no switch ask by their cords."""
    found = []
    for cord in cords_of(job):
        model = job.model_of(cord.b.on)
        if job.rack_of(cord.a.on) == rack_id and model is not None and model.links_up:
            asked = 0 if model.wants_outlet else model.takes_class
            best = max(model.links_up, key=lambda port: port.group.speed_mbps).group
            to_label = label_of(job, cord.b.on)
            found.append(Ask(cord, "a", to_label, best.speed_mbps, asked, to_rack=False, medium=best.medium))
    return found


def assign(asks: list[Ask], slots: list[Slot], split: bool = False) -> dict[int, int]:
    """Return slot index by ask index: what is decided first, then least cost. Unplaceable asks are absent."""
    placed = decided(asks, slots)
    rest = [i for i in range(len(asks)) if asks[i].end.port is None]
    free = [j for j in range(len(slots)) if j not in placed.values()]
    if rest and free:
        costs = _costs(asks, slots, rest, free, split)
        for row, column in zip(*linear_sum_assignment(costs), strict=True):
            if costs[row, column] < NEVER:
                placed[rest[row]] = free[column]
    return placed


def _costs(
    asks: list[Ask], slots: list[Slot], rest: list[int], free: list[int], split: bool
) -> NDArray[np.float64]:
    table = np.array([[cost(asks[i], slots[j], split) for j in free] for i in rest])
    # Equal ports fill in the order of the runs; squared, so that two never cross.
    apart = np.arange(len(rest))[:, None] - np.arange(len(free))[None, :]
    order = (apart / max(len(rest), len(free))) ** 2 * 1e-2
    return np.where(table >= NEVER, NEVER, table + order)


@dataclass(frozen=True)
class RackPorts:
    """The ports of one rack, and what found none."""

    ports: tuple[PortPlan, ...]
    unplaced: tuple[Unplaced, ...]


Pairs = Collection[frozenset[str]]
NO_PAIRS: Pairs = ()


def plan_rack(job: Job, runs: Runs, feeds: Feeds, rack_id: str, pairs: Pairs = NO_PAIRS) -> RackPorts:
    """Return the ports of everything that joins ports in a rack.

    `pairs` are points, two and two, that cover for each other: they are kept on two switches where that can be.
    """
    asks = asks_in(job, runs, rack_id)
    slots = slots_in(job, rack_id)
    split = job.practice.port_split == "powered-and-plain"
    placed = assign(asks, slots, split)
    held = decided(asks, slots)
    together = paired(asks, pairs)
    if len(held) < len(placed):
        loads = loads_of(job, asks, feeds, rack_id)
        # What least cost alone makes is kept where nothing can be said against it.
        if not sound(placed, slots, loads, together):
            placed = give_out(asks, slots, loads, together, held, placed, settled=False, split=split).placed
    on = {slot: asks[i] for i, slot in placed.items()}
    unplaced = tuple(
        Unplaced(run_id=ask.run.id, side=ask.side, rack_id=rack_id, why=_why(ask, asks, slots, placed))
        for i, ask in enumerate(asks)
        if i not in placed
    )
    return RackPorts(tuple(_port(job, slot, on.get(j), feeds) for j, slot in enumerate(slots)), unplaced)


def slots_in(job: Job, rack_id: str) -> list[Slot]:
    """Return every port of what joins ports in a rack, as they stand."""
    return [
        Slot(switch, port, routes=model.forwards == "route")
        for switch, model in switches_in(job, rack_id)
        for port in model.port_list
    ]


def decided(asks: Sequence[Ask], slots: Sequence[Slot]) -> dict[int, int]:
    """Return slot index by ask index of ends whose port was decided; the first where two name one."""
    at = {(slot.switch.id, slot.port.name): i for i, slot in enumerate(slots)}
    held: dict[int, int] = {}
    for i, ask in enumerate(asks):
        slot = at.get((ask.end.on, ask.end.port or ""))
        if slot is not None and slot not in held.values():
            held[i] = slot
    return held


def paired(asks: Sequence[Ask], pairs: Pairs) -> list[tuple[int, int]]:
    """Return the asks of points that cover for each other, two and two."""
    by_point = {ask.run.b.on: i for i, ask in enumerate(asks) if ask.side == "a"}
    found = (sorted(by_point[point] for point in pair if point in by_point) for pair in pairs)
    return sorted({(ends[0], ends[1]) for ends in found if len(ends) == 2})


def loads_of(job: Job, asks: Sequence[Ask], feeds: Feeds, rack_id: str) -> Loads:
    """Return what each end draws at each switch of a rack by that switch's method, and what each may give. [W]"""
    watts: dict[tuple[int, str], float] = {}
    budgets: dict[str, float] = {}
    for switch, model in switches_in(job, rack_id):
        if not model.gives_class:
            continue
        budgets[switch.id] = model.budget_w
        for i, ask in enumerate(asks):
            feed = feeds.by_id.get(ask.run.id)
            if feed is not None and ask.poe_class:
                watts[i, switch.id] = asked_w(feed, by_class_only(job, model))
    return Loads(watts, budgets)


def by_class_only(job: Job, model: EquipmentModel) -> bool:
    """Say whether a switch reserves by class: its own kind, or the house practice."""
    return not model.allocates_by_lldp or job.practice.budget_method == "class"


def asked_w(feed: FeedPlan, by_class: bool) -> float:
    """Return what a fed run asks of a budget. [W]"""
    return feed.reserve_w if by_class else (feed.max_source_w or feed.reserve_w)


def sound(
    placed: Mapping[int, int], slots: Sequence[Slot], loads: Loads, together: Sequence[tuple[int, int]]
) -> bool:
    """Say whether nothing can be held against a way of giving ports out: budgets with room, pairs apart."""
    on = {i: slots[n].switch.id for i, n in placed.items()}
    drawn: dict[str, float] = defaultdict(float)
    for i, n in placed.items():
        if slots[n].poe_class:
            drawn[on[i]] += loads.watts.get((i, on[i]), 0.0)
    room = 1 - limit("power.free_share")
    within = all(drawn[switch] <= budget * room + 1e-9 for switch, budget in loads.budgets.items())
    apart = all(on.get(a) != on.get(b) for a, b in together if a in on and b in on)
    return within and (apart or len(loads.budgets) < 2)


def plan_ports(job: Job, runs: Runs, feeds: Feeds) -> Ports:
    """Return the port of every run's ends and the budget of every switch."""
    racks = [plan_rack(job, runs, feeds, rack.id) for rack in job.of(Rack)]
    ports = tuple(port for rack in racks for port in rack.ports)
    budgets = tuple(
        plan_budget(job, switch, ports, feeds)
        for rack in job.of(Rack)
        for switch, _ in switches_in(job, rack.id)
    )
    return Ports(ports, budgets, tuple(missing for rack in racks for missing in rack.unplaced))


def settled(job: Job, ports: Sequence[PortPlan]) -> tuple[Operation, ...]:
    """Return operations that decide every port that is proposed."""
    changed: dict[str, Link] = {}
    for port in ports:
        if port.run_id is None or port.side is None or port.decided:
            continue
        link = changed.get(port.run_id) or job.get(Link, port.run_id)
        end = link.a if port.side == "a" else link.b
        changed[link.id] = link.model_copy(update={port.side: end.at(port.switch_id, port.port)})
    return tuple(Put(element=link) for link in changed.values())


def _why(ask: Ask, asks: list[Ask], slots: list[Slot], placed: dict[int, int]) -> str:
    if not slots:
        return "its rack has no switch"
    if ask.end.port is not None:
        same = (asks[i].run.label for i in placed if asks[i].end == ask.end)
        return f"port {ask.end.port} was given to it, and {next(same, 'another run')} has it too"
    return "every port of its rack is taken" if ask.medium == "copper" else "no cage of its rack is free"


def purpose_of(job: Job, element_id: str) -> str:
    """Return the kind of network what an end is on belongs to: `trunk` for what passes several on."""
    model = job.model_of(element_id)
    return "trunk" if model is None or model.radiates or model.joins else model.purpose


def _port(job: Job, slot: Slot, ask: Ask | None, feeds: Feeds) -> PortPlan:
    feed = feeds.by_id.get(ask.run.id) if ask else None
    fed = feed is not None and ask is not None and ask.poe_class > 0 and slot.poe_class > 0
    return PortPlan(
        switch_id=slot.switch.id,
        switch_label=slot.switch.label,
        port=slot.port.name,
        speed_mbps=slot.speed_mbps,
        poe_class=slot.poe_class,
        uplink=slot.port.group.uplink,
        run_id=ask.run.id if ask else None,
        side=ask.side if ask else None,
        run_label=ask.run.label if ask else "",
        to_label=ask.to_label if ask else "",
        needs_class=ask.poe_class if ask else 0,
        needs_mbps=ask.speed_mbps if ask else 0,
        purpose=purpose_of(job, (ask.run.b if ask.side == "a" else ask.run.a).on) if ask else "",
        watts=(feed.max_source_w or 0.0) if feed and fed else 0.0,
        sum=feed.sum if feed and fed else None,
        decided=bool(ask and ask.end.port),
        state="" if ask is None else "decided" if ask.end.port else "proposed",
        holds=ask is None or ask.poe_class <= slot.poe_class,
    )


def _fed(feeds: Feeds, ports: Sequence[PortPlan], switch_id: str) -> list[tuple[PortPlan, FeedPlan]]:
    """Return what a switch feeds, port by port: one without power costs its budget nothing."""
    return [
        (port, feeds.by_id[port.run_id])
        for port in ports
        if port.switch_id == switch_id and port.run_id in feeds.by_id and port.needs_class and port.poe_class
    ]


# How each method asks, in words.
_METHODS = {
    "class": "sum of what each class reserves, whatever is drawn",
    "maximum": "sum of (data-sheet maximum + loss in this cable)",
    "typical": "sum of (usual draw + loss in this cable)",
}


def _by(
    method: str, switch: Equipment, budget_w: float, asked: Sequence[tuple[PortPlan, FeedPlan, float]]
) -> Sum:
    """Return what a switch is asked for by one method, device by device. [W]"""
    total = sum(watts for _, _, watts in asked)
    return Sum(
        label=f"{switch.label}: by {method}",
        value=round(total, 1),
        unit="W",
        limit=budget_w,
        holds=total <= budget_w + 1e-9,
        lines=tuple(
            SumLine(
                label=f"{port.port}: {port.to_label}",
                value=round(watts, 1),
                unit="W",
                note=f"{plan.label}, class {plan.poe_class}",
            )
            for port, plan, watts in asked
        ),
        formula=_METHODS[method],
        source="IEEE 802.3-2022 clauses 33 and 145; house practice: PoE budget",
    )


def plan_budget(job: Job, switch: Equipment, ports: Sequence[PortPlan], feeds: Feeds) -> BudgetPlan:
    """Return what a switch is asked for by three methods, against its budget."""
    model = job.equipment[switch.model]
    mine = [port for port in ports if port.switch_id == switch.id]
    fed = _fed(feeds, ports, switch.id)
    by_class = _by("class", switch, model.budget_w, [(port, plan, plan.reserve_w) for port, plan in fed])
    at_most = [(port, plan, plan.max_source_w or plan.reserve_w) for port, plan in fed]
    usual = [(port, plan, plan.typical_source_w or 0.0) for port, plan in fed]
    by_maximum = _by("maximum", switch, model.budget_w, at_most)
    used = by_class if by_class_only(job, model) else by_maximum
    return BudgetPlan(
        switch_id=switch.id,
        label=switch.label,
        model_label=model.label,
        budget_w=model.budget_w,
        by_class=by_class,
        by_maximum=by_maximum,
        by_typical=_by("typical", switch, model.budget_w, usual),
        used_w=used.value,
        method="class" if used is by_class else "maximum",
        ports_used=sum(port.run_id is not None for port in mine),
        ports_total=len(mine),
        holds=used.holds,
        sum=used.model_copy(update={"label": f"{switch.label}: power of its budget"}),
    )
