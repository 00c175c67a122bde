"""Copper: in one span, and with boxes on the way that begin a new one."""

import math

from heathrise.core.cabling.boxes import Box
from heathrise.core.cabling.ends import poe_class_needed
from heathrise.core.cabling.runs import RunPlan, category_that_carries, speed_row
from heathrise.core.edit import EditError
from heathrise.core.job import Job
from heathrise.core.joining.case import Case
from heathrise.core.joining.way import DIGGING, EARTHS, Found, out, pulled, speed_sum, way
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.library.items import WayInfo
from heathrise.core.links.earths import guard_of
from heathrise.core.power.feeds import NO_BRANCHES, chain_feed
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
        pieces=(_cable(cable, plan.length_m), *surge_line(case)),
        work=pulled(case, info),
        checks=(plan.length_sum, plan.limit_sum),
        cautions=_cautions(case),
    )


def _cable(code: str, length_m: float) -> SumLine:
    cable = library().cables[code]
    price = (cable.box_price or 0.0) / cable.box_m * length_m
    return SumLine(label=f"{length_m:.0f} m of {cable.label}", value=round(price, 2), unit="")


def surge_line(case: Case) -> tuple[SumLine, ...]:
    """Return what guards both ends of copper between two houses; none within one."""
    code = guard_of(case.job) if case.is_apart else None
    if code is None:
        return ()
    model = case.job.equipment[code]
    return (SumLine(label=f"2 x {model.label}", value=2 * (model.price or 0.0), unit=""),)


def _cautions(case: Case) -> tuple[str, ...]:
    return (*((EARTHS,) if case.is_apart else ()), *((DIGGING,) if case.open_m else ()))


def extender_of(job: Job, plan: RunPlan) -> str:
    """Return the cheapest model that takes a run up on its way and hands it on with the power its end asks for.

    Raises
    ------
    EditError
        If the library has none.
    """
    asks = poe_class_needed(job, plan.to_id)
    fits = {
        code: model
        for code, model in job.equipment.items()
        if model.joins and model.takes_class and model.gives_class >= asks and not model.height_u
    }
    if not fits:
        raise EditError("the library has no extender that hands on the power this thing asks for")
    return min(fits, key=lambda code: fits[code].price or 0.0)


def chain_cable(job: Job, plan: RunPlan) -> str:
    """Return the cable of a chain: what carries the speed over each of its spans and may enter all of them."""
    span = plan.model_copy(update={"span_m": plan.length_m / spans_needed(plan)})
    return category_that_carries(job, span) or plan.cable


def spans_needed(plan: RunPlan) -> int:
    """Return how many spans a run falls into, each within its limit for heat and cords."""
    return math.ceil(plan.length_m / min(limit("links.span_m"), plan.limit_m))


@way("extender-chain")
def extender_chain(case: Case, info: WayInfo) -> Found:
    """Boxes on the way, each fed by the one before it: as many as spans ask for, watts from the far end back."""
    if case.plan is None:
        return out(case.no_run)
    plan, spans = case.plan, spans_needed(case.plan)
    count = _count(plan, spans)
    if spans < 2:
        return out("One span reaches it; a box would only be one more thing to fail.", count)
    if not count.holds:
        return out(
            f"{spans - 1} boxes in a row; more than {limit('links.extenders'):g} are not worth it.", count
        )
    try:
        model = case.job.equipment[extender_of(case.job, plan)]
    except EditError:
        return out("No extender hands on the power it asks for.", count)
    fed = _fed(case.job, plan, model, spans)
    if not fed.holds:
        return out("The boxes and the thing draw more than one port feeds.", count, fed)
    box_mbps = min(port.speed_mbps for port in model.ports)
    speed = min(plan.speed_mbps, box_mbps)
    carries = speed_sum(
        f"{info.label}: what it carries",
        (
            SumLine(label="the thing's own port", value=plan.speed_mbps, unit="Mb/s"),
            SumLine(label="a box", value=box_mbps, unit="Mb/s"),
        ),
        speed,
        "the slowest box caps the run",
        "IEEE 802.3",
    )
    f, many = info.figures, spans - 1
    boxes = SumLine(label=f"{many} x {model.label}", value=many * (model.price or 0.0), unit="")
    fitted = SumLine(label=f"fit {many} boxes", value=round(many * f["box_hours"], 2), unit="h")
    return Found(
        throughput=carries,
        pieces=(boxes, _cable(chain_cable(case.job, plan), plan.length_m), *surge_line(case)),
        work=(fitted, *pulled(case, info)),
        checks=(count, fed),
        cautions=_cautions(case),
    )


def _count(plan: RunPlan, spans: int) -> Sum:
    span_m = min(limit("links.span_m"), plan.limit_m)
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


def _fed(job: Job, plan: RunPlan, model: EquipmentModel, spans: int) -> Sum:
    """Return the volts at the end of a chain of such boxes, as the power stage works them out once it stands."""
    boxes = tuple(
        Box(
            box_id=str(n),
            label=f"box {n}",
            at_m=plan.length_m * n / spans,
            takes_class=model.takes_class,
            gives_class=model.gives_class,
            max_w=model.max_w,
            typical_w=model.typical_w,
        )
        for n in range(1, spans)
    )
    chained = plan.model_copy(update={"boxes": boxes, "asks_class": model.takes_class})
    return chain_feed(job, chained, NO_BRANCHES).sum
