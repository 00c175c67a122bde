"""People with phones who walk about: arrays, stepped together, the same for the same seed."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Ints = NDArray[np.int32]
_PACE = 1.2
_FLOOR_M = 12.0
# How much nearer another point has to be before a phone lets go of its own. [m, as a ratio]
_LETS_GO = 0.8
_REACH_M = 45.0
# So many walk; the others sit.
_WALKING = 0.3
# A phone looks for a better point every so many seconds, not all at once.
_LOOKS_S = 4


@dataclass
class Points:
    """The points that are on the air, by number: where each is."""

    numbers: Ints
    xy: Floats
    floor: Floats


class Crowd:
    """All people of a site. `at` is the number of the point each is on, -1 for none."""

    def __init__(self, count: int, floors: list[int], corners: tuple[float, float, float, float], seed: int):
        self._rng = np.random.default_rng(seed)
        left, top, right, bottom = corners
        self._from = np.array([left, top], np.float32)
        self._size = np.array([right - left, bottom - top], np.float32)
        self.xy: Floats = self._places(count)
        self.floor: Floats = self._rng.choice(np.array(floors or [0]), count).astype(np.float32)
        self._to: Floats = self._places(count)
        self._walks = self._rng.random(count) < _WALKING
        self.at: Ints = np.full(count, -1, np.int32)
        self.since: Floats = np.zeros(count, np.float32)
        self._tick = 0
        self.moves = 0
        self.drops = 0

    def _places(self, count: int) -> Floats:
        found: Floats = (self._from + self._rng.random((count, 2)) * self._size).astype(np.float32)
        return found

    def __len__(self) -> int:
        return len(self.at)

    def step(self, points: Points, seconds: float = 1.0) -> None:
        """Walk on by so many seconds; a part of them looks for a better point."""
        self._walk(seconds)
        self._let_go(points)
        looking = np.arange(self._tick % _LOOKS_S, len(self), _LOOKS_S)
        self._tick += 1
        self.since += seconds
        if len(points.numbers) and len(looking):
            self._look(points, looking)

    def _walk(self, seconds: float) -> None:
        way = self._to - self.xy
        left = np.hypot(way[:, 0], way[:, 1])
        stride = np.minimum(left, _PACE * seconds) * self._walks
        self.xy += way * (stride / np.maximum(left, 1e-6))[:, None]
        there = np.flatnonzero(self._walks & (left < _PACE))
        self._to[there] = self._places(len(there))

    def _let_go(self, points: Points) -> None:
        """Whoever is on a point that is gone is on none."""
        gone = (self.at >= 0) & ~np.isin(self.at, points.numbers)
        self.drops += int(gone.sum())
        self.at[gone] = -1
        self.since[gone] = 0

    def _look(self, points: Points, who: NDArray[np.int64]) -> None:
        away = self._away(points, who)
        best = away.argmin(axis=1)
        nearest = away[np.arange(len(who)), best]
        column = {int(n): i for i, n in enumerate(points.numbers)}
        now = np.array([column.get(int(n), -1) for n in self.at[who]])
        held = np.where(now >= 0, away[np.arange(len(who)), now], np.inf)
        change = (nearest < held * _LETS_GO) & (nearest < _REACH_M)
        changed = who[change]
        self.moves += int((self.at[changed] >= 0).sum())
        self.at[changed] = points.numbers[best[change]]
        self.since[changed] = 0

    def _away(self, points: Points, who: NDArray[np.int64]) -> Floats:
        """Return how far each is from each point, floors counted as walls. [m]"""
        apart = self.xy[who, None, :] - points.xy[None, :, :]
        found: Floats = np.sqrt((apart**2).sum(axis=2)) + _FLOOR_M * np.abs(
            self.floor[who, None] - points.floor[None, :]
        )
        return found

    def counts(self) -> dict[int, int]:
        """Return how many are on each point, by its number."""
        numbers, counts = np.unique(self.at[self.at >= 0], return_counts=True)
        return dict(zip(numbers.tolist(), counts.tolist(), strict=True))
