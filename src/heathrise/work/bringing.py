"""A job file brought in: read, checked and kept in a process with bounds; only its name and number come back."""

import hashlib
from typing import NamedTuple

from sqlalchemy.orm import Session

from heathrise.core.job import Attachment, Job
from heathrise.exchange.jobfile import read_job
from heathrise.exchange.pictures import read_photo, read_picture
from heathrise.exchange.words import one_line
from heathrise.store import attachments, onsite
from heathrise.store.database import Database
from heathrise.store.jobs import create_job
from heathrise.store.tables import AttachmentRow, PhotoRow


class Brought(NamedTuple):
    """A job that was made of a file."""

    id: str
    name: str
    elements: int


def bring_in(database_url: str, body: bytes, megapixels: int) -> Brought:
    """Make a job of a job file, its pictures encoded anew. Raises NotAJobFile, NotAPicture."""
    job = read_job(body)
    photos = [photo_row("", item.id, item.jpeg, megapixels) for item in job.photos]
    rows = [picture_row("", item.id, item.name, item.png, megapixels)[0] for item in job.attachments]
    database = Database(database_url)
    with database.transaction() as session:
        kept = create_job(session, job.model_copy(update={"attachments": (), "photos": ()}))
        onsite.bring_records(session, kept.id, job.records)
        for row in rows:
            row.job_id = kept.id
            attachments.keep_attachment(session, row)
        for photo in photos:
            photo.job_id = kept.id
            onsite.keep_photo(session, photo)
    database.engine.dispose()
    return Brought(kept.id, job.name, len(job.elements))


def whole_job(session: Session, job_id: str, job: Job) -> Job:
    """Return a job with all that travels in its file: pictures, what was written down on site, photographs."""
    rows = attachments.attachments(session, job_id)
    records, _ = onsite.records_since(session, job_id, 0)
    return job.model_copy(
        update={
            "attachments": tuple(
                Attachment.model_construct(id=row.id, name=row.name, png=row.body) for row in rows
            ),
            "records": tuple(records),
            "photos": tuple(onsite.photos(session, job_id)),
        }
    )


def photo_row(job_id: str, photo_id: str, body: bytes, megapixels: int) -> PhotoRow:
    """Return a photograph as it is kept: upright, no larger than is looked at, encoded anew. Raises NotAPicture."""
    made = read_photo(body, megapixels)
    return PhotoRow(
        job_id=job_id, id=photo_id, width_px=made.width_px, height_px=made.height_px, body=made.jpeg
    )


def picture_row(
    job_id: str, attachment_id: str, name: str, body: bytes, megapixels: int, page: int = 1
) -> tuple[AttachmentRow, int]:
    """Return a picture as it is kept, and how many pages its file has. Raises NotAPicture."""
    picture = read_picture(body, megapixels, page)
    row = AttachmentRow(
        id=attachment_id,
        job_id=job_id,
        name=one_line(name, ""),
        sha256=hashlib.sha256(picture.png).hexdigest(),
        width_px=picture.width_px,
        height_px=picture.height_px,
        body=picture.png,
    )
    return row, picture.pages
