"""Pictures of jobs, each kept once."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from heathrise.store.jobs import NoSuchJob, revision_of
from heathrise.store.tables import AttachmentRow


def keep_attachment(session: Session, row: AttachmentRow) -> str:
    """Keep a picture; the same picture of the same job is kept once. Returns its id."""
    revision_of(session, row.job_id)
    same = session.scalar(
        select(AttachmentRow.id).where(AttachmentRow.job_id == row.job_id, AttachmentRow.sha256 == row.sha256)
    )
    if same is not None:
        return same
    session.add(row)
    session.flush()
    return row.id


def attachments(session: Session, job_id: str) -> list[AttachmentRow]:
    """Return every picture of a job."""
    return list(session.scalars(select(AttachmentRow).where(AttachmentRow.job_id == job_id)))


def attachment(session: Session, job_id: str, attachment_id: str) -> AttachmentRow:
    """Return a picture of a job. Raises NoSuchJob when it has none of that id."""
    row = session.get(AttachmentRow, (job_id, attachment_id))
    if row is None:
        raise NoSuchJob(attachment_id)
    return row
