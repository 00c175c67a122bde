"""What is drawn of the building: storeys, underlays, walls, openings, spaces, own build-ups."""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from heathrise.core.job.element import (
    NAME,
    About,
    Code,
    Coordinate,
    ElementBase,
    FormField,
    Id,
    Label,
    Outline,
    Point,
    Tool,
    Words,
)
from heathrise.core.library import BuildUp, library, slab_losses_db
from heathrise.core.sums import Noun


class Storey(ElementBase):
    """One level. `elevation_m` is the finished floor above the site's zero; `void_air` says that the ceiling
    void carries the building's air, where only cable made for it may lie.
    """

    SHELVES = {"slab_build_up": "build_ups"}
    ABOUT = About(
        noun="storey",
        stem="Storey",
        stage="plan",
        sign="riser",
        placed="none",
        fields=(
            NAME,
            FormField(path="storey_kind", label="Kind"),
            FormField(path="elevation_m", label="Floor at", unit="m"),
            FormField(path="ceiling_m", label="Ceiling", unit="m"),
            FormField(path="void_m", label="Void", unit="m"),
            FormField(path="void_air", label="Void carries air"),
            FormField(path="slab_build_up", label="Slab below", shelf="build_ups", only="slab"),
        ),
    )
    kind: Literal["storey"] = "storey"
    elevation_m: float = Field(ge=-100, le=1000)
    storey_kind: Literal["floor", "cellar", "loft", "roof"] = "floor"
    ceiling_m: float = Field(2.7, ge=0.5, le=30)
    void_m: float = Field(0.3, ge=0, le=5)
    void_air: bool = False
    slab_build_up: Code = "concrete-slab-150"


class Underlay(ElementBase):
    """A picture under the drawing. `metres_per_px` is None until its scale is set."""

    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="drawing",
        stem="Drawing",
        stage="plan",
        sign="space",
        placed="none",
        fields=(
            NAME,
            FormField(path="x_m", label="Left edge", unit="m"),
            FormField(path="y_m", label="Top edge", unit="m"),
        ),
    )
    kind: Literal["underlay"] = "underlay"
    storey_id: Id
    attachment_id: Id
    width_px: int = Field(gt=0, le=40_000)
    height_px: int = Field(gt=0, le=40_000)
    metres_per_px: float | None = Field(None, gt=0, le=10)
    x_m: Coordinate = 0
    y_m: Coordinate = 0


class Wall(ElementBase):
    """A straight wall from `a` to `b`; its build-up gives what it costs the air. `undrilled` forbids it to
    cables, `fire_minutes` is how long it is to hold a fire back.
    """

    SHELVES = {"build_up": "build_ups"}
    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="wall",
        stem="Wall",
        stage="plan",
        sign="wall",
        placed="ends",
        fields=(
            NAME,
            FormField(path="build_up", label="Build-up", shelf="build_ups", only="wall window"),
            FormField(path="thickness_m", label="Thickness", unit="m"),
            FormField(path="height_m", label="Height", unit="m"),
            FormField(path="fire_minutes", label="Holds fire back", unit="min"),
            FormField(path="undrilled", label="Not to be drilled"),
            FormField(path="a.x_m", label="From across", unit="m"),
            FormField(path="a.y_m", label="From down", unit="m"),
            FormField(path="b.x_m", label="To across", unit="m"),
            FormField(path="b.y_m", label="To down", unit="m"),
        ),
        tools=(
            Tool(
                name="wall",
                asks="build_up",
                only="wall",
                gives={"build_up": "block-light-100"},
                label="Wall",
                hint="Press corner after corner; type a length to set it; Enter ends the chain.",
                sign="wall",
                stages=("plan",),
                key="w",
            ),
        ),
    )
    kind: Literal["wall"] = "wall"
    storey_id: Id
    a: Point
    b: Point
    build_up: Code | None = None
    height_m: float | None = Field(None, gt=0, le=30)
    thickness_m: float | None = Field(None, gt=0, le=3)
    undrilled: bool = False
    fire_minutes: int = Field(0, ge=0, le=240)

    @property
    def length_m(self) -> float:
        """Length in plan. [m]"""
        return float(((self.b.x_m - self.a.x_m) ** 2 + (self.b.y_m - self.a.y_m) ** 2) ** 0.5)

    @model_validator(mode="after")
    def _has_length(self) -> "Wall":
        if self.length_m < 0.01:
            raise ValueError(f"wall {self.label} has no length: both ends are at the same point")
        return self


class Opening(ElementBase):
    """A door, window or plain opening; it replaces its wall between its edges and its heights.

    A plain opening costs the air nothing, whatever its build-up says.
    """

    SHELVES = {"build_up": "build_ups"}
    REFS = {"wall_id": ("wall",)}
    ABOUT = About(
        noun="opening",
        stem="Opening",
        stage="plan",
        sign="door",
        placed="wall",
        fields=(
            NAME,
            FormField(path="opening_kind", label="Kind"),
            FormField(path="build_up", label="Material", shelf="build_ups", only="door window"),
            FormField(path="leaf", label="Leaf"),
            FormField(path="fire_minutes", label="Fire", unit="min"),
            FormField(path="width_m", label="Width", unit="m"),
            FormField(path="at_m", label="Along wall", unit="m"),
            FormField(path="sill_m", label="Sill", unit="m"),
            FormField(path="height_m", label="Height", unit="m"),
        ),
        tools=(
            Tool(
                name="door",
                label="Door",
                hint="Press a wall where the door stands.",
                sign="door",
                stages=("plan",),
                key="d",
                stem="Door",
                gives={"opening_kind": "door", "width_m": 0.9},
            ),
            Tool(
                name="window",
                label="Window",
                hint="Press a wall where the window stands.",
                sign="window",
                stages=("plan",),
                key="n",
                stem="Window",
                gives={
                    "opening_kind": "window",
                    "width_m": 1.2,
                    "sill_m": 0.9,
                    "height_m": 1.2,
                    "build_up": "glazing-clear",
                },
            ),
            Tool(
                name="opening",
                label="Opening",
                hint="Press a wall where it is open.",
                sign="opening",
                stages=("plan",),
                stem="Opening",
                gives={"opening_kind": "opening", "width_m": 0.9},
            ),
        ),
    )
    kind: Literal["opening"] = "opening"
    wall_id: Id
    opening_kind: Literal["door", "window", "opening"] = "door"
    leaf: Literal["single", "double", "sliding"] = "single"
    fire_minutes: int = Field(0, ge=0, le=240)
    at_m: float = Field(ge=0, le=10_000)
    width_m: float = Field(gt=0, le=100)
    sill_m: float = Field(0, ge=0, le=30)
    height_m: float = Field(2.1, gt=0, le=30)
    build_up: Code = "door-hollow"


SpaceKind = Literal["room", "corridor", "stair", "atrium", "plant", "comms", "loft", "cellar", "outdoor"]


class Space(ElementBase):
    """A room, stair, yard: an outline with a need. `building` names the house it belongs to.

    `profile` is the share of its people that is there by hour; None takes the one usual for the
    kind of site and space. `proposed` is what need, people and hours were proposed from its name: while it
    still has these nobody has said so. `contents` says what stands in it and costs the air something a metre.
    """

    SHELVES = {"need": "needs", "profile": "profiles", "slab_build_up": "build_ups", "contents": "contents"}
    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="space",
        stem="Space",
        stage="plan",
        sign="space",
        placed="outline",
        fields=(
            NAME,
            FormField(path="space_kind", label="Kind"),
            FormField(path="need", label="Need", shelf="needs"),
            FormField(path="people", label="People"),
            FormField(path="contents", label="Contents", shelf="contents"),
            FormField(path="profile", label="Hours", shelf="profiles"),
            FormField(path="ceiling_m", label="Ceiling", unit="m"),
            FormField(path="void_m", label="Void", unit="m"),
            FormField(path="slab_build_up", label="Slab below", shelf="build_ups", only="slab"),
            FormField(path="hottest_c", label="Hottest", unit="C"),
            FormField(path="building", label="House"),
            FormField(path="no_go", label="No-go because"),
        ),
        tools=(
            Tool(
                name="space",
                label="Space",
                hint="Press the corners; Enter or the first corner closes it.",
                sign="space",
                stages=("plan",),
                key="s",
            ),
        ),
    )
    kind: Literal["space"] = "space"
    storey_id: Id
    outline: Outline
    space_kind: SpaceKind = "room"
    need: Code = "browsing"
    building: Label = "Main house"
    ceiling_m: float | None = Field(None, ge=0.5, le=30)
    void_m: float | None = Field(None, ge=0, le=5)
    slab_build_up: Code | None = None
    hottest_c: float | None = Field(None, ge=-40, le=80)
    no_go: Annotated[str, StringConstraints(max_length=200)] = ""
    people: int = Field(0, ge=0, le=10_000)
    profile: Code | None = None
    proposed: Annotated[str, StringConstraints(max_length=120)] = ""
    contents: Code = "bare"


class Layer(Noun):
    """One layer of a build-up."""

    material: Code
    thickness_mm: float = Field(gt=0, le=3000)


class OwnBuildUp(ElementBase):
    """A build-up of this job: a new one, or other figures for one of the library.

    With `layers` its losses are computed by the layered slab; without, they are the three given.
    """

    ABOUT = About(noun="build-up", stem="Build-up", stage="plan", sign="wall", placed="none", listed=False)
    kind: Literal["build-up"] = "build-up"
    code: Code
    build_kind: Literal["wall", "window", "door", "slab", "roof", "planting"] = "wall"
    loss_24_db: float = Field(5, ge=0, le=100)
    loss_5_db: float = Field(8, ge=0, le=100)
    loss_6_db: float = Field(9, ge=0, le=100)
    layers: tuple[Layer, ...] = Field((), max_length=20)
    drill_hours: float = Field(0.3, ge=0, le=20)
    reason: Words = ""

    @model_validator(mode="after")
    def _known_materials(self) -> "OwnBuildUp":
        for layer in self.layers:
            if layer.material not in library().slab_materials:
                raise ValueError(f"{self.label}: the library has no slab material named {layer.material}")
        return self

    def as_build_up(self, domain: str) -> BuildUp:
        """Return the library's noun for it; layers are computed at the middles of a radio domain's bands."""
        layers = tuple((layer.material, layer.thickness_mm) for layer in self.layers)
        low, mid, high = (
            slab_losses_db(layers, domain) if layers else (self.loss_24_db, self.loss_5_db, self.loss_6_db)
        )
        return BuildUp(
            label=self.label,
            kind=self.build_kind,
            loss_24_db=low,
            loss_5_db=mid,
            loss_6_db=high,
            drill_hours=self.drill_hours,
            layers=layers,
            source="this job: layers by ITU-R P.2040"
            if layers
            else f"this job: {self.reason or 'own value'}",
        )
