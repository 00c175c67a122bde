"""What is plugged into the mains: where, how much it draws, and what to mind. Outlets are an electrician's work."""

from heathrise.core.job import Equipment, InLine, InRack, Job
from heathrise.core.library import EquipmentModel
from heathrise.core.site.building import Building
from heathrise.core.sums import Noun, Sum, SumLine


class Outlet(Noun):
    """One thing that wants a mains outlet beside it. [W]"""

    element_id: str
    label: str
    what: str
    where: str
    most_w: float
    usual_w: float
    caution: str


class Outlets(Noun):
    """Everything that wants one, and what all of it draws at the most."""

    things: tuple[Outlet, ...]
    most: Sum


def outlets_of(job: Job, building: Building) -> Outlets:
    """Return everything of a job that is plugged into the mains, in its own order."""
    things = tuple(
        _outlet(thing, model, _where(job, building, thing))
        for thing in job.of(Equipment)
        if (model := job.equipment[thing.model]).wants_outlet
    )
    return Outlets(
        things=things,
        most=Sum(
            label="Drawn from mains outlets at the most",
            value=round(sum(one.most_w for one in things), 1),
            unit="W",
            lines=tuple(SumLine(label=one.label, value=one.most_w, unit="W") for one in things),
            formula="sum of what each draws itself; what a switch or an injector feeds comes on top",
            source="data sheets",
        ),
    )


def _outlet(thing: Equipment, model: EquipmentModel, where: str) -> Outlet:
    return Outlet(
        element_id=thing.id,
        label=thing.label,
        what=model.label,
        where=where,
        most_w=model.max_w,
        usual_w=model.typical_w,
        caution=model.caution,
    )


def _where(job: Job, building: Building, thing: Equipment) -> str:
    """Return where a thing stands, in words: its rack, the run it is on, else its space or storey."""
    place = thing.place
    if isinstance(place, InRack):
        return job.by_id[place.rack_id].label
    if isinstance(place, InLine):
        run = job.by_id[place.link_id].label
        return f"on {run}" if place.at_m is None else f"on {run}, {place.at_m:.0f} m from its beginning"
    spot = job.spot(thing.id)
    space = building.space_at(spot.storey_id, spot.at)
    return space.label if space is not None else job.by_id[spot.storey_id].label
