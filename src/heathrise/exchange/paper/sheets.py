"""Drawings on paper as PDF: vectors at a true scale on A4 to A1, a title with job, storey, scale, north and date."""

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, cast
from xml.sax.saxutils import escape

from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas
from reportlab.platypus import Flowable, LongTable, Paragraph, TableStyle

from heathrise.core.job import Job
from heathrise.exchange.paper.drawn import LAYERS, XY, Drawn, Fill, Legend, Sign, Words
from heathrise.exchange.paper.inks import INK, QUIET, RULE, faces
from heathrise.exchange.paper.placing import Box, beside, placed, within

PaperName = Literal["A4", "A3", "A2", "A1"]
# Landscape. [mm]
PAPERS: dict[str, tuple[float, float]] = {
    "A4": (297, 210),
    "A3": (420, 297),
    "A2": (594, 420),
    "A1": (841, 594),
}
SCALES = (5, 10, 20, 25, 50, 75, 100, 150, 200, 250, 500, 1000, 2000, 5000)
EDGE_MM, FOOT_MM, _AIR_MM = 10.0, 20.0, 6.0
_SIGN_MM = 1.8


@dataclass(frozen=True)
class Title:
    """What stands in the foot of every sheet."""

    job: str
    drawing: str
    revision: int
    day: str
    practice: str
    caution: str


_CAUTION = "Computed from the plan: measure on site before cutting. Local codes stand above it."


def titled(job: Job, drawing: str, revision: int) -> Title:
    """Return the title of a drawing of a job, of today."""
    return Title(
        job=job.name,
        drawing=drawing,
        revision=revision,
        day=date.today().isoformat(),
        practice=job.practice.label,
        caution=_CAUTION,
    )


@dataclass(frozen=True)
class Page:
    """One drawing with its title; what is not to scale is made to fit."""

    title: Title
    drawn: Drawn
    to_scale: bool = True


@dataclass(frozen=True)
class TablePage:
    """A table with its title, on as many sheets as it takes. `shares` are the widths of its columns, beside each other."""

    title: Title
    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    shares: tuple[float, ...]


def scale_for(drawings: Sequence[Drawn], paper: str) -> int:
    """Return the finest scale at which every drawing fits a paper, of one of no drawing 1:100."""
    if not drawings:
        return 100
    wide, tall = PAPERS[paper]
    room = wide - 2 * (EDGE_MM + _AIR_MM), tall - 2 * (EDGE_MM + _AIR_MM) - FOOT_MM
    for scale in SCALES:
        if all(_fits(drawn, room, scale) for drawn in drawings):
            return scale
    largest = max(max(_size(d)[0] / room[0], _size(d)[1] / room[1]) for d in drawings)
    return math.ceil(largest) * 1000


def _size(drawn: Drawn) -> XY:
    x0, y0, x1, y1 = drawn.box
    return x1 - x0, y1 - y0


def _fits(drawn: Drawn, room: XY, scale: int) -> bool:
    wide, tall = _size(drawn)
    return wide * 1000 / scale <= room[0] and tall * 1000 / scale <= room[1]


def write_pdf(pages: Sequence[Page], tables: Sequence[TablePage], paper: PaperName, name: str) -> bytes:
    """Return drawings at one scale, then tables, as one PDF."""
    faces()
    out = io.BytesIO()
    wide, tall = PAPERS[paper]
    canvas = Canvas(out, pagesize=(wide * mm, tall * mm), pageCompression=1)
    canvas.setTitle(name)
    canvas.setCreator("Heathrise")
    scale = scale_for([page.drawn for page in pages if page.to_scale], paper)
    for page in pages:
        _Sheet(canvas, (wide, tall), scale if page.to_scale else scale_for([page.drawn], paper)).draw(page)
        canvas.showPage()
    for table in tables:
        _table(canvas, (wide, tall), table)
    if not pages and not tables:
        canvas.showPage()
    canvas.save()
    return out.getvalue()


class _Sheet:
    """One sheet of paper that a drawing is put on, in its middle. Metres of the drawing turn to points of the paper."""

    def __init__(self, canvas: Canvas, size_mm: XY, scale: int):
        self.canvas, self.size_mm, self.scale = canvas, size_mm, scale
        self.point_m = 1000 / scale * mm
        self.origin = (0.0, 0.0)

    def draw(self, page: Page) -> None:
        """Draw a page: lines below signs, words on top."""
        x0, y0, x1, y1 = page.drawn.box
        wide, tall = self.size_mm
        middle = (wide / 2 * mm, (tall + FOOT_MM) / 2 * mm)
        self.origin = (middle[0] - (x0 + x1) / 2 * self.point_m, middle[1] + (y0 + y1) / 2 * self.point_m)
        for fill in page.drawn.fills:
            self._fill(fill)
        for stroke in page.drawn.strokes:
            self._stroke(stroke.layer, stroke.points, stroke.closed, stroke.many)
        for sign in page.drawn.signs:
            self._sign(sign.layer, self._at(sign.at), sign.sign)
        self._lettered(page.drawn.words, page.drawn.signs)
        foot(self.canvas, self.size_mm, page.title, f"1:{self.scale}" if page.to_scale else "")
        if page.to_scale:
            self._bar()
        if page.drawn.legend:
            self._legend(page.drawn.legend)

    def _at(self, place: XY) -> XY:
        return self.origin[0] + place[0] * self.point_m, self.origin[1] - place[1] * self.point_m

    def _stroke(self, layer: str, points: Sequence[XY], closed: bool, many: int) -> None:
        style = LAYERS[layer]
        self.canvas.setStrokeColor(style.ink)
        # A road is as wide as what lies in it, up to a hand's breadth of ink.
        self.canvas.setLineWidth((style.width_mm + 0.06 * min(many - 1, 20)) * mm)
        self.canvas.setDash([dash * mm for dash in style.dashes_mm])
        self.canvas.setLineJoin(1)
        path = self.canvas.beginPath()
        for n, place in enumerate(map(self._at, points)):
            (path.lineTo if n else path.moveTo)(*place)
        if closed:
            path.close()
        self.canvas.drawPath(path)
        self.canvas.setDash([])

    def _fill(self, fill: Fill) -> None:
        path = self.canvas.beginPath()
        for ring in fill.rings:
            for n, place in enumerate(map(self._at, ring)):
                (path.lineTo if n else path.moveTo)(*place)
            path.close()
        self.canvas.setFillColor(fill.ink)
        self.canvas.drawPath(path, stroke=0, fill=1, fillMode=FILL_EVEN_ODD)

    def _legend(self, legend: Legend) -> None:
        """Draw what the tints mean, above the foot at the right: the tints in a row, the figures between them."""
        step, high = 11 * mm, 3 * mm
        wide = step * len(legend.inks)
        x, y = self.size_mm[0] * mm - EDGE_MM * mm - 4 * mm - wide, (EDGE_MM + FOOT_MM + 7) * mm
        self.canvas.setFillColor("#FFFFFF")
        self.canvas.rect(x - 2 * mm, y - 4.6 * mm, wide + 4 * mm, high + 9 * mm, stroke=0, fill=1)
        self.canvas.setStrokeColor(INK)
        self.canvas.setLineWidth(0.15 * mm)
        for n, ink in enumerate(legend.inks):
            self.canvas.setFillColor(ink)
            self.canvas.rect(x + n * step, y, step, high, stroke=1, fill=1)
        self.canvas.setFillColor(INK)
        self.canvas.setFont("figures", 6.5)
        for n, figure in enumerate(legend.figures, start=1):
            self.canvas.drawCentredString(x + n * step, y - 3 * mm, figure)
        _line(self.canvas, "text", 7.5, INK, (x, y + high + 1.4 * mm), legend.words, wide)

    def _sign(self, layer: str, at: XY, sign: str) -> None:
        style, r = LAYERS[layer], _SIGN_MM * mm
        canvas, (x, y) = self.canvas, at
        canvas.setStrokeColor(style.ink)
        canvas.setFillColor("#FFFFFF")
        canvas.setLineWidth(style.width_mm * mm)
        if sign == "hole":
            for dx, dy in ((r, r), (r, -r)):
                canvas.line(x - dx * 0.6, y - dy * 0.6, x + dx * 0.6, y + dy * 0.6)
            return
        path = canvas.beginPath()
        for n, (dx, dy) in enumerate(_SHAPES[sign]):
            (path.lineTo if n else path.moveTo)(x + dx * r, y + dy * r)
        path.close()
        canvas.drawPath(path, fill=1)

    def _lettered(self, words: Sequence[Words], signs: Sequence[Sign]) -> None:
        """Put words where they are free: those of things first, then names of spaces, then figures on lines."""
        ordered = sorted(words, key=lambda one: (one.small, one.layer == "HR-NAME"))
        r = _SIGN_MM * mm
        taken = [
            Box(x - r, y - r, 2 * r, 2 * r) for x, y in (self._at(s.at) for s in signs if s.sign != "hole")
        ]
        choices = []
        for one in ordered:
            font, size = _letters(one)
            wide, (x, y) = pdfmetrics.stringWidth(one.text, font, size), self._at(one.at)
            name = one.layer == "HR-NAME"
            off = 0.6 * mm if one.small else r + 0.6 * mm
            choices.append(within(x, y, wide, size) if name else beside(x, y, wide, size, off))
        for one, box in zip(ordered, placed(choices, taken), strict=True):
            self._words(one, box)

    def _words(self, words: Words, box: Box) -> None:
        canvas = self.canvas
        # A halo of paper keeps words legible over lines.
        canvas.setFillColor("#FFFFFF")
        canvas.setFillAlpha(0.8)
        canvas.rect(box.x - 0.5, box.y, box.wide + 1, box.high, stroke=0, fill=1)
        canvas.setFillAlpha(1)
        canvas.setFont(*_letters(words))
        canvas.setFillColor(LAYERS[words.layer].ink)
        canvas.drawString(box.x, box.y + 0.2 * box.high, words.text)

    def _bar(self) -> None:
        """Draw a bar of whole metres, of some 30 mm, so that a copy of a copy can still be measured."""
        step = next(
            (m for m in (0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200) if m * 1000 / self.scale >= 20), 500
        )
        x, y, long = (EDGE_MM + 4) * mm, (EDGE_MM + FOOT_MM + 4) * mm, step * self.point_m
        self.canvas.setStrokeColor(INK)
        self.canvas.setFillColor(INK)
        self.canvas.setLineWidth(0.3 * mm)
        self.canvas.rect(x, y, long / 2, 1.2 * mm, stroke=1, fill=1)
        self.canvas.rect(x + long / 2, y, long / 2, 1.2 * mm, stroke=1, fill=0)
        self.canvas.setFont("figures", 6.5)
        self.canvas.drawString(x + long + 1.5 * mm, y, f"{step} m")


def _letters(words: Words) -> tuple[str, float]:
    """Return the face and the size words are set in."""
    if words.small:
        return "figures", 6.0
    return ("text", 7.0) if words.layer == "HR-NAME" else ("text-bold", 7.0)


_SHAPES: dict[str, tuple[XY, ...]] = {
    "point": ((0, 1), (0.95, -0.8), (-0.95, -0.8)),
    "device": ((-0.75, 0.75), (0.75, 0.75), (0.75, -0.75), (-0.75, -0.75)),
    "rack": ((-0.8, 1.1), (0.8, 1.1), (0.8, -1.1), (-0.8, -1.1)),
    "riser": ((0, 1.2), (0.9, 0), (0, -1.2), (-0.9, 0)),
}


def foot(canvas: Canvas, size_mm: XY, title: Title, scale: str) -> None:
    """Draw the frame of a sheet and its title."""
    wide, tall = size_mm
    edge, foot = EDGE_MM * mm, FOOT_MM * mm
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.35 * mm)
    canvas.rect(edge, edge, wide * mm - 2 * edge, tall * mm - 2 * edge)
    canvas.line(edge, edge + foot, wide * mm - edge, edge + foot)
    columns = (0.0, 0.4, 0.62, 0.74, 1.0)
    across = wide * mm - 2 * edge
    for share in columns[1:-1]:
        canvas.setLineWidth(0.15 * mm)
        canvas.line(edge + share * across, edge, edge + share * across, edge + foot)
    cells = (
        (title.job, title.drawing),
        (f"Revision {title.revision}" if title.revision else "", title.day),
        (scale, "north is up" if scale else ""),
        (title.practice, title.caution),
    )
    for (first, second), left, right in zip(cells, columns, columns[1:], strict=False):
        x, room = edge + left * across + 2.5 * mm, (right - left) * across - 5 * mm
        _line(canvas, "text-bold", 10, INK, (x, edge + foot - 7.5 * mm), first, room)
        _small(canvas, (x, edge + 5 * mm), second, room)


def _line(canvas: Canvas, font: str, size: float, ink: str, at: XY, text: str, room: float) -> None:
    """Draw a line of words, smaller where it would be wider than its room."""
    wide = pdfmetrics.stringWidth(text, font, size)
    fitted = size if wide <= room else size * room / wide
    canvas.setFont(font, fitted)
    canvas.setFillColor(ink)
    canvas.drawString(*at, text)


def _small(canvas: Canvas, at: XY, text: str, room: float) -> None:
    """Draw quiet words in one line, in two smaller ones where one would be too small to read."""
    if pdfmetrics.stringWidth(text, "text", 7.5) <= room * 1.15:
        _line(canvas, "text", 7.5, QUIET, at, text, room)
        return
    lines = simpleSplit(text, "text", 6.2, room)
    for n, line in enumerate(lines[:4]):
        _line(canvas, "text", 6.2, QUIET, (at[0], at[1] + (2.6 - 2.5 * n) * mm), line, room)


def _table(canvas: Canvas, size_mm: XY, page: TablePage) -> None:
    """Draw a table over as many sheets as it takes, its head on each."""
    wide, tall = size_mm
    room = ((wide - 2 * EDGE_MM - 8) * mm, (tall - 2 * EDGE_MM - FOOT_MM - 8) * mm)
    whole = sum(page.shares)
    cells = ParagraphStyle("cell", fontName="text", fontSize=7.5, leading=9.2, textColor=INK)
    widths = [room[0] * share / whole for share in page.shares]

    def cell(text: str, width: float) -> str | Paragraph:
        """Return a cell: plain text where it fits its column, which is most of the time, else words that break."""
        fits = pdfmetrics.stringWidth(text, "text", 7.5) <= width - 4
        return text if fits and "\n" not in text else Paragraph(escape(text), cells)

    rows = ([cell(*one) for one in zip(row, widths, strict=True)] for row in page.rows)
    table = LongTable([list(page.head), *rows], colWidths=widths, repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 1), (-1, -1), "text", 7.5, 9.2),
                ("FONT", (0, 0), (-1, 0), "text-bold", 7.5),
                ("TEXTCOLOR", (0, 0), (-1, -1), INK),
                ("LINEBELOW", (0, 0), (-1, 0), 0.6, INK),
                ("LINEBELOW", (0, 1), (-1, -1), 0.25, RULE),
                ("TOPPADDING", (0, 0), (-1, -1), 1.6),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1.6),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
                ("RIGHTPADDING", (0, 0), (-1, -1), 2),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ]
        )
    )
    rest: list[Flowable] = [table]
    while rest:
        part, *rest = [*cast(list[Flowable], rest[0].splitOn(canvas, *room)), *rest[1:]]
        _, high = part.wrapOn(canvas, *room)
        part.drawOn(canvas, (EDGE_MM + 4) * mm, (tall - EDGE_MM - 4) * mm - high)
        foot(canvas, size_mm, page.title, "")
        canvas.showPage()
