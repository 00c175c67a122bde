"""What a careful colleague says of the links between buildings."""

from collections.abc import Iterator

from heathrise.core.job import Job, Link
from heathrise.core.library import library
from heathrise.core.links.bridges import BridgePlan
from heathrise.core.rule import Observation, Place, rule
from heathrise.core.site.building import Building

# Media that carry a voltage between two houses.
_CONDUCTS = ("copper", "hybrid", "cord")


def _conducts(link: Link) -> bool:
    """Say whether the cable of a link has conductors; one that nobody knows is taken to have."""
    cable = library().cables.get(link.product or "")
    return cable is None or cable.conducts


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


@rule("links.earths-joined")
def earths_joined(job: Job, building: Building) -> Iterator[Observation]:
    """A copper run joins two houses."""
    for link in job.of(Link):
        if link.medium not in _CONDUCTS or not _conducts(link):
            continue
        start, end = job.spot(link.a.on), job.spot(link.b.on)
        one, other = building.house_at(start.at), building.house_at(end.at)
        if one is not None and other is not None and one != other:
            yield Observation(
                subject_ids=(link.id,),
                subject=link.label,
                text=f"{link.label} joins {one} and {other} by copper.",
                advice="Use fibre, or surge protection at both ends; ask an electrician about the earths.",
                place=Place(storey_id=end.storey_id, at=end.at),
            )
