"""SVG plans in: every shape as lines in the file's own units, words, and groups as layers."""

import io
import re
from xml.etree import ElementTree

import svgelements as svg
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from heathrise.core.library import limit
from heathrise.core.site.sketch import Drawing
from heathrise.exchange.unreadable import Progress, Unreadable, quiet

_LABEL = "{http://www.inkscape.org/namespaces/inkscape}label"
_LENGTH_M = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254}
_HREF = "{http://www.w3.org/1999/xlink}href"
_DEEPEST = 200
_CHORDS = 12
# What the readers below raise over a file that is not what it says.
_BROKEN = (
    ElementTree.ParseError,
    DefusedXmlException,
    ValueError,
    TypeError,
    LookupError,
    RecursionError,
    AttributeError,
)


def read_svg(body: bytes, progress: Progress = quiet) -> Drawing:
    """Return an SVG's drawing; y is down already.

    Raises
    ------
    Unreadable
        If it is no SVG, or declares entities of its own (a way to blow a small file up).
    """
    if re.search(rb"<!(ENTITY|DOCTYPE[^>]*\[)", body[:200_000]):
        raise Unreadable(
            "the SVG declares entities of its own; such files are not read", "Save it as plain SVG"
        )
    progress(0.1, "opening the drawing")
    try:
        root = fromstring(body)
        if _unfolded(root) > limit("import.entities"):
            raise Unreadable(
                "its groups unfold to more shapes than are read at once", "Save one storey at a time"
            )
        layers = _layer_names(root)
        parsed = svg.SVG.parse(io.BytesIO(ElementTree.tostring(root)), reify=True, ppi=96.0)
    except Unreadable:
        raise
    except _BROKEN as error:
        raise Unreadable(
            f"the file is no SVG drawing, or is cut off: {str(error)[:120]}", "Save it again as plain SVG"
        ) from error
    drawing = Drawing(unit="SVG units", layered=bool(layers))
    _scale(root, drawing)
    if not isinstance(parsed, svg.SVG):
        raise Unreadable(
            "the file is no SVG drawing: its outermost element is another", "Save it as plain SVG"
        )
    items = list(parsed.elements())
    if len(items) > limit("import.entities"):
        raise Unreadable("the SVG holds more shapes than are read at once", "Save one storey at a time")
    for number, item in enumerate(items):
        if number % 500 == 0:
            progress(0.2 + 0.4 * number / max(len(items), 1), f"reading shape {number} of {len(items)}")
        _take(item, drawing, layers)
    return drawing


def _unfolded(root: ElementTree.Element) -> int:
    """Return how many elements a drawing has once every use of another element is unfolded."""
    named = {element.get("id"): element for element in root.iter() if element.get("id")}
    counted: dict[int, int] = {}

    def count(element: ElementTree.Element, depth: int) -> int:
        if id(element) not in counted:
            if depth > _DEEPEST:
                raise ValueError(f"groups are nested more than {_DEEPEST} deep")
            # While it is being counted an element that uses itself counts for nothing more.
            counted[id(element)] = 0
            used = named.get((element.get(_HREF) or element.get("href") or "").removeprefix("#"))
            parts = [*element, *([] if used is None or not element.tag.endswith("use") else [used])]
            counted[id(element)] = 1 + sum(count(part, depth + 1) for part in parts)
        return counted[id(element)]

    return count(root, 0)


def _layer_names(root: ElementTree.Element) -> dict[str, str]:
    """Give every element an id, and return the name of the innermost named group it is in."""
    names: dict[str, str] = {}

    def walk(element: ElementTree.Element, layer: str | None, depth: int) -> None:
        if depth > _DEEPEST:
            raise ValueError(f"groups are nested more than {_DEEPEST} deep")
        if element.tag.endswith("}g") or element.tag == "g":
            layer = element.get(_LABEL) or element.get("id") or element.get("class") or layer
        key = f"h{len(names)}-{id(element)}"
        if layer is not None:
            names[key] = layer
            element.set("id", key)
        for child in element:
            walk(child, layer, depth + 1)

    walk(root, None, 0)
    return names


def _scale(root: ElementTree.Element, drawing: Drawing) -> None:
    """Set the scale where the file is drawn full size; 1 unit is then what its width says."""
    width = re.fullmatch(r"\s*([\d.]+)\s*(mm|cm|m|in)\s*", root.get("width", ""))
    box = root.get("viewBox", "").replace(",", " ").split()
    if width and len(box) == 4 and float(box[2]) > 0:
        paper_m = float(width[1]) * _LENGTH_M[width[2]]
        if paper_m > 2:
            drawing.metres_per_unit = paper_m / (paper_m / 0.0254 * 96)
            drawing.unit = "drawn full size"


def _take(item: object, drawing: Drawing, layers: dict[str, str]) -> None:
    layer = layers.get(getattr(item, "id", None) or "", "no layer")
    if isinstance(item, svg.Text):
        if item.text:
            at = svg.Point(item.x or 0, item.y or 0) * item.transform
            drawing.text(layer if layers else "Words", float(at.x), float(at.y), item.text)
    elif isinstance(item, svg.Shape):
        try:
            for part in svg.Path(item).as_subpaths():
                _subpath(svg.Path(part), layer, drawing)
        except (ValueError, TypeError, ZeroDivisionError, AttributeError, IndexError) as error:
            drawing.skip(type(item).__name__.lower(), f"it is broken: {str(error)[:60]}")
    elif isinstance(item, svg.Image):
        drawing.skip("picture", "a picture inside a drawing; send it on its own")


def _subpath(path: svg.Path, layer: str, drawing: Drawing) -> None:
    for segment in path:
        if isinstance(segment, svg.Move) or segment.start is None or segment.end is None:
            continue
        if isinstance(segment, svg.Line | svg.Close):
            points = [segment.start, segment.end]
        else:
            points = [segment.point(step / _CHORDS) for step in range(_CHORDS + 1)]
        drawing.path(layer, [(float(p.x), float(p.y)) for p in points])
