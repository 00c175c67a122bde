"""A drawing as it was read, whatever the file was: strokes, marks and words by layer, in its own units, y down.

Readers in `exchange` fill one; what it is of is told elsewhere. A layer is what keeps strokes apart: a layer by name,
or a pen by its width and colour where a format has none.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heathrise.core.site.proposal import Skipped

Floats = NDArray[np.float64]
# Chords turn by no more than this from one to the next where they stand for a curve, and by no less. [rad]
_MOST_TURN, _LEAST_TURN = np.radians(31.0), np.radians(0.4)
# Fewer chords than this are corners, not a curve.
_FEWEST_CHORDS = 4
# An arc turns by more than this; less is a straight line drawn by hand. [rad]
_LEAST_ARC = np.radians(12.0)
# Points of a curve lie this near their circle, as a share of its radius.
_ROUND, _CLOSE = 0.02, 0.004


class Arc(NamedTuple):
    """Part of a circle: centre, radius, one end and the other, and how far it turns from one to the other. [unit, rad]"""

    x: float
    y: float
    r: float
    x1: float
    y1: float
    x2: float
    y2: float
    turn: float

    def chords(self, sag: float) -> list[tuple[float, float]]:
        """Return points along it whose chords leave it by no more than `sag`."""
        step = 2 * np.arccos(max(0.0, 1 - min(sag / self.r, 1.0)))
        count = max(1, int(np.ceil(abs(self.turn) / max(step, 0.05))))
        start = np.arctan2(self.y1 - self.y, self.x1 - self.x)
        turns = start + np.linspace(0, self.turn, count + 1)
        return [(float(self.x + self.r * np.cos(t)), float(self.y + self.r * np.sin(t))) for t in turns]


class Words(NamedTuple):
    """Words at a place: their middle, how high a letter is (0: not known), and the words."""

    x: float
    y: float
    height: float
    words: str


class Measure(NamedTuple):
    """A measured stretch that says its length in words."""

    x1: float
    y1: float
    x2: float
    y2: float
    words: str


@dataclass
class Drawing:
    """Strokes, marks and words.

    `lines` are (x1, y1, x2, y2) with `line_layers`; `arcs` parts of circles; `marks` are doors and the like as
    (x, y, width, dx, dy): where they begin, how wide, and the direction along the wall. `page_m` is the size of the
    paper where the file has one.
    """

    metres_per_unit: float | None = None
    unit: str = "not stated"
    lines: list[tuple[float, float, float, float]] = field(default_factory=list)
    line_layers: list[str] = field(default_factory=list)
    arcs: list[Arc] = field(default_factory=list)
    arc_layers: list[str] = field(default_factory=list)
    marks: list[tuple[float, float, float, float, float]] = field(default_factory=list)
    mark_layers: list[str] = field(default_factory=list)
    mark_names: list[str] = field(default_factory=list)
    texts: list[Words] = field(default_factory=list)
    text_layers: list[str] = field(default_factory=list)
    measures: list[Measure] = field(default_factory=list)
    skipped: Counter[tuple[str, str]] = field(default_factory=Counter)
    pages: int = 1
    page_m: tuple[float, float] | None = None
    # Metres on paper of one unit, where the file is of paper; a printed scale then tells the rest.
    paper_m_per_unit: float | None = None

    def line(self, layer: str, x1: float, y1: float, x2: float, y2: float) -> None:
        """Add a line; one that is not a number or has no length is skipped."""
        if not np.isfinite([x1, y1, x2, y2]).all():
            self.skip("line", "a coordinate is no number")
        elif (x1, y1) != (x2, y2):
            self.lines.append((x1, y1, x2, y2))
            self.line_layers.append(layer)

    def path(self, layer: str, points: Sequence[tuple[float, float]], closed: bool = False) -> None:
        """Add lines through points; what bends evenly among them is an arc."""
        ring = [*points, points[0]] if closed and len(points) > 2 else list(points)
        if len(ring) <= _FEWEST_CHORDS:
            for (x1, y1), (x2, y2) in pairwise(ring):
                self.line(layer, x1, y1, x2, y2)
            return
        at = np.array(ring, float)
        if not np.isfinite(at).all():
            self.skip("line", "a coordinate is no number")
            return
        at = _spaced(at)
        for piece in _smooth(at):
            self._piece(layer, piece)

    def _piece(self, layer: str, at: Floats) -> None:
        """Add points between two corners: one arc where they lie on one, else arcs and lines."""
        for cut in range(3):
            # A corner too flat to be seen may leave a chord at either end that is none of the arc's.
            middle = at[cut : len(at) - cut]
            if len(middle) <= _FEWEST_CHORDS:
                break
            whole = _arc_through(middle, _CLOSE) or (
                _arc_through(middle) if cut == 0 and len(at) < 12 else None
            )
            if whole is not None and abs(whole.turn) > _LEAST_ARC:
                self.arc(layer, whole)
                for end in (at[: cut + 1], at[len(at) - cut - 1 :]):
                    for (x1, y1), (x2, y2) in pairwise(end.tolist()):
                        self.line(layer, x1, y1, x2, y2)
                return
        for start, stop, bends in _runs(at):
            arc = _arc_through(at[start : stop + 1]) if bends else None
            if arc is not None:
                self.arc(layer, arc)
                continue
            for (x1, y1), (x2, y2) in pairwise(at[start : stop + 1].tolist()):
                self.line(layer, x1, y1, x2, y2)

    def arc(self, layer: str, arc: Arc) -> None:
        """Add part of a circle; one that is not a number is skipped."""
        if not np.isfinite(arc).all() or arc.r <= 0:
            self.skip("arc", "a coordinate is no number")
            return
        self.arcs.append(arc)
        self.arc_layers.append(layer)

    def mark(self, layer: str, name: str, x: float, y: float, width: float, turn_rad: float) -> None:
        """Add a mark that begins at a place and runs `width` in a direction."""
        if np.isfinite([x, y, width, turn_rad]).all() and width > 0:
            self.marks.append((x, y, width, float(np.cos(turn_rad)), float(np.sin(turn_rad))))
            self.mark_layers.append(layer)
            self.mark_names.append(name)

    def text(self, layer: str, x: float, y: float, words: str, height: float = 0.0) -> None:
        """Add words at a place."""
        if words.strip() and np.isfinite([x, y]).all():
            self.texts.append(Words(x, y, height, " ".join(words.split())[:80]))
            self.text_layers.append(layer)

    def measure(self, x1: float, y1: float, x2: float, y2: float, words: str) -> None:
        """Add a measured stretch."""
        if np.isfinite([x1, y1, x2, y2]).all() and words.strip():
            self.measures.append(Measure(x1, y1, x2, y2, words.strip()[:40]))

    def skip(self, what: str, why: str, count: int = 1) -> None:
        """Note what was left out."""
        if count:
            self.skipped[what, why] += count

    @property
    def left_out(self) -> tuple[Skipped, ...]:
        """What was left out, most first."""
        return tuple(Skipped(what=w, why=y, count=n) for (w, y), n in self.skipped.most_common(40))

    @property
    def segments(self) -> Floats:
        """The lines as an array, shape (n, 4)."""
        return np.array(self.lines, float).reshape(-1, 4)

    @property
    def empty(self) -> bool:
        """Whether it holds no stroke at all."""
        return not self.lines and not self.arcs


def arc_between(x: float, y: float, r: float, start: float, turn: float) -> Arc:
    """Return the part of a circle from an angle on, y down. [rad]"""
    stop = start + turn
    return Arc(
        x,
        y,
        r,
        float(x + r * np.cos(start)),
        float(y + r * np.sin(start)),
        float(x + r * np.cos(stop)),
        float(y + r * np.sin(stop)),
        turn,
    )


def _spaced(at: Floats) -> Floats:
    """Return points less those hard by the one before on a way that goes on: offsets and rounding leave such."""
    keep = [0]
    for index in range(1, len(at)):
        here = at[index]
        step = float(np.hypot(*(here - at[keep[-1]])))
        if step == 0:
            continue
        if len(keep) > 1 and index < len(at) - 1:
            before, after = at[keep[-1]] - at[keep[-2]], at[index + 1] - here
            long = float(min(np.hypot(*before), np.hypot(*after)))
            turn = np.arctan2(before[0] * after[1] - before[1] * after[0], before @ after)
            if step < 0.1 * long and abs(turn) < _MOST_TURN:
                continue
        keep.append(index)
    return np.asarray(at[keep])


def _smooth(at: Floats) -> list[Floats]:
    """Return points parted at their corners, and where a long straight piece begins or ends."""
    if len(at) < 3:
        return [at]
    spans = np.diff(at, axis=0)
    long = np.hypot(*spans.T)
    ways = np.arctan2(spans[:, 1], spans[:, 0])
    turns = np.abs((np.diff(ways) + np.pi) % (2 * np.pi) - np.pi)
    around = np.array([np.delete(long[max(0, i - 3) : i + 4], min(i, 3)).max() for i in range(len(long))])
    straight = long > 4 * around
    corner = (turns >= _MOST_TURN) | (straight[1:] != straight[:-1])
    cuts = [0, *(np.flatnonzero(corner) + 1).tolist(), len(at) - 1]
    return [at[a : b + 1] for a, b in pairwise(cuts)]


def _runs(at: Floats) -> list[tuple[int, int, bool]]:
    """Return (from, to, bends) over points: stretches whose chords keep turning one way by little, and the rest."""
    if len(at) < 3:
        return [(0, len(at) - 1, False)] if len(at) > 1 else []
    spans = np.diff(at, axis=0)
    long = np.hypot(*spans.T)
    ways = np.arctan2(spans[:, 1], spans[:, 0])
    turns = (np.diff(ways) + np.pi) % (2 * np.pi) - np.pi
    sign = np.where((np.abs(turns) > _LEAST_TURN) & (np.abs(turns) < _MOST_TURN), np.sign(turns), 0)
    # On one circle the chords turn by their length, however long each of them is.
    bend = np.abs(turns) / (long[1:] + long[:-1])
    other = (sign[1:] != sign[:-1]) | (
        np.minimum(bend[1:], bend[:-1]) < 0.45 * np.maximum(bend[1:], bend[:-1])
    )
    out: list[tuple[int, int, bool]] = []
    first = 0
    edges = np.flatnonzero(np.r_[True, other, True])
    for low, high in pairwise(edges):
        # Turns low..high-1 are at points low+1..high; the chords run from point low to point high + 1.
        if sign[low] and high - low >= _FEWEST_CHORDS - 1:
            if first < low:
                out.append((first, int(low), False))
            out.append((int(low), int(high + 1), True))
            first = int(high + 1)
    if first < len(at) - 1:
        out.append((first, len(at) - 1, False))
    return out


def _arc_through(at: Floats, within: float = _ROUND) -> Arc | None:
    """Return the arc a run of points lies on, None where they lie on none. Least squares of x2 + y2 = 2ax + 2by + c."""
    middle = at.mean(axis=0)
    near = at - middle
    a, b, c = np.linalg.lstsq(
        np.column_stack([2 * near, np.ones(len(near))]), (near**2).sum(axis=1), rcond=None
    )[0]
    r = float(np.sqrt(max(c + a * a + b * b, 0.0)))
    if r <= 0 or np.abs(np.hypot(near[:, 0] - a, near[:, 1] - b) - r).max() > within * r:
        return None
    ways = np.unwrap(np.arctan2(near[:, 1] - b, near[:, 0] - a))
    (x1, y1), (x2, y2) = at[0].tolist(), at[-1].tolist()
    return Arc(float(middle[0] + a), float(middle[1] + b), r, x1, y1, x2, y2, float(ways[-1] - ways[0]))
