"""Tables as CSV, safe to open in a spreadsheet."""

import csv
import io
from collections.abc import Iterable, Sequence

from heathrise.core.ordering.kit import KitLine

Cell = str | float | int | None


def _safe(cell: Cell) -> Cell:
    """Return text that a spreadsheet will not take for a formula."""
    if isinstance(cell, str) and cell[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return "'" + cell
    return cell


def to_csv(columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """Return a table as CSV text with a header."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows([_safe(cell) for cell in row] for row in rows)
    return out.getvalue()


KIT_COLUMNS = (
    "group",
    "item",
    "label",
    "need",
    "unit",
    "spare",
    "pack",
    "order",
    "each",
    "cost",
    "why",
)


def kit_csv(lines: Iterable[KitLine]) -> str:
    """Return the kit list as CSV."""
    return to_csv(KIT_COLUMNS, ([getattr(line, name) for name in KIT_COLUMNS] for line in lines))
