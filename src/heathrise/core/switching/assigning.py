"""Ports given out by constraint: what may stand where, watts of each switch, points that cover for each other apart.

What a rule judges stands in the solver's terms, so that a plan makes no fault it then reports. Ports that are alike on
one switch are one seat with many places, and ends that ask alike are one crowd: the solver counts how many of a crowd sit
where, and which of them gets which port follows from the order of the runs, or stays as it is.

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
from heathrise.core.switching.slots import NEVER, Ask, Loads, Slot, cost, lost_octaves
from heathrise.core.switching.swapping import traded_apart

# What the terms weigh against each other, in the units of `cost`. An end without a port is worse than anything, a device
# under-fed by a class worse than a switch over its budget, which is one cause where the other is one for each; then a
# budget with nothing to spare, a port that is too slow, points together, a patch that moves.
_UNPLACED, _OVER, _OVER_W, _TIGHT, _TOGETHER, _MOVE = 1e6, 500.0, 2.0, 100.0, 8.0, 2.0
_UNFED, _LOST = 1e3, 10.0
_SCALE = 1000
_DECIWATTS = 10
# Draws that differ by less than this are alike: where a cable is longer by a few metres. [W]
_ALIKE_W = 0.5


@dataclass
class Seat:
    """Ports of one switch that are alike."""

    switch_id: str
    sample: Slot
    places: list[int] = field(default_factory=list)


@dataclass
class Crowd:
    """Ends that ask alike and sit alike now; what each draws at each switch. [W]"""

    sample: int
    members: list[int]
    watts: dict[str, float]


@dataclass(frozen=True)
class Given:
    """Which slot each ask got, and whether no better way of giving them out is left."""

    placed: dict[int, int]
    proven: bool


@dataclass
class _Plan:
    """The model under work: how many of each crowd sit on each seat, and what is weighed."""

    model: cp_model.CpModel
    crowds: list[Crowd]
    seats: list[Seat]
    sits: dict[tuple[int, int], cp_model.IntVar]
    terms: list[tuple[float, cp_model.IntVar]]


def give_out(
    asks: Sequence[Ask],
    slots: Sequence[Slot],
    loads: Loads,
    pairs: Collection[tuple[int, int]],
    held: Mapping[int, int],
    now: Mapping[int, int],
    settled: bool,
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
        Where everything sits: what the search begins from.
    settled
        Whether what sits is patched, so that the least change is looked for; else a plan from nothing.
    split
        Whether plain runs keep off powered ports by house practice.
    """
    seats = seats_of(slots, set(held.values()))
    crowds = crowds_of(asks, seats, loads, {i for pair in pairs for i in pair}, held, now)
    plan = _Plan(cp_model.CpModel(), crowds, seats, {}, [])
    for k, crowd in enumerate(crowds):
        many = len(crowd.members)
        for g, seat in enumerate(seats):
            if cost(asks[crowd.sample], seat.sample, split) < NEVER:
                plan.sits[k, g] = plan.model.new_int_var(0, min(many, len(seat.places)), f"x{k}_{g}")
                worth = _worth(asks[crowd.sample], crowd.sample, seat, now if settled else None, split)
                plan.terms.append((worth, plan.sits[k, g]))
        out = plan.model.new_int_var(0, many, f"out{k}")
        plan.terms.append((_UNPLACED, out))
        plan.model.add(sum(plan.sits[k, g] for g in range(len(seats)) if (k, g) in plan.sits) + out == many)
    for g, seat in enumerate(seats):
        here = [plan.sits[k, g] for k in range(len(crowds)) if (k, g) in plan.sits]
        plan.model.add(sum(here) <= len(seat.places))
    _budgets(plan, loads, held, slots)
    _apart(plan, pairs, held, slots)
    plan.model.minimize(sum(round(weight * _SCALE) * var for weight, var in plan.terms))
    for (k, g), var in plan.sits.items():
        plan.model.add_hint(var, sum(now.get(i) in seats[g].places for i in crowds[k].members))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_deterministic_time = limit(f"switching.{'anew' if settled else 'port'}_work")
    status = solver.solve(plan.model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Given({**now, **held}, False)
    counts = {key: solver.value(var) for key, var in plan.sits.items()}
    placed, proven = {**held, **_places(plan, counts, now if settled else {})}, status == cp_model.OPTIMAL
    if pairs and not proven and not settled:
        placed = traded_apart(asks, slots, loads, pairs, placed, held)
    return Given(placed, proven)


def seats_of(slots: Sequence[Slot], taken: set[int]) -> list[Seat]:
    """Return the seats of a rack with their free places, in the order they stand."""
    found: dict[tuple[str, str], Seat] = {}
    for n, slot in enumerate(slots):
        if n not in taken:
            key = (slot.switch.id, slot.port.group.model_dump_json(exclude={"count", "name"}))
            found.setdefault(key, Seat(slot.switch.id, slot)).places.append(n)
    return list(found.values())


def crowds_of(
    asks: Sequence[Ask],
    seats: Sequence[Seat],
    loads: Loads,
    alone: Collection[int],
    held: Mapping[int, int],
    now: Mapping[int, int],
) -> list[Crowd]:
    """Return the asks that are open in crowds; one that has a pair is a crowd of its own."""
    seat_of = {place: g for g, seat in enumerate(seats) for place in seat.places}
    found: dict[tuple[object, ...], Crowd] = {}
    for i, ask in enumerate(asks):
        if i in held:
            continue
        watts = {switch: loads.watts[i, switch] for switch in loads.budgets if (i, switch) in loads.watts}
        steps = tuple(math.ceil(w / _ALIKE_W) for w in watts.values())
        sits = seat_of.get(now.get(i, -1), -1)
        key = (
            ask.poe_class,
            ask.speed_mbps,
            ask.to_rack,
            ask.is_cord and ask.medium,
            ask.end.on,
            steps,
            sits,
            i if i in alone else -1,
        )
        crowd = found.setdefault(key, Crowd(i, [], watts))
        crowd.members.append(i)
        crowd.watts = {switch: max(w, crowd.watts[switch]) for switch, w in watts.items()}
    return list(found.values())


def _worth(ask: Ask, i: int, seat: Seat, patched: Mapping[int, int] | None, split: bool) -> float:
    """Return what a seat costs an ask: all that `cost` weighs for a plan, faults and a moved patch for a change."""
    if patched is None:
        # Of seats that cost the same the first ones fill with the first runs.
        return cost(ask, seat.sample, split) + 1e-3 * abs(i - seat.places[0])
    short = max(0, ask.poe_class - seat.sample.poe_class)
    stays = patched.get(i) in seat.places
    return _UNFED * short + _LOST * lost_octaves(ask, seat.sample) + (0.0 if stays else _MOVE)


def _budgets(plan: _Plan, loads: Loads, held: Mapping[int, int], slots: Sequence[Slot]) -> None:
    """Weigh what a switch would give over its budget, and over the four fifths that are used freely."""
    for switch_id, budget_w in loads.budgets.items():
        base = sum(
            loads.watts.get((i, switch_id), 0.0) for i, n in held.items() if slots[n].switch.id == switch_id
        )
        drawn = sum(
            math.ceil(plan.crowds[k].watts.get(switch_id, 0.0) * _DECIWATTS) * var
            for (k, g), var in plan.sits.items()
            if plan.seats[g].switch_id == switch_id and plan.seats[g].sample.poe_class
        )
        most = math.ceil(sum(loads.watts.values()) * _DECIWATTS) + len(loads.watts)
        for share, fixed, each in ((1.0, _OVER, _OVER_W), (1 - limit("power.free_share"), _TIGHT, 0.0)):
            room = math.floor((budget_w * share - base) * _DECIWATTS)
            over = plan.model.new_int_var(0, max(most - room, 0), f"over {switch_id} {share}")
            plan.model.add(drawn - over <= room)
            is_over = plan.model.new_bool_var(f"is over {switch_id} {share}")
            plan.model.add(over == 0).only_enforce_if(is_over.negated())
            plan.terms += [(fixed, is_over), (each / _DECIWATTS, over)]


def _apart(
    plan: _Plan, pairs: Collection[tuple[int, int]], held: Mapping[int, int], slots: Sequence[Slot]
) -> None:
    """Weigh every pair that would hang on one switch."""
    crowd_of = {crowd.sample: k for k, crowd in enumerate(plan.crowds) if len(crowd.members) == 1}
    on: dict[tuple[int, str], list[cp_model.IntVar]] = defaultdict(list)
    for (k, g), var in plan.sits.items():
        on[k, plan.seats[g].switch_id].append(var)
    switches = list(dict.fromkeys(slot.switch.id for slot in slots))

    def here(i: int, switch_id: str) -> "cp_model.LinearExprT | int":
        """Whether an ask is on a switch: 1 or 0 where that is decided, else the sum of what would put it there."""
        if i in held:
            return int(slots[held[i]].switch.id == switch_id)
        found = on.get((crowd_of[i], switch_id))
        return sum(found) if found else 0

    for one, other in pairs:
        for switch_id in switches:
            ends = [here(i, switch_id) for i in (one, other)]
            if any(isinstance(end, int) and not end for end in ends):
                continue
            both = plan.model.new_bool_var(f"{one} and {other} on {switch_id}")
            plan.model.add(sum(ends) <= 1 + both)
            plan.terms.append((_TOGETHER, both))


def _places(plan: _Plan, counts: Mapping[tuple[int, int], int], now: Mapping[int, int]) -> dict[int, int]:
    """Return a place for each ask: the one it has where as many of its crowd stay, else the free ones of its seat in the
    order of the runs.
    """
    placed: dict[int, int] = {}
    open_seats: list[tuple[int, int]] = []
    for k, crowd in enumerate(plan.crowds):
        left = list(crowd.members)
        wants = [(g, counts.get((k, g), 0)) for g in range(len(plan.seats))]
        for g, count in wants:
            stay = [i for i in left if now.get(i) in plan.seats[g].places][:count]
            placed |= {i: now[i] for i in stay}
            left = [i for i in left if i not in stay]
            rest, left = left[: count - len(stay)], left[count - len(stay) :]
            open_seats += [(i, g) for i in rest]
    taken = set(placed.values())
    free = {g: [n for n in seat.places if n not in taken] for g, seat in enumerate(plan.seats)}
    for i, g in sorted(open_seats):
        placed[i] = free[g].pop(0)
    return placed
