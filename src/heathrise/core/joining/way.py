"""What a way is, and the register of them. A new way is a function here beside the others and a table in ways.toml."""

from collections.abc import Callable
from dataclasses import dataclass

from heathrise.core.job import Job
from heathrise.core.joining.case import Case
from heathrise.core.library import library, limit
from heathrise.core.library.items import WayInfo, WayPart
from heathrise.core.sums import Noun, Sum, SumLine


class Way(Noun):
    """One way of reaching a thing, worked out for it.

    `why_not` says why it is out, and is empty for one that works; `meets` whether it carries what is needed.
    `checks` are the limits it was held against, each with its account.
    """

    code: str
    label: str
    rank: int
    why_not: str
    meets: bool
    throughput: Sum | None
    latency_ms: float
    cost: Sum
    monthly: float
    hours: Sum
    depends: str
    risk: str
    checks: tuple[Sum, ...]
    cautions: tuple[str, ...]

    @property
    def works(self) -> bool:
        """Whether nothing is against it."""
        return not self.why_not


@dataclass(frozen=True)
class Found:
    """What a way's own function says of a case. `pieces` and `work` come to those of its table. [money, hours]"""

    why_not: str = ""
    throughput: Sum | None = None
    pieces: tuple[SumLine, ...] = ()
    work: tuple[SumLine, ...] = ()
    checks: tuple[Sum, ...] = ()
    cautions: tuple[str, ...] = ()


Worked = Callable[[Case, WayInfo], Found]
WAYS: dict[str, Worked] = {}


def way(code: str) -> Callable[[Worked], Worked]:
    """Register how a way is worked out, under its code in ways.toml."""

    def keep(work: Worked) -> Worked:
        WAYS[code] = work
        return work

    return keep


def out(why_not: str, *checks: Sum) -> Found:
    """Return a way that is out, with the limits that say so."""
    return Found(why_not=why_not, checks=checks)


def ways_of(case: Case) -> tuple[Way, ...]:
    """Return every way for a case: those that carry what is needed, then the most dependable, then the cheapest."""
    found = [_way(case, code, info) for code, info in library().ways.items()]
    return tuple(sorted(found, key=lambda way: (not way.works, not way.meets, way.rank, way.cost.value)))


def _way(case: Case, code: str, info: WayInfo) -> Way:
    found = (
        out(NO_PORT[0].upper() + NO_PORT[1:] + ".")
        if info.wired and not has_port(case)
        else WAYS[code](case, info)
    )
    carries = found.throughput.value if found.throughput else 0.0
    return Way(
        code=code,
        label=info.label,
        rank=info.rank,
        why_not=found.why_not,
        meets=not found.why_not and carries >= case.need.value,
        throughput=found.throughput,
        latency_ms=info.latency_ms,
        cost=_cost(case.job, info, found),
        monthly=info.monthly,
        hours=_hours(info, found),
        depends=info.depends,
        risk=info.risk,
        checks=found.checks,
        cautions=found.cautions,
    )


NO_PORT = "it has no port that a cable ends in: give it another model first"


def has_port(case: Case) -> bool:
    """Say whether the thing has a port that a cable ends in."""
    return bool(case.job.equipment[case.thing.model].links_up)


def _part(job: Job, part: WayPart) -> tuple[str, float]:
    """Return what a part is called and costs: a model as it is on the job's shelf, with what it always takes.

    Raises
    ------
    UnknownItem
        If the library has no such model or part.
    """
    if part.model is None:
        return part.label, part.price
    model = job.equipment[part.model]
    extras = [library().parts[code] for code in model.comes_with]
    label = ", ".join([model.label, *(extra.label.lower() for extra in extras)])
    return label, (model.price or 0.0) + sum(extra.price or 0.0 for extra in extras)


def _cost(job: Job, info: WayInfo, found: Found) -> Sum:
    lines = []
    for part in info.parts:
        label, price = _part(job, part)
        many = f"{part.count} x {label}" if part.count > 1 else label
        lines.append(SumLine(label=many, value=part.count * price, unit=""))
    lines += found.pieces
    total = round(sum(line.value for line in lines), 2)
    return Sum(
        label=f"{info.label}: parts",
        value=total,
        unit="",
        lines=tuple(lines),
        source=f"design prices; {info.source}",
    )


def _hours(info: WayInfo, found: Found) -> Sum:
    lines = (SumLine(label="fit, set up, test", value=info.hours, unit="h"), *found.work)
    total = round(sum(line.value for line in lines), 2)
    return Sum(label=f"{info.label}: hours", value=total, unit="h", lines=lines, source="own rates")


def speed_sum(label: str, lines: tuple[SumLine, ...], mbps: float, formula: str, source: str) -> Sum:
    """Return what a way carries as a sum. [Mb/s]"""
    return Sum(label=label, value=round(mbps, 1), unit="Mb/s", lines=lines, formula=formula, source=source)


def pulled(case: Case, info: WayInfo) -> tuple[SumLine, ...]:
    """Return the hours by the metre: cable drawn in, and trench where no pathway lies."""
    length_m = case.plan.length_m if case.plan else 0.0
    lines = [
        SumLine(label=f"draw in {length_m:.0f} m", value=round(info.per_metre_hours * length_m, 2), unit="h")
    ]
    if case.open_m:
        trench_h = round(case.open_m * limit("links.trench_h_m"), 2)
        lines.append(
            SumLine(label=f"trench {case.open_m:.0f} m where no duct lies", value=trench_h, unit="h")
        )
    return tuple(lines)


def fed_there(case: Case) -> tuple[SumLine, ...]:
    """Return the injector that feeds the thing where no cable from a rack does; none where it asks for no power."""
    shelf, takes = case.job.equipment, case.job.equipment[case.thing.model].takes_class
    feeds = [model for model in shelf.values() if model.feeds_through and not model.needs_dc]
    fits = [model for model in feeds if model.gives_class >= takes]
    if not takes or not fits:
        return ()
    least = min(fits, key=lambda model: model.price or 0.0)
    return (SumLine(label=f"{least.label}, at the thing", value=least.price or 0.0, unit=""),)


EARTHS = (
    "Two houses have earths of their own: surge protection at both ends, and an electrician's word on the earths, "
    "before copper joins them."
)
DIGGING = "Before anything is dug: where mains, gas and water lie, from their owners. Local rules say how deep and what beside."
HEIGHT = "Work at height, and near overhead lines not at all: who climbs is trained for it, and never alone."
