"""Doors and windows of walls traced in ink: panes, empty stretches, swings and leaves that slide."""

from collections.abc import Sequence
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from heathrise.core.site.drawing import Arc, arc_between
from heathrise.core.site.scaling import LEAF_M
from heathrise.core.site.tracing import Traced

Gray = NDArray[np.uint8]
Floats = NDArray[np.float64]
# Faces nearer to the middle of a wall than this are not told from what lies between them. [px]
_HOLLOW_PX = 3.8
# A leaf that slides lies this far off a wall's face, and so much of its gap has its ink. [m, 1]
_SLIDE_OFF_M, _SLIDE_INK = (0.02, 0.16), 0.8
# How thick it is, and how much ink its gap may hold.
_SLIDE_THICK_M, _CLEAR = 0.04, 0.2
# A wall is filled where so much of its body is inked; less than that is lines, and more than this between two faces a blot.
_FILLED, _LINED, _BLOT = 0.75, 0.72, 0.8
# A hollow wall with panes over more than this of it is drawn with a line in its middle.
_ALL_ALONG = 0.6
# So much of a wall's body is most of it, and so much of it lies between the faces of a hollow one.
_MOST_ACROSS, _BETWEEN = 0.62, (0.23, 0.77)
# How long a pane of glass is. [m]
_PANE_M = (0.45, 5.0)
# Ink along so much of a quarter circle from the side of a gap is the swing of a door.
_SWING_INK = 0.72
# Blur makes a gap narrower than its leaf, by no more than this.
_LEAST_GAP = 0.7
# Leaves drawn half open, either way, and how much ink tells them. [rad, 1]
_HALF_OPEN = ((np.pi / 4, 0.88), (-np.pi / 4, 0.88))


def opened(ink: Gray, wall: Traced, cell_m: float) -> Traced:
    """Return a wall with its panes and gaps: where a filled one turns to lines or is empty, or where one of two faces
    has lines between them.
    """
    half = (wall.thickness_m or 0.0) / 2
    if half < 2 * cell_m:
        return wall
    inked, along = _body(ink, wall, cell_m)
    if float(np.median(inked.mean(axis=1))) > _FILLED:
        return _opened_filled(wall, inked, along, cell_m)
    # Faces nearer to each other blur into what lies between them.
    return wall if half < _HOLLOW_PX * cell_m else _opened_hollow(wall, inked, along, cell_m)


def _body(ink: Gray, wall: Traced, cell_m: float) -> tuple[NDArray[np.bool_], Floats]:
    """Return where a wall's body is inked, by places along and across it, and how far along they are."""
    a, b = np.array(wall.ends_m[:2]), np.array(wall.ends_m[2:])
    way = (b - a) / wall.length_m
    half = (wall.thickness_m or 0.0) / 2
    along = np.arange(0, wall.length_m, cell_m)
    count = 2 * int(np.ceil(0.75 * half / cell_m)) + 1  # no line passes between two places
    across = np.linspace(-0.75, 0.75, count) * half
    places = a + along[:, None, None] * way + across[None, :, None] * np.array([-way[1], way[0]])
    x = np.clip(np.round(places[..., 0] / cell_m).astype(int), 0, ink.shape[1] - 1)
    y = np.clip(np.round(places[..., 1] / cell_m).astype(int), 0, ink.shape[0] - 1)
    return np.asarray(ink[y, x] > 0), along


def _opened_filled(wall: Traced, inked: NDArray[np.bool_], along: Floats, cell_m: float) -> Traced:
    share = inked.mean(axis=1)
    # A leaf that slides lies along one face; the rest of the wall's body is empty there.
    most = round(_MOST_ACROSS * inked.shape[1])
    empty = np.asarray(~inked[:, :most].any(axis=1) | ~inked[:, -most:].any(axis=1))
    panes = _panes((share < _LINED) & ~empty, along, cell_m)
    return replace(wall, panes_m=panes, gaps_m=_gaps_and(wall.gaps_m, _stretches(empty, along)))


def _opened_hollow(wall: Traced, inked: NDArray[np.bool_], along: Floats, cell_m: float) -> Traced:
    low, high = (round(share * inked.shape[1]) for share in _BETWEEN)
    panes = _panes(inked[:, low:high].any(axis=1) & (inked.mean(axis=1) < _BLOT), along, cell_m)
    # What has lines all along is drawn with a line in its middle.
    all_along = sum(q - p for p, q in panes) > _ALL_ALONG * wall.length_m
    return wall if all_along else replace(wall, panes_m=panes)


def _panes(lined: NDArray[np.bool_], along: Floats, cell_m: float) -> tuple[tuple[float, float], ...]:
    """Return the stretches with lines in them that are as long as a pane; specks and jambs part none."""
    step = np.ones((1, max(3, round(0.12 / cell_m)) | 1), np.uint8)
    whole = cv2.morphologyEx(lined.astype(np.uint8)[None, :], cv2.MORPH_CLOSE, step)[0] > 0
    return tuple((p, q) for p, q in _stretches(whole, along) if _PANE_M[0] <= q - p <= _PANE_M[1])


def _stretches(held: np.ndarray, along: Floats) -> list[tuple[float, float]]:
    edges = np.flatnonzero(np.diff(np.r_[0, held.astype(int), 0]))
    return [
        (float(along[p]), float(along[min(q, len(along) - 1)]))
        for p, q in zip(edges[::2], edges[1::2], strict=True)
    ]


def _gaps_and(
    known: Sequence[tuple[float, float]], empty: Sequence[tuple[float, float]]
) -> tuple[tuple[float, float], ...]:
    """Return the gaps of a wall and the empty stretches of it that are as wide as a door and in none of them."""
    more = [
        (p, q)
        for p, q in empty
        if LEAF_M[0] <= q - p <= 2 * LEAF_M[1] and not any(min(q, b) > max(p, a) for a, b in known)
    ]
    return tuple(sorted([*known, *more]))


def swings(ink: Gray, walls: list[Traced], cell_m: float) -> list[Arc]:
    """Return the swings of doors drawn about the sides of gaps, one leaf or two, in metres."""
    near: Gray = np.asarray(cv2.dilate(ink, np.ones((3, 3), np.uint8)), np.uint8)
    out: list[Arc] = []
    for wall in walls:
        for gap in wall.gaps_m:
            if gap[1] - gap[0] < _LEAST_GAP * LEAF_M[0]:
                continue
            whole = [_leaf_arc(near, wall, gap, at_end, 1.0, cell_m) for at_end in (False, True)]
            halves = [_leaf_arc(near, wall, gap, at_end, 0.5, cell_m) for at_end in (False, True)]
            best = max((fit for fit in whole if fit), key=lambda fit: fit[0], default=None)
            if best:
                out.append(best[1])
            elif halves[0] and halves[1]:
                out += [halves[0][1], halves[1][1]]
    return out


def _leaf_arc(
    ink: Gray, wall: Traced, gap: tuple[float, float], at_end: bool, share: float, cell_m: float
) -> tuple[float, Arc] | None:
    """Return how much of it is inked and the arc of a leaf hung at one side of a gap, None where too little is.

    The leaf is as long as a `share` of the gap; blur makes gaps narrower, and leaves hang on a wall's line or its face.
    """
    a, b = np.array(wall.ends_m[:2]), np.array(wall.ends_m[2:])
    way = (b - a) / wall.length_m * (-1 if at_end else 1)
    across = np.array([-way[1], way[0]])
    wide, half = gap[1] - gap[0], (wall.thickness_m or 0.0) / 2
    side = a + (b - a) / wall.length_m * gap[at_end]
    hung = [
        (side + way * along * wide + across * off, r * wide * share)
        for along in (-0.08, -0.03, 0.02)
        for off in ((0.0, -half, half) if half > 2 * cell_m else (0.0,))
        for r in (0.9, 0.95, 1.0, 1.05, 1.1, 1.16, 1.22)
    ]
    hinges, radii = np.array([h for h, _ in hung]), np.array([r for _, r in hung])
    shut = float(np.arctan2(way[1], way[0]))
    fits = []
    for turn, least in ((np.pi / 2, _SWING_INK), (-np.pi / 2, _SWING_INK), *_HALF_OPEN):
        inked = _inked(ink, hinges, radii, shut, turn, half, cell_m)
        if abs(turn) < 1:  # half as long, so that more of it must be there, and the leaf with it
            inked = np.minimum(inked, _leaf_inked(ink, hinges, radii, shut + turn, half, cell_m))
        best = _middle_of_best(inked, radii)
        if inked[best] >= least:
            x, y = hinges[best]
            fits.append((float(inked[best]), arc_between(float(x), float(y), float(radii[best]), shut, turn)))
    return max(fits, key=lambda fit: fit[0], default=None)


def _middle_of_best(inked: Floats, radii: Floats) -> int:
    """Return which arc of those that are inked about best has the middle radius: blurred lines hold several."""
    best = np.flatnonzero(inked >= inked.max() - 0.04)
    return int(best[np.argsort(radii[best], kind="stable")[len(best) // 2]])


def _inked(
    ink: Gray, hinges: Floats, radii: Floats, shut: float, turn: float, half_m: float, cell_m: float
) -> Floats:
    """Return the share of each arc that lies on ink, from where it leaves its wall."""
    first = min(0.9 * abs(turn), (half_m + 3 * cell_m) / float(radii.min()))
    turns = shut + np.sign(turn) * np.linspace(first, abs(turn) - 0.08, 40)
    x = hinges[:, :1] + radii[:, None] * np.cos(turns)
    y = hinges[:, 1:] + radii[:, None] * np.sin(turns)
    return _on_ink(ink, x, y, cell_m)


def _leaf_inked(ink: Gray, hinges: Floats, radii: Floats, way: float, half_m: float, cell_m: float) -> Floats:
    """Return the share of each leaf, open as far as its arc goes, that lies on ink."""
    along = np.linspace(half_m + 3 * cell_m, 0.95 * radii, 30).T
    x, y = hinges[:, :1] + along * np.cos(way), hinges[:, 1:] + along * np.sin(way)
    return _on_ink(ink, x, y, cell_m)


def _on_ink(ink: Gray, x_m: Floats, y_m: Floats, cell_m: float) -> Floats:
    x, y = np.round(x_m / cell_m).astype(int), np.round(y_m / cell_m).astype(int)
    held = (x >= 0) & (y >= 0) & (x < ink.shape[1]) & (y < ink.shape[0])
    on = ink[np.clip(y, 0, ink.shape[0] - 1), np.clip(x, 0, ink.shape[1] - 1)] > 0
    return np.asarray((on & held).mean(axis=1))


def slides(ink: Gray, walls: Sequence[Traced], cell_m: float) -> Floats:
    """Return both faces of the leaves that slide beside gaps, shape (n, 4), in metres: thin lines along the wall."""
    found = [
        leaf
        for wall in walls
        for gap in wall.gaps_m
        for side in (-1, 1)
        for leaf in _sliding(ink, wall, gap, side, cell_m)
    ]
    return np.array(found, float).reshape(-1, 4)


def _sliding(
    ink: Gray, wall: Traced, gap: tuple[float, float], side: int, cell_m: float
) -> list[tuple[float, float, float, float]]:
    a, b = np.array(wall.ends_m[:2]), np.array(wall.ends_m[2:])
    way = (b - a) / wall.length_m
    out = side * np.array([-way[1], way[0]])
    half, wide = (wall.thickness_m or 0.1) / 2, gap[1] - gap[0]
    offs = half + np.arange(_SLIDE_OFF_M[0], _SLIDE_OFF_M[1], cell_m)
    along = np.linspace(gap[0] + 0.1 * wide, gap[1] - 0.1 * wide, 30)
    places = a + way * along[:, None, None] + out * offs[None, :, None]
    inked = _on_ink(ink, places[..., 0].T, places[..., 1].T, cell_m)
    middle = a + way * along[:, None]
    in_gap = float(_on_ink(ink, middle[None, :, 0], middle[None, :, 1], cell_m)[0])
    if inked.max() < _SLIDE_INK or in_gap > _CLEAR:
        return []
    off = float(offs[int(np.argmax(inked))])
    faces = (off, off + _SLIDE_THICK_M)
    p, q = a + way * gap[0], a + way * gap[1]
    return [(*(p + out * f), *(q + out * f)) for f in faces]
