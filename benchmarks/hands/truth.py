"""Plans whose truth is known, and how much of it a reading found. Metres, y up."""

import random
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import LineString, Polygon, box

from heathrise.core.site.proposal import ProposedStorey
from heathrise.exchange.readings import Reading

Segment = tuple[float, float, float, float]
WALLS, FALSE, DOORS, WINDOWS, SPACES, SCALE = 0.95, 0.05, 0.85, 0.80, 0.90, 0.01
# Of pictures less is asked; a photograph's sheet is straightened within two percent.
PICTURE_WALLS, PICTURE_FALSE, PICTURE_SCALE = 0.85, 0.10, 0.02


class Hole(NamedTuple):
    """A door or window in a wall: hinge side first, on the wall's centre line."""

    a: tuple[float, float]
    b: tuple[float, float]
    wall_m: float
    style: str = "swing"
    side: int = 1

    @property
    def wide(self) -> float:
        return float(np.hypot(self.b[0] - self.a[0], self.b[1] - self.a[1]))


class Bend(NamedTuple):
    """A curved wall: centre, radius of its centre line, from and to in degrees against the clock, thickness."""

    x: float
    y: float
    r: float
    start: float
    stop: float
    thick: float

    def chords(self, count: int = 24) -> list[tuple[float, float]]:
        turns = np.radians(np.linspace(self.start, self.stop, count + 1))
        return [(self.x + self.r * np.cos(t), self.y + self.r * np.sin(t)) for t in turns]


@dataclass
class Plan:
    """One storey in truth."""

    walls: list[tuple[Segment, float]] = field(default_factory=list)
    doors: list[Hole] = field(default_factory=list)
    windows: list[Hole] = field(default_factory=list)
    rooms: list[tuple[str, str, Polygon]] = field(default_factory=list)
    bends: list[Bend] = field(default_factory=list)

    @property
    def truth(self) -> np.ndarray:
        lines = [wall for wall, _ in self.walls]
        for bend in self.bends:
            points = bend.chords()
            lines += [(*p, *q) for p, q in pairwise(points)]
        return np.array(lines, float)

    @property
    def solid(self) -> Polygon:
        """The area of the walls, openings cut out."""
        faces = [LineString([w[:2], w[2:]]).buffer(t / 2, cap_style="square") for w, t in self.walls]
        faces += [LineString(b.chords(64)).buffer(b.thick / 2, cap_style="flat") for b in self.bends]
        cuts = [
            LineString([h.a, h.b]).buffer(h.wall_m / 2 + 0.02, cap_style="flat")
            for h in (*self.doors, *self.windows)
        ]
        return shapely.union_all(faces).difference(shapely.union_all(cuts) if cuts else Polygon())

    def turned(self, degrees: float) -> "Plan":
        def at(p):
            return affinity.rotate(shapely.Point(p), degrees, origin=(0, 0)).coords[0]

        def hole(h):
            return h._replace(a=at(h.a), b=at(h.b))

        return Plan(
            [((*at(w[:2]), *at(w[2:])), t) for w, t in self.walls],
            list(map(hole, self.doors)),
            list(map(hole, self.windows)),
            [(n, name, affinity.rotate(room, degrees, origin=(0, 0))) for n, name, room in self.rooms],
            [Bend(*at((b.x, b.y)), b.r, b.start + degrees, b.stop + degrees, b.thick) for b in self.bends],
        )

    def moved(self, dx: float, dy: float) -> "Plan":
        def hole(h):
            return h._replace(a=(h.a[0] + dx, h.a[1] + dy), b=(h.b[0] + dx, h.b[1] + dy))

        return Plan(
            [((w[0] + dx, w[1] + dy, w[2] + dx, w[3] + dy), t) for w, t in self.walls],
            list(map(hole, self.doors)),
            list(map(hole, self.windows)),
            [(n, name, affinity.translate(room, dx, dy)) for n, name, room in self.rooms],
            [b._replace(x=b.x + dx, y=b.y + dy) for b in self.bends],
        )


def corridor(
    names: Sequence[str],
    seed: int = 1,
    styles: Sequence[str] = ("swing",),
    outer: float = 0.3,
    inner: float = 0.12,
    storey: int = 0,
    widths: tuple[float, float] = (2.8, 5.2),
) -> Plan:
    """Rooms on both sides of a corridor, each with a door to it and a window outside."""
    rng = random.Random(seed)
    made, half = Plan(), (len(names) - 1 + 1) // 2
    deep, way = rng.choice((4.2, 4.8, 5.4)), rng.choice((1.8, 2.1))
    sides = (names[1 : half + 1], names[half + 1 :])
    cuts = [[0.0], [0.0]]
    for row, side in enumerate(sides):
        for _ in side:
            cuts[row].append(round(cuts[row][-1] + rng.uniform(*widths), 2))
    long = max(cuts[0][-1], cuts[1][-1])
    for row in cuts:
        row[-1] = long
    y1, y2, high = deep, deep + way, 2 * deep + way
    for seg in ((0, 0, long, 0), (long, 0, long, high), (long, high, 0, high), (0, high, 0, 0)):
        made.walls.append((tuple(map(float, seg)), outer))
    made.walls += [((0.0, y1, long, y1), inner), ((0.0, y2, long, y2), inner)]
    number = 1
    made.rooms.append((f"{storey}.{number:02d}", names[0], box(0, y1, long, y2)))
    for row, (low, up, door_y, window_y) in enumerate(((0, y1, y1, 0.0), (y2, high, y2, high))):
        for at, name in enumerate(sides[row]):
            x0, x1 = cuts[row][at], cuts[row][at + 1]
            if at:
                made.walls.append(((x0, float(low), x0, float(up)), inner))
            number += 1
            made.rooms.append((f"{storey}.{number:02d}", name, box(x0, low, x1, up)))
            style = styles[(at + row) % len(styles)]
            leaf = 1.6 if style == "double" else rng.choice((0.8, 0.9, 1.0))
            d0 = x0 + rng.uniform(0.35, max(0.4, x1 - x0 - leaf - 0.35))
            ends = ((round(d0, 3), door_y), (round(d0 + leaf, 3), door_y))
            if rng.random() < 0.5:
                ends = ends[::-1]
            into = 1 if (row == 1) == (ends[0][0] < ends[1][0]) else -1
            made.doors.append(Hole(*ends, inner, style, into))
            wide = min(rng.choice((1.2, 1.5, 1.8)), x1 - x0 - 0.9)
            w0 = (x0 + x1 - wide) / 2
            made.windows.append(Hole((w0, window_y), (w0 + wide, window_y), outer))
    made.doors.append(Hole((0.0, y1 + 0.4), (0.0, y1 + 1.4), outer, styles[0], -1))
    return made


def house(
    names: Sequence[str],
    seed: int = 1,
    outer: float = 0.36,
    inner: float = 0.15,
    bay: bool = False,
    slant: bool = False,
) -> Plan:
    """A house of two rows of rooms; with a curved bay or a slanted end where asked."""
    rng = random.Random(seed)
    made = Plan()
    across, count = rng.uniform(3.6, 4.4), len(names) // 2
    wides = [rng.uniform(3.2, 4.6) for _ in range(count)]
    long = round(sum(wides), 2)
    high, cut = 2 * across, across
    lean = 2.2 if slant else 0.0
    corners = [(0.0, 0.0), (long, 0.0), (long + lean, high), (0.0, high)]
    made.walls += [((*p, *q), outer) for p, q in zip(corners, corners[1:] + corners[:1], strict=True)]
    if bay:
        # The left wall gives way to a bay between these heights.
        made.walls.pop()
        low, up, r = across + 0.7, high - 0.7, (across - 1.4) / 2
        made.walls += [((0.0, 0.0, 0.0, low), outer), ((0.0, up, 0.0, high), outer)]
        made.bends.append(Bend(0.0, (low + up) / 2, r, 90.0, 270.0, outer))
    made.walls.append(((0.0, cut, long + lean / 2, cut), inner))
    x = 0.0
    for at in range(count):
        last = at == count - 1
        x1 = round(x + wides[at], 2) if not last else long
        lower = Polygon([(x, 0), (x1, 0), (x1 + (lean / 2 if last else 0), cut), (x, cut)])
        upper = Polygon(
            [(x, cut), (x1 + (lean / 2 if last else 0), cut), (x1 + (lean if last else 0), high), (x, high)]
        )
        if bay and at == 0:
            upper = upper.union(Polygon(made.bends[0].chords()))
        made.rooms += [(f"{2 * at + 1}", names[2 * at], lower), (f"{2 * at + 2}", names[2 * at + 1], upper)]
        if not last:
            made.walls += [((x1, 0.0, x1, cut), inner), ((x1, cut, x1, high), inner)]
            made.doors.append(Hole((x1, 0.6), (x1, 1.5), inner, "swing", rng.choice((1, -1))))
        made.doors.append(Hole((x + 0.5, cut), (x + 1.4, cut), inner, "swing", rng.choice((1, -1))))
        made.windows.append(Hole((x + 1.0, 0.0), (x + 2.4, 0.0), outer))
        made.windows.append(Hole((x + 1.2, high), (x + 2.4, high), outer))
        x = x1
    made.doors.append(Hole((0.0, 1.0), (0.0, 2.0), outer, "swing", 1))
    return made


class Score(NamedTuple):
    """What was found of one storey, all as shares; `scale` is how far off it is."""

    walls: float
    false: float
    doors: float
    windows: float
    spaces: float
    scale: float
    extra: float = 0.0

    def usable(self, kind: str = "") -> bool:
        if kind == "picture":
            return self.walls >= PICTURE_WALLS and self.false < PICTURE_FALSE and self.scale <= PICTURE_SCALE
        return (
            self.walls >= WALLS
            and self.false < FALSE
            and self.doors >= DOORS
            and self.windows >= WINDOWS
            and self.spaces >= SPACES
            and self.scale <= SCALE
        )

    def told(self) -> str:
        return (
            f"walls {self.walls:.0%} false {self.false:.0%} doors {self.doors:.0%} windows {self.windows:.0%} "
            f"spaces {self.spaces:.0%} scale {self.scale:.1%} off, openings too many {self.extra:.0%}"
        )


NOTHING = Score(0, 1, 0, 0, 0, 1)


def scored(reading: Reading, plans: Sequence[Plan], named: bool = True, numbered: bool = True) -> Score:
    """Return the worst of each share over the storeys; each truth is met by the storey that fits it best."""
    storeys = [s for s in reading.proposal.storeys if s.walls]
    if not storeys:
        return NOTHING
    best = [
        max((_storey(s, p, named, numbered) for s in storeys), key=lambda s: s.walls + s.spaces)
        for p in plans
    ]
    false = max(s.false for s in best) if len(storeys) <= len(plans) else 1.0
    return Score(
        min(s.walls for s in best),
        false,
        min(s.doors for s in best),
        min(s.windows for s in best),
        min(s.spaces for s in best),
        max(s.scale for s in best),
        max(s.extra for s in best),
    )


def _lines(storey: ProposedStorey) -> np.ndarray:
    return np.array([[w.a.x_m, -w.a.y_m, w.b.x_m, -w.b.y_m] for w in storey.walls])


def _storey(storey: ProposedStorey, plan: Plan, named: bool, numbered: bool) -> Score:
    found, truth = _lines(storey), plan.truth
    # Walls cut in other places have other middles; where either measure agrees the scale is right.
    scale = min(abs(_span(found, cut) / _span(truth, cut) - 1) for cut in (0, 2))
    shift = _shift(found, truth)
    laid = found + np.tile(shift, 2)
    walls = {w.id: w for w in storey.walls}

    def middle(o):
        w = walls[o.wall_id]
        a, b = np.array([w.a.x_m, -w.a.y_m]), np.array([w.b.x_m, -w.b.y_m])
        return a + (b - a) / np.hypot(*(b - a)) * (o.at_m + o.width_m / 2) + shift

    kinds = {
        kind: [(middle(o), o.width_m) for o in storey.openings if o.opening_kind == kind]
        for kind in ("door", "window", "opening")
    }
    doors, windows = _met(plan.doors, kinds["door"]), _met(plan.windows, kinds["window"])
    many = len(storey.openings) / max(len(plan.doors) + len(plan.windows), 1)
    return Score(
        _covered(truth, laid),
        1 - _covered(laid, truth),
        doors,
        windows,
        _rooms(storey, plan, shift, named, numbered),
        scale,
        max(0.0, many - 1),
    )


def _span(lines: np.ndarray, cut: float) -> float:
    low, high = np.percentile(lines.reshape(-1, 2), (cut, 100 - cut), axis=0)
    return float((high - low).sum())


def _shift(found: np.ndarray, truth: np.ndarray) -> np.ndarray:
    """Return the move that lays what was found best over the truth: of corners, or of middles."""

    def places(lines):
        points = lines.reshape(-1, 2)
        low, high = points.min(axis=0), points.max(axis=0)
        return [low, high, (low + high) / 2, [low[0], high[1]], [high[0], low[1]], np.median(points, axis=0)]

    tried = [np.asarray(t) - np.asarray(f) for f, t in zip(places(found), places(truth), strict=True)]
    return max(tried, key=lambda by: _covered(truth, found + np.tile(by, 2)))


def _covered(lines: np.ndarray, by: np.ndarray, within_m: float = 0.15) -> float:
    if not len(lines) or not len(by):
        return 0.0
    near = shapely.union_all(shapely.linestrings(by.reshape(-1, 2, 2))).buffer(within_m)
    shapes = shapely.linestrings(lines.reshape(-1, 2, 2))
    return float(shapely.length(shapely.intersection(shapes, near)).sum() / shapely.length(shapes).sum())


def _met(truth: Sequence[Hole], found: Sequence[tuple[np.ndarray, float]]) -> float:
    if not truth:
        return 1.0
    met = 0
    for hole in truth:
        at = (np.array(hole.a) + np.array(hole.b)) / 2
        met += any(
            np.hypot(*(p - at)) < 0.4 and abs(w - hole.wide) < 0.3 * hole.wide + 0.08 for p, w in found
        )
    return met / len(truth)


def _rooms(storey: ProposedStorey, plan: Plan, shift: np.ndarray, named: bool, numbered: bool) -> float:
    met = 0
    shapes = [
        (s.label, Polygon([(p.x_m + shift[0], -p.y_m + shift[1]) for p in s.outline]).buffer(0))
        for s in storey.spaces
    ]
    for number, name, room in plan.rooms:
        for label, shape in shapes:
            alike = shape.intersection(room).area / max(shape.union(room).area, 1e-9)
            said = {name.casefold(), f"{number} {name}".casefold()} if numbered else {name.casefold()}
            if alike > 0.7 and (not named or _unnumbered(label) in said):
                met += 1
                break
    return met / max(len(plan.rooms), 1)


def _unnumbered(label: str) -> str:
    return label.casefold().strip()
