"""What may be done about a device that its port does not feed: another port, a trade of two, an injector.

Each is tried on the job before it is offered.
"""

from heathrise.core.cabling.runs import Runs
from heathrise.core.edit import Put, apply
from heathrise.core.job import Equipment, InLine, Job, Link, derived_id
from heathrise.core.power.feeds import Feeds
from heathrise.core.rule import Fix
from heathrise.core.switching.ports import PortPlan, Ports, plan_ports
from heathrise.core.switching.slots import Side


def free_port(ports: Ports, job: Job, rack_id: str | None, poe_class: int) -> PortPlan | None:
    """Return the plainest free port of a rack that feeds a class."""
    fits = [
        port
        for port in ports.ports
        if port.run_id is None
        and not port.uplink
        and port.poe_class >= poe_class
        and job.rack_of(port.switch_id) == rack_id
    ]
    return min(fits, key=lambda port: port.poe_class, default=None)


def injector_for(job: Job, poe_class: int, speed_mbps: int) -> str | None:
    """Return the least model that feeds a class through, at a speed."""
    fits = [
        (model.gives_class, model.uplink_mbps, code)
        for code, model in job.equipment.items()
        if model.feeds_through
        and not model.needs_dc
        and model.gives_class >= poe_class
        and model.uplink_mbps >= speed_mbps
    ]
    return min(fits)[2] if fits else None


def injector_on(run: Link, model: str) -> Put:
    """Return what puts an injector on the way of a run."""
    return Put(
        element=Equipment(
            id=derived_id(run.id, "injector"),
            label=f"Injector of {run.label}",
            model=model,
            place=InLine(link_id=run.id),
        )
    )


def opened_again(job: Job, runs: Runs, feeds: Feeds, run: Link) -> tuple[Fix, ...]:
    """Return the fix that opens a decided port again, when the plan then feeds it."""
    rack_id = job.rack_of(run.a.on)
    if run.a.port is None or rack_id is None:
        return ()
    put = Put(element=run.model_copy(update={"a": run.a.at(rack_id)}))
    port = plan_ports(with_puts(job, put), runs, feeds).by_run.get(run.id)
    if port is None or not port.holds:
        return ()
    decided = Put(element=run.model_copy(update={"a": run.a.at(port.switch_id, port.port)}))
    return (Fix(label=f"Give it {port.switch_label}/{port.port}, which fits", operations=(decided,)),)


def traded(job: Job, runs: Runs, feeds: Feeds, ports: Ports, run: Link, port: PortPlan) -> tuple[Fix, ...]:
    """Return the fix that trades ports with a run of the same rack, when power then suffices for both.

    The one whose speed suffers least is chosen; what it loses is said.
    """
    fits = (
        other
        for other in ports.ports
        if other.decided
        and other.run_id not in (None, run.id)
        and job.rack_of(other.switch_id) == job.rack_of(port.switch_id)
        and other.poe_class >= port.needs_class
        and port.poe_class >= other.needs_class
    )
    other = min(
        fits, key=lambda one: (_slower_mbps(one, port), one.switch_id != port.switch_id), default=None
    )
    if other is None or other.run_id is None or port.side is None or other.side is None:
        return ()
    trade = (
        at_port(run, port.side, other),
        at_port(job.get(Link, other.run_id), other.side, port),
    )
    if not _all_fed(plan_ports(with_puts(job, *trade), runs, feeds), run.id, other.run_id):
        return ()
    lost = _slower_mbps(other, port)
    slower = f"; {other.run_label} then has {port.speed_mbps} Mb/s" if lost else ""
    label = f"Trade ports with {other.run_label}: {other.switch_label}/{other.port}, which fits{slower}"
    return (Fix(label=label, operations=trade),)


def _slower_mbps(one: PortPlan, moved_to: PortPlan) -> int:
    """Return what a run of one port loses at another of what it can use. [Mb/s]"""
    return max(0, min(one.needs_mbps, one.speed_mbps) - moved_to.speed_mbps)


def _all_fed(plan: Ports, *run_ids: str) -> bool:
    return all(plan.by_run[run_id].holds for run_id in run_ids) and all(each.holds for each in plan.budgets)


def at_port(run: Link, side: Side, port: PortPlan) -> Put:
    """Return what moves an end of a run to a port."""
    end = run.a if side == "a" else run.b
    return Put(element=run.model_copy(update={side: end.at(port.switch_id, port.port)}))


def with_puts(job: Job, *puts: Put) -> Job:
    """Return a job with some elements put, for trying."""
    return apply(Job.model_construct(name=job.name, elements=job.elements, records=job.records), puts).job


def moved_or_injected(job: Job, ports: Ports, run: Link, port: PortPlan) -> tuple[Fix, ...]:
    """Return the fixes that move a run to a port that feeds it, and that put an injector on its way."""
    fixes = []
    free = free_port(ports, job, job.rack_of(run.a.on), port.needs_class)
    if free is not None:
        moved = run.model_copy(update={"a": run.a.at(free.switch_id, free.port)})
        label = f"Move it to {free.switch_label}/{free.port}"
        fixes.append(Fix(label=label, operations=(Put(element=moved),)))
    model = injector_for(job, port.needs_class, min(port.needs_mbps, port.speed_mbps))
    if model is not None:
        label = f"Add {job.equipment[model].label}"
        fixes.append(Fix(label=label, operations=(injector_on(run, model),)))
    return tuple(fixes)
