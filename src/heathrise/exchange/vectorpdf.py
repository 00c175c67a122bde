"""Vector pages of a PDF in: every stroked or filled path by its pen, words, the size of the paper."""

import ctypes
from collections.abc import Callable, Iterator

import numpy as np
import pypdfium2 as pdfium
from pypdfium2 import raw

from heathrise.core.library import limit
from heathrise.core.site.drawing import Drawing
from heathrise.exchange.unreadable import LOCKED, Progress, Unreadable, quiet

_POINT_M = 0.0254 / 72
# A page with fewer lines than this is a scan with a frame round it.
FEWEST_LINES = 24
# Chords of a Bezier piece.
_CHORDS = 8
# Paper is white: what is filled with it hides, and draws nothing.
_WHITE = 250
Point = tuple[float, float]


def open_pdf(body: bytes, password: str = "") -> pdfium.PdfDocument:
    """Return an opened PDF. Raises Unreadable when it is damaged, or locked against reading without its password."""
    try:
        return pdfium.PdfDocument(body, password=password or None)
    except pdfium.PdfiumError as error:
        if "password" in str(error).lower():
            again = "The password that was given does not open it" if password else "Type its password"
            raise Unreadable(LOCKED, again) from error
        raise Unreadable(
            "the PDF cannot be opened: it is damaged", "Print the drawing to a new PDF and send that"
        ) from error


def read_vector_pdf(body: bytes, page: int = 1, progress: Progress = quiet, password: str = "") -> Drawing:
    """Return the strokes and words of one page as it is seen, y down, in points.

    Raises
    ------
    Unreadable
        If it is no PDF, is protected, or has no such page.
    """
    document = open_pdf(body, password)
    try:
        return _page(document, page, progress)
    except pdfium.PdfiumError as error:
        raise Unreadable(
            "the page cannot be read: it is damaged", "Print it to a new PDF and send that"
        ) from error
    finally:
        document.close()


def _page(document: pdfium.PdfDocument, page: int, progress: Progress) -> Drawing:
    if len(document) == 0:
        raise Unreadable("the PDF has no pages", "Print the drawing to a new PDF and send that")
    if not 1 <= page <= len(document):
        raise Unreadable(
            f"the PDF has {len(document)} pages; page {page} is not one of them", "Choose another page"
        )
    sheet = document[page - 1]
    width, height = sheet.get_size()
    drawing = Drawing(
        unit="points",
        pages=len(document),
        page_m=(width * _POINT_M, height * _POINT_M),
        paper_m_per_unit=_POINT_M,
    )
    upright = _upright(sheet)
    for number, item in enumerate(sheet.get_objects(filter=[raw.FPDF_PAGEOBJ_PATH], max_depth=8)):
        if number % 500 == 0:
            progress(min(0.6, 0.1 + number / 40_000), f"reading path {number}")
        if len(drawing.lines) > limit("import.entities"):
            raise Unreadable(
                f"the page holds more than {limit('import.entities'):,.0f} lines, the most",
                "Print it without hatches",
            )
        _path(item, drawing, upright)
    _words(sheet, drawing, upright)
    sheet.close()
    return drawing


Upright = Callable[[float, float], Point]


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
    layer = _layer(item)
    if layer is None:
        return
    matrix = item.get_matrix()
    holder = getattr(item, "container", None)
    while holder is not None:
        matrix = matrix.multiply(holder.get_matrix())
        holder = getattr(holder, "container", None)

    def seen(at: Point) -> Point:
        x, y = matrix.on_point(*at)
        return upright(float(x), float(y))

    for run in _runs(item):
        drawing.path(layer, [seen(at) for at in run])


def _runs(item: pdfium.PdfObject) -> Iterator[list[Point]]:
    """Yield a path's pieces as points: each way on from a move, curves by chords."""
    run: list[Point] = []
    bends: list[Point] = []
    for kind, at, close in _segments(item):
        if kind == raw.FPDF_SEGMENT_MOVETO:
            if len(run) > 1:
                yield run
            run = [at]
        elif kind == raw.FPDF_SEGMENT_BEZIERTO:
            # A Bezier comes as three points: two that pull, then its end.
            bends.append(at)
            if len(bends) == 3 and run:
                run += _bezier(run[-1], *bends)
                bends = []
        else:
            run.append(at)
        if close and len(run) > 1:
            yield [*run, run[0]] if run[0] != run[-1] else run
            run = [run[0]]
    if len(run) > 1:
        yield run


def _bezier(a: Point, b: Point, c: Point, d: Point) -> list[Point]:
    t = np.linspace(0, 1, _CHORDS + 1)[1:, None]
    points = np.array([a, b, c, d], float)
    at = (
        (1 - t) ** 3 * points[0]
        + 3 * (1 - t) ** 2 * t * points[1]
        + 3 * (1 - t) * t**2 * points[2]
        + t**3 * points[3]
    )
    return [(float(x), float(y)) for x, y in at]


def _segments(item: pdfium.PdfObject) -> Iterator[tuple[int, Point, bool]]:
    x, y = ctypes.c_float(), ctypes.c_float()
    for index in range(raw.FPDFPath_CountSegments(item)):
        segment = raw.FPDFPath_GetPathSegment(item, index)
        raw.FPDFPathSegment_GetPoint(segment, x, y)
        yield (
            raw.FPDFPathSegment_GetType(segment),
            (x.value, y.value),
            bool(raw.FPDFPathSegment_GetClose(segment)),
        )


def _layer(item: pdfium.PdfObject) -> str | None:
    """Return a name by the pen a path is drawn with: pages have no layers. None for what leaves no ink."""
    fill, stroke = ctypes.c_int(), ctypes.c_int()
    raw.FPDFPath_GetDrawMode(item, fill, stroke)
    if stroke.value:
        width = ctypes.c_float()
        raw.FPDFPageObj_GetStrokeWidth(item, width)
        scale = item.get_matrix()
        drawn = width.value * float(np.sqrt(abs(scale.a * scale.d - scale.b * scale.c)) or 1.0)
        colour = _colour(raw.FPDFPageObj_GetStrokeColor, item)
        dashed = " dashed" if raw.FPDFPageObj_GetDashCount(item) > 0 else ""
        return f"Pen {drawn:.2f} pt{'' if colour == '#000000' else ' ' + colour}{dashed}"
    if fill.value:
        colour = _colour(raw.FPDFPageObj_GetFillColor, item)
        return None if min(int(colour[n : n + 2], 16) for n in (1, 3, 5)) >= _WHITE else f"Filled {colour}"
    return None


def _colour(ask: Callable[..., int], item: pdfium.PdfObject) -> str:
    parts = [ctypes.c_uint() for _ in range(4)]
    ask(item, *parts)
    return "#" + "".join(f"{part.value:02x}" for part in parts[:3])


def _words(sheet: pdfium.PdfPage, drawing: Drawing, upright: Upright) -> None:
    page = sheet.get_textpage()
    for index in range(min(page.count_rects(), 5000)):
        left, bottom, right, top = page.get_rect(index)
        words = page.get_text_bounded(left, bottom, right, top)
        high = min(right - left, top - bottom)
        drawing.text("Words", *upright((left + right) / 2, (bottom + top) / 2), words, float(high))
    page.close()
