"""How long a unit of a drawing is, by the weight of all it says: its header, lengths written beside measured
lines, the scale it was printed at, areas of rooms, doors.

Nothing is decided by size alone where anything is said; what speaks against the choice is kept and shown.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import shapely

from heathrise.core.site.align import PAPER_M
from heathrise.core.site.drawing import Arc, Drawing, Floats, Measure, Words
from heathrise.core.site.proposal import Evidence
from heathrise.core.site.wording import Length, length_of, paper_of, printed_scales

# Units drawings are drawn in. [m]
_UNITS = {
    0.001: "millimetres",
    0.01: "centimetres",
    0.1: "decimetres",
    1.0: "metres",
    0.0254: "inches",
    0.3048: "feet",
}
_SCALES = (50, 100, 200, 75, 150, 20, 25, 125, 250, 500, 48, 96, 64, 192)
# Two scales are the same within this.
_SAME = 0.015
# What areas say lies within this factor of a scale that was guessed by size, or by doors.
_FAR = (2.5, 1.5)
# A door's leaf. [m]
LEAF_M = (0.55, 1.35)
USUAL_LEAF_M = 0.88
_LEAST_TEXTS, _LEAST_SHARE, _MARKS = 3, 0.35, 5
# Lengths in a row of which the largest is less than this many times the smallest may be numbers of rooms.
_DIFFER = 1.05


class Clue(NamedTuple):
    """A scale something speaks for: what, in which words, metres per unit, and how much it weighs."""

    what: str
    says: str
    per_unit: float
    weight: float


@dataclass(frozen=True)
class Scale:
    """The scale that was chosen, whether anything said it, and all that was said."""

    per_unit: float
    unit: str
    known: bool
    evidence: tuple[Evidence, ...]


def scale_of(drawing: Drawing, paper: bool = False, more: Sequence[Clue] = ()) -> Scale:
    """Return the scale of a drawing. `more` are clues found elsewhere, like areas of rooms.

    `paper` says that its units are of paper or a screen, not of the building.
    """
    clues = [*_header(drawing), *_printed(drawing), *_lengths(drawing), *more]
    leaves = door_radii(drawing)
    span = _span(drawing)
    tried = [clue.per_unit for clue in clues]
    if not clues:
        tried = _usual(drawing, paper, leaves)
    marks = [
        (
            sum(c.weight for c in clues if _alike(c.per_unit, per))
            + 1.5 * _doors(leaves * per)
            + _size(span * per),
            per,
        )
        for per in tried
    ]
    best = max(marks, key=lambda mark: mark[0])[1] if marks else 1.0
    agreeing = [c for c in clues if _alike(c.per_unit, best)]
    if agreeing:
        best = max(agreeing, key=lambda c: c.weight).per_unit
    shown = [
        Evidence(what=c.what, says=c.says, metres_per_unit=c.per_unit, agrees=_alike(c.per_unit, best))
        for c in clues
    ]
    if len(leaves):
        usual = float(np.median(leaves)) * best
        shown.append(
            Evidence(
                what="doors",
                says=f"middle one of {len(leaves)} leaves is {usual:.2f} m wide",
                metres_per_unit=best,
                agrees=LEAF_M[0] <= usual <= LEAF_M[1],
            )
        )
    # Texts whose unit is open speak for two scales; the one that was not taken speaks against nothing.
    heard = {c.what for c in agreeing}
    against = sum(c.weight for c in clues if c.what not in heard)
    known = bool(agreeing) and sum(c.weight for c in agreeing) > against
    return Scale(best, _name(drawing, best, known, paper), known, tuple(shown))


def _alike(one: float, other: float) -> bool:
    return abs(one / other - 1) <= _SAME


def _name(drawing: Drawing, per: float, known: bool, paper: bool) -> str:
    if drawing.paper_m_per_unit:
        shown = per / drawing.paper_m_per_unit
        return f"paper at 1:{shown:.0f}" + ("" if known else ", guessed")
    unit = next((name for size, name in _UNITS.items() if _alike(size, per)), None)
    name = unit or (f"{1 / per:.1f} units to the metre" if per < 1 else f"{per:.2f} m to the unit")
    if paper and unit is None:
        name = f"{1 / per:.1f} {drawing.unit} to the metre"
    return name if known else f"{name}, guessed"


def _header(drawing: Drawing) -> list[Clue]:
    if drawing.metres_per_unit is None:
        return []
    return [Clue("header", drawing.unit, drawing.metres_per_unit, 2.0)]


def _printed(drawing: Drawing) -> list[Clue]:
    if drawing.paper_m_per_unit is None:
        return []
    said: dict[float, list[str]] = {}
    for text in drawing.texts:
        for scale, words in printed_scales(text.words):
            said.setdefault(scale, []).append(words)
    shrunk = _shrunk(drawing)
    out = []
    most = max((len(words) for words in said.values()), default=0)
    for scale, rows in said.items():
        note = "" if abs(shrunk - 1) < 0.02 else f", page {1 / shrunk:.2f} of the paper it names"
        out.append(
            Clue(
                "printed scale",
                f"{rows[0]}{note}",
                drawing.paper_m_per_unit * scale * shrunk,
                2.5 * len(rows) / most,
            )
        )
    return out


def _shrunk(drawing: Drawing) -> float:
    """Return how much larger the paper that is named is than the page."""
    if drawing.page_m is None:
        return 1.0
    named = [
        paper for text in drawing.texts if printed_scales(text.words) and (paper := paper_of(text.words))
    ]
    return PAPER_M[named[0]] / max(drawing.page_m) if len(set(named)) == 1 else 1.0


def _lengths(drawing: Drawing) -> list[Clue]:
    """Return the scales that lengths written beside measured lines agree on."""
    return (
        _consensus(_of_measures(drawing.measures))
        or _consensus(_of_texts(drawing))
        or _of_rows(drawing.texts)
    )


# What one text may say: the scale by each of its units and lines beside it.
Options = list[tuple[float, str]]


def _of_measures(measures: Iterable[Measure]) -> list[Options]:
    out = []
    for m in measures:
        said = length_of(m.words)
        if said is None:
            continue
        spans = {float(np.hypot(m.x2 - m.x1, m.y2 - m.y1)), abs(m.x2 - m.x1), abs(m.y2 - m.y1)}
        out.append(
            [(said.number * unit / span, m.words) for span in spans if span > 0 for unit in said.units_m]
        )
    return out


def _of_texts(drawing: Drawing) -> list[Options]:
    """Return what texts that are lengths say of the lines beside them."""
    said = [(text, found) for text in drawing.texts if (found := length_of(text.words)) is not None]
    lines = drawing.segments
    if len(said) < _LEAST_TEXTS or not len(lines):
        return []
    shapes = shapely.linestrings(lines.reshape(-1, 2, 2))
    tree = shapely.STRtree(shapes)
    usual = float(np.median([t.height for t, _ in said if t.height] or [0.0])) or _span(drawing) / 150
    out = []
    for text, found in said:
        at = shapely.Point(text.x, text.y)
        near = tree.query(at, predicate="dwithin", distance=2.6 * max(text.height, usual))
        spans = [s for i in near for s in _stretches(at, i, shapes, tree, usual)]
        if spans:
            out.append([(found.number * unit / s, text.words) for s in set(spans) for unit in found.units_m])
    return out


def _stretches(
    at: shapely.Point, index: int, shapes: np.ndarray, tree: shapely.STRtree, letter: float
) -> list[float]:
    """Return how long the line beside a text is, whole and between what crosses it left and right of the text."""
    line = shapes[index]
    along, whole = line.project(at), line.length
    if not 0 < along < whole or whole < letter:
        return []
    found = [whole] if 0.25 * whole <= along <= 0.75 * whole else []
    crossing = [i for i in tree.query(line, predicate="dwithin", distance=0.15 * letter) if i != index]
    places = [0.0, whole]
    for i in crossing[:80]:
        met = shapes[i].intersection(line.buffer(0.15 * letter))
        if not met.is_empty and met.length < 2 * letter:
            places.append(float(line.project(met.centroid)))
    # Axes and walls cross measured lines too: the few nearest marks on either side are tried, the text in the middle.
    lows = sorted((p for p in places if p < along), reverse=True)[:_MARKS]
    highs = sorted(p for p in places if p > along)[:_MARKS]
    for low in lows:
        for high in highs:
            if high - low > letter and 0.36 <= (along - low) / (high - low) <= 0.64:
                found.append(high - low)
    return [round(s, 9) for s in found]


class _Pair(NamedTuple):
    """Two lengths of a row: what they say a unit is, and which texts they are."""

    per_unit: float
    texts: tuple[int, int]
    words: str


def _of_rows(texts: Sequence[Words]) -> list[Clue]:
    """Return the scales that lengths in rows say by how far apart they stand, where no line beside them is seen.

    Each stands in the middle of its stretch: neighbours lie half of both apart, a first or last one and the whole
    half of what is left.
    """
    said = [(text, found) for text in texts if (found := length_of(text.words)) is not None]
    pairs = [
        _Pair(reach * unit / apart, (i, j), f"{said[i][0].words} and {said[j][0].words}")
        for i, j, apart, reach in _rows(said)
        for unit in said[i][1].units_m
        if unit in said[j][1].units_m
    ]
    clues: list[Clue] = []
    for pair in pairs:
        alike = [p for p in pairs if abs(p.per_unit / pair.per_unit - 1) < 0.008]
        voters = {i for p in alike for i in p.texts}
        numbers = [said[i][1].number for i in voters]
        # Numbers of rooms stand in rows too; they hardly differ.
        if len(alike) < 2 or len(voters) < _LEAST_TEXTS or max(numbers) < _DIFFER * min(numbers):
            continue
        middle = float(np.median([p.per_unit for p in alike]))
        words = f"{len(voters)} of {len(said)} lengths by how they stand in a row, as {pair.words}"
        clues.append(Clue("lengths", words, middle, 1.6 + 0.2 * min(len(voters), 6)))
    return _foremost(clues)


def _rows(said: Sequence[tuple[Words, Length]]) -> Iterable[tuple[int, int, float, float]]:
    """Yield pairs of lengths along rows and columns: which, how far apart, and what of both lies between them."""
    at = np.array([(t.x, t.y) for t, _ in said]).reshape(-1, 2)
    letter = float(np.median([t.height for t, _ in said] or [0.0]))
    for along, across in ((0, 1), (1, 0)):
        order = np.argsort(at[:, along])
        rows: list[list[int]] = []
        for i in order.tolist():
            row = next((r for r in rows if abs(at[r[-1], across] - at[i, across]) < 0.7 * letter), None)
            if row is None:
                rows.append([i])
            else:
                row.append(i)
        for row in rows:
            for i, j in pairwise(row):
                apart = float(at[j, along] - at[i, along])
                if apart > letter:
                    yield i, j, apart, (said[i][1].number + said[j][1].number) / 2
        for row, whole in ((r, w[0]) for r in rows if len(r) > 1 for w in rows if len(w) == 1):
            for i in (row[0], row[-1]):
                apart = abs(float(at[whole, along] - at[i, along]))
                left = said[whole][1].number - said[i][1].number
                if apart > letter and left > 0 and abs(at[whole, across] - at[i, across]) < 8 * letter:
                    yield i, whole, apart, left / 2


def _consensus(said: Sequence[Options]) -> list[Clue]:
    """Return the scales most of the texts agree on; where their unit is open, one for each."""
    least = max(_LEAST_TEXTS if len(said) > 2 else 2, int(np.ceil(_LEAST_SHARE * len(said))))
    if len(said) < 2:
        return []
    pairs = sorted((per, number, words) for number, options in enumerate(said) for per, words in options)
    values = np.log([per for per, *_ in pairs])
    found: dict[int, Clue] = {}
    for index, (_, _, words) in enumerate(pairs):
        low, high = np.searchsorted(values, (values[index] - 0.008, values[index] + 0.008))
        voters = {pairs[i][1] for i in range(low, high)}
        if len(voters) < least:
            continue
        middle = float(np.median([pairs[i][0] for i in range(low, high)]))
        key = round(float(np.log(middle)) / 0.02)
        share = len(voters) / len(said)
        clue = Clue(
            "lengths", f"{len(voters)} of {len(said)} written lengths, as {words}", middle, 2.0 + 2.0 * share
        )
        if key not in found or found[key].weight < clue.weight:
            found[key] = clue
    return _foremost(list(found.values()))


def _foremost(clues: Sequence[Clue]) -> list[Clue]:
    """Return the few clues that weigh about most, none twice."""
    best = max((c.weight for c in clues), default=0.0)
    kept: list[Clue] = []
    for clue in sorted(clues, key=lambda c: -c.weight):
        if clue.weight >= best - 0.6 and not any(_alike(clue.per_unit, k.per_unit) for k in kept):
            kept.append(clue)
    return kept[:4]


def door_radii(drawing: Drawing) -> Floats:
    """Return the radii of arcs that may be the swings of doors, in the drawing's units: many alike, of a leaf's turn."""
    radii = np.array([arc.r for arc in drawing.arcs if is_swing(arc)])
    if len(radii) < 2:
        return radii
    # Doors are most of the swings; bays are few and larger, chairs fewer and smaller.
    middle = np.median(radii)
    return np.asarray(radii[(radii > 0.6 * middle) & (radii < 1.7 * middle)])


def is_swing(arc: Arc) -> bool:
    """Say whether an arc turns as far as the edge of a door does."""
    return 0.42 <= abs(arc.turn) <= 1.75


def _doors(leaves_m: Floats) -> float:
    """Return how well leaves fit doors, 0 to 1."""
    if not len(leaves_m):
        return 0.0
    middle = float(np.median(leaves_m))
    return 1.0 if 0.68 <= middle <= 1.1 else 0.5 if LEAF_M[0] <= middle <= LEAF_M[1] else -1.0


def _size(span_m: float) -> float:
    return 1.0 if 6 <= span_m <= 150 else 0.5 if 3 <= span_m <= 500 else -1.0


def _span(drawing: Drawing) -> float:
    lines = drawing.segments
    if not len(lines):
        return 1.0
    low, high = np.percentile(lines.reshape(-1, 2), (2, 98), axis=0)
    return float(max(np.max(high - low), 1e-9))


def _usual(drawing: Drawing, paper: bool, leaves: Floats) -> list[float]:
    """Return scales to try where nothing is said."""
    if drawing.paper_m_per_unit:
        return [drawing.paper_m_per_unit * scale for scale in _SCALES]
    if paper or drawing.metres_per_unit is None:
        own = [USUAL_LEAF_M / float(np.median(leaves))] if len(leaves) else []
        if paper:
            return own or [16.0 / _span(drawing)]
        fits = [
            per
            for per in _UNITS
            if _size(_span(drawing) * per) > 0 and (not len(leaves) or _doors(leaves * per) > 0)
        ]
        return fits[:1] if fits else own or [0.001]
    return [drawing.metres_per_unit]


def by_areas(pairs: Sequence[tuple[float, float]], scale: Scale) -> list[Clue]:
    """Return the scale by which rooms are as large as is written in them. `pairs` are (said, found). [m2]

    Areas measured by walls bear a scale that something else said out within a few percent; alone they tell it.
    """
    per_unit = scale.per_unit
    if len(pairs) < 2:
        return []
    ratios = np.sqrt([said / found for said, found in pairs if found > 0])
    middle = float(np.median(ratios))
    near = np.abs(ratios / middle - 1) < 0.06
    if near.sum() < max(2, 0.5 * len(ratios)):
        return []
    # A point that was not read makes an area tenfold; doors are never that far off.
    far = _FAR[any(e.what == "doors" and e.agrees for e in scale.evidence)]
    if not 1 / far < middle < far:
        return []
    if scale.known and abs(middle - 1) < 0.03:
        return [Clue("areas", f"{int(near.sum())} rooms as large as is written in them", per_unit, 2.5)]
    return [Clue("areas", f"{int(near.sum())} areas written in rooms", per_unit * middle, 2.5)]
