"""Ports kept for cords between what joins ports in one rack: those cords are not drawn, and yet each takes two ports.

The fastest is the middle, as in chains; everything else there hangs on it by its uplink, at the best speed two free
ports of a like medium have in common.
"""

from collections.abc import Iterable
from itertools import product
from typing import NamedTuple

from heathrise.core.job import Equipment, Job, Rack
from heathrise.core.library import EquipmentModel
from heathrise.core.library.equipment import Port
from heathrise.core.switching.chains import fastest_mbps
from heathrise.core.switching.ports import PortPlan, switches_in


class KeptCord(NamedTuple):
    """A cord between two things of a rack, from the middle out: each end a thing and its port."""

    middle_id: str
    middle_port: str
    other_id: str
    other_port: str


class Kept(NamedTuple):
    """The cords of all racks, and what finds no two free ports: (thing, middle)."""

    cords: tuple[KeptCord, ...]
    without: tuple[tuple[str, str], ...]


def kept_cords(job: Job, ports: Iterable[PortPlan]) -> Kept:
    """Return which free ports the cords between the switches and gateways of a rack take."""
    taken = {(port.switch_id, port.port) for port in ports if port.run_id is not None}
    cords: list[KeptCord] = []
    without: list[tuple[str, str]] = []
    for rack in job.of(Rack):
        here = sorted(switches_in(job, rack.id), key=lambda pair: -fastest_mbps(pair[1]))
        for other, model in here[1:]:
            middle, middle_model = here[0]
            pair = _best(_free(middle, middle_model, taken), _free(other, model, taken))
            if pair is None:
                without.append((other.id, middle.id))
                continue
            one, two = pair
            taken |= {(middle.id, one.name), (other.id, two.name)}
            cords.append(KeptCord(middle.id, one.name, other.id, two.name))
    return Kept(tuple(cords), tuple(without))


def service_port(model: EquipmentModel) -> str | None:
    """Return the port of a gateway that the service comes in at, None for what routes nothing."""
    if model.forwards != "route":
        return None
    return next((port.name for port in model.port_list if port.group.uplink), None)


def _free(thing: Equipment, model: EquipmentModel, taken: set[tuple[str, str]]) -> list[Port]:
    own = service_port(model)
    return [
        port
        for port in model.port_list
        if (thing.id, port.name) not in taken and port.name != own and port.group.medium != "dc"
    ]


def _best(ones: list[Port], twos: list[Port]) -> tuple[Port, Port] | None:
    """Return the two ports a cord takes: the fastest in common, an uplink before another, no power wasted, the last."""
    pairs = [(one, two) for one, two in product(ones, twos) if one.group.medium == two.group.medium]
    return max(pairs, key=_worth, default=None)


def _worth(pair: tuple[Port, Port]) -> tuple[int, int, int]:
    groups = [port.group for port in pair]
    wasted = sum(group.gives_class for group in groups) + sum(group.speed_mbps for group in groups) // 1000
    return (min(group.speed_mbps for group in groups), sum(group.uplink for group in groups), -wasted)
