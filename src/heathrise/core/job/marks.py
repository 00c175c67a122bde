"""What is marked on the sheet beside the building: no-go areas, planting, shafts, what is there already, lines."""

from typing import Literal

from pydantic import Field

from heathrise.core.job.element import (
    AT,
    NAME,
    About,
    Code,
    ElementBase,
    FormField,
    Id,
    Outline,
    Path,
    Point,
    Tool,
    Words,
)


class NoGo(ElementBase):
    """A part of a storey where nothing may be fitted, and why."""

    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="no-go area",
        stem="No-go area",
        stage="plan",
        sign="nogo",
        placed="outline",
        fields=(
            NAME,
            FormField(path="reason", label="Because"),
            FormField(path="note", label="Note"),
        ),
        tools=(
            Tool(
                name="no-go",
                asks="reason",
                label="No-go area",
                hint="Press the corners; nothing is to be fitted there.",
                sign="nogo",
                stages=("plan",),
            ),
        ),
    )
    kind: Literal["no-go"] = "no-go"
    storey_id: Id
    outline: Outline
    reason: Literal["heat", "damp", "lead", "listed", "fire-rated", "electrical"] = "heat"
    note: Words = ""


class Planting(ElementBase):
    """A hedge, tree or wood outdoors. A ray through it crosses its edge twice; each costs half."""

    SHELVES = {"build_up": "build_ups"}
    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="planting",
        stem="Hedge",
        stage="plan",
        sign="plant",
        placed="outline",
        fields=(
            NAME,
            FormField(path="build_up", label="Kind", shelf="build_ups", only="planting"),
            FormField(path="height_m", label="Height", unit="m"),
        ),
        tools=(
            Tool(
                name="planting",
                asks="build_up",
                when={"tree-crown": {"height_m": 8, "stem": "Tree"}},
                label="Hedge or tree",
                hint="Press the corners of what grows.",
                sign="plant",
                stages=("plan",),
            ),
        ),
    )
    kind: Literal["planting"] = "planting"
    storey_id: Id
    outline: Outline
    height_m: float = Field(2.0, gt=0, le=60)
    build_up: Code = "hedge"


class Shaft(ElementBase):
    """A hole through storeys: a void, an atrium, a stair, a lift. No slab costs anything in it."""

    REFS = {"from_storey_id": ("storey",), "to_storey_id": ("storey",)}
    ABOUT = About(
        noun="shaft",
        stem="Shaft",
        stage="plan",
        sign="shaft",
        placed="outline",
        fields=(
            NAME,
            FormField(path="shaft_kind", label="Kind"),
        ),
        tools=(
            Tool(
                name="shaft",
                asks="shaft_kind",
                named=True,
                label="Shaft",
                hint="Press the corners of a stair, lift or void; Enter closes it.",
                sign="shaft",
                stages=("plan",),
            ),
        ),
    )
    kind: Literal["shaft"] = "shaft"
    shaft_kind: Literal["void", "atrium", "stair", "lift"] = "stair"
    outline: Outline
    from_storey_id: Id
    to_storey_id: Id


class Fixture(ElementBase):
    """Something that is there already and that the plan must mind or may use."""

    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="fixture",
        stem="Fixture",
        stage="plan",
        sign="fixture",
        placed="point",
        fields=(
            NAME,
            FormField(
                path="fixture_kind",
                label="Kind",
                words={
                    "electrical-panel": "Electrical panel",
                    "power-outlet": "Power outlet",
                    "luminaire": "Luminaire",
                    "data-outlet": "Old data outlet",
                    "meter": "Meter",
                    "heater": "Heater",
                },
            ),
            FormField(path="height_m", label="Height", unit="m"),
            FormField(path="keep", label="Stays"),
            FormField(path="note", label="Note"),
            *AT,
        ),
        tools=(
            Tool(
                name="fixture",
                asks="fixture_kind",
                named=True,
                when={"luminaire": {"height_m": 2.6}, "electrical-panel": {"height_m": 1.5}},
                label="Fixture",
                hint="Press where it is: panel, power outlet, luminaire, old outlet.",
                sign="fixture",
                stages=(
                    "plan",
                    "runs",
                ),
            ),
        ),
    )
    kind: Literal["fixture"] = "fixture"
    fixture_kind: Literal[
        "electrical-panel", "power-outlet", "luminaire", "data-outlet", "meter", "heater"
    ] = "power-outlet"
    storey_id: Id
    at: Point
    height_m: float = Field(0.4, ge=0, le=60)
    keep: bool = True
    note: Words = ""


class Line(ElementBase):
    """A line that is there already: mains in the wall, or an old cable. Ways for new cables are pathways. By the load
    of mains data cables keep their distance. [kVA]
    """

    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="line",
        stem="Line",
        stage="plan",
        sign="line",
        placed="path",
        fields=(
            NAME,
            FormField(path="line_kind", label="Kind", words={"mains": "Mains run", "cable": "Old cable"}),
            FormField(path="load_kva", label="Load", unit="kVA"),
            FormField(path="height_m", label="Height", unit="m"),
            FormField(path="keep", label="Stays"),
            FormField(path="note", label="Note"),
        ),
        tools=(
            Tool(
                name="line",
                asks="line_kind",
                named=True,
                label="Line",
                hint="Press along it: mains, or an old cable. Enter ends it.",
                sign="line",
                stages=(
                    "plan",
                    "runs",
                ),
            ),
        ),
    )
    kind: Literal["line"] = "line"
    line_kind: Literal["mains", "cable"] = "mains"
    storey_id: Id
    path: Path
    height_m: float = Field(2.4, ge=0, le=60)
    load_kva: float = Field(2.0, ge=0, le=1000)
    keep: bool = True
    note: Words = ""
