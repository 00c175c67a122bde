"""Inks and typefaces of everything on paper."""

from functools import cache
from importlib import resources

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

INK, QUIET, RULE = "#1F2A33", "#5B6770", "#9A937F"
# For words, for words that matter, for figures.
FACES = ("text", "text-bold", "figures")


@cache
def faces() -> None:
    """Make the typefaces known to the writer of PDF."""
    folder = resources.files("heathrise.exchange.paper") / "fonts"
    for name in FACES:
        with resources.as_file(folder / f"{name}.ttf") as path:
            pdfmetrics.registerFont(TTFont(name, str(path)))
