"""What was written down on site: rows that only ever come. A batch counts the job's revision up once, as an edit does, so
that every window hears of it; it changes no element and stands in nobody's way to undo.
"""

import uuid
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime, timedelta

from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session, undefer

from heathrise.core.job import Photo, Record
from heathrise.store.edits import batched
from heathrise.store.imports import now
from heathrise.store.jobs import NoSuchJob, revision_of
from heathrise.store.tables import ChangeRow, JobRow, PhotoRow, RecordRow

# A device's clock is taken for right when it is off by less.
_CLOCK_IS_RIGHT = timedelta(seconds=5)
_AT_ONCE = 200
_SEEN_WITH_A_JOB = "came with the job"


def clock_off(session: Session, sent_at: datetime | None) -> timedelta:
    """Return how far a device's clock is behind ours, by when it says it sends; nothing where it is near enough."""
    if sent_at is None:
        return timedelta()
    off = now(session).replace(tzinfo=UTC) - sent_at
    return timedelta() if abs(off) < _CLOCK_IS_RIGHT else off


def keep_records(
    session: Session, job_id: str, records: Sequence[Record], device: str, off: timedelta = timedelta()
) -> int:
    """Keep what was written down and return how many of it are new: what came before is not kept twice.

    `off` is how far the device's clock is behind ours. What a device says it wrote in our future is dated now.

    Raises
    ------
    InBin, NoSuchJob
        As their names say.
    """
    revision = revision_of(session, job_id, lock=True)
    new = _not_yet(session, job_id, records)
    if not new:
        return 0
    latest = now(session)
    rows = [_row(job_id, record, device, off, latest) for record in new]
    for some in batched(rows, _AT_ONCE):
        session.execute(insert(RecordRow), list(some))
    row = session.get_one(JobRow, job_id)
    row.revision = revision + 1
    row.changed = func.now()
    ids = "".join(record.id for record in new)
    session.add(
        ChangeRow(
            job_id=job_id,
            revision=revision + 1,
            actor=device or new[0].id,
            edit_id=str(uuid.uuid5(uuid.UUID(job_id), ids)),
            label=f"{len(new)} written down on site" if len(new) > 1 else "Written down on site",
            way="edit",
            target=None,
            standing=None,
            operations=[],
            inverse=[],
        )
    )
    session.flush()
    return len(new)


def bring_records(session: Session, job_id: str, records: Sequence[Record]) -> None:
    """Keep the records a new job comes with; its revision stays."""
    latest = now(session)
    for some in batched(records, _AT_ONCE):
        rows = [_row(job_id, record, _SEEN_WITH_A_JOB, timedelta(), latest) for record in some]
        session.execute(insert(RecordRow), rows)


def _not_yet(session: Session, job_id: str, records: Iterable[Record]) -> list[Record]:
    by_id = {record.id: record for record in records}
    known: set[str] = set()
    for some in batched(by_id, _AT_ONCE):
        query = select(RecordRow.id).where(RecordRow.job_id == job_id, RecordRow.id.in_(some))
        known |= set(session.scalars(query))
    return [record for key, record in by_id.items() if key not in known]


def _row(job_id: str, record: Record, device: str, off: timedelta, latest: datetime) -> dict[str, object]:
    at = min((record.at or record.said_at + off).astimezone(UTC).replace(tzinfo=None), latest)
    return {
        "job_id": job_id,
        "id": record.id,
        "kind": record.kind,
        "subject": record.subject,
        "task": record.task,
        "about": record.about,
        "by": record.by,
        "device": device,
        "said_at": record.said_at.astimezone(UTC).replace(tzinfo=None),
        "at": at,
        "text": record.text,
        "number": record.number,
        "photo": record.photo,
        "measured": record.measured.model_dump(mode="json") if record.measured is not None else None,
    }


def count_of(session: Session, job_id: str) -> int:
    """Return how many records a job has."""
    return session.scalar(select(func.count()).where(RecordRow.job_id == job_id)) or 0


def records_since(session: Session, job_id: str, seq: int) -> tuple[list[Record], int]:
    """Return (the records that came after one, in the order they came; the number of the last)."""
    rows = session.scalars(
        select(RecordRow).where(RecordRow.job_id == job_id, RecordRow.seq > seq).order_by(RecordRow.seq)
    ).all()
    return [_record(row) for row in rows], rows[-1].seq if rows else seq


def _record(row: RecordRow) -> Record:
    return Record.model_validate(
        {
            "id": row.id,
            "kind": row.kind,
            "subject": row.subject,
            "task": row.task,
            "about": row.about,
            "by": row.by,
            "said_at": row.said_at.replace(tzinfo=UTC),
            "at": row.at.replace(tzinfo=UTC),
            "text": row.text,
            "number": row.number,
            "photo": row.photo,
            "measured": row.measured,
        }
    )


def keep_photo(session: Session, row: PhotoRow) -> None:
    """Keep a photograph; one that came before is kept once. Raises InBin, NoSuchJob."""
    revision_of(session, row.job_id)
    if session.get(PhotoRow, (row.job_id, row.id)) is None:
        session.add(row)
        session.flush()


def photo(session: Session, job_id: str, photo_id: str) -> PhotoRow:
    """Return a photograph. Raises NoSuchJob when the job has none of that id."""
    row = session.get(PhotoRow, (job_id, photo_id), options=[undefer(PhotoRow.body)])
    if row is None:
        raise NoSuchJob(photo_id)
    return row


def photos(session: Session, job_id: str) -> list[Photo]:
    """Return every photograph of a job."""
    rows = session.scalars(select(PhotoRow).where(PhotoRow.job_id == job_id).options(undefer(PhotoRow.body)))
    return [Photo.model_construct(id=row.id, jpeg=row.body) for row in rows]
