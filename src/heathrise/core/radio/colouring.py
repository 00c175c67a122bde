"""Channels as a colouring with weights: greedy, improved, and solved with a bound.

A seat is a radio that needs a channel; its choices are blocks. What a plan costs is the sum over
pairs of weight x share of channel in common, plus what known neighbours put on each block.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from ortools.sat.python import cp_model

Floats = NDArray[np.float64]
Block = tuple[float, float]
# Costs are whole numbers to the solver.
_GRAIN = 10_000


@dataclass(frozen=True)
class Puzzle:
    """Seats with the blocks each may take (MHz), pair weights (n, n), and a cost of each choice."""

    choices: tuple[tuple[Block, ...], ...]
    weights: tuple[tuple[float, ...], ...]
    own: tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class Colouring:
    """A choice per seat, what it costs, what greedy cost, and a bound no plan is under."""

    chosen: tuple[int, ...]
    total: float
    greedy: float
    bound: float
    proven: bool


def overlap(one: Block, other: Block) -> float:
    """Return the share of the narrower block that two blocks have in common, 0 to 1."""
    common = min(one[1], other[1]) - max(one[0], other[0])
    return max(0.0, common / min(one[1] - one[0], other[1] - other[0]))


def cost(puzzle: Puzzle, chosen: Sequence[int]) -> float:
    """Return what a plan costs."""
    total = sum(puzzle.own[i][c] for i, c in enumerate(chosen))
    for i in range(len(chosen)):
        for j in range(i):
            if puzzle.weights[i][j] > 0:
                shared = overlap(puzzle.choices[i][chosen[i]], puzzle.choices[j][chosen[j]])
                total += puzzle.weights[i][j] * shared
    return total


def greedy(puzzle: Puzzle) -> tuple[int, ...]:
    """Return a plan made seat by seat, the most-heard first, each on its least block."""
    order = sorted(range(len(puzzle.choices)), key=lambda i: -sum(puzzle.weights[i]))
    chosen: dict[int, int] = {}
    for i in order:
        chosen[i] = int(np.argmin(_prices(puzzle, chosen, i)))
    return tuple(chosen[i] for i in range(len(puzzle.choices)))


def improved(puzzle: Puzzle, start: Sequence[int]) -> tuple[int, ...]:
    """Return a plan no change of one seat makes better."""
    chosen = dict(enumerate(start))
    for _ in range(len(chosen) + 1):
        changed = False
        for i in chosen:
            prices = _prices(puzzle, chosen, i)
            best = int(np.argmin(prices))
            if prices[best] < prices[chosen[i]] - 1e-9:
                chosen[i], changed = best, True
        if not changed:
            break
    return tuple(chosen[i] for i in range(len(chosen)))


def _prices(puzzle: Puzzle, chosen: dict[int, int], i: int) -> Floats:
    """Return what each block would cost one seat, beside the seats already placed."""
    prices = np.array(puzzle.own[i], float)
    for j, c in chosen.items():
        weight = puzzle.weights[i][j]
        if j != i and weight > 0:
            prices += [weight * overlap(block, puzzle.choices[j][c]) for block in puzzle.choices[i]]
    return prices


@lru_cache(maxsize=64)
def solve(puzzle: Puzzle, seconds: float) -> Colouring:
    """Return the best plan found in a time, with its bound; the same at every call.

    The time is the solver's own count of its work, so that an answer does not depend on how busy
    the machine is.
    """
    first = greedy(puzzle)
    start = improved(puzzle, first)
    greedy_cost, start_cost = cost(puzzle, first), cost(puzzle, start)
    if start_cost <= 1e-9 or seconds <= 0:
        return Colouring(start, start_cost, greedy_cost, 0.0, start_cost <= 1e-9)
    model, seats = _model(puzzle)
    for i, row in enumerate(seats):
        for c, variable in enumerate(row):
            model.add_hint(variable, c == start[i])
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = seconds
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Colouring(
            start, start_cost, greedy_cost, max(0.0, solver.best_objective_bound / _GRAIN), False
        )
    found = tuple(next(c for c, v in enumerate(row) if solver.value(v)) for row in seats)
    found = min((improved(puzzle, found), start), key=lambda plan: cost(puzzle, plan))
    total = cost(puzzle, found)
    proven = status == cp_model.OPTIMAL
    bound = total if proven else min(total, max(0.0, solver.best_objective_bound / _GRAIN))
    return Colouring(found, total, greedy_cost, bound, proven)


def _model(puzzle: Puzzle) -> tuple[cp_model.CpModel, list[list[cp_model.IntVar]]]:
    """Return the puzzle for the solver: one block a seat, a cost for every pair on common ground."""
    model = cp_model.CpModel()
    seats = [
        [model.new_bool_var(f"s{i}b{c}") for c in range(len(blocks))]
        for i, blocks in enumerate(puzzle.choices)
    ]
    terms: list[cp_model.LinearExprT] = []
    for i, row in enumerate(seats):
        model.add_exactly_one(row)
        terms += [round(puzzle.own[i][c] * _GRAIN) * v for c, v in enumerate(row)]
        for j in range(i):
            if puzzle.weights[i][j] <= 0:
                continue
            both = model.new_int_var(0, round(puzzle.weights[i][j] * _GRAIN) + 1, f"w{i}_{j}")
            for c, mine in enumerate(row):
                for d, theirs in enumerate(seats[j]):
                    shared = overlap(puzzle.choices[i][c], puzzle.choices[j][d])
                    if shared > 0:
                        price = round(puzzle.weights[i][j] * shared * _GRAIN)
                        model.add(both >= price).only_enforce_if(mine, theirs)
            terms.append(both)
    model.minimize(sum(terms))
    return model, seats
