"""What a careful colleague says of the brief and the drawing."""

from collections import Counter
from collections.abc import Iterator
from itertools import pairwise

import shapely
from shapely.geometry import Polygon

from heathrise.core.edit import Put
from heathrise.core.job import (
    AccessPoint,
    Equipment,
    Job,
    Link,
    NoGo,
    OnSheet,
    Opening,
    Point,
    Rack,
    ServiceEntry,
    Space,
    Storey,
    Underlay,
    Wall,
    derived_id,
)
from heathrise.core.library import library, limit
from heathrise.core.rule import Fix, Observation, Place, rule
from heathrise.core.site.brief import Demand, cabled
from heathrise.core.site.building import ring_polygon
from heathrise.core.site.loops import gaps
from heathrise.core.site.ways import joined_storeys
from heathrise.core.units import quantity


@rule("brief.internet-missing")
def service_subnet_unknown(job: Job) -> Iterator[Observation]:
    """The outside subnet is not known."""
    if job.of(Storey) and job.brief.internet.subnet is None:
        yield Observation(
            subject_ids=(job.brief.id,),
            subject="Internet service",
            text="The subnet on the outside of the gateway is not known.",
            advice="Ask the client or the provider, or read it off the present router.",
        )


@rule("brief.fixed-without-cable")
def fixed_without_cable(job: Job) -> Iterator[Observation]:
    """More fixed things are counted than have a place on the sheet."""
    counted = cabled(job)
    placed = sum(isinstance(thing.place, OnSheet) for thing in job.of(Equipment))
    if counted > placed:
        yield Observation(
            subject_ids=(job.brief.id,),
            subject="Device counts",
            value=placed,
            limit=counted,
            text=f"The brief counts {counted} things that get a cable; {placed} have a place and a cable.",
            advice="Place the rest as devices, or say in the brief that they go by air.",
        )


@rule("brief.drops-unanswered")
def drops_unanswered(job: Job, brief: Demand) -> Iterator[Observation]:
    """Places where a cable is often forgotten have not been asked about."""
    left = [drop.label for drop in brief.drops if drop.wanted is None]
    if job.of(Storey) and left:
        yield Observation(
            subject_ids=(job.brief.id,),
            subject="Forgotten drops",
            value=len(left),
            limit=0,
            text=f"{len(left)} places where a cable is often forgotten are not answered: "
            f"{', '.join(left[:4]).lower()}{' and more' if len(left) > 4 else ''}.",
            advice="Say for each whether it is wanted.",
        )


@rule("brief.drop-not-placed")
def drop_not_placed(job: Job, brief: Demand) -> Iterator[Observation]:
    """A drop is wanted, and there are fewer such devices than wanted drops of their kind."""
    placed = Counter(thing.model for thing in job.of(Equipment))
    wanted = Counter(drop.device for drop in brief.drops if drop.wanted and drop.device)
    for model, count in wanted.items():
        if placed[model] < count:
            names = [d.label for d in brief.drops if d.wanted and d.device == model]
            yield Observation(
                subject_ids=(job.brief.id,),
                subject="Forgotten drops",
                value=placed[model],
                limit=count,
                text=f"{count} drops want a {library().equipment[model or ''].label.lower()} "
                f"({', '.join(names).lower()}); {placed[model]} of it stand on the sheet.",
                advice="Place it, or say that the drop is not wanted.",
            )


@rule("brief.questions-open")
def questions_open(job: Job, brief: Demand) -> Iterator[Observation]:
    """The client has not answered everything."""
    left = sum(question.answer is None for question in brief.questions)
    if job.of(Storey) and left:
        yield Observation(
            subject_ids=(job.brief.id,),
            subject="Questions to the client",
            value=left,
            limit=0,
            text=f"{left} questions to the client are open.",
            advice="Send the list, and enter each answer with its day.",
        )


@rule("brief.more-than-service")
def more_than_service(job: Job, brief: Demand) -> Iterator[Observation]:
    """The busiest hour asks for more than the service brings in."""
    peak = max(brief.total, key=lambda hour: hour.demand_mbps)
    if peak.demand_mbps > job.brief.internet.down_mbps:
        yield Observation(
            subject_ids=(job.brief.id,),
            subject="Internet service",
            value=peak.demand_mbps,
            limit=job.brief.internet.down_mbps,
            unit="Mb/s",
            text=f"At {peak.hour:02d}:00 people ask for {quantity(peak.demand_mbps, 'Mb/s', 0)}; the service "
            f"brings {quantity(job.brief.internet.down_mbps, 'Mb/s', 0)}.",
            advice="Order a faster service, limit guests, or check the counts.",
        )


@rule("plan.storey-height")
def storey_height(job: Job) -> Iterator[Observation]:
    """Two storeys are nearer or further apart than storeys are."""
    low, high = limit("plan.storey_min_m"), limit("plan.storey_max_m")
    floors = [s for s in job.storeys if s.storey_kind in ("floor", "cellar")]
    for lower, upper in pairwise(floors):
        rise = upper.elevation_m - lower.elevation_m
        if not low <= rise <= high:
            yield Observation(
                subject_ids=(upper.id,),
                subject=upper.label,
                value=round(rise, 2),
                limit=low if rise < low else high,
                unit="m",
                text=f"{upper.label} is {quantity(rise, 'm', 2)} above {lower.label}; storeys are "
                f"{quantity(low, 'm')} to {quantity(high, 'm')} apart.",
                advice="Check both elevations.",
            )


@rule("plan.space-open")
def space_open(job: Job) -> Iterator[Observation]:
    """Wall ends stop just short of what they should meet."""
    for storey in job.storeys:
        found = gaps(tuple(wall for wall in job.of(Wall) if wall.storey_id == storey.id))
        if found:
            widest = max(found, key=lambda gap: gap.width_m)
            yield Observation(
                subject_ids=(storey.id,),
                subject=storey.label,
                value=len(found),
                limit=0,
                text=f"{len(found)} wall end{'s stop' if len(found) > 1 else ' stops'} short on {storey.label}, "
                f"the widest gap {quantity(widest.width_m, 'm', 2)}.",
                advice="Close the gaps, or draw the opening as one.",
                place=Place(storey_id=storey.id, at=Point(x_m=widest.at[0], y_m=widest.at[1])),
            )


@rule("plan.wall-crosses-itself")
def outline_crosses(job: Job) -> Iterator[Observation]:
    """A space's outline crosses itself."""
    for space in job.of(Space):
        if not Polygon([(p.x_m, p.y_m) for p in space.outline]).is_valid:
            yield Observation(
                subject_ids=(space.id,),
                subject=space.label,
                text=f"The outline of {space.label} crosses itself.",
                advice="Draw it again, or let spaces be found from the walls.",
                place=Place(storey_id=space.storey_id, at=space.outline[0]),
            )


_NO_GO_ASKS = {
    "heat": "Move it; boxes age fast in heat.",
    "damp": "Move it, or take one made for wet places.",
    "lead": "Move it; lead is drilled only with the responsible person's consent.",
    "listed": "Move it, or get the consent of whoever lists the building.",
    "fire-rated": "Move it, or get approval and restore the fire-stopping with a rated system.",
    "electrical": "Move it; the working space of a panel stays free. Ask a licensed electrician.",
}


@rule("plan.point-in-no-go")
def in_no_go_area(job: Job) -> Iterator[Observation]:
    """Something is planned inside a no-go area."""
    areas = [(area, ring_polygon(area.outline)) for area in job.of(NoGo)]
    on_sheet = [thing for thing in job.of(Equipment) if isinstance(thing.place, OnSheet)]
    for thing in (*job.of(AccessPoint), *on_sheet, *job.of(Rack)):
        spot = job.spot(thing.id)
        here = shapely.Point(spot.at.x_m, spot.at.y_m)
        for area, shape in areas:
            if area.storey_id == spot.storey_id and shape.covers(here):
                yield Observation(
                    subject_ids=(thing.id, area.id),
                    subject=thing.label,
                    text=f"{thing.label} stands in {area.label}, a no-go area: {area.reason.replace('-', ' ')}.",
                    advice=_NO_GO_ASKS[area.reason],
                    place=Place(storey_id=spot.storey_id, at=spot.at),
                )


@rule("plan.scale-not-set")
def scale_not_set(job: Job) -> Iterator[Observation]:
    """A drawing under the sheet has no scale."""
    for underlay in job.of(Underlay):
        if underlay.metres_per_px is None:
            yield Observation(
                subject_ids=(underlay.id,),
                subject=underlay.label,
                text=f"{underlay.label} has no scale, so nothing traced on it has a length.",
                advice="Draw over a length you know and type it.",
                place=Place(storey_id=underlay.storey_id, at=Point(x_m=underlay.x_m, y_m=underlay.y_m)),
            )


@rule("plan.door-improbable")
def door_improbable(job: Job) -> Iterator[Observation]:
    """A door is narrower or wider than doors are."""
    low, high = limit("plan.door_min_m"), limit("plan.door_max_m")
    for door in job.of(Opening):
        if door.opening_kind == "door" and not low <= door.width_m <= high:
            wall = job.get(Wall, door.wall_id)
            yield Observation(
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
def no_rack(job: Job) -> Iterator[Observation]:
    """There is nowhere for runs to end."""
    if job.of(Wall) and not job.of(Rack):
        yield Observation(
            subject_ids=(),
            subject="Building",
            text="No rack is marked, so no run can be found.",
            advice="Mark a comms space and put a rack in it.",
        )


@rule("plan.no-service-entry")
def no_service_entry(job: Job) -> Iterator[Observation]:
    """The service entry is not marked."""
    if job.of(Rack) and not job.of(ServiceEntry):
        rack = job.of(Rack)[0]
        entry = ServiceEntry(
            id=derived_id(rack.id, "service entry"),
            label="Service entry",
            storey_id=rack.storey_id,
            at=rack.at,
        )
        yield Observation(
            subject_ids=(),
            subject="Building",
            text="Where the internet service enters is not marked.",
            advice="Mark it; if it enters at the rack, say so.",
            fixes=(Fix(label=f"It enters at {rack.label}", operations=(Put(element=entry),)),),
        )


@rule("plan.wall-without-build-up")
def wall_without_build_up(job: Job) -> Iterator[Observation]:
    """A wall has no build-up."""
    for wall in job.of(Wall):
        if wall.build_up is None:
            yield Observation(
                subject_ids=(wall.id,),
                subject=wall.label,
                text=f"{wall.label} has no build-up and costs the air nothing.",
                advice="Say what it is made of.",
                place=Place(storey_id=wall.storey_id, at=_middle(wall)),
            )


@rule("plan.no-riser")
def no_riser(job: Job) -> Iterator[Observation]:
    """A run would have to change storeys where there is no riser."""
    ways = joined_storeys(job)
    for run in job.of(Link):
        start, end = job.spot(run.a.on), job.spot(run.b.on)
        if end.storey_id not in ways[start.storey_id]:
            yield Observation(
                subject_ids=(run.id,),
                subject=run.label,
                text=f"{run.label} has no riser to go between storeys and is measured straight "
                "up at the rack.",
                advice="Mark the riser it will use.",
                place=Place(storey_id=end.storey_id, at=end.at),
            )


def _middle(wall: Wall) -> Point:
    return Point(x_m=(wall.a.x_m + wall.b.x_m) / 2, y_m=(wall.a.y_m + wall.b.y_m) / 2)
