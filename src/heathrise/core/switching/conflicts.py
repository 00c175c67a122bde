"""Why ports cannot be given out without a fault: the fewest wants that cannot all hold, and what would mend each.

A want is left out and the rest tried, one after another: what cannot be left out is why (a deletion filter, which
leaves a set none of whose members can go). Found again without its least weighty want, for what else conflicts.

References
----------
Minimal unsatisfiable subsets by deletion: Chinneck and Dravnieks, "Locating minimal infeasible constraint sets in
linear programs", ORSA J. Computing 3(2), 1991.
"""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from ortools.sat.python import cp_model

from heathrise.core.edit import Put
from heathrise.core.job import Equipment, InRack, Job, Link, Rack, derived_id
from heathrise.core.library import EquipmentModel, limit
from heathrise.core.power.feeds import Feeds
from heathrise.core.rule import Fix
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.assigning import crowds_of, seats_of
from heathrise.core.switching.ports import loads_of, slots_in, switches_in
from heathrise.core.switching.remedies import injector_for, injector_on, with_puts
from heathrise.core.switching.slots import NEVER, Ask, Loads, Slot, cost, lost_octaves
from heathrise.core.units import quantity

# So many conflicts of one rack are told apart.
_MOST = 3
_DECIWATTS = 10
# What a job can be handed over without.
_SOFT = ("apart", "speed")


class PortMend(Noun):
    """What would mend a conflict, and what it costs. [money]"""

    cost: Sum
    fix: Fix


class PortConflict(Noun):
    """Wants of one rack that cannot all hold, none of which can be left out of the reason; and ways out."""

    rack_id: str
    rack_label: str
    wants: tuple[str, ...]
    ways: tuple[PortMend, ...]


@dataclass(frozen=True)
class PortsAsked:
    """What is asked of the ports of one rack: the ends, the ports, watts, and pairs that are to hang apart."""

    job: Job
    rack: Rack
    asks: Sequence[Ask]
    slots: Sequence[Slot]
    loads: Loads
    pairs: Sequence[tuple[int, int]]

    @property
    def wants(self) -> tuple[str, ...]:
        """Every want by its code, the least weighty first."""
        apart = ("apart",) if self.pairs and len(self.loads.budgets) > 1 else ()
        return (*apart, "speed", *(f"budget {switch}" for switch in self.loads.budgets), "class", "ports")


def conflicts_of(asked: PortsAsked, feeds: Feeds) -> tuple[PortConflict, ...]:
    """Return what conflicts in a rack, at most three, each with two or three ways out where there are any."""
    found: list[PortConflict] = []
    wants = list(asked.wants)
    while len(found) < _MOST and (core := core_of(asked, wants)):
        found.append(
            PortConflict(
                rack_id=asked.rack.id,
                rack_label=asked.rack.label,
                wants=tuple(_words(asked, want) for want in reversed(core)),
                ways=tuple(_ways(asked, feeds, core)),
            )
        )
        wants.remove(core[0])
    return tuple(found)


def core_of(asked: PortsAsked, wants: Sequence[str]) -> list[str]:
    """Return the fewest of some wants, by leaving out one after another, that cannot all hold; none where all can."""
    if holds(asked, wants):
        return []
    core = list(wants)
    for want in wants:
        rest = [other for other in core if other != want]
        if not holds(asked, rest):
            core = rest
    return core


def holds(asked: PortsAsked, wants: Sequence[str]) -> bool:
    """Say whether ports can be given out so that all of some wants hold."""
    model, seats = cp_model.CpModel(), seats_of(asked.slots, set())
    alone = {i for pair in asked.pairs for i in pair}
    crowds = crowds_of(asked.asks, seats, asked.loads, alone, {}, {})
    sits: dict[tuple[int, int], cp_model.IntVar] = {}
    for k, crowd in enumerate(crowds):
        many, ask = len(crowd.members), asked.asks[crowd.sample]
        for g, seat in enumerate(seats):
            if _may(ask, seat.sample, wants):
                sits[k, g] = model.new_int_var(0, min(many, len(seat.places)), f"x{k}_{g}")
        here = sum(sits[k, g] for g in range(len(seats)) if (k, g) in sits)
        model.add(here == many if "ports" in wants else here <= many)
    for g, seat in enumerate(seats):
        model.add(sum(sits[k, g] for k in range(len(crowds)) if (k, g) in sits) <= len(seat.places))
    for switch_id, budget_w in asked.loads.budgets.items():
        if f"budget {switch_id}" in wants:
            drawn = sum(
                round(crowds[k].watts.get(switch_id, 0.0) * _DECIWATTS) * var
                for (k, g), var in sits.items()
                if seats[g].switch_id == switch_id and seats[g].sample.poe_class
            )
            model.add(drawn <= round(budget_w * _DECIWATTS))
    if "apart" in wants:
        crowd_of = {crowd.sample: k for k, crowd in enumerate(crowds)}
        for one, other in asked.pairs:
            for switch_id in {seat.switch_id for seat in seats}:
                both = [
                    var
                    for (k, g), var in sits.items()
                    if seats[g].switch_id == switch_id and k in (crowd_of[one], crowd_of[other])
                ]
                model.add(sum(both) <= 1)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_deterministic_time = limit("switching.anew_work")
    # What cannot be told in the time it has is not said to conflict.
    return solver.solve(model) != cp_model.INFEASIBLE


def _may(ask: Ask, slot: Slot, wants: Sequence[str]) -> bool:
    short = "class" in wants and slot.poe_class < ask.poe_class
    slow = "speed" in wants and lost_octaves(ask, slot) > 0
    return cost(ask, slot) < NEVER and not short and not slow


def _words(asked: PortsAsked, want: str) -> str:
    """Return a want in words, with how much is asked and how much there is."""
    if want == "ports":
        return f"each of {len(asked.asks)} ends has a port, of {len(asked.slots)} in {asked.rack.label}"
    if want == "class":
        rows = _short(asked, lambda ask: ask.poe_class, lambda slot: slot.poe_class)
        return "; ".join(
            f"{many} ask for class {step} or more, {able} ports give it" for step, many, able in rows
        )
    if want == "speed":
        rows = _short(asked, lambda ask: ask.speed_mbps, lambda slot: slot.speed_mbps)
        return "; ".join(
            f"{many} use {quantity(step, 'Mb/s', 0)} or more, {able} ports carry it"
            for step, many, able in rows
        )
    if want == "apart":
        return f"{len(asked.pairs)} pairs that cover for each other are to hang on two switches"
    switch_id = want.removeprefix("budget ")
    drawn = sum(watts for (_, switch), watts in asked.loads.watts.items() if switch == switch_id)
    label, most = asked.job.by_id[switch_id].label, asked.loads.budgets[switch_id]
    return f"{label} gives {quantity(most, 'W', 0)} of the {quantity(drawn, 'W', 0)} all of them draw"


def _short(
    asked: PortsAsked, of: Callable[[Ask], int], gives: Callable[[Slot], int]
) -> list[tuple[int, int, int]]:
    """Return (step, ends that ask for it or more, ports that give it or more) of the steps with too few ports, else of
    the highest.

    Of ports that are not meant for the way on to another rack.
    """
    asks = Counter(of(ask) for ask in asked.asks if not ask.to_rack)
    slots = Counter(gives(slot) for slot in asked.slots if not slot.port.group.uplink)
    steps = sorted(step for step in asks if step)
    rows = [
        (
            step,
            sum(n for value, n in asks.items() if value >= step),
            sum(n for value, n in slots.items() if value >= step),
        )
        for step in steps
    ]
    return [row for row in rows if row[1] > row[2]] or rows[-1:]


def _ways(asked: PortsAsked, feeds: Feeds, core: Sequence[str]) -> Iterator[PortMend]:
    """Yield what would mend a conflict: one more switch, a larger one in place of one, an injector each."""
    more = _cheapest(asked, feeds, core, _added(asked))
    larger = _cheapest(asked, feeds, core, _in_place(asked))
    yield from (way for way in (more, larger, _injected(asked, core)) if way is not None)


def _switches(job: Job) -> list[tuple[str, EquipmentModel]]:
    """Return the switches of the shelf that are bolted into a rack and have a price."""
    shelf = job.equipment.items()
    return [(c, m) for c, m in shelf if m.forwards == "switch" and m.racks and m.price is not None]


@dataclass(frozen=True)
class _Try:
    """A switch to try: what it is put as, what it is called, and its price by parts. [money]"""

    thing: Equipment
    label: str
    prices: tuple[tuple[str, float], ...]

    @property
    def price(self) -> float:
        return sum(price for _, price in self.prices)


def _cost(job: Job, label: str, prices: Sequence[tuple[str, float]]) -> Sum:
    currency = job.practice.currency
    return Sum(
        label=label,
        value=round(sum(price for _, price in prices), 2),
        unit=currency,
        lines=tuple(SumLine(label=what, value=price, unit=currency) for what, price in prices),
        formula="prices of the library; hours come on top",
        source="library of equipment",
    )


def _added(asked: PortsAsked) -> Iterator[_Try]:
    used = {thing.label for thing in asked.job.of(Equipment)}
    label = next(name for n in range(1, 100_000) if (name := f"SW{n}") not in used)
    for code, model in _switches(asked.job):
        thing = Equipment(
            id=derived_id(asked.rack.id, f"switch {label}"),
            label=label,
            model=code,
            place=InRack(rack_id=asked.rack.id),
        )
        yield _Try(thing, f"Add {model.label}", ((model.label, model.price or 0.0),))


def _in_place(asked: PortsAsked) -> Iterator[_Try]:
    for switch, old in switches_in(asked.job, asked.rack.id):
        for code, model in _switches(asked.job):
            if old.forwards == "switch" and code != switch.model:
                thing = switch.model_copy(update={"model": code})
                prices = ((model.label, model.price or 0.0), (f"less {old.label}", -(old.price or 0.0)))
                yield _Try(thing, f"{model.label} in place of {switch.label}", prices)


def _opened(job: Job, thing: Equipment) -> Iterator[Put]:
    """Yield what opens ends again whose port a switch of another model has not got."""
    names = {port.name for port in job.equipment[thing.model].port_list}
    rack_id = thing.place.rack_id if isinstance(thing.place, InRack) else ""
    for link in job.of(Link):
        ends = {"a": link.a, "b": link.b}
        gone = {
            side: end for side, end in ends.items() if end.on == thing.id and end.port not in (None, *names)
        }
        if gone:
            opened = {side: end.at(rack_id) for side, end in gone.items()}
            yield Put(element=link.model_copy(update=opened))


def _cheapest(asked: PortsAsked, feeds: Feeds, core: Sequence[str], tries: Iterable[_Try]) -> PortMend | None:
    """Return the cheapest of some switches with which a conflict is gone and nothing is left under-fed or without a port.

    Where none does both, the cheapest with which the conflict is gone.
    """
    switches = [(one, _tried(asked, feeds, one)) for one in sorted(tries, key=lambda row: row.price)]
    # A want that is gone with its switch is not met.
    lasting = {want for want in core if not want.startswith("budget ")}
    fits = [(one, tried) for one, tried in switches if lasting <= {*tried.wants}]
    for soft in (_SOFT, asked.wants):
        for one, tried in fits:
            if holds(tried, [want for want in tried.wants if want in core or want not in soft]):
                cost = _cost(asked.job, one.label, one.prices)
                return PortMend(cost=cost, fix=Fix(label=one.label, operations=_put(asked.job, one)))
    return None


def _put(job: Job, one: _Try) -> tuple[Put, ...]:
    return (*_opened(job, one.thing), Put(element=one.thing))


def _tried(asked: PortsAsked, feeds: Feeds, one: _Try) -> PortsAsked:
    """Return what is asked of a rack with a switch put into it."""
    job = with_puts(asked.job, *_put(asked.job, one))
    loads = loads_of(job, list(asked.asks), feeds, asked.rack.id)
    return replace(asked, job=job, slots=slots_in(job, asked.rack.id), loads=loads)


def _injected(asked: PortsAsked, core: Sequence[str]) -> PortMend | None:
    """Return the fewest injectors with which nothing is under-fed or over a budget; None where few are not enough."""
    if not any(want == "class" or want.startswith("budget ") for want in core):
        return None
    fed = [i for i, ask in enumerate(asked.asks) if ask.poe_class]
    # The last of those that ask for most go first.
    fed.sort(key=lambda i: (-asked.asks[i].poe_class, -i))
    for many in range(1, min(len(fed), int(limit("power.few_injectors"))) + 1):
        chosen = fed[:many]
        code = injector_for(
            asked.job,
            max(asked.asks[i].poe_class for i in chosen),
            max(asked.asks[i].speed_mbps for i in chosen),
        )
        if code is None:
            return None
        if holds(_fed_elsewhere(asked, chosen), [w for w in asked.wants if w in core or w not in _SOFT]):
            model = asked.job.equipment[code]
            label = f"{many} of {model.label}"
            puts = tuple(injector_on(asked.asks[i].run, code) for i in sorted(chosen))
            cost = _cost(asked.job, label, ((label, (model.price or 0.0) * many),))
            return PortMend(cost=cost, fix=Fix(label=label, operations=puts))
    return None


def _fed_elsewhere(asked: PortsAsked, chosen: Sequence[int]) -> PortsAsked:
    """Return what is asked of a rack when some ends are fed on their way."""
    asks = [replace(ask, poe_class=0) if i in chosen else ask for i, ask in enumerate(asked.asks)]
    watts = {key: value for key, value in asked.loads.watts.items() if key[0] not in chosen}
    return replace(asked, asks=asks, loads=Loads(watts, asked.loads.budgets))
