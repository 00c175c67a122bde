"""Treads of stairs tell a scale: lines of one length, side by side, evenly about 28 cm apart.

Building codes hold the going of a stair between about 22 and 32 cm (BS 5395-1, DIN 18065), wherever it is built.
"""

from collections import defaultdict

import numpy as np

from heathrise.core.site.drawing import Floats

GOING_M, USUAL_GOING_M = (0.21, 0.34), 0.28
# So many lines are a flight; hatching and paving have more. [1]
_FEWEST, _MOST = 6, 30
# More lines of one way and length than this are hatching.
_CROWD = 1000
# A tread is so many times as long as it is deep.
_SLENDER = (2.2, 9.0)
# Lines of a flight are as long, as turned and as far apart as the others within this. [1, rad]
_EVEN, _TURN = 0.03, 0.01


def goings(lines: Floats) -> Floats:
    """Return how deep the treads of each flight are, in the units of lines, shape (n, 4)."""
    if len(lines) < _FEWEST:
        return np.empty(0)
    span = lines[:, 2:] - lines[:, :2]
    long = np.hypot(*span.T)
    way = np.arctan2(span[:, 1], span[:, 0]) % np.pi
    families: dict[tuple[int, int], list[int]] = defaultdict(list)
    for i in np.flatnonzero(long > 0).tolist():
        families[round(way[i] / _TURN) % round(np.pi / _TURN), round(np.log(long[i]) / _EVEN)].append(i)
    found = [
        going
        for members in families.values()
        if _FEWEST <= len(members) <= _CROWD
        for going in _flights(lines[members])
    ]
    return np.array(found)


def _flights(lines: Floats) -> list[float]:
    """Return the depths of flights among lines of one way and length."""
    span = lines[0, 2:] - lines[0, :2]
    long = float(np.hypot(*span))
    way = span / long
    middles = (lines[:, :2] + lines[:, 2:]) / 2
    along, across = middles @ way, middles @ np.array([-way[1], way[0]])
    out = []
    # Treads lie beside each other: their middles are in one line across them.
    left = np.ones(len(lines), bool)
    while left.any():
        first = int(np.flatnonzero(left)[0])
        beside = left & (np.abs(along - along[first]) < _EVEN * long)
        left &= ~beside
        out += _runs(np.unique(np.round(across[beside], 9)), long)
    return out


def _runs(places: Floats, long: float) -> list[float]:
    """Return the steps of runs of places that are evenly apart, as treads of a length are."""
    steps = np.diff(places)
    out, start = [], 0
    for i in range(1, len(steps) + 1):
        if i < len(steps) and abs(steps[i] / steps[start] - 1) < 2 * _EVEN:
            continue
        step = float(np.median(steps[start:i])) if i > start else 0.0
        if step and _FEWEST <= i - start + 1 <= _MOST and _SLENDER[0] <= long / step <= _SLENDER[1]:
            out.append(step)
        start = i
    return out
