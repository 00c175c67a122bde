"""What a careful colleague says of the brief and the drawing."""

from collections.abc import Iterator

from heathrise.core.edit import Put
from heathrise.core.job import (
    Device,
    Job,
    Opening,
    Point,
    Rack,
    Run,
    ServiceEntry,
    Storey,
    Underlay,
    Wall,
)
from heathrise.core.library import limit
from heathrise.core.rule import Fix, Found, Place, rule
from heathrise.core.site.ways import joined_storeys
from heathrise.core.units import quantity


@rule("brief.internet-missing")
def service_subnet_unknown(job: Job) -> Iterator[Found]:
    """The outside subnet is not known."""
    if job.of(Storey) and job.brief.internet.subnet is None:
        yield Found(
            subject_ids=(job.brief.id,),
            subject="Internet service",
            text="The subnet on the outside of the gateway is not known.",
            advice="Ask the client or the provider, or read it off the present router.",
        )


@rule("brief.fixed-without-cable")
def fixed_without_cable(job: Job) -> Iterator[Found]:
    """More fixed things are counted than have a place on the sheet."""
    counted = sum(d.count for d in job.brief.devices if not d.moves)
    placed = len(job.of(Device))
    if counted > placed:
        yield Found(
            subject_ids=(job.brief.id,),
            subject="Device counts",
            value=placed,
            limit=counted,
            text=f"The brief counts {counted} fixed things; {placed} have a place and a cable.",
            advice="Place the rest as devices, or count them as moving.",
        )


@rule("plan.scale-not-set")
def scale_not_set(job: Job) -> Iterator[Found]:
    """A drawing under the sheet has no scale."""
    for underlay in job.of(Underlay):
        if underlay.metres_per_px is None:
            yield Found(
                subject_ids=(underlay.id,),
                subject=underlay.label,
                text=f"{underlay.label} has no scale, so nothing traced on it has a length.",
                advice="Draw over a length you know and type it.",
                place=Place(storey_id=underlay.storey_id, at=Point(x_m=underlay.x_m, y_m=underlay.y_m)),
            )


@rule("plan.door-improbable")
def door_improbable(job: Job) -> Iterator[Found]:
    """A door is narrower or wider than doors are."""
    low, high = limit("plan.door_min_m"), limit("plan.door_max_m")
    for door in job.of(Opening):
        if door.opening_kind == "door" and not low <= door.width_m <= high:
            wall = job.get(Wall, door.wall_id)
            yield Found(
                subject_ids=(door.id,),
                subject=door.label,
                value=door.width_m,
                limit=low if door.width_m < low else high,
                unit="m",
                text=f"{door.label} is {quantity(door.width_m, 'm', 2)} wide; doors are "
                f"{quantity(low, 'm')} to {quantity(high, 'm')}.",
                advice="Check the scale of the drawing first, then the door.",
                place=Place(storey_id=wall.storey_id, at=_middle(wall)),
            )


@rule("plan.no-comms-space")
def no_rack(job: Job) -> Iterator[Found]:
    """There is nowhere for runs to end."""
    if job.of(Storey) and not job.of(Rack):
        yield Found(
            subject_ids=(),
            subject="Building",
            text="No rack is marked, so no run can be found.",
            advice="Mark a comms space and put a rack in it.",
        )


@rule("plan.no-service-entry")
def no_service_entry(job: Job) -> Iterator[Found]:
    """The service entry is not marked."""
    if job.of(Rack) and not job.of(ServiceEntry):
        rack = job.of(Rack)[0]
        entry = ServiceEntry(
            id=_derived(rack.id), label="Service entry", storey_id=rack.storey_id, at=rack.at
        )
        yield Found(
            subject_ids=(),
            subject="Building",
            text="Where the internet service enters is not marked.",
            advice="Mark it; if it enters at the rack, say so.",
            fixes=(Fix(label=f"It enters at {rack.label}", operations=(Put(element=entry),)),),
        )


@rule("plan.wall-without-build-up")
def wall_without_build_up(job: Job) -> Iterator[Found]:
    """A wall has no build-up."""
    for wall in job.of(Wall):
        if wall.build_up is None:
            yield Found(
                subject_ids=(wall.id,),
                subject=wall.label,
                text=f"{wall.label} has no build-up and costs the air nothing.",
                advice="Say what it is made of.",
                place=Place(storey_id=wall.storey_id, at=_middle(wall)),
            )


@rule("plan.no-riser")
def no_riser(job: Job) -> Iterator[Found]:
    """A run would have to change storeys where there is no riser."""
    ways = joined_storeys(job)
    for run in job.of(Run):
        rack = job.get(Rack, run.rack_id)
        target = job.end_of(run)
        if target.storey_id not in ways[rack.storey_id]:
            yield Found(
                subject_ids=(run.id,),
                subject=run.label,
                text=f"{run.label} has no riser to go between storeys and is measured straight "
                "up at the rack.",
                advice="Mark the riser it will use.",
                place=Place(storey_id=target.storey_id, at=target.at),
            )


def _middle(wall: Wall) -> Point:
    return Point(x_m=(wall.a.x_m + wall.b.x_m) / 2, y_m=(wall.a.y_m + wall.b.y_m) / 2)


def _derived(element_id: str) -> str:
    """Return an id derived from another, so that a fix pressed twice adds one element."""
    return f"{int(element_id[:8], 16) ^ 0xFFFFFFFF:08x}{element_id[8:]}"
