"""Hand-overs of a job: begun, made file by file, signed and frozen. A stopped one has no number and no files."""

import hashlib
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, undefer

from heathrise.store.imports import now
from heathrise.store.jobs import NoSuchJob, new_id, revision_of
from heathrise.store.tables import EditionFileRow, EditionRow


@dataclass(frozen=True)
class FileKept:
    """A file of a hand-over without its body."""

    name: str
    kind: str
    size: int
    sha256: str


def begin(session: Session, job_id: str, parts: list[str], signing: dict[str, Any]) -> EditionRow:
    """Begin a hand-over at the job's revision, with the next number; what was begun before and not signed is stopped.

    Raises
    ------
    InBin, NoSuchJob
        As their names say.
    """
    revision = revision_of(session, job_id, lock=True)
    for row in session.scalars(
        select(EditionRow).where(EditionRow.job_id == job_id, EditionRow.state == "making")
    ):
        stop(session, row)
    session.flush()
    last = session.scalar(select(func.max(EditionRow.number)).where(EditionRow.job_id == job_id)) or 0
    row = EditionRow(
        id=new_id(),
        job_id=job_id,
        number=last + 1,
        revision=revision,
        parts=parts,
        signing=signing,
        created=now(session),
    )
    session.add(row)
    session.flush()
    return row


def find(session: Session, job_id: str, edition_id: str) -> EditionRow:
    """Return a hand-over. Raises NoSuchJob when the job has none of that id."""
    row = session.get(EditionRow, edition_id, with_for_update=True)
    if row is None or row.job_id != job_id:
        raise NoSuchJob(edition_id)
    return row


def every(session: Session, job_id: str) -> list[EditionRow]:
    """Return the hand-overs of a job that are signed or being made, the newest first."""
    query = select(EditionRow).where(EditionRow.job_id == job_id, EditionRow.state != "stopped")
    return list(session.scalars(query.order_by(EditionRow.created.desc())))


def files(session: Session, edition_id: str) -> list[FileKept]:
    """Return the files of a hand-over, without their bodies."""
    columns = EditionFileRow.name, EditionFileRow.kind, EditionFileRow.size, EditionFileRow.sha256
    return [
        FileKept(*row)
        for row in session.execute(select(*columns).where(EditionFileRow.edition_id == edition_id))
    ]


def keep_file(session: Session, edition_id: str, name: str, kind: str, body: bytes) -> None:
    """Keep a file of a hand-over."""
    session.add(
        EditionFileRow(
            edition_id=edition_id,
            name=name,
            kind=kind[:120],
            sha256=hashlib.sha256(body).hexdigest(),
            size=len(body),
            body=body,
        )
    )
    session.flush()


def file(session: Session, edition_id: str, name: str) -> EditionFileRow:
    """Return a file of a hand-over. Raises NoSuchJob when there is none of that name."""
    row = session.get(EditionFileRow, (edition_id, name), options=[undefer(EditionFileRow.body)])
    if row is None:
        raise NoSuchJob(name)
    return row


def bodies(session: Session, edition_id: str) -> list[EditionFileRow]:
    """Return the files of a hand-over with their bodies, in the order of their names."""
    query = select(EditionFileRow).where(EditionFileRow.edition_id == edition_id)
    return list(session.scalars(query.options(undefer(EditionFileRow.body)).order_by(EditionFileRow.name)))


def anew(session: Session, row: EditionRow, revision: int) -> None:
    """Begin the files of a hand-over again: the job is another than when the first of them were made."""
    session.execute(delete(EditionFileRow).where(EditionFileRow.edition_id == row.id))
    row.revision = revision


def stop(session: Session, row: EditionRow) -> None:
    """Stop a hand-over that is not signed; its number is free again."""
    session.execute(delete(EditionFileRow).where(EditionFileRow.edition_id == row.id))
    row.state, row.number = "stopped", None


def sign(session: Session, row: EditionRow) -> datetime:
    """Freeze a hand-over."""
    row.state, row.signed = "signed", now(session)
    return row.signed
