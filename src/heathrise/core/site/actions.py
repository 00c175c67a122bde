"""The drawing actions a person can ask for, and what an action would do."""

from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from heathrise.core.edit import Operation
from heathrise.core.job import Id, Point
from heathrise.core.sums import Noun, Sum

Ids = Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]


class NotPossible(ValueError):
    """A drawing action that cannot be done; the message says why and what to do."""


class Shaped(NamedTuple):
    """What an action would do: its operations, a sentence, and a sum where it measured something."""

    operations: tuple[Operation, ...]
    note: str
    sum: Sum | None = None


class SplitWall(Noun):
    """Cut a wall in two at a place along it."""

    do: Literal["split"] = "split"
    wall_id: Id
    at_m: float = Field(gt=0)


class JoinWalls(Noun):
    """Make one wall of two that continue each other."""

    do: Literal["join"] = "join"
    ids: Ids


class OffsetWalls(Noun):
    """Copy walls sideways by a distance, to the right of their direction when positive."""

    do: Literal["offset"] = "offset"
    ids: Ids
    by_m: float = Field(ge=-100, le=100)


class CurveWall(Noun):
    """Draw a curved wall as chords through three points."""

    do: Literal["curve"] = "curve"
    storey_id: Id
    a: Point
    through: Point
    b: Point
    build_up: str | None = None
    thickness_m: float | None = Field(None, gt=0, le=3)


class FindSpaces(Noun):
    """Make spaces of the closed loops of a storey that are none yet."""

    do: Literal["find-spaces"] = "find-spaces"
    storey_id: Id


class ProposeNeeds(Noun):
    """Give every space of the job nobody spoke of the need, people and hours its name tells of."""

    do: Literal["propose-needs"] = "propose-needs"


class CloseGaps(Noun):
    """Carry walls that stop short to what they should meet."""

    do: Literal["close-gaps"] = "close-gaps"
    storey_id: Id


class CopyStorey(Noun):
    """Copy a storey's walls, openings and spaces to a new storey on top."""

    do: Literal["copy-storey"] = "copy-storey"
    storey_id: Id


class MoveAll(Noun):
    """Move and turn elements about their common middle."""

    do: Literal["move"] = "move"
    ids: Ids
    dx_m: float = Field(0, ge=-10_000, le=10_000)
    dy_m: float = Field(0, ge=-10_000, le=10_000)
    turn_deg: float = Field(0, ge=-360, le=360)


class ArrayAll(Noun):
    """Copy elements in columns and rows."""

    do: Literal["array"] = "array"
    ids: Ids
    columns: int = Field(ge=1, le=50)
    rows: int = Field(ge=1, le=50)
    dx_m: float = Field(ge=-1000, le=1000)
    dy_m: float = Field(ge=-1000, le=1000)


class AlignAll(Noun):
    """Put elements in one line: the x or y of the first."""

    do: Literal["align"] = "align"
    ids: Ids
    along: Literal["x", "y"]


class AlignStorey(Noun):
    """Lay a storey over another by two points each."""

    do: Literal["align-storey"] = "align-storey"
    storey_id: Id
    here: tuple[Point, Point]
    there: tuple[Point, Point]


class ChangeAll(Noun):
    """Give one field of many elements one value."""

    do: Literal["change"] = "change"
    ids: Ids
    field: str = Field(max_length=40)
    value: str | float | bool | None


class RemoveAll(Noun):
    """Take elements away."""

    do: Literal["remove"] = "remove"
    ids: Ids


Action = Annotated[
    SplitWall
    | JoinWalls
    | OffsetWalls
    | CurveWall
    | FindSpaces
    | ProposeNeeds
    | CloseGaps
    | CopyStorey
    | MoveAll
    | ArrayAll
    | AlignAll
    | AlignStorey
    | ChangeAll
    | RemoveAll,
    Field(discriminator="do"),
]
