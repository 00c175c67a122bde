"""The order as it is put to whoever pays and whoever comes: the whole price, the deliveries, the days."""

from heathrise.core.job import Job
from heathrise.core.library import library
from heathrise.core.ordering.buying import Delivery
from heathrise.core.ordering.kit import Kit, totals
from heathrise.core.ordering.labour import days_sum
from heathrise.core.sums import Noun, Sum, SumLine


class RateShown(Noun):
    """A task with the library's rate, and the firm's own where it has one. [h]"""

    task: str
    label: str
    per: str
    library_h: float
    own_h: float | None


class HardshipShown(Noun):
    """What makes work slower: known from the model, or for a person to say."""

    code: str
    label: str
    factor: float
    known: bool
    chosen: bool


class Terms(Noun):
    """What it costs in all, from whom it comes, how long a crew takes; no purchase costs less than `bound`."""

    whole: Sum
    days: Sum
    deliveries: tuple[Delivery, ...]
    bought: float
    bound: float
    proven: bool
    rates: tuple[RateShown, ...]
    hardships: tuple[HardshipShown, ...]
    currency: str


def terms(job: Job, kit: Kit) -> Terms:
    """Return the terms of an order."""
    currency, ordering = job.practice.currency, job.ordering
    parts = totals(kit, job)
    lines = (
        SumLine(label="kit", value=kit.cost_sum.value, unit=currency),
        SumLine(
            label="added to kit",
            value=round(parts["material"] - kit.cost_sum.value, 2),
            unit=currency,
            note=f"{ordering.margin_percent:g} %",
        ),
        SumLine(
            label="work",
            value=round(parts["work"], 2),
            unit=currency,
            note=f"{kit.hours_sum.value:g} h at {ordering.labour_per_h:g}",
        ),
        SumLine(label="tax", value=round(parts["tax"], 2), unit=currency, note=f"{ordering.tax_percent:g} %"),
    )
    own = {rate.task: rate.hours for rate in ordering.rates}
    return Terms(
        whole=Sum(
            label="In all, tax included",
            value=round(parts["whole"], 2),
            unit=currency,
            lines=lines,
            formula="kit + added + hours x price of an hour, then tax",
            source="the kit list, the hours, and the order's own figures",
        ),
        days=days_sum(ordering, kit.hours_sum.value),
        deliveries=kit.deliveries,
        bought=kit.bought,
        bound=kit.bound,
        proven=kit.proven,
        rates=tuple(
            RateShown(task=code, label=row.label, per=row.per, library_h=row.hours, own_h=own.get(code))
            for code, row in library().labour.items()
        ),
        hardships=tuple(
            HardshipShown(
                code=code,
                label=row.label,
                factor=row.factor,
                known=row.when is not None,
                chosen=code in ordering.hardships,
            )
            for code, row in library().hardships.items()
        ),
        currency=currency,
    )
