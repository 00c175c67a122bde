"""Which storeys cables can pass between, and by which risers."""

import networkx as nx

from heathrise.core.job import Job, Riser


def riser_graph(job: Job) -> "nx.MultiGraph[str]":
    """Return storeys as nodes and risers as edges; a riser joins every storey between its ends."""
    graph: nx.MultiGraph[str] = nx.MultiGraph()
    order = [storey.id for storey in job.storeys]
    graph.add_nodes_from(order)
    for riser in job.of(Riser):
        low, high = sorted((order.index(riser.from_storey_id), order.index(riser.to_storey_id)))
        passed = order[low : high + 1]
        for i, one in enumerate(passed):
            for other in passed[i + 1 :]:
                graph.add_edge(one, other, key=riser.id)
    return graph


def joined_storeys(job: Job) -> dict[str, set[str]]:
    """Return, for each storey, the storeys a cable can reach, itself included."""
    graph = riser_graph(job)
    return {storey: set(nx.node_connected_component(graph, storey)) for storey in graph.nodes}
