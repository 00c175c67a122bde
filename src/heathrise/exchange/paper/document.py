"""Words and tables on paper, page after page, in the family of the drawings: their typefaces, rules and foot."""

import io
from collections.abc import Sequence
from xml.sax.saxutils import escape

from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    CondPageBreak,
    Flowable,
    Frame,
    KeepTogether,
    LongTable,
    PageTemplate,
    Paragraph,
    Spacer,
    TableStyle,
)

from heathrise.exchange.paper.inks import INK, QUIET, RULE, faces
from heathrise.exchange.paper.sheets import EDGE_MM, FOOT_MM, Title, foot

A4_MM = (210.0, 297.0)
_AIR_MM = 6.0
# So much of a page is to be left under a heading.
_HEADED_MM = 26.0
_LEFT, _RIGHT = 0, 2

_TITLE = ParagraphStyle("title", fontName="text-bold", fontSize=19, leading=23, textColor=INK, spaceAfter=4)
_HEADING = ParagraphStyle(
    "heading", fontName="text-bold", fontSize=12, leading=15, textColor=INK, spaceBefore=9, spaceAfter=3
)
_WORDS = ParagraphStyle("words", fontName="text", fontSize=9.5, leading=13, textColor=INK, spaceAfter=3)
_QUIET = ParagraphStyle("quiet", parent=_WORDS, fontSize=8.5, leading=11, textColor=QUIET)
_STRONG = ParagraphStyle("strong", parent=_WORDS, fontName="text-bold")
_CELL = ParagraphStyle("cell", fontName="text", fontSize=8.2, leading=10, textColor=INK)
_FIGURE = ParagraphStyle("figure", parent=_CELL, fontName="figures", fontSize=8, alignment=_RIGHT)
_TOTAL = ParagraphStyle("total", parent=_CELL, fontName="text-bold")
_LARGE = ParagraphStyle("large", parent=_CELL, fontName="text-bold", fontSize=12, leading=15)
_LARGE_FIRST = ParagraphStyle("large-first", parent=_QUIET, fontSize=10.5, leading=15)
_TOTAL_FIGURE = ParagraphStyle("total-figure", parent=_FIGURE, fontName="text-bold")


def title(text: str) -> Flowable:
    """Return the name of a document."""
    faces()
    return Paragraph(escape(text), _TITLE)


def heading(text: str) -> Flowable:
    """Return the heading of a part; a document never leaves it alone at the foot of a page."""
    faces()
    return Paragraph(escape(text), _HEADING)


def words(text: str) -> Flowable:
    """Return a paragraph."""
    faces()
    return Paragraph(escape(text).replace("\n", "<br/>"), _WORDS)


def quiet(text: str) -> Flowable:
    """Return a paragraph of less weight."""
    faces()
    return Paragraph(escape(text).replace("\n", "<br/>"), _QUIET)


def strong(text: str) -> Flowable:
    """Return a paragraph that matters."""
    faces()
    return Paragraph(escape(text), _STRONG)


def gap(mm_: float) -> Flowable:
    """Return a space. [mm]"""
    return Spacer(1, mm_ * mm)


def together(parts: Sequence[Flowable]) -> Flowable:
    """Return parts that are not split over two pages, where a page holds them."""
    return KeepTogether(list(parts))


def grid(
    head: Sequence[str],
    rows: Sequence[Sequence[str]],
    shares: Sequence[float],
    figures: Sequence[int] = (),
    totals: int = 0,
    wide_mm: float = A4_MM[0],
    large: bool = False,
) -> Flowable:
    """Return a table, its head on every page. Columns in `figures` stand at the right; the last `totals` rows are sums, and a
    row of one cell is the heading of those below it. `large` is for reading at arm's length; no head is drawn where all
    of it is empty.
    """
    faces()
    room = (wide_mm - 2 * (EDGE_MM + _AIR_MM)) * mm
    last, headed = len(rows) - totals, any(head)

    def cell(n: int, at: int, text: str) -> Flowable:
        strong_row = n >= last or not any(rows[n][1:])
        if large:
            return Paragraph(escape(text), _LARGE if at else _LARGE_FIRST)
        plain, figure = (_TOTAL, _TOTAL_FIGURE) if strong_row else (_CELL, _FIGURE)
        return Paragraph(escape(text), figure if at in figures else plain)

    table = LongTable(
        [
            *([list(head)] if headed else []),
            *([cell(n, at, text) for at, text in enumerate(row)] for n, row in enumerate(rows)),
        ],
        colWidths=[room * share / sum(shares) for share in shares],
        repeatRows=1 if headed else 0,
    )
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, 0), "text-bold", 8.2),
                ("TEXTCOLOR", (0, 0), (-1, 0), INK),
                *(("ALIGN", (at, 0), (at, 0), "RIGHT") for at in figures),
                ("LINEBELOW", (0, 0), (-1, 0), 0.6, INK),
                ("LINEBELOW", (0, 1), (-1, -1), 0.25, RULE),
                *([("LINEABOVE", (0, last + 1), (-1, last + 1), 0.6, INK)] if totals else []),
                ("TOPPADDING", (0, 0), (-1, -1), 1.8),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1.8),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
                ("RIGHTPADDING", (0, 0), (-1, -1), 2),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ]
        )
    )
    return table


def _kept_with_next(part: Flowable) -> list[Flowable]:
    """Return a part; a heading with room asked for what comes after it, which may be a table of many pages."""
    is_heading = isinstance(part, Paragraph) and part.style is _HEADING
    return [CondPageBreak(_HEADED_MM * mm), part] if is_heading else [part]


def signed(names: Sequence[str]) -> Flowable:
    """Return lines to sign on, one a name."""
    faces()
    return together(
        [
            part
            for name in names
            for part in (gap(11), Paragraph("." * 96, _QUIET), Paragraph(escape(name), _QUIET))
        ]
    )


def write_document(foot_of: Title, story: Sequence[Flowable], size_mm: tuple[float, float] = A4_MM) -> bytes:
    """Return a document as PDF: its parts in the order given, the title block at the foot of every page."""
    faces()
    out = io.BytesIO()
    wide, tall = size_mm
    edge = EDGE_MM + _AIR_MM

    def drawn(canvas: Canvas, document: BaseDocTemplate) -> None:
        foot(canvas, size_mm, foot_of, "")
        canvas.setFont("figures", 7)
        canvas.setFillColor(QUIET)
        canvas.drawRightString(
            (wide - EDGE_MM - 2) * mm, (tall - EDGE_MM + 1.6) * mm, f"page {document.page}"
        )

    frame = Frame(
        edge * mm,
        (EDGE_MM + FOOT_MM + 3) * mm,
        (wide - 2 * edge) * mm,
        (tall - 2 * EDGE_MM - FOOT_MM - 3 - _AIR_MM) * mm,
        0,
        0,
        0,
        0,
    )
    document = BaseDocTemplate(
        out, pagesize=(wide * mm, tall * mm), title=f"{foot_of.job}: {foot_of.drawing}", creator="Heathrise"
    )
    document.addPageTemplates([PageTemplate(frames=[frame], onPage=drawn)])
    document.build([part for one in story for part in _kept_with_next(one)])
    return out.getvalue()
