"""Jobs in the database: listing, making, loading, and the one door through which they change."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from heathrise.core.edit import Operation, Put
from heathrise.core.job import ELEMENT, Element, Job
from heathrise.store.tables import ChangeRow, ElementRow, JobRow

OPERATIONS: TypeAdapter[tuple[Operation, ...]] = TypeAdapter(tuple[Operation, ...])


class NoSuchJob(LookupError):
    """There is no job of that id."""


@dataclass(frozen=True)
class Kept:
    """A job as it is kept."""

    id: str
    revision: int
    job: Job


@dataclass(frozen=True)
class Listed:
    """A job in the list."""

    id: str
    name: str
    revision: int
    elements: int
    changed: datetime


def new_id() -> str:
    """Return a fresh id, ordered by time."""
    return str(uuid7())


def list_jobs(session: Session) -> list[Listed]:
    """Return every job, the latest change first."""
    count = select(func.count()).where(ElementRow.job_id == JobRow.id).correlate(JobRow).scalar_subquery()
    rows = session.execute(select(JobRow, count).order_by(JobRow.changed.desc(), JobRow.id.desc()))
    return [Listed(row.id, row.name, row.revision, elements, row.changed) for row, elements in rows]


def create_job(session: Session, job: Job) -> Kept:
    """Keep a new job and return it at revision 0."""
    row = JobRow(id=new_id(), name=job.name, revision=0)
    session.add(row)
    session.flush()
    session.add_all(_row(row.id, element, 0) for element in job.elements)
    return Kept(row.id, 0, job)


def delete_job(session: Session, job_id: str) -> None:
    """Forget a job and all that belongs to it. Raises NoSuchJob."""
    if session.execute(delete(JobRow).where(JobRow.id == job_id)).rowcount == 0:  # type: ignore[attr-defined]
        raise NoSuchJob(job_id)


def _row(job_id: str, element: Element, version: int) -> ElementRow:
    body = element.model_dump(mode="json")
    return ElementRow(job_id=job_id, id=element.id, kind=element.kind, version=version, body=body)


def revision_of(session: Session, job_id: str, lock: bool = False) -> int:
    """Return a job's revision; with `lock` nobody else changes it until the transaction ends. Raises NoSuchJob."""
    query = select(JobRow.revision).where(JobRow.id == job_id)
    revision = session.scalar(query.with_for_update() if lock else query)
    if revision is None:
        raise NoSuchJob(job_id)
    return revision


def load_job(session: Session, job_id: str, lock: bool = False) -> Kept:
    """Return a job; with `lock` nobody else changes it until the transaction ends."""
    query = select(JobRow).where(JobRow.id == job_id)
    row = session.scalar(query.with_for_update() if lock else query)
    if row is None:
        raise NoSuchJob(job_id)
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
