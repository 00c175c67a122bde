"""The building proposed from a drawing, as nouns: what was read, what it was taken for, what was left out."""

from typing import Literal

from heathrise.core.job import Id, Label, Outline, Point
from heathrise.core.sums import Noun

Role = Literal["wall", "door", "window", "text", "ignore"]
ROLES: tuple[Role, ...] = ("wall", "door", "window", "text", "ignore")


class Skipped(Noun):
    """What was left out of a reading, how often, and why."""

    what: str
    count: int
    why: str


class LayerRead(Noun):
    """A layer of a drawing: what is on it and what it is taken for."""

    name: str
    lines: int
    marks: int
    texts: int
    role: Role


class ProposedWall(Noun):
    """A wall as understood."""

    id: Id
    a: Point
    b: Point
    thickness_m: float | None
    build_up: str | None = None
    label: str = ""


class ProposedOpening(Noun):
    """A door, window or passage as understood."""

    id: Id
    wall_id: Id
    opening_kind: Literal["door", "window", "opening"]
    at_m: float
    width_m: float
    sill_m: float = 0.0
    height_m: float = 2.1
    build_up: str = "door-hollow"


class ProposedSpace(Noun):
    """A space as understood; `wall_ids` are the walls round it."""

    id: Id
    label: Label
    outline: Outline
    wall_ids: tuple[Id, ...] = ()


class ProposedStorey(Noun):
    """A storey as understood; a drawing has one, a building model its own."""

    label: Label
    elevation_m: float | None = None
    height_m: float | None = None
    walls: tuple[ProposedWall, ...]
    openings: tuple[ProposedOpening, ...]
    spaces: tuple[ProposedSpace, ...]
    slab_build_up: str | None = None


class Proposal(Noun):
    """A building proposed from a file, with what to check before it is accepted."""

    storeys: tuple[ProposedStorey, ...]
    notes: tuple[str, ...] = ()
    skipped: tuple[Skipped, ...] = ()
