"""Two hands on one element: what each changed is kept; what both changed is a clash that a person settles.

Merged by field: lists whose rows have a key of their own row by row (an answer of the brief, a radio of an
access point), places and outlines whole, for half of a move is no place.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import Field, JsonValue, ValidationError

from heathrise.core.edit import EditError, Operation, Put, Remove, goes_with
from heathrise.core.job import ELEMENT, Element, Id, Job
from heathrise.core.sums import Noun

Body = Mapping[str, Any]
Take = Literal["mine", "theirs"]
# What a person saw is not known: whatever differs is a clash.
_UNKNOWN: Any = object()
_ABSENT: Any = object()


class Clash(Noun):
    """One value that two hands changed. An empty path means the whole element, None that it is removed.

    `via` names the element whose removal would take this one with it.
    """

    element_id: Id
    kind: str
    label: str
    path: tuple[str, ...] = ()
    mine: JsonValue = None
    theirs: JsonValue = None
    via: Id | None = None


class Settlement(Noun):
    """How a person settled a clash, and the other's value that was on show: another one clashes anew."""

    element_id: Id
    path: tuple[str, ...] = Field((), max_length=8)
    take: Take
    theirs: JsonValue = None


@dataclass(frozen=True)
class Merge:
    """Operations as they are to be applied, and what a person has to settle first."""

    operations: tuple[Operation, ...]
    clashes: tuple[Clash, ...]


@dataclass(frozen=True)
class _Settled:
    """The choices made, by element and path."""

    choices: Mapping[tuple[str, tuple[str, ...]], Settlement]

    def take(self, clash: Clash) -> Take | None:
        """Return what was chosen for a clash; None when it was not shown as it is now."""
        choice = self.choices.get((clash.element_id, clash.path))
        return choice.take if choice is not None and choice.theirs == clash.theirs else None


def merge(
    job: Job,
    operations: Sequence[Operation],
    seen: Mapping[str, Element | None],
    unseen: frozenset[str] = frozenset(),
    choices: Iterable[Settlement] = (),
) -> Merge:
    """Merge operations into a job that may have changed since they were made.

    `seen` has elements as the person had them before the edit (None: there was none), `unseen` the ids of
    elements that others changed in a way the person cannot have seen. What is in neither was seen as it is.
    """
    settled = _Settled({(choice.element_id, choice.path): choice for choice in choices})
    kept: list[Operation] = []
    clashes: list[Clash] = []
    added: set[str] = set()
    for operation in operations:
        if isinstance(operation, Remove) and operation.id in added:
            # The edit's own: nobody else has it yet.
            kept.append(operation)
            continue
        if isinstance(operation, Put):
            added |= {operation.element.id} - job.by_id.keys()
            merged, open_ = _put(job, operation, _base(job, operation.element.id, seen, unseen), settled)
        else:
            merged, open_ = _removal(job, operation, seen, unseen, settled)
        kept += [] if merged is None else [merged]
        clashes += open_
    return Merge(tuple(kept), tuple(clashes))


def _base(
    job: Job, element_id: str, seen: Mapping[str, Element | None], unseen: frozenset[str]
) -> Element | None:
    """Return an element as the person had it; `_UNKNOWN` when that cannot be told."""
    if element_id in seen:
        return seen[element_id]
    return _UNKNOWN if element_id in unseen else job.by_id.get(element_id)


def _put(
    job: Job, operation: Put, base: Element | None, settled: _Settled
) -> tuple[Operation | None, list[Clash]]:
    mine, theirs = operation.element, job.by_id.get(operation.element.id)
    if theirs == base or (theirs is None and base is None):
        return operation, []
    if theirs is None:
        return _whole(operation, mine, None, settled)
    if base is None:
        base = _UNKNOWN
    if base is not _UNKNOWN and base.kind != theirs.kind:
        return _whole(operation, mine, theirs, settled)
    was: Any = base if base is _UNKNOWN else base.model_dump(mode="json")
    fields = _Fields(theirs, settled)
    try:
        merged = ELEMENT.validate_python(
            fields.merged(was, mine.model_dump(mode="json"), theirs.model_dump(mode="json"))
        )
    except ValidationError:
        # Each half was sound and both together are not: one of them it must be.
        return _whole(operation, mine, theirs, settled)
    return Put(element=merged), fields.clashes


def _removal(
    job: Job,
    operation: Remove,
    seen: Mapping[str, Element | None],
    unseen: frozenset[str],
    settled: _Settled,
) -> tuple[Operation | None, list[Clash]]:
    theirs = job.by_id.get(operation.id)
    if theirs is None:
        if operation.id in seen or operation.id in unseen:
            return None, []
        raise EditError(f"element {operation.id} is not in the job, so it cannot be removed")
    if theirs == _base(job, operation.id, seen, unseen):
        return operation, []
    return _whole(operation, None, theirs, settled)


def _whole(
    operation: Operation, mine: Element | None, theirs: Element | None, settled: _Settled
) -> tuple[Operation | None, list[Clash]]:
    clash = clash_of(mine, theirs)
    taken = settled.take(clash)
    if taken is None:
        return operation, [clash]
    return (operation if taken == "mine" else None), []


def clash_of(mine: Element | None, theirs: Element | None, via: str | None = None) -> Clash:
    """Return the clash of whole elements, one of them perhaps removed."""
    one = theirs or mine
    if one is None:
        raise ValueError("two removals are no clash")
    bodies = [None if e is None else e.model_dump(mode="json") for e in (mine, theirs)]
    return Clash(element_id=one.id, kind=one.kind, label=one.label, mine=bodies[0], theirs=bodies[1], via=via)


class _Fields:
    """Merges the fields of one element and notes what clashes."""

    def __init__(self, element: Element, settled: _Settled):
        self._element = element
        self._settled = settled
        self.clashes: list[Clash] = []

    def merged(self, base: Body, mine: Body, theirs: Body) -> dict[str, Any]:
        """Return an element's body with what each side changed."""
        # `order` is given by the job, once; nobody edits it.
        found = {"order": theirs["order"]}
        for name in mine:
            if name != "order":
                values = [_field(body, name) for body in (base, mine, theirs)]
                found[name] = self._value((name,), *values)
        return found

    def _value(self, path: tuple[str, ...], base: Any, mine: Any, theirs: Any) -> Any:
        if mine in (base, theirs):
            return theirs
        if theirs == base:
            return mine
        key = self._element.ROWS.get(path[0]) if len(path) == 1 else None
        if key is not None and all(_keyed(rows, key) for rows in (mine, theirs)):
            return self._rows(path, key, base, mine, theirs)
        if isinstance(mine, dict) and isinstance(theirs, dict) and self._parted(path):
            return {
                name: self._value((*path, name), *(_field(body, name) for body in (base, mine, theirs)))
                for name in mine
            }
        return self._clash(path, mine, theirs)

    def _parted(self, path: tuple[str, ...]) -> bool:
        """Whether the parts of a value are changed one by one: the parts of a row are, those of a place not."""
        return path[0] in self._element.PARTS or (len(path) == 2 and path[0] in self._element.ROWS)

    def _rows(self, path: tuple[str, ...], key: str, base: Any, mine: Any, theirs: Any) -> list[Any]:
        known = base if base is not _UNKNOWN and _keyed(base, key) else []
        sides = [{str(row[key]): row for row in rows} for rows in (known, mine, theirs)]
        names = [*sides[2], *(name for name in sides[1] if name not in sides[2])]
        found = []
        for name in names:
            b, m, t = (side.get(name, _ABSENT) for side in sides)
            row = self._value((*path, name), _UNKNOWN if base is _UNKNOWN else b, m, t)
            found += [] if row is _ABSENT else [row]
        return found

    def _clash(self, path: tuple[str, ...], mine: Any, theirs: Any) -> Any:
        shown = [None if value is _ABSENT else value for value in (mine, theirs)]
        one = self._element
        clash = Clash(
            element_id=one.id, kind=one.kind, label=one.label, path=path, mine=shown[0], theirs=shown[1]
        )
        taken = self._settled.take(clash)
        if taken is None:
            self.clashes.append(clash)
        return mine if taken == "mine" else theirs


def _field(body: Any, name: str) -> Any:
    if body is _UNKNOWN:
        return _UNKNOWN
    return body.get(name, _ABSENT) if isinstance(body, Mapping) else _ABSENT


def _keyed(rows: Any, key: str) -> bool:
    """Whether a value is a list whose rows can be told apart by a key."""
    if not isinstance(rows, list) or not all(isinstance(row, dict) and key in row for row in rows):
        return False
    return len({str(row[key]) for row in rows}) == len(rows)


def taken_along(
    job: Job,
    operations: Sequence[Operation],
    gone: Iterable[str],
    unseen: frozenset[str],
    choices: Iterable[Settlement] = (),
) -> Merge:
    """Return operations without removals that a person took back, and what others changed that would go along.

    `gone` has the ids that go though no operation names them, `unseen` those of elements others changed.
    """
    settled = _Settled({(choice.element_id, choice.path): choice for choice in choices})
    lost = frozenset(gone) & unseen
    # Each is asked about once, however many removals would take it along.
    clashes: dict[str, Clash] = {}
    kept: list[Operation] = []
    for operation in operations:
        along = goes_with(job, operation.id) & lost if isinstance(operation, Remove) else frozenset()
        met = [clash_of(None, job.by_id[key], operation.id) for key in sorted(along)]  # type: ignore[union-attr]
        takes = [settled.take(clash) for clash in met]
        clashes |= {clash.element_id: clash for clash, take in zip(met, takes, strict=True) if take is None}
        if "theirs" not in takes:
            kept.append(operation)
    return Merge(tuple(kept), tuple(clashes.values()))
