"""What a controller tells, in the planner's terms: units as they are, and settings in the same nouns as the plan.

Settings name devices by serial, not by label: which unit hangs where is another question, see `matching`.
"""

from typing import Literal

from heathrise.core.network.settings import (
    AddressSetting,
    DeviceKind,
    NameSetting,
    NetworkSetting,
    PortSetting,
    RadioSetting,
)
from heathrise.core.sums import Noun

# What a unit can be like. `weak` is powered by less than it asks for.
Phase = Literal[
    "new",
    "owned",
    "joining",
    "readying",
    "updating",
    "starting",
    "listening",
    "up",
    "weak",
    "cut off",
    "dark",
]
# A unit in one of these takes no settings now, and will soon.
PASSING: frozenset[str] = frozenset({"joining", "readying", "updating", "starting", "listening"})
ALIVE: frozenset[str] = frozenset({"up", "weak", "listening", "readying"})


class LivePort(Noun):
    """A port as it is: whether it is up, how fast, what it gives, and who is at its other end by serial or name."""

    name: str
    up: bool
    mbps: int
    watts: float
    beside: str
    shut: bool


class LiveRadio(Noun):
    """A radio as it is: its channel, and how busy the air is there. [share]"""

    band: str
    channel: int | None
    busy: float


class LiveUnit(Noun):
    """A unit as it is. `old` says that newer firmware is there; `seconds` when what it is doing is done."""

    serial: str
    mac: str
    model: str
    kind: DeviceKind
    name: str
    phase: Phase
    owner: str
    version: str
    old: bool
    blinks: bool
    wired: bool
    on_bench: bool
    people: int
    draws_w: float
    gives_w: float
    budget_w: float
    ports: tuple[LivePort, ...]
    radios: tuple[LiveRadio, ...]
    seconds: float


class LiveHouse(Noun):
    """Settings of the whole."""

    automatic_radios: bool
    airtime_fairness: bool
    updates: str
    update_at: str


class Alert(Noun):
    """What a controller complains of: a kind, whom, at which port, in words."""

    kind: str
    serial: str
    port: str
    words: str


class Live(Noun):
    """A controller read at once. `other_passphrase` are names whose passphrase is not the one that is kept here;
    `revision` is that of its settings, `clock_s` what its clock says (since 1970)."""

    revision: str
    clock_s: float
    clock_off_s: float
    console_version: str
    console_old: bool
    console_updates: bool
    wan: str
    people: int
    units: tuple[LiveUnit, ...]
    networks: tuple[NetworkSetting, ...]
    names: tuple[NameSetting, ...]
    other_passphrase: tuple[str, ...]
    radios: tuple[RadioSetting, ...]
    ports: tuple[PortSetting, ...]
    addresses: tuple[AddressSetting, ...]
    house: LiveHouse
    alerts: tuple[Alert, ...]
