"""The papers of the crew: pull sheet, labels, mounting sheets, how ends are made, bench sheet. Held at arm's length."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable

from heathrise.core.fitting.ends import EndGuide
from heathrise.core.fitting.mounting import MountSheet
from heathrise.core.fitting.tasks import Task
from heathrise.core.network.runbook import RunBook
from heathrise.core.units import plain
from heathrise.exchange.paper.codes import code
from heathrise.exchange.paper.document import (
    gap,
    grid,
    heading,
    quiet,
    strong,
    title,
    together,
    words,
    write_document,
)
from heathrise.exchange.paper.inks import INK, QUIET, RULE, faces
from heathrise.exchange.paper.sheets import Title

_LANDSCAPE = (297.0, 210.0)
# The wires of a pair cable, as they are made; each is named beside its colour, so that grey paper serves too.
_WIRES = {"orange": "#D9731A", "green": "#2E7D3B", "blue": "#2B5FA8", "brown": "#6B4423"}


def pull_sheet(foot_of: Title, tasks: Sequence[Task]) -> bytes:
    """Return what is pulled, in this order, with room for what was measured."""
    rows = []
    for task in tasks:
        if task.step == "pull":
            facts = {fact.label: plain(fact.value) for fact in task.facts}
            rows.append(
                (
                    task.label.partition(": ")[2],
                    facts["From"],
                    f"{facts['To']}, {task.space or task.storey}",
                    facts["Cable"],
                    facts["Length"],
                    facts["Cut from"],
                    "",
                    "",
                )
            )
    head = ("Label", "From", "To", "Cable", "Length", "Cut from", "Measured, m", "Done")
    story: list[Flowable] = [
        title("Pull sheet"),
        quiet("Longest first. Both ends labelled at once; loops left; ends protected. Nothing is spliced."),
        grid(head, rows, (8, 16, 18, 16, 7, 8, 8, 5), (4,), wide_mm=_LANDSCAPE[0]),
    ]
    return write_document(foot_of, story, _LANDSCAPE)


def bench_sheet(foot_of: Title, tasks: Sequence[Task], book: RunBook) -> bytes:
    """Return what is prepared, unit by unit, and the run book."""
    rows = []
    for task in tasks:
        if task.step == "bench":
            facts = {fact.label: plain(fact.value) for fact in task.facts}
            rows.append((task.label.partition(": ")[2], facts["Model"], facts["Goes to"], "", "", "", ""))
    head = ("Unit", "Model", "Goes to", "Serial", "Updated", "Named", "Packed")
    story: list[Flowable] = [
        title("Bench sheet"),
        grid(head, rows, (12, 22, 20, 18, 8, 8, 8), wide_mm=_LANDSCAPE[0]),
    ]
    words_of = {"before": "Before", "bench": "On the bench", "site": "On site", "after": "After"}
    number = 0
    for where, name in words_of.items():
        steps = [step for step in book.steps if step.where == where]
        if steps:
            story.append(heading(name))
        for step in steps:
            number += 1
            story.append(together([words(f"{number}. {step.text}"), quiet(step.why)]))
    return write_document(foot_of, story, _LANDSCAPE)


def mounting_sheets(foot_of: Title, sheets: Sequence[MountSheet]) -> bytes:
    """Return a block a thing to be mounted."""
    story: list[Flowable] = [
        title("Mounting"),
        quiet("Lengths are from the face of each wall, at right angles."),
    ]
    for sheet in sheets:
        lengths = [f"{one.away_m:g} m from {one.wall}, {one.side}" for one in sheet.from_walls]
        rows = [
            ("Model", sheet.model),
            ("Where", f"{sheet.space or sheet.storey}, {sheet.storey}"),
            ("Height", f"{sheet.height_m:g} m above the floor"),
            ("Face", f"{sheet.mount}: {sheet.face}"),
            ("Lengths", "; ".join(lengths) or "no wall near: as the drawing shows"),
            *(
                [("Looks", sheet.looks + (f", {sheet.tilt_deg:g}° down" if sheet.tilt_deg else ""))]
                if sheet.looks
                else []
            ),
            ("Cables", ", ".join(sheet.runs) or "none: over the air"),
            ("Ports", "; ".join(sheet.ports) or "–"),
            ("Serial", ""),
        ]
        story.append(together([heading(sheet.label), grid(("", ""), rows, (2, 12), large=True), gap(2)]))
    return write_document(foot_of, story)


@dataclass(frozen=True)
class LabelText:
    """One label: what is read on it, what stands small below, what its code opens."""

    text: str
    below: tuple[str, str]
    link: str


_COLUMNS, _ROWS = 3, 9
_EDGE_MM, _GAP_MM = 9.0, 2.0


def label_sheet(labels: Sequence[LabelText], name: str) -> bytes:
    """Return labels to be cut, three beside each other, each with a code that opens it in field mode."""
    faces()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(210 * mm, 297 * mm), pageCompression=1)
    canvas.setTitle(name)
    canvas.setCreator("Heathrise")
    wide = (210 - 2 * _EDGE_MM - (_COLUMNS - 1) * _GAP_MM) / _COLUMNS
    high = (297 - 2 * _EDGE_MM - (_ROWS - 1) * _GAP_MM) / _ROWS
    for n, label in enumerate(labels):
        at = n % (_COLUMNS * _ROWS)
        if n and not at:
            canvas.showPage()
        x = _EDGE_MM + (at % _COLUMNS) * (wide + _GAP_MM)
        y = 297 - _EDGE_MM - high - (at // _COLUMNS) * (high + _GAP_MM)
        _label(canvas, label, (x, y, wide, high))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _label(canvas: Canvas, label: LabelText, box_mm: tuple[float, float, float, float]) -> None:
    x, y, wide, high = box_mm
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.2)
    canvas.rect(x * mm, y * mm, wide * mm, high * mm)
    side = high - 6
    code(canvas, label.link, x + 3, y + 3, side)
    left, room = x + side + 6, wide - side - 8
    for text, face, size, up, ink in (
        (label.text, "text-bold", 17.0, high * 0.6, INK),
        (label.below[0], "text-bold", 8.5, high * 0.36, INK),
        (label.below[1], "text", 8.0, high * 0.16, QUIET),
    ):
        natural = pdfmetrics.stringWidth(text, face, size)
        canvas.setFont(face, min(size, size * room * mm / natural) if natural else size)
        canvas.setFillColor(ink)
        canvas.drawString(left * mm, (y + up) * mm, text)


class _Wires(Flowable):  # type: ignore[misc]
    """Eight wires side by side, drawn large: the colour of each, its name below."""

    def __init__(self, guide: EndGuide):
        super().__init__()
        self.guide = guide
        self.width, self.height = 176 * mm, 92 * mm

    def draw(self) -> None:
        """Draw them, pin 1 at the left, the clip away from the eye."""
        canvas, wide = self.canv, 20 * mm
        for n, pin in enumerate(self.guide.pins):
            x = n * 22 * mm
            canvas.setFillColor(HexColor("#FFFFFF") if pin.white else HexColor(_WIRES[pin.colour]))
            canvas.setStrokeColor(INK)
            canvas.setLineWidth(0.8)
            canvas.rect(x, 22 * mm, wide, 60 * mm, fill=1)
            if pin.white:
                canvas.setFillColor(HexColor(_WIRES[pin.colour]))
                for k in range(5):
                    canvas.rect(x + 0.4, (27 + k * 12) * mm, wide - 0.8, 5 * mm, stroke=0, fill=1)
            canvas.setFillColor(INK)
            canvas.setFont("text-bold", 22)
            canvas.drawCentredString(x + wide / 2, 84 * mm, str(pin.pin))
            canvas.setFont("text-bold", 11)
            first, second = ("white", pin.colour) if pin.white else (pin.colour, "")
            canvas.drawCentredString(x + wide / 2, 15 * mm, first)
            canvas.drawCentredString(x + wide / 2, 10 * mm, second)
            canvas.setFont("text", 9)
            canvas.setFillColor(QUIET)
            canvas.drawCentredString(x + wide / 2, 4 * mm, f"pair {pin.pair}")


def ends_guide(foot_of: Title, guide: EndGuide) -> bytes:
    """Return how ends are made, on one page."""
    faces()
    story: list[Flowable] = [
        title(f"Ends by {guide.scheme}"),
        quiet("Seen from where the wires go in, clip below: pin 1 at the left."),
        gap(4),
        _Wires(guide),
        gap(6),
        *(strong(rule) for rule in guide.rules),
    ]
    return write_document(foot_of, story)
