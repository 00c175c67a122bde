"""Ports before anything is on them, what an end of a run asks of one, and what putting it there costs."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from heathrise.core.job import End, Equipment, InRack, Link
from heathrise.core.library import Port

# What may not stand there costs this; each class a device is short of, that.
NEVER = 1e6
_UNFED = 1e3
# A router's port is taken when switches have none left.
_ROUTER = 40.0
Side = Literal["a", "b"]


@dataclass(frozen=True)
class Slot:
    """A port before anything is on it; `routes` says that it is one of a router, which are few and kept for switches."""

    switch: Equipment
    port: Port
    routes: bool = False

    @property
    def speed_mbps(self) -> int:
        """Its top speed. [Mb/s]"""
        return self.port.group.speed_mbps

    @property
    def poe_class(self) -> int:
        """The class it gives, 0 for none."""
        return self.port.group.gives_class


@dataclass(frozen=True)
class Ask:
    """What one end of a run, or of a cord in a rack, asks of a port; `to_label` is what stands at its other end.

    `poe_class` is 0 when that is fed elsewhere. A cord goes into a port of its own `medium`: what has a cage wants a cage.
    """

    run: Link
    side: Side
    to_label: str
    speed_mbps: int
    poe_class: int
    to_rack: bool
    medium: str = "copper"

    @property
    def is_cord(self) -> bool:
        """Whether it stays in its rack."""
        return self.run.medium == "cord"

    @property
    def end(self) -> End:
        """The end it is about."""
        return self.run.a if self.side == "a" else self.run.b


@dataclass(frozen=True)
class Loads:
    """What each end draws at each switch, by (ask, switch id), and what each switch may give. [W]"""

    watts: Mapping[tuple[int, str], float]
    budgets: Mapping[str, float]


def lost_octaves(ask: Ask, slot: Slot) -> float:
    """Return how many times over a port is slower than what is asked of it, as powers of two."""
    return max(0.0, math.log2(ask.speed_mbps / slot.speed_mbps))


def cost(ask: Ask, slot: Slot, split: bool = False) -> float:
    """Return what putting an end on a port costs; `NEVER` when it may not stand there."""
    if not _suits(ask, slot) or ask.end.on not in (slot.switch.id, _rack(slot)):
        return NEVER
    unfed = _UNFED * (ask.poe_class - slot.poe_class) if slot.poe_class < ask.poe_class else 0.0
    lost = lost_octaves(ask, slot) * 10
    spared = max(0.0, math.log2(slot.speed_mbps / ask.speed_mbps)) * 3
    # Powered switch for air, plain for outlets: a plain run then leaves a powered port last.
    kept = 50.0 if split and slot.poe_class and not ask.poe_class else 0.0
    last = _ROUTER if slot.routes else 0.0
    return unfed + lost + spared + kept + last + 2.0 * max(0, slot.poe_class - ask.poe_class)


def _suits(ask: Ask, slot: Slot) -> bool:
    """Say whether a port is of the kind an end wants: the way between racks takes those meant for it, a cord its own."""
    group = slot.port.group
    if ask.is_cord:
        return group.medium == ask.medium and (group.medium == "cage" or not group.uplink)
    return group.uplink == ask.to_rack


def _rack(slot: Slot) -> str | None:
    return slot.switch.place.rack_id if isinstance(slot.switch.place, InRack) else None
