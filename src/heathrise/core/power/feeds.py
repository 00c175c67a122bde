"""Power over every run of a job: at the port type's lowest voltage, and as expected."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import cached_property

from heathrise.core.cabling.boxes import spans_m
from heathrise.core.cabling.ends import device_draw, feeds_on, poe_class_needed
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.job import Job
from heathrise.core.library import PoeClass, library, limit
from heathrise.core.power.feed import Feed, NoOperatingPoint, channel_loop_ohm, feed, thin_cords_ohm
from heathrise.core.sums import Noun, Sum, SumLine


class FeedPlan(Noun):
    """Power over one run. Watts at the device, of them what it passes on at its own ports, and what they cost at the
    source.
    """

    run_id: str
    label: str
    poe_class: int
    loop_ohm: float
    device_max_w: float
    device_typical_w: float
    passed_w: float
    reserve_w: float
    max_source_w: float | None
    typical_source_w: float | None
    worst_pd_v: float | None
    least_pd_v: float
    holds: bool
    sum: Sum


# What else each box on a run's way feeds, at its own port, by the box's id. [W]
Branches = Mapping[str, float]
NO_BRANCHES: Branches = {}


@dataclass(frozen=True)
class Feeds:
    """Every fed run."""

    plans: tuple[FeedPlan, ...]

    @cached_property
    def by_id(self) -> dict[str, FeedPlan]:
        """Plans by run id."""
        return {plan.run_id: plan for plan in self.plans}


def plan_feeds(job: Job, runs: Runs) -> Feeds:
    """Return power over every run whose device asks for it."""
    injected = frozenset(feeds_on(job))
    found = (plan_feed(job, plan, injected) for plan in runs.plans if plan.run_id not in runs.spares)
    return Feeds(tuple(plan for plan in found if plan is not None))


def plan_feed(
    job: Job, plan: RunPlan, injected: Collection[str], branches: Branches = NO_BRANCHES
) -> FeedPlan | None:
    """Return power over one run; None when nothing on it asks for any.

    `injected` are the runs with a feed of their own on the way, `branches` is what else each box on its way feeds, by
    the box's id.
    """
    if plan.boxes and all(box.takes_class and box.gives_class for box in plan.boxes):
        return chain_feed(job, plan, branches)
    number = poe_class_needed(job, plan.to_id)
    if not number:
        return None
    row = library().poe_class(number)
    return _plan(job, plan, row, plan.run_id in injected, branches.get(plan.to_id, 0.0))


def _plan(job: Job, plan: RunPlan, row: PoeClass, injected: bool, passed_w: float) -> FeedPlan:
    own_max_w, own_typical_w = device_draw(job, plan.to_id)
    max_w, typical_w = own_max_w + passed_w, own_typical_w + passed_w
    awg, length_m = _conductor(job, plan)
    cords = thin_cords_ohm(job.practice.cords_awg, job.practice.cords_m, row.pairs)
    loop = channel_loop_ohm(awg, plan.hottest_c, length_m, row.pairs) + cords
    gives = _gives(job, plan) >= row.poe_class
    carries = injected or (gives and library().cables[plan.cable].conducts)
    worst = _try(max_w, row.source_min_v, loop) if carries else None
    at_most = _try(max_w, limit("power.expected_v"), loop) if carries else None
    usual = _try(typical_w, limit("power.expected_v"), loop) if carries else None
    holds = worst is not None and worst.pd_v >= row.device_min_v
    return FeedPlan(
        run_id=plan.run_id,
        label=plan.label,
        poe_class=row.poe_class,
        loop_ohm=round(loop, 3),
        device_max_w=round(max_w, 2),
        device_typical_w=round(typical_w, 2),
        passed_w=round(passed_w, 2),
        reserve_w=row.reserve_w,
        max_source_w=round(at_most.pse_w, 2) if at_most else None,
        typical_source_w=round(usual.pse_w, 2) if usual else None,
        worst_pd_v=round(worst.pd_v, 2) if worst else None,
        least_pd_v=row.device_min_v,
        holds=holds,
        sum=_sum(plan, row, loop, max_w, worst, at_most, holds, (awg, length_m, job.practice.cords_awg)),
    )


def chain_feed(job: Job, plan: RunPlan, branches: Branches) -> FeedPlan:
    """Return power along a chain of boxes, from the far end back: each span's loss, each box's own watts."""
    row = library().poe_class(plan.asks_class)
    max_w, typical_w = (watts + branches.get(plan.to_id, 0.0) for watts in device_draw(job, plan.to_id))
    worst = _along(job, plan, branches, max_w, None)
    at_most = _along(job, plan, branches, max_w, limit("power.expected_v"))
    usual = _along(job, plan, branches, typical_w, limit("power.expected_v"))
    last = library().poe_class(poe_class_needed(job, plan.to_id) or plan.boxes[-1].takes_class)
    awg, _ = _conductor(job, plan)
    loop = sum(channel_loop_ohm(awg, plan.hottest_c, span, row.pairs) for span in _spans(plan))
    enough = plan.boxes[-1].gives_class >= poe_class_needed(job, plan.to_id)
    end_v = worst.device_v if worst else None
    holds = enough and worst is not None and worst.within and worst.device_v >= last.device_min_v
    return FeedPlan(
        run_id=plan.run_id,
        label=plan.label,
        poe_class=row.poe_class,
        loop_ohm=round(loop, 3),
        device_max_w=max_w,
        device_typical_w=typical_w,
        passed_w=round(branches.get(plan.to_id, 0.0), 2),
        reserve_w=row.reserve_w,
        max_source_w=round(at_most.source_w, 2) if at_most else None,
        typical_source_w=round(usual.source_w, 2) if usual else None,
        worst_pd_v=None if end_v is None else round(end_v, 2),
        least_pd_v=last.device_min_v,
        holds=holds,
        sum=Sum(
            label=f"{plan.label}: voltage at the device, past {len(plan.boxes)} boxes",
            value=0.0 if end_v is None else round(end_v, 2),
            unit="V",
            limit=last.device_min_v,
            holds=holds,
            lines=(*worst.lines, *([_asked_line(at_most.source_w)] if at_most else [])) if worst else (),
            formula="from the far end: I = (V - sqrt(V^2 - 4 R P)) / (2 R); port W = V I; box W = its own + what it feeds",
            source=row.source,
        ),
    )


def _asked_line(source_w: float) -> SumLine:
    """Return what a run asks of its port where the voltage is what is expected, not the lowest: what budgets count."""
    return SumLine(
        label=f"asked of its port at {limit('power.expected_v'):g} V, V I", value=round(source_w, 2), unit="W"
    )


@dataclass(frozen=True)
class _Along:
    """A chain fed: watts where it begins, volts at its end, and whether no port gives more than it may."""

    source_w: float
    device_v: float
    within: bool
    lines: tuple[SumLine, ...]


def _spans(plan: RunPlan) -> tuple[float, ...]:
    return spans_m(plan.boxes, plan.length_m)


def _along(
    job: Job, plan: RunPlan, branches: Branches, load_w: float, source_v: float | None
) -> _Along | None:
    """Return a chain fed for a load; every port at its lowest voltage, or at `source_v`. None where no current does."""
    awg, _ = _conductor(job, plan)
    spans, within, device_v = _spans(plan), True, 0.0
    lines = [SumLine(label="the thing at its end", value=load_w, unit="W")]
    for n in range(len(spans) - 1, -1, -1):
        given = library().poe_class(plan.boxes[n - 1].gives_class if n else plan.asks_class)
        cords = thin_cords_ohm(job.practice.cords_awg, job.practice.cords_m, given.pairs)
        loop = channel_loop_ohm(awg, plan.hottest_c, spans[n], given.pairs) + cords
        fed = _try(load_w, source_v or given.source_min_v, loop)
        if fed is None:
            return None
        device_v = device_v or fed.pd_v
        within = within and load_w <= given.device_w
        lines.append(
            SumLine(
                label=f"span {n + 1}, {spans[n]:.1f} m: at its near end", value=round(fed.pse_w, 2), unit="W"
            )
        )
        load_w = fed.pse_w
        if n:
            box = plan.boxes[n - 1]
            own = box.max_w + branches.get(box.box_id, 0.0)
            load_w += own
            lines.append(
                SumLine(label=f"{box.label} itself, and its other outlet", value=round(own, 2), unit="W")
            )
    return _Along(load_w, device_v, within, tuple(lines))


def _gives(job: Job, plan: RunPlan) -> int:
    """Return the class of what a run may be fed from: the last box on its way, else where it begins; a rack gives what
    its switch does, which is said of the port.
    """
    if plan.boxes:
        return plan.boxes[-1].gives_class
    source = job.model_of(plan.from_id)
    return 8 if source is None else source.gives_class


def _conductor(job: Job, plan: RunPlan) -> tuple[int, float]:
    """Return the gauge that carries the power and how long it is. [m]

    Past fibre the power comes from what stands at its far end, over a cord; past a box from that on.
    """
    awg = library().cables[plan.cable].awg
    length_m = _spans(plan)[-1] if plan.boxes else plan.length_m
    return (awg, length_m) if awg is not None else (job.practice.cords_awg, job.practice.cords_m)


def _try(load_w: float, source_v: float, loop_ohm: float) -> Feed | None:
    try:
        return feed(load_w, source_v, loop_ohm)
    except NoOperatingPoint:
        return None


def _sum(
    plan: RunPlan,
    row: PoeClass,
    loop: float,
    max_w: float,
    worst: Feed | None,
    at_most: Feed | None,
    holds: bool,
    conductor: tuple[int, float, int],
) -> Sum:
    awg, length_m, cords_awg = conductor
    lines = [
        SumLine(label=f"lowest voltage of a type {row.poe_type} port", value=row.source_min_v, unit="V"),
        SumLine(
            label=f"loop of {length_m:.1f} m of {awg} AWG at {plan.hottest_c:.0f} C, {row.pairs} pairs, "
            f"{cords_awg} AWG cords",
            value=round(loop, 3),
            unit="ohm",
        ),
        SumLine(label="most the device draws", value=max_w, unit="W"),
    ]
    if worst is not None:
        lines.append(SumLine(label="current", value=round(worst.current_a, 4), unit="A"))
        lines.append(SumLine(label="lost in the cable", value=round(worst.loss_w, 2), unit="W"))
    if at_most is not None:
        lines.append(_asked_line(at_most.pse_w))
    return Sum(
        label=f"{plan.label}: voltage at the device",
        value=round(worst.pd_v, 2) if worst else 0.0,
        unit="V",
        limit=row.device_min_v,
        holds=holds,
        lines=tuple(lines),
        formula="I = (V - sqrt(V^2 - 4 R P)) / (2 R); V at the device = V - R I",
        source=row.source,
    )
