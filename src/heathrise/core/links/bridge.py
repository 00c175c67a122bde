"""Geometry of a radio bridge."""

import math

from scipy.optimize import brentq

from heathrise.core.library import limit
from heathrise.core.sums import Noun


class Clearance(Noun):
    """What must be free round the middle of a path. [m]"""

    first_zone_m: float
    sixty_percent_m: float
    earth_bulge_m: float


def first_zone_m(d1_km: float, d2_km: float, f_ghz: float) -> float:
    """Return the radius of the first Fresnel zone at a place of a path. [m]

    r = 17.32 sqrt(d1 d2 / (f d)), with d = d1 + d2.

    Raises
    ------
    ValueError
        If the way to an end is below zero, the path has no length, or the frequency is not above zero.

    References
    ----------
    ITU-R P.526, section 2.
    """
    if d1_km < 0 or d2_km < 0 or not d1_km + d2_km > 0 or not f_ghz > 0:
        raise ValueError(
            f"{d1_km} km and {d2_km} km of a path at {f_ghz} GHz: length and frequency above zero"
        )
    return 17.32 * math.sqrt(d1_km * d2_km / (f_ghz * (d1_km + d2_km)))


def earth_bulge_m(d1_km: float, d2_km: float, k: float = 4 / 3) -> float:
    """Return by how much the earth rises over the straight line between two ends, at a place of the path. [m]

    d1 d2 / (12.74 k); `k` is the effective earth-radius factor.

    References
    ----------
    ITU-R P.530, section 2.2.
    """
    return d1_km * d2_km / (12.74 * k)


def fresnel_clearance(distance_km: float, f_ghz: float, k: float = 4 / 3) -> Clearance:
    """Return the first Fresnel zone and the earth's bulge at the middle of a path.

    Raises
    ------
    ValueError
        If the distance or the frequency is not above zero.

    References
    ----------
    ITU-R P.526, section 2; k is the effective earth-radius factor.
    """
    if not (distance_km > 0 and f_ghz > 0):
        raise ValueError(f"distance {distance_km} km and {f_ghz} GHz must both be above zero")
    half = distance_km / 2
    zone = first_zone_m(half, half, f_ghz)
    return Clearance(
        first_zone_m=zone,
        sixty_percent_m=limit("links.zone_share") * zone,
        earth_bulge_m=earth_bulge_m(half, half, k),
    )


def free_space_db(distance_km: float, f_ghz: float) -> float:
    """Return the free-space loss of a path. [dB]

    92.45 + 20 log10(d) + 20 log10(f).

    Raises
    ------
    ValueError
        If the distance or the frequency is not above zero.

    References
    ----------
    ITU-R P.525.
    """
    if not (distance_km > 0 and f_ghz > 0):
        raise ValueError(f"distance {distance_km} km and {f_ghz} GHz must both be above zero")
    return 92.45 + 20 * math.log10(distance_km) + 20 * math.log10(f_ghz)


def rain_db_km(rain_mm_h: float) -> float:
    """Return what rain takes of a path at 60 GHz. [dB/km]

    0.86 R^0.77.

    Raises
    ------
    ValueError
        If the rain is below zero.

    References
    ----------
    ITU-R P.838 at 60 GHz.
    """
    if rain_mm_h < 0:
        raise ValueError(f"rain of {rain_mm_h} mm/h is below zero")
    return 0.86 * float(rain_mm_h**0.77)


def rain_share(fade_db: float, at_001_db: float) -> float:
    """Return in how much of the year rain takes more than a fade, from what it takes in 0.01 % of it. [% of the year]

    A_p = A_0.01 x 0.12 p^-(0.546 + 0.043 log10 p), solved for p between 0.001 % and 1 %; what lies outside is given as
    its edge.

    Raises
    ------
    ValueError
        If a fade is not above zero.

    References
    ----------
    ITU-R P.530-12, section 2.4.1, for latitudes of 30 degrees and more.
    """
    if not fade_db > 0 or not at_001_db > 0:
        raise ValueError(f"fades of {fade_db} dB and {at_001_db} dB must both be above zero")

    def over(log_p: float) -> float:
        return at_001_db * 0.12 * 10 ** (-log_p * (0.546 + 0.043 * log_p)) - fade_db

    least, most = -3.0, 0.0
    if over(least) <= 0:
        return 10**least
    if over(most) >= 0:
        return 10**most
    return float(10 ** brentq(over, least, most))


def fog_db_km(sight_m: float) -> float:
    """Return what fog takes of a light beam, by how far one sees in it. [dB/km]

    17 / V with V in km: in fog under 500 m of sight every colour of light fares alike.

    Raises
    ------
    ValueError
        If the sight is not above zero.

    References
    ----------
    ITU-R P.1814, section 2; Kruse's formula with q = 0.
    """
    if not sight_m > 0:
        raise ValueError(f"a sight of {sight_m} m must be above zero")
    return 17.0 / (sight_m / 1000)
