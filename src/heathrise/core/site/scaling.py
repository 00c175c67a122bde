"""How long a unit of a drawing is, by the weight of all it says: its header, lengths written beside measured
lines, the scale it was printed at, areas of rooms, doors, treads of stairs.

Nothing is decided by size alone where anything is said; what speaks against the choice is kept and shown.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely

from heathrise.core.site.align import PAPER_M
from heathrise.core.site.chains import lengths_in_rows
from heathrise.core.site.clues import Clue, alike, foremost
from heathrise.core.site.drawing import Arc, Drawing, Floats, Measure
from heathrise.core.site.proposal import Evidence
from heathrise.core.site.treads import GOING_M, USUAL_GOING_M, goings
from heathrise.core.site.wording import length_of, paper_of, printed_scales

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
# What areas say lies within this factor of a scale that was guessed by size, or by doors.
_FAR = (2.5, 1.5)
# A door's leaf. [m]
LEAF_M = (0.55, 1.35)
USUAL_LEAF_M = 0.88
_LEAST_TEXTS, _LEAST_SHARE, _MARKS = 3, 0.35, 5


@dataclass(frozen=True)
class Scale:
    """The scale that was chosen, whether anything said it, and all that was said."""

    per_unit: float
    unit: str
    known: bool
    evidence: tuple[Evidence, ...]


class _Sizes(NamedTuple):
    """What is as large wherever it is built, and the whole, in a drawing's units."""

    leaves: Floats
    goings: Floats
    span: float

    def fit(self, per_unit: float) -> float:
        """Return how well doors, treads and the whole fit a scale."""
        treads = 0.8 * bool(len(self.treads(per_unit)))
        return 1.5 * _doors(self.leaves * per_unit) + treads + _size(self.span * per_unit)

    def shown(self, per_unit: float) -> list[Evidence]:
        """Return what doors and treads say of a scale. Rows of lines that are no treads say nothing."""
        out = []
        if len(self.leaves):
            usual = float(np.median(self.leaves)) * per_unit
            says = f"middle one of {len(self.leaves)} leaves is {usual:.2f} m wide"
            agrees = LEAF_M[0] <= usual <= LEAF_M[1]
            out.append(Evidence(what="doors", says=says, metres_per_unit=per_unit, agrees=agrees))
        if len(treads := self.treads(per_unit)):
            says = f"{_counted(len(treads), 'flight')} of treads {float(np.median(treads)):.2f} m deep"
            out.append(Evidence(what="treads", says=says, metres_per_unit=per_unit, agrees=True))
        return out

    def own(self) -> list[float]:
        """Return the scale doors have their usual size by; without doors, treads."""
        if len(self.leaves):
            return [USUAL_LEAF_M / float(np.median(self.leaves))]
        return [USUAL_GOING_M / float(np.median(self.goings))] if len(self.goings) else []

    def treads(self, per_unit: float) -> Floats:
        """Return how deep the flights are that are as deep as treads are, in metres."""
        deep = self.goings * per_unit
        return deep[(deep >= GOING_M[0]) & (deep <= GOING_M[1])]


def _counted(count: int, what: str) -> str:
    return f"{count} {what}" if count == 1 else f"{count} {what}s"


def scale_of(drawing: Drawing, paper: bool = False, more: Sequence[Clue] = ()) -> Scale:
    """Return the scale of a drawing. `more` are clues found elsewhere, like areas of rooms.

    `paper` says that its units are of paper or a screen, not of the building.
    """
    clues = [*_header(drawing), *_printed(drawing), *_lengths(drawing), *more]
    sizes = _Sizes(door_radii(drawing), goings(drawing.segments), _span(drawing))
    tried = [clue.per_unit for clue in clues] or _usual(drawing, paper, sizes)
    marks = [(sum(c.weight for c in clues if alike(c.per_unit, per)) + sizes.fit(per), per) for per in tried]
    best = max(marks, key=lambda mark: mark[0])[1] if marks else 1.0
    agreeing = [c for c in clues if alike(c.per_unit, best)]
    if agreeing:
        best = max(agreeing, key=lambda c: c.weight).per_unit
    shown = [
        Evidence(what=c.what, says=c.says, metres_per_unit=c.per_unit, agrees=alike(c.per_unit, best))
        for c in clues
    ]
    shown += sizes.shown(best)
    # Texts whose unit is open speak for two scales; the one that was not taken speaks against nothing.
    heard = {c.what for c in agreeing}
    against = sum(c.weight for c in clues if c.what not in heard)
    known = bool(agreeing) and sum(c.weight for c in agreeing) > against
    return Scale(best, _name(drawing, best, known, paper), known, tuple(shown))


def _name(drawing: Drawing, per: float, known: bool, paper: bool) -> str:
    if drawing.paper_m_per_unit:
        shown = per / drawing.paper_m_per_unit
        return f"paper at 1:{shown:.0f}" + ("" if known else ", guessed")
    unit = next((name for size, name in _UNITS.items() if alike(size, per)), None)
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
        or lengths_in_rows(drawing.texts)
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
    return foremost(list(found.values()))


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


def _usual(drawing: Drawing, paper: bool, sizes: _Sizes) -> list[float]:
    """Return scales to try where nothing is said."""
    if drawing.paper_m_per_unit:
        return [drawing.paper_m_per_unit * scale for scale in _SCALES]
    if paper or drawing.metres_per_unit is None:
        own = sizes.own()
        if paper:
            return own or [16.0 / sizes.span]
        leaves = sizes.leaves
        fits = [
            per
            for per in _UNITS
            if _size(sizes.span * per) > 0 and (not len(leaves) or _doors(leaves * per) > 0)
        ]
        # Of units that doors do not tell apart, the one by which treads are treads.
        told = [per for per in fits if len(sizes.treads(per))]
        return (told or fits)[:1] or own or [0.001]
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
