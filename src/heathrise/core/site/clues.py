"""What speaks for a scale of a drawing, and how much it weighs."""

from collections.abc import Sequence
from typing import NamedTuple

# Two scales are the same within this.
_SAME = 0.015


class Clue(NamedTuple):
    """A scale something speaks for: what, in which words, metres per unit, and how much it weighs."""

    what: str
    says: str
    per_unit: float
    weight: float


def alike(one: float, other: float) -> bool:
    """Say whether two scales are the same."""
    return abs(one / other - 1) <= _SAME


def foremost(clues: Sequence[Clue]) -> list[Clue]:
    """Return the few clues that weigh about most, none twice."""
    best = max((c.weight for c in clues), default=0.0)
    kept: list[Clue] = []
    for clue in sorted(clues, key=lambda c: -c.weight):
        if clue.weight >= best - 0.6 and not any(alike(clue.per_unit, k.per_unit) for k in kept):
            kept.append(clue)
    return kept[:4]
