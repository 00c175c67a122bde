"""The one door through which jobs change: edits, conflicts, undo and redo."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any, Literal, TypeVar

from sqlalchemy import delete, func, insert, select
from sqlalchemy.orm import Session

from heathrise.core.edit import Edited, Operation, Put, apply
from heathrise.store.jobs import OPERATIONS, Kept, caught_up, load_job, new_id
from heathrise.store.tables import ChangeRow, ElementRow, JobRow

Step = Literal["edit", "undo", "redo"]
T = TypeVar("T")
# Rows in one statement.
_AT_ONCE = 500
# More undo than anyone presses; keeps the replay short.
_HISTORY = 1000


class NothingToUndo(LookupError):
    """There is nothing left to undo or redo."""


class Conflict(RuntimeError):
    """Somebody changed the same element since the revision the edit was made on."""

    def __init__(self, element_id: str, theirs: dict[str, Any] | None, mine: dict[str, Any] | None):
        super().__init__(f"element {element_id} was changed by somebody else in the meantime")
        self.element_id = element_id
        self.theirs = theirs
        self.mine = mine


@dataclass(frozen=True)
class Edit:
    """An edit as somebody asks for it. `edit_id` makes sending it twice harmless."""

    edit_id: str
    actor: str
    label: str
    base_revision: int
    operations: tuple[Operation, ...]


def commit_edit(session: Session, job_id: str, edit: Edit, known: Kept | None = None) -> Kept:
    """Apply an edit made on `base_revision` and keep it with its inverse.

    With the job as it is `known`, only what came since is read.

    Elements that others changed in the meantime are conflicts; everything else is merged.

    Raises
    ------
    NoSuchJob, Conflict
        As their names say.
    EditError
        If the edit would break the job.
    """
    kept = caught_up(session, known, lock=True) if known else load_job(session, job_id, lock=True)
    seen = select(ChangeRow.id).where(ChangeRow.job_id == job_id, ChangeRow.edit_id == edit.edit_id)
    if session.scalar(seen) is not None:
        return kept
    _check_conflicts(session, kept, edit.operations, edit.base_revision)
    return _write(session, kept, edit, "edit", None)


def _check_conflicts(
    session: Session, kept: Kept, operations: Sequence[Operation], base_revision: int
) -> None:
    """Raise Conflict for the first element that somebody changed since `base_revision`."""
    if base_revision >= kept.revision:
        return
    later = session.execute(
        select(ElementRow.id, ElementRow.version).where(
            ElementRow.job_id == kept.id, ElementRow.version > base_revision
        )
    )
    versions = {row.id: row.version for row in later}
    for operation in operations:
        put = isinstance(operation, Put)
        element_id = operation.element.id if isinstance(operation, Put) else operation.id
        mine = operation.element.model_dump(mode="json") if isinstance(operation, Put) else None
        if element_id in versions:
            raise Conflict(element_id, kept.job.by_id[element_id].model_dump(mode="json"), mine)
        gone = put and element_id not in kept.job.by_id
        if gone and _was_removed(session, kept.id, element_id, base_revision):
            raise Conflict(element_id, None, mine)


def _was_removed(session: Session, job_id: str, element_id: str, base_revision: int) -> bool:
    """Return whether somebody removed an element after a revision."""
    later = session.scalars(
        select(ChangeRow.operations).where(ChangeRow.job_id == job_id, ChangeRow.revision > base_revision)
    )
    return any(step["op"] == "remove" and step["id"] == element_id for steps in later for step in steps)


def _write(session: Session, kept: Kept, edit: Edit, way: Step, target: int | None) -> Kept:
    """Apply, write the elements and the change, and count the revision up."""
    edited = apply(kept.job, edit.operations)
    revision = kept.revision + 1
    row = session.get_one(JobRow, kept.id)
    row.revision = revision
    row.changed = func.now()
    _write_elements(session, kept, edited, revision)
    session.add(
        ChangeRow(
            job_id=kept.id,
            revision=revision,
            actor=edit.actor,
            edit_id=edit.edit_id,
            label=edit.label,
            way=way,
            target=target,
            operations=OPERATIONS.dump_python(edited.done, mode="json"),
            inverse=OPERATIONS.dump_python(edited.inverse, mode="json"),
        )
    )
    return Kept(kept.id, revision, edited.job)


def _write_elements(session: Session, kept: Kept, edited: Edited, revision: int) -> None:
    """Write what an edit left of every element it touched, in few statements however many."""
    touched = {step.element.id if isinstance(step, Put) else step.id: step for step in edited.done}
    for some in batched(touched, _AT_ONCE):
        session.execute(delete(ElementRow).where(ElementRow.job_id == kept.id, ElementRow.id.in_(some)))
    rows = [
        {
            "job_id": kept.id,
            "id": element.id,
            "kind": element.kind,
            "version": revision,
            "body": element.model_dump(mode="json"),
        }
        for element in (step.element for step in touched.values() if isinstance(step, Put))
    ]
    for many in batched(rows, _AT_ONCE):
        session.execute(insert(ElementRow), list(many))
    session.flush()


def batched(items: Iterable[T], size: int) -> Iterator[tuple[T, ...]]:
    """Yield items in tuples of a size."""
    left = iter(items)
    while batch := tuple(islice(left, size)):
        yield batch


@dataclass(frozen=True)
class History:
    """What an actor can undo and redo next: change ids, the next one last."""

    undo: tuple[int, ...]
    redo: tuple[int, ...]


def history(session: Session, job_id: str, actor: str) -> History:
    """Replay an actor's changes into what can be undone and redone."""
    rows = session.execute(
        select(ChangeRow.id, ChangeRow.way, ChangeRow.target)
        .where(ChangeRow.job_id == job_id, ChangeRow.actor == actor)
        .order_by(ChangeRow.id.desc())
        .limit(_HISTORY)
    ).all()
    undo: list[int] = []
    redo: list[int] = []
    for change_id, way, target in reversed(rows):
        if way == "edit":
            undo.append(change_id)
            redo.clear()
        elif way == "undo" and target in undo:
            undo.remove(target)
            redo.append(target)
        elif way == "redo" and target in redo:
            redo.remove(target)
            undo.append(target)
    return History(tuple(undo), tuple(redo))


def step_back(
    session: Session, job_id: str, actor: str, way: Literal["undo", "redo"], known: Kept | None = None
) -> tuple[Kept, str]:
    """Undo or redo an actor's next change and return the job and the change's label.

    Raises
    ------
    NothingToUndo
        If there is none.
    Conflict
        If somebody else has changed one of its elements since.
    """
    kept = caught_up(session, known, lock=True) if known else load_job(session, job_id, lock=True)
    past = history(session, job_id, actor)
    stack = past.undo if way == "undo" else past.redo
    if not stack:
        raise NothingToUndo(f"there is nothing left to {way}")
    change = session.get_one(ChangeRow, stack[-1])
    operations = OPERATIONS.validate_python(change.inverse if way == "undo" else change.operations)
    _check_conflicts(session, kept, operations, _last_by(session, job_id, actor, change))
    edit = Edit(new_id(), actor, change.label, kept.revision, operations)
    return _write(session, kept, edit, way, change.id), change.label


def _last_by(session: Session, job_id: str, actor: str, change: ChangeRow) -> int:
    """Return the last revision at which only this actor can have touched the change's elements."""
    touched = {step["id"] if step["op"] == "remove" else step["element"]["id"] for step in change.operations}
    others = session.execute(
        select(ChangeRow.revision, ChangeRow.operations).where(
            ChangeRow.job_id == job_id, ChangeRow.actor != actor, ChangeRow.revision > change.revision
        )
    )
    clashes = [
        revision
        for revision, steps in others
        if touched & {s["id"] if s["op"] == "remove" else s["element"]["id"] for s in steps}
    ]
    return min(clashes) - 1 if clashes else 2**31 - 1
