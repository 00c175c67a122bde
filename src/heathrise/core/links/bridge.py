"""Geometry of a radio bridge."""

import math

from heathrise.core.sums import Noun


class Clearance(Noun):
    """What must be free round the middle of a path. [m]"""

    first_zone_m: float
    sixty_percent_m: float
    earth_bulge_m: float


def fresnel_clearance(distance_km: float, f_ghz: float, k: float = 4 / 3) -> Clearance:
    """Return the first Fresnel zone and the earth's bulge at the middle of a path.

    r = 17.32 sqrt(d1 d2 / (f d)); bulge = d1 d2 / (12.74 k), with d1 = d2 = d / 2.

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
    zone = 17.32 * math.sqrt(half * half / (f_ghz * distance_km))
    return Clearance(first_zone_m=zone, sixty_percent_m=0.6 * zone, earth_bulge_m=half * half / (12.74 * k))
