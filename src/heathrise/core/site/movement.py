"""Where an element is drawn, and what it is when it has been moved and turned."""

import math
from typing import Any

from heathrise.core.job import Element, Equipment, OnSheet, Path, Point, Underlay, Wall
from heathrise.core.library import limit
from heathrise.core.site.actions import NotPossible
from heathrise.core.site.align import moved


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


def points_of(element: Element) -> tuple[Point, ...]:
    """Return the places an element is drawn at, none for what hangs on others."""
    if isinstance(element, Wall):
        return element.a, element.b
    if isinstance(element, Underlay):
        return (Point(x_m=element.x_m, y_m=element.y_m),)
    if isinstance(element, Equipment):
        return (element.place.at,) if isinstance(element.place, OnSheet) else ()
    at = getattr(element, "at", None)
    if at is not None:
        return (at,)
    found: Path = getattr(element, "outline", None) or getattr(element, "path", None) or ()
    return found


def storey_of(element: Element) -> str | None:
    """Return the storey an element is drawn on, None for what is drawn on none or on several."""
    if isinstance(element, Equipment):
        return element.place.storey_id if isinstance(element.place, OnSheet) else None
    return getattr(element, "storey_id", None)


def centre_of(element: Element) -> Point:
    """Return the middle of the box round the places an element is drawn at."""
    points = points_of(element)
    return Point(
        x_m=(min(p.x_m for p in points) + max(p.x_m for p in points)) / 2,
        y_m=(min(p.y_m for p in points) + max(p.y_m for p in points)) / 2,
    )


def moved_element(element: Element, dx: float, dy: float, turn: float) -> Element:
    """Return an element turned about the sheet's zero and moved."""

    def to(point: Point) -> Point:
        return moved(point, dx, dy, turn)

    changes: dict[str, Any] = {}
    if isinstance(element, Wall):
        changes = {"a": to(element.a), "b": to(element.b)}
    elif isinstance(element, Underlay):
        at = to(Point(x_m=element.x_m, y_m=element.y_m))
        changes = {"x_m": at.x_m, "y_m": at.y_m}
    elif isinstance(element, Equipment) and isinstance(element.place, OnSheet):
        changes = {"place": element.place.model_copy(update={"at": to(element.place.at)})}
    elif field := next((name for name in ("outline", "path") if hasattr(element, name)), None):
        changes = {field: tuple(to(p) for p in getattr(element, field))}
    elif hasattr(element, "at"):
        changes = {"at": to(element.at)}
        if hasattr(element, "facing_deg"):
            changes["facing_deg"] = (element.facing_deg + turn) % 360
    return element.model_copy(update=changes)
