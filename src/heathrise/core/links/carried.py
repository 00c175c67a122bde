"""What every link without a cable carries: bridges, hops from point to point, pairs on the mains."""

from heathrise.core.deriving import Look, derived
from heathrise.core.links.bridges import bridges
from heathrise.core.links.mains import mains_links
from heathrise.core.links.meshing import meshes


@derived
def carried(look: Look) -> dict[str, int]:
    """What each link without a cable carries, by its id; 0 for one that carries nothing. [Mb/s]"""
    found = {plan.link_id: int(plan.mbps) if plan.holds else 0 for plan in bridges(look)}
    found |= {node.link_id: int(node.mbps) for node in meshes(look) if node.link_id}
    return found | {plan.link_id: int(plan.mbps) if plan.holds else 0 for plan in mains_links(look)}
