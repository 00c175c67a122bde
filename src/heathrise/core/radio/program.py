"""The placement as a program of whole numbers: what a solver makes of it, and the bound no plan is under.

References
----------
CP-SAT (Perron and Furnon, OR-Tools): search by linear relaxations and by raising the bound, side by side.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from ortools.sat.python import cp_model

from heathrise.core.library import limit
from heathrise.core.radio.ground import Ground, Wanted

Ints = NDArray[np.int64]
# Prices are whole numbers to the solver, rounded down: its bound stays a bound.
_GRAIN = 10
# What raises the bound of such programs soonest, and the usual search beside it.
_SEARCHES = ("lb_tree_search", "objective_lb_search_max_lp", "reduced_costs", "default_lp")


class Solved(NamedTuple):
    """What a try of the solver gave: spots, the price no plan is under, and how it ended."""

    spots: Ints
    bound: float
    proven: bool
    cut_short: bool = False


def solve(ground: Ground, start: Ints, seconds: float) -> Solved:
    """Return what an amount of solving makes of a start, never worse than it.

    The amount is the solver's own count of its work, what a common machine does in the seconds, and the
    searches take turns: the same ground has the same plan on any machine. The clock ends a try only where
    it takes several times as long; the answer then says so.
    """
    if not len(ground.spots) or not ground.spaces:
        return Solved(start, 0.0, True)
    model, taken = program(ground)
    chosen = set(map(int, start))
    for i, variable in enumerate(taken):
        model.add_hint(variable, i in chosen)
    solver = _solver(seconds)
    status = solver.solve(model)
    bound = max(0.0, solver.best_objective_bound / _GRAIN)
    cut_short = solver.wall_time >= solver.parameters.max_time_in_seconds
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Solved(start, bound, False, cut_short)
    found = np.flatnonzero([solver.value(variable) for variable in taken])
    better = ground.worth(found) < ground.worth(start)
    return Solved(found if better else start, bound, status == cp_model.OPTIMAL, cut_short)


def _solver(seconds: float) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = seconds * limit("place.work_per_s")
    solver.parameters.max_time_in_seconds = seconds * limit("place.patience")
    solver.parameters.interleave_search = True
    solver.parameters.num_workers = len(_SEARCHES)
    solver.parameters.random_seed = 1
    solver.parameters.subsolvers.extend(_SEARCHES)
    return solver


def program(ground: Ground) -> tuple[cp_model.CpModel, list[cp_model.IntVar]]:
    """Return the program of a ground and its spots.

    Places that the same spots serve count together. A place counts when one spot reaches it at best and,
    where a second signal is asked for, two at second; each space gets its share, or what all spots
    together can give it.
    """
    model = cp_model.CpModel()
    taken = [model.new_bool_var(f"spot {i}") for i in range(len(ground.spots))]
    for spot, variable in zip(ground.spots, taken, strict=True):
        if spot.kept:
            model.add(variable == 1)
    for wanted, needed in zip(ground.spaces, ground.reachable(), strict=True):
        kinds = _kinds(ground, wanted)
        counted = [_counts(model, ground, taken, wanted, place) for place, _ in kinds]
        sizes = [size for _, size in kinds]
        model.add(cp_model.LinearExpr.weighted_sum(counted, sizes) >= int(needed))
    model.add(cp_model.LinearExpr.sum(taken) >= ground.least_points)
    prices = np.floor(ground.prices * _GRAIN).astype(int)
    model.minimize(cp_model.LinearExpr.weighted_sum(taken, prices.tolist()))
    return model, taken


def _counts(
    model: cp_model.CpModel, ground: Ground, taken: list[cp_model.IntVar], wanted: Wanted, place: int
) -> cp_model.IntVar:
    """Return whether the places of one kind count as met."""
    met = model.new_bool_var(f"place {place}")
    model.add(cp_model.LinearExpr.sum([taken[i] for i in np.flatnonzero(ground.best[:, place])]) >= met)
    if wanted.needs_second:
        reach = [taken[i] for i in np.flatnonzero(ground.second[:, place])]
        model.add(cp_model.LinearExpr.sum(reach) >= 2 * met)
    return met


def _kinds(ground: Ground, wanted: Wanted) -> list[tuple[int, int]]:
    """Return (one place, how many such) of each kind of place of a space."""
    seen: dict[bytes, list[int]] = {}
    for row in wanted.rows:
        second = ground.second[:, row] if wanted.needs_second else ground.best[:0, row]
        seen.setdefault(ground.best[:, row].tobytes() + second.tobytes(), []).append(int(row))
    return [(rows[0], len(rows)) for rows in seen.values()]
