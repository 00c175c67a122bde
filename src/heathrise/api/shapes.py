"""Requests and answers of the API that are not nouns of the core already."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from heathrise.core.edit import Operation
from heathrise.core.job import Element, Id, Label
from heathrise.core.sums import Noun


class JobPath(Noun):
    """A job's address."""

    job_id: Id


class PicturePath(Noun):
    """A picture's address."""

    job_id: Id
    picture_id: Id


class SincePath(Noun):
    """A job and a revision of it."""

    job_id: Id
    revision: int = Field(ge=0)


class Problem(Noun):
    """A problem document, RFC 9457."""

    type: str
    title: str
    status: int
    detail: str
    where: tuple[str, ...] = ()
    element_id: str | None = None
    theirs: Element | None = None
    mine: Element | None = None


class JobListed(Noun):
    """A job in the list."""

    id: Id
    name: str
    revision: int
    elements: int
    changed: datetime


class JobList(Noun):
    """Every job, the latest change first."""

    jobs: tuple[JobListed, ...]


class NewJob(Noun):
    """What a new job starts from."""

    name: Label
    site_kind: Literal["school", "home", "clinic", "office", "shop"] = "office"


class JobState(Noun):
    """A job as it stands."""

    id: Id
    name: str
    revision: int
    elements: tuple[Element, ...]


class EditRequest(Noun):
    """One edit. `edit_id` makes sending it twice harmless; `actor` is this browser."""

    edit_id: Id
    actor: Id
    label: Annotated[str, StringConstraints(max_length=120)]
    base_revision: int = Field(ge=0)
    operations: tuple[Operation, ...] = Field(min_length=1, max_length=20_000)


class StepRequest(Noun):
    """Whose change to undo or redo."""

    actor: Id


class ActorQuery(Noun):
    """Whose history."""

    actor: Id


class EditAnswer(Noun):
    """What was done since the revision the browser had."""

    revision: int
    label: str
    operations: tuple[Operation, ...]
    can_undo: bool
    can_redo: bool


class HistoryAnswer(Noun):
    """Whether there is something to undo and redo."""

    can_undo: bool
    can_redo: bool


class PictureAnswer(Noun):
    """A picture that was kept."""

    attachment_id: Id
    width_px: int
    height_px: int
    pages: int
