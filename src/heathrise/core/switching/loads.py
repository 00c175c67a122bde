"""What switches are asked for at once: three limits side by side, cases of a day and a year, and who is shed first.

The watts of a case are worked out at the source, through each device's own cable.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from heathrise.core.job import Equipment, Job, Link
from heathrise.core.library import PRIORITIES, EquipmentModel, LoadCase, Priority, library, limit
from heathrise.core.power.feed import NoOperatingPoint, feed
from heathrise.core.power.feeds import FeedPlan, Feeds
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.ports import BudgetPlan, PortPlan, Ports


class Shed(Noun):
    """A device that a switch lets go of in a case: what it draws at the port, and how long it was to be kept."""

    run_id: str
    label: str
    priority: Priority
    watts: Sum


class CaseOfLoad(Noun):
    """One case: watts against the budget, and who goes first where they are too many."""

    code: str
    label: str
    why: str
    watts: Sum
    shed: tuple[Shed, ...]


class TakenOver(Noun):
    """What another switch of the rack could take over by hand when this one is lost: by its free ports and watts."""

    switch_id: str
    label: str
    takes: tuple[str, ...]
    left: tuple[str, ...]


class SwitchLoad(Noun):
    """One switch's power: port cap, number of powered ports and total as three limits; methods; cases; who takes over."""

    switch_id: str
    label: str
    model_label: str
    method: str
    forced: bool
    cap: Sum
    number: Sum
    total: Sum
    free: Sum
    by_class: Sum
    by_maximum: Sum
    by_typical: Sum
    cases: tuple[CaseOfLoad, ...]
    over: tuple[TakenOver, ...]


def priority_of(job: Job, run: Link) -> Priority:
    """Return how long the power of a run is kept: as somebody said, else as the model at its end has it."""
    model = job.model_of(run.b.on)
    return run.priority or (model.priority if model is not None else "low")


def device_w(model: EquipmentModel, case: LoadCase) -> float:
    """Return what a device draws in a case, at its end. Never more than its data sheet's most. [W]"""
    most = (case.points if model.radiates else case.others) == "most"
    usual = model.typical_w + (model.night_w if case.night else 0.0)
    usual += model.cold_w if case.cold and model.outdoor else 0.0
    return model.max_w if most else min(model.max_w, usual)


def at_port_w(plan: FeedPlan, watts: float) -> float:
    """Return what some watts at a device cost at its port: through its cable, and with what stands on its way. [W]"""
    volts = limit("power.expected_v")
    try:
        usual = feed(plan.device_typical_w, volts, plan.loop_ohm).pse_w
        asked = feed(watts, volts, plan.loop_ohm).pse_w
    except NoOperatingPoint:
        return plan.reserve_w
    # What boxes on the way draw and feed beside it stays what it is.
    beside = (plan.typical_source_w or usual) - usual
    return asked + max(0.0, beside)


def shed(wanting: Sequence[tuple[PortPlan, Priority, float]], budget_w: float) -> list[PortPlan]:
    """Return who is let go so that the rest stays within a budget: the least kept first, of alike ones the last port.

    `wanting` is (port, how long it is kept, its watts) in the order of the ports.
    """
    over = sum(watts for _, _, watts in wanting) - budget_w
    gone: list[PortPlan] = []
    order = sorted(enumerate(wanting), key=lambda one: (PRIORITIES.index(one[1][1]), -one[0]))
    for _, (port, _, watts) in order:
        if over <= 1e-9:
            break
        over -= watts
        gone.append(port)
    return gone


def switch_load(job: Job, ports: Ports, feeds: Feeds, budget: BudgetPlan) -> SwitchLoad:
    """Return a switch's power, all of it."""
    switch = job.get(Equipment, budget.switch_id)
    model = job.equipment[switch.model]
    mine = [port for port in ports.ports if port.switch_id == switch.id]
    fed = [port for port in mine if port.run_id in feeds.by_id and port.needs_class and port.poe_class]
    return SwitchLoad(
        switch_id=switch.id,
        label=switch.label,
        model_label=model.label,
        method=budget.method,
        forced=not model.allocates_by_lldp,
        cap=_cap(switch, mine),
        number=_number(switch, mine),
        total=budget.sum,
        free=_free(budget),
        by_class=budget.by_class,
        by_maximum=budget.by_maximum,
        by_typical=budget.by_typical,
        cases=tuple(
            _case(job, fed, feeds, budget, code, case) for code, case in library().load_cases.items()
        ),
        over=_taken_over(job, ports, feeds, budget, fed),
    )


def _cap(switch: Equipment, mine: Sequence[PortPlan]) -> Sum:
    """Return the highest class asked of a port, beside what ports give: each port has a cap of its own."""
    asked = [port for port in mine if port.needs_class]
    short = [port for port in asked if not port.holds]
    worst = max(short or asked, key=lambda port: port.needs_class, default=None)
    return Sum(
        label=f"{switch.label}: highest class asked of a port",
        value=worst.needs_class if worst else 0,
        unit="",
        limit=worst.poe_class if worst else max((port.poe_class for port in mine), default=0),
        holds=not short,
        lines=tuple(
            SumLine(
                label=f"port {port.port}: {port.to_label}, class",
                value=port.needs_class,
                unit="",
                note=f"it gives class {port.poe_class}" if port.poe_class else "it gives none",
            )
            for port in asked
        ),
        formula="each port by itself: the class asked against the class it gives",
        source="IEEE 802.3-2022 clauses 33 and 145",
    )


def _number(switch: Equipment, mine: Sequence[PortPlan]) -> Sum:
    able = [port for port in mine if port.poe_class]
    asked = [port for port in mine if port.needs_class]
    return Sum(
        label=f"{switch.label}: devices that want power, of its powered ports",
        value=len(asked),
        unit="",
        limit=len(able),
        holds=len(asked) <= len(able),
        lines=(
            SumLine(label="ports", value=len(mine), unit=""),
            SumLine(label="of them powered", value=len(able), unit=""),
            SumLine(label="devices that ask for power", value=len(asked), unit=""),
        ),
        formula="devices on it that ask for power",
        source="data sheet of the switch",
    )


def _free(budget: BudgetPlan) -> Sum:
    """Return the share of the budget that stays free, which a fifth is wanted of. [0 to 1]"""
    wanted = limit("power.free_share")
    free = 1 - budget.used_w / budget.budget_w if budget.budget_w else 0.0
    return Sum(
        label=f"{budget.label}: free of its budget",
        value=round(100 * free, 1),
        unit="%",
        limit=100 * wanted,
        holds=not budget.budget_w or free >= wanted - 1e-9,
        lines=(
            SumLine(label="budget", value=budget.budget_w, unit="W"),
            SumLine(label=f"used, by {budget.method}", value=budget.used_w, unit="W"),
        ),
        formula="1 - used / budget",
        source=library().limits["power.free_share"].source,
    )


def _case(
    job: Job, fed: Sequence[PortPlan], feeds: Feeds, budget: BudgetPlan, code: str, case: LoadCase
) -> CaseOfLoad:
    reserves = budget.method == "class"
    wanting = [_wants(job, port, feeds, case, reserves) for port in fed]
    # One more is kept least: it is the last to come.
    largest = max((watts for _, _, watts in wanting), default=0.0)
    watts = sum(watts for _, _, watts in wanting) + case.more * largest
    gone = shed(wanting, budget.budget_w - case.more * largest)
    holds = watts <= budget.budget_w + 1e-9
    lines = [SumLine(label=f"{p.port}: {p.to_label}", value=round(w, 1), unit="W") for p, _, w in wanting]
    if case.more:
        lines.append(SumLine(label="one more of the largest", value=round(largest, 1), unit="W"))
    kept = {port.run_id: priority for port, priority, _ in wanting}
    return CaseOfLoad(
        code=code,
        label=case.label,
        why=case.why,
        watts=Sum(
            label=f"{budget.label}: {case.label.lower()}",
            value=round(watts, 1),
            unit="W",
            limit=budget.budget_w,
            holds=holds,
            lines=tuple(lines),
            formula="sum of class reserves, whatever is drawn"
            if reserves
            else "sum of each device's watts through its own cable",
            source="IEEE 802.3-2022: what a class reserves" if reserves else f"data sheets; {case.why}",
        ),
        shed=tuple(
            Shed(
                run_id=port.run_id or "",
                label=port.to_label,
                priority=kept[port.run_id],
                watts=_spared(job, port, feeds.by_id[port.run_id or ""], case, reserves),
            )
            for port in gone
        ),
    )


def _wants(
    job: Job, port: PortPlan, feeds: Feeds, case: LoadCase, reserves: bool
) -> tuple[PortPlan, Priority, float]:
    run = job.get(Link, port.run_id or "")
    plan = feeds.by_id[run.id]
    return port, priority_of(job, run), _case_w(job, run, plan, case, reserves)


def _case_w(job: Job, run: Link, plan: FeedPlan, case: LoadCase, reserves: bool) -> float:
    """Return what a fed run asks of its port in a case. [W]"""
    return plan.reserve_w if reserves else at_port_w(plan, _end_w(job, run, plan, case) + plan.passed_w)


def _end_w(job: Job, run: Link, plan: FeedPlan, case: LoadCase) -> float:
    model = job.model_of(run.b.on)
    return device_w(model, case) if model is not None else plan.device_max_w


def _spared(job: Job, port: PortPlan, plan: FeedPlan, case: LoadCase, reserves: bool) -> Sum:
    """Return what letting go of a device gives back to the budget. [W]"""
    run = job.get(Link, plan.run_id)
    watts = _case_w(job, run, plan, case, reserves)
    drawn = (
        SumLine(label="the device, in this case", value=round(_end_w(job, run, plan, case), 2), unit="W"),
        SumLine(label="what it passes on", value=plan.passed_w, unit="W"),
        SumLine(label="loop of its cable", value=plan.loop_ohm, unit="ohm"),
    )
    return Sum(
        label=f"{port.to_label}: given back when it is let go",
        value=round(watts, 1),
        unit="W",
        lines=(SumLine(label=f"class {plan.poe_class} reserves", value=plan.reserve_w, unit="W"),)
        if reserves
        else drawn,
        formula="what its class reserves" if reserves else "V I at the port, with V - R I at the device",
        source="IEEE 802.3-2022 clauses 33 and 145; data sheet",
    )


@dataclass
class _Room:
    """What a switch has left: free ports by the class they give, and watts."""

    free: list[int]
    watts: float

    def take(self, poe_class: int, watts: float) -> bool:
        """Take a device in where a port and watts are left; the plainest port that feeds it goes."""
        fits = sorted(given for given in self.free if given >= poe_class)
        if not fits or watts > self.watts + 1e-9:
            return False
        self.free.remove(fits[0])
        self.watts -= watts
        return True


def _taken_over(
    job: Job, ports: Ports, feeds: Feeds, lost: BudgetPlan, fed: Sequence[PortPlan]
) -> tuple[TakenOver, ...]:
    """Return what each other switch of the rack could take over, the longest kept first."""
    rack = job.rack_of(lost.switch_id)
    wanting = [
        (port, priority_of(job, job.get(Link, port.run_id or "")), feeds.by_id[port.run_id or ""])
        for port in fed
    ]
    wanting.sort(key=lambda one: -PRIORITIES.index(one[1]))
    found = []
    for other in ports.budgets:
        if other.switch_id == lost.switch_id or job.rack_of(other.switch_id) != rack or not other.budget_w:
            continue
        free = [
            p.poe_class
            for p in ports.ports
            if p.switch_id == other.switch_id and not p.run_id and not p.uplink
        ]
        room = _Room(free, other.budget_w - other.used_w)
        takes = [
            port
            for port, _, plan in wanting
            if room.take(port.needs_class, plan.max_source_w or plan.reserve_w)
        ]
        found.append(
            TakenOver(
                switch_id=other.switch_id,
                label=other.label,
                takes=tuple(port.to_label for port in takes),
                left=tuple(port.to_label for port, _, _ in wanting if port not in takes),
            )
        )
    return tuple(found)
