"""Spots an access point may go to: ceilings of rooms, and eaves for the ground outdoors."""

import math
import uuid
from collections.abc import Iterator
from dataclasses import dataclass

import shapely

from heathrise.core.job import AccessPoint, Job, NoGo, Point, Rack, ServiceEntry, Space
from heathrise.core.library import library, limit
from heathrise.core.site.building import Building, ring_polygon

# No point is wanted in these, and none of them is a place to hang one.
_NOT_IN = ("plant", "stair", "loft")
_EAVES_HEIGHT_M = 3.0


@dataclass(frozen=True)
class Spot:
    """A spot with the point that would go there, its cable and its price."""

    point: AccessPoint
    space: str
    cable_m: float
    cost: float
    kept: bool = False


def spots(job: Job, building: Building, model: str, storey_ids: tuple[str, ...]) -> tuple[Spot, ...]:
    """Return the spots of some storeys; pinned points stand first and are kept."""
    kept = [p for p in job.of(AccessPoint) if p.pinned]
    found = [_spot(job, building, p, "", kept=True) for p in kept]
    for storey_id in storey_ids:
        barred = shapely.union_all(
            [ring_polygon(n.outline) for n in job.of(NoGo) if n.storey_id == storey_id]
            + [building.polygons[s.id] for s in building.spaces[storey_id] if s.no_go]
        )
        for space in building.spaces[storey_id]:
            for point in _in_space(building, space, model):
                here = shapely.Point(point.at.x_m, point.at.y_m)
                if not barred.covers(here) and _is_of(building, point, space):
                    found.append(_spot(job, building, point, space.label))
    return tuple(found)


def _is_of(building: Building, point: AccessPoint, space: Space) -> bool:
    """Say whether a spot hangs in this space itself, not in a smaller one drawn inside it."""
    if point.mount == "outdoor":
        return True
    found = building.space_at(point.storey_id, point.at)
    return found is not None and found.id == space.id


def _in_space(building: Building, space: Space, model: str) -> Iterator[AccessPoint]:
    if space.space_kind == "outdoor":
        if library().needs[space.need].best_dbm is not None:
            yield from _under_eaves(building, space)
        return
    if space.space_kind in _NOT_IN or library().needs[space.need].best_dbm is None:
        return
    storey = building.storey(space.storey_id)
    step = limit("place.candidate_m")
    shape = building.polygons[space.id]
    x0, y0, x1, y1 = shape.bounds
    columns, rows = max(1, round((x1 - x0) / step)), max(1, round((y1 - y0) / step))
    for i in range(columns):
        for j in range(rows):
            x, y = x0 + (i + 0.5) * (x1 - x0) / columns, y0 + (j + 0.5) * (y1 - y0) / rows
            if shape.contains(shapely.Point(x, y)):
                yield _point(space.storey_id, x, y, space.ceiling_m or storey.ceiling_m, model, "ceiling", 0)
    if columns * rows == 1 and not shape.contains(shapely.Point((x0 + x1) / 2, (y0 + y1) / 2)):
        inside = shape.representative_point()
        yield _point(
            space.storey_id, inside.x, inside.y, space.ceiling_m or storey.ceiling_m, model, "ceiling", 0
        )


def _under_eaves(building: Building, space: Space) -> Iterator[AccessPoint]:
    """Yield spots on the walls of houses near an outdoor space, facing out."""
    model = next((m for m, row in library().access_points.items() if row.outdoor), None)
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


def _spot(job: Job, building: Building, point: AccessPoint, space: str, kept: bool = False) -> Spot:
    cable = _cable_m(job, building, point)
    price = library().access_points[point.model].price or 0.0
    cost = price + limit("place.point_cost") + cable * limit("place.metre_cost")
    return Spot(point, space, round(cable, 1), round(cost, 2), kept)


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
