"""What was computed, as tables of keyed rows, and what of them changed since a revision.

A row keeps the revision at which it last changed; whoever has a revision is sent the rows that came or
changed since, and the order of the rows where one came, went or moved.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar, get_args, get_origin

from pydantic import create_model

from heathrise.core.findings.assess import Assessment
from heathrise.core.sums import Noun

R = TypeVar("R")
# How the rows of a table are told apart: by these fields of theirs. A table of one row has none.
KEYS: dict[str, tuple[str, ...]] = {
    "findings": ("key",),
    "next": ("code",),
    "ledger": ("key",),
    "spaces": ("space_id",),
    "radios": ("point_id", "band"),
    "bands": ("band",),
    "loads": ("point_id", "band"),
    "walks": ("walk_id",),
    "inventory": (),
    "demand": ("space_id",),
    "demand_total": ("hour",),
    "questions": ("code",),
    "drops": ("code",),
    "runs": ("run_id",),
    "pathways": ("pathway_id",),
    "feeds": ("run_id",),
    "ports": ("switch_id", "port"),
    "budgets": ("switch_id",),
    "unplaced": ("run_id", "side"),
    "chains": ("element_id",),
    "bridges": ("link_id",),
    "meshes": ("node_id",),
    "mains": ("link_id",),
    "scopes": ("network_id",),
    "names": ("ssid_id",),
    "profiles": ("switch_id", "port"),
    "kit": ("group", "item", "label"),
    "hours": ("label",),
}


class TableChange(Noun, Generic[R]):
    """Rows that came or changed, by their keys, and the order of all rows; None where it is as it was."""

    rows: dict[str, R]
    order: tuple[str, ...] | None


def _row_type(annotation: Any) -> Any:
    return get_args(annotation)[0] if get_origin(annotation) is tuple else annotation


_FIELDS: dict[str, Any] = {
    name: (TableChange[_row_type(info.annotation)] | None, None)  # type: ignore[misc]
    for name, info in Assessment.model_fields.items()
}
AssessmentChange: Any = create_model(
    "AssessmentChange",
    __base__=Noun,
    __doc__="What changed of everything computed, table by table; None for a table without any change.",
    **_FIELDS,
)


def change_of(found: dict[str, TableChange[Any]]) -> Any:
    """Return the tables that changed as one noun."""
    return AssessmentChange.model_construct(**found)  # type: ignore[arg-type]


@dataclass
class _Table:
    rows: dict[str, Any] = field(default_factory=dict)
    stamps: dict[str, int] = field(default_factory=dict)
    ordered_at: int = -1


class Tables:
    """The tables of one job as they stand. `first` is the oldest revision a change can be told from."""

    def __init__(self) -> None:
        self.first = -1
        self._tables: dict[str, _Table] = {name: _Table() for name in Assessment.model_fields}

    def take(self, revision: int, name: str, value: Any) -> None:
        """Take a table as it was computed at a revision."""
        table = self._tables[name]
        if self.first < 0:
            self.first = revision
        fresh = dict(keyed(name, value))
        for key, row in fresh.items():
            before = table.rows.get(key)
            if key not in table.rows or (before is not row and before != row):
                table.stamps[key] = revision
            elif before is not None:
                # The same row by value: keep the one that is known.
                fresh[key] = before
        if list(fresh) != list(table.rows):
            table.ordered_at = revision
        table.rows = fresh
        table.stamps = {key: table.stamps[key] for key in fresh}

    def rows(self, name: str) -> list[Any]:
        """Return the rows of a table as they were taken last."""
        return list(self._tables[name].rows.values())

    def since(self, revision: int | None, names: Iterable[str]) -> dict[str, TableChange[Any]]:
        """Return what changed after a revision, None for all there is; tables without change are left out."""
        found: dict[str, TableChange[Any]] = {}
        for name in names:
            table = self._tables[name]
            if revision is None or revision < self.first:
                found[name] = TableChange.model_construct(rows=dict(table.rows), order=tuple(table.rows))
                continue
            rows = {key: row for key, row in table.rows.items() if table.stamps[key] > revision}
            moved = table.ordered_at > revision
            if rows or moved:
                found[name] = TableChange.model_construct(
                    rows=rows, order=tuple(table.rows) if moved else None
                )
        return found


def keyed(name: str, value: Any) -> Iterator[tuple[str, Any]]:
    """Yield a table's rows with their keys; rows that share one are told apart by their number."""
    if name not in KEYS:
        if value is not None:
            yield "", value
        return
    seen: dict[str, int] = {}
    for number, row in enumerate(value):
        key = ":".join(str(getattr(row, part)) for part in KEYS[name]) or str(number)
        seen[key] = seen.get(key, 0) + 1
        yield key if seen[key] == 1 else f"{key}#{seen[key]}", row
