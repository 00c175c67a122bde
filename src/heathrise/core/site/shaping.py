"""The drawing tools that need thought: each takes the job and what was asked and returns the
operations that do it, so that one edit does it and one undo takes it back.
"""

import math
from collections.abc import Callable, Iterable, Sequence
from itertools import pairwise
from typing import Any

import shapely
from shapely.geometry import LineString

from heathrise.core.edit import Operation, Put, Remove
from heathrise.core.job import (
    Element,
    Job,
    Opening,
    Point,
    Space,
    Storey,
    Underlay,
    Wall,
)
from heathrise.core.library import limit
from heathrise.core.site.actions import (
    Action,
    AlignAll,
    AlignStorey,
    ArrayAll,
    ChangeAll,
    CloseGaps,
    CopyStorey,
    CurveWall,
    FindSpaces,
    JoinWalls,
    MoveAll,
    NotPossible,
    OffsetWalls,
    RemoveAll,
    Shaped,
    SplitWall,
)
from heathrise.core.site.align import alignment, moved
from heathrise.core.site.building import polygon
from heathrise.core.site.guessing import propose_needs
from heathrise.core.site.loops import gaps, loops, outline, segments_of
from heathrise.core.site.movement import along, arc_points, centre_of, moved_element, points_of, storey_of

NewId = Callable[[], str]
# A found loop is a space that is there already when they share this much of their area.
_SAME_SPACE = 0.8


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
            "propose-needs": lambda _: propose_needs(self.job),
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
        second = wall.model_copy(
            update={"id": self.new_id(), "order": 0, "label": self.free(wall.label), "a": cut}
        )
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
                    update={"id": self.new_id(), "order": 0, "label": self.free(element.label), **ends}
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
                "order": 0,
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
            fresh = {"id": self.new_id(), "order": 0, "label": self.free(element.label), **(changes or {})}
            copy = moved_element(element, dx, dy, 0.0).model_copy(update=fresh)
            out.append(Put(element=copy))
            if isinstance(element, Wall):
                for opening in self.openings(element.id):
                    door = {
                        "id": self.new_id(),
                        "order": 0,
                        "label": self.free(opening.label),
                        "wall_id": copy.id,
                    }
                    out.append(Put(element=opening.model_copy(update=door)))
        return out

    def move(self, action: MoveAll) -> Shaped:
        picked = [e for e in self.all(action.ids) if points_of(e)]
        if not picked:
            raise NotPossible("nothing that was picked has a place of its own to move")
        points = [p for e in picked for p in points_of(e)]
        mx = (min(p.x_m for p in points) + max(p.x_m for p in points)) / 2
        my = (min(p.y_m for p in points) + max(p.y_m for p in points)) / 2
        centre = moved(Point(x_m=mx, y_m=my), 0, 0, action.turn_deg)
        dx, dy = mx - centre.x_m + action.dx_m, my - centre.y_m + action.dy_m
        operations = tuple(Put(element=moved_element(e, dx, dy, action.turn_deg)) for e in picked)
        return Shaped(operations, f"{len(operations)} moved.")

    def array(self, action: ArrayAll) -> Shaped:
        if action.columns * action.rows < 2:
            raise NotPossible("an array needs two columns or two rows")
        picked = [e for e in self.all(action.ids) if points_of(e) and not isinstance(e, Underlay)]
        if len(picked) * action.columns * action.rows > 5000:
            raise NotPossible("that would make more than 5,000 copies")
        operations: list[Operation] = []
        for row in range(action.rows):
            for column in range(action.columns):
                if row or column:
                    operations += self.copies(picked, column * action.dx_m, row * action.dy_m)
        return Shaped(tuple(operations), f"{len(operations)} copies made.")

    def align(self, action: AlignAll) -> Shaped:
        picked = [e for e in self.all(action.ids) if points_of(e)]
        goal = centre_of(picked[0])
        operations = []
        for element in picked[1:]:
            at = centre_of(element)
            dx = goal.x_m - at.x_m if action.along == "x" else 0.0
            dy = goal.y_m - at.y_m if action.along == "y" else 0.0
            operations.append(Put(element=moved_element(element, dx, dy, 0.0)))
        if not operations:
            raise NotPossible("pick two things or more to align")
        return Shaped(tuple(operations), f"{len(operations)} put in line with {picked[0].label}.")

    def align_storey(self, action: AlignStorey) -> Shaped:
        try:
            found = alignment(action.here, action.there)
        except ValueError as error:
            raise NotPossible(str(error)) from error
        mine = [e for e in self.job.elements if storey_of(e) == action.storey_id and points_of(e)]
        if abs(found.turn_deg) > 0.01 and any(isinstance(e, Underlay) for e in mine):
            mine = [e for e in mine if not isinstance(e, Underlay)]
        operations = tuple(
            Put(element=moved_element(e, found.dx_m, found.dy_m, found.turn_deg)) for e in mine
        )
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
