"""Antenna patterns: gain below the peak by direction.

A library pattern is one cut, turned about its axis. A pattern of the job's own is two cuts, round
and up, added: gain(direction) = azimuth(round) + elevation(up), both in dB under the peak.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import AccessPoint, Antenna, CutPoint, Job
from heathrise.core.library import library

Floats = NDArray[np.float64]
Vector = tuple[float, float, float]
COSINE_STEPS = 8192
_COSINES = np.linspace(-1.0, 1.0, COSINE_STEPS + 1)
_DEGREES = np.arange(-180.0, 181.0)


@dataclass(frozen=True)
class Pattern:
    """What the kernel reads: by the cosine off the axis, or two cuts by the degree.

    `by_cosine` (8193,) runs from -1 to 1, within 0.01 dB of the cut and without an arc cosine a
    ray; `azimuth` and `elevation` (361,) run from -180 to 180 degrees and are empty for a turned cut.
    """

    by_cosine: Floats
    azimuth: Floats
    elevation: Floats

    def relative_db(self, way: Vector, axis: Vector, up: Vector) -> float:
        """Return the gain under the peak towards `way` (not zero). [dB]"""
        return float(self.towards_db(np.array([way]), axis, up)[0])

    def towards_db(self, ways: Floats, axis: Vector, up: Vector) -> Floats:
        """Return the gain under the peak towards each of `ways` (n, 3), of any length. [dB]"""
        length = np.sqrt(_along(ways, ways.T))
        length[length == 0.0] = 1.0
        forward = _along(ways, axis) / length
        if not len(self.azimuth):
            turned: Floats = np.interp(forward, _COSINES, self.by_cosine)
            return turned
        left = _along(ways, cross(up, axis)) / length
        above = _along(ways, up) / length
        round_deg = np.degrees(np.arctan2(left, forward))
        up_deg = np.degrees(np.arcsin(np.clip(above, -1.0, 1.0)))
        found: Floats = np.interp(round_deg, _DEGREES, self.azimuth)
        return found + np.interp(up_deg, _DEGREES, self.elevation)


def _along(ways: Floats, axis: Vector | Floats) -> Floats:
    """Return the length of each way along an axis."""
    found: Floats = ways[:, 0] * axis[0] + ways[:, 1] * axis[1] + ways[:, 2] * axis[2]
    return found


def cross(a: Vector, b: Vector) -> Vector:
    """Return the vector product."""
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


def pattern(job: Job, code: str) -> Pattern:
    """Return a pattern of the library, or of the job."""
    found = job.patterns[code]
    nothing: Floats = np.empty(0)
    if isinstance(found, Antenna):
        return Pattern(np.zeros(2), _round(found.azimuth), _round(found.elevation))
    angles = np.degrees(np.arccos(_COSINES))
    cut = library().patterns[code]
    table = np.interp(angles, [angle for angle, _ in cut], [level for _, level in cut])
    return Pattern(table, nothing, nothing)


def _round(cut: tuple[CutPoint, ...]) -> Floats:
    """Return a cut at every degree, joined across 180."""
    rows = sorted(cut, key=lambda row: row.angle_deg)
    angles = np.array([row.angle_deg for row in rows])
    levels = np.array([row.relative_db for row in rows])
    table: Floats = np.interp(_DEGREES, angles, levels, period=360.0)
    return table


def code_of(job: Job, point: AccessPoint) -> str:
    """Return the pattern an access point sends by: its own choice, else its model's."""
    return point.antenna or job.equipment[point.model].pattern or "isotropic"


def frame(point: AccessPoint, code: str, own: bool) -> tuple[Vector, Vector]:
    """Return the (axis, up) of an access point's antenna, both of length one.

    A ceiling disc looks straight down; a wall disc along `facing_deg` (clockwise from sheet up),
    turned down by `tilt_deg`; an omni stands upright. A pattern of the job's `own` always looks
    along `facing_deg`.
    """
    if not own and code.startswith("omni"):
        return (0.0, 0.0, 1.0), (0.0, -1.0, 0.0)
    if not own and point.mount in ("ceiling", "desk"):
        return (0.0, 0.0, -1.0 if point.mount == "ceiling" else 1.0), (0.0, -1.0, 0.0)
    turn, tilt = math.radians(point.facing_deg), math.radians(point.tilt_deg)
    ahead = math.sin(turn), -math.cos(turn)
    axis = ahead[0] * math.cos(tilt), ahead[1] * math.cos(tilt), -math.sin(tilt)
    up = ahead[0] * math.sin(tilt), ahead[1] * math.sin(tilt), math.cos(tilt)
    return axis, up
