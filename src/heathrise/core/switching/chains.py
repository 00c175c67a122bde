"""Chains: the walk over links from what stands on the sheet to the core of the network.

What its narrowest place is, and whether it arrives, are questions asked of the chain. Things that join ports
in one rack are taken to be patched to each other: the cords between them are not drawn.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import networkx as nx

from heathrise.core.cabling.defaults import wanting
from heathrise.core.cabling.ends import models_on
from heathrise.core.cabling.runs import Runs
from heathrise.core.job import Equipment, Job, Link, Rack, ServiceEntry, Storey
from heathrise.core.links.bridges import BridgePlan
from heathrise.core.sums import Noun
from heathrise.core.switching.ports import Ports, switches_in

# A cord in a rack is no bottleneck. [Mb/s]
_CORD_MBPS = 10_000


class Chain(Noun):
    """The way of one thing to the core: over which links, how many, and its narrowest place. [Mb/s]"""

    element_id: str
    label: str
    way: str
    links: int
    speed_mbps: int | None
    core: str | None
    holds: bool


@dataclass(frozen=True)
class Hop:
    """One step of a chain: by which link (None for a cord in a rack), and how fast it is. [Mb/s]"""

    label: str
    mbps: int
    link_id: str | None = None


def chains_of(job: Job, runs: Runs, ports: Ports, bridges: Sequence[BridgePlan] = ()) -> tuple[Chain, ...]:
    """Return the chain of everything on the sheet that reaches the network by a cable or a bridge."""
    graph = wired_graph(job, runs, ports, bridges)
    cores = cores_of(job)
    return tuple(_chain(job, graph, cores, thing.id) for thing in wanting(job))


def cores_of(job: Job) -> list[str]:
    """Return what a chain has to reach: what routes; where nothing does yet, what joins ports in the rack that is
    nearest to where the service enters, the first rack where nobody said.
    """
    joins = [thing for thing in job.of(Equipment) if job.equipment[thing.model].joins]
    routes = [thing.id for thing in joins if job.equipment[thing.model].forwards == "route"]
    homes = dict.fromkeys(rack for thing in joins if (rack := job.rack_of(thing.id)) is not None)
    if routes or not homes:
        return routes or [thing.id for thing in joins]
    entry = next(iter(job.of(ServiceEntry)), None)
    racks = [rack.id for rack in job.of(Rack) if rack.id in homes]
    home = min(racks, key=lambda rack: _away(job, rack, entry)) if entry else racks[0]
    return [thing.id for thing in joins if job.rack_of(thing.id) == home]


def _away(job: Job, rack_id: str, entry: ServiceEntry) -> float:
    """Return how far a rack is from where the service enters, in a straight line. [m]"""
    rack = job.get(Rack, rack_id)
    up = job.get(Storey, rack.storey_id).elevation_m - job.get(Storey, entry.storey_id).elevation_m
    return math.hypot(rack.at.x_m - entry.at.x_m, rack.at.y_m - entry.at.y_m, up)


def wired_graph(job: Job, runs: Runs, ports: Ports, bridges: Sequence[BridgePlan] = ()) -> "nx.Graph[str]":
    """Return what has ports as nodes, and links, bridges and cords in racks as edges, each with its `hop`.

    A bridge that carries nothing is no edge.
    """
    air = {plan.link_id: plan for plan in bridges}
    at = {(port.run_id, port.side): port for port in ports.ports if port.run_id}
    graph: nx.Graph[str] = nx.Graph()
    on_way = models_on(job)
    for link in job.of(Link):
        near, far = at.get((link.id, "a")), at.get((link.id, "b"))
        one = near.switch_id if near else link.a.on
        other = far.switch_id if far else link.b.on
        if link.id in runs.spares or not (near or job.rack_of(link.a.on) is None):
            continue
        if link.medium == "bridge" and (link.id not in air or not air[link.id].holds):
            continue
        speeds = [port.speed_mbps for port in (near, far) if port]
        models = [job.model_of(end.on) for end in (link.a, link.b)]
        speeds += [m.uplink_mbps for m in models if m is not None and not m.joins]
        speeds += [port.speed_mbps for model in on_way[link.id] for port in model.ports]
        if link.id in air:
            speeds.append(int(air[link.id].mbps))
        graph.add_edge(one, other, hop=Hop(link.label, min(speeds, default=0), link.id))
    for rack in job.of(Rack):
        here = [thing.id for thing, _ in switches_in(job, rack.id)]
        for other in here[1:]:
            graph.add_edge(here[0], other, hop=Hop(f"cord in {rack.label}", _CORD_MBPS))
    return graph


def _chain(job: Job, graph: "nx.Graph[str]", cores: list[str], start: str) -> Chain:
    label = job.by_id[start].label
    reached = nx.single_source_shortest_path(graph, start) if start in graph else {}
    found = [reached[core] for core in cores if core in reached]
    path = min(found, key=len, default=None)
    if path is None:
        return Chain(
            element_id=start, label=label, way="no link", links=0, speed_mbps=None, core=None, holds=False
        )
    hops = [graph.edges[a, b]["hop"] for a, b in pairwise(path)]
    return Chain(
        element_id=start,
        label=label,
        way=", ".join(hop.label for hop in hops),
        links=len(hops),
        speed_mbps=min(hop.mbps for hop in hops) if hops else None,
        core=job.by_id[path[-1]].label,
        holds=True,
    )
