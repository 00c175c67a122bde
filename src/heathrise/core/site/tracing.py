"""Walls from the lines of a drawing: two faces become one wall, broken pieces are joined.

Everything is in metres on the sheet. A wall drawn by two (or four) parallel lines becomes its
centre line with a thickness; a single line stays a wall without one. Door gaps are bridged and
remembered, ends are carried to the walls they meet.
"""

from collections import defaultdict
from dataclasses import dataclass, replace
from itertools import pairwise

import networkx as nx
import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.library import limit

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Two lines are parallel within this. [rad]
_PARALLEL = np.radians(2.0)
# Faces drawn by different hands are still one face within this. [m]
_SAME_LINE_M = 0.02
# Two faces must run side by side at least this far to be a wall. [m]
_LEAST_OVERLAP_M = 0.10


@dataclass(frozen=True)
class Traced:
    """A wall found: ends x1 y1 x2 y2, thickness (None for a single line), gaps along it."""

    ends_m: tuple[float, float, float, float]
    thickness_m: float | None
    gaps_m: tuple[tuple[float, float], ...] = ()

    @property
    def length_m(self) -> float:
        """Length of the centre line. [m]"""
        x1, y1, x2, y2 = self.ends_m
        return float(np.hypot(x2 - x1, y2 - y1))


def trace_walls(segments_m: Floats, keep_single: bool | None = None) -> list[Traced]:
    """Return walls from segments, shape (n, 4) as x1 y1 x2 y2.

    `keep_single` says whether a line without a partner is a wall; None decides by whether most
    of the drawing has partners.
    """
    lines = _merged(_long_enough(segments_m))
    if not len(lines):
        return []
    walls, singles = _paired(lines)
    paired_m = sum(wall.length_m for wall in walls)
    single_m = sum(wall.length_m for wall in singles)
    if keep_single is None:
        keep_single = paired_m < limit("plan.paired_share") * (paired_m + single_m)
    if keep_single:
        least = 0.0 if not walls else limit("plan.wall_max_m")
        walls += [wall for wall in singles if wall.length_m > least]
    return put_together(walls)


def put_together(walls: list[Traced]) -> list[Traced]:
    """Return walls with broken pieces joined, ends met, and what stands alone left out.

    A piece thicker than it is long is a pair of jambs, not a wall.
    """
    long = [wall for wall in _bridged(walls) if wall.length_m > (wall.thickness_m or 0.0)]
    return _without_islands(_joined(long), limit("plan.island_max_m"))


def _long_enough(segments_m: Floats) -> Floats:
    segments = np.asarray(segments_m, float).reshape(-1, 4)
    segments = segments[np.isfinite(segments).all(axis=1)]
    long: Floats = segments[np.hypot(*(segments[:, 2:] - segments[:, :2]).T) > _SAME_LINE_M]
    return long


def _angles(lines: Floats) -> Floats:
    """Return directions modulo half a turn. [rad]"""
    return np.arctan2(lines[:, 3] - lines[:, 1], lines[:, 2] - lines[:, 0]) % np.pi


def _close_pairs(lines: Floats, reach_m: float) -> Ints:
    """Return index pairs (m, 2), first less than second, of parallel lines within reach."""
    shapes = shapely.linestrings(lines.reshape(-1, 2, 2))
    one, other = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=reach_m)
    keep = one < other
    one, other = one[keep], other[keep]
    angles = _angles(lines)
    turn = np.abs(angles[one] - angles[other])
    turn = np.minimum(turn, np.pi - turn)
    parallel = turn < _PARALLEL
    return np.column_stack([one[parallel], other[parallel]])


def _frame(lines: Floats) -> tuple[Floats, Floats]:
    """Return the unit direction and normal that most of the lines' length follows."""
    spans = lines[:, 2:] - lines[:, :2]
    longest = spans[np.argmax(np.hypot(*spans.T))]
    direction = longest / np.hypot(*longest)
    return direction, np.array([-direction[1], direction[0]])


def _in_frame(lines: Floats, direction: Floats, normal: Floats) -> tuple[Floats, Floats]:
    """Return spans along (n, 2), sorted, and offsets across (n,)."""
    along = np.column_stack([lines[:, :2] @ direction, lines[:, 2:] @ direction])
    across = ((lines[:, :2] + lines[:, 2:]) / 2) @ normal
    return np.sort(along, axis=1), across


def _groups(lines: Floats, reach_m: float) -> list[Ints]:
    """Return indices of lines that lie side by side or end to end, by connected group."""
    graph: nx.Graph[int] = nx.Graph()
    graph.add_nodes_from(range(len(lines)))
    graph.add_edges_from(map(tuple, _close_pairs(lines, reach_m)))
    return [np.array(sorted(group)) for group in nx.connected_components(graph)]


def _merged(lines: Floats) -> Floats:
    """Return lines with what lies on top of or against each other made one."""
    out: list[Floats] = []
    for group in _groups(lines, _SAME_LINE_M):
        if len(group) == 1:
            out.append(lines[group])
            continue
        direction, normal = _frame(lines[group])
        spans, across = _in_frame(lines[group], direction, normal)
        for level in _levels(across, _SAME_LINE_M):
            offset = float(np.mean(across[level]))
            for start, stop in _union(spans[level], _SAME_LINE_M):
                a, b = direction * start + normal * offset, direction * stop + normal * offset
                out.append(np.array([[*a, *b]]))
    return np.concatenate(out) if out else np.empty((0, 4))


def _levels(across: Floats, step_m: float) -> list[Ints]:
    """Return indices grouped by offset; neighbours within a step are one level."""
    order = np.argsort(across, kind="stable")
    cuts = np.flatnonzero(np.diff(across[order]) > step_m) + 1
    return np.split(order, cuts)


def _union(spans: Floats, gap_m: float) -> list[tuple[float, float]]:
    """Return spans joined where they overlap or nearly touch."""
    joined: list[list[float]] = []
    for start, stop in spans[np.argsort(spans[:, 0])]:
        if joined and start <= joined[-1][1] + gap_m:
            joined[-1][1] = max(joined[-1][1], stop)
        else:
            joined.append([start, stop])
    return [(a, b) for a, b in joined]


def _paired(lines: Floats) -> tuple[list[Traced], list[Traced]]:
    """Return walls with two faces, and the stretches of lines that had no partner."""
    thickest = limit("plan.wall_max_m")
    walls: list[Traced] = []
    singles: list[Traced] = []
    for group in _groups(lines, thickest):
        direction, normal = _frame(lines[group])
        spans, across = _in_frame(lines[group], direction, normal)
        strips, alone = _strips(spans, across, thickest)
        for (start, stop), low, high in strips:
            walls.append(_wall(direction, normal, start, stop, (low + high) / 2, high - low))
        for (start, stop), offset in alone:
            singles.append(_wall(direction, normal, start, stop, offset, None))
    return walls, singles


def _wall(
    direction: Floats, normal: Floats, start: float, stop: float, offset: float, thickness_m: float | None
) -> Traced:
    a, b = direction * start + normal * offset, direction * stop + normal * offset
    ends = (float(a[0]), float(a[1]), float(b[0]), float(b[1]))
    return Traced(ends, None if thickness_m is None else float(thickness_m))


Span = tuple[float, float]


def _strips(
    spans: Floats, across: Floats, thickest_m: float
) -> tuple[list[tuple[Span, float, float]], list[tuple[Span, float]]]:
    """Return ((start, stop), low face, high face) of walls and ((start, stop), offset) of the rest.

    Between two neighbouring ends along the group the set of lines is the same, so each such
    piece is judged on its own and pieces of the same faces are put together again.
    """
    across = _settled(across)
    cuts = np.unique(np.round(spans, 4))
    wall_pieces: dict[tuple[float, float], list[Span]] = defaultdict(list)
    alone_pieces: dict[float, list[Span]] = defaultdict(list)
    for start, stop in pairwise(cuts):
        middle = (start + stop) / 2
        here = np.sort(across[(spans[:, 0] < middle) & (spans[:, 1] > middle)])
        for faces in _faces(here, thickest_m):
            if len(faces) > 1:
                wall_pieces[_key(faces[0]), _key(faces[-1])].append((start, stop))
            else:
                alone_pieces[_key(faces[0])].append((start, stop))
    strips = [
        (span, low, high)
        for (low, high), pieces in wall_pieces.items()
        for span in _union(np.array(pieces), _SAME_LINE_M)
        if span[1] - span[0] >= _LEAST_OVERLAP_M
    ]
    alone = [
        (span, offset)
        for offset, pieces in alone_pieces.items()
        for span in _union(np.array(pieces), _SAME_LINE_M)
    ]
    return strips, alone


def _settled(across: Floats) -> Floats:
    """Return offsets with those of one line made the same, so that its pieces stay together."""
    settled = across.copy()
    for level in _levels(across, _SAME_LINE_M):
        settled[level] = across[level].mean()
    return settled


def _key(offset: float) -> float:
    return round(float(offset), 6)


def _faces(offsets: Floats, thickest_m: float) -> list[Floats]:
    """Return sorted offsets grouped into the faces of one wall each.

    Leaves of a cavity wall are one wall; two walls with a cupboard between them are two.
    """
    thinnest = limit("plan.wall_min_m")
    if len(offsets) < 2:
        return [offsets] if len(offsets) else []
    gaps = np.diff(offsets)
    if offsets[-1] - offsets[0] <= thickest_m:
        widest = int(np.argmax(gaps))
        even = 0 < widest < len(gaps) - 1 and widest % 2 == 1
        if even and gaps[widest] > 2 * max(gaps[widest - 1], gaps[widest + 1], 0.1):
            return [offsets[: widest + 1], offsets[widest + 1 :]]
        return [offsets] if offsets[-1] - offsets[0] >= thinnest else [offsets[:1]]
    # More than one wall: the nearest two neighbours are one, the rest is judged again.
    best = int(np.argmin(np.where(gaps < thinnest, np.inf, gaps)))
    if gaps[best] > thickest_m or gaps[best] < thinnest:
        return [offsets[i : i + 1] for i in range(len(offsets))]
    low, high = best, best + 1
    return [
        *_faces(offsets[:low], thickest_m),
        offsets[low : high + 1],
        *_faces(offsets[high + 1 :], thickest_m),
    ]


def _as_lines(walls: list[Traced]) -> Floats:
    return np.array([wall.ends_m for wall in walls], float).reshape(-1, 4)


def _bridged(walls: list[Traced]) -> list[Traced]:
    """Return walls with collinear pieces joined over junctions and door gaps."""
    if not walls:
        return []
    widest = limit("plan.gap_max_m")
    lines = _as_lines(walls)
    out: list[Traced] = []
    for group in _groups_in_line(lines, walls, widest):
        members = [walls[i] for i in group]
        if len(members) == 1:
            out += members
            continue
        direction, normal = _frame(lines[group])
        spans, across = _in_frame(lines[group], direction, normal)
        order = np.argsort(spans[:, 0])
        start, stop = float(spans[order[0], 0]), float(spans[order[0], 1])
        gaps: list[Span] = []
        for index in order[1:]:
            if spans[index, 0] - stop > limit("plan.junction_max_m"):
                gaps.append((stop - start, float(spans[index, 0]) - start))
            stop = max(stop, float(spans[index, 1]))
        lengths = spans[:, 1] - spans[:, 0]
        offset = float(np.average(across, weights=lengths))
        known = [w.thickness_m for w in members if w.thickness_m is not None]
        thickness = float(np.median(known)) if known else None
        out.append(replace(_wall(direction, normal, start, stop, offset, thickness), gaps_m=tuple(gaps)))
    return out


def _groups_in_line(lines: Floats, walls: list[Traced], widest_m: float) -> list[Ints]:
    """Return indices of walls that continue each other on one line with like thickness."""
    graph: nx.Graph[int] = nx.Graph()
    graph.add_nodes_from(range(len(lines)))
    thickness = np.array([w.thickness_m or 0.0 for w in walls])
    for one, other in _close_pairs(lines, widest_m):
        direction, normal = _frame(lines[[one, other]])
        spans, across = _in_frame(lines[[one, other]], direction, normal)
        apart = max(spans[0, 0], spans[1, 0]) - min(spans[0, 1], spans[1, 1])
        step = abs(across[0] - across[1])
        alike = abs(thickness[one] - thickness[other]) <= 0.06
        if step < 0.05 and alike and -0.05 < apart <= widest_m:
            graph.add_edge(int(one), int(other))
    return [np.array(sorted(group)) for group in nx.connected_components(graph)]


def _joined(walls: list[Traced]) -> list[Traced]:
    """Return walls with each end carried to the centre line of the wall it meets."""
    if len(walls) < 2:
        return walls
    lines = _as_lines(walls)
    shapes = shapely.linestrings(lines.reshape(-1, 2, 2))
    tree = shapely.STRtree(shapes)
    half = np.array([(w.thickness_m or 0.0) / 2 for w in walls])
    reach = limit("plan.junction_max_m")
    ends = lines.reshape(-1, 2)
    near = tree.query(shapely.points(ends), predicate="dwithin", distance=reach)
    moved = ends.copy()
    best = np.full(len(ends), np.inf)
    for end, other in zip(*near, strict=True):
        own = end // 2
        if own == other:
            continue
        at = _meeting(lines[own], lines[other], float(half[own] + half[other]) + 0.1)
        if at is None:
            continue
        far = float(np.hypot(*(at - ends[end])))
        if far < min(best[end], reach):
            best[end] = far
            moved[end] = at
    return [_stretched(wall, moved[2 * i], moved[2 * i + 1]) for i, wall in enumerate(walls)]


def _meeting(own: Floats, other: Floats, slack_m: float) -> Floats | None:
    """Return where a wall's line meets another's, which may fall short by `slack_m`."""
    d, e = own[2:] - own[:2], other[2:] - other[:2]
    cross = d[0] * e[1] - d[1] * e[0]
    if abs(cross) < np.sin(np.radians(10)) * np.hypot(*d) * np.hypot(*e):
        return None
    w = other[:2] - own[:2]
    t = (w[0] * e[1] - w[1] * e[0]) / cross
    s = (w[0] * d[1] - w[1] * d[0]) / cross
    room = slack_m / np.hypot(*e)
    return own[:2] + t * d if -room <= s <= 1 + room else None


def _stretched(wall: Traced, a: Floats, b: Floats) -> Traced:
    """Return a wall with new ends, its gaps at the places they were."""
    x1, y1 = wall.ends_m[:2]
    length = float(np.hypot(*(b - a)))
    if length < _SAME_LINE_M:
        return wall
    shift = ((x1 - a[0]) * (b[0] - a[0]) + (y1 - a[1]) * (b[1] - a[1])) / length
    gaps = tuple((max(0.0, g + shift), min(length, h + shift)) for g, h in wall.gaps_m)
    ends = (float(a[0]), float(a[1]), float(b[0]), float(b[1]))
    return replace(wall, ends_m=ends, gaps_m=gaps)


def _without_islands(walls: list[Traced], most_m: float) -> list[Traced]:
    """Return walls less the small groups that touch nothing else: tables, stairs, north arrows."""
    if not walls:
        return []
    shapes = shapely.linestrings(_as_lines(walls).reshape(-1, 2, 2))
    one, other = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=0.12)
    graph: nx.Graph[int] = nx.Graph()
    graph.add_nodes_from(range(len(walls)))
    graph.add_edges_from(zip(one.tolist(), other.tolist(), strict=True))
    groups = list(nx.connected_components(graph))
    size = {i: sum(walls[i].length_m for i in group) for group in groups for i in group}
    most_m = min(most_m, max(size.values()) / 3)
    return [wall for i, wall in enumerate(walls) if size[i] > most_m]
