"""What a job lays over the shelves of the library, as screens choose from it."""

from heathrise.core.deriving import Look, derived
from heathrise.core.job.air import Antenna
from heathrise.core.job.drawing import OwnBuildUp
from heathrise.core.job.view import job_of
from heathrise.core.job.wiring import OwnModel
from heathrise.core.library.equipment import EquipmentShown, PatternShown, shown
from heathrise.core.library.items import BuildUp
from heathrise.core.sums import Noun


class OwnShelves(Noun):
    """Items of a job's own by code."""

    build_ups: dict[str, BuildUp] = {}
    equipment: dict[str, EquipmentShown] = {}
    patterns: dict[str, PatternShown] = {}


@derived
def own_shelves(look: Look) -> OwnShelves:
    """What the job has of its own: build-ups with their losses worked out, models with what they can do."""
    job = job_of(look)
    return OwnShelves(
        build_ups={one.code: one.as_build_up(job.site.domain) for one in job.of(OwnBuildUp)},
        equipment={one.code: shown(one.model) for one in job.of(OwnModel)},
        patterns={one.code: PatternShown(label=one.label) for one in job.of(Antenna)},
    )
