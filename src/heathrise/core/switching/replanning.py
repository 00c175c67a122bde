"""Ports given out anew: the fewest patches that move, so that nothing is under-fed, over budget, slow or together."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look
from heathrise.core.edit import Operation, Put
from heathrise.core.job import Link, Rack
from heathrise.core.job.view import job_of
from heathrise.core.power.derived import feeds
from heathrise.core.sums import Noun
from heathrise.core.switching.assigning import give_out
from heathrise.core.switching.conflicts import PortConflict, PortsAsked, conflicts_of
from heathrise.core.switching.derived import covering, ports
from heathrise.core.switching.ports import asks_in, loads_of, paired, slots_in
from heathrise.core.switching.slots import Ask, Loads, Slot, lost_octaves


class Move(Noun):
    """One end of a run that is patched otherwise: from which port to which. `from_port` is empty for one without."""

    run_id: str
    run_label: str
    to_label: str
    rack_label: str
    from_port: str
    to_port: str


class Held(Noun):
    """What can be held against a way of giving ports out: ends without a port, devices under-fed, switches over their
    budget, ports slower than what hangs on them, and points that cover for each other on one switch.
    """

    unplaced: int
    under_fed: int
    over_budget: int
    slower: int
    together: int


class Replan(Noun):
    """The ports as they would be given out anew, by the patches that move; whether no better way is left.

    `conflicts` are why no way of giving them out is free of faults.
    """

    moves: tuple[Move, ...]
    before: Held
    after: Held
    conflicts: tuple[PortConflict, ...]
    proven: bool


@dataclass(frozen=True)
class _Found:
    """One rack given out anew."""

    rack: Rack
    asks: Sequence[Ask]
    slots: Sequence[Slot]
    loads: Loads
    together: Sequence[tuple[int, int]]
    now: Mapping[int, int]
    then: Mapping[int, int]
    proven: bool


def replan(look: Look) -> Replan:
    """Return the ports of all racks given out anew, with as few patches moved as that takes."""
    found = [_anew(look, rack) for rack in job_of(look).of(Rack)]
    return Replan(
        moves=tuple(move for one in found for move in _moves(one)),
        before=_sum([_held(one, one.now) for one in found]),
        after=_sum([_held(one, one.then) for one in found]),
        conflicts=tuple(conflict for one in found for conflict in _conflicts(look, one)),
        proven=all(one.proven for one in found),
    )


def replanned(look: Look) -> tuple[Operation, ...]:
    """Return the operations that patch what moves; every one of them is then decided."""
    job = job_of(look)
    changed: dict[str, Link] = {}
    for one in (_anew(look, rack) for rack in job.of(Rack)):
        for i, slot in _moved(one):
            ask = one.asks[i]
            link = changed.get(ask.run.id) or job.get(Link, ask.run.id)
            end = link.a if ask.side == "a" else link.b
            to = one.slots[slot]
            changed[link.id] = link.model_copy(update={ask.side: end.at(to.switch.id, to.port.name)})
    return tuple(Put(element=link) for link in changed.values())


def _anew(look: Look, rack: Rack) -> _Found:
    job = job_of(look)
    asks, slots = [_open(ask, rack) for ask in asks_in(job, runs(look), rack.id)], slots_in(job, rack.id)
    now, loads = _now(look, asks, slots), loads_of(job, asks, feeds(look), rack.id)
    together = paired(asks, covering(look))
    given = give_out(asks, slots, loads, together, {}, now, settled=True)
    return _Found(rack, asks, slots, loads, together, now, given.placed, given.proven)


def _open(ask: Ask, rack: Rack) -> Ask:
    """Return an ask as if its port were not decided."""
    return replace(ask, run=ask.run.model_copy(update={ask.side: ask.end.at(rack.id)}))


def _conflicts(look: Look, one: _Found) -> tuple[PortConflict, ...]:
    """Return why a rack is left with faults, where it is."""
    if not any(dict(_held(one, one.then)).values()):
        return ()
    asked = PortsAsked(job_of(look), one.rack, one.asks, one.slots, one.loads, one.together)
    return conflicts_of(asked, feeds(look))


def _now(look: Look, asks: Sequence[Ask], slots: Sequence[Slot]) -> dict[int, int]:
    at = {(slot.switch.id, slot.port.name): n for n, slot in enumerate(slots)}
    on = {(p.run_id, p.side): at.get((p.switch_id, p.port)) for p in ports(look).ports if p.run_id}
    found = ((i, on.get((ask.run.id, ask.side))) for i, ask in enumerate(asks))
    return {i: n for i, n in found if n is not None}


def _moved(one: _Found) -> list[tuple[int, int]]:
    return [(i, n) for i, n in sorted(one.then.items()) if one.now.get(i) != n]


def _moves(one: _Found) -> list[Move]:
    return [
        Move(
            run_id=one.asks[i].run.id,
            run_label=one.asks[i].run.label,
            to_label=one.asks[i].to_label,
            rack_label=one.rack.label,
            from_port=_name(one.slots[one.now[i]]) if i in one.now else "",
            to_port=_name(one.slots[n]),
        )
        for i, n in _moved(one)
    ]


def _name(slot: Slot) -> str:
    return f"{slot.switch.label}/{slot.port.name}"


def _held(one: _Found, placed: Mapping[int, int]) -> Held:
    on = {i: one.slots[n] for i, n in placed.items()}
    drawn: dict[str, float] = defaultdict(float)
    for i, slot in on.items():
        if slot.poe_class:
            drawn[slot.switch.id] += one.loads.watts.get((i, slot.switch.id), 0.0)
    same = [(a, b) for a, b in one.together if a in on and b in on and on[a].switch.id == on[b].switch.id]
    return Held(
        unplaced=len(one.asks) - len(on),
        under_fed=sum(one.asks[i].poe_class > slot.poe_class for i, slot in on.items()),
        over_budget=sum(drawn[switch] > budget + 1e-9 for switch, budget in one.loads.budgets.items()),
        slower=sum(lost_octaves(one.asks[i], slot) > 0 for i, slot in on.items()),
        together=len(same) if len({slot.switch.id for slot in one.slots}) > 1 else 0,
    )


def _sum(held: Sequence[Held]) -> Held:
    names = Held.model_fields
    return Held(**{name: sum(getattr(one, name) for one in held) for name in names})
