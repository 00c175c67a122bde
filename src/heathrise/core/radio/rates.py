"""Rates on the air: PHY rate from SNR, and the share of it that people can use.

Symbols: `snr_db` per 20 MHz unless said otherwise; a wider channel spreads the same power, so a
scheme asks 3 dB more per doubling; streams share power, 10 log10(streams).
"""

import math

import numpy as np
from numpy.typing import NDArray

from heathrise.core.library import Mcs, Phy, library

Floats = NDArray[np.float64]
# Usable share of the PHY rate by active clients, between them on the logarithm. Design values.
USABLE = ((1, 0.55), (5, 0.50), (15, 0.45), (30, 0.40))


def phy_rate_mbps(phy: Phy, mcs: Mcs, width_mhz: int, streams: int) -> float:
    """Return carriers x bits x coding x streams / symbol time. [Mb/s]

    Raises
    ------
    ValueError
        If the generation has no such width.

    References
    ----------
    IEEE 802.11-2020 clauses 19 and 21, 802.11ax clause 27, 802.11be clause 36.
    """
    carriers = phy.carriers(width_mhz)
    if carriers is None:
        raise ValueError(f"this generation has no channels of {width_mhz} MHz")
    return carriers * mcs.bits * mcs.coding * streams / phy.symbol_us


def needed_snr_db(mcs: Mcs, width_mhz: int, streams: int) -> float:
    """Return the SNR per 20 MHz a scheme asks on a width with so many streams. [dB]"""
    return mcs.snr_db + 10 * math.log10(width_mhz / 20 * streams)


def rate_steps(generation: str, width_mhz: int, streams: int) -> tuple[Floats, Floats]:
    """Return (snr_db, rate_mbps), each SNR with the best rate it allows, both growing."""
    phy = library().phys[generation]
    steps = sorted(
        (needed_snr_db(mcs, width_mhz, n), phy_rate_mbps(phy, mcs, width_mhz, n))
        for n in range(1, streams + 1)
        for mcs in library().mcs[: phy.top_mcs + 1]
    )
    snr, rate = (np.array(column) for column in zip(*steps, strict=True))
    return snr, np.maximum.accumulate(rate)


def phy_rates_mbps(snr_db: Floats, generation: str, width_mhz: int, streams: int) -> Floats:
    """Return the PHY rate at each SNR per 20 MHz; 0 where no scheme holds."""
    needs, rates = rate_steps(generation, width_mhz, streams)
    step = np.searchsorted(needs, snr_db, side="right") - 1
    found: Floats = np.where(step >= 0, rates[np.maximum(step, 0)], 0.0)
    return found


def usable_share(active_clients: float) -> float:
    """Return the share of the PHY rate left for people with so many active clients."""
    return float(usable_shares(np.array([active_clients]))[0])


def usable_shares(active_clients: Floats) -> Floats:
    """Return the same for each of several numbers of clients, (n,)."""
    counts, shares = zip(*USABLE, strict=True)
    found: Floats = np.interp(np.log(np.maximum(active_clients, 1.0)), np.log(counts), shares)
    return found
