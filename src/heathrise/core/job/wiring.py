"""The wired half: racks, equipment with ports, links between two ports, and the ways cables take.

Equipment is whatever has ports; what it can do stands in its model. A link joins two ports. Where an end
names a rack, or names no port, that is not decided yet and a plan proposes it; a port that is named was
decided and nothing but a person's edit moves it.
"""

import math
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field

from heathrise.core.job.element import AT, NAME, About, Code, ElementBase, FormField, Id, Point, Tool, Words
from heathrise.core.job.network import Mac, Serial
from heathrise.core.library import EquipmentModel, Mount, Priority
from heathrise.core.sums import Noun

PortName = Annotated[str, Field(min_length=1, max_length=20)]
STANDS = ("rack", "equipment", "access-point")


class Riser(ElementBase):
    """An upright way for cables through storeys, at one place in plan."""

    REFS = {"from_storey_id": ("storey",), "to_storey_id": ("storey",)}
    ABOUT = About(
        noun="riser",
        stem="Riser",
        stage="plan",
        sign="riser",
        placed="up",
        fields=(NAME, *AT),
        tools=(
            Tool(
                name="riser",
                label="Riser",
                hint="Press where cables pass between storeys.",
                sign="riser",
                stages=(
                    "plan",
                    "runs",
                ),
            ),
        ),
    )
    kind: Literal["riser"] = "riser"
    at: Point
    from_storey_id: Id
    to_storey_id: Id


class ServiceEntry(ElementBase):
    """Where the outside service enters."""

    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="service entry",
        stem="Service entry",
        stage="plan",
        sign="entry",
        placed="point",
        fields=(NAME, *AT),
        tools=(
            Tool(
                name="service-entry",
                label="Service entry",
                hint="Press where the internet service enters.",
                sign="entry",
                stages=("plan",),
            ),
        ),
    )
    kind: Literal["service-entry"] = "service-entry"
    storey_id: Id
    at: Point


class Rack(ElementBase):
    """A rack or shelf in a comms space; runs end here.

    `studs_mm` is how far apart the wall's studs stand (None: nobody looked), `air_m3_h` what a fan moves through the
    closet, `keeps_min` how long it is to run when the mains fail. Heights are of its lower edge.
    """

    SHELVES = {"model": "racks"}
    REFS = {"storey_id": ("storey",)}
    ABOUT = About(
        noun="rack",
        stem="TR",
        gap="",
        stage="plan",
        sign="rack",
        placed="point",
        fields=(
            NAME,
            FormField(path="model", label="Model", shelf="racks"),
            FormField(path="height_m", label="Height", unit="m"),
            FormField(path="studs_mm", label="Studs apart", unit="mm"),
            FormField(path="backing_board", label="Backing board"),
            FormField(path="air_m3_h", label="Fan moves", unit="m³/h"),
            FormField(path="keeps_min", label="Keeps running", unit="min"),
            *AT,
        ),
        tools=(
            Tool(
                name="rack",
                label="Rack",
                hint="Press where the rack stands.",
                sign="rack",
                stages=(
                    "plan",
                    "runs",
                    "ports",
                ),
            ),
        ),
    )
    kind: Literal["rack"] = "rack"
    storey_id: Id
    at: Point
    height_m: float = Field(1.5, ge=0, le=30)
    model: Code = "rack-12u"
    studs_mm: float | None = Field(None, ge=100, le=2000)
    backing_board: bool = False
    air_m3_h: float = Field(0.0, ge=0, le=5000)
    keeps_min: int = Field(0, ge=0, le=1440)


class OnSheet(Noun):
    """On a storey: at a place, at a height over its floor."""

    where: Literal["sheet"] = "sheet"
    storey_id: Id
    at: Point
    height_m: float = Field(0.4, ge=0, le=60)
    mount: Mount | None = None


class InRack(Noun):
    """In a rack: at a unit counted from below, or laid on a shelf; None leaves the unit open."""

    where: Literal["rack"] = "rack"
    rack_id: Id
    unit: int | None = Field(None, ge=1, le=60)
    face: Literal["front", "rear", "shelf"] = "front"


class InLine(Noun):
    """On a link's way: an injector on a shelf, an extender in the ground. `at_m` from the link's end `a`."""

    where: Literal["line"] = "line"
    link_id: Id
    at_m: float | None = Field(None, ge=0, le=10_000)


Place = Annotated[OnSheet | InRack | InLine, Field(discriminator="where")]


# How disks are taken together: each by itself, in pairs, with one or two disks' worth of parity.
DiskSet = Literal["none", "mirror", "single", "double"]


class Equipment(ElementBase):
    """Whatever has ports and is no access point: an outlet, a camera, a switch, an injector, a gateway.

    What holds disks says which stand in it and how they are taken together, how many hours a day it records and how
    many days it keeps; nothing else looks at these. `network_id` is the network it was put into, None takes the one its
    model belongs on; `serial` and `mac` are those of the unit that stands there.
    """

    SHELVES = {"model": "equipment"}
    REFS = {
        "place.storey_id": ("storey",),
        "place.rack_id": ("rack",),
        "place.link_id": ("link",),
        "network_id": ("network",),
    }
    LOOSE = frozenset({"network_id"})
    ABOUT = About(
        noun="equipment",
        stem="Outlet",
        stage="runs",
        sign="device",
        placed="point",
        fields=(
            NAME,
            FormField(path="model", label="Model", shelf="equipment", only="alike"),
            FormField(path="place.height_m", label="Height", unit="m"),
            FormField(path="place.at.x_m", label="Across", unit="m"),
            FormField(path="place.at.y_m", label="Down", unit="m"),
            FormField(path="place.unit", label="Unit", unit="U"),
            FormField(path="place.face", label="Side"),
            FormField(path="place.at_m", label="Along", unit="m"),
            FormField(path="network_id", label="Network", refers="network"),
            FormField(path="serial", label="Serial"),
            FormField(path="mac", label="MAC"),
            FormField(path="note", label="Note"),
        ),
        tools=(
            Tool(
                name="equipment",
                asks="model",
                only="hangs",
                gives={"model": "outlet-data"},
                named=True,
                label="Fixed thing",
                hint="Press where the outlet, camera or phone goes.",
                sign="device",
                stages=(
                    "air",
                    "runs",
                ),
            ),
        ),
    )
    kind: Literal["equipment"] = "equipment"
    model: Code
    place: Place
    disks_tb: Annotated[tuple[Annotated[float, Field(gt=0, le=1000)], ...], Field(max_length=60)] = ()
    disk_set: DiskSet = "mirror"
    records_h: float = Field(24.0, ge=0, le=24)
    keeps_days: int = Field(30, ge=0, le=3650)
    network_id: Id | None = None
    serial: Serial = ""
    mac: Mac = ""
    note: Words = ""


class PanelPort(Noun):
    """A port of a patch panel, by the panel and the port's name."""

    on: Id
    port: PortName


class End(Noun):
    """One end of a link: on a rack (which port is open), or on equipment, at a port where one is decided.

    `panel` is where its cable lands on a patch panel of that rack, once that is decided.
    """

    on: Id
    port: PortName | None = None
    panel: PanelPort | None = None

    def at(self, on: str, port: str | None = None) -> "End":
        """Return this end on something else of its rack: where its cable lands on a panel stays."""
        return self.model_copy(update={"on": on, "port": port})


LinkMedium = Literal["copper", "fibre", "hybrid", "cord", "bridge", "mesh", "powerline", "service"]
# Media of links that are pulled through the building.
PULLED = ("copper", "fibre", "hybrid")


class Pin(Noun):
    """A place a run was told to pass, in the void of a storey."""

    storey_id: Id
    at: Point


class PathPoint(Noun):
    """A place of the path of a bridge: how far from its beginning, how high its ground, how high what stands there. [m]"""

    distance_m: float = Field(ge=0, le=100_000)
    ground_m: float = Field(0.0, ge=-500, le=9000)
    obstacle_m: float = Field(0.0, ge=0, le=500)


class Link(ElementBase):
    """What joins two ports. `a` is the end nearer the core. One of copper or fibre with a way through the
    building is a run; its route, length, limits and feed are computed, not kept, but for the places it was
    told to pass (`pins`, from end `a` on). `priority` says how long its power is kept when there is too little of it;
    None leaves that to the model at its end. `profile` is the path of a bridge as somebody measured it, in place of
    what the drawing knows. `there` says that it lies already: it is tested and used, not bought.
    """

    SHELVES = {"product": "cables"}
    REFS = {
        "a.on": STANDS,
        "b.on": STANDS,
        "a.panel.on": ("equipment",),
        "b.panel.on": ("equipment",),
        "pins.storey_id": ("storey",),
    }
    ABOUT = About(
        noun="run",
        stem="R-",
        gap="",
        digits=2,
        stage="runs",
        sign="run",
        placed="between",
        fields=(
            NAME,
            FormField(path="product", label="Cable", shelf="cables"),
            FormField(path="a.port", label="Port at the rack"),
            FormField(path="priority", label="Power kept"),
            FormField(path="there", label="There already"),
        ),
        tools=(
            Tool(
                name="link",
                label="Run",
                hint="Press what the cable goes to; it starts at the nearest rack.",
                sign="run",
                stages=("runs",),
                key="c",
            ),
        ),
    )
    kind: Literal["link"] = "link"
    medium: LinkMedium = "copper"
    product: Code | None = None
    a: End
    b: End
    there: bool = False
    priority: Priority | None = None
    pins: Annotated[tuple[Pin, ...], Field(max_length=20)] = ()
    profile: Annotated[tuple[PathPoint, ...], Field(max_length=500)] = ()


PathwayKind = Literal["conduit", "tray", "trunking", "sleeve", "duct", "trench", "aerial"]
Surroundings = Literal["general", "riser", "plenum", "outdoor", "ground", "wet"]


class Pathway(ElementBase):
    """A way for cables, drawn or named: a conduit, a tray, a duct. Upright ways are risers.

    Runs take it where it shortens what must be made anew; what a person put in it by hand stands in
    `link_ids`, also when no path is drawn. `there` says that it need not be made.
    """

    SHELVES = {"bore": "bores"}
    REFS = {"storey_id": ("storey",), "link_ids": ("link",)}
    LOOSE = frozenset({"link_ids"})
    ABOUT = About(
        noun="pathway",
        stem="Pathway",
        stage="runs",
        sign="pathway",
        placed="path",
        fields=(
            NAME,
            FormField(path="pathway_kind", label="Kind"),
            FormField(path="bore", label="Bore", shelf="bores"),
            FormField(path="width_mm", label="Width", unit="mm"),
            FormField(path="height_m", label="Height", unit="m"),
            FormField(path="surroundings", label="Space"),
            FormField(path="there", label="There already"),
            FormField(path="note", label="Note"),
        ),
        tools=(
            Tool(
                name="pathway",
                asks="pathway_kind",
                named=True,
                label="Pathway",
                hint="Press along it: a conduit, a tray, a duct. Enter ends it; runs take it from then on.",
                sign="pathway",
                stages=(
                    "plan",
                    "runs",
                ),
            ),
        ),
    )
    kind: Literal["pathway"] = "pathway"
    pathway_kind: PathwayKind = "conduit"
    storey_id: Id | None = None
    path: Annotated[tuple[Point, ...], Field(max_length=500)] = ()
    height_m: float = Field(2.8, ge=-10, le=60)
    bore: Code | None = None
    width_mm: float | None = Field(None, gt=0, le=2000)
    surroundings: Surroundings | None = None
    there: bool = True
    link_ids: tuple[Id, ...] = ()
    note: Words = ""

    @property
    def length_m(self) -> float:
        """How long it is drawn in plan. [m]"""
        return sum(math.hypot(b.x_m - a.x_m, b.y_m - a.y_m) for a, b in pairwise(self.path))


class OwnModel(ElementBase):
    """A model of equipment of this job: a new one, or other figures for one of the library."""

    ABOUT = About(noun="own model", stem="Model", stage="ports", sign="device", listed=False)
    kind: Literal["model"] = "model"
    code: Code
    model: EquipmentModel
