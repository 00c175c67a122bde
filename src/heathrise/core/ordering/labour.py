"""How long it takes: so many of each task, at the firm's rate or the library's, made longer by what is hard about it."""

import math
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping

from heathrise.core.cabling.drilling import drill_list
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.job import AccessPoint, Equipment, InRack, Job, Network, Ordering, Rack, Space
from heathrise.core.library import Hardship, Labour, library
from heathrise.core.ordering.counting import Counting, on_hard_wall
from heathrise.core.sums import Noun, Sum, SumLine

# The names of the library's hardships that bear on one thing.
Hard = tuple[str, ...]


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


def hours_of(job: Job, runs: Runs) -> tuple[HoursLine, ...]:
    """Return the hours of a job, task by task in the order of the work."""
    amounts: dict[tuple[str, Hard], float] = defaultdict(float)
    for task, hard, amount in _work(job, runs):
        amounts[task, hard] += amount
    lines = [_line(job, task, hard, amount) for (task, hard), amount in amounts.items() if amount > 0]
    order = list(library().labour)
    lines.sort(key=lambda line: (order.index(line.task), line.factor))
    return (*lines, *_drilled(job, runs))


def _work(job: Job, runs: Runs) -> Iterator[tuple[str, Hard, float]]:
    """Yield (task, hardships, amount) of everything that is done but the drilling."""
    new = [plan for plan in runs.plans if not plan.existing]
    racked = sum(isinstance(thing.place, InRack) for thing in job.of(Equipment))
    bench = "bench" if job.practice.preparation == "bench" else "prepare-site"
    yield "survey", (), 1
    yield bench, (), len(job.of(AccessPoint)) + racked
    yield from _pulled(job, new)
    for plan in new:
        yield "terminate", _storey_hard(job, "terminate", job.spot(plan.to_id).storey_id), 1
    for thing, mount in Counting(job, runs).on_sheet():
        task = "mount-point" if isinstance(thing, AccessPoint) else "mount-device"
        yield task, _mount_hard(job, thing, mount, task), 1
    yield "rack", (), len(job.of(Rack))
    yield "switch", (), racked
    yield "configure", (), len(job.of(Network))
    yield "walk", (), len(job.of(Space))
    yield "hand-over", (), 1


def _pulled(job: Job, new: list[RunPlan]) -> Iterator[tuple[str, Hard, float]]:
    """Yield metres to pull, storey by storey; parts without a length of their own count where they begin."""
    for plan in new:
        on: dict[str, float] = defaultdict(float)
        for leg in plan.legs:
            on[leg.storey_id] += leg.length_m
        whole = sum(on.values())
        for storey_id, length_m in on.items():
            hard = _storey_hard(job, "pull", storey_id)
            yield "pull", hard, length_m * plan.length_m / whole if whole else 0.0


def _bears(task: str, when: str) -> Iterator[tuple[str, Hardship]]:
    rows = library().hardships.items()
    return ((code, row) for code, row in rows if row.when == when and task in row.tasks)


def _storey_hard(job: Job, task: str, storey_id: str) -> Hard:
    """Return what is hard about a storey: everything is carried there, unless people enter on it."""
    entered = min(job.storeys, key=lambda storey: abs(storey.elevation_m)).id
    return () if storey_id == entered else tuple(code for code, _ in _bears(task, "storey"))


def _mount_hard(job: Job, thing: Equipment | AccessPoint, mount: str, task: str) -> Hard:
    spot = job.spot(thing.id)
    found = list(_storey_hard(job, task, spot.storey_id))
    high = [pair for pair in _bears(task, "height") if spot.height_m > pair[1].over_m]
    if high:
        found.append(max(high, key=lambda pair: pair[1].over_m)[0])
    if mount in ("outdoor", "pole"):
        found += [code for code, _ in _bears(task, "outdoors")]
    if mount in ("wall", "outdoor") and on_hard_wall(job, thing):
        found += [code for code, _ in _bears(task, "hard-wall")]
    return tuple(found)


def _rate_h(ordering: Ordering, task: str, row: Labour) -> tuple[float, str]:
    """Return how long one takes, and whose figure that is."""
    own = next((rate.hours for rate in ordering.rates if rate.task == task), None)
    return (row.hours, row.source) if own is None else (own, "the firm's rate in this job")


def _chosen(job: Job, task: str) -> Mapping[str, Hardship]:
    """Return hardships of the whole job that bear on a task."""
    rows = library().hardships
    return {code: rows[code] for code in job.ordering.hardships if code in rows and task in rows[code].tasks}


def _line(job: Job, task: str, hard: Hard, amount: float) -> HoursLine:
    row = library().labour[task]
    each_h, source = _rate_h(job.ordering, task, row)
    harder = {code: library().hardships[code] for code in hard} | dict(_chosen(job, task))
    where = ", ".join(library().hardships[code].label for code in hard)
    label = f"{row.label}, {where}" if where else row.label
    return _summed(task, label, (round(amount, 1), row.per), each_h, harder, source)


def _summed(
    task: str,
    label: str,
    amount: tuple[float, str],
    each_h: float,
    harder: Mapping[str, Hardship],
    source: str,
) -> HoursLine:
    count, per = amount
    factor = math.prod(row.factor for row in harder.values())
    hours = round(count * each_h * factor, 2)
    lines = (
        SumLine(label=f"per {per}", value=each_h, unit="h", note=source),
        SumLine(label="how many", value=count, unit=per),
        *(SumLine(label=row.label, value=row.factor, unit="times") for row in harder.values()),
    )
    return HoursLine(
        task=task,
        label=label,
        count=count,
        per=per,
        each_h=each_h,
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


def _drilled(job: Job, runs: Runs) -> Iterator[HoursLine]:
    """Yield the drilling, by what is drilled: a wall's own hours a hole."""
    each, source = _rate_h(job.ordering, "drill", library().labour["drill"])
    holes = Counter((one.through, one.hours) for one in drill_list(job, runs.plans).holes)
    for (name, hours), count in holes.items():
        if hours:
            label = f"Drill {name.lower()}"
            yield _summed("drill", label, (count, "hole"), hours * each, _chosen(job, "drill"), source)


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
