"""Spots an access point may go to: ceilings, long walls, outlets and shelves; eaves and poles outdoors."""

import math
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import shapely
import shapely.ops

from heathrise.core.job import AccessPoint, Fixture, Job, NoGo, Point, Rack, ServiceEntry, Space
from heathrise.core.library import Pack, library, limit
from heathrise.core.site.building import Building, ring_polygon, spaces_on

# No point is wanted in these, and none of them is a place to hang one.
_NOT_IN = ("plant", "stair", "loft")
_EAVES_HEIGHT_M = 3.0
_POLE_HEIGHT_M = 4.0
# A point on a wall hangs above reach and below the ceiling; on a shelf it stands at a desk's height.
_WALL_HEIGHT_M = 2.4
_SHELF_HEIGHT_M = 1.0


@dataclass(frozen=True)
class Spot:
    """A spot with the point that would go there, its cable and its price."""

    point: AccessPoint
    space: str
    cable_m: float
    cost: float
    kept: bool = False
    each: float = 0.0
    packs: tuple[Pack, ...] = ()


def spots(job: Job, building: Building, model: str, storey_ids: tuple[str, ...]) -> tuple[Spot, ...]:
    """Return the spots of some storeys; pinned points stand first and are kept."""
    kept = [p for p in job.of(AccessPoint) if p.pinned]
    found = [_spot(job, building, p, "", kept=True) for p in kept]
    for storey_id in storey_ids:
        barred = shapely.union_all(
            [ring_polygon(n.outline) for n in job.of(NoGo) if n.storey_id == storey_id]
            + [building.polygons[s.id] for s in spaces_on(job, storey_id) if s.no_go]
        )
        for space in spaces_on(job, storey_id):
            for point, extra, wired in _in_space(job, building, space, model):
                here = shapely.Point(point.at.x_m, point.at.y_m)
                if not barred.covers(here) and _is_of(building, point, space):
                    found.append(_spot(job, building, point, space.label, extra=extra, wired=wired))
    return tuple(found)


# A point, what its spot costs beyond the point, and whether a cable is there already.
Candidate = tuple[AccessPoint, float, bool]


def _is_of(building: Building, point: AccessPoint, space: Space) -> bool:
    """Say whether a spot hangs in this space itself, not in a smaller one drawn inside it."""
    if point.mount == "outdoor":
        return True
    found = building.space_at(point.storey_id, point.at)
    return found is not None and found.id == space.id


def _in_space(job: Job, building: Building, space: Space, model: str) -> Iterator[Candidate]:
    if library().needs[space.need].best_dbm is None:
        return
    if space.space_kind == "outdoor":
        yield from ((point, 0.0, False) for point in _under_eaves(job, building, space))
        yield from ((point, limit("place.pole_cost"), False) for point in _on_poles(job, building, space))
        return
    if space.space_kind in _NOT_IN:
        return
    mounts = job.equipment[model].mounts
    if "ceiling" in mounts:
        yield from ((point, 0.0, False) for point in _on_ceiling(building, space, model))
    if "wall" in mounts:
        yield from ((point, 0.0, False) for point in _on_walls(building, space, model))
    yield from ((point, 0.0, True) for point in _at_outlets(job, building, space, model))


def _on_ceiling(building: Building, space: Space, model: str) -> Iterator[AccessPoint]:
    """Yield spots in rows under the ceiling, face down."""
    step = limit("place.candidate_m")
    shape, height = building.polygons[space.id], _ceiling_m(building, space)
    x0, y0, x1, y1 = shape.bounds
    columns, rows = max(1, round((x1 - x0) / step)), max(1, round((y1 - y0) / step))
    places = [
        (x0 + (i + 0.5) * (x1 - x0) / columns, y0 + (j + 0.5) * (y1 - y0) / rows)
        for i in range(columns)
        for j in range(rows)
    ]
    inside = [place for place in places if shape.contains(shapely.Point(place))]
    if not inside:
        middle = shape.representative_point()
        inside = [(middle.x, middle.y)]
    for x, y in inside:
        yield _point(space.storey_id, x, y, height, model, "ceiling", 0)


def _ceiling_m(building: Building, space: Space) -> float:
    return space.ceiling_m or building.storey(space.storey_id).ceiling_m


def _on_walls(building: Building, space: Space, model: str) -> Iterator[AccessPoint]:
    """Yield the middle of each long side of a large space, facing in."""
    shape = building.polygons[space.id]
    height = min(_WALL_HEIGHT_M, _ceiling_m(building, space) - 0.2)
    corners = list(shapely.geometry.polygon.orient(shape).exterior.coords)
    for (ax, ay), (bx, by) in pairwise(corners):
        length = math.hypot(bx - ax, by - ay)
        if length < limit("place.wall_side_m"):
            continue
        # Turned this way round the inside lies to the left of each side.
        in_x, in_y = -(by - ay) / length, (bx - ax) / length
        x, y = (ax + bx) / 2 + 0.15 * in_x, (ay + by) / 2 + 0.15 * in_y
        yield _point(space.storey_id, x, y, height, model, "wall", _facing_deg(in_x, in_y))


def _at_outlets(job: Job, building: Building, space: Space, model: str) -> Iterator[AccessPoint]:
    """Yield spots at data outlets that stay: on the wall over them, or on a shelf beside them."""
    mounts, shape = job.equipment[model].mounts, building.polygons[space.id]
    middle = shape.representative_point()
    for outlet in job.of(Fixture):
        here = shapely.Point(outlet.at.x_m, outlet.at.y_m)
        wanted = outlet.fixture_kind == "data-outlet" and outlet.keep
        if not wanted or outlet.storey_id != space.storey_id or shape.distance(here) > 0.3:
            continue
        x, y = (outlet.at.x_m, outlet.at.y_m) if shape.contains(here) else _just_inside(shape, here)
        facing = _facing_deg(middle.x - x, middle.y - y)
        if "wall" in mounts:
            yield _point(space.storey_id, x, y, _WALL_HEIGHT_M, model, "wall", facing)
        if "desk" in mounts:
            yield _point(space.storey_id, x, y, _SHELF_HEIGHT_M, model, "desk", 0)


def _just_inside(shape: shapely.Polygon, here: shapely.Point) -> tuple[float, float]:
    inner = shape.buffer(-0.1)
    near = shapely.ops.nearest_points(inner if not inner.is_empty else shape, here)[0]
    return float(near.x), float(near.y)


def _facing_deg(dx: float, dy: float) -> float:
    """Return a direction on the sheet clockwise from up; y runs down."""
    return math.degrees(math.atan2(dx, -dy)) % 360


def _on_poles(job: Job, building: Building, space: Space) -> Iterator[AccessPoint]:
    """Yield spots on poles in a wide outdoor space, away from houses, facing its middle."""
    model = _outdoor_model(job)
    if model is None:
        return
    shape, step = building.polygons[space.id], limit("place.pole_m")
    houses = shapely.union_all(list(building.houses.values())).buffer(step / 2)
    x0, y0, x1, y1 = shape.bounds
    for i in range(int((x1 - x0) // step)):
        for j in range(int((y1 - y0) // step)):
            x, y = x0 + (i + 0.5) * step, y0 + (j + 0.5) * step
            here = shapely.Point(x, y)
            if shape.contains(here) and not houses.covers(here):
                facing = _facing_deg(shape.centroid.x - x, shape.centroid.y - y)
                yield _point(space.storey_id, x, y, _POLE_HEIGHT_M, model, "outdoor", facing)


def _outdoor_model(job: Job) -> str | None:
    return next((m for m, row in job.equipment.items() if row.radiates and row.outdoor), None)


def _under_eaves(job: Job, building: Building, space: Space) -> Iterator[AccessPoint]:
    """Yield spots on the walls of houses near an outdoor space, facing out."""
    model = _outdoor_model(job)
    if model is None:
        return
    storey = next((s.id for s in building.storeys if s.id == space.storey_id), space.storey_id)
    reach = building.polygons[space.id].buffer(2.0)
    for area in building.houses.values():
        for part in shapely.get_parts(area):
            ring = part.exterior
            count = max(4, int(ring.length / limit("place.eaves_m")))
            for n in range(count):
                on = ring.interpolate(n / count, normalized=True)
                if not reach.covers(on):
                    continue
                ahead = ring.interpolate(((n + 0.01) / count) % 1.0, normalized=True)
                way = math.degrees(math.atan2(ahead.y - on.y, ahead.x - on.x))
                facing = (way + (0 if ring.is_ccw else 180)) % 360
                yield _point(storey, on.x, on.y, _EAVES_HEIGHT_M, model, "outdoor", facing)


def _point(
    storey_id: str, x: float, y: float, height_m: float, model: str, mount: str, facing: float
) -> AccessPoint:
    at = Point(x_m=round(x, 2), y_m=round(y, 2))
    element_id = str(uuid.uuid5(uuid.UUID(storey_id), f"spot {at.x_m} {at.y_m} {mount}"))
    body = {
        "id": element_id,
        "label": "AP",
        "storey_id": storey_id,
        "at": at,
        "height_m": height_m,
        "model": model,
        "mount": mount,
        "facing_deg": round(facing, 1) % 360,
    }
    return AccessPoint.model_validate(body)


def _spot(
    job: Job,
    building: Building,
    point: AccessPoint,
    space: str,
    kept: bool = False,
    extra: float = 0.0,
    wired: bool = False,
) -> Spot:
    cable = 0.0 if wired else _cable_m(job, building, point)
    model = job.equipment[point.model]
    price = model.price or 0.0
    cost = price + limit("place.point_cost") + extra + cable * limit("place.metre_cost")
    return Spot(point, space, round(cable, 1), round(cost, 2), kept, price, model.packs)


def _cable_m(job: Job, building: Building, point: AccessPoint) -> float:
    """Return the way of a cable along the grain of the building to the nearest rack or entry. [m]"""
    ends: tuple[Rack | ServiceEntry, ...] = job.of(Rack) or job.of(ServiceEntry)
    here = building.storey(point.storey_id)
    ways = [
        abs(end.at.x_m - point.at.x_m)
        + abs(end.at.y_m - point.at.y_m)
        + abs(building.storey(end.storey_id).elevation_m - here.elevation_m)
        + 2.0
        for end in ends
    ]
    return min(ways, default=0.0)


def usual_model(job: Job) -> str:
    """Return the indoor model a job has most of."""
    models = [p.model for p in job.of(AccessPoint) if not job.equipment[p.model].outdoor]
    return max(sorted(set(models)), key=models.count) if models else "ap-ceiling-wifi6-2x2"
