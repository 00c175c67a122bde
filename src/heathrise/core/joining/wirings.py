"""Star, chain and mixed: how several points of a home may be wired, and what each costs when something fails."""

from collections.abc import Callable, Mapping

import networkx as nx

from heathrise.core.cabling.defaults import nearest_rack, wanting
from heathrise.core.deriving import Look
from heathrise.core.job import AccessPoint, Job
from heathrise.core.job.view import job_of
from heathrise.core.library import limit
from heathrise.core.site.building import Building
from heathrise.core.site.derived import brief, building
from heathrise.core.sums import Noun, Sum, SumLine


class Wiring(Noun):
    """One way to wire the points of a job: its cable, the most boxes between a point and the rack, what one failure
    cuts off at the worst and on the average, and what is left for the busiest cable. [m, Mb/s]
    """

    code: str
    label: str
    length: Sum
    deepest: int
    cut_worst: int
    cut_mean: float
    busiest: Sum
    says: str


class Wirings(Noun):
    """The wirings compared for the points of a job."""

    points: int
    ways: tuple[Wiring, ...]


_SAYS = {
    "star": "Each cable ends at the rack: one that fails takes one point, and each has all of its speed.",
    "mixed": "Cables branch where that is shortest: what fails takes all behind it.",
    "chain": "Each point hands on to the next: least to plan, and the first that fails takes all the others.",
}
_LABELS = {
    "star": "Star: every cable to the rack",
    "mixed": "Mixed: branches where short",
    "chain": "Chain: from point to point",
}


def wirings(look: Look) -> Wirings:
    """Return star, mixed and chain for the access points of a job, worked out along the grain of the building."""
    job, of = job_of(look), building(look)
    points = [thing for thing in wanting(job) if isinstance(thing, AccessPoint)]
    rack = nearest_rack(job, points[0]) if points else None
    if rack is None:
        return Wirings(points=len(points), ways=())
    ids = [rack.id, *(point.id for point in points)]
    whole: nx.Graph[str] = nx.Graph()
    for n, one in enumerate(ids):
        for other in ids[n + 1 :]:
            whole.add_edge(one, other, weight=_length_m(job, of, one, other))
    need = _needs(look, points)
    made: Mapping[str, Callable[[], nx.Graph[str]]] = {
        "star": lambda: whole.edge_subgraph([(rack.id, point.id) for point in points]),
        "mixed": lambda: nx.minimum_spanning_tree(whole),
        "chain": lambda: _chain(whole, rack.id),
    }
    return Wirings(
        points=len(points),
        ways=tuple(_wiring(code, make(), rack.id, need) for code, make in made.items()),
    )


def _needs(look: Look, points: list[AccessPoint]) -> dict[str, float]:
    """Return what each point is to carry: the peak of the job in even shares. [Mb/s]"""
    peak = max((hour.demand_mbps for hour in brief(look).total), default=0.0)
    return {point.id: peak / len(points) for point in points}


def _length_m(job: Job, of: Building, one: str, other: str) -> float:
    """Return about how long a cable between two things is: along the walls and up, with weave and loops. [m]"""
    a, b = job.spot(one), job.spot(other)
    up = of.storey(b.storey_id).elevation_m + b.height_m - of.storey(a.storey_id).elevation_m - a.height_m
    level = abs(a.at.x_m - b.at.x_m) + abs(a.at.y_m - b.at.y_m)
    return (level + abs(up)) * limit("cabling.weave") + 2 * limit("cabling.loop_ceiling_m")


def _chain(whole: "nx.Graph[str]", start: str) -> "nx.Graph[str]":
    """Return a chain from the rack on, each time to the nearest that is left."""
    chain: nx.Graph[str] = nx.Graph()
    here, left = start, set(whole) - {start}
    while left:
        then = min(left, key=lambda node: (whole.edges[here, node]["weight"], node))
        chain.add_edge(here, then, weight=whole.edges[here, then]["weight"])
        left.remove(then)
        here = then
    return chain


def _wiring(code: str, tree: "nx.Graph[str]", rack: str, need: Mapping[str, float]) -> Wiring:
    depth = nx.single_source_shortest_path_length(tree, rack)
    behind = _behind(tree, rack)
    cables = sorted((data["weight"] for *_, data in tree.edges(data=True)), reverse=True)
    carried = {node: sum(need.get(one, 0.0) for one in found) for node, found in behind.items()}
    first = max(carried, key=lambda node: carried[node], default=None)
    most = carried[first] if first is not None else 0.0
    return Wiring(
        code=code,
        label=_LABELS[code],
        length=Sum(
            label=f"{_LABELS[code]}: cable",
            value=round(sum(cables), 1),
            unit="m",
            lines=tuple(
                SumLine(label=f"cable {n}", value=round(c, 1), unit="m") for n, c in enumerate(cables, 1)
            ),
            formula="along the walls and up, with weave and loops",
            source="estimate along the grain of the building; the router has the last word",
        ),
        deepest=max(depth.values(), default=0),
        cut_worst=max((len(found) for found in behind.values()), default=0),
        cut_mean=round(sum(map(len, behind.values())) / max(1, len(behind)), 1),
        busiest=Sum(
            label=f"{_LABELS[code]}: the busiest cable",
            value=round(most, 1),
            unit="Mb/s",
            limit=limit("links.wire_router_mbps"),
            holds=most <= limit("links.wire_router_mbps"),
            lines=(
                SumLine(
                    label="points behind it", value=len(behind[first]) if first is not None else 0, unit=""
                ),
                SumLine(
                    label="each at the busiest hour",
                    value=round(max(need.values(), default=0.0), 1),
                    unit="Mb/s",
                ),
            ),
            formula="points behind the first cable x demand of each",
            source="demand by hour in even shares; ports of 1 Gb/s",
        ),
        says=_SAYS[code],
    )


def _behind(tree: "nx.Graph[str]", rack: str) -> dict[str, frozenset[str]]:
    """Return, for each point, itself and all that reach the rack through it."""
    down = nx.bfs_tree(tree, rack)
    return {node: frozenset({node} | nx.descendants(down, node)) for node in down if node != rack}
