"""Tables as CSV, safe to open in a spreadsheet."""

import csv
import io
import re
from collections.abc import Iterable, Sequence

from heathrise.core.ordering.kit import KitLine

Cell = str | float | int | None


# What begins a formula, at the start of a cell or of what another delimiter or a line break makes one.
_FORMULA = re.compile(r"(^|[;,|\t\r\n])(\s*)(?=[=+\-@])")


def safe(cell: Cell) -> Cell:
    """Return text of which a spreadsheet will take no part for a formula, whatever parts cells where it is opened."""
    if not isinstance(cell, str):
        return cell
    safe = _FORMULA.sub(r"\1\2'", cell)
    return "'" + safe if safe[:1] in ("\t", "\r", "\n") else safe


def to_csv(columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """Return a table as CSV text with a header."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows([safe(cell) for cell in row] for row in rows)
    return out.getvalue()


KIT_COLUMNS = (
    "group",
    "item",
    "label",
    "need",
    "unit",
    "kept",
    "spare",
    "pack",
    "order",
    "ordered",
    "supplier",
    "each",
    "cost",
    "why",
)


def kit_rows(lines: Iterable[KitLine]) -> list[tuple[Cell, ...]]:
    """Return a row a line of the kit list, as `KIT_COLUMNS` names its columns."""
    return [tuple(getattr(line, name) for name in KIT_COLUMNS) for line in lines]


def kit_csv(lines: Iterable[KitLine]) -> str:
    """Return the kit list as CSV."""
    return to_csv(KIT_COLUMNS, kit_rows(lines))
