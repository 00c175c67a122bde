"""Chains: the walk over links from what stands on the sheet to the core of the network.

What its narrowest place is, and whether it arrives, are questions asked of the chain. Things that join ports
in one rack are taken to be patched to each other: the cords between them are not drawn.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

import networkx as nx

from heathrise.core.cabling.boxes import boxes_in
from heathrise.core.cabling.defaults import wanting
from heathrise.core.cabling.ends import models_on
from heathrise.core.cabling.runs import Runs
from heathrise.core.job import PULLED, Equipment, Job, Link, Rack, ServiceEntry, Storey
from heathrise.core.library import EquipmentModel
from heathrise.core.sums import Noun
from heathrise.core.switching.ports import Ports, switches_in

_NOTHING: Mapping[str, int] = {}


class Chain(Noun):
    """The way of one thing to the core: over which links, how many, and its narrowest place. [Mb/s]

    `steps` are the places on it where it gets slower, from the thing on, the service last; `narrowest` is the last of
    them before the service, and `matters` says whether it keeps the thing from what the service brings.
    """

    element_id: str
    label: str
    way: str
    links: int
    speed_mbps: int | None
    narrowest: str
    steps: str
    matters: bool
    core: str | None
    holds: bool


@dataclass(frozen=True)
class Hop:
    """One step of a chain: by which link (None for a cord in a rack), and how fast it is. [Mb/s]"""

    label: str
    mbps: int
    link_id: str | None = None


def chains_of(job: Job, runs: Runs, ports: Ports, carried: Mapping[str, int] = _NOTHING) -> tuple[Chain, ...]:
    """Return the chain of everything on the sheet that reaches the network, by cable or without one."""
    graph = wired_graph(job, runs, ports, carried)
    cores = cores_of(job)
    return tuple(_chain(job, graph, cores, thing.id) for thing in wanting(job))


def cores_of(job: Job) -> list[str]:
    """Return what a chain has to reach: what routes in a rack; where nothing does yet, what joins ports in the rack
    that is nearest to where the service enters, the first rack where nobody said. What routes elsewhere brings a
    service of its own, and is the core of what hangs on it.
    """
    joins = [thing for thing in job.of(Equipment) if job.equipment[thing.model].joins]
    every = [thing.id for thing in joins if job.equipment[thing.model].forwards == "route"]
    routes = [route for route in every if job.rack_of(route) is not None]
    own = [route for route in every if route not in routes]
    homes = dict.fromkeys(rack for thing in joins if (rack := job.rack_of(thing.id)) is not None)
    if routes or not homes:
        return [*routes, *own] or [thing.id for thing in joins]
    entry = next(iter(job.of(ServiceEntry)), None)
    racks = [rack.id for rack in job.of(Rack) if rack.id in homes]
    home = min(racks, key=lambda rack: _away(job, rack, entry)) if entry else racks[0]
    return [*(thing.id for thing in joins if job.rack_of(thing.id) == home), *own]


def _away(job: Job, rack_id: str, entry: ServiceEntry) -> float:
    """Return how far a rack is from where the service enters, in a straight line. [m]"""
    rack = job.get(Rack, rack_id)
    up = job.get(Storey, rack.storey_id).elevation_m - job.get(Storey, entry.storey_id).elevation_m
    return math.hypot(rack.at.x_m - entry.at.x_m, rack.at.y_m - entry.at.y_m, up)


def wired_graph(job: Job, runs: Runs, ports: Ports, carried: Mapping[str, int] = _NOTHING) -> "nx.Graph[str]":
    """Return what has ports as nodes, and links and cords in racks as edges, each with its `hop`.

    `carried` is what each link without a cable carries; one that carries nothing is no edge. [Mb/s]
    """
    at = {(port.run_id, port.side): port for port in ports.ports if port.run_id}
    graph: nx.Graph[str] = nx.Graph()
    on_way, boxes = models_on(job), boxes_in(job)
    for link in job.of(Link):
        near, far = at.get((link.id, "a")), at.get((link.id, "b"))
        one = near.switch_id if near else link.a.on
        other = far.switch_id if far else link.b.on
        if link.id in runs.spares or not (near or job.rack_of(link.a.on) is None):
            continue
        by_cable = link.medium in (*PULLED, "cord")
        if not by_cable and not carried.get(link.id):
            continue
        speeds = [port.speed_mbps for port in (near, far) if port]
        speeds += _speeds_at(job, link) if by_cable else [carried[link.id]]
        ports_on_way = (port for model in on_way[link.id] for port in model.ports)
        speeds += [port.speed_mbps for port in ports_on_way if port.medium != "dc"]
        hop = Hop(link.label, min(speeds, default=0), link.id)
        # What stands on the way and joins is a place of its own: something else may begin there.
        for a, b in pairwise((one, *(box.box_id for box in boxes.get(link.id, ())), other)):
            graph.add_edge(a, b, hop=hop)
    for rack in job.of(Rack):
        # The fastest is the middle: what leads on slower hangs on it like the rest.
        here = sorted(switches_in(job, rack.id), key=lambda pair: -fastest_mbps(pair[1]))
        for switch, model in here[1:]:
            cord = Hop(f"cord in {rack.label}", fastest_mbps(model))
            graph.add_edge(here[0][0].id, switch.id, hop=cord)
    return graph


def fastest_mbps(model: EquipmentModel) -> int:
    """Return the speed of the fastest port something has for a cord in its rack. [Mb/s]"""
    return max((port.group.speed_mbps for port in model.port_list), default=0)


def _speeds_at(job: Job, link: Link) -> list[int]:
    """Return how fast the ports are that a cable ends at where nothing is joined on. [Mb/s]"""
    models = [job.model_of(end.on) for end in (link.a, link.b)]
    return [model.uplink_mbps for model in models if model is not None and not model.joins]


def _chain(job: Job, graph: "nx.Graph[str]", cores: list[str], start: str) -> Chain:
    label = job.by_id[start].label
    reached = nx.single_source_shortest_path(graph, start) if start in graph else {}
    found = [reached[core] for core in cores if core in reached]
    path = min(found, key=len, default=None)
    if path is None:
        return Chain(
            element_id=start,
            label=label,
            way="no link",
            links=0,
            speed_mbps=None,
            narrowest="",
            steps="",
            matters=False,
            core=None,
            holds=False,
        )
    hops: list[Hop] = [graph.edges[a, b]["hop"] for a, b in pairwise(path)]
    down = _steps_down(job, start, hops)
    service = job.brief.internet.down_mbps
    own = (job.model_of(start) or _NO_MODEL).uplink_mbps
    return Chain(
        element_id=start,
        label=label,
        way=", ".join(dict.fromkeys(hop.label for hop in hops)),
        links=len({hop.label for hop in hops}),
        speed_mbps=min(hop.mbps for hop in hops) if hops else None,
        narrowest=down[-1].label if down else "itself",
        steps=", then ".join(f"{hop.label} {hop.mbps:,} Mb/s" for hop in down),
        matters=bool(down) and bool(service) and down[-1].mbps < min(own, service),
        core=job.by_id[path[-1]].label,
        holds=True,
    )


_NO_MODEL = EquipmentModel(label="")


def _steps_down(job: Job, start: str, hops: list[Hop]) -> list[Hop]:
    """Return the hops at which the way gets slower than all of it before, from the thing on."""
    least = (job.model_of(start) or _NO_MODEL).uplink_mbps
    found = []
    for hop in hops:
        if hop.mbps < least:
            least = hop.mbps
            found.append(hop)
    return found
