"""What to buy and how long it takes, derived: needs first, then what is bought for them."""

from collections import Counter

from heathrise.core.cabling.derived import holes, runs
from heathrise.core.deriving import Look, derived
from heathrise.core.effort.derived import hard_hung, work
from heathrise.core.job.view import job_of
from heathrise.core.ordering.buying import Purchases
from heathrise.core.ordering.buying import purchases as bought_for
from heathrise.core.ordering.counting import Counting
from heathrise.core.ordering.kit import Kit, kit_lines, kit_of, shelf_of, wanted_of
from heathrise.core.ordering.labour import HoursLine, hours_of
from heathrise.core.ordering.needs import KitNeed
from heathrise.core.ordering.needs import needs as needs_of
from heathrise.core.racks.derived import patches


@derived
def cords(look: Look) -> dict[float, int]:
    """How many patch cords of each length the racks want. [m]"""
    wanted = (patch.cord for rack in patches(look).racks for patch in rack.patches)
    return dict(sorted(Counter(cord.value for cord in wanted if cord is not None).items()))


@derived
def needs(look: Look) -> tuple[KitNeed, ...]:
    """What the job needs, item by item."""
    return needs_of(Counting(job_of(look), runs(look), holes(look), hard_hung(look)), cords(look))


@derived
def wanted(look: Look) -> dict[str, int]:
    """How much of each item is bought: a new label of a thing leaves it as it is."""
    return wanted_of(needs(look))


@derived
def bought(look: Look) -> Purchases:
    """What is bought from whom."""
    job, amounts = job_of(look), wanted(look)
    return bought_for(amounts, shelf_of(job, amounts), job.ordering.suppliers)


@derived
def hours(look: Look) -> tuple[HoursLine, ...]:
    """How long it takes, task by task."""
    return hours_of(job_of(look).ordering, work(look))


@derived
def kit(look: Look) -> Kit:
    """What to buy and how long it takes."""
    job = job_of(look)
    return kit_of(job, kit_lines(job, needs(look), bought(look)), hours(look), bought(look))
