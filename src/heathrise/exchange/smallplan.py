"""A plan the size of a stamp: the walls of the storey people enter, as SVG in the ink of the page."""

from collections.abc import Sequence
from typing import Any
from xml.etree import ElementTree

_EDGE = 0.04


def small_plan(storeys: Sequence[dict[str, Any]], walls: Sequence[dict[str, Any]]) -> bytes:
    """Return an SVG of the walls of the storey nearest the ground; empty paper where there are none.

    The bodies are as the database keeps them.
    """
    entered = min(storeys, key=lambda body: abs(body["elevation_m"]), default=None)
    here = [body for body in walls if entered is not None and body["storey_id"] == entered["id"]] or list(
        walls
    )
    root = ElementTree.Element("svg", {"xmlns": "http://www.w3.org/2000/svg", "viewBox": _box(here)})
    lines = " ".join(f"M{a:g} {b:g}L{c:g} {d:g}" for a, b, c, d in map(_ends, here))
    pen = {"fill": "none", "stroke": "#7a6f86", "stroke-width": "1.4", "vector-effect": "non-scaling-stroke"}
    ElementTree.SubElement(root, "path", {"d": lines, **pen})
    return ElementTree.tostring(root)


def _ends(body: dict[str, Any]) -> tuple[float, float, float, float]:
    a, b = body["a"], body["b"]
    return a["x_m"], a["y_m"], b["x_m"], b["y_m"]


def _box(walls: list[dict[str, Any]]) -> str:
    if not walls:
        return "0 0 4 3"
    ends = [_ends(body) for body in walls]
    xs = [x for one in ends for x in one[::2]]
    ys = [y for one in ends for y in one[1::2]]
    width, height = max(xs) - min(xs), max(ys) - min(ys)
    rim = max(width, height, 1.0) * _EDGE
    return f"{min(xs) - rim:g} {min(ys) - rim:g} {width + 2 * rim:g} {height + 2 * rim:g}"
