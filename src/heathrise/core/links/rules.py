"""What a careful colleague says of the links between buildings, and of what hangs on the air or the mains."""

from collections.abc import Callable, Iterator
from itertools import count

from heathrise.core.edit import Put
from heathrise.core.job import AccessPoint, Job, Link, derived_id
from heathrise.core.library import library, limit
from heathrise.core.links.bridges import BridgePlan
from heathrise.core.links.earths import guarded, guards_on
from heathrise.core.links.mains import MainsPlan
from heathrise.core.links.meshing import MeshNode, model_rank, onto_channel
from heathrise.core.rule import Fix, Observation, Place, rule
from heathrise.core.site.building import Building
from heathrise.core.sums import Sum

# Media that carry a voltage between two houses.
_CONDUCTS = ("copper", "hybrid", "cord")


def _conducts(link: Link) -> bool:
    """Say whether the cable of a link has conductors; one that nobody knows is taken to have."""
    cable = library().cables.get(link.product or "")
    return cable is None or cable.joins_earths


@rule("links.bridge-dead")
def bridge_dead(job: Job, bridges: tuple[BridgePlan, ...]) -> Iterator[Observation]:
    """A bridge carries nothing: its path, its level or the weather is against it."""
    for plan in bridges:
        if plan.holds:
            continue
        spot = job.spot(plan.ends[0].unit_id)
        failed = next((check for check in plan.checks if not check.holds), None)
        yield Observation(
            subject_ids=(plan.link_id, *(end.unit_id for end in plan.ends)),
            subject=plan.label,
            value=failed.value if failed else None,
            limit=failed.limit if failed else None,
            unit=failed.unit if failed else "",
            text=f"{plan.label} carries nothing. {plan.why_not}",
            advice="Move an end, raise it, or take another way: all are compared in Links.",
            place=Place(storey_id=spot.storey_id, at=spot.at),
            sum=failed,
        )


def _between_houses(job: Job, building: Building) -> Iterator[tuple[Link, str, str, Place]]:
    """Yield every cable of copper between two houses, with both and where it ends."""
    for link in job.of(Link):
        if link.medium not in _CONDUCTS or not _conducts(link):
            continue
        start, end = job.spot(link.a.on), job.spot(link.b.on)
        one, other = building.house_at(start.at), building.house_at(end.at)
        if one is not None and other is not None and one != other:
            yield link, one, other, Place(storey_id=end.storey_id, at=end.at)


@rule("links.earths-joined")
def earths_joined(job: Job, building: Building) -> Iterator[Observation]:
    """A copper run joins two houses, and nothing guards it."""
    for link, one, other, place in _between_houses(job, building):
        if guards_on(job, link.id) > 1:
            continue
        guards = guarded(job, link, None, _made(link.id, "surge guard"))
        yield Observation(
            subject_ids=(link.id,),
            subject=link.label,
            text=f"{link.label} joins {one} and {other} by copper.",
            advice="Use fibre, or surge guards at both ends; ask an electrician about the earths.",
            place=place,
            fixes=(Fix(label="Put surge guards at both ends", operations=guards),) if guards else (),
        )


@rule("links.earths-guarded")
def earths_guarded(job: Job, building: Building) -> Iterator[Observation]:
    """A copper run joins two houses, with a surge guard at both ends."""
    for link, one, other, place in _between_houses(job, building):
        if guards_on(job, link.id) > 1:
            yield Observation(
                subject_ids=(link.id,),
                subject=link.label,
                text=f"{link.label} joins {one} and {other} by copper, with a surge guard at both ends.",
                advice="Ask an electrician about the earths of both houses before it is plugged in, and where the "
                "guards are bonded.",
                place=place,
            )


def _made(beside: str, what: str) -> Callable[[], str]:
    """Return what names things that a remedy adds: alike each time it is worked out."""
    numbers = count(1)
    return lambda: derived_id(beside, f"{what} {next(numbers)}")


@rule("links.mesh-weak")
def mesh_weak(job: Job, meshes: tuple[MeshNode, ...]) -> Iterator[Observation]:
    """A point hears the one it hangs on too faintly, or none at the end of the line."""
    for node in meshes:
        if node.holds or (node.level is not None and node.level.holds and node.hops):
            continue
        point = job.get(AccessPoint, node.node_id)
        fixes: tuple[Fix, ...] = ()
        if node.nearer is not None:
            moved = point.model_copy(update={"at": node.nearer})
            fixes = (Fix(label=f"Move it towards {node.parent_label}", operations=(Put(element=moved),)),)
        yield _of_node(
            job,
            node,
            f"{node.label} hangs on {node.parent_label} by air. {node.why_not}",
            "The first point without a cable stands where the one with a cable is strong, not where coverage is wanted "
            "most. Better still, run a cable.",
            fixes,
            node.level,
        )


@rule("links.mesh-deep")
def mesh_deep(job: Job, meshes: tuple[MeshNode, ...]) -> Iterator[Observation]:
    """More hops lie between a point and a cable than the air bears."""
    for node in meshes:
        if node.holds or not node.hops or node.level is None or not node.level.holds:
            continue
        yield _of_node(
            job,
            node,
            f"{node.label}: {node.why_not}",
            "Run a cable to a point in the middle of the chain, or set a radio aside for the hops.",
            (),
            node.throughput,
        )


@rule("links.mesh-one-parent")
def mesh_one_parent(job: Job, meshes: tuple[MeshNode, ...]) -> Iterator[Observation]:
    """A point that hangs on another hears no second one well enough."""
    for node in meshes:
        if node.holds and not node.second_label:
            yield _of_node(
                job,
                node,
                f"{node.label} hears {node.parent_label} and no other point at {limit('links.mesh_dbm'):g} dBm.",
                "Every point without a cable should hear two others: move one nearer, or run a cable.",
                (),
                node.level,
            )


@rule("links.mesh-channel")
def mesh_channel(job: Job, meshes: tuple[MeshNode, ...]) -> Iterator[Observation]:
    """A point and the one it hangs on are on two channels."""
    for node in meshes:
        if not node.hops or node.same_channel:
            continue
        fix = Fix(label=f"Both on channel {node.channel}", operations=onto_channel(job, [node]))
        yield _of_node(
            job,
            node,
            f"{node.label} hangs on {node.parent_label} by air at {node.band} GHz, and they are on two channels.",
            "Give both the channel of the one with the cable, and lock it: a hop needs one channel.",
            (fix,) if node.channel is not None else (),
            None,
        )


@rule("links.mesh-apart")
def mesh_apart(job: Job, building: Building, meshes: tuple[MeshNode, ...]) -> Iterator[Observation]:
    """A point hangs on one in another house."""
    for node in meshes:
        if node.parent_id is None:
            continue
        one, other = (building.house_at(job.spot(end).at) for end in (node.node_id, node.parent_id))
        if one is not None and other is not None and one != other:
            yield _of_node(
                job,
                node,
                f"{node.label} in {one} hangs on {node.parent_label} in {other} by air.",
                "From house to house take fibre or a bridge, and one network name: a hop of a mesh is the wrong tool.",
                (),
                node.level,
            )


@rule("links.mesh-weaker-wired")
def mesh_weaker_wired(job: Job, meshes: tuple[MeshNode, ...]) -> Iterator[Observation]:
    """A point with a cable is less capable than the one that hangs on it."""
    for node in meshes:
        if node.parent_id is None:
            continue
        mine, theirs = (job.get(AccessPoint, end) for end in (node.node_id, node.parent_id))
        if model_rank(job, mine) > model_rank(job, theirs):
            yield _of_node(
                job,
                node,
                f"{node.label} is more capable than {node.parent_label}, which carries it.",
                "The points with a cable are the most capable ones: change the two about.",
                (_swapped(mine, theirs),),
                None,
            )


def _swapped(one: AccessPoint, other: AccessPoint) -> Fix:
    """Return the fix that changes two points' models about; their radios are then the models' own."""
    swap = ((one, other.model), (other, one.model))
    puts = tuple(
        Put(element=point.model_copy(update={"model": model, "radios": (), "antenna": None}))
        for point, model in swap
    )
    return Fix(label="Change the two models about", operations=puts)


@rule("links.mains-dead")
def mains_dead(job: Job, mains: tuple[MainsPlan, ...]) -> Iterator[Observation]:
    """A pair on the mains carries nothing that could be promised."""
    for plan in mains:
        if not plan.holds:
            spot = job.spot(plan.ends[1])
            yield Observation(
                subject_ids=(plan.link_id, *plan.ends),
                subject=plan.label,
                text=f"{plan.label} carries nothing. {plan.why_not}",
                advice="Take another way: all are compared in Links.",
                place=Place(storey_id=spot.storey_id, at=spot.at),
            )


def _of_node(
    job: Job, node: MeshNode, text: str, advice: str, fixes: tuple[Fix, ...], total: Sum | None
) -> Observation:
    spot = job.spot(node.node_id)
    return Observation(
        subject_ids=(node.node_id, *([node.link_id] if node.link_id else [])),
        subject=node.label,
        value=total.value if total and total.limit is not None else None,
        limit=total.limit if total else None,
        unit=total.unit if total and total.limit is not None else "",
        text=text,
        advice=advice,
        place=Place(storey_id=spot.storey_id, at=spot.at),
        fixes=fixes,
        sum=total,
    )
