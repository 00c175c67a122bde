"""What a careful colleague says of the links between buildings."""

from collections.abc import Iterator

from heathrise.core.job import Job, Link
from heathrise.core.library import library
from heathrise.core.rule import Observation, Place, rule
from heathrise.core.site.building import Building

# Media that carry a voltage between two houses.
_CONDUCTS = ("copper", "hybrid", "cord")


def _conducts(link: Link) -> bool:
    """Say whether the cable of a link has conductors; one that nobody knows is taken to have."""
    cable = library().cables.get(link.product or "")
    return cable is None or cable.conducts


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
