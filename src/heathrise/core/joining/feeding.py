"""Power along fibre with a pair beside it: supply, pair, booster, then what stands at its end."""

from heathrise.core.cabling.ends import feeds_on
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import Equipment, InLine, Job
from heathrise.core.joining.fibre import dc_fed, dc_load_w, ends_v
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.links.fibre import pair_loop_ohm
from heathrise.core.power.along import FeedPath, FeedStep, cable_figures
from heathrise.core.power.feed import NoOperatingPoint, feed
from heathrise.core.sums import Sum, SumLine

_MIND = (
    "A fuse or breaker at the supply, surge protection and earthing at both ends are for a licensed person; "
    "disconnect before touching the pair."
)


def hybrid_path(job: Job, plan: RunPlan, path: FeedPath) -> FeedPath:
    """Return the whole way of power to what hangs on a cable of fibre with a pair; other paths as they are.

    `path` begins at the booster: what lies before it is put there.
    """
    area_mm2, model = library().cables[plan.cable].pair_mm2, job.model_of(plan.to_id)
    if area_mm2 is None or model is None:
        return path
    info = library().ways["fibre-powered"]
    load_w, supply_v = dc_load_w(job, model.max_w, info), ends_v(job, info)[0]
    volts = dc_fed(job, plan, info, area_mm2, load_w)
    before = (_supplied(_supply(job, plan), supply_v), _pair(plan, area_mm2, load_w, supply_v, volts))
    # The light and its cable are drawn by the pair.
    rest = path.steps[2:] if plan.run_id in feeds_on(job) else path.steps[-1:]
    return path.model_copy(update={"steps": (*before, *rest), "holds": path.holds and volts.holds})


def _supply(job: Job, plan: RunPlan) -> Equipment | None:
    """Return what feeds the pair of a run."""
    on_it = (t for t in job.of(Equipment) if isinstance(t.place, InLine) and t.place.link_id == plan.run_id)
    return next((thing for thing in on_it if _gives_dc(job.equipment[thing.model])), None)


def _gives_dc(model: EquipmentModel) -> bool:
    return any(group.medium == "dc" and group.gives_v for group in model.ports)


def _supplied(supply: Equipment | None, supply_v: float) -> FeedStep:
    most_v, most_w = limit("links.limited_v"), limit("links.limited_w")
    return FeedStep(
        kind="source",
        label=supply.label if supply is not None else "No supply on the run yet",
        says=f"gives {supply_v:g} V; limited power is {most_v:g} V and {most_w:g} W",
        figures=(),
        outlet=True,
        caution=_MIND,
        holds=supply is not None and supply_v <= most_v,
    )


def _pair(plan: RunPlan, area_mm2: float, load_w: float, supply: float, volts: Sum) -> FeedStep:
    """Return the pair: its loop, and what it loses at full load on the hottest day."""
    loop = Sum(
        label="Loop out and back",
        value=round(pair_loop_ohm(area_mm2, plan.length_m, plan.hottest_c), 3),
        unit="ohm",
        lines=(
            SumLine(label="length", value=round(plan.length_m, 1), unit="m"),
            SumLine(label="section of each conductor", value=area_mm2, unit="mm2"),
            SumLine(label="at its hottest", value=plan.hottest_c, unit="C"),
        ),
        formula="R = 2 L r, r by the section, warmer by 0.393 % per K over 20 C",
        source="IEC 60228: conductors of copper",
    )
    kind = library().cables[plan.cable]
    try:
        figures = (loop, *cable_figures(feed(load_w, supply, loop.value), supply, loop.value, load_w))
    except NoOperatingPoint:
        figures = (loop,)
    return FeedStep(
        kind="cable",
        label=f"{plan.length_m:.1f} m of {kind.label}",
        says=f"a pair of {area_mm2:g} mm2 beside the fibre; the booster wants {volts.limit or 0.0:g} V or more",
        # The voltage with its limit in place of the bare one.
        figures=(*figures[:4], volts),
        holds=volts.holds,
    )
