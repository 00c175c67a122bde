"""A storey with its runs as strokes, signs and words in metres, before any file: DXF, SVG and PDF draw the same."""

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

from heathrise.core.cabling.drilling import Drilling
from heathrise.core.cabling.routes import Leg
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import (
    AccessPoint,
    Equipment,
    Job,
    OnSheet,
    Opening,
    Pathway,
    Rack,
    Riser,
    Space,
    Wall,
)
from heathrise.core.links.bridges import BridgePlan
from heathrise.exchange.plans import opening_line, wall_faces

XY = tuple[float, float]


class Layer(NamedTuple):
    """How a kind of line is drawn: its ink on paper, its width [mm], its dashes [mm], its colour in DXF."""

    ink: str
    width_mm: float
    dashes_mm: tuple[float, ...]
    dxf_colour: int


LAYERS: dict[str, Layer] = {
    "HR-SPACE": Layer("#9A937F", 0.13, (), 8),
    "HR-WALL": Layer("#1F2A33", 0.5, (), 7),
    "HR-DOOR": Layer("#1F2A33", 0.18, (), 3),
    "HR-WINDOW": Layer("#1F2A33", 0.25, (), 4),
    "HR-PATHWAY": Layer("#5B6770", 0.25, (), 9),
    "HR-RUN": Layer("#2C6E8F", 0.3, (2.2, 1.0), 5),
    "HR-RUN-OUTSIDE": Layer("#2C6E8F", 0.3, (5.0, 1.4), 5),
    "HR-BRIDGE": Layer("#2C6E8F", 0.35, (6.0, 1.2, 0.8, 1.2), 6),
    "HR-HOLE": Layer("#A8401F", 0.3, (), 1),
    "HR-POINT": Layer("#1F2A33", 0.3, (), 6),
    "HR-DEVICE": Layer("#2C6E8F", 0.3, (), 5),
    "HR-CONTOUR": Layer("#5A3467", 0.15, (), 6),
    "HR-NAME": Layer("#5B6770", 0.1, (), 8),
}


class Stroke(NamedTuple):
    """A line through places; `many` is how many runs lie in it."""

    layer: str
    points: tuple[XY, ...]
    closed: bool = False
    many: int = 1


class Fill(NamedTuple):
    """An area in a tint, by its rings: what lies in an odd number of them is filled."""

    rings: tuple[tuple[XY, ...], ...]
    ink: str


class Legend(NamedTuple):
    """What tints mean: a line of words, and the figures between the tints."""

    words: str
    inks: tuple[str, ...]
    figures: tuple[str, ...]


class Sign(NamedTuple):
    """A symbol at a place, of a fixed size on paper: point, device, rack, riser, hole."""

    layer: str
    at: XY
    sign: str


class Words(NamedTuple):
    """Words beside a place: `small` for figures on lines, else names."""

    layer: str
    at: XY
    text: str
    small: bool = False


@dataclass(frozen=True)
class Drawn:
    """All of a drawing, and what room its words want beside and below it."""

    strokes: tuple[Stroke, ...]
    signs: tuple[Sign, ...]
    words: tuple[Words, ...]
    right_m: float = 0.0
    below_m: float = 0.0
    fills: tuple[Fill, ...] = ()
    legend: Legend | None = None

    @property
    def box(self) -> tuple[float, float, float, float]:
        """x0, y0, x1, y1 round everything; a square of 10 m round nothing. [m]"""
        places = [place for stroke in self.strokes for place in stroke.points]
        places += [sign.at for sign in self.signs]
        places += [place for fill in self.fills for ring in fill.rings for place in ring]
        if not places:
            return 0.0, 0.0, 10.0, 10.0
        xs, ys = [x for x, _ in places], [y for _, y in places]
        return min(xs), min(ys), max(xs) + self.right_m, max(ys) + self.below_m


def runs_drawn(
    job: Job,
    storey_id: str,
    plans: Sequence[RunPlan],
    holes: Sequence[Drilling],
    bridges: Sequence[BridgePlan],
) -> Drawn:
    """Return a storey with everything the hands on a ladder want of it. `holes` are numbered as they are listed."""
    strokes = [*plan_strokes(job, storey_id), *_pathways(job, storey_id)]
    strokes += bundles([leg for plan in plans for leg in plan.legs if leg.storey_id == storey_id])
    strokes += _ridges(job, bridges)
    signs: list[Sign] = []
    words = names_of(job, storey_id)
    for layer, sign, at, text in _standing(job, storey_id, plans):
        signs.append(Sign(layer, at, sign))
        words.append(Words(layer, at, text))
    for number, hole in enumerate(holes, start=1):
        if hole.storey_id == storey_id:
            at = (hole.at.x_m, hole.at.y_m)
            signs.append(Sign("HR-HOLE", at, "hole"))
            words.append(Words("HR-HOLE", at, str(number), small=True))
    words += [
        Words(stroke.layer, _middle(stroke.points), f"{stroke.many}", small=True)
        for stroke in strokes
        if stroke.many > 1 and _length(stroke.points) > 1.5
    ]
    return Drawn(tuple(strokes), tuple(signs), tuple(words))


def names_of(job: Job, storey_id: str) -> list[Words]:
    """Return the names of a storey's spaces."""
    return [
        Words("HR-NAME", _centre(space), space.label)
        for space in job.of(Space)
        if space.storey_id == storey_id
    ]


def plan_strokes(job: Job, storey_id: str) -> Iterator[Stroke]:
    """Yield the plan of a storey: spaces, walls by their faces, windows, doors with their swing."""
    for space in job.of(Space):
        if space.storey_id == storey_id:
            yield Stroke("HR-SPACE", tuple((p.x_m, p.y_m) for p in space.outline), closed=True)
    for wall in job.of(Wall):
        if wall.storey_id == storey_id:
            for x1, y1, x2, y2 in wall_faces(wall):
                yield Stroke("HR-WALL", ((x1, y1), (x2, y2)))
    for opening in job.of(Opening):
        wall = job.get(Wall, opening.wall_id)
        if wall.storey_id == storey_id:
            x1, y1, x2, y2 = opening_line(wall, opening)
            if opening.opening_kind == "window":
                yield Stroke("HR-WINDOW", ((x1, y1), (x2, y2)))
            elif opening.opening_kind == "door":
                yield Stroke("HR-DOOR", leaf((x1, y1), (x2, y2)))


def leaf(hinge: XY, latch: XY, steps: int = 12) -> tuple[XY, ...]:
    """Return a door as it is drawn: its leaf stood open, and the way it swings."""
    (x, y), (across, down) = hinge, (latch[0] - hinge[0], latch[1] - hinge[1])
    turns = (math.pi / 2 * n / steps for n in range(steps, -1, -1))
    arc = [
        (x + across * math.cos(t) - down * math.sin(t), y + across * math.sin(t) + down * math.cos(t))
        for t in turns
    ]
    return (hinge, *arc)


def _pathways(job: Job, storey_id: str) -> Iterator[Stroke]:
    for pathway in job.of(Pathway):
        if pathway.storey_id == storey_id and len(pathway.path) > 1:
            yield Stroke("HR-PATHWAY", tuple((p.x_m, p.y_m) for p in pathway.path))


def bundles(legs: Sequence[Leg]) -> list[Stroke]:
    """Return level legs as strokes that lie beside none of their like: where several lie in one line they are one
    stroke, with how many they are.
    """
    lines: dict[tuple[str, str, float], list[tuple[float, float]]] = defaultdict(list)
    strokes: list[Stroke] = []
    for leg in legs:
        a, b = (leg.a.x_m, leg.a.y_m), (leg.b.x_m, leg.b.y_m)
        layer = "HR-RUN-OUTSIDE" if leg.environment in ("outdoor", "ground") else "HR-RUN"
        if a == b:
            continue
        if abs(a[1] - b[1]) < 1e-6:
            lines[layer, "x", round(a[1], 3)].append((min(a[0], b[0]), max(a[0], b[0])))
        elif abs(a[0] - b[0]) < 1e-6:
            lines[layer, "y", round(a[0], 3)].append((min(a[1], b[1]), max(a[1], b[1])))
        else:
            strokes.append(Stroke(layer, (a, b)))
    for (layer, axis, at), spans in lines.items():
        for low, high, many in _counted(spans):
            ends = ((low, at), (high, at)) if axis == "x" else ((at, low), (at, high))
            strokes.append(Stroke(layer, ends, many=many))
    return strokes


def _counted(spans: Sequence[tuple[float, float]]) -> list[tuple[float, float, int]]:
    """Return (from, to, how many) of spans of one line, parts with as many joined."""
    marks = sorted({round(mark, 3) for span in spans for mark in span})
    found: list[tuple[float, float, int]] = []
    for low, high in pairwise(marks):
        middle = (low + high) / 2
        many = sum(a < middle < b for a, b in spans)
        if found and found[-1][1] == low and found[-1][2] == many:
            found[-1] = (found[-1][0], high, many)
        elif many:
            found.append((low, high, many))
    return found


def _ridges(job: Job, bridges: Sequence[BridgePlan]) -> Iterator[Stroke]:
    for bridge in bridges:
        spots = [job.spot(end.unit_id).at for end in bridge.ends]
        yield Stroke("HR-BRIDGE", tuple((at.x_m, at.y_m) for at in spots))


def _standing(job: Job, storey_id: str, plans: Sequence[RunPlan]) -> Iterator[tuple[str, str, XY, str]]:
    """Yield (layer, sign, place, words) of what stands on a storey, with the runs that end there."""
    runs: dict[str, list[str]] = defaultdict(list)
    for plan in plans:
        runs[plan.to_id].append(plan.label)
    placed = [thing for thing in job.of(Equipment) if isinstance(thing.place, OnSheet)]
    for thing in (*job.of(AccessPoint), *placed, *job.of(Rack)):
        spot = job.spot(thing.id)
        if spot.storey_id != storey_id:
            continue
        sign = "rack" if isinstance(thing, Rack) else "point" if isinstance(thing, AccessPoint) else "device"
        layer = "HR-POINT" if sign == "point" else "HR-DEVICE"
        ends = f" {', '.join(runs[thing.id])}" if runs[thing.id] else ""
        yield layer, sign, (spot.at.x_m, spot.at.y_m), f"{thing.label}{ends}"
    order = [storey.id for storey in job.storeys]
    for riser in job.of(Riser):
        low, high = sorted((order.index(riser.from_storey_id), order.index(riser.to_storey_id)))
        if low <= order.index(storey_id) <= high:
            yield "HR-DEVICE", "riser", (riser.at.x_m, riser.at.y_m), riser.label


def _centre(space: Space) -> XY:
    count = len(space.outline)
    return sum(p.x_m for p in space.outline) / count, sum(p.y_m for p in space.outline) / count


def _middle(points: Sequence[XY]) -> XY:
    (x1, y1), (x2, y2) = points[0], points[-1]
    return (x1 + x2) / 2, (y1 + y2) / 2


def _length(points: Sequence[XY]) -> float:
    return math.dist(points[0], points[-1])
