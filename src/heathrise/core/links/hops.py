"""Throughput of transmissions that share one channel."""

from collections.abc import Sequence


def shared_hops_mbps(rates_mbps: Sequence[float]) -> float:
    """Return 1 / sum(1 / r): each hop waits for the others on the same channel. [Mb/s]

    Raises
    ------
    ValueError
        If there is no rate, or one is not above zero.

    Examples
    --------
    >>> shared_hops_mbps([200, 300])
    120.0
    """
    if not rates_mbps or any(not rate > 0 for rate in rates_mbps):
        raise ValueError(f"rates {list(rates_mbps)}: at least one, each above zero")
    return round(1 / sum(1 / rate for rate in rates_mbps), 9)
