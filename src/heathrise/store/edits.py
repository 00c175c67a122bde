"""The one door through which jobs change: edits, what two hands did at once, undo and redo."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import islice
from typing import Literal, TypeVar

from sqlalchemy import delete, func, insert, select, update
from sqlalchemy.orm import Session

from heathrise.core.edit import Edited, Operation, Put, Remove, apply, id_of
from heathrise.core.job import Element
from heathrise.core.merging import Clash, Settlement, merge, taken_along
from heathrise.store.jobs import OPERATIONS, Kept, caught_up, load_job
from heathrise.store.tables import ChangeRow, ElementRow, JobRow

Step = Literal["edit", "undo", "redo"]
Way = Literal["undo", "redo"]
T = TypeVar("T")
# Rows in one statement.
_AT_ONCE = 500


class NothingToUndo(LookupError):
    """There is nothing left to undo or redo."""


class Conflict(RuntimeError):
    """Others changed the same values meanwhile: every clash, for a person to settle."""

    def __init__(self, clashes: tuple[Clash, ...], revision: int, label: str, target: int | None):
        super().__init__(f"{len(clashes)} values were changed by somebody else in the meantime")
        self.clashes = clashes
        self.revision = revision
        self.label = label
        # The change that an undo or redo was about to step over.
        self.target = target


@dataclass(frozen=True)
class Edit:
    """An edit as somebody asks for it. `edit_id` makes sending it twice harmless.

    `seen` has what the person saw of the elements before the edit (None: nothing there yet); of an element
    that it leaves out the person saw what stood there at `base_revision`. `choices` settle clashes.
    """

    edit_id: str
    actor: str
    label: str
    base_revision: int
    operations: tuple[Operation, ...]
    seen: Mapping[str, Element | None] = field(default_factory=dict)
    choices: tuple[Settlement, ...] = ()


@dataclass(frozen=True)
class Asked:
    """An undo or redo as somebody asks for it; `edit_id` makes asking twice harmless.

    `choices` settle the clashes of the change `target`; they say nothing of another.
    """

    edit_id: str
    actor: str
    target: int | None = None
    choices: tuple[Settlement, ...] = ()


def commit_edit(session: Session, job_id: str, edit: Edit, known: Kept | None = None) -> Kept:
    """Apply an edit to the job as it is now and keep it with its inverse.

    With the job as it is `known`, only what came since is read. What others changed meanwhile is merged by
    field. An edit that leaves nothing to do (all of it taken back by a choice) is not kept.

    Raises
    ------
    NoSuchJob
        As its name says.
    Conflict
        If both changed the same value, or if what others changed would go along with what is removed.
    EditError
        If the edit would break the job.
    """
    kept = _locked(session, job_id, known)
    return kept if _was_kept(session, job_id, edit.edit_id) else _write(session, kept, edit, "edit", None)


def _locked(session: Session, job_id: str, known: Kept | None) -> Kept:
    return caught_up(session, known, lock=True) if known else load_job(session, job_id, lock=True)


def _was_kept(session: Session, job_id: str, edit_id: str) -> bool:
    same = select(ChangeRow.id).where(ChangeRow.job_id == job_id, ChangeRow.edit_id == edit_id)
    return session.scalar(same) is not None


def _write(session: Session, kept: Kept, edit: Edit, way: Step, target: int | None) -> Kept:
    """Merge, apply, write the elements and the change, and count the revision up."""
    merged = _merged(session, kept, edit, target)
    if not merged:
        return kept
    edited = apply(kept.job, merged)
    spared = _spared(session, kept, edit, target, merged, edited)
    if not spared:
        return kept
    if spared != merged:
        edited = apply(kept.job, spared)
    revision = kept.revision + 1
    row = session.get_one(JobRow, kept.id)
    row.revision = revision
    row.changed = func.now()
    _write_elements(session, kept, edited, revision)
    _stand(session, kept.id, edit.actor, way, target)
    session.add(
        ChangeRow(
            job_id=kept.id,
            revision=revision,
            actor=edit.actor,
            edit_id=edit.edit_id,
            label=edit.label,
            way=way,
            target=target,
            standing="done" if way == "edit" else None,
            operations=OPERATIONS.dump_python(edited.done, mode="json"),
            inverse=OPERATIONS.dump_python(edited.inverse, mode="json"),
        )
    )
    return Kept(kept.id, revision, edited.job)


def _merged(session: Session, kept: Kept, edit: Edit, target: int | None) -> tuple[Operation, ...]:
    """Return the operations on the job as it is now. Raises Conflict."""
    named = {id_of(operation) for operation in edit.operations}
    unseen = _unseen(session, kept, named - set(edit.seen), edit.base_revision)
    found = merge(kept.job, edit.operations, edit.seen, unseen, edit.choices)
    if found.clashes:
        raise Conflict(found.clashes, kept.revision, edit.label, target)
    return found.operations


def _spared(
    session: Session,
    kept: Kept,
    edit: Edit,
    target: int | None,
    operations: tuple[Operation, ...],
    edited: Edited,
) -> tuple[Operation, ...]:
    """Return the operations without removals that a person took back for what would go along. Raises Conflict."""
    named = {id_of(operation) for operation in operations}
    gone = {step.id for step in edited.done if isinstance(step, Remove)} - named
    unseen = _unseen(session, kept, gone, edit.base_revision, but=edit.actor)
    if not unseen:
        return operations
    found = taken_along(kept.job, operations, gone, unseen, edit.choices)
    if found.clashes:
        raise Conflict(found.clashes, kept.revision, edit.label, target)
    return found.operations


def _unseen(
    session: Session, kept: Kept, ids: Iterable[str], base_revision: int, but: str | None = None
) -> frozenset[str]:
    """Return which elements were changed, by others than `but`, after a revision.

    A revision ahead of the job's is of a job that is no more (a backup was put back): nothing was seen.
    """
    wanted = tuple(ids)
    if base_revision > kept.revision:
        return frozenset(wanted)
    if base_revision == kept.revision or not wanted:
        return frozenset()
    later = select(ChangeRow.operations).where(
        ChangeRow.job_id == kept.id, ChangeRow.revision > base_revision, ChangeRow.actor != (but or "")
    )
    looked = set(wanted)
    if len(looked) <= _AT_ONCE:
        newer = select(ElementRow.id).where(
            ElementRow.job_id == kept.id, ElementRow.id.in_(looked), ElementRow.version > base_revision
        )
        looked = set(session.scalars(newer)) | {key for key in looked if key not in kept.job.by_id}
    if not looked:
        return frozenset()
    touched = {
        step["id"] if step["op"] == "remove" else step["element"]["id"]
        for steps in session.scalars(later)
        for step in steps
    }
    return frozenset(looked & touched)


def _write_elements(session: Session, kept: Kept, edited: Edited, revision: int) -> None:
    """Write what an edit left of every element it touched, in few statements however many."""
    touched = {id_of(step): step for step in edited.done}
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


def _stand(session: Session, job_id: str, actor: str, way: Step, target: int | None) -> None:
    """Note how an actor's edits stand after a step: a new one ends what could be redone."""
    if way == "edit":
        undone = update(ChangeRow).where(
            ChangeRow.job_id == job_id, ChangeRow.actor == actor, ChangeRow.standing == "undone"
        )
        session.execute(undone.values(standing="spent"))
    else:
        one = update(ChangeRow).where(ChangeRow.id == target)
        session.execute(one.values(standing="undone" if way == "undo" else "done"))


@dataclass(frozen=True)
class History:
    """What an actor can undo and redo next: ids of changes, None when there is nothing."""

    undo: int | None
    redo: int | None


def history(session: Session, job_id: str, actor: str) -> History:
    """Return what an actor can undo and redo; costs the same however much was done."""
    # Undone last first and redone last first: what stands undone is always the end of what was done.
    ends = {"done": func.max(ChangeRow.id), "undone": func.min(ChangeRow.id)}
    found = [
        session.scalar(
            select(end).where(
                ChangeRow.job_id == job_id, ChangeRow.actor == actor, ChangeRow.standing == standing
            )
        )
        for standing, end in ends.items()
    ]
    return History(*found)


def step_back(
    session: Session, job_id: str, asked: Asked, way: Way, known: Kept | None = None
) -> tuple[Kept, str]:
    """Undo or redo an actor's next change and return the job and the change's label.

    What others changed of the same elements since stays, field by field. A change of which nothing is left
    to undo is passed over from then on.

    Raises
    ------
    NothingToUndo
        If there is none.
    Conflict
        If somebody else has changed the same value since, or something that would go along.
    """
    kept = _locked(session, job_id, known)
    if _was_kept(session, job_id, asked.edit_id):
        return kept, ""
    past = history(session, job_id, asked.actor)
    target = past.undo if way == "undo" else past.redo
    if target is None:
        raise NothingToUndo(f"there is nothing left to {way}")
    if asked.target is not None and asked.target != target:
        return kept, ""
    change = session.get_one(ChangeRow, target)
    sides = (change.operations, change.inverse) if way == "undo" else (change.inverse, change.operations)
    left, operations = _left_by(OPERATIONS.validate_python(sides[0])), OPERATIONS.validate_python(sides[1])
    since = change.revision if way == "undo" else _undone_at(session, change)
    named = {id_of(operation) for operation in operations}
    others = _unseen(session, kept, named, since, but=asked.actor)
    seen = {key: left.get(key) if key in others else kept.job.by_id.get(key) for key in named}
    edit = Edit(asked.edit_id, asked.actor, change.label, since, operations, seen, asked.choices)
    stepped = _write(session, kept, edit, way, change.id)
    if stepped.revision == kept.revision:
        change.standing = "spent"
    return stepped, change.label


def _left_by(operations: Sequence[Operation]) -> dict[str, Element | None]:
    """Return what operations leave of every element they name."""
    return {id_of(step): step.element if isinstance(step, Put) else None for step in operations}


def _undone_at(session: Session, change: ChangeRow) -> int:
    steps = select(func.max(ChangeRow.revision)).where(
        ChangeRow.job_id == change.job_id, ChangeRow.way == "undo", ChangeRow.target == change.id
    )
    return session.scalar(steps) or change.revision
