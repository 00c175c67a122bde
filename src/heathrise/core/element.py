"""What every element of a job has, and the words its fields are made of."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, StringConstraints

from heathrise.core.sums import Noun

Id = Annotated[
    str,
    StringConstraints(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$"),
]
Label = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Code = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9.+-]*$", max_length=60)]
Band = Literal["2.4", "5", "6"]
BANDS: tuple[Band, ...] = ("2.4", "5", "6")
Words = Annotated[str, StringConstraints(strip_whitespace=True, max_length=500)]
Coordinate = Annotated[float, Field(ge=-100_000, le=100_000)]


class BrokenReference(ValueError):
    """An element names another, or a library item, that is not there or of the wrong kind."""


class Point(Noun):
    """A place on a storey's sheet."""

    x_m: Coordinate
    y_m: Coordinate


class ElementBase(Noun):
    """What every element has. `REFS` names the fields that hold ids and the kinds they may name;
    `SHELVES` names the fields that hold a library item and the shelf it must be on.
    """

    REFS: ClassVar[dict[str, tuple[str, ...]]] = {}
    SHELVES: ClassVar[dict[str, str]] = {}

    id: Id
    label: Label
