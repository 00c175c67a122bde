"""The quote: what is offered in the firm's name, the ways to buy it side by side with their reasons, price and tax."""

from collections import defaultdict
from datetime import date, timedelta

from reportlab.platypus import Flowable

from heathrise.core.findings.options import WaysToBuy, WayToBuy
from heathrise.core.job import Job
from heathrise.core.ordering.kit import Kit, totals
from heathrise.exchange.paper.document import (
    gap,
    grid,
    heading,
    quiet,
    signed,
    title,
    together,
    words,
    write_document,
)
from heathrise.exchange.paper.sheets import Title

_CAUTION = "Prices before changes on site. Predictions are proven by measurement; local codes stand above it."


def quote_pdf(job: Job, kit: Kit, options: WaysToBuy, revision: int, day: date) -> bytes:
    """Return the quote of a job as PDF on A4."""
    ordering = job.ordering
    number = ordering.quote_number or f"{revision}"
    story: list[Flowable] = [
        title(f"Quote {number}"),
        words(f"{ordering.firm or 'Your firm, as the order names it'}\n{ordering.firm_address}".strip()),
        words(f"For {job.name}\n{job.site.address}".strip()),
        quiet(f"Of {day.isoformat()}, good until {(day + timedelta(days=ordering.valid_days)).isoformat()}."),
        gap(2),
        heading("Three ways to do it"),
        _beside(options),
        *(_reasons(option) for option in options.options),
        *_kit(job, kit),
        *_work(kit),
        *_whole(job, kit),
        heading("What this rests on"),
        words(
            "The figures come from one model of the building and are computed, not guessed. Coverage is a prediction "
            "and is proven by measurement before hand-over. Mains outlets, earthing and bonding between buildings are "
            "done by a licensed electrician and are not in this price unless a line says so."
        ),
        signed(("Way chosen", "Date and signature")),
    ]
    foot_of = Title(
        job=job.name,
        drawing=f"Quote {number}",
        revision=revision,
        day=day.isoformat(),
        practice=ordering.firm or job.practice.label,
        caution=_CAUTION,
    )
    return write_document(foot_of, story)


def money(value: float) -> str:
    """Return an amount with its thousands apart."""
    return f"{value:,.2f}".replace(",", " ")


def _beside(options: WaysToBuy) -> Flowable:
    """Return the ways side by side: a row a figure."""
    some = options.options
    rows = [
        ("Spaces that meet their need", *(f"{o.figures.covered:.0%}" for o in some)),
        ("Area with a second point in hearing", *(f"{o.figures.roaming:.0%}" for o in some)),
        ("Cables that carry the next generation", *(f"{o.figures.carries_next:.0%}" for o in some)),
        ("Access points of the newest generation", *(f"{o.figures.newest_points:.0%}" for o in some)),
        ("Ports left free", *(f"{o.figures.spare_ports}" for o in some)),
        ("Watts left in the switches", *(f"{o.figures.spare_w:.0f}" for o in some)),
        ("Hours of work", *(f"{o.figures.hours:.0f}" for o in some)),
        (f"In all, tax included, {options.currency}", *(money(o.figures.whole) for o in some)),
    ]
    figures = tuple(range(1, len(some) + 1))
    return grid(("", *(o.label for o in some)), rows, (5, *(2 for _ in some)), figures, totals=1)


def _reasons(option: WayToBuy) -> Flowable:
    parts = [
        heading(option.label),
        words(option.why),
        quiet("Differs by: " + "; ".join(option.changes) + "."),
    ]
    if option.mends:
        parts.append(quiet("Mends: " + "; ".join(option.mends) + "."))
    if option.brings:
        parts.append(quiet("To be settled with it: " + "; ".join(option.brings) + "."))
    return together(parts)


def _kit(job: Job, kit: Kit) -> list[Flowable]:
    """Return the kit of the way as planned, group by group, without the firm's own part in each price."""
    share = 1 + job.ordering.margin_percent / 100
    groups: dict[str, list[tuple[str, ...]]] = defaultdict(list)
    for line in kit.lines:
        if line.order or line.kept:
            price = "on request" if line.cost is None else money(line.cost * share)
            groups[line.group].append((line.label, f"{line.need:g}", line.unit, line.ordered, price))
    parts: list[Flowable] = [heading("Kit, as planned here")]
    rows = [row for group, some in groups.items() for row in ((group, "", "", "", ""), *some)]
    rows.append(("Kit", "", "", "", money(kit.cost_sum.value * share)))
    head = ("What", "Needed", "", "Packs", job.practice.currency)
    parts.append(grid(head, rows, (8, 1.6, 1.4, 2.2, 2), (1, 4), totals=1))
    return parts


def _work(kit: Kit) -> list[Flowable]:
    rows = [(line.label, f"{line.count:g}", line.per, f"{line.hours:g}") for line in kit.hours]
    rows.append(("Hours", "", "", f"{kit.hours_sum.value:g}"))
    return [heading("Work"), grid(("What", "Count", "", "Hours"), rows, (8, 1.6, 2, 1.6), (1, 3), totals=1)]


def _whole(job: Job, kit: Kit) -> list[Flowable]:
    parts, ordering = totals(kit, job), job.ordering
    rows = [
        ("Kit", money(parts["material"])),
        (f"Work, {kit.hours_sum.value:g} h at {money(ordering.labour_per_h)}", money(parts["work"])),
        (f"Tax, {ordering.tax_percent:g} %", money(parts["tax"])),
        (f"In all, {job.practice.currency}", money(parts["whole"])),
    ]
    return [together([heading("Price"), grid(("", job.practice.currency), rows, (8, 2), (1,), totals=1)])]
