"""Requests and answers of the API that are not nouns of the core already."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from heathrise.core.edit import Operation
from heathrise.core.findings import Assessment
from heathrise.core.job import AccessPoint, Band, Element, Id, Label
from heathrise.core.radio.account import Account
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


class AssessmentAnswer(Noun):
    """Everything computed of a job at a revision."""

    revision: int
    assessment: Assessment


class TerrainRequest(Noun):
    """A storey's air: one layer of it, as it stands, with one access point moved or failed, as a
    variant has it, or what the variant (or straight rays) would change.
    """

    storey_id: Id
    band: Band
    signal: str = "best"
    way: Literal["weaker", "down", "up"] = "weaker"
    moved: AccessPoint | None = None
    without: Id | None = None
    variant: Id | None = None
    against: Id | Literal["design", "straight"] | None = None
    quick: bool = False


class AccountQuery(Noun):
    """A place to explain the signal at."""

    storey_id: Id
    band: Band
    x_m: float = Field(ge=-100_000, le=100_000)
    y_m: float = Field(ge=-100_000, le=100_000)


class AccountAnswer(Noun):
    """The two loudest access points at a place, each as a sum with its way round."""

    accounts: tuple[Account, ...]


class SuggestionAnswer(Noun):
    """Operations the planner suggests; the person sends them as an edit."""

    operations: tuple[Operation, ...]


class PictureAnswer(Noun):
    """A picture that was kept."""

    attachment_id: Id
    width_px: int
    height_px: int
    pages: int
