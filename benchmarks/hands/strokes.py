"""A plan as strokes of pens, by a draughtsman's habits. Metres, y up; writers make files of them."""

import random
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
import shapely
from shapely.geometry import LineString

from benchmarks.hands.truth import Hole, Plan


class Stroke(NamedTuple):
    """`line` x1 y1 x2 y2; `arc` x y r from to (degrees against the clock); `fill` a ring; `text` x y height words turn;
    `round` x y r; `measure` x1 y1 x2 y2 words.
    """

    pen: str
    kind: str
    data: Any


@dataclass
class Habit:
    """How somebody draws."""

    walls: str = "faces"
    windows: str = "three"
    furniture: bool = True
    measures: str = ""
    grid: bool = False
    frame: bool = False
    stairs: bool = False
    area: str = ""
    number: str = "before"
    title: str = ""
    floor_hatch: bool = False
    text_m: float = 0.22
    note: str = ""


def strokes(plan: Plan, habit: Habit, seed: int = 1) -> list[Stroke]:
    """Return all strokes of a plan."""
    rng = random.Random(seed)
    out = [*_walls(plan, habit), *_doors(plan), *_windows(plan, habit), *_names(plan, habit)]
    if habit.furniture:
        out += _furniture(plan, rng)
    if habit.stairs:
        out += _stairs(plan)
    low = np.min([room.bounds[:2] for *_, room in plan.rooms], axis=0)
    high = np.max([room.bounds[2:] for *_, room in plan.rooms], axis=0)
    if habit.measures:
        out += _measures(plan, habit, low, high)
    if habit.grid:
        out += _grid(low, high)
    if habit.floor_hatch:
        x0, y0, x1, y1 = plan.rooms[-1][2].buffer(-0.25).bounds
        for x in np.arange(x0, x1, 0.3):
            out.append(Stroke("hatch", "line", (x, y0, x, y1)))
    if habit.title:
        out.append(Stroke("title", "text", (low[0] + 2, low[1] - 2.6, 0.5, habit.title, 0)))
    if habit.frame:
        out += _frame(low, high, habit)
    return out


def _rings(area) -> Iterator[list]:
    for part in shapely.get_parts(area):
        yield list(part.exterior.coords)
        yield from (list(hole.coords) for hole in part.interiors)


def _single(plan: Plan) -> Iterator[Stroke]:
    holes = [LineString([h.a, h.b]).buffer(0.01) for h in (*plan.doors, *plan.windows)]
    for wall, _ in plan.walls:
        left = LineString([wall[:2], wall[2:]]).difference(shapely.union_all(holes))
        for part in shapely.get_parts(left):
            (x1, y1), (x2, y2) = part.coords[0], part.coords[-1]
            yield Stroke("wall", "line", (x1, y1, x2, y2))
    for b in plan.bends:
        yield Stroke("wall", "arc", (b.x, b.y, b.r, b.start, b.stop))


def _walls(plan: Plan, habit: Habit) -> Iterator[Stroke]:
    if habit.walls == "single":
        yield from _single(plan)
        return
    straight = Plan(plan.walls, plan.doors, plan.windows)
    solid = (straight if habit.walls in ("faces", "hatched") else plan).solid
    if habit.walls == "filled":
        for part in shapely.get_parts(solid):
            yield Stroke("wall", "fill", [list(r) for r in _rings(part)])
        return
    for ring in _rings(solid):
        for (x1, y1), (x2, y2) in pairwise(ring):
            yield Stroke("wall", "line", (x1, y1, x2, y2))
    for b in plan.bends:
        for r in (b.r - b.thick / 2, b.r + b.thick / 2):
            yield Stroke("wall", "arc", (b.x, b.y, r, b.start, b.stop))
    if habit.walls == "hatched":
        yield from _hatching(solid)


def _hatching(solid) -> Iterator[Stroke]:
    for part in shapely.get_parts(solid):
        x0, y0, x1, y1 = part.bounds
        for shift in np.arange(x0 - (y1 - y0), x1, 0.12):
            cut = LineString([(shift, y0), (shift + y1 - y0, y1)]).intersection(part)
            for piece in shapely.get_parts(cut):
                if piece.geom_type == "LineString" and piece.length > 0.02:
                    (a, b), (c, d) = piece.coords[0], piece.coords[-1]
                    yield Stroke("hatch", "line", (a, b, c, d))


def _frame_of(hole: Hole) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    a, b = np.array(hole.a), np.array(hole.b)
    along = (b - a) / hole.wide
    return a, b, along, np.array([-along[1], along[0]]) * hole.side


def swing(pen: str, hinge, end, side: float, leaf: bool = True, degrees: float = 90) -> Iterator[Stroke]:
    """A leaf open by so much and the arc its edge goes."""
    a, b = np.array(hinge), np.array(end)
    r = float(np.hypot(*(b - a)))
    shut = float(np.degrees(np.arctan2(*(b - a)[::-1])))
    wide = degrees * side
    tip = a + r * np.array([np.cos(np.radians(shut + wide)), np.sin(np.radians(shut + wide))])
    if leaf:
        yield Stroke(pen, "line", (*a, *tip))
    start, stop = (shut, shut + wide) if wide > 0 else (shut + wide, shut)
    yield Stroke(pen, "arc", (*a, r, start, stop))


def _doors(plan: Plan) -> Iterator[Stroke]:
    for hole in plan.doors:
        a, b, along, out = _frame_of(hole)
        if hole.style == "swing":
            yield from swing("door", a, b, hole.side)
        elif hole.style == "half":
            yield from swing("door", a, b, hole.side, degrees=45)
        elif hole.style == "arc":
            yield from swing("door", a, b, hole.side, leaf=False)
        elif hole.style == "double":
            middle = (a + b) / 2
            yield from swing("door", a, middle, hole.side)
            yield from swing("door", b, middle, -hole.side)
        elif hole.style == "leaf":
            yield Stroke("door", "line", (*a, *(a + out * hole.wide)))
        elif hole.style == "slide":
            # A leaf beside the wall, as wide as the opening, pushed half open.
            off = out * (hole.wall_m / 2 + 0.04)
            p, q = a + off + along * 0.1, a + off + along * (hole.wide + 0.05)
            t = out * 0.04
            for x, y in ((p, q), (q, q + t), (q + t, p + t), (p + t, p)):
                yield Stroke("door", "line", (*x, *y))


def _windows(plan: Plan, habit: Habit) -> Iterator[Stroke]:
    for hole in plan.windows:
        a, b, _, out = _frame_of(hole)
        half = out * hole.wall_m / 2
        offsets = {"three": (1, 0, -1), "two": (0.15, -0.15), "frame": (1, 0.2, -0.2, -1), "one": (0,)}[
            habit.windows
        ]
        for at in offsets:
            yield Stroke("window", "line", (*(a + half * at), *(b + half * at)))


def _names(plan: Plan, habit: Habit) -> Iterator[Stroke]:
    bodies = Plan(plan.walls, bends=plan.bends).solid
    for number, name, room in plan.rooms:
        at = room.representative_point()
        area = habit.area.format(room.difference(bodies).area) if habit.area else ""
        lines = {
            "before": [f"{number} {name}", area],
            "above": [number, name, area],
            "below": [name, number, area],
            "none": [name, area],
            "one": [" ".join(filter(None, (number, name, area)))],
        }[habit.number]
        for row, words in enumerate(filter(None, lines)):
            yield Stroke(
                "name", "text", (at.x, at.y + 0.3 - row * 1.5 * habit.text_m, habit.text_m, words, 0)
            )


def _box(pen: str, x0: float, y0: float, x1: float, y1: float) -> Iterator[Stroke]:
    for p, q in pairwise([(x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0)]):
        yield Stroke(pen, "line", (*p, *q))


def _furniture(plan: Plan, rng: random.Random) -> Iterator[Stroke]:
    for *_, room in plan.rooms:
        x0, y0, x1, y1 = room.buffer(-0.45).bounds
        if min(x1 - x0, y1 - y0) < 1.6:
            continue
        kind = rng.choice(("desk", "bed", "round", "shelf"))
        fx, fy = rng.uniform(x0, x1 - 1.6), rng.uniform(y0, y1 - 1.4)
        if kind == "desk":
            yield from _box("furn", fx, fy, fx + 1.6, fy + 0.8)
            yield from _box("furn", fx + 0.55, fy + 0.85, fx + 1.05, fy + 1.3)
        elif kind == "bed":
            yield from _box("furn", fx, fy, fx + 0.9, fy + 1.4)
            yield from _box("furn", fx + 0.1, fy + 1.0, fx + 0.8, fy + 1.3)
        elif kind == "round":
            yield Stroke("furn", "round", (fx + 0.7, fy + 0.7, 0.45))
            for dx, dy in ((0, 0.7), (1.4, 0.7), (0.7, 0), (0.7, 1.4)):
                yield Stroke("furn", "round", (fx + dx, fy + dy, 0.2))
        else:
            yield from _box("furn", fx, fy, fx + 1.5, fy + 0.3)
            yield Stroke("furn", "line", (fx, fy, fx + 1.5, fy + 0.3))


def _stairs(plan: Plan) -> Iterator[Stroke]:
    x0, y0, _, y1 = plan.rooms[0][2].buffer(-0.3).bounds
    for step in range(10):
        x = x0 + 0.6 + 0.28 * step
        yield Stroke("stair", "line", (x, y0, x, min(y1, y0 + 1.0)))
    yield Stroke(
        "stair", "line", (x0 + 0.6, (y0 + min(y1, y0 + 1.0)) / 2, x0 + 3.1, (y0 + min(y1, y0 + 1.0)) / 2)
    )


def said(length_m: float, measures: str) -> str:
    """A length as it is written beside a measured line."""
    if measures == "mm":
        return f"{round(length_m * 1000)}"
    if measures == "cm":
        return f"{length_m * 100:.0f}"
    if measures == "comma":
        return f"{length_m:.2f}".replace(".", ",")
    if measures == "feet":
        inches = round(length_m / 0.0254)
        return f"{inches // 12}'-{inches % 12}\""
    return f"{length_m:.2f}"


def _measures(plan: Plan, habit: Habit, low, high) -> Iterator[Stroke]:
    xs = sorted({round(x, 3) for w, _ in plan.walls for x in (w[0], w[2]) if min(w[1], w[3]) < low[1] + 0.5})
    y = low[1] - 1.2
    for x0, x1 in pairwise(xs):
        if x1 - x0 > 0.8:
            yield Stroke("dim", "measure", (x0, y, x1, y, said(x1 - x0, habit.measures)))
    yield Stroke(
        "dim", "measure", (low[0], y - 0.7, high[0], y - 0.7, said(high[0] - low[0], habit.measures))
    )


def _grid(low, high) -> Iterator[Stroke]:
    for number, x in enumerate(np.linspace(low[0], high[0], 5)):
        yield Stroke("grid", "line", (x, low[1] - 3.5, x, high[1] + 2))
        yield Stroke("grid", "round", (x, high[1] + 2.4, 0.4))
        yield Stroke("grid", "text", (x, high[1] + 2.4, 0.3, "ABCDEFG"[number], 0))
    for number, y in enumerate(np.linspace(low[1], high[1], 3)):
        yield Stroke("grid", "line", (low[0] - 3.5, y, high[0] + 2, y))
        yield Stroke("grid", "text", (low[0] - 3.9, y, 0.3, str(number + 1), 0))


def _frame(low, high, habit: Habit) -> Iterator[Stroke]:
    x0, y0, x1, y1 = low[0] - 6, low[1] - 7, high[0] + 5, high[1] + 5
    yield from _box("frame", x0, y0, x1, y1)
    yield from _box("frame", x0 + 0.3, y0 + 0.3, x1 - 0.3, y1 - 0.3)
    bx = x1 - 7.3
    yield from _box("frame", bx, y0 + 0.3, x1 - 0.3, y0 + 3.3)
    for row in range(1, 4):
        yield Stroke("frame", "line", (bx, y0 + 0.3 + 0.75 * row, x1 - 0.3, y0 + 0.3 + 0.75 * row))
    texts = [habit.note or "Project 4711", "Drawn M.K.   Checked R.", "Sheet A-102  Rev B", "Date 2024-03-01"]
    for row, words in enumerate(texts):
        yield Stroke("frame", "text", (bx + 2.2, y0 + 0.6 + 0.75 * row, 0.25, words, 0))
