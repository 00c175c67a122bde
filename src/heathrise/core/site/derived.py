"""What is derived of the place: its building, and what the brief means."""

from heathrise.core.deriving import Look, derived
from heathrise.core.job.view import job_of, slice_of
from heathrise.core.site.brief import Demand, demand
from heathrise.core.site.building import GEOMETRY, Building, bare_building


@derived
def building(look: Look) -> Building:
    """The building, bare: only what is geometry makes another one."""
    return bare_building(slice_of(look, GEOMETRY))


@derived
def brief(look: Look) -> Demand:
    """What the brief means for the stages after it."""
    return demand(job_of(look))
