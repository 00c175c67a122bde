"""Walls proposed from a picture of a plan: straightened, cleaned, strokes measured, faces paired.

What comes out is a proposal. A picture holds no layers: furniture that touches walls, or walls
fainter than the paper's grain, need the person's eye.
"""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from heathrise.core.library import limit
from heathrise.core.site.tracing import Traced, put_together, trace_walls

Gray = NDArray[np.uint8]
Floats = NDArray[np.float64]
Progress = Callable[[float, str], None]

# Analysis needs no more than this along the longer side. [px]
_MOST_PX = 3600
# The shortest stroke that can be a wall, longer than any letter of a room's name. [m]
_SHORTEST_M = 0.45
# A stroke at least this thick is a filled wall. [m]
_FILLED_M = 0.07
# As many edge pixels are enough to tell the turn.
_TURN_SAMPLES = 60_000
# Without a scale the drawing is taken to be this long. [m]
_USUAL_LENGTH_M = 16.0


@dataclass(frozen=True)
class Scan:
    """What was found: the straightened picture, its scale, walls in metres from its corner."""

    upright: Gray
    turn_deg: float
    metres_per_px: float
    scale_known: bool
    walls: tuple[Traced, ...]


def read_scan(gray: Gray, metres_per_px: float | None, progress: Progress = lambda *_: None) -> Scan:
    """Return walls proposed from a grey picture, shape (height, width).

    `metres_per_px` None takes the ink to be as long as a usual house; the scale is then to be set.
    """
    progress(0.1, "evening out the paper")
    ink, shrink = _ink(gray)
    progress(0.3, "straightening")
    turn = _turn_deg(ink)
    ink = _rotated(ink, turn, 0)
    upright = _rotated(gray, turn, 255)
    known = metres_per_px is not None
    if metres_per_px is None:
        metres_per_px = _guess(ink) * shrink
    cell_m = metres_per_px / shrink
    progress(0.5, "looking for strokes")
    walls = _walls(ink, cell_m, progress)
    return Scan(upright, turn, metres_per_px, known, tuple(walls))


def _ink(gray: Gray) -> tuple[Gray, float]:
    """Return ink as 255 on 0 at working size, and the factor it was shrunk by."""
    shrink = min(1.0, _MOST_PX / max(gray.shape))
    small = cv2.resize(gray, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1 else gray
    paper = cv2.resize(small, None, fx=0.125, fy=0.125, interpolation=cv2.INTER_AREA)
    paper = cv2.dilate(paper, np.ones((9, 9), np.uint8)) if min(paper.shape) > 9 else paper
    paper = cv2.resize(cv2.blur(paper, (9, 9)), (small.shape[1], small.shape[0]))
    even = cv2.divide(small, np.maximum(paper, 1), scale=255)
    even = cv2.medianBlur(even, 3)
    _, ink = cv2.threshold(even, 0, 255, cv2.THRESH_BINARY_INV + cv2.THRESH_OTSU)
    return _without_specks(np.asarray(ink, np.uint8)), shrink


def _without_specks(ink: Gray, least_px: int = 16) -> Gray:
    count, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    big = np.zeros(count, np.uint8)
    big[1:] = np.where(stats[1:, cv2.CC_STAT_AREA] >= least_px, 255, 0)
    return np.asarray(big[labels], np.uint8)


def _turn_deg(ink: Gray) -> float:
    """Return how far the drawing is turned from the paper's edges, within 45 degrees.

    Seen along its own walls a plan's ink piles up in few rows: the turn is where the rows' squares
    sum highest, first by the degree, then by the fiftieth of one.
    """
    edges = cv2.morphologyEx(ink, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
    rows, columns = np.nonzero(edges)
    if not len(rows):
        return 0.0
    step = max(1, len(rows) // _TURN_SAMPLES)
    points = np.column_stack([columns[::step], rows[::step]]).astype(float)
    coarse = _best_turn(points, np.arange(-45, 45, 0.5), 3.0)
    close = _best_turn(points, coarse + np.arange(-0.6, 0.61, 0.1), 1.5)
    return _best_turn(points, close + np.arange(-0.1, 0.11, 0.02), 1.0)


def _best_turn(points: Floats, angles_deg: Floats, bin_px: float) -> float:
    scores = []
    for angle in np.radians(angles_deg):
        cos, sin = np.cos(angle), np.sin(angle)
        piled = 0.0
        for across in (points @ np.array([-sin, cos]), points @ np.array([cos, sin])):
            counts = np.bincount(((across - across.min()) / bin_px).astype(int)).astype(float)
            piled += float((counts**2).sum())
        scores.append(piled)
    return float(angles_deg[int(np.argmax(scores))])


def _rotated(image: Gray, turn_deg: float, ground: int) -> Gray:
    """Return a picture turned upright, its canvas grown to hold all of it."""
    if abs(turn_deg) < 0.05:
        return image
    height, width = image.shape
    matrix = cv2.getRotationMatrix2D((width / 2, height / 2), turn_deg, 1.0)
    cos, sin = abs(matrix[0, 0]), abs(matrix[0, 1])
    new = int(np.ceil(height * sin + width * cos)), int(np.ceil(height * cos + width * sin))
    matrix[0, 2] += new[0] / 2 - width / 2
    matrix[1, 2] += new[1] / 2 - height / 2
    turned = cv2.warpAffine(image, matrix, new, flags=cv2.INTER_AREA, borderValue=ground)
    return np.asarray(turned, np.uint8)


def _guess(ink: Gray) -> float:
    """Return metres per working pixel if the drawing were as long as a usual house."""
    found = cv2.findNonZero(ink)
    if found is None:
        return _USUAL_LENGTH_M / max(ink.shape)
    _, _, width, height = cv2.boundingRect(found)
    return _USUAL_LENGTH_M / max(width, height, 1)


def _walls(ink: Gray, cell_m: float, progress: Progress) -> list[Traced]:
    shortest = max(12, round(_SHORTEST_M / cell_m))
    closed = cv2.morphologyEx(ink, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    solid: Gray = np.asarray(cv2.dilate(closed, np.ones((3, 3), np.uint8)), np.uint8)
    thick: list[Traced] = []
    thin: list[tuple[float, float, float, float]] = []
    for across in (False, True):
        for ends, swollen in _strokes(solid, shortest, across):
            stroke = swollen - 2
            ends_m = (ends[0] * cell_m, ends[1] * cell_m, ends[2] * cell_m, ends[3] * cell_m)
            if stroke * cell_m >= max(_FILLED_M, 3.5 * cell_m) and stroke * cell_m <= limit(
                "plan.wall_max_m"
            ):
                thick.append(Traced(ends_m, stroke * cell_m))
            elif stroke * cell_m < limit("plan.wall_max_m"):
                thin.append(ends_m)
    progress(0.7, "following slanting walls")
    thick += _slanting(solid, thick, cell_m)
    progress(0.85, "pairing faces")
    hollow = trace_walls(np.array(thin, float).reshape(-1, 4), keep_single=False) if thin else []
    thick_m, hollow_m = sum(w.length_m for w in thick), sum(w.length_m for w in hollow)
    # In a plan drawn filled, paired thin lines are furniture; in one drawn by faces, the faces
    # of its thinnest walls may have run together.
    return put_together(thick if thick_m >= 2 * hollow_m else thick + hollow)


def _strokes(
    ink: Gray, shortest_px: int, upright: bool
) -> list[tuple[tuple[float, float, float, float], float]]:
    """Return straight strokes along one axis: ends of the centre line and thickness. [px]"""
    kernel = np.ones((shortest_px, 1) if upright else (1, shortest_px), np.uint8)
    strokes = cv2.morphologyEx(ink, cv2.MORPH_OPEN, kernel)
    _, _, stats, centres = cv2.connectedComponentsWithStats(np.asarray(strokes, np.uint8), connectivity=8)
    found = []
    for (x, y, width, height, area), (cx, cy) in zip(stats[1:], centres[1:], strict=True):
        length = height if upright else width
        stroke = area / length
        ends = (cx, y, cx, y + height) if upright else (x, cy, x + width, cy)
        if length >= shortest_px and stroke < length:
            found.append(((float(ends[0]), float(ends[1]), float(ends[2]), float(ends[3])), float(stroke)))
    return found


def _slanting(ink: Gray, known: list[Traced], cell_m: float) -> list[Traced]:
    """Return filled walls that run along neither axis."""
    rest = ink.copy()
    for wall in known:
        x1, y1, x2, y2 = (round(n / cell_m) for n in wall.ends_m)
        wide = round((wall.thickness_m or 0) / cell_m) + 6
        cv2.line(rest, (x1, y1), (x2, y2), 0, wide)
    side = max(3, round(_FILLED_M / cell_m))
    blobs = cv2.morphologyEx(rest, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)))
    outlines, _ = cv2.findContours(np.asarray(blobs, np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    found = []
    for outline in outlines:
        corners = cv2.boxPoints(cv2.minAreaRect(outline)).astype(float)
        sides = np.hypot(*(np.roll(corners, -1, axis=0) - corners).T)
        long, short = float(max(sides)), float(min(sides))
        full = cv2.contourArea(outline) > 0.7 * long * short
        if full and long * cell_m > 1.0 and long > 3 * short and short * cell_m <= limit("plan.wall_max_m"):
            first = int(np.argmin(sides))
            a = (corners[first] + corners[(first + 1) % 4]) / 2
            b = (corners[(first + 2) % 4] + corners[(first + 3) % 4]) / 2
            ends = (float(a[0]), float(a[1]), float(b[0]), float(b[1]))
            found.append(Traced(tuple(n * cell_m for n in ends), short * cell_m))  # type: ignore[arg-type]
    return found
