"""What to buy and how long it takes, derived."""

from collections import Counter

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look, derived
from heathrise.core.job.view import job_of
from heathrise.core.ordering.kit import Kit, count_kit
from heathrise.core.racks.derived import patches


@derived
def cords(look: Look) -> dict[float, int]:
    """How many patch cords of each length the racks want. [m]"""
    wanted = (patch.cord for rack in patches(look).racks for patch in rack.patches)
    return dict(sorted(Counter(cord.value for cord in wanted if cord is not None).items()))


@derived
def kit(look: Look) -> Kit:
    """What to buy and how long it takes."""
    return count_kit(job_of(look), runs(look), cords(look))
