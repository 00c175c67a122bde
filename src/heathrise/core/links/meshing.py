"""Access points that reach the network over the air of others: which hears which, by how many hops, at what rate."""

import heapq
from collections.abc import Iterable, Mapping
from dataclasses import replace

import numpy as np

from heathrise.core.deriving import Look, derived
from heathrise.core.edit import Put
from heathrise.core.job import PULLED, AccessPoint, Band, Job, Link, Point
from heathrise.core.job.view import job_of
from heathrise.core.library import library, limit
from heathrise.core.links.hops import shared_hops_mbps
from heathrise.core.radio.air import hop_nodes
from heathrise.core.radio.channels import eirp_limit_dbm
from heathrise.core.radio.coverage import radio_on, with_radio
from heathrise.core.radio.hopping import SILENCE_DBM, USUAL, MeshHop, Nodes, mesh_links
from heathrise.core.radio.rates import usable_share
from heathrise.core.radio.reach import gains_db
from heathrise.core.sums import Noun, Sum, SumLine

_AS_THEY_ARE: Mapping[str, AccessPoint] = {}
# How many places on the way to its parent are tried for a point, and what a prediction is to have to spare there. [dB]
_STEPS, _SURE_DB = 24, 1.0


class MeshNode(Noun):
    """One access point without a cable: the point it hangs on, how many hops it is from a cable, what it carries.

    `link_id` is None for a parent that is proposed; `second` is the next best point it hears, `level` how it hears
    its parent. `channel` and `width_mhz` are its parent's, and `same_channel` says whether it stands on that now.
    `nearer` is where, on the straight way to its parent, it would be heard well enough; None where it is, or where
    no such place was found. [dBm, Mb/s]
    """

    node_id: str
    label: str
    link_id: str | None
    parent_id: str | None
    parent_label: str
    band: Band
    aside: bool
    hops: int
    mbps: float
    level: Sum | None
    throughput: Sum | None
    second_label: str
    second_dbm: float | None
    channel: int | None
    width_mhz: int
    same_channel: bool
    nearer: Point | None
    holds: bool
    why_not: str


def cabled_in(job: Job) -> frozenset[str]:
    """Return the ids of what a cable goes to."""
    return frozenset(link.b.on for link in job.of(Link) if link.medium in PULLED)


@derived
def meshes(look: Look) -> tuple[MeshNode, ...]:
    """Every point that hangs on another by decision, in the order of the links."""
    job = job_of(look)
    decided = mesh_links(job)
    return _planned(hop_nodes(look), decided, decided) if decided else ()


def mesh_study(look: Look) -> tuple[MeshNode, ...]:
    """Return every point without a cable, with the parent that was decided or that it would best hang on."""
    job = job_of(look)
    cabled = cabled_in(job)
    wanting = [point.id for point in job.of(AccessPoint) if point.id not in cabled]
    return _planned(hop_nodes(look), mesh_links(job), wanting)


def mesh_node(look: Look, point_id: str) -> MeshNode:
    """Return how one point would hang on the others, whatever it hangs on now."""
    decided = {node: link for node, link in mesh_links(job_of(look)).items() if node != point_id}
    return _planned(hop_nodes(look), decided, [point_id])[0]


def _planned(nodes: Nodes, decided: Mapping[str, Link], asked: Iterable[str]) -> tuple[MeshNode, ...]:
    asked = tuple(asked)
    hanging = set(asked) | set(decided)
    cabled = cabled_in(nodes.job)
    wired = [point for point in nodes.points if point in cabled and point not in hanging]
    tree = tree_of(nodes, wired, hanging, {node: link.a.on for node, link in decided.items()})
    return tuple(_node(nodes, tree, node, decided.get(node)) for node in asked if node in nodes.points)


Tree = dict[str, MeshHop | None]


def tree_of(nodes: Nodes, wired: Iterable[str], hanging: Iterable[str], decided: Mapping[str, str]) -> Tree:
    """Return the hop each point hangs by: the least airtime from a cable on, each hop strong enough, few enough of
    them. Points with a cable have None; what is not reached is absent. A decided parent stands, however it is heard.
    """
    found: Tree = dict.fromkeys(wired)
    depth = dict.fromkeys(found, 0)
    waiting: list[tuple[float, int, str, MeshHop]] = []
    left = set(hanging)
    count = 0

    def offer(parent: str, cost: float) -> None:
        nonlocal count
        for child in sorted(left):
            if decided.get(child, parent) != parent:
                continue
            hop = nodes.hop(parent, child)
            if hop is None or not _may(hop, depth[parent] + 1, child in decided):
                continue
            count += 1
            heapq.heappush(waiting, (cost + 1 / max(hop.mbps, 1e-6), count, child, hop))

    for root in tuple(found):
        offer(root, 0.0)
    while waiting:
        cost, _, child, hop = heapq.heappop(waiting)
        if child not in left:
            continue
        left.discard(child)
        found[child], depth[child] = hop, depth[hop.parent_id] + 1
        offer(child, cost)
    return found


def _may(hop: MeshHop, depth: int, decided: bool) -> bool:
    most = limit("links.mesh_hops_aside") if hop.aside else limit("links.mesh_hops")
    return decided or (hop.mbps > 0 and hop.level_dbm >= limit("links.mesh_dbm") and depth <= most)


def _way(tree: Tree, node: str) -> list[MeshHop]:
    """Return the hops of a point, its own first."""
    hops, hop = [], tree.get(node)
    while hop is not None:
        hops.append(hop)
        hop = tree.get(hop.parent_id)
    return hops


def _hangs_on(tree: Tree, point: str, node: str) -> bool:
    """Say whether a point reaches its cable over another."""
    return any(hop.parent_id == node for hop in _way(tree, point))


def _node(nodes: Nodes, tree: Tree, node: str, link: Link | None) -> MeshNode:
    hops = _way(tree, node)
    parent = link.a.on if link else hops[0].parent_id if hops else None
    apart = [p for p in nodes.points if p not in (node, parent) and not _hangs_on(tree, p, node)]
    others = _heard_by(nodes, node, apart)
    hop = hops[0] if hops else None
    if hop is None:
        loudest = nodes.hop(parent, node) if parent else next(iter(others), None)
        return _left_out(nodes, node, link, loudest)
    level, row = _level(nodes, node, hop), nodes.rows.get((hop.parent_id, hop.band))
    through = _throughput(nodes, node, hops)
    why = _why_not(nodes, hop, len(hops), level)
    second = next(iter(_within(others)), None)
    return MeshNode(
        node_id=node,
        label=nodes.points[node].label,
        link_id=link.id if link else None,
        parent_id=hop.parent_id,
        parent_label=nodes.points[hop.parent_id].label,
        band=hop.band,
        aside=hop.aside,
        hops=len(hops),
        mbps=through.value,
        level=level,
        throughput=through,
        second_label=nodes.points[second.parent_id].label if second else "",
        second_dbm=round(second.level_dbm, 1) if second else None,
        channel=row.channel if row else None,
        width_mhz=row.width_mhz if row else 20,
        same_channel=nodes.same_channel(node, hop.parent_id, hop.band),
        nearer=None if level.holds else nearer(nodes, node, hop),
        holds=not why,
        why_not=why,
    )


def _heard_by(nodes: Nodes, node: str, others: Iterable[str]) -> list[MeshHop]:
    hops = (nodes.hop(other, node) for other in others)
    return sorted((hop for hop in hops if hop is not None), key=lambda hop: -hop.level_dbm)


def _within(hops: Iterable[MeshHop]) -> list[MeshHop]:
    return [hop for hop in hops if hop.level_dbm >= limit("links.mesh_dbm")]


def _why_not(nodes: Nodes, hop: MeshHop, depth: int, level: Sum) -> str:
    most = limit("links.mesh_hops_aside") if hop.aside else limit("links.mesh_hops")
    if not level.holds:
        parent = nodes.points[hop.parent_id].label
        return f"It hears {parent} at {hop.level_dbm:.0f} dBm; {limit('links.mesh_dbm'):g} dBm is the least."
    if depth > most:
        return f"It is {depth} hops from a cable; {most:g} are the most."
    return ""


def _left_out(nodes: Nodes, node: str, link: Link | None, loudest: MeshHop | None) -> MeshNode:
    """Return a point that no tree reaches, with the reason."""
    parent = link.a.on if link else None
    level = _level(nodes, node, loudest) if loudest and loudest.level_dbm > SILENCE_DBM else None
    if link is not None:
        why = "No way leads from its parent to a point with a cable."
    elif level is None or loudest is None:
        why = "It hears no other access point."
    elif not level.holds:
        why = (
            f"The best it hears is {nodes.points[loudest.parent_id].label} at {loudest.level_dbm:.0f} dBm; "
            f"{limit('links.mesh_dbm'):g} dBm is the least."
        )
    else:
        why = f"More than {limit('links.mesh_hops'):g} hops lie between it and a cable."
    return MeshNode(
        node_id=node,
        label=nodes.points[node].label,
        link_id=link.id if link else None,
        parent_id=parent,
        parent_label=nodes.points[parent].label if parent else "",
        band=loudest.band if loudest else USUAL,
        aside=False,
        hops=0,
        mbps=0.0,
        level=level,
        throughput=None,
        second_label="",
        second_dbm=None,
        channel=None,
        width_mhz=20,
        same_channel=True,
        nearer=nearer(nodes, node, loudest) if level and loudest and not level.holds else None,
        holds=False,
        why_not=why,
    )


def _level(nodes: Nodes, node: str, hop: MeshHop) -> Sum:
    """Return how a point and its parent hear each other, as a sum: the weaker way."""
    parent = nodes.points[hop.parent_id]
    rows = [nodes.rows.get((end, hop.band)) for end in (parent.id, node)]
    eirp = [row.eirp_dbm for row in rows if row is not None]
    gain = [
        radio.gain_dbi
        for end in (parent.id, node)
        if (radio := nodes.job.equipment[nodes.points[end].model].band(hop.band)) is not None
    ]
    sent, taken = (eirp[0], gain[1]) if eirp[0] + gain[1] <= eirp[1] + gain[0] else (eirp[1], gain[0])
    return Sum(
        label=f"{nodes.points[node].label} and {parent.label} at {hop.band} GHz",
        value=round(hop.level_dbm, 1),
        unit="dBm",
        limit=limit("links.mesh_dbm"),
        holds=hop.level_dbm >= limit("links.mesh_dbm"),
        lines=(
            SumLine(label="EIRP of the quieter way", value=round(sent, 1), unit="dBm"),
            SumLine(label="gain of the antenna that hears", value=taken, unit="dBi"),
            SumLine(
                label="air, walls, floors and both directions",
                value=round(hop.level_dbm - sent - taken, 1),
                unit="dB",
            ),
        ),
        formula="EIRP + gain + what the building takes, the weaker of both ways",
        source="the air of this job, without mirrors",
    )


def _throughput(nodes: Nodes, node: str, hops: list[MeshHop]) -> Sum:
    """Return what a client of a point has to the cable and back."""
    lines = [
        SumLine(
            label=f"hop to {nodes.points[hop.parent_id].label}, {hop.band} GHz"
            + (", a radio of its own" if hop.aside else ""),
            value=round(hop.mbps, 1),
            unit="Mb/s",
        )
        for hop in hops
    ]
    share = usable_share(1)
    label = f"{nodes.points[node].label}: what it carries to the cable"
    if not all(hop.mbps > 0 for hop in hops):
        return Sum(label=label, value=0.0, unit="Mb/s", lines=tuple(lines), source="no rate holds on a hop")
    if all(hop.aside for hop in hops):
        kept = limit("links.mesh_own_share") ** len(hops)
        lines.append(SumLine(label=f"kept over {len(hops)} hops", value=round(kept, 3), unit=""))
        carried, formula = min(hop.mbps for hop in hops) * kept, "slowest hop x what is kept x share"
    else:
        access = hops[0].mbps
        lines.append(SumLine(label="on to its clients", value=round(access, 1), unit="Mb/s"))
        carried = shared_hops_mbps([access, *(hop.mbps for hop in hops)])
        formula = "1 / sum(1 / r) of all that waits for the same channel x share"
    lines.append(SumLine(label="share left for data", value=share, unit=""))
    return Sum(
        label=label,
        value=round(carried * share, 1),
        unit="Mb/s",
        lines=tuple(lines),
        formula=formula,
        source="airtime of consecutive transmissions; IEEE 802.11-2020",
    )


def nearer(nodes: Nodes, node: str, hop: MeshHop) -> Point | None:
    """Return the first place on the straight way to a parent where a point would hear it well enough.

    The level there is the level now, and what the air gains on the way.
    """
    point, parent = nodes.points[node], nodes.points[hop.parent_id]
    if point.storey_id != parent.storey_id:
        return None
    shares = np.arange(_STEPS + 1) / (_STEPS + 1)
    here, there = (np.array([p.at.x_m, p.at.y_m]) for p in (point, parent))
    places = here + shares[:, None] * (there - here)
    height = nodes.scene.transmitter(point).z_m
    transmitter = replace(nodes.scene.transmitter(parent), mirrors=False)
    where = np.column_stack([places, np.full(len(places), height)])
    gain = np.asarray(next(iter(gains_db(nodes.scene, [transmitter], hop.band, where))), float)
    level = hop.level_dbm + gain - gain[0]
    good = np.flatnonzero(level >= limit("links.mesh_dbm") + _SURE_DB)
    if not len(good):
        return None
    x, y = places[good[0]]
    return Point(x_m=round(float(x), 2), y_m=round(float(y), 2))


def onto_channel(
    job: Job, nodes: Iterable[MeshNode], made: Mapping[str, AccessPoint] = _AS_THEY_ARE
) -> tuple[Put, ...]:
    """Return what keeps points and their parents on the parents' channels: set, and locked against plans.

    A chain of them stands on one channel, that of the point with the cable. `made` are points that are other than
    they are in the job.
    """
    on: dict[tuple[str, Band], tuple[int, int]] = {}
    points: dict[str, AccessPoint] = dict(made)
    for node in sorted(nodes, key=lambda node: node.hops):
        if node.parent_id is None or node.channel is None:
            continue
        kept = on.get((node.parent_id, node.band), (node.channel, node.width_mhz))
        for end in (node.parent_id, node.node_id):
            on[end, node.band] = kept
            points[end] = _on(job, points.get(end) or job.get(AccessPoint, end), node.band, *kept)
    return tuple(Put(element=point) for point in points.values())


def _on(job: Job, point: AccessPoint, band: Band, channel: int, width_mhz: int) -> AccessPoint:
    """Return a point with a radio on a channel, no louder than the domain allows there."""
    radio, has = radio_on(job, point, band), job.equipment[point.model].band(band)
    most = eirp_limit_dbm(library().domains[job.site.domain], band, channel, width_mhz)
    power_dbm = radio.power_dbm if radio else 0.0
    if most is not None and has is not None:
        power_dbm = min(power_dbm, most - has.gain_dbi)
    keeps = {"channel": channel, "width_mhz": width_mhz, "locked": True, "power_dbm": round(power_dbm, 1)}
    return with_radio(job, point, band, **keeps)


def model_rank(job: Job, point: AccessPoint) -> tuple[int, int]:
    """Return how capable a point's model is: its generation, then its chains together."""
    model = job.equipment[point.model]
    phys = list(library().phys)
    return phys.index(model.generation or phys[0]), sum(radio.chains for radio in model.bands)
