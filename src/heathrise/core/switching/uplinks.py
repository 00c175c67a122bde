"""What every switch has to the core, and how many times over its ports could ask for it."""

from itertools import pairwise

import networkx as nx

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look, derived
from heathrise.core.job import Equipment
from heathrise.core.job.view import job_of
from heathrise.core.library import limit
from heathrise.core.links.carried import carried
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.chains import Hop, cores_of, wired_graph
from heathrise.core.switching.derived import ports


class Uplink(Noun):
    """One switch's way on: how fast it is, and how many times over it could be asked for."""

    switch_id: str
    label: str
    over: str
    mbps: int
    ratio: Sum


@derived
def uplinks(look: Look) -> tuple[Uplink, ...]:
    """Every switch that is not the core itself, with its way there."""
    job, found = job_of(look), ports(look)
    graph = wired_graph(job, runs(look), found, carried(look))
    cores = cores_of(job)
    ways = _ways(graph, cores)
    routers = {thing.id for thing in job.of(Equipment) if job.equipment[thing.model].forwards == "route"}
    service = job.brief.internet.down_mbps
    rows = []
    for thing in job.of(Equipment):
        if thing.id not in ways or thing.id in cores or job.equipment[thing.model].forwards != "switch":
            continue
        # What leads into a router that is no slower than the service is judged with the service.
        steps = [(graph.edges[a, b]["hop"], a) for a, b in pairwise(ways[thing.id])]
        hops: list[Hop] = [hop for hop, to in steps if not (to in routers and hop.mbps >= service)]
        if not hops:
            continue
        narrow = min(hops, key=lambda hop: hop.mbps)
        mine = [p for p in found.ports if p.switch_id == thing.id and p.run_id and p.side == "a"]
        asked = [(p.to_label, min(p.speed_mbps, p.needs_mbps)) for p in mine if not p.uplink]
        points = any(p.purpose == "trunk" for p in mine if not p.uplink)
        rows.append(_uplink(thing, narrow, asked, points))
    return tuple(rows)


def _ways(graph: "nx.Graph[str]", cores: list[str]) -> dict[str, list[str]]:
    here = [core for core in cores if core in graph]
    return nx.multi_source_dijkstra_path(graph, here) if here else {}


def _uplink(thing: Equipment, narrow: Hop, asked: list[tuple[str, int]], points: bool) -> Uplink:
    most = limit("switching.times_over_points" if points else "switching.times_over_desks")
    total = sum(mbps for _, mbps in asked)
    times = total / narrow.mbps if narrow.mbps else 0.0
    return Uplink(
        switch_id=thing.id,
        label=thing.label,
        over=narrow.label,
        mbps=narrow.mbps,
        ratio=Sum(
            label=f"{thing.label}: times over its uplink",
            value=round(times, 1),
            unit="times",
            limit=most,
            holds=times <= most + 1e-9,
            lines=(
                *(SumLine(label=label, value=mbps, unit="Mb/s") for label, mbps in asked),
                SumLine(label=f"its way on: {narrow.label}", value=narrow.mbps, unit="Mb/s"),
            ),
            formula="sum of what its ports could ask / its way to the core",
            source="design value: 20 times for desks, 10 where access points hang",
        ),
    )
