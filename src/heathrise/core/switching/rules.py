"""What a careful colleague says of ports and budgets."""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import networkx as nx

from heathrise.core.cabling.ends import cords_of, place_of, racked_ends, runs_of
from heathrise.core.cabling.runs import Runs
from heathrise.core.edit import Put, Remove
from heathrise.core.job import AccessPoint, End, Equipment, InRack, Job, Link, Rack, derived_id
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.power.feeds import Feeds
from heathrise.core.radio.air import Air
from heathrise.core.rule import Fix, Observation, rule
from heathrise.core.switching.ports import PortPlan, Ports, settled, switches_in
from heathrise.core.switching.remedies import (
    at_port,
    injector_for,
    injector_on,
    moved_or_injected,
    opened_again,
    traded,
)
from heathrise.core.switching.uplinks import Uplink
from heathrise.core.units import quantity


@rule("ports.too-few-powered")
def too_few_powered(job: Job, ports: Ports) -> Iterator[Observation]:
    """A rack has fewer ports that feed a class than devices that ask for it: one cause, whatever it touches."""
    for rack, here, wanting in _short_racks(job, ports):
        most = max(port.needs_class for port in wanting)
        asked = sum(port.needs_class > 0 for port in here)
        able = sum(port.poe_class >= min(p.needs_class for p in wanting) and not port.uplink for port in here)
        names = _named([f"{port.to_label} ({port.switch_label}/{port.port})" for port in wanting])
        yield Observation(
            subject_ids=(rack.id,),
            subject=rack.label,
            value=able,
            limit=asked,
            unit="ports",
            text=f"{asked} devices on {rack.label} ask for power and {able} of its ports give enough; left "
            f"without: {names}.",
            advice="Add a switch that feeds them all, or an injector where it is the one device too many.",
            place=place_of(job, rack.id),
            fixes=(*_switch_fix(job, rack.id, asked), *_injectors(job, wanting, most)),
        )


def _short_racks(job: Job, ports: Ports) -> Iterator[tuple[Rack, list[PortPlan], list[PortPlan]]]:
    """Yield (rack, its ports, those underfed) where giving the ports out otherwise would not help."""
    for rack in job.of(Rack):
        here = [port for port in ports.ports if job.rack_of(port.switch_id) == rack.id]
        wanting = [port for port in here if not port.holds and port.run_id is not None]
        asked = sorted((port.needs_class for port in here if port.needs_class), reverse=True)
        able = sorted((port.poe_class for port in here if not port.uplink), reverse=True)
        short = any(able[n] < need for n, need in enumerate(asked) if n < len(able))
        if len(wanting) > 1 and (short or len(able) < len(asked)):
            yield rack, here, wanting


def _named(names: list[str], most: int = 6) -> str:
    more = f" and {len(names) - most} more" if len(names) > most else ""
    return f"{', '.join(names[:most])}{more}"


def _injectors(job: Job, wanting: list[PortPlan], poe_class: int) -> tuple[Fix, ...]:
    """Return the fix that feeds each of a few devices by an injector of its own."""
    model = injector_for(job, poe_class, max(min(port.needs_mbps, port.speed_mbps) for port in wanting))
    if model is None or len(wanting) > limit("power.few_injectors"):
        return ()
    puts = tuple(injector_on(job.get(Link, port.run_id), model) for port in wanting if port.run_id)
    return (Fix(label=f"Add {len(puts)} of {job.equipment[model].label}", operations=puts),)


@rule("power.device-under-fed")
def device_under_fed(job: Job, runs: Runs, feeds: Feeds, ports: Ports) -> Iterator[Observation]:
    """A device asks for more watts than its port gives."""
    told = {p.run_id for _, _, wanting in _short_racks(job, ports) for p in wanting if not p.decided}
    for port in ports.ports:
        if port.holds or port.run_id is None or port.run_id in told:
            continue
        run = job.get(Link, port.run_id)
        gives_w = library().poe_class(port.poe_class).source_w if port.poe_class else 0.0
        needs_w = library().poe_class(port.needs_class).source_w
        has = f"{quantity(gives_w, 'W', 1)} (class {port.poe_class})" if port.poe_class else "no power"
        yield Observation(
            subject_ids=(run.id,),
            subject=f"{run.label} to {port.to_label}",
            value=gives_w,
            limit=needs_w,
            unit="W",
            text=f"{port.to_label} asks for {quantity(needs_w, 'W', 1)} at the port (class {port.needs_class}); "
            f"port {port.switch_label}/{port.port} gives {has}.",
            advice="Give it a port that fits, or an injector for the one device too many.",
            place=place_of(job, run.b.on),
            fixes=(
                *opened_again(job, runs, feeds, run),
                *traded(job, runs, feeds, ports, run, port),
                *moved_or_injected(job, ports, run, port),
            ),
        )


@rule("ports.no-port")
def no_port(job: Job, ports: Ports) -> Iterator[Observation]:
    """Runs have no port in their rack."""
    by_rack: dict[str, list[str]] = defaultdict(list)
    why = {}
    for missing in ports.unplaced:
        by_rack[missing.rack_id].append(missing.run_id)
        why[missing.rack_id] = missing.why
    for rack_id, run_ids in by_rack.items():
        rack = job.get(Rack, rack_id)
        names = ", ".join(job.get(Link, run_id).label for run_id in run_ids[:6])
        more = f" and {len(run_ids) - 6} more" if len(run_ids) > 6 else ""
        yield Observation(
            subject_ids=(rack_id,),
            subject=rack.label,
            value=len(run_ids),
            limit=0,
            unit="runs",
            text=f"{names}{more} {'has' if len(run_ids) == 1 else 'have'} no port: {why[rack_id]}"
            f"{_counted(job, ports, rack_id, len(run_ids))}.",
            advice="Add a switch to the rack, or take a larger one in place of one that stands there.",
            place=place_of(job, rack_id),
            fixes=(*_switch_fix(job, rack_id, len(run_ids)), *_larger_fixes(job, rack_id, len(run_ids))),
        )


def _counted(job: Job, ports: Ports, rack_id: str, without: int) -> str:
    """Return how many ends want a port of a rack, and how many it has, where any switch stands there."""
    here = [port for port in ports.ports if job.rack_of(port.switch_id) == rack_id and not port.uplink]
    taken = sum(port.run_id is not None for port in here)
    return f" ({taken + without} ends want one, it has {len(here)})" if here else ""


def _larger_fixes(job: Job, rack_id: str, short: int) -> tuple[Fix, ...]:
    """Return the fix that takes the cheapest switch with enough more ports in place of one of a rack."""
    swaps = [
        ((other.price or 0.0) - (model.price or 0.0), switch, code, other)
        for switch, model in switches_in(job, rack_id)
        if model.forwards == "switch"
        for code, other in job.equipment.items()
        if other.forwards == "switch"
        and other.price is not None
        and other.gives_class >= model.gives_class
        and other.budget_w >= model.budget_w
        and _access(other) >= _access(model) + short
    ]
    if not swaps:
        return ()
    price, switch, code, other = min(swaps, key=lambda row: row[0])
    put = Put(element=switch.model_copy(update={"model": code}))
    return (Fix(label=f"Take {other.label} in place of {switch.label}, {price:+,.0f}", operations=(put,)),)


def _access(model: EquipmentModel) -> int:
    return sum(not port.group.uplink for port in model.port_list)


def _switch_fix(job: Job, rack_id: str, runs: int) -> tuple[Fix, ...]:
    """Return the fix that adds the cheapest switch that feeds as many runs as wait, else the largest."""
    shelf = [
        (code, model)
        for code, model in job.equipment.items()
        if model.forwards == "switch" and model.gives_class
    ]
    shelf = [(code, model) for code, model in shelf if model.height_u and model.price is not None]
    enough = [(code, model) for code, model in shelf if _fed_ports(model) >= runs]
    if not shelf:
        return ()
    code, model = (
        min(enough, key=lambda row: row[1].price or 0.0)
        if enough
        else max(shelf, key=lambda row: _fed_ports(row[1]))
    )
    joins = sum(job.equipment[thing.model].joins for thing in job.of(Equipment))
    used = {thing.label for thing in job.of(Equipment)}
    label = next(name for name in (f"SW{n}" for n in range(joins + 1, 100_000)) if name not in used)
    added = Equipment(
        id=derived_id(rack_id, f"switch {joins}"), label=label, model=code, place=InRack(rack_id=rack_id)
    )
    price = "" if model.price is None else f", {model.price:,.0f}"
    return (Fix(label=f"Add {model.label}{price}", operations=(Put(element=added),)),)


def _fed_ports(model: EquipmentModel) -> int:
    return sum(port.group.gives_class > 0 for port in model.port_list)


@rule("ports.not-decided")
def not_decided(job: Job, ports: Ports) -> Iterator[Observation]:
    """Ports are proposed and not decided: the next edit may move them."""
    for rack in job.of(Rack):
        here = [p for p in ports.ports if p.run_id and job.rack_of(p.switch_id) == rack.id]
        open_ends = [p for p in here if not p.decided]
        if not open_ends:
            continue
        yield Observation(
            subject_ids=(rack.id,),
            subject=rack.label,
            value=len(open_ends),
            limit=0,
            unit="ports",
            text=f"{len(open_ends)} of {len(here)} ports in {rack.label} are proposed; another edit may move them.",
            advice="Decide them before labels are printed or anything is patched.",
            place=place_of(job, rack.id),
            fixes=(Fix(label="Decide the ports as proposed", operations=settled(job, open_ends)),),
        )


@rule("ports.no-cord")
def no_cord(job: Job) -> Iterator[Observation]:
    """What stands in a rack beside a switch and reaches the network by it has no cord to it."""
    # One that a run goes to has a port by it.
    joined = {end.on for link in (*runs_of(job), *cords_of(job)) for end in (link.a, link.b)}
    for thing in racked_ends(job):
        rack = job.rack_of(thing.id)
        if thing.id in joined or rack is None or not switches_in(job, rack):
            continue
        yield Observation(
            subject_ids=(thing.id,),
            subject=thing.label,
            text=f"{thing.label} stands in {job.by_id[rack].label} and no cord joins it to a switch there: its port is "
            "not counted.",
            advice="Give it a port of its own.",
            place=place_of(job, thing.id),
            fixes=(Fix(label="Join it by a cord", operations=(_cord_to(job, thing, rack),)),),
        )


def _cord_to(job: Job, thing: Equipment, rack_id: str) -> Put:
    """Return what joins a thing to a port of its rack, which the ports then propose; the cord it had elsewhere comes along."""
    had = next((link for link in job.of(Link) if link.medium == "cord" and link.b.on == thing.id), None)
    if had is not None:
        return Put(element=had.model_copy(update={"a": End(on=rack_id)}))
    used = {link.label for link in job.of(Link)}
    label = next(name for n in range(1, 100_000) if (name := f"C-{n:02d}") not in used)
    return Put(
        element=Link(
            id=derived_id(thing.id, "cord"),
            label=label,
            medium="cord",
            a=End(on=rack_id),
            b=End(on=thing.id),
        )
    )


@rule("power.budget-over")
def budget_over(job: Job, ports: Ports) -> Iterator[Observation]:
    """A switch is asked for more than its budget."""
    for budget in ports.budgets:
        if not budget.holds:
            yield Observation(
                subject_ids=(budget.switch_id,),
                subject=budget.label,
                value=budget.used_w,
                limit=budget.budget_w,
                unit="W",
                text=f"{budget.label} is asked for {quantity(budget.used_w, 'W')} by "
                f"{budget.method}; its budget is {quantity(budget.budget_w, 'W', 0)}.",
                advice="Take a switch with more, spread the runs over two, or use an injector.",
                place=place_of(job, budget.switch_id),
                sum=budget.sum,
            )


@rule("power.budget-tight")
def budget_tight(job: Job, ports: Ports) -> Iterator[Observation]:
    """Less than a fifth of a switch's budget is free."""
    for budget in ports.budgets:
        most = budget.budget_w * (1 - limit("power.free_share"))
        if budget.holds and budget.budget_w and budget.used_w > most + 1e-9:
            yield Observation(
                subject_ids=(budget.switch_id,),
                subject=budget.label,
                value=budget.used_w,
                limit=round(most, 1),
                unit="W",
                text=f"{budget.label} uses {quantity(budget.used_w, 'W')} of "
                f"{quantity(budget.budget_w, 'W', 0)}; {quantity(most, 'W')} leaves a fifth free.",
                advice="Leave it only if nothing more will come.",
                place=place_of(job, budget.switch_id),
                sum=budget.sum,
            )


@rule("ports.few-spare")
def few_spare(job: Job, ports: Ports) -> Iterator[Observation]:
    """Less than a fifth of a rack's access ports are free."""
    for rack in job.of(Rack):
        mine = [p for p in ports.ports if job.rack_of(p.switch_id) == rack.id and not p.uplink]
        used = sum(port.run_id is not None for port in mine)
        most = len(mine) * (1 - limit("switching.spare_share"))
        if mine and used > most + 1e-9:
            yield Observation(
                subject_ids=(rack.id,),
                subject=rack.label,
                value=used,
                limit=int(most),
                unit="ports",
                text=f"{used} of {len(mine)} ports in {rack.label} are taken; {int(most)} leaves a "
                "fifth spare.",
                advice="Take the next larger switch, or add a plain one for the outlets.",
                place=place_of(job, rack.id),
            )


def _slow(ports: Ports) -> list[PortPlan]:
    """Return the ports that are slower than what hangs on them."""
    return [p for p in ports.ports if p.run_id and p.speed_mbps < p.needs_mbps and not p.uplink and p.holds]


@rule("ports.slower-within")
def slower_within(job: Job, ports: Ports) -> Iterator[Observation]:
    """Ports are slower than what hangs on them, and no slower than the service: said once a switch."""
    service = job.brief.internet.down_mbps
    by_switch: dict[str, list[PortPlan]] = defaultdict(list)
    for port in _slow(ports):
        if port.speed_mbps >= service:
            by_switch[port.switch_id].append(port)
    for switch_id, slow in by_switch.items():
        names = _named([f"{p.to_label} ({p.needs_mbps:,} on {p.speed_mbps:,} Mb/s)" for p in slow], 4)
        brings = (
            f"the service brings {service:,.0f} Mb/s" if service else "nobody said what the service brings"
        )
        yield Observation(
            subject_ids=(switch_id,),
            subject=slow[0].switch_label,
            value=len(slow),
            limit=0,
            unit="ports",
            text=f"{len(slow)} on {slow[0].switch_label} could use more than their port gives: {names}; {brings}.",
            advice="Leave it where little passes within the building: it serves the need.",
            place=place_of(job, switch_id),
        )


@rule("ports.slower-than-device")
def slower_than_device(job: Job, ports: Ports) -> Iterator[Observation]:
    """A port is the narrowest point of its device's path, and narrower than the service."""
    service = job.brief.internet.down_mbps
    for port in _slow(ports):
        if port.run_id is None or port.speed_mbps >= service:
            continue
        yield Observation(
            subject_ids=(port.run_id,),
            subject=f"{port.run_label} to {port.to_label}",
            value=port.speed_mbps,
            limit=port.needs_mbps,
            unit="Mb/s",
            text=f"Port {port.switch_label}/{port.port} runs at {port.speed_mbps:,} Mb/s, "
            f"{port.to_label} at {port.needs_mbps:,}, and the service brings {service:,.0f}.",
            advice="A faster port lets the service through; within the building it may not matter.",
            place=place_of(job, job.get(Link, port.run_id).b.on),
        )


@rule("ports.neighbours-on-one-switch")
def neighbours_on_one_switch(job: Job, air: Air, ports: Ports) -> Iterator[Observation]:
    """Points that cover for each other hang on one switch, though another feeds points too."""
    of_point = {p.plan_to: p for p in _points_ports(job, ports)}
    fed = {p.port.switch_id for p in of_point.values()}
    told: set[frozenset[str]] = set()
    for score in air.scores:
        pair = [i for i in score.cover_ids if i in of_point]
        if len(pair) < 2 or len(fed) < 2 or frozenset(pair) in told:
            continue
        one, other = (of_point[i].port for i in pair)
        if one.switch_id != other.switch_id:
            continue
        told.add(frozenset(pair))
        names = [job.get(AccessPoint, i).label for i in pair]
        yield Observation(
            subject_ids=tuple(pair),
            subject=" and ".join(names),
            text=f"{names[0]} and {names[1]} cover for each other in {score.label}, and both hang on "
            f"{one.switch_label}: with it both are lost.",
            advice="Put one of them on another switch.",
            place=place_of(job, pair[1]),
            fixes=_apart(job, of_point, pair[1], one.switch_id),
        )


@dataclass(frozen=True)
class _PointPort:
    plan_to: str
    port: PortPlan


def _points_ports(job: Job, ports: Ports) -> Iterator[_PointPort]:
    """Yield the port that feeds or joins each access point."""
    points = {point.id for point in job.of(AccessPoint)}
    for port in ports.ports:
        if port.run_id is not None and port.side == "a" and job.get(Link, port.run_id).b.on in points:
            yield _PointPort(job.get(Link, port.run_id).b.on, port)


def _apart(job: Job, of_point: dict[str, _PointPort], point_id: str, switch_id: str) -> tuple[Fix, ...]:
    """Return the fix that trades a point's port with one of another switch of the same rack."""
    mine = of_point[point_id].port
    fits = [
        one
        for one in (p.port for p in of_point.values())
        if one.switch_id != switch_id
        and job.rack_of(one.switch_id) == job.rack_of(switch_id)
        and one.poe_class >= mine.needs_class
        and mine.poe_class >= one.needs_class
        and one.speed_mbps == mine.speed_mbps
    ]
    if not fits or mine.run_id is None or fits[0].run_id is None or mine.side is None or fits[0].side is None:
        return ()
    other = fits[0]
    assert other.run_id is not None and other.side is not None
    trade = (
        at_port(job.get(Link, mine.run_id), mine.side, other),
        at_port(job.get(Link, other.run_id), other.side, mine),
    )
    return (Fix(label=f"Trade ports with {other.to_label}", operations=trade),)


@rule("ports.oversubscribed")
def oversubscribed(job: Job, uplinks: tuple[Uplink, ...]) -> Iterator[Observation]:
    """A switch could be asked for more than its way on carries, too many times over."""
    for one in uplinks:
        if one.ratio.holds:
            continue
        yield Observation(
            subject_ids=(one.switch_id,),
            subject=one.label,
            value=one.ratio.value,
            limit=one.ratio.limit,
            unit="times",
            text=f"What hangs on {one.label} could ask for {quantity(one.ratio.value, 'times')} of what {one.over} carries "
            f"({one.mbps:,} Mb/s); {quantity(one.ratio.limit or 0.0, 'times', 0)} are usual.",
            advice="Use a faster uplink, or a second one taken together with it.",
            place=place_of(job, one.switch_id),
            sum=one.ratio,
        )


@rule("ports.gateway-slow")
def gateway_slow(job: Job) -> Iterator[Observation]:
    """A gateway with inspection on passes less than the service brings, or will bring."""
    service = job.brief.internet.down_mbps
    if not service:
        return
    for thing in job.of(Equipment):
        passes = job.equipment[thing.model].inspected_mbps
        if passes is None or job.rack_of(thing.id) is None:
            continue
        wanted = service * limit("switching.service_growth")
        if passes >= wanted:
            continue
        short = passes < service
        yield Observation(
            subject_ids=(thing.id,),
            subject=thing.label,
            severity=None if short else "advice",
            value=passes,
            limit=service if short else wanted,
            unit="Mb/s",
            text=f"{thing.label} passes {quantity(passes, 'Mb/s', 0)} with inspection on; the service brings "
            f"{quantity(service, 'Mb/s', 0)}"
            + (
                ", and part of it is lost."
                if short
                else f", and {quantity(wanted, 'Mb/s', 0)} leave room for growth."
            ),
            advice="Take a faster gateway, or leave inspection off where that is allowed."
            if short
            else "It will do until the service is raised.",
            place=place_of(job, thing.id),
        )


@rule("ports.loop")
def loop(job: Job) -> Iterator[Observation]:
    """Cables lead in a ring through something that cannot break it, or from a thing to itself."""
    graph: nx.Graph[str] = nx.Graph()
    for run in runs_of(job):
        one, other = (job.rack_of(end.on) if end.port is None else end.on for end in (run.a, run.b))
        if run.a.on == run.b.on:
            yield _ringed(job, (run.a.on,), (run.id,))
        elif one and other and all(_joins(job, end) for end in (one, other)):
            if graph.has_edge(one, other) and not all(_breaks(job, end) for end in (one, other)):
                yield _ringed(job, (one, other), (run.id,))
            graph.add_edge(one, other, run=run.id)
    for ring in nx.cycle_basis(graph):
        if not all(_breaks(job, end) for end in ring):
            runs = [graph.edges[a, b]["run"] for a, b in pairwise((*ring, ring[0]))]
            yield _ringed(job, tuple(ring), (max(runs, key=lambda i: job.by_id[i].order),))


def _joins(job: Job, end: str) -> bool:
    model = job.model_of(end)
    return model is not None and model.joins


def _breaks(job: Job, end: str) -> bool:
    """Say whether something keeps a ring from going round: spanning tree takes a managed switch."""
    model = job.model_of(end)
    return model is not None and model.managed


def _ringed(job: Job, ends: tuple[str, ...], runs: tuple[str, ...]) -> Observation:
    names = " and ".join(job.by_id[end].label for end in ends)
    last = job.by_id[runs[0]].label
    alone = len(ends) == 1
    return Observation(
        subject_ids=(*runs, *ends),
        subject=last,
        text=f"{last} leads from {names} to itself."
        if alone
        else f"{names} are joined in a ring, and not all of them can break it: the first broadcast goes round for ever.",
        advice="Take one cable out, or use managed switches with spanning tree on.",
        place=place_of(job, ends[0]),
        fixes=(Fix(label=f"Take {last} out", operations=(Remove(id=runs[0]),)),),
    )
