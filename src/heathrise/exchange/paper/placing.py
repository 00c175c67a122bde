"""Where words stand on paper so that they run over neither signs nor each other, as far as there is room."""

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.floating[Any]]


class Box(NamedTuple):
    """A rectangle of the paper: its lower left corner and its size."""

    x: float
    y: float
    wide: float
    high: float

    def common(self, other: "Box") -> float:
        """Return the area two boxes share."""
        across = min(self.x + self.wide, other.x + other.wide) - max(self.x, other.x)
        up = min(self.y + self.high, other.y + other.high) - max(self.y, other.y)
        return across * up if across > 0 and up > 0 else 0.0


def placed(choices: Sequence[Sequence[Box]], taken: Sequence[Box]) -> list[Box]:
    """Return one box for each of several words, of the choices each has: the first that is free, else the one that
    covers least. Words that come first choose first.
    """
    stands = np.empty((len(taken) + len(choices), 4))
    stands[: len(taken)] = np.array(taken, float).reshape(-1, 4)
    found = []
    for n, boxes in enumerate(choices, start=len(taken)):
        best = boxes[int(np.argmin(_covered(np.array(boxes, float), stands[:n])))]
        stands[n] = best
        found.append(best)
    return found


def _covered(boxes: Floats, stands: Floats) -> Floats:
    """Return the area each box shares with all that stand; boxes are rows of (x, y, wide, high)."""
    low = np.maximum(boxes[:, None, :2], stands[None, :, :2])
    high = np.minimum((boxes[:, :2] + boxes[:, 2:])[:, None], (stands[:, :2] + stands[:, 2:])[None])
    sides = np.clip(high - low, 0.0, None)
    areas: Floats = (sides[..., 0] * sides[..., 1]).sum(axis=1).round(3)
    return areas


def beside(x: float, y: float, wide: float, high: float, off: float) -> tuple[Box, ...]:
    """Return where words may stand beside a sign: right, left, above, below, and at its corners."""
    across, up = off + wide, off + high
    return (
        Box(x + off, y - high / 2, wide, high),
        Box(x - across, y - high / 2, wide, high),
        Box(x - wide / 2, y + off, wide, high),
        Box(x - wide / 2, y - up, wide, high),
        Box(x + off * 0.7, y + off * 0.7, wide, high),
        Box(x + off * 0.7, y - off * 0.7 - high, wide, high),
        Box(x - off * 0.7 - wide, y + off * 0.7, wide, high),
        Box(x - off * 0.7 - wide, y - off * 0.7 - high, wide, high),
    )


def within(x: float, y: float, wide: float, high: float) -> tuple[Box, ...]:
    """Return where the name of an area may stand: in its middle, else a line or more above or below, or aside."""
    steps = [0.0, *(sign * n * high * 1.3 for n in range(1, 5) for sign in (1, -1))]
    return tuple(
        Box(x - wide / 2 + aside * wide, y - high / 2 + step, wide, high)
        for aside in (0.0, 0.6, -0.6)
        for step in steps
    )
