"""A drawing as it was read, whatever the file was, and the building proposed from it.

Readers in `exchange` fill a `Drawing`; `propose` turns it into walls, openings and spaces that a
person accepts or rejects. Nothing here is final until it goes through the door for edits.
"""

import re
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any, Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString

from heathrise.core.job import Point
from heathrise.core.library import library, limit
from heathrise.core.site.loops import loops, outline
from heathrise.core.site.proposal import (
    ROLES,
    LayerRead,
    Proposal,
    ProposedOpening,
    ProposedSpace,
    ProposedStorey,
    ProposedWall,
    Role,
    Skipped,
)
from heathrise.core.site.tracing import Traced, trace_walls

Floats = NDArray[np.float64]
# Makes fresh ids: the store's in the application, fixed ones in tests.
NewId = Callable[[], str]
# A door's mark may stand this far from its wall. [m]
_DOOR_REACH_M = 0.6


@dataclass
class Drawing:
    """Lines, marks and words of a drawing in its own units, y down.

    `lines` are (x1, y1, x2, y2) with `line_layers`; `marks` are doors and the like as
    (x, y, width, dx, dy): where they begin, how wide, and the direction along the wall.
    """

    metres_per_unit: float | None = None
    unit: str = "not stated"
    lines: list[tuple[float, float, float, float]] = field(default_factory=list)
    line_layers: list[str] = field(default_factory=list)
    marks: list[tuple[float, float, float, float, float]] = field(default_factory=list)
    mark_layers: list[str] = field(default_factory=list)
    mark_names: list[str] = field(default_factory=list)
    texts: list[tuple[float, float, str]] = field(default_factory=list)
    text_layers: list[str] = field(default_factory=list)
    outlines: list[tuple[str, list[tuple[float, float]]]] = field(default_factory=list)
    skipped: Counter[tuple[str, str]] = field(default_factory=Counter)
    layered: bool = True
    pages: int = 1

    def line(self, layer: str, x1: float, y1: float, x2: float, y2: float) -> None:
        """Add a line; one that is not a number or has no length is skipped."""
        if not np.isfinite([x1, y1, x2, y2]).all():
            self.skip("line", "a coordinate is no number")
        elif (x1, y1) != (x2, y2):
            self.lines.append((x1, y1, x2, y2))
            self.line_layers.append(layer)

    def path(self, layer: str, points: Sequence[tuple[float, float]], closed: bool = False) -> None:
        """Add lines through points."""
        ring = [*points, points[0]] if closed and len(points) > 2 else points
        for (x1, y1), (x2, y2) in pairwise(ring):
            self.line(layer, x1, y1, x2, y2)

    def mark(self, layer: str, name: str, x: float, y: float, width: float, turn_rad: float) -> None:
        """Add a mark that begins at a place and runs `width` in a direction."""
        if np.isfinite([x, y, width, turn_rad]).all() and width > 0:
            self.marks.append((x, y, width, float(np.cos(turn_rad)), float(np.sin(turn_rad))))
            self.mark_layers.append(layer)
            self.mark_names.append(name)

    def text(self, layer: str, x: float, y: float, words: str) -> None:
        """Add words at a place."""
        if words.strip() and np.isfinite([x, y]).all():
            self.texts.append((x, y, " ".join(words.split())[:80]))
            self.text_layers.append(layer)

    def skip(self, what: str, why: str, count: int = 1) -> None:
        """Note what was left out."""
        self.skipped[what, why] += count

    @property
    def left_out(self) -> tuple[Skipped, ...]:
        """What was left out, most first."""
        return tuple(Skipped(what=w, why=y, count=n) for (w, y), n in self.skipped.most_common(40))

    def layers(self, remembered: Mapping[str, Role] | None = None) -> tuple[LayerRead, ...]:
        """Return the layers with what each is taken for: as remembered, else guessed by its name."""
        lines, marks, texts = Counter(self.line_layers), Counter(self.mark_layers), Counter(self.text_layers)
        names = sorted({*lines, *marks, *texts})
        known = remembered or {}
        return tuple(
            LayerRead(
                name=name,
                lines=lines[name],
                marks=marks[name],
                texts=texts[name],
                role=known.get(name) or self._guess(name, bool(lines[name])),
            )
            for name in names
        )

    def _guess(self, name: str, has_lines: bool) -> Role:
        found = guess_role(name)
        if found is not None:
            return found
        if not has_lines:
            return "text"
        return "ignore" if self.layered else "wall"


# Words of a name: "A_WallExt2" has A, Wall and Ext.
_WORD = re.compile(r"[A-ZÀ-Þ]+(?![a-zß-ÿ])|[A-ZÀ-Þ]?[a-zß-ÿĀ-ž]+")


def guess_role(name: str) -> Role | None:
    """Return what a layer or block holds by the words of its name, None when no word is known."""
    words = {word.lower() for word in _WORD.findall(name)}
    for role, row in library().layer_words.items():
        if any(_is_said(known, words) for known in row.words):
            return next(r for r in ROLES if r == role)
    return None


def _is_said(known: str, words: set[str]) -> bool:
    """Say whether a name has a known word whole; one with a star, as the beginning of a word."""
    if known.endswith("*"):
        return any(word.startswith(known[:-1]) for word in words)
    return known in words


def propose(
    drawing: Drawing, roles: Mapping[str, Role], metres_per_unit: float, new_id: NewId, label: str = "Drawing"
) -> Proposal:
    """Return the building a drawing shows, by what its layers are taken for."""
    notes: list[str] = []
    scaled = _Scaled(drawing, roles, metres_per_unit, notes)
    walls = trace_walls(scaled.wall_lines)
    storey = build_storey(walls, scaled.marks, scaled.window_lines, scaled.texts, new_id, label)
    notes += sanity(storey)
    return Proposal(storeys=(storey,), notes=tuple(notes), skipped=drawing.left_out)


class _Scaled:
    """A drawing in metres, brought to the sheet, taken apart by role."""

    def __init__(self, drawing: Drawing, roles: Mapping[str, Role], metres_per_unit: float, notes: list[str]):
        lines = np.array(drawing.lines, float).reshape(-1, 4) * metres_per_unit
        kinds = np.array([roles.get(layer, "ignore") for layer in drawing.line_layers], dtype=object)
        near = _near_the_rest(lines)
        if not near.all():
            drawing.skip("line", "it lies far away from the rest of the drawing", int((~near).sum()))
            lines, kinds = lines[near], kinds[near]
        self.wall_lines = lines[kinds == "wall"] if len(lines) else lines
        window_lines = lines[kinds == "window"] if len(lines) else lines
        shift = _to_sheet(self.wall_lines, notes)
        both = np.tile(shift, 2)
        self.wall_lines = self.wall_lines - both
        self.window_lines = window_lines - both
        scale = np.array([metres_per_unit, metres_per_unit, metres_per_unit, 1, 1])
        self.marks = [
            (role, *(np.array(mark) * scale - [*shift, 0, 0, 0]))
            for mark, name, layer in zip(drawing.marks, drawing.mark_names, drawing.mark_layers, strict=True)
            if (role := _mark_role(name, roles.get(layer, "ignore"))) is not None
        ]
        self.texts = [
            (x * metres_per_unit - shift[0], y * metres_per_unit - shift[1], words)
            for (x, y, words), layer in zip(drawing.texts, drawing.text_layers, strict=True)
            if roles.get(layer) == "text"
        ]


def _near_the_rest(lines: Floats) -> NDArray[np.bool_]:
    """Return which lines lie near the middle of the drawing: a slip of a digit may put one anywhere."""
    if not len(lines):
        return np.ones(0, bool)
    points = lines.reshape(-1, 2)
    far = np.abs(points - np.median(points, axis=0)).max(axis=1).reshape(-1, 2).max(axis=1)
    return np.asarray(far <= limit("plan.span_m"))


def _mark_role(name: str, layer_role: Role) -> Literal["door", "window"] | None:
    found = layer_role if layer_role in ("door", "window") else guess_role(name)
    return found if found in ("door", "window") and layer_role != "ignore" else None


def _to_sheet(lines: Floats, notes: list[str]) -> Floats:
    """Return the shift that brings a drawing's corner to the sheet's."""
    if not len(lines):
        return np.zeros(2)
    low = lines.reshape(-1, 2).min(axis=0)
    if np.abs(low).max() > limit("plan.far_m"):
        notes.append(
            f"The drawing lies {np.hypot(*low) / 1000:.0f} km from its own zero; it was brought to the sheet's corner."
        )
    return np.asarray(np.floor(low * 100) / 100)


Mark = tuple[str, float, float, float, float, float]


def build_storey(
    walls: Sequence[Traced],
    marks: Sequence[Mark],
    window_lines: Floats,
    texts: Sequence[tuple[float, float, str]],
    new_id: NewId,
    label: str,
) -> ProposedStorey:
    """Return walls with openings and spaces as one proposed storey."""
    made = [
        ProposedWall(
            id=new_id(),
            a=_at(w.ends_m[0], w.ends_m[1]),
            b=_at(w.ends_m[2], w.ends_m[3]),
            thickness_m=None if w.thickness_m is None else round(w.thickness_m, 3),
            build_up=usual_build_up(w.thickness_m),
        )
        for w in walls
    ]
    openings = _openings(made, walls, marks, window_lines, new_id)
    spaces = _spaces(made, texts, new_id)
    return ProposedStorey(
        label=label[:80] or "Drawing", walls=tuple(made), openings=tuple(openings), spaces=tuple(spaces)
    )


def usual_build_up(thickness_m: float | None) -> str | None:
    """Return the build-up a wall of this thickness usually is; the person corrects it.

    A line without thickness says nothing of what it is made of, so it has none.
    """
    if thickness_m is None:
        return None
    table = (
        (0.13, "stud-plasterboard"),
        (0.19, "block-light-100"),
        (0.24, "block-dense-100"),
        (0.42, "cavity"),
    )
    return next((code for most, code in table if thickness_m < most), "stone-500")


def _at(x_m: float, y_m: float) -> Point:
    return Point(x_m=round(float(x_m), 3), y_m=round(float(y_m), 3))


def _openings(
    made: Sequence[ProposedWall],
    walls: Sequence[Traced],
    marks: Sequence[Mark],
    window_lines: Floats,
    new_id: NewId,
) -> list[ProposedOpening]:
    """Return doors and windows by their marks, then passages where a wall has a gap and no mark."""
    if not made:
        return []
    lines = [LineString([(w.a.x_m, w.a.y_m), (w.b.x_m, w.b.y_m)]) for w in made]
    tree = shapely.STRtree(lines)
    spans: dict[int, list[tuple[float, float, str]]] = {i: [] for i in range(len(made))}
    for role, x, y, width, dx, dy in marks:
        centre = shapely.Point(x + dx * width / 2, y + dy * width / 2)
        near = tree.query_nearest(centre, max_distance=_DOOR_REACH_M + width / 2, all_matches=False)
        if len(near):
            line = lines[int(near[0])]
            middle = line.project(centre)
            gap = _gap_at(walls[int(near[0])], middle)
            start, stop = gap or (middle - width / 2, middle + width / 2)
            spans[int(near[0])].append((start, stop, role))
    for index, start, stop in _on_walls(window_lines, lines, tree):
        spans[index].append((start, stop, "window"))
    for index, wall in enumerate(walls):
        spans[index] += [(a, b, "opening") for a, b in wall.gaps_m]
    out: list[ProposedOpening] = []
    for index, found in spans.items():
        out += _cut(made[index], lines[index].length, found, new_id)
    return out


def _gap_at(wall: Traced, along_m: float) -> tuple[float, float] | None:
    """Return the gap of a wall nearest to a place along it, within reach of a door's mark."""
    near = [g for g in wall.gaps_m if g[0] - _DOOR_REACH_M <= along_m <= g[1] + _DOOR_REACH_M]
    return min(near, key=lambda g: abs((g[0] + g[1]) / 2 - along_m), default=None)


def _on_walls(
    window_lines: Floats, lines: Sequence[LineString], tree: shapely.STRtree
) -> list[tuple[int, float, float]]:
    """Return (wall, from, to) of window lines that run along a wall, inside its thickness."""
    found = []
    for x1, y1, x2, y2 in window_lines:
        middle = shapely.Point((x1 + x2) / 2, (y1 + y2) / 2)
        near = tree.query_nearest(middle, max_distance=0.4, all_matches=False)
        if not len(near):
            continue
        index = int(near[0])
        line = lines[index]
        start, stop = sorted((line.project(shapely.Point(x1, y1)), line.project(shapely.Point(x2, y2))))
        if stop - start > 0.8 * np.hypot(x2 - x1, y2 - y1) and stop - start > 0.3:
            found.append((index, start, stop))
    return found


# What an opening is taken for, where two readings of one place differ.
_RANK = {"door": 0, "window": 1, "opening": 2}
_BODY: dict[str, dict[str, Any]] = {
    "door": {"opening_kind": "door", "build_up": "door-hollow"},
    "window": {"opening_kind": "window", "build_up": "glazing-clear", "sill_m": 0.9, "height_m": 1.2},
    "opening": {"opening_kind": "opening", "build_up": "door-hollow"},
}


def _cut(
    wall: ProposedWall, length_m: float, found: Sequence[tuple[float, float, str]], new_id: NewId
) -> list[ProposedOpening]:
    """Return the openings of a wall, none over another; a door wins over a mere gap."""
    taken: list[tuple[float, float]] = []
    out = []
    for start, stop, role in sorted(found, key=lambda s: (_RANK[s[2]], s[0] - s[1])):
        a, b = max(0.0, start), min(length_m, stop)
        if b - a < 0.25 or any(a < q and p < b for p, q in taken):
            continue
        taken.append((a, b))
        body: dict[str, Any] = {
            "id": new_id(),
            "wall_id": wall.id,
            "at_m": round(a, 3),
            "width_m": round(b - a, 3),
        }
        out.append(ProposedOpening.model_validate(body | _BODY[role]))
    return out


def _spaces(
    walls: Sequence[ProposedWall], texts: Sequence[tuple[float, float, str]], new_id: NewId
) -> list[ProposedSpace]:
    """Return the rooms the walls enclose, named by the words inside them."""
    segments = [(w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m) for w in walls]
    rooms = loops(segments)
    shapes = shapely.linestrings(np.array(segments, float).reshape(-1, 2, 2)) if segments else []
    tree = shapely.STRtree(shapes) if segments else None
    words = [(shapely.Point(x, y), text) for x, y, text in texts]
    out, used = [], Counter[str]()
    for number, room in enumerate(rooms, start=1):
        inside = [text for at, text in words if room.covers(at) and any(c.isalpha() for c in text)]
        name = " ".join(dict.fromkeys(inside))[:70] or f"Space {number}"
        used[name] += 1
        sides = tree.query(room.exterior, predicate="dwithin", distance=0.03) if tree is not None else []
        round_it = tuple(
            walls[int(i)].id
            for i in sides
            if shapely.intersection(shapes[i], room.exterior.buffer(0.03)).length > 0.2
        )
        label = name if used[name] == 1 else f"{name} {used[name]}"
        out.append(ProposedSpace(id=new_id(), label=label, outline=outline(room), wall_ids=round_it))
    return out


def sanity(storey: ProposedStorey) -> list[str]:
    """Return what makes a scale look wrong: doors far off their usual width, a tiny or vast plan."""
    notes = []
    doors = [o.width_m for o in storey.openings if o.opening_kind == "door"]
    low, high = limit("plan.door_min_m"), limit("plan.door_max_m")
    if doors and not low <= float(np.median(doors)) <= high:
        notes.append(
            f"Half of the doors are {np.median(doors):.2f} m wide or more; doors are {low:g} to {high:g} m. Check the scale."
        )
    if storey.walls:
        points = np.array([[p.x_m, p.y_m] for w in storey.walls for p in (w.a, w.b)])
        span = float(np.ptp(points, axis=0).max())
        if not 3 <= span <= 400:
            notes.append(f"The plan is {span:.1f} m long. Check the scale.")
    else:
        notes.append("No wall was found. Say which layers hold walls, or check the scale.")
    return notes
