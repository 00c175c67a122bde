"""Codes that a phone reads, drawn square by square."""

import segno
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from heathrise.exchange.paper.inks import INK


def code(canvas: Canvas, text: str, x_mm: float, y_mm: float, side_mm: float) -> None:
    """Draw a code that a phone reads, its lower left corner at a place."""
    rows = [bytes(row) for row in segno.make(text, error="m").matrix]
    side = side_mm * mm / len(rows)
    canvas.setFillColor(INK)
    for n, row in enumerate(rows):
        for k, dark in enumerate(row):
            if dark:
                canvas.rect(
                    x_mm * mm + k * side, y_mm * mm + (len(rows) - 1 - n) * side, side, side, stroke=0, fill=1
                )
