"""What is sent to the stand-in: a site as it stands, and settings. Wrong ones are refused with a reason."""

import ipaddress
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

Serial = Annotated[str, Field(min_length=1, max_length=32)]
Kind = Literal["router", "switch", "ap", "console"]
Rank = Literal["low", "high", "critical"]
# What each band's radios can be set to.
CHANNELS = {
    "2.4": frozenset(range(1, 14)),
    "5": frozenset((*range(36, 65, 4), *range(100, 145, 4), *range(149, 178, 4))),
    "6": frozenset(range(1, 234, 4)),
}
_NAME_BYTES = 32


class Shape(BaseModel):
    """Base: nothing unknown is taken."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Socket(Shape):
    """A port of a unit: its speed and what it can give."""

    name: str
    mbps: int = 1000
    gives_w: float = 0.0


class Unit(Shape):
    """A unit as it comes out of its box, and where it stands. A wired one has a wire; another hangs by air."""

    serial: Serial
    mac: str
    model: str
    kind: Kind
    sockets: tuple[Socket, ...] = ()
    bands: tuple[str, ...] = ()
    budget_w: float = 0.0
    draws_w: float = 0.0
    floor: int = 0
    x: float = 0.0
    y: float = 0.0
    wired: bool = True
    owner: str = ""
    rounds: int = Field(1, ge=0, le=5)


class Wire(Shape):
    """A cable between two ports; `far` and `near` are serials, `pairs` how many of it are sound."""

    near: Serial
    near_port: str
    far: Serial
    far_port: str
    pairs: int = Field(4, ge=0, le=4)


class Thing(Shape):
    """What is no unit of the controller and hangs on a port: a camera, a printer."""

    label: str
    mac: str
    serial: Serial
    port: str
    draws_w: float = 0.0
    net: str = ""


class Service(Shape):
    """What the service hands out."""

    cidr: str = "192.0.2.0/24"


class Site(Shape):
    """A site: who may look after it, its units, wires and things, how many people with phones walk about, and between
    which corners (left, top, right, bottom).
    """

    seed: int = 1
    account: str
    secret: str
    console_rounds: int = Field(2, ge=0, le=5)
    units: Annotated[tuple[Unit, ...], Field(max_length=2000)]
    wires: tuple[Wire, ...] = ()
    things: tuple[Thing, ...] = ()
    people: int = Field(0, ge=0, le=20_000)
    service: Service = Service()
    corners: tuple[float, float, float, float] = (0.0, 0.0, 30.0, 20.0)


class Net(Shape):
    """A network."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    vid: int = Field(ge=1, le=4094)
    cidr: str
    router: str
    pool: tuple[str, str]
    lease_s: float = Field(gt=0)
    to: tuple[str, ...] = ()
    wan: bool = True
    filter: str = "none"
    safe: bool = False
    cap_mbps: int | None = None

    @model_validator(mode="after")
    def _inside(self) -> "Net":
        network = ipaddress.ip_network(self.cidr)
        for address in (self.router, *self.pool):
            if ipaddress.ip_address(address) not in network:
                raise ValueError(f"{address} is not in {self.cidr}")
        return self


class Wlan(Shape):
    """A name on the air; `units` None is at all of them. `secret` is taken and never given out."""

    name: str
    net: str
    bands: tuple[str, ...]
    units: tuple[Serial, ...] | None = None
    guard: Literal["wpa3", "transition", "wpa2", "open", "enterprise"] = "wpa2"
    secret: str | None = None
    apart: bool = False
    ft: bool = False
    hints: bool = False
    steer: bool = False
    dtim: int = Field(1, ge=1, le=10)
    min24: float = 1.0
    min5: float = 6.0
    cap_mbps: int | None = None
    portal: bool = False
    quiet: bool = False
    hours: tuple[int, int] | None = None

    @field_validator("name")
    @classmethod
    def _short(cls, name: str) -> str:
        if not 0 < len(name.encode()) <= _NAME_BYTES:
            raise ValueError(f"a name has 1 to {_NAME_BYTES} bytes")
        return name

    @field_validator("secret")
    @classmethod
    def _long_enough(cls, secret: str | None) -> str | None:
        if secret is not None and not 8 <= len(secret) <= 63:
            # Said without the secret: what is refused is written down.
            raise ValueError("a passphrase has 8 to 63 characters")
        return secret


class RadioSet(Shape):
    """One radio's settings; `channel` None lets it choose."""

    on: bool = True
    channel: int | None = None
    width: int = 20
    dbm: float | None = None
    min_mbps: float = 1.0
    serves: bool = True


class PortSet(Shape):
    """One port's settings; `native` None carries nothing untagged."""

    on: bool = True
    title: str = ""
    role: str = "edge"
    native: str | None = None
    tagged: tuple[str, ...] = ()
    power: bool = True
    rank: Rank = "low"
    mbps: int = 0
    edge: bool = False
    loop: bool = False
    storm: float | None = None


class UnitSet(Shape):
    """One unit's settings. A part left out stays as it is; so do radios and ports not named."""

    alias: str | None = None
    mesh: bool | None = None
    radios: dict[str, RadioSet] = {}
    ports: dict[str, PortSet] = {}

    @model_validator(mode="after")
    def _channels(self) -> "UnitSet":
        for band, radio in self.radios.items():
            if band not in CHANNELS:
                raise ValueError(f"there is no band {band}")
            if radio.channel is not None and radio.channel not in CHANNELS[band]:
                raise ValueError(f"{band} GHz has no channel {radio.channel}")
        return self


class SiteSet(Shape):
    """Settings of the whole."""

    auto_radio: bool = True
    fair: bool = True
    update: Literal["hand", "night"] = "night"
    update_at: str = "03:00"


class Pinned(Shape):
    """An address that is always one MAC's."""

    name: str
    net: str
    address: str
    mac: str = ""
