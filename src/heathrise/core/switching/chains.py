"""Chains: the walk over links from what stands on the sheet to the core of the network.

What its narrowest place is, and whether it arrives, are questions asked of the chain. Things that join ports
in one rack are taken to be patched to each other: the cords between them are not drawn.
"""

from dataclasses import dataclass
from itertools import pairwise

import networkx as nx

from heathrise.core.cabling.defaults import wanting
from heathrise.core.cabling.ends import models_on
from heathrise.core.cabling.runs import Runs
from heathrise.core.job import Equipment, Job, Link, Rack
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
class _Hop:
    """One step of a chain: by which link, and how fast it is. [Mb/s]"""

    label: str
    mbps: int


def chains_of(job: Job, runs: Runs, ports: Ports) -> tuple[Chain, ...]:
    """Return the chain of everything on the sheet that reaches the network by a cable."""
    graph = _graph(job, runs, ports)
    cores = _cores(job)
    return tuple(_chain(job, graph, cores, thing.id) for thing in wanting(job))


def _cores(job: Job) -> list[str]:
    """Return what a chain has to reach: what routes; where nothing does, whatever joins ports."""
    joins = [thing for thing in job.of(Equipment) if job.equipment[thing.model].joins]
    routes = [thing for thing in joins if job.equipment[thing.model].forwards == "route"]
    return [thing.id for thing in routes or joins]


def _graph(job: Job, runs: Runs, ports: Ports) -> "nx.Graph[str]":
    """Return what has ports as nodes, and links and cords in racks as edges."""
    at = {(port.run_id, port.side): port for port in ports.ports if port.run_id}
    graph: nx.Graph[str] = nx.Graph()
    on_way = models_on(job)
    for link in job.of(Link):
        near, far = at.get((link.id, "a")), at.get((link.id, "b"))
        one = near.switch_id if near else link.a.on
        other = far.switch_id if far else link.b.on
        if link.id in runs.spares or not (near or job.rack_of(link.a.on) is None):
            continue
        speeds = [port.speed_mbps for port in (near, far) if port]
        models = [job.model_of(end.on) for end in (link.a, link.b)]
        speeds += [m.uplink_mbps for m in models if m is not None and not m.joins]
        speeds += [port.speed_mbps for model in on_way[link.id] for port in model.ports]
        graph.add_edge(one, other, hop=_Hop(link.label, min(speeds, default=0)))
    for rack in job.of(Rack):
        here = [thing.id for thing, _ in switches_in(job, rack.id)]
        for other in here[1:]:
            graph.add_edge(here[0], other, hop=_Hop(f"cord in {rack.label}", _CORD_MBPS))
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
