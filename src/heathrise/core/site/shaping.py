"""The drawing tools that need thought: each takes the job and what was asked and returns the
operations that do it, so that one edit does it and one undo takes it back.
"""

import math
from collections.abc import Callable, Iterable, Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal, NamedTuple

import shapely
from pydantic import Field
from shapely.geometry import LineString

from heathrise.core.edit import Operation, Put, Remove
from heathrise.core.job import (
    Element,
    Id,
    Job,
    Opening,
    Path,
    Point,
    Space,
    Storey,
    Underlay,
    Wall,
)
from heathrise.core.library import limit
from heathrise.core.site.align import alignment, moved
from heathrise.core.site.building import polygon
from heathrise.core.site.loops import gaps, loops, outline, segments_of
from heathrise.core.sums import Noun, Sum

NewId = Callable[[], str]
Ids = Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
# A found loop is a space that is there already when they share this much of their area.
_SAME_SPACE = 0.8


class NotPossible(ValueError):
    """A drawing action that cannot be done; the message says why and what to do."""


class Shaped(NamedTuple):
    """What an action would do: its operations, a sentence, and a sum where it measured something."""

    operations: tuple[Operation, ...]
    note: str
    sum: Sum | None = None


class SplitWall(Noun):
    """Cut a wall in two at a place along it."""

    do: Literal["split"] = "split"
    wall_id: Id
    at_m: float = Field(gt=0)


class JoinWalls(Noun):
    """Make one wall of two that continue each other."""

    do: Literal["join"] = "join"
    ids: Ids


class OffsetWalls(Noun):
    """Copy walls sideways by a distance, to the right of their direction when positive."""

    do: Literal["offset"] = "offset"
    ids: Ids
    by_m: float = Field(ge=-100, le=100)


class CurveWall(Noun):
    """Draw a curved wall as chords through three points."""

    do: Literal["curve"] = "curve"
    storey_id: Id
    a: Point
    through: Point
    b: Point
    build_up: str | None = None
    thickness_m: float | None = Field(None, gt=0, le=3)


class FindSpaces(Noun):
    """Make spaces of the closed loops of a storey that are none yet."""

    do: Literal["find-spaces"] = "find-spaces"
    storey_id: Id


class CloseGaps(Noun):
    """Carry walls that stop short to what they should meet."""

    do: Literal["close-gaps"] = "close-gaps"
    storey_id: Id


class CopyStorey(Noun):
    """Copy a storey's walls, openings and spaces to a new storey on top."""

    do: Literal["copy-storey"] = "copy-storey"
    storey_id: Id


class MoveAll(Noun):
    """Move and turn elements about their common middle."""

    do: Literal["move"] = "move"
    ids: Ids
    dx_m: float = Field(0, ge=-10_000, le=10_000)
    dy_m: float = Field(0, ge=-10_000, le=10_000)
    turn_deg: float = Field(0, ge=-360, le=360)


class ArrayAll(Noun):
    """Copy elements in columns and rows."""

    do: Literal["array"] = "array"
    ids: Ids
    columns: int = Field(ge=1, le=50)
    rows: int = Field(ge=1, le=50)
    dx_m: float = Field(ge=-1000, le=1000)
    dy_m: float = Field(ge=-1000, le=1000)


class AlignAll(Noun):
    """Put elements in one line: the x or y of the first."""

    do: Literal["align"] = "align"
    ids: Ids
    along: Literal["x", "y"]


class AlignStorey(Noun):
    """Lay a storey over another by two points each."""

    do: Literal["align-storey"] = "align-storey"
    storey_id: Id
    here: tuple[Point, Point]
    there: tuple[Point, Point]


class ChangeAll(Noun):
    """Give one field of many elements one value."""

    do: Literal["change"] = "change"
    ids: Ids
    field: str = Field(max_length=40)
    value: str | float | bool | None


class RemoveAll(Noun):
    """Take elements away."""

    do: Literal["remove"] = "remove"
    ids: Ids


Action = Annotated[
    SplitWall
    | JoinWalls
    | OffsetWalls
    | CurveWall
    | FindSpaces
    | CloseGaps
    | CopyStorey
    | MoveAll
    | ArrayAll
    | AlignAll
    | AlignStorey
    | ChangeAll
    | RemoveAll,
    Field(discriminator="do"),
]


def shape(job: Job, action: Action, new_id: NewId) -> Shaped:
    """Return what a drawing action does to a job. Raises NotPossible."""
    return _Shaper(job, new_id).run(action)


def on_storey(job: Job, storey_id: str) -> tuple[Wall, ...]:
    """Return the walls of a storey."""
    return tuple(wall for wall in job.of(Wall) if wall.storey_id == storey_id)


class _Shaper:
    def __init__(self, job: Job, new_id: NewId):
        self.job = job
        self.new_id = new_id
        self.used = {element.label for element in job.elements}

    def run(self, action: Action) -> Shaped:
        doing: dict[str, Callable[[Any], Shaped]] = {
            "split": self.split,
            "join": self.join,
            "offset": self.offset,
            "curve": self.curve,
            "find-spaces": self.find_spaces,
            "close-gaps": self.close_gaps,
            "copy-storey": self.copy_storey,
            "move": self.move,
            "array": self.array,
            "align": self.align,
            "align-storey": self.align_storey,
            "change": self.change,
            "remove": self.remove,
        }
        return doing[action.do](action)

    def wall(self, wall_id: str) -> Wall:
        element = self.job.by_id.get(wall_id)
        if not isinstance(element, Wall):
            raise NotPossible("that wall is not in the job any more")
        return element

    def all(self, ids: Iterable[str]) -> list[Element]:
        found = [self.job.by_id[i] for i in ids if i in self.job.by_id]
        if not found:
            raise NotPossible("nothing that was picked is in the job any more")
        return found

    def free(self, label: str) -> str:
        """Return a label that is free: the same with the next number."""
        stem = label.rstrip("0123456789").rstrip() or label
        number = 1
        while f"{stem} {number}" in self.used:
            number += 1
        found = f"{stem[:72]} {number}"
        self.used.add(found)
        return found

    def split(self, action: SplitWall) -> Shaped:
        wall = self.wall(action.wall_id)
        if not 0.05 <= action.at_m <= wall.length_m - 0.05:
            raise NotPossible("a wall can be split no nearer than 5 cm to its ends")
        cut = along(wall, action.at_m)
        first = wall.model_copy(update={"b": cut})
        second = wall.model_copy(update={"id": self.new_id(), "label": self.free(wall.label), "a": cut})
        operations: list[Operation] = [Put(element=first), Put(element=second)]
        for opening in self.openings(wall.id):
            if opening.at_m >= action.at_m:
                changes = {"wall_id": second.id, "at_m": round(opening.at_m - action.at_m, 3)}
                operations.append(Put(element=opening.model_copy(update=changes)))
            elif opening.at_m + opening.width_m > action.at_m:
                raise NotPossible(f"{opening.label} is at that place; split beside it")
        return Shaped(tuple(operations), f"{wall.label} is two walls now.")

    def openings(self, wall_id: str) -> list[Opening]:
        return [opening for opening in self.job.of(Opening) if opening.wall_id == wall_id]

    def join(self, action: JoinWalls) -> Shaped:
        walls = [self.wall(i) for i in action.ids]
        if len(walls) != 2:
            raise NotPossible("pick two walls to join")
        one, other = walls
        if one.storey_id != other.storey_id:
            raise NotPossible("the two walls are on different storeys")
        corners = [one.a, one.b, other.a, other.b]
        a, b = max(
            ((p, q) for i, p in enumerate(corners) for q in corners[i + 1 :]),
            key=lambda pair: math.dist((pair[0].x_m, pair[0].y_m), (pair[1].x_m, pair[1].y_m)),
        )
        line = LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
        off = max(line.distance(shapely.Point(p.x_m, p.y_m)) for p in corners)
        if off > 0.05:
            raise NotPossible(f"the two walls are no one line: {off:.2f} m apart. Move one first")
        joined = one.model_copy(update={"a": a, "b": b})
        operations: list[Operation] = [Put(element=joined)]
        for opening in (*self.openings(one.id), *self.openings(other.id)):
            host = one if opening.wall_id == one.id else other
            start, stop = along(host, opening.at_m), along(host, opening.at_m + opening.width_m)
            at_m = min(line.project(shapely.Point(p.x_m, p.y_m)) for p in (start, stop))
            operations.append(
                Put(element=opening.model_copy(update={"wall_id": one.id, "at_m": round(at_m, 3)}))
            )
        operations.append(Remove(id=other.id))
        return Shaped(tuple(operations), f"{one.label} and {other.label} are one wall now.")

    def offset(self, action: OffsetWalls) -> Shaped:
        if abs(action.by_m) < 0.01:
            raise NotPossible("the distance must be a centimetre or more")
        operations: list[Operation] = []
        for element in self.all(action.ids):
            if isinstance(element, Wall):
                nx = -(element.b.y_m - element.a.y_m) / element.length_m * action.by_m
                ny = (element.b.x_m - element.a.x_m) / element.length_m * action.by_m
                ends = {"a": moved(element.a, nx, ny), "b": moved(element.b, nx, ny)}
                copy = element.model_copy(
                    update={"id": self.new_id(), "label": self.free(element.label), **ends}
                )
                operations.append(Put(element=copy))
        if not operations:
            raise NotPossible("pick walls to copy sideways")
        return Shaped(
            tuple(operations),
            f"{len(operations)} wall{'s' * (len(operations) > 1)} copied by {action.by_m:g} m.",
        )

    def curve(self, action: CurveWall) -> Shaped:
        points = arc_points(action.a, action.through, action.b)
        operations = [
            Put(
                element=Wall(
                    id=self.new_id(),
                    label=self.free("Curved wall 1"),
                    storey_id=action.storey_id,
                    a=one,
                    b=other,
                    build_up=action.build_up,
                    thickness_m=action.thickness_m,
                )
            )
            for one, other in pairwise(points)
        ]
        return Shaped(tuple(operations), f"A curved wall of {len(operations)} chords.")

    def find_spaces(self, action: FindSpaces) -> Shaped:
        walls = on_storey(self.job, action.storey_id)
        known = [polygon(s) for s in self.job.of(Space) if s.storey_id == action.storey_id]
        operations = []
        for room in loops(segments_of(walls)):
            if any(room.intersection(k).area > _SAME_SPACE * min(room.area, k.area) for k in known):
                continue
            label = self.free("Space 1")
            space = Space(id=self.new_id(), label=label, storey_id=action.storey_id, outline=outline(room))
            operations.append(Put(element=space))
        left = len(gaps(walls))
        note = f"{len(operations)} new space{'s' * (len(operations) != 1)} found."
        if left:
            note += f" {left} wall end{'s stop' if left > 1 else ' stops'} short of what it should meet; "
            note += "close the gaps and look again."
        return Shaped(tuple(operations), note)

    def close_gaps(self, action: CloseGaps) -> Shaped:
        walls = {wall.id: wall for wall in on_storey(self.job, action.storey_id)}
        found = gaps(tuple(walls.values()))
        changed: dict[str, Wall] = {}
        for gap in found:
            wall = changed.get(gap.wall_id, walls[gap.wall_id])
            end = Point(x_m=round(gap.to[0], 3), y_m=round(gap.to[1], 3))
            new = wall.model_copy(update={"b" if gap.end else "a": end})
            if new.length_m > 0.02:
                changed[wall.id] = new
        return Shaped(
            tuple(Put(element=wall) for wall in changed.values()),
            f"{len(found)} gap{'s' * (len(found) != 1)} of up to {limit('plan.loop_gap_m'):g} m closed.",
        )

    def copy_storey(self, action: CopyStorey) -> Shaped:
        source = self.job.by_id.get(action.storey_id)
        if not isinstance(source, Storey):
            raise NotPossible("that storey is not in the job any more")
        top = max(self.job.storeys, key=lambda s: s.elevation_m)
        rise = top.ceiling_m + top.void_m + 0.25
        made = source.model_copy(
            update={
                "id": self.new_id(),
                "label": self.free("Storey 1"),
                "elevation_m": round(top.elevation_m + rise, 3),
                "storey_kind": "floor",
            }
        )
        operations: list[Operation] = [Put(element=made)]
        operations += self.copies(
            [e for e in self.job.elements if isinstance(e, Wall | Space) and e.storey_id == source.id],
            0,
            0,
            {"storey_id": made.id},
        )
        return Shaped(
            tuple(operations), f"{source.label} was copied to {made.label}; its furniture and kit were not."
        )

    def copies(
        self, elements: Sequence[Element], dx: float, dy: float, changes: dict[str, Any] | None = None
    ) -> list[Operation]:
        """Return copies of elements moved by a step, a wall's openings with it."""
        out: list[Operation] = []
        for element in elements:
            fresh = {"id": self.new_id(), "label": self.free(element.label), **(changes or {})}
            copy = _moved(element, dx, dy, 0.0).model_copy(update=fresh)
            out.append(Put(element=copy))
            if isinstance(element, Wall):
                for opening in self.openings(element.id):
                    door = {"id": self.new_id(), "label": self.free(opening.label), "wall_id": copy.id}
                    out.append(Put(element=opening.model_copy(update=door)))
        return out

    def move(self, action: MoveAll) -> Shaped:
        picked = [e for e in self.all(action.ids) if _points(e)]
        if not picked:
            raise NotPossible("nothing that was picked has a place of its own to move")
        points = [p for e in picked for p in _points(e)]
        mx = (min(p.x_m for p in points) + max(p.x_m for p in points)) / 2
        my = (min(p.y_m for p in points) + max(p.y_m for p in points)) / 2
        centre = moved(Point(x_m=mx, y_m=my), 0, 0, action.turn_deg)
        dx, dy = mx - centre.x_m + action.dx_m, my - centre.y_m + action.dy_m
        operations = tuple(Put(element=_moved(e, dx, dy, action.turn_deg)) for e in picked)
        return Shaped(operations, f"{len(operations)} moved.")

    def array(self, action: ArrayAll) -> Shaped:
        if action.columns * action.rows < 2:
            raise NotPossible("an array needs two columns or two rows")
        picked = [e for e in self.all(action.ids) if _points(e) and not isinstance(e, Underlay)]
        if len(picked) * action.columns * action.rows > 5000:
            raise NotPossible("that would make more than 5,000 copies")
        operations: list[Operation] = []
        for row in range(action.rows):
            for column in range(action.columns):
                if row or column:
                    operations += self.copies(picked, column * action.dx_m, row * action.dy_m)
        return Shaped(tuple(operations), f"{len(operations)} copies made.")

    def align(self, action: AlignAll) -> Shaped:
        picked = [e for e in self.all(action.ids) if _points(e)]
        goal = _centre(picked[0])
        operations = []
        for element in picked[1:]:
            at = _centre(element)
            dx = goal.x_m - at.x_m if action.along == "x" else 0.0
            dy = goal.y_m - at.y_m if action.along == "y" else 0.0
            operations.append(Put(element=_moved(element, dx, dy, 0.0)))
        if not operations:
            raise NotPossible("pick two things or more to align")
        return Shaped(tuple(operations), f"{len(operations)} put in line with {picked[0].label}.")

    def align_storey(self, action: AlignStorey) -> Shaped:
        try:
            found = alignment(action.here, action.there)
        except ValueError as error:
            raise NotPossible(str(error)) from error
        mine = [
            e for e in self.job.elements if getattr(e, "storey_id", None) == action.storey_id and _points(e)
        ]
        if abs(found.turn_deg) > 0.01 and any(isinstance(e, Underlay) for e in mine):
            mine = [e for e in mine if not isinstance(e, Underlay)]
        operations = tuple(Put(element=_moved(e, found.dx_m, found.dy_m, found.turn_deg)) for e in mine)
        return Shaped(operations, f"The two points differ by {found.error_m:.2f} m.", found.sum)

    def change(self, action: ChangeAll) -> Shaped:
        operations = []
        for element in self.all(action.ids):
            if action.field in type(element).model_fields and action.field not in ("id", "kind"):
                body = element.model_dump() | {action.field: action.value}
                try:
                    operations.append(Put(element=type(element).model_validate(body)))
                except ValueError as error:
                    raise NotPossible(f"{element.label} cannot take that value") from error
        if not operations:
            raise NotPossible("nothing that was picked has that field")
        return Shaped(tuple(operations), f"{len(operations)} changed.")

    def remove(self, action: RemoveAll) -> Shaped:
        found = self.all(action.ids)
        gone = {e.id for e in found}
        roots = [e for e in found if not (isinstance(e, Opening) and e.wall_id in gone)]
        return Shaped(tuple(Remove(id=e.id) for e in roots), f"{len(roots)} removed.")


def along(wall: Wall, at_m: float) -> Point:
    """Return the place at a distance along a wall."""
    share = at_m / wall.length_m
    return Point(
        x_m=round(wall.a.x_m + (wall.b.x_m - wall.a.x_m) * share, 3),
        y_m=round(wall.a.y_m + (wall.b.y_m - wall.a.y_m) * share, 3),
    )


def arc_points(a: Point, through: Point, b: Point) -> list[Point]:
    """Return chords' ends along the circle through three points, none longer than the limit.

    Raises
    ------
    NotPossible
        If the three lie on one line.
    """
    ax, ay, bx, by, cx, cy = a.x_m, a.y_m, through.x_m, through.y_m, b.x_m, b.y_m
    d = 2 * (ax * (by - cy) + bx * (cy - ay) + cx * (ay - by))
    if abs(d) < 1e-6:
        raise NotPossible("the three points lie on one line; draw a straight wall")
    ux = ((ax**2 + ay**2) * (by - cy) + (bx**2 + by**2) * (cy - ay) + (cx**2 + cy**2) * (ay - by)) / d
    uy = ((ax**2 + ay**2) * (cx - bx) + (bx**2 + by**2) * (ax - cx) + (cx**2 + cy**2) * (bx - ax)) / d
    radius = math.hypot(ax - ux, ay - uy)
    start, mid, stop = (math.atan2(y - uy, x - ux) for x, y in ((ax, ay), (bx, by), (cx, cy)))
    turn = (stop - start) % (2 * math.pi)
    if (mid - start) % (2 * math.pi) > turn:
        turn -= 2 * math.pi
    chords = max(2, math.ceil(abs(turn) * radius / limit("plan.chord_m")))
    angles = [start + turn * i / chords for i in range(chords + 1)]
    inner = [
        Point(x_m=round(ux + radius * math.cos(t), 3), y_m=round(uy + radius * math.sin(t), 3))
        for t in angles[1:-1]
    ]
    return [a, *inner, b]


def _points(element: Element) -> tuple[Point, ...]:
    """Return the places an element is drawn at, none for what hangs on others."""
    if isinstance(element, Wall):
        return element.a, element.b
    if isinstance(element, Underlay):
        return (Point(x_m=element.x_m, y_m=element.y_m),)
    at = getattr(element, "at", None)
    if at is not None:
        return (at,)
    found: Path = getattr(element, "outline", None) or getattr(element, "path", None) or ()
    return found


def _centre(element: Element) -> Point:
    points = _points(element)
    return Point(
        x_m=(min(p.x_m for p in points) + max(p.x_m for p in points)) / 2,
        y_m=(min(p.y_m for p in points) + max(p.y_m for p in points)) / 2,
    )


def _moved(element: Element, dx: float, dy: float, turn: float) -> Element:
    """Return an element turned about the sheet's zero and moved."""
    if isinstance(element, Wall):
        return element.model_copy(
            update={"a": moved(element.a, dx, dy, turn), "b": moved(element.b, dx, dy, turn)}
        )
    if isinstance(element, Underlay):
        at = moved(Point(x_m=element.x_m, y_m=element.y_m), dx, dy, turn)
        return element.model_copy(update={"x_m": at.x_m, "y_m": at.y_m})
    for field in ("outline", "path"):
        if hasattr(element, field):
            return element.model_copy(
                update={field: tuple(moved(p, dx, dy, turn) for p in getattr(element, field))}
            )
    if hasattr(element, "at"):
        changes: dict[str, Any] = {"at": moved(element.at, dx, dy, turn)}
        if hasattr(element, "facing_deg"):
            changes["facing_deg"] = (element.facing_deg + turn) % 360
        return element.model_copy(update=changes)
    return element
