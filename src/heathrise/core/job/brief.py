"""The site, the brief and the house practice: one element each."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, IPvAnyNetwork, StringConstraints, field_serializer, model_validator

from heathrise.core.job.element import About, Code, ElementBase, FormField, Label, Words
from heathrise.core.library.items import Purpose
from heathrise.core.sums import Noun


class Climate(Noun):
    """The hottest and the coldest a kind of space becomes [C], and the rain that is passed in 0.01 % of the year
    [mm/h]; None takes the design value.
    """

    indoors_c: float = Field(26, ge=-20, le=60)
    void_c: float = Field(32, ge=-20, le=80)
    loft_c: float = Field(50, ge=-20, le=80)
    outdoors_c: float = Field(35, ge=-40, le=60)
    indoors_coldest_c: float = Field(14, ge=-40, le=60)
    loft_coldest_c: float = Field(-5, ge=-60, le=60)
    outdoors_coldest_c: float = Field(-15, ge=-60, le=60)
    rain_mm_h: float | None = Field(None, gt=0, le=250)


SiteKind = Literal["school", "home", "clinic", "office", "shop"]
Day = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WORKING_DAYS: tuple[Day, ...] = ("mon", "tue", "wed", "thu", "fri")


class Site(ElementBase):
    """Facts of the place. The hours say when people are there and when not to update anything; updates are made at
    `updates_at_h`, None takes an hour when nobody is there.
    """

    SHELVES = {"domain": "domains", "roof_build_up": "build_ups"}
    PARTS = frozenset({"climate"})
    ABOUT = About(
        noun="site",
        stem="Site",
        stage="brief",
        sign="space",
        placed="none",
        single=True,
        fields=(
            FormField(path="site_kind", label="Kind"),
            FormField(path="address", label="Address"),
            FormField(path="domain", label="Radio domain", shelf="domains"),
            FormField(path="built_year", label="Built"),
            FormField(path="roof_build_up", label="Roof", shelf="build_ups", only="roof"),
            FormField(path="climate.indoors_c", label="Hottest inside", unit="C"),
            FormField(path="climate.void_c", label="Hottest void", unit="C"),
            FormField(path="climate.loft_c", label="Hottest loft", unit="C"),
            FormField(path="climate.outdoors_c", label="Hottest outdoors", unit="C"),
            FormField(path="climate.indoors_coldest_c", label="Coldest inside", unit="C"),
            FormField(path="climate.outdoors_coldest_c", label="Coldest outdoors", unit="C"),
            FormField(path="climate.rain_mm_h", label="Heavy rain", unit="mm/h"),
            FormField(path="opens_h", label="Opens", unit="h"),
            FormField(path="closes_h", label="Closes", unit="h"),
            FormField(path="updates_at_h", label="Updates at", unit="h"),
        ),
    )
    kind: Literal["site"] = "site"
    site_kind: SiteKind = "office"
    address: Annotated[str, StringConstraints(max_length=300)] = ""
    opens_h: int = Field(8, ge=0, le=23)
    closes_h: int = Field(18, ge=1, le=24)
    open_days: tuple[Day, ...] = WORKING_DAYS
    updates_at_h: int | None = Field(None, ge=0, le=23)
    domain: Code = "etsi-like"
    built_year: int | None = Field(None, ge=1000, le=2100)
    climate: Climate = Climate()
    roof_build_up: Code = "tiled-roof"


Carrier = Literal["air", "cable"]


class DeviceCount(Noun):
    """So many devices of one kind. `device` names a kind in the library; `way` overrules how the
    practice would carry it, and then `reason` says why.
    """

    what: Label
    count: int = Field(ge=0, le=100_000)
    moves: bool = True
    purpose: Purpose = "main"
    device: Code | None = None
    way: Carrier | None = None
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
    """Something the client has and means to keep; `item` is the line of the kit list it is taken off."""

    what: Label
    count: int = Field(1, ge=1, le=10_000)
    item: Code | None = None
    serves: bool = True
    note: Words = ""


class Internet(Noun):
    """The service that enters the building. `beyond` are subnets of other sites, reached by tunnels."""

    service: Literal["fibre", "cable", "vdsl", "cellular", "none"] = "fibre"
    down_mbps: float = Field(100, gt=0, le=400_000)
    up_mbps: float = Field(20, gt=0, le=400_000)
    addressing: Literal["dhcp", "static", "pppoe"] = "dhcp"
    subnet: IPvAnyNetwork | None = None
    beyond: tuple[IPvAnyNetwork, ...] = Field((), max_length=50)

    @field_serializer("subnet")
    def _subnet_text(self, subnet: IPvAnyNetwork | None) -> str | None:
        return None if subnet is None else str(subnet)

    @field_serializer("beyond")
    def _beyond_text(self, beyond: tuple[IPvAnyNetwork, ...]) -> list[str]:
        return [str(subnet) for subnet in beyond]

    @property
    def outside(self) -> tuple[IPvAnyNetwork, ...]:
        """Every subnet that is not the building's: the service's own, then those reached by tunnels."""
        return (*((self.subnet,) if self.subnet is not None else ()), *self.beyond)


class Brief(ElementBase):
    """What the client asked for."""

    SHELVES = {"client_class": "clients"}
    ROWS = {"devices": "what", "answers": "question", "drops": "drop", "kept": "what"}
    PARTS = frozenset({"internet"})
    ABOUT = About(
        noun="brief",
        stem="Brief",
        stage="brief",
        sign="space",
        placed="none",
        single=True,
        fields=(
            FormField(path="internet.service", label="Service"),
            FormField(path="internet.down_mbps", label="Down", unit="Mb/s"),
            FormField(path="internet.up_mbps", label="Up", unit="Mb/s"),
            FormField(path="internet.subnet", label="Outside subnet"),
            FormField(path="people_peak", label="People at peak"),
            FormField(path="guests_peak", label="Guests at peak"),
            FormField(path="client_class", label="Judge by", shelf="clients"),
            FormField(path="budget", label="Budget for kit"),
        ),
    )
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
    ABOUT = About(
        noun="house practice",
        stem="House practice",
        stage="brief",
        sign="space",
        placed="none",
        single=True,
        fields=(
            FormField(
                path="design_on", label="Design on", words={"weaker": "weaker way", "down": "down only"}
            ),
            FormField(path="second_signal", label="Second signal"),
            FormField(path="set_24", label="2.4 GHz set"),
            FormField(path="width_5_mhz", label="5 GHz width"),
            FormField(path="radar_channels", label="Radar channels"),
            FormField(path="budget_method", label="PoE budget by"),
            FormField(path="cable_points", label="Cable to points", shelf="cables"),
            FormField(path="cable_other", label="Cable elsewhere", shelf="cables"),
            FormField(path="cords_m", label="Cords", unit="m"),
            FormField(path="cords_awg", label="Gauge of cords"),
        ),
    )
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
    cords_awg: Literal[24, 26, 28] = 24
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = "EUR"
