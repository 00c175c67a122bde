"""Good, better, best: the same job bought three ways, each worked out whole and held against the others."""

from collections import Counter
from collections.abc import Callable, Sequence
from typing import Literal

from heathrise.core.cabling.defaults import default_runs
from heathrise.core.cabling.derived import runs, spares
from heathrise.core.cabling.runs import RunPlan, carries
from heathrise.core.deriving import Look, Memo
from heathrise.core.edit import Operation, Put, Remove, apply
from heathrise.core.findings.slices import SLICES
from heathrise.core.findings.verdicts import judged
from heathrise.core.job import AccessPoint, Job, Link
from heathrise.core.job.view import changed_keys
from heathrise.core.library import CableType, EquipmentModel, library
from heathrise.core.ordering.derived import kit
from heathrise.core.ordering.kit import totals
from heathrise.core.radio.air import air
from heathrise.core.rule import Finding
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.derived import ports

NewId = Callable[[], str]
# The edit that makes an option, and what it changes in words.
Changed = tuple[tuple[Operation, ...], tuple[str, ...]]


class OptionFigures(Noun):
    """What an option buys: the share of spaces that meet their need, of their area that hears a second signal, of runs
    that carry the next generation too, of points of the newest; ports and watts left in the switches.
    """

    kit: float
    hours: float
    whole: float
    covered: float
    roaming: float
    spare_ports: int
    spare_w: float
    carries_next: float
    newest_points: float
    faults: int
    warnings: int


class WayToBuy(Noun):
    """One way to buy the job: what it changes, what it costs, and what comes and goes with it."""

    code: str
    label: str
    why: str
    changes: tuple[str, ...]
    operations: tuple[Operation, ...]
    figures: OptionFigures
    whole_sum: Sum
    brings: tuple[str, ...]
    mends: tuple[str, ...]


class WaysToBuy(Noun):
    """The ways side by side, in the order of the library."""

    options: tuple[WayToBuy, ...]
    currency: str


def options(memo: Memo, new_id: NewId) -> WaysToBuy:
    """Return the three ways, each worked out on the job as it would leave it."""
    job: Job = memo.source
    before = judged(memo.look)
    found = []
    for code, row in library().options.items():
        operations, changes = _CHANGES[code](memo.look, job, new_id)
        after = apply(job, operations).job if operations else job
        with memo.tried(after, changed_keys(job, after, SLICES)) as look:
            said = judged(look)
            found.append(
                WayToBuy(
                    code=code,
                    label=row.label,
                    why=row.why,
                    changes=changes,
                    operations=operations,
                    figures=_figures(look, after, said),
                    whole_sum=_whole(look, after, row.label),
                    brings=_titles(said, before),
                    mends=_titles(before, said),
                )
            )
    return WaysToBuy(options=tuple(found), currency=job.practice.currency)


def _titles(one: tuple[Finding, ...], other: tuple[Finding, ...]) -> tuple[str, ...]:
    """Return what stands in one and not in the other, by title with how many; advice is left out."""
    known = {finding.key for finding in other}
    counts = Counter(f.title for f in one if f.key not in known and f.severity != "advice")
    return tuple(f"{title} ({count})" if count > 1 else title for title, count in counts.most_common(6))


def _figures(look: Look, job: Job, said: tuple[Finding, ...]) -> OptionFigures:
    found, seen, given = kit(look), air(look), ports(look)
    scores = seen.scores
    area = sum(score.area_m2 for score in scores)
    plans = [plan for plan in runs(look).plans if not plan.existing]
    points = [job.equipment[point.model].generation for point in job.of(AccessPoint)]
    counts = Counter(finding.severity for finding in said if finding.accepted is None)
    made = {model.generation for model in job.equipment.values()}
    newest = [one for one in library().phys if one in made][-1]
    return OptionFigures(
        kit=found.cost_sum.value,
        hours=found.hours_sum.value,
        whole=round(totals(found, job)["whole"], 2),
        covered=_share(sum(score.holds for score in scores), len(scores)),
        roaming=_share(sum(score.second_share * score.area_m2 for score in scores), area),
        spare_ports=sum(port.run_id is None for port in given.ports),
        spare_w=round(
            sum(budget.sum.limit - budget.sum.value for budget in given.budgets if budget.sum.limit), 1
        ),
        carries_next=_share(sum(plan.carries_next for plan in plans), len(plans)),
        newest_points=_share(sum(one == newest for one in points), len(points)),
        faults=counts["fault"],
        warnings=counts["warning"],
    )


def _share(part: float, whole: float) -> float:
    return round(part / whole, 4) if whole else 1.0


def _whole(look: Look, job: Job, label: str) -> Sum:
    """Return what an option costs in all, as a sum."""
    found, currency, ordering = kit(look), job.practice.currency, job.ordering
    parts = totals(found, job)
    names = {
        "material": f"kit, with {ordering.margin_percent:g} % added",
        "work": f"{found.hours_sum.value:g} h at {ordering.labour_per_h:g}",
        "tax": f"tax, {ordering.tax_percent:g} %",
    }
    return Sum(
        label=label,
        value=round(parts["whole"], 2),
        unit=currency,
        lines=tuple(
            SumLine(label=name, value=round(parts[key], 2), unit=currency) for key, name in names.items()
        ),
        formula="kit + hours x price of an hour + tax",
        source="the kit list and the hours of this option; the order's own figures",
    )


def _as_planned(_look: Look, _job: Job, _new_id: NewId) -> Changed:
    return (), ("nothing: the job as it stands",)


def _lean(look: Look, job: Job, _new_id: NewId) -> Changed:
    """Return what is left out and what is bought cheaper: no second cables, the least cable that carries."""
    second = spares(look)
    plans = [plan for plan in runs(look).plans if not plan.existing]
    gone = [p.run_id for p in plans if p.run_id in second and job.get(Link, p.run_id).medium == "copper"]
    out = [Remove(id=run_id) for run_id in gone]
    changes = [f"{len(out)} second cables left out"] if out else []
    puts, recabled = _recabled(job, [plan for plan in plans if plan.run_id not in gone], _cheapest)
    return (*out, *puts, *_cables_a_point(job, 1)), (*changes, *recabled) or ("nothing cheaper carries it",)


def _richest(look: Look, job: Job, new_id: NewId) -> Changed:
    """Return what is bought for the years to come: two cables a point, Cat 6A, the newest points that fit."""
    practised = _cables_a_point(job, 2) if job.practice.cables_per_point < 2 else ()
    more = default_runs(apply(job, practised).job if practised else job, new_id)
    changes = [f"{len(more)} second cables"] if more else []
    newer = [(point, _newest(job, point.model)) for point in job.of(AccessPoint)]
    newer = [(point, code) for point, code in newer if code != point.model]
    points = [Put(element=point.model_copy(update={"model": code})) for point, code in newer]
    counts = Counter(job.equipment[code].label for _, code in newer)
    changes += [f"{count} x {label}" for label, count in counts.most_common()]
    plans = [plan for plan in runs(look).plans if not plan.existing]
    puts, recabled = _recabled(job, plans, _of_top_category)
    told = (*changes, *recabled) or ("nothing: the best is planned",)
    return (*practised, *points, *puts, *more), told


def _cables_a_point(job: Job, count: Literal[1, 2]) -> tuple[Operation, ...]:
    """Return the practice with so many cables to a point, nothing where the job has none of its own."""
    practice = job.practice
    if practice.id not in job.by_id or practice.cables_per_point == count:
        return ()
    return (Put(element=practice.model_copy(update={"cables_per_point": count})),)


def _recabled(
    job: Job, plans: Sequence[RunPlan], choose: Callable[[Job, RunPlan], str]
) -> tuple[tuple[Operation, ...], tuple[str, ...]]:
    """Return runs with the cable that is chosen for each, where that is another, and how many of which."""
    changed = [(plan.run_id, code) for plan in plans if (code := choose(job, plan)) != plan.cable]
    puts = [
        Put(element=job.get(Link, run_id).model_copy(update={"product": code})) for run_id, code in changed
    ]
    counts = Counter(library().cables[code].label for _, code in changed)
    return tuple(puts), tuple(f"{count} runs of {label}" for label, count in counts.most_common())


def _fitting(plan: RunPlan) -> list[tuple[float, str, CableType]]:
    """Return cables that conduct and may lie where a run lies, as safe in a fire as its own, by their price."""
    shelf = library().cables
    now = shelf[plan.cable]
    return sorted(
        (cable.box_price, code, cable)
        for code, cable in shelf.items()
        if cable.conducts
        and now.conducts
        and not cable.copper_clad
        and cable.box_price is not None
        and cable.fire_class == now.fire_class
        and set(plan.environments) <= cable.environments
    )


def _cheapest(job: Job, plan: RunPlan) -> str:
    """Return the cheapest cable that carries a run's speed where it lies; its own where none does."""
    fits = (c for _, c, cable in _fitting(plan) if carries(cable.category, plan, job.practice.cords_m))
    return next(fits, plan.cable)


def _of_top_category(_job: Job, plan: RunPlan) -> str:
    """Return the cheapest cable of the best category that conducts; a run's own where that is one."""
    shelf, rank = library().cables, {code: row.rank for code, row in library().categories.items()}
    top = max((cable.category for cable in shelf.values() if cable.conducts), key=rank.__getitem__)
    if shelf[plan.cable].category == top:
        return plan.cable
    return next((code for _, code, cable in _fitting(plan) if cable.category == top), plan.cable)


def _newest(job: Job, code: str) -> str:
    """Return the newest point that hangs where one hangs, on all its bands, dearest first among equals."""
    now, order = job.equipment[code], list(library().phys)

    def rank(model: EquipmentModel) -> tuple[int, float]:
        return (order.index(model.generation) if model.generation in order else -1, model.price or 0.0)

    fits = [
        (rank(model), other)
        for other, model in job.equipment.items()
        if model.radiates
        and model.price is not None
        and set(now.mounts) <= set(model.mounts)
        and model.outdoor >= now.outdoor
        and {radio.band for radio in now.bands} <= {radio.band for radio in model.bands}
    ]
    best = max(fits, default=(rank(now), code))
    return best[1] if best[0] > rank(now) else code


_CHANGES = {"good": _lean, "better": _as_planned, "best": _richest}
