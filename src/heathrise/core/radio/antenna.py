"""Antenna patterns: gain below the peak by angle off the antenna's axis."""

import math
from functools import cache

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import AccessPoint
from heathrise.core.library import library

Floats = NDArray[np.float64]


@cache
def pattern_table(name: str) -> Floats:
    """Return relative gain at 0, 1, ... 180 degrees off the axis, shape (181,). [dB]"""
    cut = library().patterns[name]
    angles = [angle for angle, _ in cut]
    table: Floats = np.interp(np.arange(181.0), angles, [level for _, level in cut])
    return table


COSINE_STEPS = 8192


@cache
def pattern_by_cosine(name: str) -> Floats:
    """Return relative gain by the cosine off the axis, from -1 to 1, shape (8193,). [dB]

    What the kernel reads: within 0.01 dB of the pattern, without an arc cosine a ray.
    """
    cut = library().patterns[name]
    angles = np.degrees(np.arccos(np.linspace(-1.0, 1.0, COSINE_STEPS + 1)))
    table: Floats = np.interp(angles, [angle for angle, _ in cut], [level for _, level in cut])
    return table


def axis(point: AccessPoint) -> tuple[float, float, float]:
    """Return the unit axis of an access point's antenna: its face's normal, or upright for an omni.

    A ceiling disc looks straight down, a wall disc along `facing_deg` (clockwise from sheet up).
    """
    pattern = library().access_points[point.model].pattern
    if pattern.startswith("omni"):
        return 0.0, 0.0, 1.0
    if point.mount == "ceiling":
        return 0.0, 0.0, -1.0
    if point.mount == "desk":
        return 0.0, 0.0, 1.0
    turn = math.radians(point.facing_deg)
    return math.sin(turn), -math.cos(turn), 0.0
