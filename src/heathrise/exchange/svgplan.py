"""SVG plans in: every shape as lines in the file's own units, words, and groups as layers."""

import io
import re
from xml.etree import ElementTree

import svgelements as svg
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from heathrise.core.library import limit
from heathrise.core.site.drawing import Drawing
from heathrise.exchange.unreadable import Progress, Unreadable, quiet

_INK = re.compile(r"^(none|transparent|white|#f{3,8})?$", re.IGNORECASE)
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
        most = f"{limit('import.entities'):,.0f}"
        if (shapes := _unfolded(root)) > limit("import.entities"):
            raise Unreadable(
                f"its groups unfold to {shapes:,} shapes; {most} is the most", "Save one storey at a time"
            )
        layers = _layer_names(root)
        parsed = svg.SVG.parse(io.BytesIO(ElementTree.tostring(root)), reify=True, ppi=96.0)
    except Unreadable:
        raise
    except _BROKEN as error:
        raise Unreadable(
            f"the file is no SVG drawing, or is cut off: {str(error)[:120]}", "Save it again as plain SVG"
        ) from error
    drawing = Drawing(unit="SVG units")
    _scale(root, drawing)
    if not isinstance(parsed, svg.SVG):
        raise Unreadable(
            "the file is no SVG drawing: its outermost element is another", "Save it as plain SVG"
        )
    items = list(parsed.elements())
    if len(items) > limit("import.entities"):
        raise Unreadable(
            f"the SVG holds {len(items):,} shapes; {most} is the most", "Save one storey at a time"
        )
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
        own = element.get(_LABEL) or element.get("class")
        if element.tag.endswith("}g") or element.tag == "g":
            layer = own or element.get("id") or layer
        elif own:
            layer = own
        key = f"h{len(names)}-{id(element)}"
        if layer is not None:
            names[key] = layer
            element.set("id", key)
        for child in element:
            walk(child, layer, depth + 1)

    walk(root, None, 0)
    return names


def _scale(root: ElementTree.Element, drawing: Drawing) -> None:
    """Set what a unit is where the file says its size: of paper, or of the building where that is larger than paper."""
    width = re.fullmatch(r"\s*([\d.]+)\s*(mm|cm|m|in)\s*", root.get("width", ""))
    box = root.get("viewBox", "").replace(",", " ").split()
    if width is None:
        return
    paper_m = float(width[1]) * _LENGTH_M[width[2]]
    # The parser gives places in pixels of 1/96 inch whatever the file's own units are.
    units = paper_m / 0.0254 * 96 if width[2] != "m" else float(width[1])
    if len(box) == 4 and float(box[2]) <= 0:
        return
    if paper_m > 2:
        drawing.metres_per_unit = paper_m / units
        drawing.unit = "drawn full size"
    elif paper_m > 0.1:
        drawing.paper_m_per_unit = paper_m / units
        drawing.page_m = (paper_m, paper_m / float(box[2]) * float(box[3]) if len(box) == 4 else paper_m)


def _take(item: object, drawing: Drawing, layers: dict[str, str]) -> None:
    layer = layers.get(getattr(item, "id", None) or "", "")
    if isinstance(item, svg.Text):
        if item.text:
            at = svg.Point(item.x or 0, item.y or 0) * item.transform
            high = float(item.font_size or 0) * float(abs(item.transform.a) or 1) * 0.7
            drawing.text(layer or "Words", float(at.x), float(at.y) - high / 2, item.text, high)
    elif isinstance(item, svg.Shape):
        try:
            pen = _pen(item)
            if pen is None:
                return
            for part in svg.Path(item).as_subpaths():
                _subpath(svg.Path(part), layer or pen, drawing)
        except (ValueError, TypeError, ZeroDivisionError, AttributeError, IndexError) as error:
            drawing.skip(type(item).__name__.lower(), f"it is broken: {str(error)[:60]}")
    elif isinstance(item, svg.Image):
        drawing.skip("picture", "a picture inside a drawing; send it on its own")


def _pen(item: svg.Shape) -> str | None:
    """Return a name by the pen a shape is drawn with, None for one that leaves no ink."""
    stroke, fill = str(item.values.get("stroke") or "none"), str(item.values.get("fill") or "")
    if not _INK.match(stroke):
        return f"Pen {float(item.stroke_width or 0):.2f} {stroke}"
    # What has neither is filled black. Source: SVG 1.1, 11.3.
    if fill and _INK.match(fill):
        return None
    return f"Filled {fill or 'black'}"


def _subpath(path: svg.Path, layer: str, drawing: Drawing) -> None:
    points: list[svg.Point] = []
    for segment in path:
        if isinstance(segment, svg.Move) or segment.start is None or segment.end is None:
            continue
        points = points or [segment.start]
        if isinstance(segment, svg.Line | svg.Close):
            points.append(segment.end)
        else:
            points += [segment.point(step / _CHORDS) for step in range(1, _CHORDS + 1)]
    drawing.path(layer, [(float(p.x), float(p.y)) for p in points])
