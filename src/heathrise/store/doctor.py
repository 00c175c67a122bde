"""Checks a kept job against its change log: what stands there is what the changes left, and holds together."""

from collections.abc import Iterator
from typing import Any

from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from heathrise.core.job import ELEMENT, BrokenReference, Job
from heathrise.store.tables import ChangeRow, ElementRow, JobRow

Body = dict[str, Any]
# As many complaints say enough of one job.
_ENOUGH = 20


def examine(session: Session, job_id: str) -> list[str]:
    """Return what is wrong with a job, in words; nothing for a sound one. Raises nothing over the job's content."""
    job = session.get_one(JobRow, job_id)
    rows = session.scalars(select(ElementRow).where(ElementRow.job_id == job_id)).all()
    found = [
        *_broken(job.name, rows),
        *_ahead(job, rows),
        *_numbering(session, job),
        *_against_log(session, job, rows),
    ]
    return found[:_ENOUGH]


def job_ids(session: Session) -> list[tuple[str, str]]:
    """Return (id, name) of every job, those in the bin too."""
    return [(row.id, row.name) for row in session.execute(select(JobRow.id, JobRow.name).order_by(JobRow.id))]


def _broken(name: str, rows: Any) -> Iterator[str]:
    """Say which elements no longer are what they should be, or name what is not there."""
    sound = []
    for row in rows:
        try:
            element = ELEMENT.validate_python(row.body)
        except ValidationError as error:
            yield f"element {row.id} ({row.kind}) is broken: {error.error_count()} fields"
            continue
        if element.id != row.id or element.kind != row.kind:
            yield f"element {row.id} ({row.kind}) holds {element.id} ({element.kind})"
        sound.append(element)
    whole = Job.model_construct(name=name, elements=tuple(sound))
    for element in sound:
        try:
            whole.check_references([element])
        except BrokenReference as error:
            yield str(error)


def _ahead(job: JobRow, rows: Any) -> Iterator[str]:
    late = sum(row.version > job.revision for row in rows)
    if late:
        yield f"{late} elements are of a later revision than the job's {job.revision}"


def _numbering(session: Session, job: JobRow) -> Iterator[str]:
    last = session.scalar(select(func.max(ChangeRow.revision)).where(ChangeRow.job_id == job.id)) or 0
    if last > job.revision:
        yield f"the change log goes on to revision {last}, the job is at {job.revision}"


def _against_log(session: Session, job: JobRow, rows: Any) -> Iterator[str]:
    """Go back through the log: what each change left has to be there, until the change before is all that counts."""
    now: dict[str, Body | None] = {row.id: _as_is(row.body) for row in rows}
    log = select(ChangeRow.revision, ChangeRow.operations, ChangeRow.inverse)
    for change in session.execute(log.where(ChangeRow.job_id == job.id).order_by(ChangeRow.revision.desc())):
        left, before = _left(change.operations), _left(change.inverse)
        for key, body in left.items():
            if now.get(key) != body:
                yield f"element {key} is not as the change of revision {change.revision} left it"
        if left.keys() != before.keys():
            yield f"the change of revision {change.revision} cannot be undone: its inverse names other elements"
        now |= before


def _left(steps: list[dict[str, Any]]) -> dict[str, Body | None]:
    """Return what steps leave of every element they name, None of one they remove."""
    return {
        step["id"] if step["op"] == "remove" else step["element"]["id"]: (
            None if step["op"] == "remove" else _as_is(step["element"])
        )
        for step in steps
    }


def _as_is(body: Body) -> Body:
    """Return a body as this release reads it: a field that is new since has its default on both sides."""
    try:
        return ELEMENT.validate_python(body).model_dump(mode="json")
    except ValidationError:
        return body
