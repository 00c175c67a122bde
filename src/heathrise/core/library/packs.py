"""What a number of pieces costs when some come in packs."""

import math
from collections import Counter
from collections.abc import Sequence
from functools import reduce

from heathrise.core.library.equipment import Pack


def least_packs(count: int, sizes: Sequence[tuple[int, float]]) -> Counter[int]:
    """Return how many of each pack, by its place among `sizes` (pieces, price), cover a count at least cost.

    Dynamic programming in steps of the packs' common size; a pack may hold more than is still needed, and of packs
    that cost the same the larger is taken.

    Raises
    ------
    ValueError
        If count is negative, or there is no pack.
    """
    if count < 0:
        raise ValueError(f"count is {count}; zero is the least")
    if not sizes:
        raise ValueError("nobody offers it")
    step = reduce(math.gcd, (size for size, _ in sizes))
    steps = [(size // step, price) for size, price in sizes]
    need = math.ceil(count / step)
    least, taken = [0.0] * (need + 1), [0] * (need + 1)
    for n in range(1, need + 1):
        costs = [price + least[max(0, n - size)] for size, price in steps]
        taken[n] = min(range(len(steps)), key=lambda at: (costs[at], -steps[at][0]))
        least[n] = costs[taken[n]]
    found: Counter[int] = Counter()
    while need > 0:
        found[taken[need]] += 1
        need -= steps[taken[need]][0]
    return found


def packed_price(count: int, each: float, packs: Sequence[Pack]) -> float:
    """Return the least price of at least `count` pieces, singly at `each` and in packs.

    Raises
    ------
    ValueError
        If count is negative.

    Examples
    --------
    >>> packed_price(7, 100.0, [Pack(count=3, price=270.0), Pack(count=5, price=420.0)])
    620.0
    """
    sizes = [(1, each), *((pack.count, pack.price) for pack in packs)]
    return round(sum(sizes[at][1] * times for at, times in least_packs(count, sizes).items()), 2)
