"""Where words stand on paper so that they run over neither signs nor each other, as far as there is room."""

from collections.abc import Sequence
from typing import NamedTuple


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
    stands = list(taken)
    found = []
    for boxes in choices:
        best = min(boxes, key=lambda box: round(sum(box.common(other) for other in stands), 3))
        stands.append(best)
        found.append(best)
    return found


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
