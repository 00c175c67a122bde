"""What every element of a job has, the words its fields are made of, and how a kind is described once."""

import uuid
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, StringConstraints

from heathrise.core.sums import Noun

Id = Annotated[
    str,
    StringConstraints(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$"),
]
Label = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Code = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9.+-]*$", max_length=60)]
Band = Literal["2.4", "5", "6"]
# Of a link between a point and a client: down to the client, up to the point, or the weaker of both.
LinkDirection = Literal["weaker", "down", "up"]
BANDS: tuple[Band, ...] = ("2.4", "5", "6")
Words = Annotated[str, StringConstraints(strip_whitespace=True, max_length=500)]
Coordinate = Annotated[float, Field(ge=-100_000, le=100_000)]


def derived_id(of_id: str, purpose: str) -> str:
    """Return an id derived from another by UUIDv5, so that a fix pressed twice adds one element."""
    return str(uuid.uuid5(uuid.UUID(of_id), purpose))


class BrokenReference(ValueError):
    """An element names another, or a library item, that is not there or of the wrong kind."""


class Point(Noun):
    """A place on a storey's sheet."""

    x_m: Coordinate
    y_m: Coordinate


Outline = Annotated[tuple[Point, ...], Field(min_length=3, max_length=500)]
Path = Annotated[tuple[Point, ...], Field(min_length=2, max_length=500)]


class FormField(Noun):
    """One field a person edits. Type, bounds and choices come from the noun itself.

    `shelf` names a shelf of the library to choose from, `only` a property its items must have;
    `words` says how choices of the noun are written where their code does not read well; `refers` the kind of elements
    of the job one of which is chosen.
    """

    path: str
    label: str
    unit: str = ""
    shelf: str | None = None
    only: str | None = None
    words: dict[str, str] = {}
    refers: str | None = None


class Tool(Noun):
    """A tool that makes elements of a kind: `gives` is what it sets from the start.

    `asks` names the field it lets a person choose while it is in hand (from items that have `only`), `when`
    what a choice sets beside itself, `named` that new ones are called by the choice's word.
    """

    name: str
    label: str
    hint: str
    sign: str
    stages: tuple[str, ...]
    key: str | None = None
    stem: str | None = None
    gives: dict[str, Any] = {}
    asks: str | None = None
    only: str | None = None
    when: dict[str, dict[str, Any]] = {}
    named: bool = False


Placing = Literal["none", "point", "ends", "path", "outline", "wall", "between", "rack", "up"]


class About(Noun):
    """A kind of element as a person meets it: its word, stage, sign, how it is placed, its fields.

    New ones are called `stem` and a number, of at least `digits` figures after `gap`.
    """

    noun: str
    stem: str
    stage: str
    sign: str
    placed: Placing = "none"
    single: bool = False
    listed: bool = True
    gap: str = " "
    digits: int = 1
    fields: tuple[FormField, ...] = ()
    tools: tuple[Tool, ...] = ()


class ElementBase(Noun):
    """What every element has. `order` is its place among its like: it is given once, when the element is
    new, and no label decides it.

    `REFS` names the fields that hold ids and the kinds they may name; `LOOSE` those of them whose element
    stays, without what it named, when that is removed. `SHELVES` names the fields that hold a library item
    and the shelf it must be on; `ABOUT` says how a person meets the kind. `ROWS` names the fields that are
    lists of rows and what tells one row from another, `PARTS` those whose parts are changed one by one: two
    people's edits meet there.
    """

    REFS: ClassVar[dict[str, tuple[str, ...]]] = {}
    LOOSE: ClassVar[frozenset[str]] = frozenset()
    SHELVES: ClassVar[dict[str, str]] = {}
    ROWS: ClassVar[dict[str, str]] = {}
    PARTS: ClassVar[frozenset[str]] = frozenset()
    ABOUT: ClassVar[About]

    id: Id
    label: Label
    order: int = Field(0, ge=0, le=2**53 - 1)


NAME = FormField(path="label", label="Name")
AT = (FormField(path="at.x_m", label="Across", unit="m"), FormField(path="at.y_m", label="Down", unit="m"))
