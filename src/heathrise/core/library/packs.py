"""What a number of pieces costs when some come in packs."""

from collections.abc import Sequence

from heathrise.core.library.equipment import Pack


def packed_price(count: int, each: float, packs: Sequence[Pack]) -> float:
    """Return the least price of at least `count` pieces, singly at `each` and in packs.

    Dynamic programming over the count; a pack may hold more than is still needed.

    Raises
    ------
    ValueError
        If count is negative.

    Examples
    --------
    >>> packed_price(7, 100.0, [Pack(count=3, price=270.0), Pack(count=5, price=420.0)])
    620.0
    """
    if count < 0:
        raise ValueError(f"count is {count}; zero is the least")
    sizes = [(1, each), *((pack.count, pack.price) for pack in packs)]
    least = [0.0] * (count + 1)
    for need in range(1, count + 1):
        least[need] = min(price + least[max(0, need - size)] for size, price in sizes)
    return round(least[count], 2)
