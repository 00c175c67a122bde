"""Lengths written in rows tell a scale by how far apart they stand, where no line beside them is seen.

Each stands in the middle of its stretch: neighbours lie half of both apart; a first or last one and the length of the
whole row lie half of what is left apart.
"""

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from heathrise.core.site.clues import Clue, foremost
from heathrise.core.site.drawing import Words
from heathrise.core.site.wording import Length, length_of

# Pairs of lengths agree within this; so many texts, and such a share of all, are wanted for a clue.
_AGREE, _LEAST_TEXTS, _LEAST_SHARE = 0.008, 3, 0.6
# Lengths of which the largest is less than this many times the smallest may be numbers of rooms.
_DIFFER = 1.05
# Texts of a row are off its line by no more than this, and the whole stands no farther from its parts. [letters]
_OFF_LINE, _WHOLE_NEAR = 0.7, 8.0


class _Said(NamedTuple):
    """A length, where it stands along and across its row, and which text it is."""

    along: float
    across: float
    length: Length
    words: str
    number: int


class _Pair(NamedTuple):
    """Two lengths of a row and what they say a unit is."""

    per_unit: float
    one: _Said
    other: _Said


def lengths_in_rows(texts: Sequence[Words]) -> list[Clue]:
    """Return the scales that lengths in rows and columns agree on; where their unit is open, one for each."""
    said = [(text, found) for text in texts if (found := length_of(text.words)) is not None]
    if len(said) < _LEAST_TEXTS:
        return []
    letter = float(np.median([text.height for text, _ in said]))
    level = [_Said(t.x, t.y, found, t.words, i) for i, (t, found) in enumerate(said)]
    upright = [one._replace(along=one.across, across=one.along) for one in level]
    pairs = [pair for ends in (level, upright) for pair in _pairs(_rows(ends, letter), letter)]
    return foremost([clue for pair in pairs if (clue := _agreed(pair, pairs, len(said)))])


def _rows(said: Sequence[_Said], letter: float) -> list[list[_Said]]:
    rows: list[list[_Said]] = []
    for one in sorted(said):
        row = next((r for r in rows if abs(r[-1].across - one.across) < _OFF_LINE * letter), None)
        if row is None:
            rows.append([one])
        else:
            row.append(one)
    return rows


def _pairs(rows: Sequence[list[_Said]], letter: float) -> Iterator[_Pair]:
    for row in rows:
        for one, other in pairwise(row):
            yield from _pair(one, other, (one.length.number + other.length.number) / 2, letter)
        wholes = [r[0] for r in rows if len(r) == 1 and len(row) > 1]
        for whole in wholes:
            if abs(whole.across - row[0].across) < _WHOLE_NEAR * letter:
                for end in (row[0], row[-1]):
                    yield from _pair(end, whole, (whole.length.number - end.length.number) / 2, letter)


def _pair(one: _Said, other: _Said, between: float, letter: float) -> Iterator[_Pair]:
    apart = abs(other.along - one.along)
    if apart > letter and between > 0:
        for unit_m in one.length.units_m:  # the likelier first
            if unit_m in other.length.units_m:
                yield _Pair(between * unit_m / apart, one, other)


def _agreed(pair: _Pair, pairs: Sequence[_Pair], count: int) -> Clue | None:
    """Return what all pairs that agree with one say, None where they are too few or too much alike."""
    near = [p for p in pairs if abs(p.per_unit / pair.per_unit - 1) < _AGREE]
    voters = {one.number: one.length.number for p in near for one in (p.one, p.other)}
    few = len(near) < 2 or len(voters) < max(_LEAST_TEXTS, _LEAST_SHARE * count)
    if few or max(voters.values()) < _DIFFER * min(voters.values()):
        return None
    middle = float(np.median([p.per_unit for p in near]))
    words = f"{len(voters)} of {count} lengths by how they stand in a row, as {pair.one.words} and {pair.other.words}"
    return Clue("lengths", words, middle, 1.6 + 0.2 * min(len(voters), 6))
