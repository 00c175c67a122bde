"""Walls from the lines of a drawing: two faces become one wall, broken pieces are joined.

Everything is in metres on the sheet. A wall drawn by two (or four) parallel lines becomes its
centre line with a thickness; a single line stays a wall without one. Door gaps are bridged and
remembered, so are stretches of glass; ends are carried to the walls they meet.
"""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise
from typing import Literal

import networkx as nx
import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.library import limit
from heathrise.core.site.drawing import Arc

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Two lines are parallel within this. [rad]
_PARALLEL = np.radians(2.0)
# Faces drawn by different hands are still one face within this. [m]
_SAME_LINE_M = 0.02
# Two faces must run side by side at least this far to be a wall. [m]
_LEAST_OVERLAP_M = 0.10
# A door's or window's own line lies this near the wall it is in, beyond half the wall. [m]
_HINT_ASIDE_M, _HINT_AHEAD_M = 0.12, 0.35
# A pane is this long, and its wall at least so much longer unless jambs close it off. [m, 1]
_PANE_M, _PANE_SHARE = (0.35, 5.0), 0.6
# Chords leave a curved wall by no more than this. [m]
_SAG_M = 0.02
# An end this near to the face of a wall across it ends there. [m]
_ABUT_M = 0.1
# As many neighbours side by side, this near, are hatching, tiles or treads. [1, m]
_REPEATS, _REPEAT_M = 5, 0.9
Span = tuple[float, float]
Form = Literal["faces", "line", "curve", "hint"]


@dataclass(frozen=True)
class Traced:
    """A wall found: ends x1 y1 x2 y2, thickness (None for a single line), gaps and panes of glass along it.

    `form` is what it was drawn by; a hint is no wall but says where an opening of one is.
    """

    ends_m: tuple[float, float, float, float]
    thickness_m: float | None
    gaps_m: tuple[tuple[float, float], ...] = ()
    panes_m: tuple[tuple[float, float], ...] = ()
    form: Form = "faces"

    @property
    def length_m(self) -> float:
        """Length of the centre line. [m]"""
        x1, y1, x2, y2 = self.ends_m
        return float(np.hypot(x2 - x1, y2 - y1))


def trace_walls(
    segments_m: Floats,
    keep_single: bool | None = None,
    hints_m: Floats | None = None,
    curved: Sequence[Traced] = (),
) -> list[Traced]:
    """Return walls from segments, shape (n, 4) as x1 y1 x2 y2.

    `keep_single` says whether a line without a partner is a wall; None decides by whether most
    of the drawing has partners. `hints_m`, shape (n, 4), say where doors and windows are;
    `curved` are walls that are known already and meet the others.
    """
    lines = _merged(_long_enough(segments_m))
    if not len(lines):
        return put_together(list(curved)) if curved else []
    walls, singles = _paired(lines)
    paired_m = sum(wall.length_m for wall in walls)
    single_m = sum(wall.length_m for wall in singles)
    if keep_single is None:
        keep_single = paired_m < limit("plan.paired_share") * (paired_m + single_m)
    if keep_single:
        least = 0.0 if not walls else limit("plan.wall_max_m")
        walls += [wall for wall in singles if wall.length_m > least]
    return put_together(walls, hints_m, curved)


def put_together(
    walls: list[Traced], hints_m: Floats | None = None, curved: Sequence[Traced] = ()
) -> list[Traced]:
    """Return walls with broken pieces joined, ends met, and what stands alone left out.

    A piece thicker than it is long is a pair of jambs, not a wall; beside a bay it is what is left of one.
    """
    if hints_m is not None and len(hints_m):
        walls = walls + _hinted(walls, hints_m)
    least = 0.6 if curved else 1.0
    long = [wall for wall in _bridged(walls, curved) if wall.length_m > least * (wall.thickness_m or 0.0)]
    whole = carried(_without_frames_in_gaps(long) + list(curved))
    return _without_islands(whole, limit("plan.island_max_m"))


def without_repeats(segments_m: Floats) -> tuple[Floats, int]:
    """Return segments less those that many alike lie beside, closely: hatching, tiles, treads; and how many went."""
    segments = _long_enough(segments_m)
    if len(segments) <= _REPEATS:
        return segments, 0
    pairs = _close_pairs(segments, _REPEAT_M)
    if not len(pairs):
        return segments, 0
    long = np.hypot(*(segments[:, 2:] - segments[:, :2]).T)
    one, other = pairs[:, 0], pairs[:, 1]
    ways = (segments[:, 2:] - segments[:, :2]) / long[:, None]
    middles = (segments[:, :2] + segments[:, 2:]) / 2
    apart = middles[other] - middles[one]
    along = np.abs((apart * ways[one]).sum(axis=1))
    across = np.abs(apart[:, 0] * ways[one][:, 1] - apart[:, 1] * ways[one][:, 0])
    short, high = np.minimum(long[one], long[other]), np.maximum(long[one], long[other])
    beside = (along < 0.5 * high) & (across > _SAME_LINE_M) & (short > 0.6 * high)
    count = np.bincount(pairs[beside].ravel(), minlength=len(segments))
    drop = (count >= _REPEATS) | _family_edges(pairs[beside], across[beside], count)
    return segments[~drop], int(drop.sum())


def _family_edges(pairs: Ints, across: Floats, count: Ints) -> NDArray[np.bool_]:
    """Return which lines are the last of a family: as far from the next as that is from the one after it.

    The face of a wall beside hatching has its other face nearer.
    """
    nearest = np.full(len(count), np.inf)
    for side in (0, 1):
        np.minimum.at(nearest, pairs[:, side], across)
    edge = np.zeros(len(count), bool)
    for side in (0, 1):
        own, other = pairs[:, side], pairs[:, 1 - side]
        next_to = (
            (count[other] >= _REPEATS) & (across <= 1.05 * nearest[own]) & (across <= 1.05 * nearest[other])
        )
        edge[own[next_to & (count[own] >= 2)]] = True
    return edge


def curved_walls(arcs: Sequence[Arc], keep_single: bool) -> list[Traced]:
    """Return curved walls as chords within 2 cm of their centre line: two arcs about one centre, or a single one.

    `arcs` are in metres.
    """
    out: list[Traced] = []
    used: set[int] = set()
    order = sorted(range(len(arcs)), key=lambda i: arcs[i].r)
    for place, i in enumerate(order):
        for j in order[place + 1 :]:
            if {i, j} & used or not _concentric(arcs[i], arcs[j]):
                continue
            used |= {i, j}
            out += _bent(arcs[i], (arcs[i].r + arcs[j].r) / 2, arcs[j].r - arcs[i].r)
    if keep_single:
        out += [piece for i, arc in enumerate(arcs) if i not in used for piece in _bent(arc, arc.r, None)]
    return out


def _concentric(inner: Arc, outer: Arc) -> bool:
    thick = outer.r - inner.r
    apart = np.hypot(outer.x - inner.x, outer.y - inner.y)
    return bool(
        limit("plan.wall_min_m") <= thick <= limit("plan.wall_max_m")
        and apart < 0.1 * inner.r
        and abs(abs(outer.turn) - abs(inner.turn)) < 0.6
        and np.hypot(
            *(
                np.array(inner[3:7]).reshape(2, 2).mean(axis=0)
                - np.array(outer[3:7]).reshape(2, 2).mean(axis=0)
            )
        )
        < 0.5 * inner.r + thick
    )


def _bent(arc: Arc, r: float, thickness_m: float | None) -> list[Traced]:
    k = r / arc.r
    x1, y1 = arc.x + (arc.x1 - arc.x) * k, arc.y + (arc.y1 - arc.y) * k
    x2, y2 = arc.x + (arc.x2 - arc.x) * k, arc.y + (arc.y2 - arc.y) * k
    middle = Arc(arc.x, arc.y, r, x1, y1, x2, y2, arc.turn)
    return [Traced((*a, *b), thickness_m, form="curve") for a, b in pairwise(middle.chords(_SAG_M))]


def _hinted(walls: list[Traced], hints_m: Floats) -> list[Traced]:
    """Return hints laid onto the line of the wall they continue or cut; what no wall is near for is no opening."""
    if not walls:
        return []
    lines = _as_lines(walls)
    tree = shapely.STRtree(shapely.linestrings(lines.reshape(-1, 2, 2)))
    half = np.array([(w.thickness_m or 0.0) / 2 for w in walls])
    angles = _angles(lines)
    out = []
    reach = _HINT_AHEAD_M + limit("plan.wall_max_m") / 2 + _HINT_ASIDE_M
    for hint in np.asarray(hints_m, float):
        near = tree.query(shapely.LineString(hint.reshape(2, 2)), predicate="dwithin", distance=reach)
        turn = np.abs(angles[near] - _angles(hint[None])[0])
        near = near[np.minimum(turn, np.pi - turn) < 3 * _PARALLEL]
        laid = [_laid(hint, lines[i], half[i]) for i in near]
        fits = [(aside, ends, i) for (aside, ends), i in zip(laid, near, strict=True) if ends is not None]
        if fits:
            _, ends, i = min(fits, key=lambda fit: (fit[0], -walls[fit[2]].length_m))
            out.append(Traced(ends, walls[i].thickness_m, form="hint"))
    return out


def _laid(
    hint: Floats, line: Floats, half_m: float
) -> tuple[float, tuple[float, float, float, float] | None]:
    """Return how far aside of a wall's line a hint is, and it laid onto that line, None where it is too far."""
    span = line[2:] - line[:2]
    length = np.hypot(*span)
    way = span / length
    from_a = hint.reshape(2, 2) - line[:2]
    along = np.sort(from_a @ way)
    aside = float(np.abs(from_a @ np.array([-way[1], way[0]])).max())
    ahead = max(along[0] - length, -along[1], 0.0)
    if aside > half_m + _HINT_ASIDE_M or ahead > _HINT_AHEAD_M:
        return aside, None
    a, b = line[:2] + way * along[0], line[:2] + way * along[1]
    return aside, (float(a[0]), float(a[1]), float(b[0]), float(b[1]))


def _without_frames_in_gaps(walls: list[Traced]) -> list[Traced]:
    """Return walls less the thin pieces that lie in the gap of a thicker one: frames and panes of windows."""
    gapped = [wall for wall in walls if wall.gaps_m and wall.thickness_m]
    if not gapped:
        return walls
    lines = _as_lines(gapped)
    shapes = shapely.linestrings(lines.reshape(-1, 2, 2))
    tree = shapely.STRtree(shapes)

    def inside(piece: Traced) -> bool:
        ends = np.array(piece.ends_m)
        middle = (ends[:2] + ends[2:]) / 2
        for i in tree.query(shapely.Point(middle), predicate="dwithin", distance=0.3):
            host = gapped[i]
            if host is piece or (piece.thickness_m or 0.0) > 0.7 * (host.thickness_m or 0.0):
                continue
            _, ends_m = _laid(ends, lines[i], (host.thickness_m or 0.0) / 2 - _HINT_ASIDE_M)
            if ends_m is None:
                continue
            along = [
                float(np.hypot(x - host.ends_m[0], y - host.ends_m[1])) for x, y in (ends_m[:2], ends_m[2:])
            ]
            low, high = min(along), max(along)
            if any(a - 0.15 <= low and high <= b + 0.15 for a, b in host.gaps_m):
                return True
        return False

    return [wall for wall in walls if wall.gaps_m or not inside(wall)]


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
    jambs = _Jambs(lines)
    for group in _groups(lines, thickest):
        direction, normal = _frame(lines[group])
        spans, across = _in_frame(lines[group], direction, normal)
        strips, alone = _strips(spans, across, thickest)
        for (start, stop), low, high, inner in strips:
            wall = _wall(direction, normal, start, stop, (low + high) / 2, high - low)
            panes = _panes(inner, (start, stop), partial(jambs.at, wall))
            walls.append(replace(wall, panes_m=panes))
        for (start, stop), offset in alone:
            singles.append(replace(_wall(direction, normal, start, stop, offset, None), form="line"))
    return walls, singles


class _Jambs:
    """Short lines across a wall, where it stops or an opening begins."""

    def __init__(self, lines: Floats):
        short = lines[np.hypot(*(lines[:, 2:] - lines[:, :2]).T) < 1.3 * limit("plan.wall_max_m")]
        self.angles = _angles(short)
        self.tree = shapely.STRtree(shapely.linestrings(short.reshape(-1, 2, 2))) if len(short) else None

    def at(self, wall: Traced, along_m: float) -> bool:
        """Say whether a line crosses a wall's centre line there."""
        if self.tree is None:
            return False
        a, b = np.array(wall.ends_m[:2]), np.array(wall.ends_m[2:])
        place = a + (b - a) / wall.length_m * along_m
        near = self.tree.query(shapely.Point(place), predicate="dwithin", distance=2 * _SAME_LINE_M)
        across = (_angles(np.array([wall.ends_m]))[0] + np.pi / 2) % np.pi
        turn = np.abs(self.angles[near] - across)
        return bool((np.minimum(turn, np.pi - turn) < 5 * _PARALLEL).any())


def _panes(inner: Sequence[Span], wall: Span, jamb: Callable[[float], bool]) -> tuple[Span, ...]:
    """Return the stretches, from the wall's start, where lines run inside it that are no leaves of the whole wall."""
    few = sum(b - a for a, b in inner) < _PANE_SHARE * (wall[1] - wall[0])
    found = [(a - wall[0], b - wall[0]) for a, b in inner if _PANE_M[0] <= b - a <= _PANE_M[1]]
    return tuple(span for span in found if few or (jamb(span[0]) and jamb(span[1])))


def _wall(
    direction: Floats, normal: Floats, start: float, stop: float, offset: float, thickness_m: float | None
) -> Traced:
    a, b = direction * start + normal * offset, direction * stop + normal * offset
    ends = (float(a[0]), float(a[1]), float(b[0]), float(b[1]))
    return Traced(ends, None if thickness_m is None else float(thickness_m))


def _strips(
    spans: Floats, across: Floats, thickest_m: float
) -> tuple[list[tuple[Span, float, float, list[Span]]], list[tuple[Span, float]]]:
    """Return ((start, stop), low face, high face, inner) of walls and ((start, stop), offset) of the rest.

    `inner` are stretches of a wall with more lines than its two faces.

    Between two neighbouring ends along the group the set of lines is the same, so each such
    piece is judged on its own and pieces of the same faces are put together again.
    """
    across = _settled(across)
    cuts = np.unique(np.round(spans, 4))
    wall_pieces: dict[tuple[float, float], list[Span]] = defaultdict(list)
    inner: dict[tuple[float, float], list[Span]] = defaultdict(list)
    alone_pieces: dict[float, list[Span]] = defaultdict(list)
    for start, stop in pairwise(cuts):
        middle = (start + stop) / 2
        here = np.sort(across[(spans[:, 0] < middle) & (spans[:, 1] > middle)])
        for faces in _faces(here, thickest_m):
            if len(faces) > 1:
                wall_pieces[_key(faces[0]), _key(faces[-1])].append((start, stop))
                if len(faces) > 2:
                    inner[_key(faces[0]), _key(faces[-1])].append((start, stop))
            else:
                alone_pieces[_key(faces[0])].append((start, stop))
    strips = [
        (span, low, high, _within(inner[low, high], span))
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


def _within(inner: list[Span], span: Span) -> list[Span]:
    """Return stretches joined, those that lie in a span."""
    joined = _union(np.array(inner), _SAME_LINE_M) if inner else []
    return [(a, b) for a, b in joined if a >= span[0] - _SAME_LINE_M and b <= span[1] + _SAME_LINE_M]


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


def _bridged(walls: list[Traced], curved: Sequence[Traced] = ()) -> list[Traced]:
    """Return walls with collinear pieces joined over junctions and door gaps."""
    if not walls:
        return []
    widest = limit("plan.gap_max_m")
    lines = _as_lines(walls)
    out: list[Traced] = []
    for group in _groups_in_line(lines, walls, widest, curved):
        members = [walls[i] for i in group]
        solid = np.array([w.form != "hint" for w in members])
        if len(members) == 1 or not solid.any():
            out += [w for w in members if w.form != "hint"]
            continue
        direction, normal = _frame(lines[group][solid])
        spans, across = _in_frame(lines[group], direction, normal)
        start, stop = float(spans[:, 0].min()), float(spans[:, 1].max())
        hints = [(a, b) for a, b in spans[~solid].tolist()]
        gaps = [(a - start, b - start) for a, b in _open(spans[solid], (start, stop), hints)]
        lengths = (spans[:, 1] - spans[:, 0])[solid]
        offset = float(np.average(across[solid], weights=lengths))
        known = [
            w.thickness_m
            for w, real in zip(members, solid, strict=True)
            if real and w.thickness_m is not None
        ]
        thickness = float(np.median(known)) if known else None
        panes = [
            pane
            for w, span in zip(members, spans, strict=True)
            for pane in _carried(w, span, direction, start)
        ]
        made = _wall(direction, normal, start, stop, offset, thickness)
        forms = {w.form for w in members if w.form != "hint"}
        form: Form = "faces" if "faces" in forms else "line"
        out.append(replace(made, gaps_m=tuple(gaps), panes_m=tuple(panes), form=form))
    return out


def _open(solid: Floats, whole: Span, hints: Sequence[Span]) -> list[Span]:
    """Return the stretches of a wall where nothing is drawn: wider than a junction, or with an opening said there."""
    covered = _union(solid, _SAME_LINE_M)
    edges = [whole[0], *(n for span in covered for n in span), whole[1]]
    free = [(a, b) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > _SAME_LINE_M]

    def said(a: float, b: float) -> bool:
        return any(min(b, q) - max(a, p) > 0.5 * (b - a) for p, q in hints)

    return [(a, b) for a, b in free if b - a > limit("plan.junction_max_m") or (b - a > 0.25 and said(a, b))]


def _carried(wall: Traced, span: Floats, direction: Floats, start: float) -> list[Span]:
    """Return the panes of a piece as places along the whole wall."""
    x1, y1, x2, y2 = wall.ends_m
    ahead = (x2 - x1) * direction[0] + (y2 - y1) * direction[1] > 0
    base, sign = (float(span[0]), 1) if ahead else (float(span[1]), -1)
    return [
        (min(p, q), max(p, q))
        for a, b in wall.panes_m
        for p, q in [(base + sign * a - start, base + sign * b - start)]
    ]


def _groups_in_line(
    lines: Floats, walls: list[Traced], widest_m: float, curved: Sequence[Traced]
) -> list[Ints]:
    """Return indices of walls that continue each other on one line with like thickness."""
    graph: nx.Graph[int] = nx.Graph()
    graph.add_nodes_from(range(len(lines)))
    thickness = np.array([w.thickness_m or 0.0 for w in walls])
    abuts = _abutting(lines, thickness, curved)
    for one, other in _close_pairs(lines, widest_m):
        direction, normal = _frame(lines[[one, other]])
        spans, across = _in_frame(lines[[one, other]], direction, normal)
        apart = max(spans[0, 0], spans[1, 0]) - min(spans[0, 1], spans[1, 1])
        step = abs(across[0] - across[1])
        alike = abs(thickness[one] - thickness[other]) <= 0.06
        if step < 0.05 and alike and -0.05 < apart <= widest_m:
            # Walls that end at the two sides of a corridor do not go on over it, nor those that end at a bay.
            over_way = apart > limit("plan.junction_max_m") and all(
                abuts[i, _facing(lines[i], lines[j])] for i, j in ((one, other), (other, one))
            )
            if not over_way:
                graph.add_edge(int(one), int(other))
    return [np.array(sorted(group)) for group in nx.connected_components(graph)]


def _facing(line: Floats, other: Floats) -> int:
    """Return which end of a line is nearer to another: 0 or 1."""
    middle = (other[:2] + other[2:]) / 2
    return int(np.hypot(*(line[2:] - middle)) < np.hypot(*(line[:2] - middle)))


def _abutting(lines: Floats, thickness: Floats, curved: Sequence[Traced]) -> NDArray[np.bool_]:
    """Return for each end of each wall, shape (n, 2), whether it ends at a wall across it."""
    across = np.concatenate([lines, _as_lines(list(curved))])
    wide = np.concatenate([thickness, [w.thickness_m or 0.0 for w in curved]])
    shapes = shapely.linestrings(across.reshape(-1, 2, 2))
    ends = shapely.points(lines.reshape(-1, 2))
    end, other = shapely.STRtree(shapes).query(ends, predicate="dwithin", distance=limit("plan.wall_max_m"))
    # A wall that another meets is itself in two pieces there, as one of its faces is: their ends are near enough.
    reach = (wide[other] + thickness[end // 2]) / 2 + _ABUT_M
    met = np.asarray(shapely.distance(ends[end], shapes[other]) <= reach)
    turn = np.abs(_angles(lines)[end // 2] - _angles(across)[other])
    steep = np.minimum(turn, np.pi - turn) > np.pi / 4
    out = np.zeros(len(ends), bool)
    out[end[met & steep & (end // 2 != other)]] = True
    return out.reshape(-1, 2)


def carried(walls: list[Traced]) -> list[Traced]:
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
    gaps, panes = (
        tuple((max(0.0, g + shift), min(length, h + shift)) for g, h in spans)
        for spans in (wall.gaps_m, wall.panes_m)
    )
    ends = (float(a[0]), float(a[1]), float(b[0]), float(b[1]))
    return replace(wall, ends_m=ends, gaps_m=gaps, panes_m=panes)


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
