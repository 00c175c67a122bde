"""What is derived of the place: its building, and what the brief means."""

from heathrise.core.deriving import Look, derived
from heathrise.core.job import Space
from heathrise.core.job.view import field_of, fields_of, ids_of, job_of, slice_of
from heathrise.core.site.brief import Demand, PerPerson, SpaceDemand, per_person, space_demand_of, summed
from heathrise.core.site.building import GEOMETRY, Building, bare_building


@derived
def building(look: Look) -> Building:
    """The building, bare: only what is geometry makes another one."""
    return bare_building(slice_of(look, GEOMETRY))


@derived
def asked_each(look: Look) -> PerPerson:
    """What one person asks of the air."""
    return per_person(job_of(look))


@derived
def space_demand(look: Look, space_id: str) -> SpaceDemand | None:
    """What a space asks for over the day; None for one without people."""
    space = fields_of(look, Space, space_id)
    return space_demand_of(space, job_of(look).site, asked_each(look)) if space.people else None


@derived
def peopled(look: Look) -> tuple[str, ...]:
    """The ids of the spaces with people, in their own order."""
    return tuple(space_id for space_id in ids_of(look, Space) if field_of(look, space_id, "people"))


@derived
def brief(look: Look) -> Demand:
    """What the brief means for the stages after it."""
    spaces = (space_demand(look, space_id) for space_id in peopled(look))
    return summed(job_of(look), tuple(space for space in spaces if space is not None))
