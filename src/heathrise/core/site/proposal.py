"""The building proposed from a drawing, as nouns: what was read, what it was taken for, what was left out.

Whatever is a guess says how certain it is (0 to 1) and what it is alike to, so that a person looks at the doubtful
first and puts all that came of one wrong guess right at once.
"""

from typing import Any, Literal

from heathrise.core.job import Id, Label, Outline, Point
from heathrise.core.sums import Noun

Role = Literal["wall", "door", "window", "text", "ignore"]
ROLES: tuple[Role, ...] = ("wall", "door", "window", "text", "ignore")
# A guess less certain than this is shown to be looked at.
DOUBTFUL = 0.9
OpeningKind = Literal["door", "window", "opening"]
# What is usual of each kind of opening. [m]
BODY: dict[OpeningKind, dict[str, Any]] = {
    "door": {"opening_kind": "door", "build_up": "door-hollow", "sill_m": 0.0, "height_m": 2.1},
    "window": {"opening_kind": "window", "build_up": "glazing-clear", "sill_m": 0.9, "height_m": 1.2},
    "opening": {"opening_kind": "opening", "build_up": "door-hollow", "sill_m": 0.0, "height_m": 2.1},
}


class Skipped(Noun):
    """What was left out of a reading, how often, and why."""

    what: str
    count: int
    why: str


class LayerRead(Noun):
    """A layer or pen of a drawing: what is on it, what it is taken for, how certainly and by what."""

    name: str
    lines: int
    marks: int
    texts: int
    role: Role
    certainty: float = 1.0
    why: str = ""


class Evidence(Noun):
    """Something a drawing says of its scale: what, in which words, the scale by it, and whether it was followed."""

    what: str
    says: str
    metres_per_unit: float
    agrees: bool


class ProposedWall(Noun):
    """A wall as understood."""

    id: Id
    a: Point
    b: Point
    thickness_m: float | None
    build_up: str | None = None
    label: str = ""
    certainty: float = 1.0
    alike: str = ""


class ProposedOpening(Noun):
    """A door, window or passage as understood."""

    id: Id
    wall_id: Id
    opening_kind: OpeningKind
    at_m: float
    width_m: float
    sill_m: float = 0.0
    height_m: float = 2.1
    build_up: str = "door-hollow"
    certainty: float = 1.0
    alike: str = ""


class ProposedSpace(Noun):
    """A space as understood; `wall_ids` are the walls round it."""

    id: Id
    label: Label
    outline: Outline
    wall_ids: tuple[Id, ...] = ()
    area_said_m2: float | None = None
    certainty: float = 1.0
    alike: str = ""


class ProposedStorey(Noun):
    """A storey as understood; one without an elevation goes onto the storey a person is on.

    `level` is what its title counts it as, 0 at the ground.
    """

    label: Label
    level: int | None = None
    elevation_m: float | None = None
    height_m: float | None = None
    ceiling_m: float | None = None
    walls: tuple[ProposedWall, ...]
    openings: tuple[ProposedOpening, ...]
    spaces: tuple[ProposedSpace, ...]
    slab_build_up: str | None = None
    certainty: float = 1.0
    why: str = ""

    def moved(self, dx_m: float, dy_m: float) -> "ProposedStorey":
        """Return this storey moved on the sheet."""

        def to(p: Point) -> Point:
            return Point(x_m=round(p.x_m + dx_m, 3), y_m=round(p.y_m + dy_m, 3))

        return self.model_copy(
            update={
                "walls": tuple(w.model_copy(update={"a": to(w.a), "b": to(w.b)}) for w in self.walls),
                "spaces": tuple(
                    s.model_copy(update={"outline": tuple(map(to, s.outline))}) for s in self.spaces
                ),
            }
        )


class Doubt(Noun):
    """A guess: what was taken for what, how many are alike, how certainly, and why.

    `of` is what they are; each such element has `alike` in common. The least certain come first.
    """

    alike: str
    of: Literal["wall", "opening", "space"]
    text: str
    why: str
    count: int
    certainty: float


class Proposal(Noun):
    """A building proposed from a file, with what to check before it is accepted: what is less certain than said."""

    storeys: tuple[ProposedStorey, ...]
    notes: tuple[str, ...] = ()
    skipped: tuple[Skipped, ...] = ()
    doubts: tuple[Doubt, ...] = ()
    doubtful_below: float = DOUBTFUL
