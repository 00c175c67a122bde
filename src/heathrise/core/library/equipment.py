"""What equipment can do: ports, power, radios, where it may stand. Asked by capability, never by class.

A model is a table in one of the files of `data/equipment/`; a job may carry models of its own.
"""

from functools import cached_property
from typing import Literal

from pydantic import Field

from heathrise.core.library.items import Purpose
from heathrise.core.sums import Noun

Medium = Literal["copper", "cage", "fibre", "dc", "air"]
Mount = Literal["ceiling", "wall", "desk", "outlet", "outdoor", "pole"]
# How long power is kept when there is too little: the least is shed first.
Priority = Literal["low", "high", "critical"]
PRIORITIES: tuple[Priority, ...] = ("low", "high", "critical")


class BandRadio(Noun):
    """What a radio can do on one band."""

    band: Literal["2.4", "5", "6"]
    gain_dbi: float
    max_dbm: float
    chains: int


class Pack(Noun):
    """Pieces that are sold together."""

    count: int = Field(ge=2)
    price: float = Field(ge=0)


class PortGroup(Noun):
    """Ports that are alike. `gives_class` and `takes_class` are PoE classes of IEEE 802.3, 0 for none;
    `gives_v` is a passive or DC feed without any class. A named group is one port of that name, others
    are numbered on from the group before.
    """

    count: int = Field(1, ge=1, le=1000)
    name: str | None = Field(None, min_length=1, max_length=20)
    medium: Medium = "copper"
    speed_mbps: int = Field(1000, ge=0, le=400_000)
    gives_class: int = Field(0, ge=0, le=8)
    takes_class: int = Field(0, ge=0, le=8)
    gives_v: float | None = Field(None, gt=0, le=400)
    takes_least_v: float | None = Field(None, gt=0, le=400)
    takes_most_v: float | None = Field(None, gt=0, le=400)
    uplink: bool = False


class Port(Noun):
    """One port of a model by its name."""

    name: str
    group: PortGroup


class AirUnit(Noun):
    """How a unit passes data through open air to its like.

    In a band of the access points (`band`) its EIRP is the domain's and its rate follows from the level; with a
    frequency of its own it either has the level it needs or nothing. Of light, `light_margin_db` is what it has
    left in clear air, and `reach_m` how far its beam is steady.
    """

    band: Literal["2.4", "5"] | None = None
    f_ghz: float | None = Field(None, gt=0)
    gain_dbi: float = 0.0
    most_dbm: float = 0.0
    width_mhz: int = Field(20, gt=0)
    streams: int = Field(1, ge=1, le=8)
    noise_figure_db: float = 7.0
    oxygen: bool = False
    needs_dbm: float | None = None
    speed_mbps: float = Field(0.0, ge=0)
    light_margin_db: float | None = None
    reach_m: float | None = None


class MainsUnit(Noun):
    """How a unit passes data over the mains wiring to its like: by the speed on its label. [Mb/s]"""

    label_mbps: float = Field(gt=0)


class SupplyUnit(Noun):
    """How a unit keeps others running when the mains fail: what its battery holds when new, and what it can give."""

    energy_wh: float = Field(gt=0)
    most_w: float = Field(gt=0)
    chemistry: Literal["lithium", "lead-acid"] = "lead-acid"


class EquipmentModel(Noun):
    """A model of anything with ports. Own watts are what it draws itself, at most and usually.

    `forwards` says what its ports are to each other: nothing (an end), a switch, a router between
    networks, or straight through (an injector, an outlet, a panel). `purpose` is the network it belongs on,
    `comes_with` the parts that one of it always takes. `night_w` and `cold_w` are what lamps and heaters draw
    beside its usual watts, never over `max_w`; `under_fed` says what it gives up when it gets a class less than it
    asks for, `caution` what is minded where it is fitted. `inspected_mbps` is what passes with inspection on,
    `picture_mbps` the usual rate of its picture; what holds disks has `bays`, what records cameras `channels`.
    """

    label: str
    ports: tuple[PortGroup, ...] = ()
    forwards: Literal["none", "switch", "route", "through"] = "none"
    managed: bool = False
    controls: bool = False
    purpose: Purpose = "main"
    sign: str = "device"
    mounts: tuple[Mount, ...] = ()
    outdoor: bool = False
    coldest_c: float | None = None
    hottest_c: float | None = None
    height_u: int = Field(0, ge=0, le=60)
    depth_mm: float | None = None
    weight_kg: float | None = None
    noise_db: float | None = None
    max_w: float = Field(0.0, ge=0)
    typical_w: float = Field(0.0, ge=0)
    budget_w: float = Field(0.0, ge=0)
    allocates_by_lldp: bool = False
    generation: str | None = None
    pattern: str | None = None
    bands: tuple[BandRadio, ...] = ()
    air: AirUnit | None = None
    mains: MainsUnit | None = None
    guards_surge: bool = False
    supply: SupplyUnit | None = None
    priority: Priority = "low"
    night_w: float = Field(0.0, ge=0)
    cold_w: float = Field(0.0, ge=0)
    under_fed: str = ""
    caution: str = ""
    picture_mbps: float = Field(0.0, ge=0)
    bays: int = Field(0, ge=0, le=60)
    channels: int = Field(0, ge=0, le=1000)
    inspected_mbps: float | None = Field(None, gt=0)
    price: float | None = Field(None, ge=0)
    packs: tuple[Pack, ...] = ()
    comes_with: tuple[str, ...] = ()
    source: str = "design value"

    def band(self, band: str) -> BandRadio | None:
        """Return its radio on a band, if it has one."""
        return next((radio for radio in self.bands if radio.band == band), None)

    @cached_property
    def port_list(self) -> tuple[Port, ...]:
        """Every port by name, in the order they stand on the front; numbers run on over the groups."""
        found: list[Port] = []
        number = 0
        for group in self.ports:
            if group.name is not None:
                found.append(Port(name=group.name, group=group))
                continue
            for _ in range(group.count):
                number += 1
                found.append(Port(name=str(number), group=group))
        return tuple(found)

    def port(self, name: str) -> Port | None:
        """Return one port, None when there is none of that name."""
        return next((port for port in self.port_list if port.name == name), None)

    @property
    def radiates(self) -> bool:
        """Whether it puts clients on the air."""
        return bool(self.bands)

    @property
    def joins(self) -> bool:
        """Whether data that comes in at one port goes on by others: a switch or a gateway."""
        return self.forwards in ("switch", "route")

    @property
    def feeds_through(self) -> bool:
        """Whether it puts power on a cable that passes through it: an injector."""
        return self.forwards == "through" and any(
            (g.gives_class or g.gives_v) and g.medium != "dc" for g in self.ports
        )

    @property
    def lands_cables(self) -> bool:
        """Whether it only lands cables in a rack: straight through, fed by nobody, feeding nobody."""
        return self.forwards == "through" and self.height_u > 0 and not self.max_w and not self.feeds_through

    @property
    def wants_outlet(self) -> bool:
        """Whether it is plugged into the mains: it draws or feeds, and no cable feeds it."""
        feeds = self.feeds_through or any(group.medium == "dc" and group.gives_v for group in self.ports)
        return (bool(self.max_w) or feeds) and not self.takes_class and not self.needs_dc

    @property
    def needs_dc(self) -> bool:
        """Whether it lives on direct voltage over a pair of its own, not on the mains."""
        return any(group.medium == "dc" and group.takes_least_v for group in self.ports)

    @property
    def racks(self) -> bool:
        """Whether it is bolted into a rack."""
        return self.height_u > 0

    @property
    def keeps_running(self) -> bool:
        """Whether it has a battery for others."""
        return self.supply is not None

    @property
    def hangs(self) -> bool:
        """Whether it is a fixed thing on the sheet: an end with a mount and no radio for clients."""
        return bool(self.mounts) and not self.radiates and not self.joins

    @property
    def links_up(self) -> tuple[Port, ...]:
        """The ports it reaches the network by: those marked so, else all of an end."""
        up = tuple(port for port in self.port_list if port.group.uplink)
        return up or (() if self.joins else self.port_list)

    @property
    def uplink_mbps(self) -> int:
        """Top speed of its way to the network, 0 when it has none. [Mb/s]"""
        return max((port.group.speed_mbps for port in self.links_up), default=0)

    @property
    def takes_class(self) -> int:
        """The PoE class it asks for, 0 when it is fed otherwise."""
        return max((group.takes_class for group in self.ports), default=0)

    @property
    def gives_class(self) -> int:
        """The highest PoE class any of its ports gives."""
        return max((group.gives_class for group in self.ports), default=0)


# What screens choose by.
_CAN = ("radiates", "joins", "feeds_through", "hangs", "lands_cables", "racks", "keeps_running")


class EquipmentShown(EquipmentModel):
    """A model with what it can do, so that screens choose by that."""

    can: tuple[str, ...]


def shown(model: EquipmentModel) -> EquipmentShown:
    """Return a model with what it can do."""
    can = tuple(name for name in _CAN if getattr(model, name))
    return EquipmentShown.model_construct(
        **{name: getattr(model, name) for name in type(model).model_fields}, can=can
    )


class PatternShown(Noun):
    """An antenna pattern by name."""

    label: str
