"""Files being read for a job: kept with their state, so that any process can show or stop them."""

import zlib
from datetime import datetime, timedelta

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session, undefer

from heathrise.store.jobs import NoSuchJob, new_id, revision_of
from heathrise.store.tables import FirmChoice, ImportRow

# A reader that has not been heard of for so long is gone.
LOST_AFTER = timedelta(seconds=20)
# Files nobody accepted or rejected are forgotten after this.
_FORGOTTEN_AFTER = timedelta(days=7)


def now(session: Session) -> datetime:
    """Return the database's clock, the one all processes share."""
    found = session.scalar(select(func.now(3)))
    if not isinstance(found, datetime):
        raise TypeError("the database has no clock")
    return found


def begin(session: Session, job_id: str, name: str, body: bytes, asked: dict[str, object]) -> ImportRow:
    """Keep a file that is to be read. Raises NoSuchJob."""
    revision_of(session, job_id)
    at = now(session)
    session.execute(delete(ImportRow).where(ImportRow.created < at - _FORGOTTEN_AFTER))
    row = ImportRow(id=new_id(), job_id=job_id, name=name[:200], body=body, asked=asked, beat=at)
    session.add(row)
    session.flush()
    return row


def find(session: Session, job_id: str, import_id: str, with_result: bool = False) -> ImportRow:
    """Return a file being read. Raises NoSuchJob when the job has none of that id."""
    options = (undefer(ImportRow.result), undefer(ImportRow.png)) if with_result else ()
    row = session.get(ImportRow, import_id, options=options)
    if row is None or row.job_id != job_id:
        raise NoSuchJob(import_id)
    return row


def again(session: Session, row: ImportRow, asked: dict[str, object]) -> None:
    """Ask for a file to be read once more, otherwise; what it showed before stays until that is done."""
    row.asked = asked
    row.turn += 1
    row.state, row.share, row.doing = "running", 0.0, "waiting"
    row.beat = now(session)


def back(row: ImportRow) -> bool:
    """Return to what a file showed before it was asked to be read again; False when there is no such reading."""
    if row.result is None:
        return False
    # A reader that is still at it has no turn any more.
    row.turn += 1
    row.state, row.share, row.doing = "done", 1.0, ""
    return True


def beat(session: Session, import_id: str, turn: int, share: float, doing: str) -> bool:
    """Say how far a reader is; False when nobody waits for this reading any more."""
    done = session.execute(
        update(ImportRow)
        .where(ImportRow.id == import_id, ImportRow.turn == turn, ImportRow.state == "running")
        .values(share=share, doing=doing[:200], beat=func.now(3))
    )
    return bool(done.rowcount)  # type: ignore[attr-defined]


def finish(session: Session, import_id: str, turn: int, reading_json: str, png: bytes | None) -> None:
    """Keep what was read, unless it was cancelled or asked anew."""
    session.execute(
        update(ImportRow)
        .where(ImportRow.id == import_id, ImportRow.turn == turn)
        .values(state="done", share=1.0, doing="", result=zlib.compress(reading_json.encode()), png=png)
    )


def fail(session: Session, import_id: str, turn: int, why: str) -> None:
    """Say why a file could not be read."""
    session.execute(
        update(ImportRow)
        .where(ImportRow.id == import_id, ImportRow.turn == turn, ImportRow.state == "running")
        .values(state="failed", doing=why[:200])
    )


def reading_json(row: ImportRow) -> str | None:
    """Return what was read, as it was written."""
    return None if row.result is None else zlib.decompress(row.result).decode()


def forget(session: Session, job_id: str, import_id: str) -> None:
    """Drop a file; a reader that is still at it stops at its next beat."""
    session.delete(find(session, job_id, import_id))


def is_lost(session: Session, row: ImportRow) -> bool:
    """Return whether a running reader has not been heard of for too long."""
    return row.state == "running" and now(session) - row.beat > LOST_AFTER


def choices(session: Session, topic: str) -> dict[str, object]:
    """Return what the firm chose under a topic."""
    rows = session.scalars(select(FirmChoice).where(FirmChoice.topic == topic))
    return {row.name: row.value for row in rows}


def choose(session: Session, topic: str, chosen: dict[str, object]) -> None:
    """Remember choices of the firm."""
    for name, value in chosen.items():
        row = session.get(FirmChoice, (topic, name[:120]))
        if row is None:
            session.add(FirmChoice(topic=topic, name=name[:120], value=value))
        else:
            row.value = value
    session.flush()
