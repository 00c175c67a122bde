"""The Job: every noun of one job, immutable. Edits make a new Job (see `edit`).

A job is a name and a list of elements. Each element has an id, a kind and a readable label;
references are by id and checked. The same models are the job file, the API's schema, what the
database keeps and what the rules read. Lengths are metres; x to the right and y down the sheet
as on the drawing, z up; heights are above the storey's floor.
"""

import re
from collections.abc import Iterable, Iterator
from datetime import date
from functools import cached_property
from typing import Annotated, Any, Literal, TypeVar, cast

from pydantic import (
    Base64Bytes,
    Field,
    IPvAnyNetwork,
    StringConstraints,
    TypeAdapter,
    field_serializer,
    model_validator,
)

from heathrise.core.airnouns import (  # noqa: F401
    AccessPoint,
    AirModel,
    Antenna,
    Calibration,
    ClassShift,
    CutPoint,
    NearShift,
    Neighbour,
    Radio,
    SpaceShift,
    SurveyPoint,
    Variant,
    Walk,
    WalkStop,
)
from heathrise.core.element import (  # noqa: F401
    BANDS,
    Band,
    BrokenReference,
    Code,
    Coordinate,
    ElementBase,
    Id,
    Label,
    Point,
    Words,
)
from heathrise.core.library import BuildUp, library, slab_losses_db
from heathrise.core.sums import Noun

JOB_FORMAT: Literal["heathrise-job"] = "heathrise-job"
SCHEMA_VERSION: Literal[1] = 1


class Climate(Noun):
    """The hottest and the coldest a kind of space becomes. [C]"""

    indoors_c: float = Field(26, ge=-20, le=60)
    void_c: float = Field(32, ge=-20, le=80)
    loft_c: float = Field(50, ge=-20, le=80)
    outdoors_c: float = Field(35, ge=-40, le=60)
    indoors_coldest_c: float = Field(14, ge=-40, le=60)
    loft_coldest_c: float = Field(-5, ge=-60, le=60)
    outdoors_coldest_c: float = Field(-15, ge=-60, le=60)


SiteKind = Literal["school", "home", "clinic", "office", "shop"]
Day = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WORKING_DAYS: tuple[Day, ...] = ("mon", "tue", "wed", "thu", "fri")


class Site(ElementBase):
    """Facts of the place. The hours say when people are there and when not to update anything."""

    SHELVES = {"domain": "domains", "roof_build_up": "build_ups"}
    kind: Literal["site"] = "site"
    site_kind: SiteKind = "office"
    address: Annotated[str, StringConstraints(max_length=300)] = ""
    opens_h: int = Field(8, ge=0, le=23)
    closes_h: int = Field(18, ge=1, le=24)
    open_days: tuple[Day, ...] = WORKING_DAYS
    domain: Code = "etsi-like"
    built_year: int | None = Field(None, ge=1000, le=2100)
    climate: Climate = Climate()
    roof_build_up: Code = "tiled-roof"


Way = Literal["air", "cable"]


class DeviceCount(Noun):
    """So many devices of one kind. `device` names a kind in the library; `way` overrules how the
    practice would carry it, and then `reason` says why.
    """

    what: Label
    count: int = Field(ge=0, le=100_000)
    moves: bool = True
    purpose: Literal["main", "guest", "things", "cameras", "voice"] = "main"
    device: Code | None = None
    way: Way | None = None
    reason: Words = ""

    @model_validator(mode="after")
    def _reason_for_overruling(self) -> "DeviceCount":
        if self.way is not None and not self.reason:
            raise ValueError(f"{self.what}: say why it goes by {self.way} against the practice")
        return self


class Answer(Noun):
    """What the client answered, and on which day."""

    question: Code
    text: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=1000)]
    on: date


class DropCheck(Noun):
    """A place where a cable is often forgotten: wanted or not."""

    drop: Code
    wanted: bool
    note: Words = ""


class KeptItem(Noun):
    """Something the client has and means to keep."""

    what: Label
    count: int = Field(1, ge=1, le=10_000)
    serves: bool = True
    note: Words = ""


class Internet(Noun):
    """The service that enters the building."""

    service: Literal["fibre", "cable", "vdsl", "cellular", "none"] = "fibre"
    down_mbps: float = Field(100, gt=0, le=400_000)
    up_mbps: float = Field(20, gt=0, le=400_000)
    addressing: Literal["dhcp", "static", "pppoe"] = "dhcp"
    subnet: IPvAnyNetwork | None = None

    @field_serializer("subnet")
    def _subnet_text(self, subnet: IPvAnyNetwork | None) -> str | None:
        return None if subnet is None else str(subnet)


class Brief(ElementBase):
    """What the client asked for."""

    SHELVES = {"client_class": "clients"}
    kind: Literal["brief"] = "brief"
    internet: Internet = Internet()
    devices: tuple[DeviceCount, ...] = ()
    people_peak: int = Field(0, ge=0, le=100_000)
    guests_peak: int = Field(0, ge=0, le=100_000)
    client_class: Code = "phone"
    budget: float | None = Field(None, ge=0)
    answers: tuple[Answer, ...] = Field((), max_length=200)
    drops: tuple[DropCheck, ...] = Field((), max_length=200)
    kept: tuple[KeptItem, ...] = Field((), max_length=200)


class Practice(ElementBase):
    """The house way of working. The library's practice.toml has each question, its choices and
    why the default is what it is; every later stage reads the answers here.
    """

    SHELVES = {"cable_points": "cables", "cable_other": "cables"}
    kind: Literal["practice"] = "practice"
    cables_per_point: Literal[1, 2, 4] = 2
    cable_points: Code = "cat6a-indoor"
    cable_other: Code = "cat6-indoor"
    design_on: Literal["weaker", "down"] = "weaker"
    second_signal: Literal["required", "wished", "ignored"] = "required"
    set_24: Literal["1/6/11", "1/5/9/13"] = "1/6/11"
    width_5_mhz: Literal[20, 40, 80] = 40
    width_6_mhz: Literal[20, 40, 80, 160] = 80
    radar_channels: bool = True
    budget_method: Literal["maximum", "class"] = "maximum"
    backhaul: Literal["wire", "mesh-where-needed", "mesh", "powerline"] = "wire"
    cable_for: Literal["fixed", "high-rate", "points"] = "fixed"
    points_power: Literal["more-points", "more-power"] = "more-points"
    radio_settings: Literal["planned", "automatic"] = "planned"
    band_names: Literal["one", "split"] = "one"
    point_names: Literal["one", "per-point"] = "one"
    fast_roaming: Literal["main", "on", "off"] = "main"
    airtime_fairness: bool = False
    dtim: Literal["3-main-1-things", "1"] = "3-main-1-things"
    mount: Literal["ceiling", "wall", "desk"] = "ceiling"
    beyond_reach: Literal["fibre", "extender", "bridge"] = "fibre"
    panel: Literal["above-8", "always", "never"] = "above-8"
    ends: Literal["B", "A"] = "B"
    device_end: Literal["jack", "plug"] = "jack"
    gateway: Literal["by-size", "separate"] = "by-size"
    port_split: Literal["one-switch", "powered-and-plain"] = "one-switch"
    updates: Literal["window", "automatic"] = "window"
    account: Literal["local", "cloud"] = "local"
    vlan_numbers: Literal["octet", "role"] = "octet"
    preparation: Literal["bench", "site"] = "bench"
    old_kit: Literal["keep", "replace"] = "keep"
    guests: Literal["isolated", "portal", "none"] = "isolated"
    guest_mbps: int = Field(20, ge=1, le=10_000)
    cords_m: float = Field(10, gt=0, le=27)
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = "EUR"


class Storey(ElementBase):
    """One level. `elevation_m` is the finished floor above the site's zero."""

    SHELVES = {"slab_build_up": "build_ups"}
    kind: Literal["storey"] = "storey"
    elevation_m: float = Field(ge=-100, le=1000)
    storey_kind: Literal["floor", "cellar", "loft", "roof"] = "floor"
    ceiling_m: float = Field(2.7, ge=0.5, le=30)
    void_m: float = Field(0.3, ge=0, le=5)
    slab_build_up: Code = "concrete-slab-150"


class Underlay(ElementBase):
    """A picture under the drawing. `metres_per_px` is None until its scale is set."""

    REFS = {"storey_id": ("storey",)}
    kind: Literal["underlay"] = "underlay"
    storey_id: Id
    attachment_id: Id
    width_px: int = Field(gt=0, le=40_000)
    height_px: int = Field(gt=0, le=40_000)
    metres_per_px: float | None = Field(None, gt=0, le=10)
    x_m: Coordinate = 0
    y_m: Coordinate = 0


class Wall(ElementBase):
    """A straight wall from `a` to `b`; its build-up gives what it costs the air."""

    SHELVES = {"build_up": "build_ups"}
    REFS = {"storey_id": ("storey",)}
    kind: Literal["wall"] = "wall"
    storey_id: Id
    a: Point
    b: Point
    build_up: Code | None = None
    height_m: float | None = Field(None, gt=0, le=30)
    thickness_m: float | None = Field(None, gt=0, le=3)

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
Outline = Annotated[tuple[Point, ...], Field(min_length=3, max_length=500)]
Path = Annotated[tuple[Point, ...], Field(min_length=2, max_length=500)]


class Space(ElementBase):
    """A room, stair, yard: an outline with a need. `building` names the house it belongs to.

    `profile` is the share of its people that is there by hour; None takes the one usual for the
    kind of site and space. `contents` says what stands in it and costs the air something a metre.
    """

    SHELVES = {"need": "needs", "profile": "profiles", "slab_build_up": "build_ups", "contents": "contents"}
    REFS = {"storey_id": ("storey",)}
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
    contents: Code = "bare"


class NoGo(ElementBase):
    """A part of a storey where nothing may be fitted, and why."""

    REFS = {"storey_id": ("storey",)}
    kind: Literal["no-go"] = "no-go"
    storey_id: Id
    outline: Outline
    reason: Literal["heat", "damp", "lead", "listed", "fire-rated", "electrical"] = "heat"
    note: Words = ""


class Planting(ElementBase):
    """A hedge, tree or wood outdoors. A ray through it crosses its edge twice; each costs half."""

    SHELVES = {"build_up": "build_ups"}
    REFS = {"storey_id": ("storey",)}
    kind: Literal["planting"] = "planting"
    storey_id: Id
    outline: Outline
    height_m: float = Field(2.0, gt=0, le=60)
    build_up: Code = "hedge"


class Shaft(ElementBase):
    """A hole through storeys: a void, an atrium, a stair, a lift. No slab costs anything in it."""

    REFS = {"from_storey_id": ("storey",), "to_storey_id": ("storey",)}
    kind: Literal["shaft"] = "shaft"
    shaft_kind: Literal["void", "atrium", "stair", "lift"] = "stair"
    outline: Outline
    from_storey_id: Id
    to_storey_id: Id


class Fixture(ElementBase):
    """Something that is there already and that the plan must mind or may use."""

    REFS = {"storey_id": ("storey",)}
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
    """A line that is there already: mains in the wall, an old cable, a conduit or a tray."""

    REFS = {"storey_id": ("storey",)}
    kind: Literal["line"] = "line"
    line_kind: Literal["mains", "cable", "conduit", "tray"] = "mains"
    storey_id: Id
    path: Path
    height_m: float = Field(2.4, ge=0, le=60)
    keep: bool = True
    note: Words = ""


class Layer(Noun):
    """One layer of a build-up."""

    material: Code
    thickness_mm: float = Field(gt=0, le=3000)


class OwnBuildUp(ElementBase):
    """A build-up of this job: a new one, or other figures for one of the library.

    With `layers` its losses are computed by the layered slab; without, they are the three given.
    """

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

    @property
    def build_up(self) -> BuildUp:
        """The library's noun for it, its losses computed when it has layers."""
        layers = tuple((layer.material, layer.thickness_mm) for layer in self.layers)
        low, mid, high = (
            slab_losses_db(layers) if layers else (self.loss_24_db, self.loss_5_db, self.loss_6_db)
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


class Riser(ElementBase):
    """An upright way for cables through storeys, at one place in plan."""

    REFS = {"from_storey_id": ("storey",), "to_storey_id": ("storey",)}
    kind: Literal["riser"] = "riser"
    at: Point
    from_storey_id: Id
    to_storey_id: Id


class ServiceEntry(ElementBase):
    """Where the outside service enters."""

    REFS = {"storey_id": ("storey",)}
    kind: Literal["service-entry"] = "service-entry"
    storey_id: Id
    at: Point


class Rack(ElementBase):
    """A rack or shelf in a comms space; runs end here."""

    SHELVES = {"model": "racks"}
    REFS = {"storey_id": ("storey",)}
    kind: Literal["rack"] = "rack"
    storey_id: Id
    at: Point
    height_m: float = Field(1.5, ge=0, le=30)
    model: Code = "rack-12u"


class Device(ElementBase):
    """A fixed thing that gets a cable: an outlet, a camera, a doorbell."""

    SHELVES = {"model": "devices"}
    REFS = {"storey_id": ("storey",)}
    kind: Literal["device"] = "device"
    storey_id: Id
    at: Point
    height_m: float = Field(0.4, ge=0, le=60)
    model: Code


class Switch(ElementBase):
    """A switch in a rack."""

    SHELVES = {"model": "switches"}
    REFS = {"rack_id": ("rack",)}
    kind: Literal["switch"] = "switch"
    rack_id: Id
    model: Code


class PortPin(Noun):
    """A run's port, chosen by a person."""

    switch_id: Id
    port: int = Field(ge=1, le=1000)


class Run(ElementBase):
    """A cable from a rack to a device, end to end. Its route is computed, not kept."""

    SHELVES = {"cable": "cables", "injector": "injectors"}
    REFS = {"rack_id": ("rack",), "to_id": ("access-point", "device", "rack")}
    kind: Literal["run"] = "run"
    rack_id: Id
    to_id: Id
    cable: Code
    pin: PortPin | None = None
    injector: Code | None = None


class Conduit(ElementBase):
    """A conduit of one bore and the runs drawn through it."""

    SHELVES = {"bore": "bores"}
    kind: Literal["conduit"] = "conduit"
    bore: Code
    run_ids: tuple[Id, ...] = ()


class Network(ElementBase):
    """A VLAN with its subnet."""

    kind: Literal["network"] = "network"
    purpose: Literal["main", "guest", "things", "cameras", "voice", "management"] = "main"
    vlan: int = Field(ge=1, le=4094)
    subnet: IPvAnyNetwork
    isolated: bool = False
    reaches_in: bool = False
    internet: bool = True

    @field_serializer("subnet")
    def _subnet_text(self, subnet: IPvAnyNetwork) -> str:
        return str(subnet)


class Ssid(ElementBase):
    """A wireless name; its label is the name on the air."""

    REFS = {"network_id": ("network",)}
    kind: Literal["ssid"] = "ssid"
    network_id: Id
    bands: tuple[Band, ...] = ("2.4", "5")
    security: Literal["wpa3", "transition", "wpa2", "open"] = "wpa3"
    isolation: bool = False
    fast_roaming: bool = True
    lowest_rate_24_mbps: float = Field(12, gt=0, le=54)


class Acceptance(ElementBase):
    """A finding a person lives with, and why. Its label names the finding."""

    kind: Literal["acceptance"] = "acceptance"
    finding_key: Annotated[str, StringConstraints(min_length=3, max_length=200)]
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=500)]


class Attachment(Noun):
    """A picture that travels inside a job file; the database keeps it beside the job."""

    id: Id
    name: Annotated[str, StringConstraints(max_length=200)]
    png: Base64Bytes


Element = Annotated[
    Site
    | Brief
    | Practice
    | Storey
    | Underlay
    | Wall
    | Opening
    | Space
    | NoGo
    | Planting
    | Shaft
    | Fixture
    | Line
    | OwnBuildUp
    | Riser
    | ServiceEntry
    | Rack
    | AccessPoint
    | Antenna
    | AirModel
    | Calibration
    | SurveyPoint
    | Neighbour
    | Walk
    | Variant
    | Device
    | Switch
    | Run
    | Conduit
    | Network
    | Ssid
    | Acceptance,
    Field(discriminator="kind"),
]
ELEMENT: TypeAdapter[Element] = TypeAdapter(Element)
SINGLETONS: tuple[str, ...] = ("site", "brief", "practice", "air-model", "calibration")
# Shelves of the library that a job may lay its own items over.
OWN_SHELVES = ("build_ups", "patterns")
E = TypeVar("E", bound=ElementBase)


def references(element: Element) -> Iterator[tuple[str, str, tuple[str, ...]]]:
    """Yield (field, id, kinds allowed) for every reference an element holds."""
    for field, kinds in element.REFS.items():
        yield field, getattr(element, field), kinds
    if isinstance(element, Walk):
        for stop in element.stops:
            yield "stops.storey_id", stop.storey_id, ("storey",)
    if isinstance(element, Run) and element.pin is not None:
        yield "pin.switch_id", element.pin.switch_id, ("switch",)
    if isinstance(element, Conduit):
        for run_id in element.run_ids:
            yield "run_ids", run_id, ("run",)


def _natural(element: ElementBase) -> tuple[tuple[tuple[int, str], ...], str]:
    """Return a key that puts R-2 before R-10, and equal labels by their ids."""
    parts = re.findall(r"\d+|\D+", element.label)
    return tuple((int(part), "") if part.isdigit() else (0, part) for part in parts), element.id


class Job(Noun):
    """One job. `of` gives the elements of a kind, `get` one by id."""

    format: Literal["heathrise-job"] = JOB_FORMAT
    schema_version: Literal[1] = SCHEMA_VERSION
    name: Label
    elements: tuple[Element, ...] = Field((), max_length=200_000)
    attachments: tuple[Attachment, ...] = Field((), max_length=200)

    @model_validator(mode="after")
    def _consistent(self) -> "Job":
        if len(self.by_id) != len(self.elements):
            raise ValueError("two elements of the job have the same id")
        for kind in SINGLETONS:
            if sum(element.kind == kind for element in self.elements) > 1:
                raise ValueError(f"the job has more than one {kind}")
        self.check_references(self.elements)
        return self

    @cached_property
    def by_id(self) -> dict[str, Element]:
        """Every element by its id."""
        return {element.id: element for element in self.elements}

    def check_references(self, elements: Iterable[Element]) -> None:
        """Raise BrokenReference unless every id and library item named by `elements` exists."""
        for element in elements:
            for field, ref, kinds in references(element):
                target = self.by_id.get(ref)
                if target is None or target.kind not in kinds:
                    wanted = " or ".join(kind.replace("-", " ") for kind in kinds)
                    raise BrokenReference(
                        f"{element.kind.replace('-', ' ')} {element.label}: {field} names "
                        f"{ref}, but the job has no such {wanted}"
                    )
            for field, shelf in element.SHELVES.items():
                code = getattr(element, field)
                items = getattr(self if shelf in OWN_SHELVES else library(), shelf)
                if code is not None and code not in items:
                    raise BrokenReference(
                        f"{element.kind.replace('-', ' ')} {element.label}: {field} is {code}, "
                        f"but the library has no such item among its {shelf.replace('_', ' ')}"
                    )

    @cached_property
    def build_ups(self) -> dict[str, BuildUp]:
        """The library's build-ups with this job's own laid over them."""
        own = {e.code: e.build_up for e in self.elements if isinstance(e, OwnBuildUp)}
        return {**library().build_ups, **own} if own else library().build_ups

    @cached_property
    def patterns(self) -> dict[str, object]:
        """The library's antenna patterns with this job's own laid over them."""
        own = {e.code: e for e in self.elements if isinstance(e, Antenna)}
        return {**library().patterns, **own}

    def of(self, cls: type[E]) -> tuple[E, ...]:
        """Return the elements of one class in the order of their labels.

        Not in the order they were made: an element that was removed and brought back must not
        move every port and channel computed after it.
        """
        kept = self._by_class.get(cls)
        if kept is None:
            found = (element for element in self.elements if isinstance(element, cls))
            kept = self._by_class[cls] = tuple(sorted(found, key=_natural))
        return cast(tuple[E, ...], kept)

    @cached_property
    def _by_class(self) -> dict[type[ElementBase], tuple[ElementBase, ...]]:
        return {}

    def get(self, cls: type[E], element_id: str) -> E:
        """Return one element of a class. Raises KeyError."""
        element = self.by_id[element_id]
        if not isinstance(element, cls):
            raise KeyError(element_id)
        return element

    @cached_property
    def site(self) -> Site:
        """The site's facts, or the defaults."""
        return self._single(Site, "Site")

    @cached_property
    def brief(self) -> Brief:
        """The brief, or the defaults."""
        return self._single(Brief, "Brief")

    @cached_property
    def practice(self) -> Practice:
        """The house practice, or the defaults."""
        return self._single(Practice, "House practice")

    @cached_property
    def air_model(self) -> AirModel:
        """How the air is computed, or the defaults."""
        return self._single(AirModel, "How the air is computed")

    @cached_property
    def calibration(self) -> Calibration | None:
        """What survey points taught, None before any fit."""
        found = self.of(Calibration)
        return found[0] if found else None

    def end_of(self, run: "Run") -> "AccessPoint | Device | Rack":
        """Return what a run goes to."""
        target = self.by_id[run.to_id]
        if not isinstance(target, AccessPoint | Device | Rack):
            raise KeyError(run.to_id)
        return target

    def _single(self, cls: type[E], label: str) -> E:
        found = self.of(cls)
        no_id: dict[str, Any] = {"id": "00000000-0000-7000-8000-000000000000", "label": label}
        return found[0] if found else cls(**no_id)

    @cached_property
    def storeys(self) -> tuple[Storey, ...]:
        """The storeys, lowest first."""
        return tuple(sorted(self.of(Storey), key=lambda storey: storey.elevation_m))
