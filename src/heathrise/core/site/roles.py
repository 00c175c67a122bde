"""What the layers or pens of a drawing hold: by their names, and where those say nothing, by what lies on them."""

import re
from collections import Counter
from collections.abc import Mapping, Sequence

import numpy as np
import shapely

from heathrise.core.library import library, limit
from heathrise.core.site.drawing import Drawing, Floats
from heathrise.core.site.loops import loops
from heathrise.core.site.proposal import ROLES, LayerRead, Role
from heathrise.core.site.scaling import LEAF_M, is_swing
from heathrise.core.site.tracing import Traced, trace_walls, without_repeats

# Words of a name: "A_WallExt2" has A, Wall and Ext.
_WORD = re.compile(r"[A-ZÀ-Þ]+(?![a-zß-ÿ])|[A-ZÀ-Þ]?[a-zß-ÿĀ-ž]+")
# Layers that are weighed against each other, the longest first, and lines weighed of each.
_MOST_LAYERS, _MOST_LINES = 12, 6000
# A room that speaks for walls is so large. [m2]
_ROOM_M2 = 2.0


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


def roles_of(drawing: Drawing, said: Mapping[str, Role], per_unit: float) -> tuple[LayerRead, ...]:
    """Return the layers with what each is taken for: as a person said, by name, by what lies on it."""
    lines = Counter([*drawing.line_layers, *drawing.arc_layers])
    marks, texts = Counter(drawing.mark_layers), Counter(drawing.text_layers)
    names = sorted({*lines, *marks, *texts})
    found: dict[str, tuple[Role, float, str]] = {}
    for name in names:
        role = guess_role(name)
        if name in said:
            found[name] = (said[name], 1.0, "as was said")
        elif role is not None:
            found[name] = (role, 0.9, "by its name")
        elif not lines[name]:
            found[name] = ("text", 0.8, "it holds words alone")
    open_ = [name for name in names if name not in found]
    has_walls = any(role == "wall" and lines[name] for name, (role, *_) in found.items())
    found |= _by_lines(drawing, open_, per_unit, has_walls)
    return tuple(
        LayerRead(
            name=name,
            lines=lines[name],
            marks=marks[name],
            texts=texts[name],
            role=found[name][0],
            certainty=found[name][1],
            why=found[name][2],
        )
        for name in names
    )


Roles = dict[str, tuple[Role, float, str]]


def _by_lines(drawing: Drawing, names: Sequence[str], per_unit: float, has_walls: bool) -> Roles:
    """Return what layers hold whose names say nothing: the one whose lines make rooms holds walls."""
    if not names:
        return {}
    layers = np.array(drawing.line_layers, dtype=object)
    segments = drawing.segments * per_unit
    by_layer = {name: segments[layers == name] for name in names}
    found: Roles = dict.fromkeys(names, ("ignore", 0.6, "nothing on it looks like a wall"))
    for name in names:
        swings = [a for a, on in zip(drawing.arcs, drawing.arc_layers, strict=True) if on == name]
        fits = [a for a in swings if is_swing(a) and LEAF_M[0] <= a.r * per_unit <= LEAF_M[1]]
        if len(fits) >= 2 and len(fits) >= 0.5 * len(swings):
            found[name] = ("door", 0.85, f"{len(fits)} swings of doors are on it")
    if has_walls:
        return found
    long = sorted(names, key=lambda name: -float(_length(by_layer[name])))[:_MOST_LAYERS]
    traced = {name: _tried(by_layer[name]) for name in long}
    rooms = {name: _rooms(walls) for name, walls in traced.items()}
    chosen = _best(long, traced, rooms, by_layer)
    for name in chosen:
        found[name] = (
            "wall",
            0.8,
            "its lines make rooms" if rooms[name] else "its lines go on where walls do",
        )
    for name in long:
        if name not in chosen and found[name][0] == "ignore" and _glass(by_layer[name], chosen, traced):
            found[name] = ("window", 0.75, "its lines lie inside walls")
    return found


def _best(
    names: Sequence[str],
    traced: Mapping[str, list[Traced]],
    rooms: Mapping[str, int],
    by_layer: Mapping[str, Floats],
) -> list[str]:
    """Return the layers of walls: the one with most rooms and what adds to them; else all that has lines."""
    best = max(names, key=lambda name: (rooms[name], sum(w.length_m for w in traced[name])))
    if not rooms[best]:
        single = {name: _rooms(trace_walls(_fewer(by_layer[name]), keep_single=True)) for name in names}
        most = max(names, key=lambda name: single[name])
        if single[most] >= 2:
            return [most]
        return [name for name in names if len(by_layer[name])]
    chosen, count = [best], rooms[best]
    long = {name: sum(w.length_m for w in traced[name]) for name in names}
    for name in sorted(names, key=lambda name: -sum(w.length_m for w in traced[name])):
        if name == best or not traced[name] or _glass(by_layer[name], chosen, traced):
            continue
        more = _rooms(_tried(np.concatenate([by_layer[n] for n in (*chosen, name)])))
        # A second layer of walls is a good part of them and makes new rooms; furniture cuts those there are into slips.
        if more > count and (rooms[name] >= 2 or (long[name] > 0.3 * long[best] and more > count + 1)):
            chosen.append(name)
            count = more
    return chosen


def _length(lines: Floats) -> float:
    return float(np.hypot(*(lines[:, 2:] - lines[:, :2]).T).sum()) if len(lines) else 0.0


def _fewer(lines: Floats) -> Floats:
    if len(lines) <= _MOST_LINES:
        return lines
    longest = np.argsort(-np.hypot(*(lines[:, 2:] - lines[:, :2]).T))[:_MOST_LINES]
    return np.asarray(lines[np.sort(longest)])


def _tried(lines: Floats) -> list[Traced]:
    kept, _ = without_repeats(_fewer(lines))
    return trace_walls(kept, keep_single=False)


def _rooms(walls: Sequence[Traced]) -> int:
    """Return how many rooms walls make that a drawing's border and title block do not."""
    found = loops([w.ends_m for w in walls])
    return sum(_ROOM_M2 <= room.area <= 2000 for room in found)


def _glass(lines: Floats, chosen: Sequence[str], traced: Mapping[str, list[Traced]]) -> bool:
    """Say whether most lines of a layer lie along walls of others, inside them."""
    walls = [w for name in chosen for w in traced[name]]
    if not walls or not len(lines):
        return False
    bodies = shapely.union_all(
        [
            shapely.LineString([w.ends_m[:2], w.ends_m[2:]]).buffer((w.thickness_m or 0.1) / 2 + 0.03)
            for w in walls
        ]
    )
    shapes = shapely.linestrings(lines.reshape(-1, 2, 2))
    long = shapely.length(shapes)
    inside = shapely.length(shapely.intersection(shapes, bodies))
    usual = float(np.median(long))
    return bool(inside.sum() > 0.7 * long.sum() and usual <= limit("plan.gap_max_m") * 2)
