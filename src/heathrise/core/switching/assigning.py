"""Ports given out by constraint: what may stand where, watts of each switch, points that cover for each other apart.

What a rule judges stands in the solver's terms, so that a plan makes no fault it then reports. Ports that are alike on
one switch are one seat with many places; which of them a run gets follows from the order of the runs, or stays as it is.

References
----------
CP-SAT (Perron and Furnon, OR-Tools).
"""

import math
from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

from ortools.sat.python import cp_model

from heathrise.core.library import limit
from heathrise.core.switching.slots import NEVER, Ask, Slot, cost, lost_octaves

# What the terms weigh against each other, in the units of `cost`. An end without a port is worse than anything, a device
# under-fed by a class worse than a switch over its budget, which is one cause where the other is one for each; then a
# budget with nothing to spare, a port that is too slow, points together, a patch that moves.
_UNPLACED, _OVER, _OVER_W, _TIGHT, _TOGETHER, _MOVE = 1e6, 500.0, 2.0, 100.0, 8.0, 2.0
_UNFED, _LOST = 1e3, 10.0
_SCALE = 1000
_DECIWATTS = 10


@dataclass(frozen=True)
class Loads:
    """What each end draws at each switch, by (ask, switch id), and what each switch may give. [W]"""

    watts: Mapping[tuple[int, str], float]
    budgets: Mapping[str, float]


@dataclass
class _Seat:
    """Ports of one switch that are alike."""

    switch_id: str
    sample: Slot
    places: list[int] = field(default_factory=list)


@dataclass(frozen=True)
class Given:
    """Which slot each ask got, and whether no better way of giving them out is left."""

    placed: dict[int, int]
    proven: bool


def give_out(
    asks: Sequence[Ask],
    slots: Sequence[Slot],
    loads: Loads,
    pairs: Collection[tuple[int, int]],
    held: Mapping[int, int],
    now: Mapping[int, int] | None = None,
    split: bool = False,
) -> Given:
    """Return a slot for every ask that can have one.

    Parameters
    ----------
    asks
        The ends that want a port.
    slots
        The ports of the rack.
    loads
        What ends draw, and what switches may give. [W]
    pairs
        Asks, two and two, that cover for each other and are better off on two switches.
    held
        Slots that are decided, by ask: they stay.
    now
        Where everything is patched, when what is to be found is the least change; None for a plan from nothing.
    split
        Whether plain runs keep off powered ports by house practice.
    """
    seats = _seats(slots, set(held.values()))
    rest = [i for i in range(len(asks)) if i not in held]
    model = cp_model.CpModel()
    x = {
        (i, g): model.new_bool_var(f"x{i}_{g}")
        for i in rest
        for g, seat in enumerate(seats)
        if cost(asks[i], seat.sample, split) < NEVER
    }
    terms: list[tuple[float, cp_model.IntVar]] = []
    for i in rest:
        out = model.new_bool_var(f"out{i}")
        model.add_exactly_one([out, *(x[i, g] for g in range(len(seats)) if (i, g) in x)])
        terms.append((_UNPLACED, out))
    for g, seat in enumerate(seats):
        model.add(sum(x[i, g] for i in rest if (i, g) in x) <= len(seat.places))
    for (i, g), var in x.items():
        terms.append((_worth(asks, seats, now, split, i, g), var))
    _budgets(model, terms, seats, x, loads, held, slots)
    _apart(model, terms, seats, x, pairs, held, slots)
    model.minimize(sum(round(weight * _SCALE) * var for weight, var in terms))
    _hint(model, x, seats, now, held)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_deterministic_time = limit("switching.port_work")
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Given(dict(held), False)
    chosen = {i: g for (i, g), var in x.items() if solver.value(var)}
    return Given({**held, **_places(chosen, seats, now or {})}, status == cp_model.OPTIMAL)


def _seats(slots: Sequence[Slot], taken: set[int]) -> list[_Seat]:
    """Return the seats of a rack with their free places, in the order they stand."""
    found: dict[tuple[str, str], _Seat] = {}
    for n, slot in enumerate(slots):
        if n not in taken:
            key = (slot.switch.id, slot.port.group.model_dump_json(exclude={"count", "name"}))
            found.setdefault(key, _Seat(slot.switch.id, slot)).places.append(n)
    return list(found.values())


def _worth(
    asks: Sequence[Ask], seats: Sequence[_Seat], now: Mapping[int, int] | None, split: bool, i: int, g: int
) -> float:
    """Return what a seat costs an ask: all that `cost` weighs for a plan, faults and a moved patch for a change."""
    ask, seat = asks[i], seats[g]
    if now is None:
        # Of seats that cost the same the first ones fill with the first runs.
        return cost(ask, seat.sample, split) + 1e-3 * abs(i - seat.places[0])
    short = max(0, ask.poe_class - seat.sample.poe_class)
    stays = now.get(i) in seat.places
    return _UNFED * short + _LOST * lost_octaves(ask, seat.sample) + (0.0 if stays else _MOVE)


def _budgets(
    model: cp_model.CpModel,
    terms: list[tuple[float, cp_model.IntVar]],
    seats: Sequence[_Seat],
    x: Mapping[tuple[int, int], cp_model.IntVar],
    loads: Loads,
    held: Mapping[int, int],
    slots: Sequence[Slot],
) -> None:
    """Weigh what a switch would give over its budget, and over the four fifths that are used freely."""
    for switch_id, budget_w in loads.budgets.items():
        base = sum(
            loads.watts.get((i, switch_id), 0.0) for i, n in held.items() if slots[n].switch.id == switch_id
        )
        drawn = sum(
            math.ceil(loads.watts.get((i, switch_id), 0.0) * _DECIWATTS) * var
            for (i, g), var in x.items()
            if seats[g].switch_id == switch_id and seats[g].sample.poe_class
        )
        most = round(sum(loads.watts.values()) * _DECIWATTS) + 1
        for share, fixed, each in ((1.0, _OVER, _OVER_W), (1 - limit("power.free_share"), _TIGHT, 0.0)):
            room = math.floor((budget_w * share - base) * _DECIWATTS)
            over = model.new_int_var(0, max(most, -room, 0), f"over {switch_id} {share}")
            model.add(drawn - over <= room)
            is_over = model.new_bool_var(f"is over {switch_id} {share}")
            model.add(over == 0).only_enforce_if(is_over.negated())
            terms += [(fixed, is_over), (each / _DECIWATTS, over)]


def _apart(
    model: cp_model.CpModel,
    terms: list[tuple[float, cp_model.IntVar]],
    seats: Sequence[_Seat],
    x: Mapping[tuple[int, int], cp_model.IntVar],
    pairs: Collection[tuple[int, int]],
    held: Mapping[int, int],
    slots: Sequence[Slot],
) -> None:
    """Weigh every pair that would hang on one switch."""
    on: dict[tuple[int, str], list[cp_model.IntVar]] = defaultdict(list)
    for (i, g), var in x.items():
        on[i, seats[g].switch_id].append(var)
    switches = list(dict.fromkeys(slot.switch.id for slot in slots))
    for one, other in pairs:
        for switch_id in switches:
            ends = [_here(on, held, slots, i, switch_id) for i in (one, other)]
            if any(isinstance(end, int) and not end for end in ends):
                continue
            both = model.new_bool_var(f"{one} and {other} on {switch_id}")
            model.add(sum(ends) <= 1 + both)
            terms.append((_TOGETHER, both))


def _here(
    on: Mapping[tuple[int, str], list[cp_model.IntVar]],
    held: Mapping[int, int],
    slots: Sequence[Slot],
    i: int,
    switch_id: str,
) -> "cp_model.LinearExprT | int":
    """Return whether an ask is on a switch: 1 or 0 where that is decided, else the sum of what would put it there."""
    if i in held:
        return int(slots[held[i]].switch.id == switch_id)
    return sum(on[i, switch_id]) if on.get((i, switch_id)) else 0


def _hint(
    model: cp_model.CpModel,
    x: Mapping[tuple[int, int], cp_model.IntVar],
    seats: Sequence[_Seat],
    now: Mapping[int, int] | None,
    held: Mapping[int, int],
) -> None:
    for (i, g), var in x.items():
        if now is not None and i in now and i not in held:
            model.add_hint(var, now[i] in seats[g].places)


def _places(chosen: Mapping[int, int], seats: Sequence[_Seat], now: Mapping[int, int]) -> dict[int, int]:
    """Return a place for each ask in its seat: the one it has, else the free ones in the order of the runs."""
    stays = {i: now[i] for i, g in chosen.items() if now.get(i) in seats[g].places}
    free = {g: [n for n in seat.places if n not in stays.values()] for g, seat in enumerate(seats)}
    placed = dict(stays)
    for i in sorted(i for i in chosen if i not in stays):
        placed[i] = free[chosen[i]].pop(0)
    return placed
