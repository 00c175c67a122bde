"""What a careful colleague says of the links between buildings."""

from collections.abc import Iterator

from heathrise.core.job import Job, Rack, Run
from heathrise.core.rule import Found, Place, rule
from heathrise.core.site.building import Building


@rule("links.earths-joined")
def earths_joined(job: Job, building: Building) -> Iterator[Found]:
    """A copper run joins two houses."""
    for run in job.of(Run):
        rack, end = job.get(Rack, run.rack_id), job.end_of(run)
        one, other = building.house_at(rack.at), building.house_at(end.at)
        if one is not None and other is not None and one != other:
            yield Found(
                subject_ids=(run.id,),
                subject=run.label,
                text=f"{run.label} joins {one} and {other} by copper.",
                advice="Use fibre, or surge protection at both ends; ask an electrician about the earths.",
                place=Place(storey_id=end.storey_id, at=end.at),
            )
