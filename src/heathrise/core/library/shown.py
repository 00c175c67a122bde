"""How the screens show what was computed: stages and their tables, as data."""

from typing import Literal

from heathrise.core.sums import Noun


class Stage(Noun):
    """One stage of the work: the key that opens it, its name, what it computes in words; `touched` are the
    kinds of elements that say it has been begun.
    """

    key: str
    name: str
    computed: str
    touched: tuple[str, ...] = ()


class Beside(Noun):
    """A field of another table's row, found by a field both have."""

    table: str
    by: str
    field: str


class Only(Noun):
    """Rows whose field holds a value."""

    field: str
    has: str


class TableColumn(Noun):
    """One column: a quantity (`field` with `unit` or `unit_from`), a count, or a `text` of fields in braces."""

    key: str
    name: str
    text: str | None = None
    field: str | None = None
    unit: str | None = None
    unit_from: str | None = None
    digits: int = 1
    percent: bool = False
    count: bool = False
    right: bool = False
    sum: str | None = None
    bad_unless: str | None = None
    bad_over: str | None = None
    none_under: float | None = None
    when: str | None = None
    beside: Beside | None = None


class StageTable(Noun):
    """A table of a stage: which rows of the assessment, what a row selects, what is said when it is empty."""

    stages: tuple[str, ...]
    name: str
    rows: str
    empty: str
    selects: str | tuple[str, ...] | None = None
    only: Only | None = None
    columns: tuple[TableColumn, ...]


class NextStepInfo(Noun):
    """A step of the work, where it is done, and the rule whose open finding asks for it, if one does.

    `shape` is what the server can work out for a storey by itself; where it finds nothing, the tool is taken.
    """

    while_open: str | None = None
    text: str
    stage: str
    shape: Literal["find-spaces"] | None = None
    tool: str | None = None
    panel: str | None = None
