"""Requests and answers of the API that are not nouns of the core already."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from heathrise.core.edit import Operation
from heathrise.core.job import Element, Id, Label
from heathrise.core.merging import Clash, Settlement
from heathrise.core.sums import Noun

# An edit larger than this is cut: it takes longer to keep than anybody waits.
MOST_OPERATIONS = 15_000


class JobPath(Noun):
    """A job's address."""

    job_id: Id


class PicturePath(Noun):
    """A picture's address."""

    job_id: Id
    picture_id: Id


class TablePath(Noun):
    """A job and the kind of table."""

    job_id: Id
    ending: Literal["csv", "xlsx"]


class SincePath(Noun):
    """A job and a revision of it."""

    job_id: Id
    revision: int = Field(ge=0)


# What a page has to tell apart.
Why = Literal[
    "clash",
    "bin",
    "busy",
    "no-controller",
    "under-way",
    "no-key",
    "no-answer",
    "garbled",
    "sign-in",
    "changed",
    "refused",
    "not-ready",
]


class Problem(Noun):
    """A problem document, RFC 9457."""

    type: str
    title: str
    status: int
    detail: str
    where: tuple[str, ...] = ()
    why: Why | None = None
    clashes: tuple[Clash, ...] = ()
    revision: int | None = None
    target: int | None = None


class JobListed(Noun):
    """A job in the list; one in the bin is forgotten after `until`."""

    id: Id
    name: str
    revision: int
    elements: int
    changed: datetime
    binned: datetime | None = None
    until: datetime | None = None
    archived: bool = False
    faults: int | None = None
    warnings: int | None = None


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


class JobBrought(Noun):
    """A job that was made of a file."""

    id: Id
    name: str
    elements: int


class EditRequest(Noun):
    """One edit. `edit_id` makes sending it twice harmless; `actor` is this browser.

    `seen` has the elements it touches as they were on the screen before it; those it touches and that were
    not there are named in `absent`. `choices` settle clashes that an answer told of. The answer tells what
    was done since `known_revision`, the edit's own base when it is left out.
    """

    edit_id: Id
    actor: Id
    label: Annotated[str, StringConstraints(max_length=120)]
    base_revision: int = Field(ge=0)
    known_revision: int | None = Field(None, ge=0)
    operations: tuple[Operation, ...] = Field(min_length=1, max_length=MOST_OPERATIONS)
    seen: tuple[Element, ...] = Field((), max_length=MOST_OPERATIONS)
    absent: tuple[Id, ...] = Field((), max_length=MOST_OPERATIONS)
    choices: tuple[Settlement, ...] = Field((), max_length=MOST_OPERATIONS)


class StepRequest(Noun):
    """Whose change to undo or redo. `edit_id` makes asking twice harmless; `target` says what `choices` settle."""

    edit_id: Id
    actor: Id
    known_revision: int | None = Field(None, ge=0)
    target: int | None = None
    choices: tuple[Settlement, ...] = Field((), max_length=MOST_OPERATIONS)


class ActorQuery(Noun):
    """Whose history."""

    actor: Id


class EditAnswer(Noun):
    """What was done since the revision the browser had; `reload` when that cannot be told, or is too much."""

    revision: int
    label: str
    operations: tuple[Operation, ...]
    can_undo: bool
    can_redo: bool
    reload: bool = False


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
