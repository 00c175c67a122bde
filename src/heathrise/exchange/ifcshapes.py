"""What a building model's curves, profiles and layers of material come to here."""

from typing import Any

import numpy as np
from ifcopenshell.util import placement

from heathrise.core.library import library

Entity = Any


def curve_points(item: Entity) -> list[tuple[float, ...]]:
    """Return the points of a line in straight pieces, none for curved ones."""
    if item.is_a("IfcPolyline"):
        return [tuple(p.Coordinates) for p in item.Points]
    if item.is_a("IfcIndexedPolyCurve"):
        return [tuple(p) for p in item.Points.CoordList]
    if item.is_a("IfcTrimmedCurve") and item.BasisCurve.is_a("IfcLine"):
        ends = [
            t
            for side in (item.Trim1, item.Trim2)
            for t in side
            if hasattr(t, "is_a") and t.is_a("IfcCartesianPoint")
        ]
        return [tuple(p.Coordinates) for p in ends]
    return []


def profile_corners(profile: Entity) -> list[tuple[float, float]]:
    """Return the corners of a rectangle or polyline profile, none for curved ones."""
    if profile.is_a("IfcRectangleProfileDef"):
        x, y = float(profile.XDim) / 2, float(profile.YDim) / 2
        ring = np.array([[-x, -y, 0, 1], [x, -y, 0, 1], [x, y, 0, 1], [-x, y, 0, 1]])
        if profile.Position is not None:
            ring = ring @ placement.get_axis2placement(profile.Position).T
        return [(float(px), float(py)) for px, py in ring[:, :2]]
    if profile.is_a("IfcArbitraryClosedProfileDef"):
        curve = profile.OuterCurve
        if curve.is_a("IfcIndexedPolyCurve") and any(s.is_a("IfcArcIndex") for s in curve.Segments or ()):
            return []
        points = [(float(p[0]), float(p[1])) for p in curve_points(curve)]
        return points[:-1] if len(points) > 3 and points[0] == points[-1] else points
    return []


def build_up_of(layers: list[tuple[str, float]]) -> str | None:
    """Return the library's build-up for layers of (material name, thickness_mm).

    The layer that costs the air most decides; words and least thicknesses are data.
    """
    fits: list[tuple[float, str]] = []
    names = " ".join(name.lower() for name, _ in layers)
    if "brick" in names and "block" in names:
        return "cavity-foil" if "foil" in names or "pir" in names.split() else "cavity"
    for key, row in library().material_words.items():
        code, _, least = key.partition("@")
        for name, thick_mm in layers:
            if any(word in name.lower() for word in row.words) and thick_mm >= float(least or 0):
                fits.append((library().build_ups[code].loss_5_db, code))
    return max(fits)[1] if fits else None
