"""The path of a radio bridge: what stands in its way, how high its masts must be, which way they look.

Symbols: `d1`, `d2` the way to a place of the path from one end and from the other, `k` the effective
earth-radius factor (4/3). A profile is a list of places in order from one end to the other, each with
the height of the ground and of what stands on it.
"""

import math
from collections.abc import Sequence
from itertools import pairwise

from pydantic import Field

from heathrise.core.job import PathPoint
from heathrise.core.library import limit
from heathrise.core.links.bridge import earth_bulge_m, first_zone_m
from heathrise.core.sums import Noun

_K = 4 / 3


class Masts(Noun):
    """How high over the ground each end's antenna stands. [m]"""

    from_m: float = Field(gt=0)
    to_m: float = Field(gt=0)


class PathPlace(Noun):
    """How much is free over one place of a path, and how much should be. [m]"""

    distance_m: float
    free_m: float
    needs_m: float
    bulge_m: float


class PathCheck(Noun):
    """A path looked along: every place between its ends, the worst of them, and by how much both masts must
    rise for it to be clear.
    """

    places: tuple[PathPlace, ...]
    worst: PathPlace | None
    raise_m: float

    @property
    def is_clear(self) -> bool:
        """Whether the wanted share of the first Fresnel zone is free all along."""
        return self.raise_m == 0


def checked_profile(points: Sequence[PathPoint]) -> tuple[PathPoint, ...]:
    """Return a profile's places.

    Raises
    ------
    ValueError
        If it has fewer than two places, does not begin at 0 m, or a place does not lie beyond the one before;
        the message names it.
    """
    if len(points) < 2:
        raise ValueError("a path has two ends at the least")
    if points[0].distance_m != 0:
        raise ValueError(f"the path begins at {points[0].distance_m:g} m; its first place is at 0 m")
    for before, after in pairwise(points):
        if after.distance_m <= before.distance_m:
            raise ValueError(
                f"the places of the path are out of order: {after.distance_m:g} m stands after {before.distance_m:g} m"
            )
    return tuple(points)


def path_check(points: Sequence[PathPoint], masts: Masts, f_ghz: float) -> PathCheck:
    """Return what is free over each place between the ends of a path, and what is wanted.

    Free is the straight line between both antennas, less ground, what stands there and the earth's bulge;
    wanted is 60 % of the first Fresnel zone there.

    Raises
    ------
    ValueError
        As `checked_profile`, or for a frequency that is not above zero.

    References
    ----------
    ITU-R P.530 section 2.2.2 (clearance of 60 % of the first zone), ITU-R P.526 section 2.
    """
    places = checked_profile(points)
    found = tuple(_place(places, place, masts, f_ghz) for place in places[1:-1])
    worst = min(found, key=lambda place: place.free_m - place.needs_m, default=None)
    lacking = max(0.0, worst.needs_m - worst.free_m) if worst else 0.0
    return PathCheck(places=found, worst=worst, raise_m=lacking)


def _place(places: tuple[PathPoint, ...], place: PathPoint, masts: Masts, f_ghz: float) -> PathPlace:
    first, last = places[0], places[-1]
    d1_km, d2_km = place.distance_m / 1000, (last.distance_m - place.distance_m) / 1000
    share = place.distance_m / last.distance_m
    start_m, stop_m = first.ground_m + masts.from_m, last.ground_m + masts.to_m
    line_m = start_m + share * (stop_m - start_m)
    bulge_m = earth_bulge_m(d1_km, d2_km, _K)
    return PathPlace(
        distance_m=place.distance_m,
        free_m=line_m - place.ground_m - place.obstacle_m - bulge_m,
        needs_m=limit("links.zone_share") * first_zone_m(d1_km, d2_km, f_ghz),
        bulge_m=bulge_m,
    )


def bearing_deg(east_m: float, north_m: float) -> float:
    """Return which way one end looks to the other, clockwise from north, 0 to 360. [deg]

    Raises
    ------
    ValueError
        If both ends stand at one place.
    """
    if east_m == 0 and north_m == 0:
        raise ValueError("both ends stand at one place; there is no way to look")
    return math.degrees(math.atan2(east_m, north_m)) % 360.0


def tilt_deg(distance_m: float, rise_m: float) -> float:
    """Return how far over (or, below zero, under) the level an antenna looks to one that stands higher. [deg]

    The earth's fall over the distance counts: over 5 km it is 1.5 m, 0.02 degrees.

    Raises
    ------
    ValueError
        If the distance is not above zero.
    """
    if not distance_m > 0:
        raise ValueError(f"distance {distance_m} m must be above zero")
    fall_m = (distance_m / 1000) ** 2 / (12.74 * _K)
    return math.degrees(math.atan2(rise_m - fall_m, distance_m))
