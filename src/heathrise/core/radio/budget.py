"""The link budget, one formula a function."""

import math

from heathrise.core.job import BANDS, Band
from heathrise.core.library import library

# 20 log10(4 pi / c) with metres and hertz.
_FREE_SPACE_DB = 20 * math.log10(4 * math.pi / 299_792_458.0)


def band_mhz(band: Band, domain: str) -> float:
    """Return the frequency that stands for a band under a domain's rules. Raises UnknownItem. [MHz]"""
    return 1000 * library().domains[domain].middle_ghz[BANDS.index(band)]


def free_space_1m_db(f_mhz: float) -> float:
    """Return free-space loss over 1 m between isotropic antennas. [dB]

    Raises
    ------
    ValueError
        If `f_mhz` is not above zero.

    References
    ----------
    ITU-R P.525: 20 log10(4 pi d f / c).
    """
    if not f_mhz > 0:
        raise ValueError(f"f_mhz is {f_mhz}; it must be above zero")
    return 20 * math.log10(f_mhz * 1e6) + _FREE_SPACE_DB


def path_loss_db(distance_m: float, f_mhz: float, exponent: float = 2.0, crossings_db: float = 0.0) -> float:
    """Return the loss over a path: free space at 1 m, distance, and what stands in the way. [dB]

    Below 1 m the distance counts as 1 m.

    References
    ----------
    COST 231 final report, multi-wall model, with the exponent of free space.

    Examples
    --------
    >>> round(path_loss_db(10, 5500), 3)
    67.255
    """
    far = 10 * exponent * math.log10(max(distance_m, 1.0))
    return free_space_1m_db(f_mhz) + far + crossings_db


def noise_floor_dbm(bandwidth_mhz: float, noise_figure_db: float) -> float:
    """Return thermal noise in a bandwidth plus the receiver's own. [dBm]

    Raises
    ------
    ValueError
        If `bandwidth_mhz` is not above zero.

    Examples
    --------
    >>> round(noise_floor_dbm(20, 7), 4)
    -93.9897
    """
    if not bandwidth_mhz > 0:
        raise ValueError(f"bandwidth_mhz is {bandwidth_mhz}; it must be above zero")
    return -174 + 10 * math.log10(bandwidth_mhz * 1e6) + noise_figure_db
