"""GeoJSON in and out (RFC 7946): lines, polygons and points with a `layer` or `kind` and a `name`."""

import json
from typing import Any

import numpy as np
from pydantic import BaseModel, ValidationError

from heathrise.core.job import Job, Opening, Space, Wall
from heathrise.core.library import limit
from heathrise.core.site.drawing import Drawing
from heathrise.exchange.unreadable import Progress, Unreadable, quiet

_EARTH_M = 6_371_008.8
# A plan this small in both directions can only be in degrees.
_DEGREES_SPAN = 0.05


class _Geometry(BaseModel):
    type: str
    coordinates: list[Any] = []
    geometries: list["_Geometry"] = []


class _Feature(BaseModel):
    geometry: _Geometry | None = None
    properties: dict[str, Any] | None = None


class _Collection(BaseModel):
    features: list[_Feature]


def read_geojson(body: bytes, progress: Progress = quiet) -> Drawing:
    """Return a feature collection's drawing; positions in degrees become local metres, y down.

    Raises
    ------
    Unreadable
        If it is no feature collection.
    """
    progress(0.1, "opening the drawing")
    try:
        found = _Collection.model_validate(json.loads(body.decode("utf-8-sig")))
    except (ValidationError, ValueError, RecursionError) as error:
        raise Unreadable(
            f"the file is no GeoJSON feature collection: {str(error)[:120]}",
            "Export the outlines as a feature collection",
        ) from error
    if len(found.features) > limit("import.entities"):
        raise Unreadable(
            f"the file holds {len(found.features):,} features; {limit('import.entities'):,.0f} is the most",
            "Send one storey at a time",
        )
    drawing = Drawing(unit="metres", metres_per_unit=1.0)
    project = _projection(found)
    for feature in found.features:
        more = feature.properties or {}
        layer = str(more.get("layer") or more.get("kind") or "features")[:80]
        if feature.geometry is not None:
            _take(feature.geometry, layer, str(more.get("name") or ""), drawing, project)
    return drawing


def _positions(value: Any) -> list[tuple[float, float]]:
    if isinstance(value, list) and len(value) >= 2 and all(isinstance(v, int | float) for v in value[:2]):
        return [(float(value[0]), float(value[1]))]
    return [p for part in value for p in _positions(part)] if isinstance(value, list) else []


def _projection(found: _Collection) -> tuple[float, float, float, float]:
    """Return origin x, origin y and metres per unit in x and y."""
    points = np.array(
        [p for f in found.features if f.geometry for p in _positions(f.geometry.coordinates)]
    ).reshape(-1, 2)
    points = points[np.isfinite(points).all(axis=1)]
    if not len(points) or max(np.ptp(points, axis=0)) > _DEGREES_SPAN or np.abs(points).max() > 180:
        return 0.0, 0.0, 1.0, 1.0
    low = points.min(axis=0)
    per_degree = np.pi / 180 * _EARTH_M
    return float(low[0]), float(low[1]), float(per_degree * np.cos(np.radians(low[1]))), float(per_degree)


def _take(
    geometry: _Geometry, layer: str, name: str, drawing: Drawing, project: tuple[float, float, float, float]
) -> None:
    x0, y0, kx, ky = project

    def flat(part: Any) -> list[tuple[float, float]]:
        return [((x - x0) * kx, -(y - y0) * ky) for x, y in _positions(part)]

    if geometry.type in ("LineString", "Polygon", "MultiLineString"):
        lines = [geometry.coordinates] if geometry.type == "LineString" else geometry.coordinates
        for ring in lines:
            drawing.path(layer, flat(ring))
    elif geometry.type == "MultiPolygon":
        rings = [ring for part in geometry.coordinates if isinstance(part, list) for ring in part]
        for ring in rings:
            drawing.path(layer, flat(ring))
    elif geometry.type == "Point" and name:
        at = flat(geometry.coordinates)
        if at:
            drawing.text("names", at[0][0], at[0][1], name)
        return
    elif geometry.type == "GeometryCollection":
        for part in geometry.geometries:
            _take(part, layer, name, drawing, project)
        return
    else:
        drawing.skip(geometry.type.lower(), "this kind of geometry holds no wall or name")
        return
    ring = np.array(flat(geometry.coordinates)).reshape(-1, 2)
    if name and geometry.type == "Polygon" and len(ring):
        drawing.text("names", float(ring[:, 0].mean()), float(ring[:, 1].mean()), name)


def write_geojson(job: Job, storey_id: str) -> str:
    """Return a storey's walls, openings and spaces as a feature collection in metres, y up."""
    features = [
        _line("wall", w.label, w, [(w.a.x_m, -w.a.y_m), (w.b.x_m, -w.b.y_m)])
        for w in job.of(Wall)
        if w.storey_id == storey_id
    ]
    for opening in job.of(Opening):
        wall = job.get(Wall, opening.wall_id)
        if wall.storey_id == storey_id:
            features.append(_line(opening.opening_kind, opening.label, opening, _stretch(wall, opening)))
    for space in job.of(Space):
        if space.storey_id == storey_id:
            ring = [(p.x_m, -p.y_m) for p in (*space.outline, space.outline[0])]
            features.append(
                _feature(
                    "space", space.label, {"type": "Polygon", "coordinates": [ring]}, {"need": space.need}
                )
            )
    return json.dumps({"type": "FeatureCollection", "features": features}, indent=1) + "\n"


def _stretch(wall: Wall, opening: Opening) -> list[tuple[float, float]]:
    def on(along: float) -> tuple[float, float]:
        t = along / wall.length_m
        return wall.a.x_m + (wall.b.x_m - wall.a.x_m) * t, -(wall.a.y_m + (wall.b.y_m - wall.a.y_m) * t)

    return [on(opening.at_m), on(opening.at_m + opening.width_m)]


def _line(kind: str, name: str, element: Wall | Opening, points: list[tuple[float, float]]) -> dict[str, Any]:
    return _feature(kind, name, {"type": "LineString", "coordinates": points}, {"build_up": element.build_up})


def _feature(kind: str, name: str, geometry: dict[str, Any], more: dict[str, Any]) -> dict[str, Any]:
    return {
        "type": "Feature",
        "geometry": geometry,
        "properties": {"layer": kind, "kind": kind, "name": name, **more},
    }
