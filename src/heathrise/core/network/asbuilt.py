"""A job as it would stand there, built as planned: units with their ports, cables between them, things on ports.

It is what a simulated controller is given, and what a live one is held against port by port.
"""

from collections.abc import Iterator

import networkx as nx

from heathrise.core.cabling.ends import hung_on
from heathrise.core.job import AccessPoint, Equipment, Job, Space, Storey
from heathrise.core.library import library
from heathrise.core.network.built import AsBuilt, BuiltPort, BuiltThing, BuiltUnit, BuiltWire
from heathrise.core.network.composing import kind_of, managed_devices
from heathrise.core.network.profiles import Carrying, PortProfile
from heathrise.core.switching.kept import kept_cords
from heathrise.core.switching.ports import PortPlan


def as_built(job: Job, ports: tuple[PortPlan, ...], carrying: Carrying, graph: "nx.Graph[str]") -> AsBuilt:
    """Return what would stand there."""
    units = tuple(_unit(job, thing) for thing in managed_devices(job))
    known = {unit.element_id for unit in units}
    walk = _Walk(job, graph, known, {(p.run_id, p.switch_id): p.port for p in ports if p.run_id})
    wires, things = [], []
    for profile in carrying.profiles:
        found = walk.from_port(profile)
        if isinstance(found, BuiltThing):
            things.append(found)
        elif found is not None:
            wires.append(found)
    wires += [
        BuiltWire(a_id=c.middle_id, a_port=c.middle_port, b_id=c.other_id, b_port=c.other_port)
        for c in kept_cords(job, ports).cords
    ]
    return AsBuilt(
        units=units,
        wires=tuple(_once(wires)),
        things=tuple(things),
        people=job.brief.people_peak + job.brief.guests_peak,
        corners_m=_corners(job),
    )


def _corners(job: Job) -> tuple[float, float, float, float]:
    """Return the corners of what is drawn indoors: left, top, right, bottom."""
    inside = [space for space in job.of(Space) if space.space_kind != "outdoor"]
    places = [(p.x_m, p.y_m) for space in inside for p in space.outline] or [(0.0, 0.0), (30.0, 20.0)]
    xs, ys = zip(*places, strict=True)
    return min(xs), min(ys), max(xs), max(ys)


def _once(wires: list[BuiltWire]) -> Iterator[BuiltWire]:
    """Yield each cable once, though both its ends have a port with a profile."""
    seen: set[frozenset[tuple[str, str]]] = set()
    for wire in wires:
        ends = frozenset({(wire.a_id, wire.a_port), (wire.b_id, wire.b_port)})
        if ends not in seen:
            seen.add(ends)
            yield wire


def _unit(job: Job, thing: AccessPoint | Equipment) -> BuiltUnit:
    model, kind, spot = job.equipment[thing.model], kind_of(job, thing), job.spot(thing.id)
    assert kind is not None
    storeys = [storey.id for storey in sorted(job.of(Storey), key=lambda one: one.elevation_m)]
    gives = {row.poe_class: row.source_w for row in library().poe_classes}
    takes = any(port.group.takes_class for port in model.port_list)
    return BuiltUnit(
        element_id=thing.id,
        label=thing.label,
        model=model.label,
        kind=kind,
        ports=tuple(
            BuiltPort(
                name=port.name,
                mbps=port.group.speed_mbps,
                gives_w=gives[port.group.gives_class] if port.group.gives_class else 0.0,
            )
            for port in model.port_list
            if port.group.medium != "dc"
        ),
        bands=tuple(radio.band for radio in model.bands),
        budget_w=model.budget_w,
        draws_w=model.max_w if takes else 0.0,
        storey=storeys.index(spot.storey_id),
        x_m=spot.at.x_m,
        y_m=spot.at.y_m,
        wired=thing.id not in hung_on(job),
    )


class _Walk:
    """Follows what is plugged into a port, through what no controller looks after, to the next unit or the end."""

    def __init__(
        self, job: Job, graph: "nx.Graph[str]", units: set[str], ports: dict[tuple[str | None, str], str]
    ):
        self._job = job
        self._graph = graph
        self._units = units
        self._ports = ports

    def from_port(self, profile: PortProfile) -> BuiltWire | BuiltThing | None:
        """Return the cable to another unit, or the thing at the end; None for a port with nothing on it."""
        if profile.run_id is None or profile.to_id is None or profile.switch_id not in self._graph:
            return None
        before, here = profile.switch_id, self._first(profile)
        link_id: str | None = profile.run_id
        while here is not None and here not in self._units:
            onward = [node for node in self._graph.neighbors(here) if node != before]
            if len(onward) != 1 or (self._job.by_id[here].id == profile.to_id and self._ends(here)):
                return self._thing(profile)
            before, here, link_id = here, onward[0], self._link(here, onward[0])
        if here is None:
            return self._thing(profile)
        port = self._ports.get((link_id, here)) or self._uplink(here)
        return (
            BuiltWire(a_id=profile.switch_id, a_port=profile.port, b_id=here, b_port=port) if port else None
        )

    def _first(self, profile: PortProfile) -> str | None:
        """Return the first place on the way from a port: where its own link leads."""
        for node in self._graph.neighbors(profile.switch_id):
            if self._link(profile.switch_id, node) == profile.run_id:
                return node
        return None

    def _ends(self, element_id: str) -> bool:
        model = self._job.model_of(element_id)
        return model is None or (model.forwards == "none" and model.air is None)

    def _link(self, one: str, other: str) -> str | None:
        link_id: str | None = self._graph.edges[one, other]["hop"].link_id
        return link_id

    def _uplink(self, element_id: str) -> str | None:
        model = self._job.model_of(element_id)
        return model.links_up[0].name if model is not None and model.links_up else None

    def _thing(self, profile: PortProfile) -> BuiltThing:
        assert profile.to_id is not None
        model = self._job.model_of(profile.to_id)
        return BuiltThing(
            element_id=profile.to_id,
            label=profile.to_label,
            unit_id=profile.switch_id,
            port=profile.port,
            draws_w=model.max_w if model is not None and profile.power else 0.0,
            network=profile.native.rpartition(" ")[0],
        )
