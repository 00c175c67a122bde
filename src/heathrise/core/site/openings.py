"""Doors, windows and passages of traced walls: by marks, swings, leaves and glass; a passage only where neither is."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import shapely

from heathrise.core.site.drawing import Arc, Floats
from heathrise.core.site.proposal import OpeningKind
from heathrise.core.site.scaling import LEAF_M, is_swing
from heathrise.core.site.tracing import Traced

# A door's mark may stand this far from its wall. [m]
_MARK_REACH_M = 0.6
# Hinge and edge of a shut leaf lie this near the wall's faces; the leaf along it within so much. [m, rad]
_LEAF_ASIDE_M, _LEAF_TURN = 0.17, np.radians(12)
_LEAST_M = 0.25
# What an opening is taken for, where two readings of one place differ.
_RANK = {"mark": 0, "swing": 1, "glass": 2, "pane": 3, "leaf": 4, "slide": 5, "gap": 6}


class Found(NamedTuple):
    """An opening: on which wall, from where to where, what it is, what told it, how certainly."""

    wall: int
    start: float
    stop: float
    kind: OpeningKind
    by: str
    certainty: float


class Mark(NamedTuple):
    """A block or symbol that says where a door or window is: place, width and direction along the wall. [m]"""

    kind: OpeningKind
    x: float
    y: float
    width: float
    dx: float
    dy: float


def swings_of(arcs: Sequence[Arc]) -> list[Arc]:
    """Return the arcs, in metres, that may be the edge of a door."""
    return [arc for arc in arcs if is_swing(arc) and LEAF_M[0] * 0.75 <= arc.r <= LEAF_M[1] * 1.2]


def shut_leaves(swings: Sequence[Arc]) -> Floats:
    """Return where each swing's leaf may lie when shut, either end, shape (2n, 4): hinge and edge."""
    return np.array(
        [(a.x, a.y, x, y) for a in swings for x, y in ((a.x1, a.y1), (a.x2, a.y2))], float
    ).reshape(-1, 4)


def find_openings(
    walls: Sequence[Traced], swings: Sequence[Arc], marks: Sequence[Mark], glass: Floats, strokes: Floats
) -> list[Found]:
    """Return the openings of walls, none over another.

    `glass` are lines of windows; `strokes` all lines that may be a leaf or a pane, shape (n, 4), in metres.
    """
    if not walls:
        return []
    shapes = shapely.linestrings(np.array([w.ends_m for w in walls]).reshape(-1, 2, 2))
    tree = shapely.STRtree(shapes)
    found = [
        *_by_marks(walls, marks, shapes, tree),
        *_by_swings(walls, swings, shapes, tree),
        *_by_glass(walls, glass, shapes, tree),
        *(Found(i, a, b, "window", "pane", 0.85) for i, w in enumerate(walls) for a, b in w.panes_m),
        *_by_gaps(walls, strokes),
    ]
    return _apart(walls, found)


def _by_marks(
    walls: Sequence[Traced], marks: Sequence[Mark], shapes: np.ndarray, tree: shapely.STRtree
) -> list[Found]:
    out = []
    for mark in marks:
        centre = shapely.Point(mark.x + mark.dx * mark.width / 2, mark.y + mark.dy * mark.width / 2)
        near = tree.query_nearest(centre, max_distance=_MARK_REACH_M + mark.width / 2, all_matches=False)
        if not len(near):
            continue
        index = int(near[0])
        middle = shapes[index].project(centre)
        start, stop = _gap_at(walls[index], middle) or (middle - mark.width / 2, middle + mark.width / 2)
        out.append(Found(index, start, stop, mark.kind, "mark", 0.95))
    return out


def _gap_at(wall: Traced, along_m: float) -> tuple[float, float] | None:
    """Return the gap of a wall nearest to a place along it, within reach of a door's mark."""
    near = [g for g in wall.gaps_m if g[0] - _MARK_REACH_M <= along_m <= g[1] + _MARK_REACH_M]
    return min(near, key=lambda g: abs((g[0] + g[1]) / 2 - along_m), default=None)


def _by_swings(
    walls: Sequence[Traced], swings: Sequence[Arc], shapes: np.ndarray, tree: shapely.STRtree
) -> list[Found]:
    out: list[Found] = []
    for swing in swings:
        fits = []
        for leaf in shut_leaves([swing]):
            middle = shapely.Point((leaf[:2] + leaf[2:]) / 2)
            for i in tree.query(middle, predicate="dwithin", distance=0.6):
                aside = _aside(leaf, walls[i])
                if aside is not None:
                    a, b = sorted(shapes[i].project(shapely.Point(p)) for p in (leaf[:2], leaf[2:]))
                    gap = _overlapped(walls[i], a, b)
                    fits.append((gap is None, aside, int(i), gap or (a, b)))
        if fits:
            shut, _, index, (a, b) = min(fits)
            out.append(Found(index, a, b, "door", "swing", 0.75 if shut else 0.95))
    return _leaves_joined(out)


def _aside(leaf: Floats, wall: Traced) -> float | None:
    """Return how far a shut leaf lies from a wall's line, None where it does not lie in the wall."""
    ends = np.array(wall.ends_m)
    way = (ends[2:] - ends[:2]) / wall.length_m
    span = leaf[2:] - leaf[:2]
    if abs(way[0] * span[1] - way[1] * span[0]) > np.sin(_LEAF_TURN) * np.hypot(*span):
        return None
    from_a = leaf.reshape(2, 2) - ends[:2]
    along = from_a @ way
    if along.max() < 0.1 or along.min() > wall.length_m - 0.1:
        return None
    aside = float(np.abs(from_a @ np.array([-way[1], way[0]])).max())
    return aside if aside <= (wall.thickness_m or 0.0) / 2 + _LEAF_ASIDE_M else None


def _overlapped(wall: Traced, start: float, stop: float) -> tuple[float, float] | None:
    """Return the gap a stretch lies in, by most of either; a wide gap with one leaf is a door and its side light."""
    for a, b in wall.gaps_m:
        over = min(b, stop) - max(a, start)
        if over > 0.5 * min(b - a, stop - start):
            return (a, b) if b - a < 2.6 * (stop - start) else (max(a, start), min(b, stop))
    return None


def _leaves_joined(found: list[Found]) -> list[Found]:
    """Return doors with the two leaves of one made one."""
    out: list[Found] = []
    for one in sorted(found, key=lambda f: (f.wall, f.start)):
        last = out[-1] if out else None
        if last and last.wall == one.wall and one.start - last.stop < 0.1:
            out[-1] = last._replace(
                stop=max(last.stop, one.stop), certainty=min(last.certainty, one.certainty)
            )
        else:
            out.append(one)
    return out


def _by_glass(
    walls: Sequence[Traced], glass: Floats, shapes: np.ndarray, tree: shapely.STRtree
) -> list[Found]:
    """Return windows whose lines run along a wall, inside its thickness."""
    out = []
    for line in glass:
        middle = shapely.Point((line[:2] + line[2:]) / 2)
        near = tree.query_nearest(middle, max_distance=0.4, all_matches=False)
        if not len(near):
            continue
        index = int(near[0])
        start, stop = sorted(shapes[index].project(shapely.Point(p)) for p in (line[:2], line[2:]))
        if stop - start > 0.8 * np.hypot(*(line[2:] - line[:2])) and stop - start > 0.3:
            a, b = _overlapped(walls[index], start, stop) or (start, stop)
            out.append(Found(index, a, b, "window", "glass", 0.9))
    return out


def _by_gaps(walls: Sequence[Traced], strokes: Floats) -> list[Found]:
    """Return what the gaps of walls are by the lines in and beside them."""
    lines = shapely.linestrings(strokes.reshape(-1, 2, 2)) if len(strokes) else np.empty(0, object)
    tree = shapely.STRtree(lines) if len(strokes) else None
    out = []
    for index, wall in enumerate(walls):
        for gap in wall.gaps_m:
            kind, by, certainty = _gap_is(wall, gap, strokes, tree)
            out.append(Found(index, *gap, kind, by, certainty))
    return out


def _gap_is(
    wall: Traced, gap: tuple[float, float], strokes: Floats, tree: shapely.STRtree | None
) -> tuple[OpeningKind, str, float]:
    ends, half = np.array(wall.ends_m), (wall.thickness_m or 0.1) / 2
    way = (ends[2:] - ends[:2]) / wall.length_m
    across = np.array([-way[1], way[0]])
    p, q = ends[:2] + way * gap[0], ends[:2] + way * gap[1]
    wide = gap[1] - gap[0]
    if tree is None:
        return "opening", "gap", 0.5
    near = tree.query(shapely.LineString([p, q]), predicate="dwithin", distance=half + 0.25)
    if not len(near):
        return "opening", "gap", 0.5
    local = strokes[near].reshape(-1, 2, 2) - p
    along, aside = local @ way, local @ across
    long = np.hypot(*(local[:, 1] - local[:, 0]).T)
    level = np.abs(aside[:, 1] - aside[:, 0]) < 0.1 * long
    low, high = along.min(axis=1), along.max(axis=1)
    over = np.minimum(high, wide) - np.maximum(low, 0)
    off = np.abs(aside.mean(axis=1))
    panes = level & (off <= half + 0.02) & (over >= 0.8 * wide) & (low > -0.35) & (high < wide + 0.35)
    leaf = _leaf_in(local, long, level, wide, half, way)
    if leaf and not (panes.sum() > 1 and wide > 1.3):
        return "door", "leaf", 0.8
    slide = level & (off > half - 0.01) & (off <= half + 0.2) & (over >= 0.25 * wide)
    slide &= (long >= 0.45 * wide) & (long <= 1.35 * wide) & ~panes
    if slide.sum() >= 2 and LEAF_M[0] < wide < 2 * LEAF_M[1]:
        return "door", "slide", 0.65
    if panes.sum():
        return "window", "glass", 0.85 if panes.sum() > 1 else 0.6
    return "opening", "gap", 0.5


def _leaf_in(local: Floats, long: Floats, level: np.ndarray, wide: float, half: float, way: Floats) -> bool:
    """Say whether a line stands off one side of a gap, as long as the gap or half of it is wide."""
    ends = np.array([[0.0, 0.0], way * wide])
    for end in ends:
        begins = np.hypot(*(local - end).transpose(2, 0, 1)).min(axis=1) < half + 0.12
        fits = (np.abs(long - wide) < 0.22 * wide) | (np.abs(long - wide / 2) < 0.1 * wide)
        if (begins & fits & ~level).any() and LEAF_M[0] * 0.9 < wide < 2 * LEAF_M[1]:
            return True
    return False


def _apart(walls: Sequence[Traced], found: Sequence[Found]) -> list[Found]:
    """Return openings none of which lies over another; the surer way to tell wins."""
    taken: dict[int, list[tuple[float, float]]] = {}
    out = []
    for one in sorted(found, key=lambda f: (_RANK[f.by], f.start - f.stop)):
        a, b = max(0.0, one.start), min(walls[one.wall].length_m, one.stop)
        there = taken.setdefault(one.wall, [])
        if b - a < _LEAST_M or any(min(b, q) - max(a, p) > 0.02 for p, q in there):
            continue
        there.append((a, b))
        out.append(one._replace(start=a, stop=b))
    return out
