"""Jobs in the database: listing, making, loading, and the one door through which they change."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import delete, func, insert, literal, select, text, update
from sqlalchemy.orm import Session
from uuid6 import uuid7

from heathrise.core.edit import Operation, Put
from heathrise.core.job import ELEMENT, Element, Job
from heathrise.store.tables import AttachmentRow, ChangeRow, ElementRow, JobRow

OPERATIONS: TypeAdapter[tuple[Operation, ...]] = TypeAdapter(tuple[Operation, ...])


# A job in the bin is forgotten after this.
BIN_DAYS = 30
NAME_CHARS = 80


class NoSuchJob(LookupError):
    """There is no job of that id."""


class InBin(NoSuchJob):
    """The job lies in the bin; it can be put back."""


@dataclass(frozen=True)
class Kept:
    """A job as it is kept."""

    id: str
    revision: int
    job: Job


@dataclass(frozen=True)
class Listed:
    """A job in the list; one in the bin is forgotten after `until`."""

    id: str
    name: str
    revision: int
    elements: int
    changed: datetime
    binned: datetime | None = None
    until: datetime | None = None
    archived: bool = False
    faults: int | None = None
    warnings: int | None = None


def new_id() -> str:
    """Return a fresh id, ordered by time."""
    return str(uuid7())


def list_jobs(session: Session, binned: bool = False) -> list[Listed]:
    """Return every job, or every job in the bin, the latest change first."""
    count = select(func.count()).where(ElementRow.job_id == JobRow.id).correlate(JobRow).scalar_subquery()
    where = JobRow.binned.is_not(None) if binned else JobRow.binned.is_(None)
    rows = session.execute(
        select(JobRow, count).where(where).order_by(JobRow.changed.desc(), JobRow.id.desc())
    )
    return [
        Listed(
            row.id,
            row.name,
            row.revision,
            elements,
            _utc(row.changed),
            *_in_bin(row),
            archived=row.archived is not None,
            faults=row.faults,
            warnings=row.warnings,
        )
        for row, elements in rows
    ]


def _in_bin(row: JobRow) -> tuple[datetime | None, datetime | None]:
    """Return since when and until when a job lies in the bin."""
    since = None if row.binned is None else _utc(row.binned)
    return since, since and since + timedelta(days=BIN_DAYS)


def _utc(kept: datetime) -> datetime:
    """Return a moment the database keeps without its zone, which is this."""
    return kept.replace(tzinfo=UTC)


def create_job(session: Session, job: Job) -> Kept:
    """Keep a new job and return it at revision 0."""
    row = JobRow(id=new_id(), name=job.name, revision=0)
    session.add(row)
    session.flush()
    session.add_all(_row(row.id, element, 0) for element in job.elements)
    session.flush()
    return Kept(row.id, 0, job)


def bin_job(session: Session, job_id: str) -> None:
    """Put a job in the bin with all that belongs to it, its history too. Raises NoSuchJob."""
    revision_of(session, job_id, lock=True)
    # `changed` stays: putting away is no work on the job.
    session.execute(
        update(JobRow).where(JobRow.id == job_id).values(binned=func.now(), changed=JobRow.changed)
    )
    forget_old(session)


def rename_job(session: Session, job_id: str, name: str) -> None:
    """Give a job another name. Raises InBin or NoSuchJob.

    A revision of its own, so that whoever holds the job reads it anew.
    """
    revision_of(session, job_id, lock=True)
    session.execute(update(JobRow).where(JobRow.id == job_id).values(name=name, revision=JobRow.revision + 1))


def archive_job(session: Session, job_id: str, archived: bool) -> None:
    """Put a job among those that are done with, or back among the others. Raises InBin or NoSuchJob."""
    revision_of(session, job_id, lock=True)
    since = func.now() if archived else None
    session.execute(update(JobRow).where(JobRow.id == job_id).values(archived=since, changed=JobRow.changed))


def note_findings(session: Session, job_id: str, faults: int, warnings: int) -> None:
    """Keep how many findings a job has open, for the list of jobs."""
    values = {"faults": faults, "warnings": warnings, "changed": JobRow.changed}
    session.execute(update(JobRow).where(JobRow.id == job_id).values(values))


def copy_job(session: Session, job_id: str) -> Kept:
    """Make a job of its own of a job as it stands, pictures too, without its history and without what was written down on
    the other's site. Raises InBin or NoSuchJob.
    """
    kept = load_job(session, job_id)
    name = f"{kept.job.name[: NAME_CHARS - 7]} (copy)"
    made = create_job(session, Job.model_construct(name=name, elements=kept.job.elements))
    columns = [column for column in AttachmentRow.__table__.columns if column.name != "job_id"]
    copied = select(literal(made.id), *columns).where(AttachmentRow.job_id == job_id)
    session.execute(insert(AttachmentRow).from_select(["job_id", *(c.name for c in columns)], copied))
    return made


def elements_of(session: Session, job_id: str, kinds: Iterable[str]) -> list[dict[str, Any]]:
    """Return the bodies of the elements of some kinds of a job, unchecked. Raises InBin or NoSuchJob."""
    revision_of(session, job_id)
    query = select(ElementRow.body).where(ElementRow.job_id == job_id, ElementRow.kind.in_(tuple(kinds)))
    return list(session.scalars(query))


def must_be_binned(session: Session, job_id: str) -> None:
    """Raise NoSuchJob unless a job lies in the bin; nobody else takes it out until the transaction ends."""
    query = select(JobRow.id).where(JobRow.id == job_id, JobRow.binned.is_not(None))
    if session.scalar(query.with_for_update()) is None:
        raise NoSuchJob(job_id)


def put_back(session: Session, job_id: str) -> None:
    """Take a job out of the bin. Raises NoSuchJob when it is not there."""
    must_be_binned(session, job_id)
    session.execute(update(JobRow).where(JobRow.id == job_id).values(binned=None, changed=JobRow.changed))


def forget_job(session: Session, job_id: str) -> None:
    """Forget a job that lies in the bin, for good. Raises NoSuchJob when it is not there."""
    must_be_binned(session, job_id)
    session.execute(delete(JobRow).where(JobRow.id == job_id))


def forget_old(session: Session) -> None:
    """Forget what has lain in the bin for its days."""
    session.execute(delete(JobRow).where(JobRow.binned < func.now() - text(f"interval {BIN_DAYS} day")))


def _row(job_id: str, element: Element, version: int) -> ElementRow:
    body = element.model_dump(mode="json")
    return ElementRow(job_id=job_id, id=element.id, kind=element.kind, version=version, body=body)


def revision_of(session: Session, job_id: str, lock: bool = False) -> int:
    """Return a job's revision; with `lock` nobody else changes it until the transaction ends.

    Raises
    ------
    InBin, NoSuchJob
        As their names say.
    """
    query = select(JobRow.revision, JobRow.binned).where(JobRow.id == job_id)
    row = session.execute(query.with_for_update() if lock else query).one_or_none()
    _check_there(job_id, row)
    return int(row.revision)  # type: ignore[union-attr]


def _check_there(job_id: str, row: Any) -> None:
    if row is None:
        raise NoSuchJob(job_id)
    if row.binned is not None:
        raise InBin(job_id)


def revisions_of(session: Session, job_ids: Iterable[str]) -> dict[str, int]:
    """Return the revisions of those of the jobs that are there."""
    query = select(JobRow.id, JobRow.revision).where(JobRow.id.in_(tuple(job_ids)), JobRow.binned.is_(None))
    return {row.id: row.revision for row in session.execute(query)}


def load_job(session: Session, job_id: str, lock: bool = False) -> Kept:
    """Return a job; with `lock` nobody else changes it until the transaction ends."""
    query = select(JobRow).where(JobRow.id == job_id)
    row = session.scalar(query.with_for_update() if lock else query)
    _check_there(job_id, row)
    assert row is not None
    bodies = session.scalars(select(ElementRow.body).where(ElementRow.job_id == job_id))
    # Checked when it was written; building it again without the checks keeps a click quick.
    elements = tuple(sorted(map(ELEMENT.validate_python, bodies), key=lambda e: (e.order, e.id)))
    return Kept(row.id, row.revision, Job.model_construct(name=row.name, elements=elements))


def changes_since(session: Session, job_id: str, revision: int) -> list[tuple[int, list[dict[str, Any]]]]:
    """Return (revision, operations) of every change after a revision, oldest first, without their inverses."""
    later = select(ChangeRow.revision, ChangeRow.operations).where(
        ChangeRow.job_id == job_id, ChangeRow.revision > revision
    )
    return [(row.revision, row.operations) for row in session.execute(later.order_by(ChangeRow.revision))]


def told_since(
    session: Session, job_id: str, since: int, revision: int, most: int
) -> list[list[dict[str, Any]]] | None:
    """Return the operations of every change after a revision up to another, oldest first.

    None when the history does not have them all, or when they are more than `most`.
    """
    if not 0 <= revision - since <= most:
        return None
    later = [(n, steps) for n, steps in changes_since(session, job_id, since) if n <= revision]
    whole = [n for n, _ in later] == list(range(since + 1, revision + 1))
    return [steps for _, steps in later] if whole else None


def caught_up(session: Session, known: Kept, lock: bool = False) -> Kept:
    """Return a known job at its newest revision, reading only what came since; the rest is shared.

    A job whose history does not reach back (a backup was put back) is loaded whole. Raises NoSuchJob.
    """
    revision = revision_of(session, known.id, lock)
    if revision == known.revision:
        return known
    later = changes_since(session, known.id, known.revision) if revision > known.revision else []
    if [number for number, _ in later] != list(range(known.revision + 1, revision + 1)):
        return load_job(session, known.id, lock)
    elements = dict(known.job.by_id)
    for _, steps in later:
        for step in OPERATIONS.validate_python(steps):
            if isinstance(step, Put):
                elements[step.element.id] = step.element
            else:
                elements.pop(step.id, None)
    job = Job.model_construct(name=known.job.name, elements=tuple(elements.values()))
    return Kept(known.id, revision, job)
