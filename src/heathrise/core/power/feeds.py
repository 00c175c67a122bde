"""Power over every run of a job: at the port type's lowest voltage, and as expected."""

from dataclasses import dataclass
from functools import cached_property

from heathrise.core.cabling.ends import device_draw, feeds_on, poe_class_needed
from heathrise.core.cabling.runs import RunPlan, Runs
from heathrise.core.job import Job
from heathrise.core.library import PoeClass, library, limit
from heathrise.core.power.feed import Feed, NoOperatingPoint, channel_loop_ohm, feed, thin_cords_ohm
from heathrise.core.sums import Noun, Sum, SumLine


class FeedPlan(Noun):
    """Power over one run. Watts at the device, and what they cost at the source."""

    run_id: str
    label: str
    poe_class: int
    loop_ohm: float
    device_max_w: float
    device_typical_w: float
    reserve_w: float
    max_source_w: float | None
    typical_source_w: float | None
    worst_pd_v: float | None
    least_pd_v: float
    holds: bool
    sum: Sum


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
    found = (plan_feed(job, plan) for plan in runs.plans if plan.run_id not in runs.spares)
    return Feeds(tuple(plan for plan in found if plan is not None))


def plan_feed(job: Job, plan: RunPlan) -> FeedPlan | None:
    """Return power over one run; None when nothing at its end asks for any."""
    number = poe_class_needed(job, plan.to_id)
    return _plan(job, plan, library().poe_class(number), *device_draw(job, plan.to_id)) if number else None


def _plan(job: Job, plan: RunPlan, row: PoeClass, max_w: float, typical_w: float) -> FeedPlan:
    awg, length_m = _conductor(job, plan)
    cords = thin_cords_ohm(job.practice.cords_awg, job.practice.cords_m, row.pairs)
    loop = channel_loop_ohm(awg, plan.hottest_c, length_m, row.pairs) + cords
    carries = library().cables[plan.cable].conducts or plan.run_id in feeds_on(job)
    worst = _try(max_w, row.source_min_v, loop) if carries else None
    at_most = _try(max_w, limit("power.expected_v"), loop) if carries else None
    usual = _try(typical_w, limit("power.expected_v"), loop) if carries else None
    holds = worst is not None and worst.pd_v >= row.device_min_v
    return FeedPlan(
        run_id=plan.run_id,
        label=plan.label,
        poe_class=row.poe_class,
        loop_ohm=round(loop, 3),
        device_max_w=max_w,
        device_typical_w=typical_w,
        reserve_w=row.reserve_w,
        max_source_w=round(at_most.pse_w, 2) if at_most else None,
        typical_source_w=round(usual.pse_w, 2) if usual else None,
        worst_pd_v=round(worst.pd_v, 2) if worst else None,
        least_pd_v=row.device_min_v,
        holds=holds,
        sum=_sum(plan, row, loop, max_w, worst, holds, (awg, length_m, job.practice.cords_awg)),
    )


def _conductor(job: Job, plan: RunPlan) -> tuple[int, float]:
    """Return the gauge that carries the power and how long it is. [m]

    Past fibre the power comes from what stands at its far end, over a cord.
    """
    awg = library().cables[plan.cable].awg
    return (awg, plan.length_m) if awg is not None else (job.practice.cords_awg, job.practice.cords_m)


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
