"""Straight strokes of ink, along the sheet and slanting, and the walls they come to: filled ones, and pairs of faces."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from heathrise.core.library import limit
from heathrise.core.site.tracing import Traced, put_together, trace_walls
from heathrise.exchange.unreadable import Progress

Gray = NDArray[np.uint8]
Floats = NDArray[np.float64]
Ends = tuple[float, float, float, float]
# The shortest stroke that can be a wall, longer than any letter of a room's name. [m]
_SHORTEST_M = 0.45
# Lines of a drawing are thinner than this in the building. [m]
_PEN_M = 0.09
# No wall is thicker; what is, is a blot. [m]
_MOST_THICK_M = 0.65
# A stroke at least this thick is a filled wall. [m]
_FILLED_M = 0.07
# Lines up to so wide may be faces, where so much of their length has another beside it. [m, 1]
_FACE_M, _PAIRED = 0.13, 0.4
# Two faces with less than this between and about them run together. [px]
_CLOSED_PX = 7.0
# A slanting wall is at least this long, turned by more than this from the sheet, and few ways are followed. [m, deg]
_SLANT_M, _SLANT_DEG, _MOST_SLANTS = 1.0, 4.0, 4


class Stroke(NamedTuple):
    """A straight stroke: ends of its centre line, how wide it is, and whether two faces that ran together made it. [px]"""

    ends: Ends
    wide: float
    closed: bool


@dataclass(frozen=True)
class Traces:
    """What strokes came to, in metres from the picture's corner: walls, and the thin lines beside them."""

    walls: list[Traced]
    thin: Floats


def traces(ink: Gray, strong: Gray, cell_m: float, progress: Progress) -> Traces:
    """Return the walls of ink (255 on 0), a cell of it being so many metres; strokes are as wide as their strong ink."""
    closed = cv2.morphologyEx(ink, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    solid: Gray = np.asarray(cv2.dilate(closed, np.ones((3, 3), np.uint8)), np.uint8)
    # A wall's thickness is no stroke of its own across it.
    shortest = max(
        12, round(_SHORTEST_M / cell_m), round(1.2 * min(_thickest(solid), _MOST_THICK_M / cell_m))
    )
    level, upright = (list(strokes(solid, shortest, across, strong)) for across in (False, True))
    pen = max(_pen([*level, *upright], cell_m), _faces_wide(level, upright, cell_m))
    progress(0.65, "following slanting walls")
    thick, thin = _sorted(_slanting(solid, strong, cell_m), pen, cell_m)
    rest = _without(solid, [wall for wall, _ in thick], cell_m)
    for across in (False, True):
        more_thick, more_thin = _sorted(strokes(rest, shortest, across, strong), pen, cell_m)
        thick += more_thick
        thin += more_thin
    progress(0.85, "pairing faces")
    lines = np.array(thin, float).reshape(-1, 4)
    hollow = trace_walls(lines, keep_single=False) if thin else []
    solid_m = sum(wall.length_m for wall, closed in thick if not closed)
    hollow_m = sum(w.length_m for w in hollow) + sum(wall.length_m for wall, closed in thick if closed)
    # In a plan drawn filled, paired thin lines are furniture; in one drawn by faces, the faces
    # of its thinnest walls may have run together.
    walls = [wall for wall, _ in thick]
    return Traces(put_together(walls if solid_m >= 2 * hollow_m else walls + hollow), lines)


def _pen(found: Sequence[Stroke], cell_m: float) -> float:
    """Return how wide the lines of a drawing are that are no filled walls, 0 where there are none such. [px]"""
    wide = np.array([one.wide for one in found if not one.closed])
    if not len(wide):
        return 0.0
    long = np.array(
        [np.hypot(one.ends[2] - one.ends[0], one.ends[3] - one.ends[1]) for one in found if not one.closed]
    )
    order = np.argsort(wide)
    usual = float(wide[order][np.searchsorted(np.cumsum(long[order]), 0.25 * long.sum())])
    return usual if usual * cell_m < _PEN_M else 0.0


def _faces_wide(level: Sequence[Stroke], upright: Sequence[Stroke], cell_m: float) -> float:
    """Return how wide lines are that are drawn as heavy as thin walls and yet are faces of walls, else 0. [px]

    Faces lie in pairs, as far apart as a wall is thick; filled walls do not.
    """
    whole, paired, wide = 0.0, 0.0, [0.0]
    for across, found in enumerate((level, upright)):
        # One line that is blurred looks like two that ran together.
        heavy = [one for one in found if 0.5 * _FILLED_M <= one.wide * cell_m <= _FACE_M]
        ends = np.array([one.ends for one in heavy]).reshape(-1, 4)
        low, high, at = ends[:, across], ends[:, across + 2], ends[:, 1 - across]
        apart = np.abs(at[:, None] - at[None, :]) * cell_m
        over = np.minimum(high[:, None], high[None, :]) - np.maximum(low[:, None], low[None, :])
        beside = (apart > 1.5 * _FILLED_M) & (apart < _MOST_THICK_M) & (over > 0.6 * (high - low)[:, None])
        is_face = beside.any(axis=1)
        whole += float((high - low).sum())
        paired += float((high - low)[is_face].sum())
        wide += [one.wide for one, face in zip(heavy, is_face, strict=True) if face]
    return float(np.percentile(wide, 75)) if paired > _PAIRED * whole else 0.0


def _thickest(ink: Gray) -> float:
    """Return how thick the thickest walls are, blots and junctions aside. [px]"""
    inked = ink > 0
    if not inked.any():
        return 0.0
    deep = cv2.distanceTransform(ink, cv2.DIST_L2, 3)
    return 2 * float(np.percentile(deep[inked], 98))


def _sorted(
    found: Iterable[Stroke], pen: float, cell_m: float
) -> tuple[list[tuple[Traced, bool]], list[Ends]]:
    """Return strokes in metres: those as thick as a wall, and whether two faces closed it in; and the thin ones."""
    thick: list[tuple[Traced, bool]] = []
    thin: list[Ends] = []
    least = max(_FILLED_M / cell_m, 3.0, 1.6 * pen)
    for ends, wide, closed in found:
        ends_m = (ends[0] * cell_m, ends[1] * cell_m, ends[2] * cell_m, ends[3] * cell_m)
        if wide * cell_m > limit("plan.wall_max_m"):
            continue
        if wide >= least:
            thick.append((Traced(ends_m, wide * cell_m), closed))
        else:
            thin.append(ends_m)
    return thick, thin


def strokes(ink: Gray, shortest_px: int, upright: bool, strong: Gray | None = None) -> Iterator[Stroke]:
    """Yield straight strokes along one axis. [px]

    Thickness is of the strong ink in them where that is given, else of all.
    """
    kernel = np.ones((shortest_px, 1) if upright else (1, shortest_px), np.uint8)
    opened = cv2.morphologyEx(ink, cv2.MORPH_OPEN, kernel)
    count, labels, stats, centres = cv2.connectedComponentsWithStats(
        np.asarray(opened, np.uint8), connectivity=8
    )
    inked = stats[:, cv2.CC_STAT_AREA] if strong is None else np.bincount(labels[strong > 0], minlength=count)
    for (x, y, width, height, whole), (cx, cy), area in zip(stats[1:], centres[1:], inked[1:], strict=True):
        length = height if upright else width
        wide, closed = _wide(float(area / length), float(whole / length))
        ends = (cx, y, cx, y + height) if upright else (x, cy, x + width, cy)
        if length >= shortest_px and wide < length:
            yield Stroke((float(ends[0]), float(ends[1]), float(ends[2]), float(ends[3])), wide, closed)


def _wide(strong: float, whole: float) -> tuple[float, bool]:
    """Return how thick a stroke is by its strong ink, and whether two faces ran together: then by all it holds. [px]"""
    closed = whole >= _CLOSED_PX and 0.2 * whole <= strong < 0.75 * whole
    return (whole - 2, True) if closed else (strong, False)


def _slanting(ink: Gray, strong: Gray, cell_m: float) -> Iterator[Stroke]:
    """Yield strokes along neither axis: each way that long edges run is turned level, and strokes looked for there."""
    edges = _long_edges(ink, cell_m)
    for way_deg in _ways(edges):
        turned, back = _turned(ink, way_deg)
        dark, _ = _turned(strong, way_deg)
        for ends, wide, closed in strokes(turned, max(16, round(_SLANT_M / cell_m)), False, dark):
            a, b = back(ends[:2]), back(ends[2:])
            if ends[2] - ends[0] > 3 * wide and _edged(a, b, wide, way_deg, edges):
                yield Stroke((*a, *b), wide, closed)


def _long_edges(ink: Gray, cell_m: float) -> Floats:
    """Return straight edges that run along neither axis, shape (n, 4). [px]"""
    edge = cv2.morphologyEx(ink, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
    least = max(24, round(_SLANT_M / cell_m))
    found = cv2.HoughLinesP(edge, 1, np.pi / 360, least // 2, minLineLength=least, maxLineGap=4)
    if found is None:
        return np.empty((0, 4))
    lines = found.reshape(-1, 4).astype(float)
    ways = _degrees(lines)
    off = np.minimum(ways % 90, 90 - ways % 90)
    return np.asarray(lines[off > _SLANT_DEG])


def _degrees(lines: Floats) -> Floats:
    return np.asarray(np.degrees(np.arctan2(lines[:, 3] - lines[:, 1], lines[:, 2] - lines[:, 0])) % 180)


def _ways(edges: Floats) -> list[float]:
    """Return the ways most of the slanting edges run, in degrees, the strongest first."""
    if not len(edges):
        return []
    long = np.hypot(*(edges[:, 2:] - edges[:, :2]).T)
    ways = _degrees(edges)
    out: list[float] = []
    left = np.ones(len(ways), bool)
    least = 2 * long.min()
    while left.any() and len(out) < _MOST_SLANTS:
        counts = np.bincount(np.round(ways[left]).astype(int) % 180, long[left], 180)
        summed = counts + np.roll(counts, 1) + np.roll(counts, -1)
        best = int(np.argmax(summed))
        near = left & (np.minimum((ways - best) % 180, (best - ways) % 180) <= 1.6)
        if summed[best] < least or not near.any():
            break
        apart = (ways[near] - best + 90) % 180 - 90
        out.append(float((best + np.average(apart, weights=long[near])) % 180))
        left &= ~near
    return out


def _turned(ink: Gray, degrees: float) -> tuple[Gray, Callable[[tuple[float, float]], tuple[float, float]]]:
    """Return ink turned so that a way lies level, and what takes a place of it back."""
    height, width = ink.shape
    matrix = cv2.getRotationMatrix2D((width / 2, height / 2), degrees, 1.0)
    side = int(np.ceil(np.hypot(width, height)))
    matrix[0, 2] += (side - width) / 2
    matrix[1, 2] += (side - height) / 2
    turned = cv2.warpAffine(ink, matrix, (side, side), flags=cv2.INTER_NEAREST)
    inverse = cv2.invertAffineTransform(matrix)

    def back(at: tuple[float, float]) -> tuple[float, float]:
        x, y = inverse @ np.array([at[0], at[1], 1.0])
        return float(x), float(y)

    return np.asarray(turned, np.uint8), back


def _edged(
    a: tuple[float, float], b: tuple[float, float], stroke: float, way_deg: float, edges: Floats
) -> bool:
    """Say whether an edge runs along a stroke's side over half of it: thick ink along the sheet holds slanting runs without."""
    near = np.minimum((_degrees(edges) - way_deg) % 180, (way_deg - _degrees(edges)) % 180) <= 2.0
    span = np.array(b) - np.array(a)
    long = float(np.hypot(*span))
    way = span / long
    covered = 0.0
    for line in edges[near].reshape(-1, 2, 2):
        local = line - np.array(a)
        aside = np.abs(local @ np.array([-way[1], way[0]])).mean()
        low, high = np.sort(local @ way)
        if aside <= stroke / 2 + 4:
            covered += max(0.0, min(high, long) - max(low, 0.0))
    return covered > 0.5 * long


def _without(ink: Gray, walls: list[Traced], cell_m: float) -> Gray:
    """Return ink less walls that are known."""
    if not walls:
        return ink
    rest = ink.copy()
    for wall in walls:
        x1, y1, x2, y2 = (round(n / cell_m) for n in wall.ends_m)
        cv2.line(rest, (x1, y1), (x2, y2), 0, round((wall.thickness_m or 0) / cell_m) + 5)
    return rest
