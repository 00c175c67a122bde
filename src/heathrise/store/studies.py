"""Studies of jobs: kept with their state and what was found, so that any process can show or stop them."""

import zlib
from datetime import timedelta

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session, undefer

from heathrise.store.imports import now
from heathrise.store.jobs import NoSuchJob, new_id
from heathrise.store.tables import StudyRow

# A study that has not been heard of for so long is gone.
LOST_AFTER = timedelta(seconds=20)
# So many studies of a job and kind are kept.
_KEPT = 5


def begin(session: Session, job_id: str, kind: str, asked: dict[str, object], revision: int) -> StudyRow:
    """Keep a study that is to be worked on; older ones of its kind are forgotten beyond a few."""
    at = now(session)
    row = StudyRow(id=new_id(), job_id=job_id, kind=kind, asked=asked, revision=revision, beat=at, created=at)
    session.add(row)
    session.flush()
    mine = select(StudyRow.id).where(StudyRow.job_id == job_id, StudyRow.kind == kind)
    old = session.scalars(mine.order_by(StudyRow.created.desc(), StudyRow.id.desc()).offset(_KEPT)).all()
    session.execute(delete(StudyRow).where(StudyRow.id.in_(old)))
    return row


def find(session: Session, job_id: str, study_id: str) -> StudyRow:
    """Return a study with what it found. Raises NoSuchJob when the job has none of that id."""
    row = session.get(StudyRow, study_id, options=(undefer(StudyRow.result),))
    if row is None or row.job_id != job_id:
        raise NoSuchJob(study_id)
    return row


def latest(session: Session, job_id: str) -> list[StudyRow]:
    """Return the last study of each kind of a job, newest first."""
    wanted = select(StudyRow).where(StudyRow.job_id == job_id).order_by(StudyRow.created.desc())
    seen: dict[str, StudyRow] = {}
    for row in session.scalars(wanted.options(undefer(StudyRow.result))):
        seen.setdefault(row.kind, row)
    return list(seen.values())


def beat(session: Session, study_id: str, share: float, doing: str, found_json: str | None) -> bool:
    """Say how far a study is and what it has found; False when nobody waits for it any more."""
    values: dict[str, object] = {"share": share, "doing": doing[:200], "beat": func.now(3)}
    if found_json is not None:
        values["result"] = zlib.compress(found_json.encode())
    done = session.execute(
        update(StudyRow).where(StudyRow.id == study_id, StudyRow.state == "running").values(**values)
    )
    return bool(done.rowcount)  # type: ignore[attr-defined]


def end(session: Session, study_id: str, state: str, doing: str = "") -> None:
    """Say that a running study is done, failed or stopped."""
    session.execute(
        update(StudyRow)
        .where(StudyRow.id == study_id, StudyRow.state == "running")
        .values(state=state, doing=doing[:200], share=1.0 if state == "done" else StudyRow.share)
    )


def found_json(row: StudyRow) -> str | None:
    """Return what was found, as it was written."""
    return None if row.result is None else zlib.decompress(row.result).decode()


def is_lost(session: Session, row: StudyRow) -> bool:
    """Return whether a running study has not been heard of for too long."""
    return row.state == "running" and now(session) - row.beat > LOST_AFTER
