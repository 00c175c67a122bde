"""What is joined to what, in the terms of RFC 8345 (A YANG Data Model for Network Topologies), as RFC 7951 JSON.

Links have a direction there: a cable is two of them.
"""

from pydantic import BaseModel, ConfigDict, Field

from heathrise.core.network.built import AsBuilt


class _Term(BaseModel):
    model_config = ConfigDict(extra="forbid", populate_by_name=True)


class TerminationPoint(_Term):
    """A port."""

    tp_id: str = Field(alias="tp-id")


class TopologyNode(_Term):
    """A device with its ports."""

    node_id: str = Field(alias="node-id")
    ports: list[TerminationPoint] = Field(alias="ietf-network-topology:termination-point")


class LinkSource(_Term):
    """Where a link begins."""

    node: str = Field(alias="source-node")
    port: str = Field(alias="source-tp")


class LinkDestination(_Term):
    """Where a link ends."""

    node: str = Field(alias="dest-node")
    port: str = Field(alias="dest-tp")


class TopologyLink(_Term):
    """A link, one way."""

    link_id: str = Field(alias="link-id")
    source: LinkSource
    destination: LinkDestination


class TopologyNetwork(_Term):
    """A network of nodes and links."""

    network_id: str = Field(alias="network-id")
    nodes: list[TopologyNode] = Field(alias="node")
    links: list[TopologyLink] = Field(alias="ietf-network-topology:link")


class TopologyNetworks(_Term):
    """All networks."""

    networks: list[TopologyNetwork] = Field(alias="network")


class TopologyDocument(_Term):
    """The document."""

    networks: TopologyNetworks = Field(alias="ietf-network:networks")


def topology_json(job: str, built: AsBuilt) -> str:
    """Return the topology of a job as it would stand there."""
    labels = {unit.element_id: unit.label for unit in built.units}
    nodes = [
        TopologyNode(node_id=unit.label, ports=[TerminationPoint(tp_id=port.name) for port in unit.ports])
        for unit in built.units
    ]
    nodes += [TopologyNode(node_id=t.label, ports=[TerminationPoint(tp_id="1")]) for t in built.things]
    ends = [((labels[w.a_id], w.a_port), (labels[w.b_id], w.b_port)) for w in built.wires]
    ends += [((labels[t.unit_id], t.port), (t.label, "1")) for t in built.things]
    links = [_link(*way) for a, b in ends for way in ((a, b), (b, a))]
    network = TopologyNetwork(network_id=job, nodes=nodes, links=links)
    document = TopologyDocument(networks=TopologyNetworks(networks=[network]))
    return document.model_dump_json(by_alias=True, indent=1) + "\n"


def _link(here: tuple[str, str], there: tuple[str, str]) -> TopologyLink:
    return TopologyLink(
        link_id=f"{here[0]} {here[1]} to {there[0]} {there[1]}",
        source=LinkSource(node=here[0], port=here[1]),
        destination=LinkDestination(node=there[0], port=there[1]),
    )
