"""Vector pages of a PDF in: every stroked or filled path as lines, words, and the printed scale."""

import ctypes
import re
from collections.abc import Callable, Iterator

import pypdfium2 as pdfium
from pypdfium2 import raw

from heathrise.core.library import limit
from heathrise.core.site.sketch import Drawing
from heathrise.exchange.unreadable import Progress, Unreadable, quiet

_POINT_M = 0.0254 / 72
_SCALE = re.compile(r"\b1\s*[:/]\s*(20|25|50|75|100|125|150|200|250|500)\b")
# A page with fewer lines than this is a scan with a frame round it.
FEWEST_LINES = 24


def read_vector_pdf(body: bytes, page: int = 1, progress: Progress = quiet) -> Drawing:
    """Return the lines and words of one page, y down, in points.

    `metres_per_unit` is set when the page says at which scale it was printed.

    Raises
    ------
    Unreadable
        If it is no PDF, is protected, or has no such page.
    """
    try:
        document = pdfium.PdfDocument(body)
    except pdfium.PdfiumError as error:
        raise Unreadable(
            "the PDF cannot be opened: it is damaged or protected by a password",
            "Print it to a new PDF and send that",
        ) from error
    try:
        return _page(document, page, progress)
    except pdfium.PdfiumError as error:
        raise Unreadable(
            "the page cannot be read: it is damaged", "Print it to a new PDF and send that"
        ) from error
    finally:
        document.close()


def _page(document: pdfium.PdfDocument, page: int, progress: Progress) -> Drawing:
    if not 1 <= page <= len(document):
        raise Unreadable(
            f"the PDF has {len(document)} pages; page {page} is not one of them", "Choose another page"
        )
    sheet = document[page - 1]
    drawing = Drawing(unit="points", layered=False, pages=len(document))
    upright = _upright(sheet)
    for number, item in enumerate(sheet.get_objects(filter=[raw.FPDF_PAGEOBJ_PATH], max_depth=8)):
        if number % 500 == 0:
            progress(min(0.6, 0.1 + number / 40_000), f"reading path {number}")
        if len(drawing.lines) > limit("import.entities"):
            raise Unreadable("the page holds more lines than are read at once", "Print it without hatches")
        _path(item, drawing, upright)
    _words(sheet, drawing, upright)
    sheet.close()
    return drawing


Upright = Callable[[float, float], tuple[float, float]]


def _upright(sheet: pdfium.PdfPage) -> Upright:
    """Return what takes a place of the page, turned as it may be, to where it is seen, y down.

    Source: ISO 32000-1, 7.7.3.3: a page is shown turned clockwise by its Rotate.
    """
    left, bottom, right, top = sheet.get_mediabox()
    return {
        0: lambda x, y: (x - left, top - y),
        90: lambda x, y: (y - bottom, x - left),
        180: lambda x, y: (right - x, y - bottom),
        270: lambda x, y: (top - y, right - x),
    }[sheet.get_rotation() % 360]


def _path(item: pdfium.PdfObject, drawing: Drawing, upright: Upright) -> None:
    matrix = item.get_matrix()
    layer = _layer(item)
    start = here = (0.0, 0.0)
    for kind, at, close in _segments(item):
        x, y = matrix.on_point(*at)
        point = upright(float(x), float(y))
        if kind == raw.FPDF_SEGMENT_MOVETO:
            start = point
        else:
            # A Bezier comes as three points; its chords through them are close enough for a wall.
            drawing.line(layer, *here, *point)
        here = point
        if close:
            drawing.line(layer, *here, *start)
            here = start


def _segments(item: pdfium.PdfObject) -> Iterator[tuple[int, tuple[float, float], bool]]:
    x, y = ctypes.c_float(), ctypes.c_float()
    for index in range(raw.FPDFPath_CountSegments(item)):
        segment = raw.FPDFPath_GetPathSegment(item, index)
        raw.FPDFPathSegment_GetPoint(segment, x, y)
        yield (
            raw.FPDFPathSegment_GetType(segment),
            (x.value, y.value),
            bool(raw.FPDFPathSegment_GetClose(segment)),
        )


def _layer(item: pdfium.PdfObject) -> str:
    """Return a name by how a path is drawn: pages have no layers, but pens differ."""
    fill, stroke = ctypes.c_int(), ctypes.c_int()
    raw.FPDFPath_GetDrawMode(item, fill, stroke)
    if fill.value and not stroke.value:
        return "Filled shapes"
    width = ctypes.c_float()
    raw.FPDFPageObj_GetStrokeWidth(item, width)
    return f"Lines {width.value:.2f} pt"


def _words(sheet: pdfium.PdfPage, drawing: Drawing, upright: Upright) -> None:
    page = sheet.get_textpage()
    everything = page.get_text_range()
    for index in range(min(page.count_rects(), 5000)):
        left, bottom, right, top = page.get_rect(index)
        words = page.get_text_bounded(left, bottom, right, top)
        drawing.text("Words", *upright((left + right) / 2, (bottom + top) / 2), words)
    page.close()
    found = _SCALE.search(everything)
    if found:
        drawing.metres_per_unit = _POINT_M * int(found[1])
        drawing.unit = f"points, printed 1:{found[1]}"
