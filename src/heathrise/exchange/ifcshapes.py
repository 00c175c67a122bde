"""What a building model's curves, profiles and layers of material come to here."""

from typing import Any

import numpy as np
from ifcopenshell.util import placement
from numpy.typing import NDArray

from heathrise.core.library import library

Entity = Any


# Chords turn by no more than this. [rad]
_CHORD_TURN = np.radians(9.0)
Points = list[tuple[float, ...]]


def curve_points(item: Entity) -> Points:
    """Return the points of a line, curves by chords; none for what is neither."""
    if item.is_a("IfcPolyline"):
        return [tuple(p.Coordinates) for p in item.Points]
    if item.is_a("IfcIndexedPolyCurve"):
        return _indexed(item)
    if item.is_a("IfcCompositeCurve"):
        return _composed(item)
    if item.is_a("IfcTrimmedCurve") and item.BasisCurve.is_a("IfcCircle"):
        return _trimmed_circle(item)
    if item.is_a("IfcTrimmedCurve") and item.BasisCurve.is_a("IfcLine"):
        ends = [
            t
            for side in (item.Trim1, item.Trim2)
            for t in side
            if hasattr(t, "is_a") and t.is_a("IfcCartesianPoint")
        ]
        return [tuple(p.Coordinates) for p in ends]
    return []


def _indexed(item: Entity) -> Points:
    at = [tuple(p) for p in item.Points.CoordList]
    if not item.Segments:
        return at
    out: Points = []
    for segment in item.Segments:
        chosen = [at[i - 1] for i in segment.wrappedValue]
        piece = _through(*chosen) if segment.is_a("IfcArcIndex") else chosen
        out += piece[1:] if out and out[-1] == piece[0] else piece
    return out


def _composed(item: Entity) -> Points:
    out: Points = []
    for segment in item.Segments:
        piece = curve_points(segment.ParentCurve)
        piece = piece if segment.SameSense else piece[::-1]
        out += (
            piece[1:] if out and piece and np.hypot(*(np.array(out[-1][:2]) - piece[0][:2])) < 1e-6 else piece
        )
    return out


def _through(a: tuple[float, ...], b: tuple[float, ...], c: tuple[float, ...]) -> Points:
    """Return chords of the arc from a through b to c."""
    p, q, r = (np.array(n[:2], float) for n in (a, b, c))
    rows = 2 * np.array([q - p, r - p])
    if abs(np.linalg.det(rows)) < 1e-12:
        return [tuple(p), tuple(r)]
    middle = np.linalg.solve(rows, [q @ q - p @ p, r @ r - p @ p])
    ways = [float(np.arctan2(*(n - middle)[::-1])) for n in (p, q, r)]
    turn, first = (ways[2] - ways[0]) % (2 * np.pi), (ways[1] - ways[0]) % (2 * np.pi)
    turn = turn if first <= turn else turn - 2 * np.pi
    return _round(middle, float(np.hypot(*(p - middle))), ways[0], turn)


def _round(middle: NDArray[np.float64], radius: float, start: float, turn: float) -> Points:
    count = max(2, int(np.ceil(abs(turn) / _CHORD_TURN)))
    turns = start + np.linspace(0, turn, count + 1)
    return [(float(middle[0] + radius * np.cos(t)), float(middle[1] + radius * np.sin(t))) for t in turns]


def _trimmed_circle(item: Entity) -> Points:
    """Return chords of a part of a circle, trimmed by points or by angles in the model's unit of angle."""
    frame = placement.get_axis2placement(item.BasisCurve.Position)
    radius = float(item.BasisCurve.Radius)
    inverse = np.linalg.inv(frame)

    def angle(trim: Entity) -> float | None:
        for one in trim:
            if hasattr(one, "is_a") and one.is_a("IfcCartesianPoint"):
                local = inverse @ np.array([*(*tuple(one.Coordinates), 0.0, 0.0)[:3], 1.0])
                return float(np.arctan2(local[1], local[0]))
        # Without points the angle is a number; degrees are what nearly all models use, more than a turn of radians shows it.
        values = [float(one.wrappedValue if hasattr(one, "wrappedValue") else one) for one in trim]
        return values[0] if values else None

    start, stop = angle(item.Trim1), angle(item.Trim2)
    if start is None or stop is None:
        return []
    if max(abs(start), abs(stop)) > 2 * np.pi:
        start, stop = float(np.radians(start)), float(np.radians(stop))
    turn = (stop - start) % (2 * np.pi)
    turn = turn if item.SenseAgreement else turn - 2 * np.pi
    flat = _round(np.zeros(2), radius, start, turn)
    full = np.array([[x, y, 0.0, 1.0] for x, y in flat]) @ frame.T
    return [(float(x), float(y)) for x, y in full[:, :2]]


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
    names = " ".join(name.lower() for name, _ in layers)
    if "brick" in names and "block" in names:
        return "cavity-foil" if "foil" in names or "pir" in names.split() else "cavity"
    fits = [
        (library().build_ups[code].loss_5_db, code)
        for name, thick_mm in layers
        if (code := _material(name.lower(), thick_mm)) is not None
    ]
    return max(fits)[1] if fits else None


def _material(name: str, thick_mm: float) -> str | None:
    """Return the build-up of one layer: the longest word that is in its name tells, of those the thickest that fits."""
    fits = [
        (max(len(word) for word in row.words if word in name), float(least or 0), code)
        for key, row in library().material_words.items()
        for code, _, least in [key.partition("@")]
        if thick_mm >= float(least or 0) and any(word in name for word in row.words)
    ]
    return max(fits)[2] if fits else None
