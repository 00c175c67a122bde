"""How long a job takes, task by task: so much of each, at the firm's rate or the library's, longer where it is hard."""

import math
from collections import defaultdict
from collections.abc import Sequence

from heathrise.core.effort.work import Hard, Work, harder, rate_h
from heathrise.core.job import Ordering
from heathrise.core.library import library
from heathrise.core.sums import Noun, Sum, SumLine


class HoursLine(Noun):
    """One line of the hours: so many, each so long, made longer by hardships."""

    task: str
    label: str
    count: float
    per: str
    each_h: float
    factor: float
    hours: float
    hours_sum: Sum


def hours_of(ordering: Ordering, work: Sequence[Work]) -> tuple[HoursLine, ...]:
    """Return the hours of a job: work of one task that is as hard as other work is one line."""
    alike: dict[tuple[str, Hard, float | None, str], list[Work]] = defaultdict(list)
    for one in work:
        alike[one.task, one.hard, one.each_h, one.what].append(one)
    lines = [_line(ordering, some) for some in alike.values()]
    order = list(library().labour)
    return tuple(sorted(lines, key=lambda line: (order.index(line.task), line.factor, line.label)))


def _line(ordering: Ordering, some: Sequence[Work]) -> HoursLine:
    one, row = some[0], library().labour[some[0].task]
    count = round(sum(work.amount for work in some), 1)
    each_h, source = rate_h(ordering, one)
    hard = harder(ordering, one)
    factor = math.prod(row.factor for row in hard.values())
    hours = round(count * each_h * factor, 2)
    where = ", ".join(library().hardships[code].label for code in one.hard)
    name = f"{row.label}: {one.what}" if one.what else row.label
    label = f"{name}, {where}" if where else name
    lines = (
        SumLine(label=f"per {row.per}", value=round(each_h, 4), unit="h", note=source),
        SumLine(label="how many", value=count, unit=row.per),
        *(SumLine(label=h.label, value=h.factor, unit="times") for h in hard.values()),
    )
    return HoursLine(
        task=one.task,
        label=label,
        count=count,
        per=row.per,
        each_h=round(each_h, 4),
        factor=round(factor, 4),
        hours=hours,
        hours_sum=Sum(
            label=label,
            value=hours,
            unit="h",
            lines=lines,
            formula="count x rate x hardships",
            source=f"{source}; library: hardships (own values)",
        ),
    )


def days_sum(ordering: Ordering, hours: float) -> Sum:
    """Return the working days a crew takes for so many hours, all at work at once."""
    days = hours / (ordering.crew * ordering.day_h)
    return Sum(
        label="Days of the crew",
        value=round(days, 1),
        unit="days",
        lines=(
            SumLine(label="hours of work", value=round(hours, 1), unit="h"),
            SumLine(label="people", value=ordering.crew, unit="people"),
            SumLine(label="hours a day", value=ordering.day_h, unit="h"),
        ),
        formula="hours / (people x hours a day)",
        source="the order: people, hours a day; stage 9 says what can be done at once",
    )
