"""Airtime that names on the air cost."""

from heathrise.core.library import limit

# 100 time units of 1024 us.
INTERVAL_MS = 102.4


def beacon_airtime(
    size_bytes: float, rate_mbps: float, preamble_us: float, contention_us: float = 0.0
) -> float:
    """Return the share of airtime one name's beacons take on one radio.

    (preamble + bytes x 8 / lowest rate + contention) / 102.4 ms.

    Raises
    ------
    ValueError
        If the rate is not above zero.

    References
    ----------
    IEEE 802.11-2020, beacon interval of 100 TU.
    """
    if not rate_mbps > 0:
        raise ValueError(f"lowest rate {rate_mbps} Mb/s must be above zero")
    return (preamble_us + size_bytes * 8 / rate_mbps + contention_us) / (INTERVAL_MS * 1000)


def preamble_us(rate_mbps: float) -> float:
    """Return the preamble of a rate: 192 us at 1, 2, 5.5 and 11 Mb/s, 20 us for OFDM."""
    return 192.0 if rate_mbps in (1, 2, 5.5, 11) else 20.0


def name_airtime(rate_mbps: float, size_bytes: float | None = None) -> float:
    """Return one name's share on one radio with this project's contention, and beacon size where none is given."""
    size = limit("network.beacon_bytes") if size_bytes is None else size_bytes
    return beacon_airtime(size, rate_mbps, preamble_us(rate_mbps), limit("network.contention_us"))
