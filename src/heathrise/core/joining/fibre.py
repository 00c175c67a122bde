"""Fibre: with mains at its far end, and with the power in the same cable."""

from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import Job
from heathrise.core.joining.case import Case
from heathrise.core.joining.copper import surge_line
from heathrise.core.joining.way import DIGGING, EARTHS, Found, out, pulled, speed_sum, way
from heathrise.core.library import library, limit
from heathrise.core.library.items import WayInfo
from heathrise.core.links.fibre import fibre_loss_db, pair_loop_ohm
from heathrise.core.power.feed import NoOperatingPoint, feed
from heathrise.core.sums import Sum, SumLine


def cable_of_light(plan: RunPlan) -> str:
    """Return the cheapest cable of light that may enter all spaces of a run, else the cheapest of them."""
    shelf = {code: cable for code, cable in library().cables.items() if not cable.joins_earths}
    fits = {code: c for code, c in shelf.items() if set(plan.environments) <= c.environments} or shelf
    return min(fits, key=lambda code: (fits[code].box_price or 0.0) / fits[code].box_m)


@way("fibre")
def fibre(case: Case, info: WayInfo) -> Found:
    """Fibre with a converter at either end, held against the light its modules have."""
    if case.plan is None:
        return out(case.no_run)
    account = _light(case, info)
    if not account.holds:
        return out("More light is lost on the way than the modules have.", account)
    kind = library().cables[cable_of_light(case.plan)]
    price = (kind.box_price or 0.0) / kind.box_m * case.plan.length_m
    cable = SumLine(label=f"{case.plan.length_m:.0f} m of {kind.label}", value=round(price, 2), unit="")
    return Found(
        throughput=_speed(info),
        pieces=(cable,),
        work=pulled(case, info),
        checks=(account,),
        cautions=(DIGGING,) if case.open_m else (),
    )


@way("fibre-powered")
def fibre_powered(case: Case, info: WayInfo) -> Found:
    """The same with a pair of copper in its sheath: the thinnest that feeds what stands at the far end."""
    if case.plan is None:
        return out(case.no_run)
    account = _light(case, info)
    if not account.holds:
        return out("More light is lost on the way than the modules have.", account)
    code, fed = pair_that_feeds(case, info)
    if code is None:
        return out("No pair of the library feeds it over this length.", account, fed)
    kind, length_m = library().cables[code], case.plan.length_m
    price = (kind.box_price or 0.0) / kind.box_m * length_m
    cable = SumLine(label=f"{length_m:.0f} m of {kind.label}", value=round(price, 2), unit="")
    return Found(
        throughput=_speed(info),
        pieces=(cable, *surge_line(case)),
        work=pulled(case, info),
        checks=(account, fed),
        cautions=(*((EARTHS,) if case.is_apart else ()), *((DIGGING,) if case.open_m else ())),
    )


def pair_that_feeds(case: Case, info: WayInfo) -> tuple[str | None, Sum]:
    """Return the thinnest cable of fibre with a pair that feeds the thing at its end, with its account; None and the
    account of the thickest where none does.
    """
    assert case.plan is not None
    load_w = dc_load_w(case.job, case.model_watts, info)
    spaces = set(case.plan.environments)
    pairs = sorted(
        (cable.pair_mm2, code)
        for code, cable in library().cables.items()
        if cable.pair_mm2 is not None and spaces <= cable.environments
    )
    fed = Sum(label="Voltage at the far end", value=0.0, unit="V", source="no such cable in the library")
    for area_mm2, code in pairs:
        fed = dc_fed(case.job, case.plan, info, area_mm2, load_w)
        if fed.holds:
            return code, fed
    return None, fed


def dc_load_w(job: Job, thing_w: float, info: WayInfo) -> float:
    """Return what a pair beside fibre is to bring: the thing through its booster, and the converter. [W]"""
    own = [job.equipment[part.model].max_w for part in info.parts if part.model]
    return thing_w / info.figures["boost_share"] + max(own, default=0.0)


def _speed(info: WayInfo) -> Sum:
    speed = info.figures["speed_mbps"]
    line = SumLine(label="its converters", value=speed, unit="Mb/s")
    return speed_sum(
        f"{info.label}: what it carries", (line,), speed, "the slower converter", "IEEE 802.3 clause 59"
    )


def _light(case: Case, info: WayInfo) -> Sum:
    """Return the loss account of the fibre against what its modules have."""
    f = info.figures
    length_m = case.plan.length_m if case.plan else 0.0
    lost = fibre_loss_db(length_m, f["per_km_db"], int(f["connectors"]), int(f["splices"]))
    return Sum(
        label="Light lost from module to module",
        value=round(lost, 2),
        unit="dB",
        limit=f["budget_db"],
        holds=lost <= f["budget_db"] and length_m <= f["reach_m"],
        lines=(
            SumLine(
                label=f"{length_m:.0f} m at {f['per_km_db']:g} dB/km",
                value=round(length_m / 1000 * f["per_km_db"], 3),
                unit="dB",
            ),
            SumLine(
                label=f"{f['connectors']:g} connectors",
                value=f["connectors"] * limit("links.connector_db"),
                unit="dB",
            ),
            SumLine(
                label=f"{f['splices']:g} splices", value=f["splices"] * limit("links.splice_db"), unit="dB"
            ),
            SumLine(label="reach of the modules", value=f["reach_m"], unit="m"),
        ),
        formula="length x loss per km + connectors + splices",
        source="ISO/IEC 11801-1 clause 9; design value of the module",
    )


def ends_v(job: Job, info: WayInfo) -> tuple[float, float]:
    """Return what the way's supply gives and the least its booster takes, as their models say. [V]"""
    ports = [group for part in info.parts if part.model for group in job.equipment[part.model].ports]
    gives = max((group.gives_v or 0.0 for group in ports if group.medium == "dc"), default=0.0)
    return gives, max((group.takes_least_v or 0.0 for group in ports if group.medium == "dc"), default=0.0)


def dc_fed(job: Job, plan: RunPlan, info: WayInfo, area_mm2: float, load_w: float) -> Sum:
    """Return the voltage at the far end of a pair of a section, against the least the booster takes."""
    (supply_v, least_v), length_m, warm_c = ends_v(job, info), plan.length_m, plan.hottest_c
    loop = pair_loop_ohm(area_mm2, length_m, warm_c)
    lines = [
        SumLine(label="the thing through its converters", value=round(load_w, 2), unit="W"),
        SumLine(
            label=f"loop of 2 x {area_mm2:g} mm2 over {length_m:.0f} m at {warm_c:.0f} C",
            value=round(loop, 3),
            unit="ohm",
        ),
        SumLine(label="supply", value=supply_v, unit="V", note=f"at most [[{limit('links.limited_v'):g}|V]]"),
    ]
    try:
        found = feed(load_w, supply_v, loop)
    except NoOperatingPoint:
        return _volts(lines, 0.0, least_v, holds=False)
    lines.append(
        SumLine(
            label="drawn from the supply",
            value=round(found.pse_w, 2),
            unit="W",
            note=f"at most [[{limit('links.limited_w'):g}|W]]",
        )
    )
    safe = found.pse_w <= limit("links.limited_w") and supply_v <= limit("links.limited_v")
    return _volts(lines, found.pd_v, least_v, holds=safe and found.pd_v >= least_v)


def _volts(lines: list[SumLine], volts: float, least_v: float, holds: bool) -> Sum:
    return Sum(
        label="Voltage at the far end",
        value=round(volts, 2),
        unit="V",
        limit=least_v,
        holds=holds,
        lines=tuple(lines),
        formula="I = (V - sqrt(V^2 - 4 R P)) / (2 R); V at the end = V - R I",
        source="constant-power load on a resistive feeder; IEC 62368-1 annex Q",
    )
