"""The network as a river: the service is the spring, what joins ports the confluences, what hangs on them the mouths.

Laid out in columns by how many links lie between a thing and the spring; the layout is the library's.
"""

from collections import deque
from collections.abc import Sequence

import networkx as nx

from heathrise.core.cabling.defaults import wanting
from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.deriving import Look, derived
from heathrise.core.job import AccessPoint, Job, Link
from heathrise.core.job.view import job_of
from heathrise.core.library import library
from heathrise.core.links.carried import carried
from heathrise.core.sums import Noun
from heathrise.core.switching.chains import Hop, cores_of, wired_graph
from heathrise.core.switching.derived import ports

SPRING = "service"
# How links without a cable are called.
_MEDIA = {"bridge": "by air", "mesh": "by air", "powerline": "over the mains"}


class River(Noun):
    """One thing of the network, in its column and row. `what` is its model in words, `sign` how it is drawn."""

    id: str
    label: str
    what: str
    sign: str
    column: int
    row: float


class Stream(Noun):
    """One link between two: `medium` in a word, `says` what stands along it, `through_air` whether no cable lies."""

    a: str
    b: str
    link_id: str | None
    medium: str
    says: str
    mbps: int
    through_air: bool
    second: bool


class Topology(Noun):
    """Everything with ports from the spring on, the streams between, and what nothing leads to."""

    things: tuple[River, ...]
    streams: tuple[Stream, ...]
    dry: tuple[str, ...]
    columns: int
    rows: float


@derived
def topology(look: Look) -> Topology:
    """The network of the job, laid out."""
    job = job_of(look)
    graph = wired_graph(job, runs(look), ports(look), carried(look))
    plans = runs(look).by_id
    roots = _roots(job)
    tree = _tree(graph, roots)
    placed = _placed(tree)
    reached = set(tree.nodes)
    dry = tuple(thing.label for thing in wanting(job) if thing.id not in reached)
    things = tuple(_river(job, node, *placed[node]) for node in tree.nodes)
    streams = [_spring(job, root) for root in roots if tree.has_edge(SPRING, root)]
    for a, b in graph.edges:
        if a in reached and b in reached:
            one, other = (a, b) if placed[a][0] <= placed[b][0] else (b, a)
            hop: Hop = graph.edges[a, b]["hop"]
            streams.append(_stream(job, plans, one, other, hop, second=not tree.has_edge(one, other)))
    rows = max((row for _, row in placed.values()), default=0.0) + 1
    columns = max((column for column, _ in placed.values()), default=0) + 1
    return Topology(things=things, streams=tuple(streams), dry=dry, columns=columns, rows=rows)


def _roots(job: Job) -> list[str]:
    """Return what the service runs into: what routes; where nothing does yet, the first of the core."""
    cores = cores_of(job)
    routes = [
        core for core in cores if (model := job.model_of(core)) is not None and model.forwards == "route"
    ]
    return routes or cores[:1]


def _tree(graph: "nx.Graph[str]", cores: Sequence[str]) -> "nx.DiGraph[str]":
    """Return how everything is reached from the spring by the fewest links, with `column` on each; what is reached
    first stands first.
    """
    tree: nx.DiGraph[str] = nx.DiGraph()
    tree.add_node(SPRING, column=0)
    waiting = deque([(SPRING, core) for core in cores if core in graph])
    while waiting:
        before, node = waiting.popleft()
        if node in tree:
            continue
        tree.add_node(node, column=tree.nodes[before]["column"] + 1)
        tree.add_edge(before, node)
        waiting.extend((node, other) for other in graph.neighbors(node))
    return _in_depth(tree)


def _in_depth(tree: "nx.DiGraph[str]") -> "nx.DiGraph[str]":
    """Return a tree with its nodes in the order of a walk down it: what flows together stands together."""
    ordered: nx.DiGraph[str] = nx.DiGraph()
    for node in nx.dfs_preorder_nodes(tree, SPRING):
        ordered.add_node(node, column=tree.nodes[node]["column"])
    ordered.add_edges_from(tree.edges)
    return ordered


def _placed(tree: "nx.DiGraph[str]") -> dict[str, tuple[int, float]]:
    """Return (column, row) of every node: rows a unit apart, the least one 0."""
    columns: dict[int, list[str]] = {}
    for node in tree.nodes:
        columns.setdefault(int(tree.nodes[node]["column"]), []).append(node)
    found = nx.multipartite_layout(tree, subset_key=columns)
    heights = {node: float(y) for node, (_, y) in found.items()}
    # The library fits all into a square about its middle; here rows are a unit apart and counted from above.
    tallest = max(columns.values(), key=len)
    unit = abs(heights[tallest[0]] - heights[tallest[1]]) if len(tallest) > 1 else 1.0
    top = min(heights.values())
    return {
        node: (int(tree.nodes[node]["column"]), round((height - top) / unit, 3))
        for node, height in heights.items()
    }


def _river(job: Job, node: str, column: int, row: float) -> River:
    if node == SPRING:
        return River(id=node, label="Service", what="from outside", sign="entry", column=column, row=row)
    thing = job.by_id[node]
    model = job.model_of(node)
    sign = "point" if isinstance(thing, AccessPoint) else model.sign if model else "rack"
    return River(
        id=node, label=thing.label, what=model.label if model else "", sign=sign, column=column, row=row
    )


def _spring(job: Job, core: str) -> Stream:
    down = _service_mbps(job, core)
    return Stream(
        a=SPRING,
        b=core,
        link_id=None,
        medium="service",
        says=speed_words(down),
        mbps=int(down),
        through_air=False,
        second=False,
    )


def _service_mbps(job: Job, core: str) -> float:
    """Return what comes in at a router: the job's service, or what its own port to the outside air takes. [Mb/s]"""
    model = job.model_of(core)
    own = [g.speed_mbps for g in model.ports if g.medium == "air"] if model is not None else []
    return max(own) if own else job.brief.internet.down_mbps


def _stream(job: Job, plans: dict[str, RunPlan], a: str, b: str, hop: Hop, second: bool) -> Stream:
    link = job.by_id.get(hop.link_id) if hop.link_id else None
    medium = link.medium if isinstance(link, Link) else "cord"
    plan = plans.get(hop.link_id or "")
    kind = library().categories[plan.category].label if plan else _MEDIA.get(medium, "cord")
    return Stream(
        a=a,
        b=b,
        link_id=hop.link_id,
        medium=medium,
        says=f"{hop.label}, {kind}, {speed_words(hop.mbps)}" if hop.link_id else "cord",
        mbps=hop.mbps,
        through_air=medium in ("bridge", "mesh"),
        second=second,
    )


def speed_words(mbps: float) -> str:
    """Return a speed as it is said: 1 Gb/s, 2.5 Gb/s, 433 Mb/s."""
    return f"{mbps / 1000:g} Gb/s" if mbps >= 1000 else f"{mbps:g} Mb/s"
