"""A search for cheaper plans: spots dropped and taken by turns, none soon undone.

What a plan lacks is counted by space, so that a place more where the share is met already counts for
nothing. Each spot is read as the list of places it reaches: most reach few.

References
----------
Tabu search with strategic oscillation (Glover and Laguna, Tabu Search, 1997): plans are let fall short
and made good again, always under the price of the best one found.
"""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from heathrise.core.radio.ground import Ground

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def searched(ground: Ground, start: Ints, steps: int, turn: int = 0) -> Ints:
    """Return the cheapest plan found in some steps that lacks no more than the start.

    The same at every call; another `turn` wanders another way.
    """
    if not len(ground.spots) or not ground.spaces:
        return start
    kept = np.array([spot.kept for spot in ground.spots])
    offsets, places, at_best, at_second = _reached(ground)
    space, twice = np.zeros(ground.best.shape[1], np.int64), np.zeros(len(ground.spaces), bool)
    for number, wanted in enumerate(ground.spaces):
        space[wanted.rows], twice[number] = number, wanted.needs_second
    taken = np.zeros(len(ground.spots), bool)
    taken[start] = True
    found = _search(
        offsets,
        places,
        at_best,
        at_second,
        space,
        np.where(twice, 2, 0),
        ground.reachable(),
        ground.prices,
        kept,
        taken,
        ground.least_points,
        steps,
        turn,
    )
    plan: Ints = np.flatnonzero(found)
    return plan if ground.worth(plan) < ground.worth(start) else start


def _reached(ground: Ground) -> tuple[Ints, Ints, Ints, Ints]:
    """Return (offsets, places, reached at best, at second) of all spots, one after another."""
    spots, places = np.nonzero(ground.best | ground.second)
    offsets = np.concatenate([[0], np.cumsum(np.bincount(spots, minlength=len(ground.spots)))])
    best, second = ground.best[spots, places], ground.second[spots, places]
    return offsets, places, best.astype(np.int64), second.astype(np.int64)


@njit(cache=True, nogil=True)
def _short(met: Ints, needed: Ints) -> int:  # pragma: no cover
    """Return how many places are lacking."""
    total = 0
    for w in range(len(met)):
        total += max(0, needed[w] - met[w])
    return total


@njit(cache=True, nogil=True)
def _change(  # noqa: PLR0913, PLR0917
    sign: int,
    spot: int,
    offsets: Ints,
    places: Ints,
    at_best: Ints,
    at_second: Ints,
    space: Ints,
    seconds: Ints,
    needed: Ints,
    met: Ints,
    once: Ints,
    twice: Ints,
    moved: Ints,
) -> float:  # pragma: no cover
    """Return by how much less is lacking with a spot taken (sign 1) or dropped (-1), a place met counting 1.

    A place half way to its second signal counts a little, so that steps without effect still lead on.
    """
    moved[:] = 0
    little = 0.0
    for n in range(offsets[spot], offsets[spot + 1]):
        p = places[n]
        w = space[p]
        b, s = once[p] + sign * at_best[n], twice[p] + sign * at_second[n]
        had = once[p] >= 1 and twice[p] >= seconds[w]
        has = b >= 1 and s >= seconds[w]
        if had != has:
            moved[w] += 1 if has else -1
        elif not has:
            little += 1e-3 * (min(s, seconds[w]) - min(twice[p], seconds[w]) + min(b, 1) - min(once[p], 1))
    total = little
    for w in range(len(moved)):
        if moved[w] != 0:
            before, after = max(0, needed[w] - met[w]), max(0, needed[w] - met[w] - moved[w])
            total += before - after + 1e-4 * moved[w]
    return total


@njit(cache=True, nogil=True)
def _do(  # noqa: PLR0913, PLR0917
    sign: int,
    spot: int,
    offsets: Ints,
    places: Ints,
    at_best: Ints,
    at_second: Ints,
    space: Ints,
    seconds: Ints,
    met: Ints,
    once: Ints,
    twice: Ints,
) -> None:  # pragma: no cover
    """Take (sign 1) or drop (-1) a spot."""
    for n in range(offsets[spot], offsets[spot + 1]):
        p = places[n]
        w = space[p]
        had = once[p] >= 1 and twice[p] >= seconds[w]
        once[p] += sign * at_best[n]
        twice[p] += sign * at_second[n]
        has = once[p] >= 1 and twice[p] >= seconds[w]
        if had != has:
            met[w] += 1 if has else -1


@njit(cache=True, nogil=True)
def _search(  # noqa: PLR0913, PLR0917
    offsets: Ints,
    places: Ints,
    at_best: Ints,
    at_second: Ints,
    space: Ints,
    seconds: Ints,
    needed: Ints,
    prices: Floats,
    kept: Bools,
    taken: Bools,
    least_points: int,
    steps: int,
    turn: int,
) -> Bools:  # pragma: no cover
    """Return the cheapest spots met on the way that lack nothing; the start when none does."""
    spots = len(prices)
    met, moved = np.zeros(len(needed), np.int64), np.zeros(len(needed), np.int64)
    once, twice = np.zeros(len(space), np.int64), np.zeros(len(space), np.int64)
    now, best, until = taken.copy(), taken.copy(), np.zeros(spots, np.int64)
    price, count = 0.0, 0
    for spot in range(spots):
        if now[spot]:
            _do(1, spot, offsets, places, at_best, at_second, space, seconds, met, once, twice)
            price, count = price + prices[spot], count + 1
    # A start that lacks something may be bettered at any price.
    least = price if _short(met, needed) == 0 and count >= least_points else np.inf
    for step in range(steps):
        lacking = _short(met, needed)
        if lacking == 0 and count >= least_points and price < least - 1e-9:
            least = price
            best[:] = now
        dearest = least - 1e-9
        # While nothing lacks, or nothing more can be paid for, one is dropped; else one is taken.
        cheapest = np.inf
        for spot in range(spots):
            if not now[spot] and until[spot] <= step:
                cheapest = min(cheapest, prices[spot])
        dropping = (lacking == 0 and count >= least_points) or price + cheapest >= dearest
        picked, worth = -1, -np.inf
        for spot in range(spots):
            if now[spot] != dropping or until[spot] > step or (dropping and kept[spot]):
                continue
            if not dropping and price + prices[spot] >= dearest:
                continue
            change = _change(
                -1 if dropping else 1, spot, offsets, places, at_best, at_second, space, seconds, needed,
                met, once, twice, moved,
            )  # fmt: skip
            # The least lost for the price saved, or the most won for the price paid.
            value = (change + (-1e-6 if dropping else 1e-6)) / prices[spot]
            if value > worth:
                picked, worth = spot, value
        if picked < 0:
            continue
        sign = -1 if dropping else 1
        _do(sign, picked, offsets, places, at_best, at_second, space, seconds, met, once, twice)
        now[picked] = not dropping
        price, count = price + sign * prices[picked], count + sign
        # How long a step may not be undone varies without a rhythm: else the search goes in rings.
        until[picked] = step + (5 + (step + turn) * 7919 % 11 if dropping else 3 + (step + turn) * 7919 % 5)
    return best
