"""The placement as a program of whole numbers: what a solver makes of it, and the bound no plan is under.

References
----------
CP-SAT (Perron and Furnon, OR-Tools): search by linear relaxations and by raising the bound, side by side.
"""

import numpy as np
from numpy.typing import NDArray
from ortools.sat.python import cp_model

from heathrise.core.radio.ground import Ground, Wanted

Ints = NDArray[np.int64]
# Prices are whole numbers to the solver, rounded down: its bound stays a bound.
_GRAIN = 10
# What raises the bound of such programs soonest, and the usual search beside it.
_SEARCHES = ("lb_tree_search", "objective_lb_search_max_lp", "reduced_costs", "default_lp")


def solve(ground: Ground, start: Ints, seconds: float) -> tuple[Ints, float, bool]:
    """Return (spots, bound of the price, proven) after an amount of solving, never worse than the start.

    The amount is the solver's own count of its work, in seconds of a common machine, and the searches take
    turns in one thread: the same ground has the same plan on any machine, however busy. [s]
    """
    if not len(ground.spots) or not ground.spaces:
        return start, 0.0, True
    model, taken = program(ground)
    chosen = set(map(int, start))
    for i, variable in enumerate(taken):
        model.add_hint(variable, i in chosen)
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = seconds
    solver.parameters.interleave_search = True
    solver.parameters.num_workers = len(_SEARCHES)
    solver.parameters.random_seed = 1
    solver.parameters.subsolvers.extend(_SEARCHES)
    status = solver.solve(model)
    bound = max(0.0, solver.best_objective_bound / _GRAIN)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return start, bound, False
    found = np.flatnonzero([solver.value(variable) for variable in taken])
    better = ground.worth(found) < ground.worth(start)
    return (found if better else start), bound, status == cp_model.OPTIMAL


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
