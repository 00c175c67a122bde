"""A profile for every port: native and tagged networks, power, speed, role, protection; and what every chain carries.

A port belongs to what hangs behind it: an access point carries where it is looked after and the networks of all its
names; a thing its own network; what leads on carries all of them. What cannot tell networks apart carries one.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Literal

import networkx as nx

from heathrise.core.cabling.defaults import wanting
from heathrise.core.cabling.ends import label_of
from heathrise.core.job import BANDS, AccessPoint, Equipment, Job, Link, Network
from heathrise.core.library import limit
from heathrise.core.library.equipment import Priority
from heathrise.core.network.ruled import By
from heathrise.core.radio.onair import names_on
from heathrise.core.sums import Noun
from heathrise.core.switching.chains import cores_of
from heathrise.core.switching.kept import Kept, kept_cords, service_port
from heathrise.core.switching.loads import priority_of
from heathrise.core.switching.ports import PortPlan

Role = Literal["off", "edge", "point", "trunk", "service"]


class PortProfile(Noun):
    """One port as the controller should have it. `native_id` is None where the port is off, or no network is there."""

    switch_id: str
    switch_label: str
    port: str
    run_id: str | None
    name: str
    to_label: str
    to_id: str | None
    role: Role
    native_id: str | None
    native: str
    tagged_ids: tuple[str, ...]
    tagged: str
    power: bool
    priority: Priority
    speed_mbps: int
    edge_protection: bool
    loop_protection: bool
    storm_percent: float | None
    by: By
    because: str


class Squeezed(Noun):
    """A box that cannot tell networks apart and stands on the way of several."""

    box_id: str
    label: str
    networks: tuple[str, ...]
    things: tuple[str, ...]


@dataclass(frozen=True)
class Carrying:
    """Every port's profile, the boxes that several networks would have to pass and cannot, and what stands in one rack
    and finds no two free ports to be joined by.
    """

    profiles: tuple[PortProfile, ...]
    squeezed: tuple[Squeezed, ...]
    apart: tuple[tuple[str, str], ...] = ()

    @cached_property
    def by_port(self) -> dict[tuple[str, str], PortProfile]:
        """The profile of a port, by its switch and name."""
        return {(one.switch_id, one.port): one for one in self.profiles}


class Asked:
    """Which networks a thing asks of its port."""

    def __init__(self, job: Job):
        self.job = job
        self.networks = {network.id: network for network in job.of(Network)}
        self._first: dict[str, Network] = {}
        for network in job.of(Network):
            self._first.setdefault(network.purpose, network)

    @property
    def home(self) -> Network | None:
        """Where equipment is looked after: the management network, else the main one, else the first."""
        first = next(iter(self.networks.values()), None)
        return self._first.get("management") or self._first.get("main") or first

    def native(self, thing_id: str) -> tuple[Network | None, By, str]:
        """Return the network a thing's plain traffic is in, who says so, and why."""
        thing, model = self.job.by_id[thing_id], self.job.model_of(thing_id)
        chosen = self.networks.get(getattr(thing, "network_id", None) or "")
        if chosen is not None:
            return chosen, "person", f"{thing.label} was put into {chosen.label}."
        if model is None or model.radiates or model.joins or model.controls:
            return self.home, "default", "Where equipment is looked after."
        own = self._first.get(model.purpose)
        if own is not None:
            return own, "need", f"{thing.label} belongs on a network for {model.purpose}."
        home = self._first.get("main") or self.home
        return home, "default", f"There is no network for {model.purpose} yet."

    def tagged(self, thing_id: str) -> list[Network]:
        """Return the networks a thing's port carries beside its native one: those of the names on an access point."""
        if not isinstance(self.job.by_id[thing_id], AccessPoint):
            return []
        on = {ssid.network_id for band in BANDS for ssid in names_on(self.job, thing_id, band)}
        home = self.home
        return [n for n in self.networks.values() if n.id in on and (home is None or n.id != home.id)]

    def every(self, thing_id: str) -> list[Network]:
        """Return all networks a thing asks for."""
        native, _, _ = self.native(thing_id)
        return [*([native] if native is not None else []), *self.tagged(thing_id)]


def carrying(job: Job, ports: Iterable[PortPlan], graph: "nx.Graph[str]") -> Carrying:
    """Return the profile of every port and what its chains are squeezed through."""
    asked, every = Asked(job), tuple(ports)
    behind, kept = _behind(job, graph), kept_cords(job, every)
    cords = _cords(kept)
    boxes = {box: _networks(asked, things) for box, things in behind.items()}
    profiles = tuple(_profile(job, asked, port, boxes, cords) for port in every)
    return Carrying(profiles, tuple(_squeezed(job, asked, behind)), kept.without)


def _cords(kept: Kept) -> dict[tuple[str, str], str]:
    """Return what each port that is kept for a cord leads to, by switch and port."""
    ways = [((c.middle_id, c.middle_port), c.other_id) for c in kept.cords]
    return dict([*ways, *(((c.other_id, c.other_port), c.middle_id) for c in kept.cords)])


def _behind(job: Job, graph: "nx.Graph[str]") -> dict[str, list[str]]:
    """Return what hangs behind each box that joins: the things whose way to the core passes it."""
    cores = [core for core in cores_of(job) if core in graph]
    ways = nx.multi_source_dijkstra_path(graph, cores) if cores else {}
    found: dict[str, list[str]] = defaultdict(list)
    for thing in wanting(job):
        for _, box in pairwise(ways.get(thing.id, [])):
            found[box].append(thing.id)
    return found


def _networks(asked: Asked, things: Iterable[str]) -> list[Network]:
    found = {network.id: network for thing in things for network in asked.every(thing)}
    return list(found.values())


def _squeezed(job: Job, asked: Asked, behind: Mapping[str, list[str]]) -> Iterable[Squeezed]:
    for box, things in behind.items():
        model = job.model_of(box)
        if model is None or not model.joins or model.managed or model.radiates:
            continue
        others = [thing for thing in things if thing != box]
        networks = _networks(asked, others)
        if len(networks) > 1:
            yield Squeezed(
                box_id=box,
                label=job.by_id[box].label,
                networks=tuple(network.label for network in networks),
                things=tuple(job.by_id[thing].label for thing in others),
            )


def _profile(
    job: Job,
    asked: Asked,
    port: PortPlan,
    boxes: Mapping[str, list[Network]],
    cords: Mapping[tuple[str, str], str],
) -> PortProfile:
    far = _far_end(job, port)
    if far is None:
        return _without_run(job, asked, port, cords.get((port.switch_id, port.port)))
    model = job.model_of(far)
    if model is not None and model.joins and (model.managed or model.forwards == "route"):
        what = "the gateway" if model.forwards == "route" else "another managed switch"
        return _trunk(asked, port, f"It leads to {what}: every network may be behind it.", far)
    native, by, because = asked.native(far)
    tagged: tuple[Network, ...] = ()
    role: Role = "edge"
    if model is not None and model.joins:
        found = boxes.get(far) or ([native] if native else [])
        native, by = (found[0] if found else None), "need"
        because = f"{label_of(job, far)} cannot tell networks apart: one network passes."
    elif model is not None and model.radiates:
        tagged, by, role = tuple(asked.tagged(far)), "need", "point"
        because = "An access point: where it is looked after untagged, the networks of its names tagged."
    return _made(port, role, native, tagged, by, because, far, priority(job, port))


def _without_run(job: Job, asked: Asked, port: PortPlan, beside: str | None) -> PortProfile:
    """Return the profile of a port that no run is on: a cord of its rack, the service, or nothing."""
    if beside is not None:
        words = f"Kept for the cord to {label_of(job, beside)} in the same rack: every network passes."
        return _trunk(asked, port, words, beside)
    if port.port == service_port(job.equipment[job.get(Equipment, port.switch_id).model]):
        words = "The service comes in here; no network of the inside does."
        return _made(port, "service", None, (), "need", words)
    return _made(port, "off", None, (), "default", "Nothing is on it: off until it is wanted.")


def _trunk(asked: Asked, port: PortPlan, because: str, far: str) -> PortProfile:
    home = asked.home
    others = tuple(n for n in asked.networks.values() if home is None or n.id != home.id)
    made = _made(port, "trunk", home, others, "default", because, far)
    if made.name:
        return made
    label = label_of(asked.job, far)
    return made.model_copy(update={"name": f"to {label}", "to_label": label})


def _far_end(job: Job, port: PortPlan) -> str | None:
    """Return what the link on a port leads to, None where there is none."""
    if port.run_id is None:
        return None
    link = job.get(Link, port.run_id)
    return (link.b if port.side == "a" else link.a).on


def priority(job: Job, port: PortPlan) -> Priority:
    """Return how long the power of what is on a port is kept."""
    return priority_of(job, job.get(Link, port.run_id)) if port.run_id else "low"


def _made(
    port: PortPlan,
    role: Role,
    native: Network | None,
    tagged: tuple[Network, ...],
    by: By,
    because: str,
    to_id: str | None = None,
    kept: Priority = "low",
) -> PortProfile:
    used, edge = role != "off", role == "edge"
    return PortProfile(
        switch_id=port.switch_id,
        switch_label=port.switch_label,
        port=port.port,
        run_id=port.run_id,
        name=port.run_label,
        to_label=port.to_label,
        to_id=to_id,
        role=role,
        native_id=native.id if native else None,
        native=f"{native.label} {native.vlan}" if native else "",
        tagged_ids=tuple(network.id for network in tagged),
        tagged=", ".join(f"{network.label} {network.vlan}" for network in tagged),
        power=port.needs_class > 0,
        priority=kept,
        speed_mbps=port.speed_mbps,
        edge_protection=edge,
        loop_protection=used,
        storm_percent=limit("network.storm_percent") if edge else None,
        by=by,
        because=because,
    )
