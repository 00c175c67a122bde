"""What a careful colleague says of ports and budgets."""

from collections import defaultdict
from collections.abc import Iterator

from heathrise.core.cabling.runs import Runs
from heathrise.core.edit import Put, apply
from heathrise.core.job import Job, PortPin, Rack, Run, Switch
from heathrise.core.library import library, limit
from heathrise.core.power.feeds import Feeds
from heathrise.core.rule import Fix, Found, Place, rule
from heathrise.core.switching.ports import PortPlan, Ports, plan_ports
from heathrise.core.units import quantity


def _rack_place(job: Job, rack_id: str) -> Place:
    rack = job.get(Rack, rack_id)
    return Place(storey_id=rack.storey_id, at=rack.at)


def _free_port(ports: Ports, job: Job, rack_id: str, poe_class: int) -> PortPlan | None:
    """Return the plainest free port of a rack that feeds a class."""
    racks = {switch.id: switch.rack_id for switch in job.of(Switch)}
    fits = [
        port
        for port in ports.ports
        if port.run_id is None
        and not port.uplink
        and port.poe_class >= poe_class
        and racks[port.switch_id] == rack_id
    ]
    return min(fits, key=lambda port: (port.poe_class, port.port), default=None)


def _injector(poe_class: int, speed_mbps: int) -> str | None:
    """Return the least injector that feeds a class at a speed."""
    fits = [
        (row.poe_class, row.speed_mbps, key)
        for key, row in library().injectors.items()
        if not row.passive and row.poe_class >= poe_class and row.speed_mbps >= speed_mbps
    ]
    return min(fits)[2] if fits else None


@rule("power.device-under-fed")
def device_under_fed(job: Job, runs: Runs, feeds: Feeds, ports: Ports) -> Iterator[Found]:
    """A device's class is above its port's."""
    for port in ports.ports:
        if port.holds or port.run_id is None:
            continue
        run = job.get(Run, port.run_id)
        end = job.end_of(run)
        has = f"class {port.poe_class}" if port.poe_class else "no power"
        yield Found(
            subject_ids=(run.id,),
            subject=f"{run.label} to {end.label}",
            value=port.poe_class,
            limit=port.needs_class,
            text=f"{end.label} is class {port.needs_class}; port {port.switch_label}/{port.port} "
            f"gives {has}.",
            advice="Give it a port that fits, or an injector for the one device too many.",
            place=Place(storey_id=end.storey_id, at=end.at),
            fixes=(*_replanned(job, runs, feeds, run), *_feed_fixes(job, ports, run, port)),
        )


def _replanned(job: Job, runs: Runs, feeds: Feeds, run: Run) -> tuple[Fix, ...]:
    """Return the fix that lets the plan choose a pinned run's port, when that feeds it."""
    if run.pin is None:
        return ()
    put = Put(element=run.model_copy(update={"pin": None}))
    port = plan_ports(apply(job, [put]).job, runs, feeds).by_run.get(run.id)
    if port is None or not port.holds:
        return ()
    return (Fix(label=f"Give it {port.switch_label}/{port.port}, which fits", operations=(put,)),)


def _feed_fixes(job: Job, ports: Ports, run: Run, port: PortPlan) -> tuple[Fix, ...]:
    fixes = []
    free = _free_port(ports, job, run.rack_id, port.needs_class)
    if free is not None:
        pin = PortPin(switch_id=free.switch_id, port=free.port)
        moved = run.model_copy(update={"pin": pin})
        label = f"Move it to {free.switch_label}/{free.port}"
        fixes.append(Fix(label=label, operations=(Put(element=moved),)))
    injector = _injector(port.needs_class, min(port.needs_mbps, port.speed_mbps))
    if injector is not None:
        fed = run.model_copy(update={"injector": injector})
        label = f"Add {library().injectors[injector].label}"
        fixes.append(Fix(label=label, operations=(Put(element=fed),)))
    return tuple(fixes)


@rule("ports.no-port")
def no_port(job: Job, ports: Ports) -> Iterator[Found]:
    """Runs have no port in their rack."""
    by_rack: dict[str, list[str]] = defaultdict(list)
    why = {}
    for missing in ports.unplaced:
        by_rack[missing.rack_id].append(missing.run_id)
        why[missing.rack_id] = missing.why
    for rack_id, run_ids in by_rack.items():
        rack = job.get(Rack, rack_id)
        names = ", ".join(job.get(Run, run_id).label for run_id in run_ids[:6])
        more = f" and {len(run_ids) - 6} more" if len(run_ids) > 6 else ""
        model = "switch-8-poe" if len(run_ids) <= 4 else "switch-24-poe"
        added = Switch(
            id=_switch_id(rack.id, len(job.of(Switch))),
            label=f"SW{len(job.of(Switch)) + 1}",
            rack_id=rack_id,
            model=model,
        )
        yield Found(
            subject_ids=(rack_id,),
            subject=rack.label,
            value=len(run_ids),
            limit=0,
            unit="runs",
            text=f"{names}{more} have no port: {why[rack_id]}.",
            advice="Add a switch to the rack.",
            place=_rack_place(job, rack_id),
            fixes=(
                Fix(
                    label=f"Add {library().switches[model].label}",
                    operations=(Put(element=added),),
                ),
            ),
        )


def _switch_id(rack_id: str, count: int) -> str:
    """Return an id derived from the rack and its count, so that a fix pressed twice adds one."""
    return f"{(int(rack_id[:8], 16) + 0x1F1F + count) & 0xFFFFFFFF:08x}{rack_id[8:]}"


@rule("power.budget-over")
def budget_over(job: Job, ports: Ports) -> Iterator[Found]:
    """A switch is asked for more than its budget."""
    for budget in ports.budgets:
        if not budget.holds:
            yield Found(
                subject_ids=(budget.switch_id,),
                subject=budget.label,
                value=budget.used_w,
                limit=budget.budget_w,
                unit="W",
                text=f"{budget.label} is asked for {quantity(budget.used_w, 'W')} by "
                f"{budget.method}; its budget is {quantity(budget.budget_w, 'W', 0)}.",
                advice="Take a switch with more, spread the runs over two, or use an injector.",
                place=_rack_place(job, job.get(Switch, budget.switch_id).rack_id),
                sum=budget.sum,
            )


@rule("power.budget-tight")
def budget_tight(job: Job, ports: Ports) -> Iterator[Found]:
    """Less than a fifth of a switch's budget is free."""
    for budget in ports.budgets:
        most = budget.budget_w * (1 - limit("power.free_share"))
        if budget.holds and budget.budget_w and budget.used_w > most + 1e-9:
            yield Found(
                subject_ids=(budget.switch_id,),
                subject=budget.label,
                value=budget.used_w,
                limit=round(most, 1),
                unit="W",
                text=f"{budget.label} uses {quantity(budget.used_w, 'W')} of "
                f"{quantity(budget.budget_w, 'W', 0)}; {quantity(most, 'W')} leaves a fifth free.",
                advice="Leave it only if nothing more will come.",
                place=_rack_place(job, job.get(Switch, budget.switch_id).rack_id),
                sum=budget.sum,
            )


@rule("ports.few-spare")
def few_spare(job: Job, ports: Ports) -> Iterator[Found]:
    """Less than a fifth of a rack's access ports are free."""
    racks = {switch.id: switch.rack_id for switch in job.of(Switch)}
    for rack in job.of(Rack):
        mine = [p for p in ports.ports if racks[p.switch_id] == rack.id and not p.uplink]
        used = sum(port.run_id is not None for port in mine)
        most = len(mine) * (1 - limit("switching.spare_share"))
        if mine and used > most + 1e-9:
            yield Found(
                subject_ids=(rack.id,),
                subject=rack.label,
                value=used,
                limit=int(most),
                unit="ports",
                text=f"{used} of {len(mine)} ports in {rack.label} are taken; {int(most)} leaves a "
                "fifth spare.",
                advice="Take the next larger switch, or add a plain one for the outlets.",
                place=_rack_place(job, rack.id),
            )


@rule("ports.slower-than-device")
def slower_than_device(job: Job, ports: Ports) -> Iterator[Found]:
    """A port is the narrowest point of its device's path, and narrower than the service."""
    service = job.brief.internet.down_mbps
    for port in ports.ports:
        if port.run_id is None or port.speed_mbps >= port.needs_mbps or port.uplink:
            continue
        if port.speed_mbps >= service:
            continue
        end = job.end_of(job.get(Run, port.run_id))
        yield Found(
            subject_ids=(port.run_id,),
            subject=f"{port.run_label} to {port.to_label}",
            value=port.speed_mbps,
            limit=port.needs_mbps,
            unit="Mb/s",
            text=f"Port {port.switch_label}/{port.port} runs at {port.speed_mbps:,} Mb/s, "
            f"{port.to_label} at {port.needs_mbps:,}, and the service brings {service:,.0f}.",
            advice="A faster port lets the service through; within the building it may not matter.",
            place=Place(storey_id=end.storey_id, at=end.at),
        )
