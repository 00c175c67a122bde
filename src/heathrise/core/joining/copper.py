"""Copper: in one span, and with boxes on the way that begin a new one."""

import math

from heathrise.core.cabling.runs import RunPlan, category_that_carries, speed_row
from heathrise.core.joining.case import Case
from heathrise.core.joining.way import DIGGING, EARTHS, Found, out, pulled, speed_sum, way
from heathrise.core.library import library, limit
from heathrise.core.library.items import WayInfo
from heathrise.core.power.feed import NoOperatingPoint, channel_loop_ohm, feed
from heathrise.core.sums import Sum, SumLine


@way("copper")
def copper(case: Case, info: WayInfo) -> Found:
    """One run of copper, held against its limit for heat and cords."""
    if case.plan is None:
        return out(case.no_run)
    plan = case.plan
    if plan.length_m > plan.limit_m:
        return out(
            f"{plan.length_m:.1f} m is over the {plan.limit_m:.1f} m this way allows.",
            plan.length_sum,
            plan.limit_sum,
        )
    cable = category_that_carries(case.job, plan) or plan.cable
    category = library().cables[cable].category
    rows = [row for row in library().speeds if row.category == category and row.max_m >= plan.length_m]
    speed = min(plan.speed_mbps, max((row.speed_mbps for row in rows), default=0))
    carries = speed_sum(
        f"{info.label}: what it carries",
        (
            SumLine(
                label=f"the most {library().cables[cable].label} carries over it", value=speed, unit="Mb/s"
            ),
            SumLine(
                label="reach at that speed", value=speed_row(category, speed).max_m if speed else 0, unit="m"
            ),
        ),
        speed,
        "the slower of the thing's port and the category over this length",
        "IEEE 802.3",
    )
    return Found(
        throughput=carries,
        pieces=(_cable(cable, plan.length_m), *_surge(case, info)),
        work=pulled(case, info),
        checks=(plan.length_sum, plan.limit_sum),
        cautions=_cautions(case),
    )


def _cable(code: str, length_m: float) -> SumLine:
    cable = library().cables[code]
    price = (cable.box_price or 0.0) / cable.box_m * length_m
    return SumLine(label=f"{length_m:.0f} m of {cable.label}", value=round(price, 2), unit="")


def _surge(case: Case, info: WayInfo) -> tuple[SumLine, ...]:
    line = SumLine(label="Surge protection at both ends", value=info.figures["surge_pair"], unit="")
    return (line,) if case.is_apart else ()


def _cautions(case: Case) -> tuple[str, ...]:
    return (*((EARTHS,) if case.is_apart else ()), *((DIGGING,) if case.open_m else ()))


@way("extender-chain")
def extender_chain(case: Case, info: WayInfo) -> Found:
    """Boxes on the way, each fed by the one before it: as many as spans ask for, watts from the far end back."""
    if case.plan is None:
        return out(case.no_run)
    plan, f = case.plan, info.figures
    span_m = min(limit("links.span_m"), plan.limit_m)
    spans = math.ceil(plan.length_m / span_m)
    count = _count(plan, span_m, spans)
    if spans < 2:
        return out("One span reaches it; a box would only be one more thing to fail.", count)
    if not count.holds:
        return out(
            f"{spans - 1} boxes in a row; more than {limit('links.extenders'):g} are not worth it.", count
        )
    watts = _watts(case, info, plan, spans)
    if not watts.holds:
        return out("The boxes and the thing draw more than one port feeds.", count, watts)
    speed = min(plan.speed_mbps, f["speed_mbps"])
    carries = speed_sum(
        f"{info.label}: what it carries",
        (
            SumLine(label="the thing's own port", value=plan.speed_mbps, unit="Mb/s"),
            SumLine(label="a box", value=f["speed_mbps"], unit="Mb/s"),
        ),
        speed,
        "the slowest box caps the run",
        "IEEE 802.3",
    )
    boxes = SumLine(label=f"{spans - 1} x extender", value=(spans - 1) * f["box_price"], unit="")
    fitted = SumLine(label=f"fit {spans - 1} boxes", value=round((spans - 1) * f["box_hours"], 2), unit="h")
    return Found(
        throughput=carries,
        pieces=(boxes, _cable(plan.cable, plan.length_m), *_surge(case, info)),
        work=(fitted, *pulled(case, info)),
        checks=(count, watts),
        cautions=_cautions(case),
    )


def _count(plan: RunPlan, span_m: float, spans: int) -> Sum:
    return Sum(
        label="Boxes on the way",
        value=spans - 1,
        unit="",
        limit=limit("links.extenders"),
        holds=spans - 1 <= limit("links.extenders"),
        lines=(
            SumLine(label="length of the run", value=plan.length_m, unit="m"),
            SumLine(label="one span for its heat and cords", value=round(span_m, 2), unit="m"),
        ),
        formula="length / span, rounded up, less one",
        source="ANSI/TIA-568; design value",
    )


def _watts(case: Case, info: WayInfo, plan: RunPlan, spans: int) -> Sum:
    """Return the watts the first port gives, from the thing back to it: loss of each span and each box's own."""
    f = info.figures
    given = library().poe_class(int(f["in_class"]))
    awg = library().cables[plan.cable].awg or case.job.practice.cords_awg
    loop = channel_loop_ohm(awg, plan.hottest_c, plan.length_m / spans, given.pairs)
    load_w, lines = (
        case.model_watts,
        [SumLine(label="the thing at the most", value=case.model_watts, unit="W")],
    )
    fits = load_w <= library().poe_class(int(f["out_class"])).device_w
    try:
        for number in range(spans, 0, -1):
            drawn = feed(load_w, given.source_min_v, loop).pse_w
            lines.append(SumLine(label=f"span {number}: at its near end", value=round(drawn, 2), unit="W"))
            load_w = drawn + (f["box_w"] if number > 1 else 0.0)
            if number > 1:
                lines.append(
                    SumLine(label=f"box {number - 1}: with its own", value=round(load_w, 2), unit="W")
                )
    except NoOperatingPoint:
        fits = False
    return Sum(
        label="Watts along the chain",
        value=round(load_w, 2),
        unit="W",
        limit=given.source_w,
        holds=fits and load_w <= given.source_w,
        lines=tuple(lines),
        formula="from the far end: I = (V - sqrt(V^2 - 4 R P)) / (2 R); port W = V I; box W = its own + what it feeds",
        source=given.source,
    )
