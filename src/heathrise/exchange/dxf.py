"""CAD drawings (DXF) in: lines, arcs, doors from blocks, words, measured lengths, layers, units."""

import io
from collections.abc import Callable, Iterable, Iterator
from itertools import pairwise
from typing import Any

import numpy as np
from ezdxf import bbox, path, recover, units
from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.insert import Insert
from ezdxf.enums import InsertUnits
from ezdxf.filemanagement import read
from ezdxf.layouts.base import BaseLayout
from ezdxf.lldxf.const import DXFError
from ezdxf.lldxf.encoding import decode_dxf_unicode, decode_mif_to_unicode, has_dxf_unicode, has_mif_encoding

from heathrise.core.library import limit
from heathrise.core.site.drawing import Drawing, arc_between
from heathrise.core.site.roles import guess_role
from heathrise.exchange.unreadable import Progress, Unreadable, quiet

_CURVES = {"LWPOLYLINE", "POLYLINE", "ELLIPSE", "SPLINE"}
_FACES = {"SOLID", "TRACE", "3DFACE"}
# Curves become chords that leave the curve by no more than this share of their extent.
_SAG_SHARE = 0.002
_INVISIBLE = "it is on a layer that is frozen or switched off"


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
    space = _space(document, drawing)
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
    reader = _Reader(document, drawing)
    for number, entity in enumerate(space):
        if number % 500 == 0:
            progress(0.3 + 0.4 * number / max(total, 1), f"reading entity {number} of {total}")
        reader.take(entity, ())
    return drawing


def _open(body: bytes) -> Document:
    try:
        text = body.decode(_encoding(body))
        return read(io.StringIO(text.replace("\r\n", "\n")))
    except (
        DXFError,
        UnicodeDecodeError,
        ValueError,
        IndexError,
        KeyError,
        TypeError,
        AttributeError,
        LookupError,
    ):
        pass
    try:
        document, _ = recover.read(io.BytesIO(body), errors="ignore")
    except Exception as error:  # the recovery reader lets all sorts through; none of it is ours
        raise Unreadable(
            f"the file is no DXF drawing, or is cut off: {str(error)[:120]}",
            "Save it again as DXF and send that",
        ) from error
    return document


def _space(document: Document, drawing: Drawing) -> BaseLayout:
    """Return the model; a drawing whose model is empty is drawn on its fullest sheet."""
    model = document.modelspace()
    sheets = [layout for layout in document.layouts if layout.is_any_paperspace and len(layout) > len(model)]
    if len(model) or not sheets:
        for sheet in sheets:
            drawing.skip(f"sheet {sheet.name}", "the model is read; a sheet only shows it")
        return model
    return max(sheets, key=len)


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

    lines, most = sum(weight(entity, 0) for entity in entities), limit("import.entities")
    if lines > most:
        raise Unreadable(
            f"its blocks unfold to {lines:,.0f} lines; {most:,.0f} is the most", "Save one storey at a time"
        )


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


def _unescaped(words: str) -> str:
    """Return words with characters that older files write as codes."""
    if has_dxf_unicode(words):
        words = decode_dxf_unicode(words)
    return decode_mif_to_unicode(words) if has_mif_encoding(words) else words


# Names of the blocks an entity lies in, outermost first.
Inside = tuple[str, ...]


class _Reader:
    """Takes entities into a drawing."""

    def __init__(self, document: Document, drawing: Drawing):
        self.document = document
        self.drawing = drawing
        self.hidden = {
            layer.dxf.name.casefold() for layer in document.layers if layer.is_frozen() or layer.is_off()
        }
        self.takes: dict[str, Callable[[Any, Inside], None]] = {
            "LINE": self._line,
            "ARC": self._arc,
            "CIRCLE": self._circle,
            "TEXT": self._text,
            "ATTRIB": self._text,
            "MTEXT": self._mtext,
            "DIMENSION": self._dimension,
            "MLINE": self._parts,
            **dict.fromkeys(_CURVES, self._curve),
            **dict.fromkeys(_FACES, self._face),
            "HATCH": self._hatch,
        }

    def take(self, entity: DXFEntity, inside: Inside) -> None:
        """Add one entity, with what is in it when it is a block."""
        kind = entity.dxftype()
        layer = str(entity.dxf.get("layer", "0"))
        try:
            if layer.casefold() in self.hidden or entity.dxf.get("invisible", 0):
                self.drawing.skip(f"{kind.lower()} on {layer}", _INVISIBLE)
            elif isinstance(entity, Insert):
                self._insert(entity, inside)
            elif kind in self.takes:
                self.takes[kind](entity, inside)
            else:
                self.drawing.skip(kind.lower(), "this kind of entity holds no wall, door or name")
        except (DXFError, ValueError, ArithmeticError, AttributeError, TypeError, IndexError) as error:
            self.drawing.skip(kind.lower(), f"it is broken: {str(error)[:60]}")

    def _line(self, line: Any, _inside: Inside) -> None:
        a, b = line.dxf.start, line.dxf.end
        self.drawing.line(line.dxf.layer, float(a.x), -float(a.y), float(b.x), -float(b.y))

    def _arc(self, arc: Any, _inside: Inside) -> None:
        centre, way = arc.ocs().to_wcs(arc.dxf.center), 1 if arc.dxf.extrusion.z >= 0 else -1
        start, stop = np.radians(arc.dxf.start_angle), np.radians(arc.dxf.end_angle)
        turn = (stop - start) % (2 * np.pi) or 2 * np.pi
        if way < 0:
            start, turn = np.pi - start, -turn
        made = arc_between(
            float(centre.x), -float(centre.y), float(arc.dxf.radius), float(-start), float(-turn)
        )
        self.drawing.arc(arc.dxf.layer, made)

    def _circle(self, circle: Any, _inside: Inside) -> None:
        centre = circle.ocs().to_wcs(circle.dxf.center)
        made = arc_between(float(centre.x), -float(centre.y), float(circle.dxf.radius), 0.0, float(2 * np.pi))
        self.drawing.arc(circle.dxf.layer, made)

    def _curve(self, curve: Any, inside: Inside) -> None:
        if curve.dxftype() in ("LWPOLYLINE", "POLYLINE"):
            name = "const_width" if curve.dxftype() == "LWPOLYLINE" else "default_start_width"
            wide = float(curve.dxf.get(name, 0) or 0)
            if wide > 0:
                self._wide(curve, wide)
                return
            for piece in curve.virtual_entities():
                piece.dxf.layer = curve.dxf.layer
                self.take(piece, inside)
            return
        made = path.make_path(curve)
        box = bbox.extents([curve], fast=True)
        sag = max(float(max(box.size.x, box.size.y)) * _SAG_SHARE, 1e-9)
        self.drawing.path(curve.dxf.layer, [(float(p.x), -float(p.y)) for p in made.flattening(sag)])

    def _wide(self, curve: Any, wide: float) -> None:
        """Add a line drawn with a width as its two faces."""
        points = np.array([(float(p.x), -float(p.y)) for p in path.make_path(curve).flattening(wide)])
        for a, b in pairwise(points):
            long = float(np.hypot(*(b - a)))
            if long > 0:
                off = np.array([-(b - a)[1], (b - a)[0]]) / long * wide / 2
                for side in (off, -off):
                    self.drawing.line(curve.dxf.layer, *(a + side).tolist(), *(b + side).tolist())

    def _face(self, face: Any, _inside: Inside) -> None:
        corners = face.wcs_vertices()
        self.drawing.path(face.dxf.layer, [(float(p.x), -float(p.y)) for p in corners], closed=True)

    def _hatch(self, hatch: Any, _inside: Inside) -> None:
        if not hatch.dxf.get("solid_fill", 0):
            self.drawing.skip("hatch", "a pattern; the lines round it are read")
            return
        for edge in path.from_hatch(hatch):
            box = path.bbox([edge], fast=True)
            sag = max(float(max(box.size.x, box.size.y)) * _SAG_SHARE, 1e-9)
            points = [(float(p.x), -float(p.y)) for p in edge.flattening(sag)]
            self.drawing.path(hatch.dxf.layer, points, closed=True)

    def _parts(self, entity: Any, inside: Inside) -> None:
        for piece in entity.virtual_entities():
            piece.dxf.layer = entity.dxf.layer
            self.take(piece, inside)

    def _text(self, text: Any, _inside: Inside) -> None:
        _, at, other = text.get_placement()
        words = _unescaped(text.plain_text())
        high = float(text.dxf.get("height", 0.0))
        place = at
        if text.get_align_enum().name == "LEFT":
            # Words begin where they are put; their middle is what lies in a room.
            turn = np.radians(float(text.dxf.get("rotation", 0.0)))
            far = 0.33 * high * len(words)
            x, y = float(at.x) + far * np.cos(turn), float(at.y) + far * np.sin(turn)
        else:
            place = other if other is not None else at
            x, y = float(place.x), float(place.y)
        self.drawing.text(text.dxf.layer, float(x), -float(y), words, high)

    def _mtext(self, text: Any, _inside: Inside) -> None:
        at, high = text.dxf.insert, float(text.dxf.get("char_height", 0.0))
        lines = [_unescaped(line) for line in text.plain_text(split=True) if line.strip()]
        # Attachment 1 to 3 hang down from the place, 7 to 9 stand on it; columns left, middle, right.
        attach = int(text.dxf.get("attachment_point", 1))
        wide = 0.33 * high * max((len(line) for line in lines), default=0)
        x = float(at.x) + {1: wide, 2: 0.0, 0: -wide}[attach % 3]
        top = {0: 0.0, 1: 0.5 * len(lines), 2: float(len(lines))}[(attach - 1) // 3]
        for row, line in enumerate(lines):
            y = float(at.y) + (top - row - 0.5) * 1.6 * high
            self.drawing.text(text.dxf.layer, x, -y, line, high)

    def _dimension(self, dimension: Any, _inside: Inside) -> None:
        a, b = dimension.dxf.get("defpoint2"), dimension.dxf.get("defpoint3")
        words = _unescaped(str(dimension.dxf.get("text", "") or ""))
        if a is None or b is None or int(dimension.dxf.dimtype) & 7 > 1:
            self.drawing.skip("dimension", "it measures no straight length")
            return
        if words in ("", "<>", " "):
            self.drawing.skip("dimension", "it has no words of its own; its length is the drawing's")
            return
        self.drawing.measure(float(a.x), -float(a.y), float(b.x), -float(b.y), words)

    def _insert(self, insert: Insert, inside: Inside) -> None:
        name = insert.dxf.name
        block = self.document.blocks.get(name)
        for attrib in insert.attribs:
            if not attrib.is_invisible:
                self._text(attrib, inside)
        if block is None or block.block is None:
            self.drawing.skip(f"block {name}", "the file does not hold it")
            return
        if block.block.is_xref:
            self.drawing.skip(
                f"external drawing {name}", "it is a file of its own; send it too or bind it before saving"
            )
            return
        if name in inside:
            self.drawing.skip(f"block {name}", "it holds itself")
            return
        if len(inside) >= limit("import.block_depth"):
            self.drawing.skip(
                f"block {name}", f"blocks are nested more than {limit('import.block_depth'):.0f} deep"
            )
            return
        role = guess_role(name) or guess_role(insert.dxf.layer)
        parts = list(block)
        if role == "window" or (role == "door" and not _swings(parts)):
            self._mark(insert, parts)
            return
        for child in self._children(insert):
            # What lies on layer 0 of a block takes the layer the block is put on.
            if child.dxf.get("layer", "0") == "0":
                child.dxf.layer = insert.dxf.layer
            if role == "door":
                child.dxf.layer = insert.dxf.layer if guess_role(insert.dxf.layer) == "door" else name
            self.take(child, (*inside, name))

    def _children(self, insert: Insert) -> Iterator[DXFEntity]:
        inserts = insert.multi_insert() if insert.mcount > 1 else [insert]
        for one in inserts:
            yield from one.virtual_entities()

    def _mark(self, insert: Insert, parts: list[Any]) -> None:
        """Add a door or window block as a mark along its longer side, where its lines lie."""
        name, layer = insert.dxf.name, insert.dxf.layer
        box = bbox.extents(
            [e for e in parts if e.dxftype() not in ("TEXT", "MTEXT", "ATTDEF", "ATTRIB")], fast=True
        )
        if not box.has_data:
            return
        low, size = box.extmin, box.size
        middle = (low.y + size.y / 2, low.x + size.x / 2)
        ends = (
            [(low.x, middle[0], 0), (low.x + size.x, middle[0], 0)]
            if size.x >= size.y
            else [(middle[1], low.y, 0), (middle[1], low.y + size.y, 0)]
        )
        a, b = insert.matrix44().transform_vertices(ends)
        span = np.array([float(b.x - a.x), -float(b.y - a.y)])
        turn = float(np.arctan2(span[1], span[0]))
        self.drawing.mark(layer, name, float(a.x), -float(a.y), float(np.hypot(*span)), turn)


def _swings(parts: Iterable[Any]) -> bool:
    """Say whether a block draws the swing of a leaf, which tells more than its box."""
    return any(e.dxftype() == "ARC" or (e.dxftype() == "LWPOLYLINE" and e.has_arc) for e in parts)
