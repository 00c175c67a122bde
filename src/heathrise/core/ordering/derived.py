"""The kit list and the hours, derived."""

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look, derived
from heathrise.core.job.view import job_of
from heathrise.core.ordering.kit import Kit, count_kit


@derived
def kit(look: Look) -> Kit:
    """What to buy and how long it takes."""
    return count_kit(job_of(look), runs(look))
