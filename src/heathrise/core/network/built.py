"""Nouns of a job as it would stand there: units with their ports, cables between them, things on ports."""

import hashlib

from heathrise.core.network.settings import DeviceKind
from heathrise.core.sums import Noun


class BuiltPort(Noun):
    """A port of a unit: its speed and the power it can give. [Mb/s, W]"""

    name: str
    mbps: int
    gives_w: float


class BuiltUnit(Noun):
    """A unit where it stands: x to the right and y down, in metres, on its storey by number from the lowest."""

    element_id: str
    label: str
    model: str
    kind: DeviceKind
    ports: tuple[BuiltPort, ...]
    bands: tuple[str, ...]
    budget_w: float
    draws_w: float
    storey: int
    x_m: float
    y_m: float
    wired: bool


class BuiltWire(Noun):
    """A cable between two ports of units: `a` is nearer the core."""

    a_id: str
    a_port: str
    b_id: str
    b_port: str


class BuiltThing(Noun):
    """A thing on a port that no controller looks after; `network` is the one it belongs in."""

    element_id: str
    label: str
    unit_id: str
    port: str
    draws_w: float
    network: str


class AsBuilt(Noun):
    """All of it; people walk between the corners (left, top, right, bottom)."""

    units: tuple[BuiltUnit, ...]
    wires: tuple[BuiltWire, ...]
    things: tuple[BuiltThing, ...]
    people: int
    corners_m: tuple[float, float, float, float]


def likely_serial(element_id: str) -> str:
    """Return the serial a simulated unit of an element has: the same each time, and nobody's."""
    return f"SIM{hashlib.sha256(element_id.encode()).hexdigest()[:9].upper()}"


def likely_mac(element_id: str) -> str:
    """Return the MAC a simulated unit has, locally administered."""
    digest = hashlib.sha256(element_id.encode()).digest()
    return ":".join(f"{byte:02x}" for byte in (0x02, *digest[:5]))
