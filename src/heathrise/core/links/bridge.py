"""Geometry of a radio bridge."""

import math

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
