"""A port for every run: an assignment problem, solved per rack.

Pinned runs keep their ports. The rest are matched to ports by least cost: a port that cannot
serve is out, then speed lost, power class wasted and order of labels are weighed, in that order.
"""

import math
from collections import defaultdict
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment

from heathrise.core.cabling.runs import RunPlan, Runs, poe_class_needed
from heathrise.core.job import Job, Rack, Run, Switch
from heathrise.core.library import library
from heathrise.core.power.feeds import FeedPlan, Feeds
from heathrise.core.sums import Noun, Sum, SumLine

_NEVER = 1e6
_UNFED = 1e3


class PortPlan(Noun):
    """One port of a switch and what is on it."""

    switch_id: str
    switch_label: str
    port: int
    speed_mbps: int
    poe_class: int
    uplink: bool
    run_id: str | None
    run_label: str
    to_label: str
    needs_class: int
    needs_mbps: int
    watts: float
    pinned: bool
    holds: bool


class BudgetPlan(Noun):
    """One switch's power by the three methods, against its budget."""

    switch_id: str
    label: str
    model_label: str
    budget_w: float
    by_class_w: float
    by_maximum_w: float
    by_typical_w: float
    used_w: float
    method: str
    ports_used: int
    ports_total: int
    holds: bool
    sum: Sum


class Unplaced(Noun):
    """A run without a port, and why."""

    run_id: str
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
        """Ports by run id."""
        return {port.run_id: port for port in self.ports if port.run_id is not None}


@dataclass(frozen=True)
class Slot:
    """A port before anything is on it."""

    switch: Switch
    number: int
    speed_mbps: int
    poe_class: int
    uplink: bool


@dataclass(frozen=True)
class Ask:
    """What a run asks of a port. `poe_class` is 0 when it is fed elsewhere."""

    run: Run
    plan: RunPlan
    poe_class: int
    to_rack: bool


def slots_of(switch: Switch) -> list[Slot]:
    """Return a switch's ports, numbered from 1 as they stand on its front."""
    found: list[Slot] = []
    for group in library().switches[switch.model].ports:
        for _ in range(group.count):
            number = len(found) + 1
            found.append(Slot(switch, number, group.speed_mbps, group.poe_class, group.uplink))
    return found


def cost(ask: Ask, slot: Slot, split: bool = False) -> float:
    """Return what putting a run on a port costs; `_NEVER` when it may not stand there."""
    if slot.uplink != ask.to_rack:
        return _NEVER
    unfed = _UNFED * (ask.poe_class - slot.poe_class) if slot.poe_class < ask.poe_class else 0.0
    lost = max(0.0, math.log2(ask.plan.speed_mbps / slot.speed_mbps)) * 10
    spared = max(0.0, math.log2(slot.speed_mbps / ask.plan.speed_mbps)) * 3
    # Powered switch for air, plain for outlets: a plain run then leaves a powered port last.
    kept = 50.0 if split and slot.poe_class and not ask.poe_class else 0.0
    return unfed + lost + spared + kept + 2.0 * max(0, slot.poe_class - ask.poe_class)


def _asks(job: Job, runs: Runs, rack_id: str) -> list[Ask]:
    asks = []
    for run in job.of(Run):
        if run.rack_id == rack_id and (run.pin is not None or run.id not in runs.spares):
            end = job.end_of(run)
            fed = 0 if run.injector else poe_class_needed(end)
            asks.append(Ask(run, runs.by_id[run.id], fed, isinstance(end, Rack)))
    return asks


def assign(asks: list[Ask], slots: list[Slot], split: bool = False) -> dict[int, int]:
    """Return slot index by ask index: pins first, then least cost. Unplaceable asks are absent."""
    at = {(slot.switch.id, slot.number): i for i, slot in enumerate(slots)}
    placed: dict[int, int] = {}
    for i, ask in enumerate(asks):
        pin = ask.run.pin
        slot = at.get((pin.switch_id, pin.port)) if pin else None
        if slot is not None and slot not in placed.values():
            placed[i] = slot
    rest = [i for i in range(len(asks)) if i not in placed]
    free = [j for j in range(len(slots)) if j not in placed.values()]
    if rest and free:
        costs = _costs(asks, slots, rest, free, split)
        for row, column in zip(*linear_sum_assignment(costs), strict=True):
            if costs[row, column] < _NEVER:
                placed[rest[row]] = free[column]
    return placed


def _costs(
    asks: list[Ask], slots: list[Slot], rest: list[int], free: list[int], split: bool
) -> NDArray[np.float64]:
    table = np.array([[cost(asks[i], slots[j], split) for j in free] for i in rest])
    # Equal ports fill in the order of labels.
    order = np.abs(np.arange(len(rest))[:, None] - np.arange(len(free))[None, :]) * 1e-4
    return np.where(table >= _NEVER, _NEVER, table + order)


def plan_ports(job: Job, runs: Runs, feeds: Feeds) -> Ports:
    """Return the port of every run and the budget of every switch."""
    by_rack: dict[str, list[Switch]] = defaultdict(list)
    for switch in job.of(Switch):
        by_rack[switch.rack_id].append(switch)
    ports: list[PortPlan] = []
    unplaced: list[Unplaced] = []
    for rack in job.of(Rack):
        asks = _asks(job, runs, rack.id)
        slots = [slot for switch in by_rack[rack.id] for slot in slots_of(switch)]
        placed = assign(asks, slots, job.practice.port_split == "powered-and-plain")
        on = {slot: asks[i] for i, slot in placed.items()}
        ports += [_port(slot, on.get(j), feeds) for j, slot in enumerate(slots)]
        unplaced += [
            Unplaced(run_id=ask.run.id, rack_id=rack.id, why=_why(slots))
            for i, ask in enumerate(asks)
            if i not in placed
        ]
    budgets = tuple(_budget(job, switch, ports, feeds) for switch in job.of(Switch))
    return Ports(tuple(ports), budgets, tuple(unplaced))


def _why(slots: list[Slot]) -> str:
    return "every port of its rack is taken" if slots else "its rack has no switch"


def _port(slot: Slot, ask: Ask | None, feeds: Feeds) -> PortPlan:
    feed = feeds.by_id.get(ask.run.id) if ask else None
    fed = feed is not None and ask is not None and ask.poe_class > 0
    return PortPlan(
        switch_id=slot.switch.id,
        switch_label=slot.switch.label,
        port=slot.number,
        speed_mbps=slot.speed_mbps,
        poe_class=slot.poe_class,
        uplink=slot.uplink,
        run_id=ask.run.id if ask else None,
        run_label=ask.run.label if ask else "",
        to_label=ask.plan.to_label if ask else "",
        needs_class=ask.poe_class if ask else 0,
        needs_mbps=ask.plan.speed_mbps if ask else 0,
        watts=(feed.max_source_w or 0.0) if feed and fed else 0.0,
        pinned=bool(ask and ask.run.pin),
        holds=ask is None or ask.poe_class <= slot.poe_class,
    )


def _fed(feeds: Feeds, ports: list[PortPlan], switch_id: str) -> list[FeedPlan]:
    return [
        feeds.by_id[port.run_id]
        for port in ports
        if port.switch_id == switch_id and port.run_id is not None and port.needs_class
    ]


def _budget(job: Job, switch: Switch, ports: list[PortPlan], feeds: Feeds) -> BudgetPlan:
    model = library().switches[switch.model]
    mine = [port for port in ports if port.switch_id == switch.id]
    fed = _fed(feeds, ports, switch.id)
    by_class = sum(plan.reserve_w for plan in fed)
    by_maximum = sum(plan.max_source_w or plan.reserve_w for plan in fed)
    by_typical = sum(plan.typical_source_w or 0.0 for plan in fed)
    by_class_only = not model.allocates_by_lldp or job.practice.budget_method == "class"
    used = by_class if by_class_only else by_maximum
    holds = used <= model.budget_w + 1e-9
    lines = [
        SumLine(
            label=f"{plan.label}, class {plan.poe_class}",
            value=plan.reserve_w if by_class_only else (plan.max_source_w or plan.reserve_w),
            unit="W",
        )
        for plan in fed
    ]
    return BudgetPlan(
        switch_id=switch.id,
        label=switch.label,
        model_label=model.label,
        budget_w=model.budget_w,
        by_class_w=round(by_class, 1),
        by_maximum_w=round(by_maximum, 1),
        by_typical_w=round(by_typical, 1),
        used_w=round(used, 1),
        method="class" if by_class_only else "maximum",
        ports_used=sum(port.run_id is not None for port in mine),
        ports_total=len(mine),
        holds=holds,
        sum=Sum(
            label=f"{switch.label}: power of its budget",
            value=round(used, 1),
            unit="W",
            limit=model.budget_w,
            holds=holds,
            lines=tuple(lines),
            formula="sum of class reserves"
            if by_class_only
            else "sum of (data-sheet maximum + loss in this cable)",
            source="IEEE 802.3; house practice: PoE budget",
        ),
    )
