"""Channels as a colouring with weights: greedy, wandered on from there, and solved or with a bound.

A seat is a radio that needs a channel; its choices are blocks. What a plan costs is the sum over
pairs of weight x share of channel in common, plus what known neighbours put on each block. A few
seats are solved exactly. Of many, the plan is the best a search finds; the bound adds up what groups
of seats cost at the least, each solved on its own.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray
from ortools.sat.python import cp_model

from heathrise.core.library import limit

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Block = tuple[float, float]
# Costs are whole numbers to the solver.
_GRAIN = 10_000
# How far a search wanders, and how many seats are solved together for the bound.
_STEPS = 4000
_GROUP = 15


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


@cache
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


def wandered(puzzle: Puzzle, start: Sequence[int], steps: int = _STEPS) -> tuple[int, ...]:
    """Return the best plan met on a walk that always takes the best change of one seat not lately undone.

    The same at every call. References: tabu search for colouring (Hertz and de Werra, Computing 39, 1987).
    """
    ground = _Ground.of(puzzle)
    now = np.array([ground.numbers[row[c]] for row, c in zip(puzzle.choices, start, strict=True)], np.int64)
    prices = ground.own + ground.weights @ ground.shared[now]
    found = _wander(ground.weights, ground.shared, prices, now, cost(puzzle, start), steps)
    return tuple(row.index(ground.blocks[n]) for row, n in zip(puzzle.choices, found, strict=True))


@njit(cache=True, nogil=True)
def _wander(
    weights: Floats, shared: Floats, prices: Floats, start: Ints, total: float, steps: int
) -> Ints:  # pragma: no cover
    """Return the best blocks met, (seats,). `prices` (seats, blocks) is what each costs now, and is used up."""
    now, found, best = start.copy(), start.copy(), total
    until = np.zeros(prices.shape, np.int64)
    for step in range(steps):
        if best <= 1e-9:
            break
        i, block, least = _best_change(prices, now, until, step, best - total - 1e-9)
        if i < 0:
            continue
        total += least
        for j in range(len(now)):
            for k in range(prices.shape[1]):
                prices[j, k] += weights[i, j] * (shared[block, k] - shared[now[i], k])
        # How long a change may not be undone varies without a rhythm: else the walk goes in rings.
        until[i, now[i]] = step + 10 + step * 7919 % 17
        now[i] = block
        if total < best - 1e-9:
            best, found = total, now.copy()
    return found


@njit(cache=True, nogil=True)
def _best_change(
    prices: Floats, now: Ints, until: Ints, step: int, record: float
) -> tuple[int, int, float]:  # pragma: no cover
    """Return (seat, block, change of cost) of the best change of one seat, seat -1 when there is none.

    One lately undone is left out, unless it changes the cost by less than `record`: then it is the best yet.
    """
    found, at, least = -1, -1, np.inf
    for i in range(len(now)):
        for k in range(prices.shape[1]):
            change = prices[i, k] - prices[i, now[i]]
            if k == now[i] or change >= least or (until[i, k] > step and change > record):
                continue
            found, at, least = i, k, change
    return found, at, least


@dataclass(frozen=True)
class _Ground:
    """A puzzle as arrays: all blocks there are, what any two share, and what each costs each seat."""

    blocks: tuple[Block, ...]
    numbers: dict[Block, int]
    shared: Floats
    own: Floats
    weights: Floats

    @classmethod
    def of(cls, puzzle: Puzzle) -> "_Ground":
        """Return the arrays; a block a seat may not take costs it without end."""
        blocks = tuple(sorted({block for row in puzzle.choices for block in row}))
        numbers = {block: n for n, block in enumerate(blocks)}
        own = np.full((len(puzzle.choices), len(blocks)), np.inf)
        for i, row in enumerate(puzzle.choices):
            own[i, [numbers[block] for block in row]] = puzzle.own[i]
        weights = np.array(puzzle.weights, float)
        np.fill_diagonal(weights, 0.0)
        return cls(blocks, numbers, np.array([[overlap(a, b) for b in blocks] for a in blocks]), own, weights)


@lru_cache(maxsize=64)
def solve(puzzle: Puzzle, seconds: float) -> Colouring:
    """Return the best plan found, with its bound when there are `seconds` for one; the same at every call.

    The time is the solver's own count of its work, so that an answer does not depend on how busy
    the machine is.
    """
    first = greedy(puzzle)
    greedy_cost = cost(puzzle, first)
    plan = wandered(puzzle, improved(puzzle, first))
    total = cost(puzzle, plan)
    if total <= 1e-9 or seconds <= 0:
        return Colouring(plan, total, greedy_cost, 0.0, total <= 1e-9)
    if len(puzzle.choices) <= limit("air.exact_seats"):
        found, bound = _solved(puzzle, plan, seconds)
        plan = min((found, plan), key=lambda one: cost(puzzle, one))
    else:
        bound = bound_of(puzzle, plan, seconds)
    total = cost(puzzle, plan)
    proven = bound >= total - 1e-3
    return Colouring(plan, total, greedy_cost, total if proven else bound, proven)


def spread(puzzle: Puzzle, chosen: Sequence[int]) -> tuple[int, ...]:
    """Return a plan that costs no more with those that hear each other loudest farther apart.

    Channels without common ground still disturb each other a little: a filter is no wall. Seat by seat, the
    loudest pair first, the block is taken that costs the same and leaves the widest gap, weighed by loudness.
    """
    plan, weights = list(chosen), np.array(puzzle.weights, float).reshape(len(chosen), -1)
    order = sorted(range(len(plan)), key=lambda i: -float(weights[i].max(initial=0.0)))
    for _ in range(len(plan)):
        before = tuple(plan)
        for i in order:
            prices = _prices(puzzle, dict(enumerate(plan)), i)
            equal = [c for c in range(len(prices)) if prices[c] <= prices[plan[i]] + 1e-9]
            plan[i] = max(equal, key=lambda c: (_clear_of(puzzle, plan, i, c), c == plan[i]))
        if tuple(plan) == before:
            break
    return tuple(plan)


def _clear_of(puzzle: Puzzle, plan: Sequence[int], i: int, choice: int) -> float:
    """Return how clear a block lies of the seats a seat hears: gaps by weight, one of two widths is wide enough."""
    mine = puzzle.choices[i][choice]
    width, total = mine[1] - mine[0], 0.0
    for j, c in enumerate(plan):
        if j != i and puzzle.weights[i][j] > 0:
            other = puzzle.choices[j][c]
            gap = max(other[0] - mine[1], mine[0] - other[1], 0.0)
            total += puzzle.weights[i][j] * min(gap, 2 * width) / width
    return round(total, 6)


def bound_of(puzzle: Puzzle, plan: Sequence[int], seconds: float) -> float:
    """Return what no plan is under: groups of seats that hear each other most, each solved alone, added up."""
    groups = groups_of(np.array(puzzle.weights, float))
    return sum(_solved(part_of(puzzle, g), [plan[i] for i in g], seconds / len(groups))[1] for g in groups)


def groups_of(weights: Floats) -> list[list[int]]:
    """Return every seat in one group, each grown from the most-heard seat by those it hears most."""
    left, groups = list(range(len(weights))), []
    while left:
        group = [max(left, key=lambda i: weights[i, left].sum())]
        while len(group) < min(_GROUP, len(left)):
            rest = [i for i in left if i not in group]
            group.append(max(rest, key=lambda i: weights[i, group].sum()))
        groups.append(sorted(group))
        left = [i for i in left if i not in group]
    return groups


def part_of(puzzle: Puzzle, group: Sequence[int]) -> Puzzle:
    """Return the puzzle of some seats alone."""
    return Puzzle(
        tuple(puzzle.choices[i] for i in group),
        tuple(tuple(puzzle.weights[i][j] for j in group) for i in group),
        tuple(puzzle.own[i] for i in group),
    )


def _solved(puzzle: Puzzle, start: Sequence[int], seconds: float) -> tuple[tuple[int, ...], float]:
    """Return the solver's plan, or the start when it finds none, and its bound."""
    model, seats = _model(puzzle)
    for i, row in enumerate(seats):
        for c, variable in enumerate(row):
            model.add_hint(variable, c == start[i])
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = seconds
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    status = solver.solve(model)
    bound = max(0.0, solver.best_objective_bound / _GRAIN)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return tuple(start), bound
    return tuple(next(c for c, v in enumerate(row) if solver.value(v)) for row in seats), bound


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
