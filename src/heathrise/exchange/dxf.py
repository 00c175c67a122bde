"""CAD drawings (DXF) in: lines, curves as chords, doors from blocks, words, layers, units."""

import io
from collections.abc import Iterable, Iterator
from typing import Any

from ezdxf import bbox, path, recover, units
from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.insert import Insert
from ezdxf.enums import InsertUnits
from ezdxf.filemanagement import read
from ezdxf.lldxf.const import DXFError
from ezdxf.math import Vec2

from heathrise.core.library import limit
from heathrise.core.site.sketch import Drawing, guess_role
from heathrise.exchange.unreadable import Progress, Unreadable, quiet

_LINES = {"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"}
_WORDS = {"TEXT", "MTEXT"}
# Curves become chords that leave the curve by no more than this share of their unit.
_SAG = {True: 0.02, False: 20.0}


def read_dxf(body: bytes, progress: Progress = quiet) -> Drawing:
    """Return a DXF file's drawing, y turned down as on the sheet.

    Raises
    ------
    Unreadable
        If it is no DXF, or has more entities than are read at once.
    """
    progress(0.05, "opening the drawing")
    document = _open(body)
    drawing = Drawing()
    _units(document, drawing)
    space = document.modelspace()
    total = len(space)
    if total > limit("import.entities"):
        raise Unreadable(
            f"the drawing has {total} entities; {limit('import.entities'):.0f} is the most",
            "Delete hatches and furniture, or save one storey at a time",
        )
    if not total and b"EOF" not in body[-200:]:
        raise Unreadable(
            "the drawing is cut short: its end is missing and nothing before it can be read",
            "Send it again, or save it once more as DXF",
        )
    _check_unfolded(document, space)
    for number, entity in enumerate(space):
        if number % 500 == 0:
            progress(0.3 + 0.4 * number / max(total, 1), f"reading entity {number} of {total}")
        _take(entity, drawing, document, 0)
    return drawing


def _open(body: bytes) -> Document:
    try:
        text = body.decode(_encoding(body))
        return read(io.StringIO(text.replace("\r\n", "\n")))
    except (DXFError, UnicodeDecodeError, ValueError, IndexError, KeyError, TypeError, AttributeError):
        pass
    try:
        document, _ = recover.read(io.BytesIO(body), errors="ignore")
    except Exception as error:  # the recovery reader lets all sorts through; none of it is ours
        raise Unreadable(
            f"the file is no DXF drawing, or is cut off: {str(error)[:120]}",
            "Save it again as DXF and send that",
        ) from error
    return document


def _check_unfolded(document: Document, entities: Iterable[DXFEntity]) -> None:
    """Raise Unreadable for a drawing whose blocks in blocks unfold to more than is read; counted, not unfolded."""
    counted: dict[str, float] = {}

    def weight(entity: DXFEntity, depth: int) -> float:
        if not isinstance(entity, Insert) or depth > limit("import.block_depth"):
            return 1.0
        name = entity.dxf.name
        if name not in counted:
            counted[name] = 1.0
            counted[name] = sum(weight(inner, depth + 1) for inner in document.blocks.get(name) or ())
        return counted[name] * max(entity.mcount, 1)

    if sum(weight(entity, 0) for entity in entities) > limit("import.entities"):
        raise Unreadable("its blocks unfold to more lines than are read at once", "Save one storey at a time")


def _encoding(body: bytes) -> str:
    """Return how the file says it is written; releases before 2007 use code pages."""
    head = body[:4000].decode("ascii", "ignore")
    if "AC1021" in head or "AC1024" in head or "AC1027" in head or "AC1032" in head:
        return "utf-8"
    page = head.partition("ANSI_")[2][:4]
    return f"cp{page.strip()}" if page.strip().isdigit() else "cp1252"


def _units(document: Document, drawing: Drawing) -> None:
    code = int(document.header.get("$INSUNITS", 0))
    if code:
        try:
            drawing.metres_per_unit = float(units.conversion_factor(InsertUnits(code), InsertUnits.Meters))
            drawing.unit = units.unit_name(code).lower().replace("meters", "metres")
        except (ValueError, KeyError, TypeError):
            drawing.skip("unit", f"the header names unit {code}, which is not known")


def _take(entity: DXFEntity, drawing: Drawing, document: Document, depth: int) -> None:
    kind = entity.dxftype()
    try:
        if kind in _LINES:
            _curve(entity, drawing)
        elif kind in _WORDS:
            at = entity.dxf.insert
            words = entity.plain_text() if kind == "TEXT" else " ".join(entity.plain_text(split=True))  # type: ignore[attr-defined]
            drawing.text(entity.dxf.layer, float(at.x), -float(at.y), words)
        elif isinstance(entity, Insert):
            _insert(entity, drawing, document, depth)
        else:
            drawing.skip(kind.lower(), "this kind of entity holds no wall, door or name")
    except (DXFError, ValueError, ArithmeticError, AttributeError, TypeError) as error:
        drawing.skip(kind.lower(), f"it is broken: {str(error)[:60]}")


def _curve(entity: DXFEntity, drawing: Drawing) -> None:
    layer = entity.dxf.layer
    if entity.dxftype() == "LINE":
        a, b = entity.dxf.start, entity.dxf.end
        drawing.line(layer, float(a.x), -float(a.y), float(b.x), -float(b.y))
        return
    if entity.dxftype() == "ARC" and guess_role(layer) == "door":
        centre, radius = entity.dxf.center, float(entity.dxf.radius)
        turn = -float(Vec2.from_deg_angle(entity.dxf.start_angle).angle)
        drawing.mark(layer, "door swing", float(centre.x), -float(centre.y), radius, turn)
        return
    metric = (drawing.metres_per_unit or 0.001) > 0.2
    points = [(float(p.x), -float(p.y)) for p in path.make_path(entity).flattening(_SAG[metric])]
    drawing.path(layer, points)


def _insert(entity: Insert, drawing: Drawing, document: Document, depth: int) -> None:
    name = entity.dxf.name
    block = document.blocks.get(name)
    if block is None or block.block is None:
        drawing.skip(f"block {name}", "the file does not hold it")
        return
    if block.block.is_xref:
        drawing.skip(
            f"external drawing {name}", "it is a file of its own; send it too or bind it before saving"
        )
        return
    if depth >= limit("import.block_depth"):
        drawing.skip(f"block {name}", f"blocks are nested more than {limit('import.block_depth'):.0f} deep")
        return
    role = guess_role(name) or guess_role(entity.dxf.layer)
    if role in ("door", "window"):
        _door(entity, drawing, list(block))
        return
    for child in _children(entity):
        # What lies on layer 0 of a block takes the layer the block is put on.
        if child.dxf.get("layer", "0") == "0":
            child.dxf.layer = entity.dxf.layer
        _take(child, drawing, document, depth + 1)


def _children(entity: Insert) -> Iterator[DXFEntity]:
    inserts = entity.multi_insert() if entity.mcount > 1 else [entity]
    for one in inserts:
        yield from one.virtual_entities()


def _door(entity: Insert, drawing: Drawing, inside: list[Any]) -> None:
    """Add a door or window block as a mark: where it is put, how wide, along which line."""
    arcs = [float(e.dxf.radius) for e in inside if e.dxftype() == "ARC"]
    width = max(arcs) if arcs else _extent(inside)
    scale = abs(float(entity.dxf.get("xscale", 1.0)))
    at = entity.dxf.insert
    turn = -float(entity.dxf.get("rotation", 0.0)) * 3.141592653589793 / 180
    if entity.dxf.get("xscale", 1.0) < 0:
        turn += 3.141592653589793
    drawing.mark(entity.dxf.layer, entity.dxf.name, float(at.x), -float(at.y), width * scale, turn)


def _extent(inside: list[Any]) -> float:
    box = bbox.extents(inside, fast=True)
    return float(box.size.x) if box.has_data else 0.0
