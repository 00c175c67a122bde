"""The building proposed from a drawing: walls, openings and spaces by storey, each with how certain it is.

Nothing here is final until it goes through the door for edits.
"""

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from heathrise.core.job import Point
from heathrise.core.library import limit
from heathrise.core.site.doubting import CLEARLY, doubts_of
from heathrise.core.site.drawing import Arc, Drawing, Floats, Words
from heathrise.core.site.loops import loops, outline
from heathrise.core.site.openings import Found, Mark, find_openings, shut_leaves, swings_of
from heathrise.core.site.parts import Part, parted
from heathrise.core.site.proposal import (
    BODY,
    DOUBTFUL,
    OpeningKind,
    Proposal,
    ProposedOpening,
    ProposedSpace,
    ProposedStorey,
    ProposedWall,
    Role,
)
from heathrise.core.site.roles import guess_role
from heathrise.core.site.tracing import Traced, curved_walls, trace_walls, without_repeats
from heathrise.core.site.wording import room_words, title_of

# Makes fresh ids: the store's in the application, fixed ones in tests.
NewId = Callable[[], str]
# Usual height from floor to floor where nothing says it. [m]
STOREY_M = 3.0
# Rooms that speak for walls drawn by their faces: so many of so much. [1, m2]
_ROOMS, _ROOM_M2 = 2, 2.0


def propose(
    drawing: Drawing, roles: Mapping[str, Role], metres_per_unit: float, new_id: NewId, label: str = "Drawing"
) -> Proposal:
    """Return the building a drawing shows, by what its layers are taken for."""
    notes: list[str] = []
    inked = _Inked(drawing, roles, metres_per_unit, notes)
    walls = _walls(inked)
    found = parted(walls, inked.titles)
    for one in found.left:
        drawing.skip(one.what, one.why, one.walls)
    storeys = [build_storey(part, inked, new_id, label) for part in found.storeys]
    if not storeys:
        storeys = [ProposedStorey(label=label[:80] or "Drawing", walls=(), openings=(), spaces=())]
    for storey in storeys:
        notes += [note for note in sanity(storey) if note not in notes]
    return Proposal(
        storeys=tuple(storeys), notes=tuple(notes), skipped=drawing.left_out, doubts=tuple(doubts_of(storeys))
    )


@dataclass
class Ink:
    """What of a drawing tells a building, in metres on the sheet: lines, arcs, words, marks."""

    wall_lines: Floats = field(default_factory=lambda: np.empty((0, 4)))
    window_lines: Floats = field(default_factory=lambda: np.empty((0, 4)))
    strokes: Floats = field(default_factory=lambda: np.empty((0, 4)))
    wall_arcs: list[Arc] = field(default_factory=list)
    swings: list[Arc] = field(default_factory=list)
    marks: list[Mark] = field(default_factory=list)
    words: list[Words] = field(default_factory=list)
    titles: list[Words] = field(default_factory=list)


class _Inked(Ink):
    """A drawing in metres, brought to the sheet, taken apart by role."""

    def __init__(self, drawing: Drawing, roles: Mapping[str, Role], per_unit: float, notes: list[str]):
        lines = drawing.segments * per_unit
        kinds = np.array([roles.get(layer, "ignore") for layer in drawing.line_layers], dtype=object)
        named = [(layer, roles.get(layer, "ignore")) for layer in drawing.line_layers]
        near = _near_the_rest(lines)
        if not near.all():
            drawing.skip("line", "it lies far away from the rest of the drawing", int((~near).sum()))
            lines, kinds = lines[near], kinds[near]
        walls = lines[kinds == "wall"] if len(lines) else lines
        shift = _to_sheet(walls, notes)
        both = np.tile(shift, 2)
        kept, repeated = without_repeats(walls - both)
        drawing.skip("line", "many alike lie side by side: hatching, tiles or treads", repeated)
        super().__init__(
            wall_lines=kept, window_lines=lines[kinds == "window"] - both if len(lines) else lines
        )
        # A pen that was taken for nothing may yet draw leaves and glass; what is named furniture does not.
        telling = np.array([role != "ignore" or guess_role(name) != "ignore" for name, role in named], bool)
        self.strokes = lines[telling[near]] - both if len(lines) else lines
        arcs = [
            (_moved(arc, per_unit, shift), roles.get(layer, "ignore"))
            for arc, layer in zip(drawing.arcs, drawing.arc_layers, strict=True)
        ]
        # What a layer that means nothing holds may yet be doors: their swings are like nothing else.
        doubtful = {name for name, role in roles.items() if role == "ignore" and guess_role(name) == "ignore"}
        swinging = [
            arc for (arc, _), layer in zip(arcs, drawing.arc_layers, strict=True) if layer not in doubtful
        ]
        self.swings = swings_of(swinging)
        doors = set(self.swings)
        self.wall_arcs = [arc for arc, role in arcs if role == "wall" and arc not in doors]
        self.wall_lines = _without_leaves(self.wall_lines, self.swings)
        self.marks = [
            Mark(kind, *_placed(mark, per_unit, shift))
            for mark, name, layer in zip(drawing.marks, drawing.mark_names, drawing.mark_layers, strict=True)
            if (kind := _mark_kind(name, roles.get(layer, "ignore"))) is not None
        ]
        # A title tells what it stands by whatever layer it is on.
        self.titles = [
            Words(t.x * per_unit - shift[0], t.y * per_unit - shift[1], t.height * per_unit, t.words)
            for t in drawing.texts
        ]
        self.words = [
            words
            for words, layer in zip(self.titles, drawing.text_layers, strict=True)
            if roles.get(layer) == "text" or layer not in doubtful
        ]


def _moved(arc: Arc, per_unit: float, shift: Floats) -> Arc:
    x, y = shift
    k = per_unit
    return Arc(
        arc.x * k - x,
        arc.y * k - y,
        arc.r * k,
        arc.x1 * k - x,
        arc.y1 * k - y,
        arc.x2 * k - x,
        arc.y2 * k - y,
        arc.turn,
    )


def _placed(mark: tuple[float, ...], per_unit: float, shift: Floats) -> tuple[float, ...]:
    x, y, width, dx, dy = mark
    return x * per_unit - shift[0], y * per_unit - shift[1], width * per_unit, dx, dy


def _near_the_rest(lines: Floats) -> NDArray[np.bool_]:
    """Return which lines lie near the middle of the drawing: a slip of a digit may put one anywhere."""
    if not len(lines):
        return np.ones(0, bool)
    points = lines.reshape(-1, 2)
    far = np.abs(points - np.median(points, axis=0)).max(axis=1).reshape(-1, 2).max(axis=1)
    return np.asarray(far <= limit("plan.span_m"))


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


def _mark_kind(name: str, layer_role: Role) -> OpeningKind | None:
    found = layer_role if layer_role in ("door", "window") else guess_role(name)
    if layer_role == "ignore":
        return None
    return "door" if found == "door" else "window" if found == "window" else None


def _without_leaves(lines: Floats, swings: Sequence[Arc]) -> Floats:
    """Return lines less those that run from a swing's hinge to its edge: leaves of doors."""
    if not len(lines) or not swings:
        return lines
    shapes = shapely.linestrings(lines.reshape(-1, 2, 2))
    tree = shapely.STRtree(shapes)
    drop: set[int] = set()
    for leaf in shut_leaves(swings):
        r = float(np.hypot(*(leaf[2:] - leaf[:2])))
        for i in tree.query(shapely.Point((leaf[:2] + leaf[2:]) / 2), predicate="dwithin", distance=0.06):
            ends = np.array([lines[i], np.roll(lines[i], 2)])
            if np.abs(ends - leaf).max(axis=1).min() < 0.12 * r:
                drop.add(int(i))
    return lines[[i for i in range(len(lines)) if i not in drop]]


def _walls(inked: Ink) -> list[Traced]:
    """Return walls by their faces; where those make no rooms, by single lines."""
    hints = np.concatenate([shut_leaves(inked.swings), _long(inked.window_lines), _mark_lines(inked.marks)])
    faced = trace_walls(inked.wall_lines, False, hints, curved_walls(inked.wall_arcs, False))
    if _count_rooms(faced) >= _ROOMS:
        return faced
    single = trace_walls(inked.wall_lines, True, hints, curved_walls(inked.wall_arcs, True))
    guessed = trace_walls(inked.wall_lines, None, hints, curved_walls(inked.wall_arcs, not faced))
    return single if _count_rooms(single) > _count_rooms(guessed) else guessed


def _count_rooms(walls: Sequence[Traced]) -> int:
    return sum(room.area >= _ROOM_M2 for room in loops([w.ends_m for w in walls]))


def _long(lines: Floats) -> Floats:
    """Return the lines of windows that may lie along a wall."""
    return lines[np.hypot(*(lines[:, 2:] - lines[:, :2]).T) > 0.3] if len(lines) else np.empty((0, 4))


def _mark_lines(marks: Sequence[Mark]) -> Floats:
    return np.array([(m.x, m.y, m.x + m.dx * m.width, m.y + m.dy * m.width) for m in marks], float).reshape(
        -1, 4
    )


def build_storey(part: Part, inked: Ink, new_id: NewId, label: str) -> ProposedStorey:
    """Return one part's walls with openings and spaces, moved to where it lies over the lowest."""
    by = part.shift
    made = [
        ProposedWall(
            id=new_id(),
            a=_at(w.ends_m[0] + by[0], w.ends_m[1] + by[1]),
            b=_at(w.ends_m[2] + by[0], w.ends_m[3] + by[1]),
            thickness_m=None if w.thickness_m is None else round(w.thickness_m, 3),
            build_up=usual_build_up(w.thickness_m),
            certainty=certainty,
            alike=alike,
        )
        for w, (alike, certainty) in zip(part.walls, _how_walls(part.walls), strict=True)
    ]
    found = find_openings(part.walls, inked.swings, inked.marks, inked.window_lines, inked.strokes)
    openings = [_opening(one, made, new_id) for one in found]
    words = [Words(t.x + by[0], t.y + by[1], t.height, t.words) for t in inked.words if _names_a_room(t)]
    spaces = _spaces(made, words, new_id)
    title = part.title.words if part.title else ""
    return ProposedStorey(
        label=(title or label)[:80] or "Drawing",
        level=part.title.level if part.title else None,
        elevation_m=None if part.level is None else part.level * STOREY_M,
        height_m=None if part.level is None else STOREY_M,
        walls=tuple(made),
        openings=tuple(openings),
        spaces=tuple(spaces),
        certainty=part.certainty,
        why=part.why,
    )


def _names_a_room(text: Words) -> bool:
    title = title_of(text.words)
    return title is None or len(text.words) < 30


def _how_walls(walls: Sequence[Traced]) -> list[tuple[str, float]]:
    """Return what each wall is alike to and how certain it is: drawn by faces, bent, by one line, standing loose."""
    if not walls:
        return []
    ends = shapely.points(np.array([w.ends_m for w in walls]).reshape(-1, 2))
    tree = shapely.STRtree(shapely.linestrings(np.array([w.ends_m for w in walls]).reshape(-1, 2, 2)))
    point, line = tree.query(ends, predicate="dwithin", distance=0.1)
    met = np.zeros(len(ends), bool)
    met[point[point // 2 != line]] = True
    out = []
    for index, wall in enumerate(walls):
        if not met[2 * index : 2 * index + 2].any() and len(walls) > 1:
            out.append(("loose", 0.5))
        elif wall.form == "line":
            out.append(("line", 0.75))
        elif wall.form == "curve":
            out.append(("curve", 0.85))
        elif not met[2 * index : 2 * index + 2].all() and wall.length_m < 1.0:
            out.append(("stub", 0.7))
        else:
            out.append(("faces", 0.97))
    return out


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


def _opening(found: Found, walls: Sequence[ProposedWall], new_id: NewId) -> ProposedOpening:
    body: dict[str, Any] = {
        "id": new_id(),
        "wall_id": walls[found.wall].id,
        "at_m": round(found.start, 3),
        "width_m": round(found.stop - found.start, 3),
        "certainty": found.certainty,
        "alike": f"{found.kind} by {found.by}" + (CLEARLY if found.certainty >= DOUBTFUL else ""),
    }
    return ProposedOpening.model_validate(body | BODY[found.kind])


def _spaces(walls: Sequence[ProposedWall], words: Sequence[Words], new_id: NewId) -> list[ProposedSpace]:
    """Return the rooms the walls enclose, named by the words inside them."""
    segments = [(w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m) for w in walls]
    rooms = loops(segments)
    shapes = shapely.linestrings(np.array(segments, float).reshape(-1, 2, 2)) if segments else []
    tree = shapely.STRtree(shapes) if segments else None
    inside = _inside(rooms, words)
    out, used = [], Counter[str]()
    for number, room in enumerate(rooms, start=1):
        said = room_words(t.words for t in sorted(inside[number - 1], key=lambda t: (round(t.y, 1), t.x)))
        name = said.label or f"Space {number}"
        used[name] += 1
        sides = tree.query(room.exterior, predicate="dwithin", distance=0.03) if tree is not None else []
        edge = room.exterior.buffer(0.03)
        round_it = tuple(
            walls[int(i)].id for i in sides if shapely.intersection(shapes[i], edge).length > 0.2
        )
        label = name if used[name] == 1 else f"{name} {used[name]}"
        alike = "named" if said.certainty >= DOUBTFUL else "other name" if said.label else "no name"
        out.append(
            ProposedSpace(
                id=new_id(),
                label=label,
                outline=outline(room),
                wall_ids=round_it,
                area_said_m2=said.area_m2,
                certainty=said.certainty,
                alike=alike,
            )
        )
    return out


def _inside(rooms: Sequence[Polygon], words: Sequence[Words]) -> dict[int, list[Words]]:
    """Return which words lie in which room."""
    out: dict[int, list[Words]] = defaultdict(list)
    if rooms and words:
        tree = shapely.STRtree(list(rooms))
        word, room = tree.query(shapely.points([(t.x, t.y) for t in words]), predicate="intersects")
        for w, r in zip(word.tolist(), room.tolist(), strict=True):
            out[r].append(words[w])
    return out


def areas_said(storeys: Iterable[ProposedStorey]) -> list[tuple[float, float]]:
    """Return (said, found) areas of rooms that say theirs, measured between the faces of their walls. [m2]"""
    out = []
    for storey in storeys:
        walls = {w.id: w for w in storey.walls}
        for space in storey.spaces:
            if space.area_said_m2:
                room = Polygon([(p.x_m, p.y_m) for p in space.outline]).buffer(0)
                bodies = [_body(walls[i]) for i in space.wall_ids]
                out.append((space.area_said_m2, room.difference(shapely.union_all(bodies)).area))
    return [(said, found) for said, found in out if found > 0.3]


def _body(wall: ProposedWall) -> Polygon:
    line = shapely.LineString([(wall.a.x_m, wall.a.y_m), (wall.b.x_m, wall.b.y_m)])
    return line.buffer((wall.thickness_m or 0.01) / 2, cap_style="square")


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
