"""Power along one run, step by step from what feeds it to the device: each figure with its sum."""

from typing import Literal

from heathrise.core.cabling.boxes import spans_m
from heathrise.core.cabling.ends import feeds_on, label_of, models_on, poe_class_needed
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import Equipment, InLine, Job
from heathrise.core.library import PoeClass, library, limit
from heathrise.core.power.feed import Feed, NoOperatingPoint, channel_loop_ohm, feed, thin_cords_ohm
from heathrise.core.power.feeds import FeedPlan
from heathrise.core.sums import Noun, Sum, SumLine

_FEED = "IEEE 802.3-2022 clauses 33 and 145: constant-power load"


class FeedStep(Noun):
    """One step: what feeds, a span of cable, a box, the device. `says` stands below its name."""

    kind: Literal["source", "cable", "box", "device"]
    label: str
    says: str
    figures: tuple[Sum, ...]
    outlet: bool = False
    caution: str = ""
    holds: bool = True


class FeedPath(Noun):
    """Power along one run; `gives_up` is what the device goes without when it gets a class less."""

    run_id: str
    label: str
    to_label: str
    holds: bool
    steps: tuple[FeedStep, ...]
    gives_up: str


def feed_path(job: Job, plan: RunPlan, fed: FeedPlan, from_port: str, gives_class: int) -> FeedPath:
    """Return power along a run from a port (its name, and the class it gives) to the device."""
    spans = _spans(job, plan)
    steps = [_source(job, plan, from_port, gives_class)]
    load_w = _loads(job, plan, spans, fed.device_max_w)
    for n, (length_m, row) in enumerate(spans):
        steps.append(_cable(job, plan, length_m, row, load_w[n]))
        if n < len(plan.boxes):
            steps.append(_box(job, plan, n))
    steps.append(_device(job, plan, fed))
    if not library().cables[plan.cable].conducts and plan.run_id in feeds_on(job):
        # No power comes with the light: what feeds it stands at the far end, behind the cable.
        steps = [_light_only(plan, from_port), *steps[1:-1], steps[0], steps[-1]]
    model = job.model_of(plan.to_id)
    injector = feeds_on(job).get(plan.run_id)
    given = injector[1].gives_class if injector is not None else gives_class
    short = 0 < given < poe_class_needed(job, plan.to_id)
    return FeedPath(
        run_id=plan.run_id,
        label=plan.label,
        to_label=plan.to_label,
        holds=fed.holds,
        steps=tuple(steps),
        gives_up=model.under_fed if model is not None and short else "",
    )


def _spans(job: Job, plan: RunPlan) -> list[tuple[float, PoeClass]]:
    """Return each span with the class that is given at its near end."""
    needed = poe_class_needed(job, plan.to_id) or plan.asks_class
    lengths = spans_m(plan.boxes, plan.length_m) if plan.boxes else (plan.length_m,)
    given = [plan.asks_class if plan.boxes else needed, *(box.gives_class for box in plan.boxes)]
    return [
        (length, library().poe_class(number)) for length, number in zip(lengths, given, strict=True) if number
    ]


def _gauge(job: Job, plan: RunPlan, length_m: float) -> tuple[int, float]:
    awg = library().cables[plan.cable].awg
    return (awg, length_m) if awg is not None else (job.practice.cords_awg, job.practice.cords_m)


def _loop(job: Job, plan: RunPlan, length_m: float, row: PoeClass) -> Sum:
    awg, copper_m = _gauge(job, plan, length_m)
    cords = thin_cords_ohm(job.practice.cords_awg, job.practice.cords_m, row.pairs)
    whole = channel_loop_ohm(awg, plan.hottest_c, copper_m, row.pairs) + cords
    ends = limit("power.cords_two_pair_ohm" if row.pairs == 2 else "power.cords_four_pair_ohm")
    return Sum(
        label="Loop out and back",
        value=round(whole, 3),
        unit="ohm",
        lines=(
            SumLine(
                label=f"{copper_m:.1f} m of {awg} AWG at {plan.hottest_c:.0f} C on {row.pairs} pairs",
                value=round(whole - ends - cords, 3),
                unit="ohm",
            ),
            SumLine(label="cords and connectors", value=ends, unit="ohm"),
            SumLine(
                label=f"cords of {job.practice.cords_awg} AWG, over 24 AWG", value=round(cords, 3), unit="ohm"
            ),
        ),
        formula="conductor x length x 1.02 twist x (1 + 0.393 % per K over 20 C), halved on four pairs",
        source="resistance of solid copper; TIA TSB-184-A",
    )


def _loads(job: Job, plan: RunPlan, spans: list[tuple[float, PoeClass]], most_w: float) -> list[float]:
    """Return the watts at the far end of each span, from the far end of the run back. [W]"""
    load = most_w
    found = []
    for n in range(len(spans) - 1, -1, -1):
        found.append(load)
        length_m, row = spans[n]
        fed = _try(load, row.source_min_v, _loop(job, plan, length_m, row).value)
        load = (fed.pse_w if fed else load) + (plan.boxes[n - 1].max_w if n else 0.0)
    return found[::-1]


def _try(load_w: float, source_v: float, loop_ohm: float) -> Feed | None:
    try:
        return feed(load_w, source_v, loop_ohm)
    except NoOperatingPoint:
        return None


def _beside(job: Job, plan: RunPlan, thing: Equipment) -> str:
    """Return beside which end of a run something on its way stands."""
    far = isinstance(thing.place, InLine) and (thing.place.at_m or 0.0) > plan.length_m / 2
    return f"beside {plan.to_label}" if far else f"beside {label_of(job, plan.from_id)}"


def _source(job: Job, plan: RunPlan, from_port: str, gives_class: int) -> FeedStep:
    injector = feeds_on(job).get(plan.run_id)
    if injector is not None:
        thing, model = injector
        passive = next((g.gives_v for g in model.ports if g.gives_v), None)
        says = (
            f"passive {passive:g} V on the spare pairs"
            if passive
            else f"class {model.gives_class}, {_beside(job, plan, thing)}"
        )
        return FeedStep(
            kind="source",
            label=thing.label,
            says=says,
            figures=(),
            outlet=model.wants_outlet,
            caution=model.caution,
            holds=passive is None,
        )
    needed = plan.asks_class or poe_class_needed(job, plan.to_id)
    says = f"gives class {gives_class}" if gives_class else "gives no power"
    return FeedStep(
        kind="source", label=from_port or plan.from_label, says=says, figures=(), holds=gives_class >= needed
    )


def _light_only(plan: RunPlan, from_port: str) -> FeedStep:
    return FeedStep(
        kind="source",
        label=from_port or plan.from_label,
        says="sends light, and no power with it",
        figures=(),
    )


def _cable(job: Job, plan: RunPlan, length_m: float, row: PoeClass, load_w: float) -> FeedStep:
    loop = _loop(job, plan, length_m, row)
    fed = _try(load_w, row.source_min_v, loop.value)
    cable = library().cables[plan.cable]
    label = f"{length_m:.1f} m of {cable.label}"
    if fed is None or not cable.conducts:
        words = (
            "cannot carry this load"
            if cable.conducts
            else "carries no power: what follows is fed at its far end"
        )
        return FeedStep(kind="cable", label=label, says=words, figures=(loop,), holds=not cable.conducts)
    return FeedStep(
        kind="cable",
        label=label,
        says=f"{row.pairs} pairs, {plan.hottest_c:.0f} C at its hottest",
        figures=(
            loop,
            *cable_figures(fed, row.source_min_v, loop.value, load_w),
        ),
    )


def cable_figures(fed: Feed, source_v: float, loop_ohm: float, load_w: float) -> tuple[Sum, ...]:
    """Return current, watts at the near end, watts lost and volts at the far end of a span, each with its sum."""
    lines = (
        SumLine(label="lowest voltage where it begins", value=source_v, unit="V"),
        SumLine(label="loop", value=loop_ohm, unit="ohm"),
        SumLine(label="drawn at its far end", value=round(load_w, 2), unit="W"),
    )
    return (
        _figure("Current", fed.current_a, "A", lines, "I = 2 P / (V + sqrt(V^2 - 4 R P))", 3),
        _figure("At its near end", fed.pse_w, "W", lines, "V I", 2),
        _figure("Lost in it", fed.loss_w, "W", lines, "R I^2", 2),
        _figure("Volts at its far end", fed.pd_v, "V", lines, "V - R I", 2),
    )


def _figure(
    label: str, value: float, unit: str, lines: tuple[SumLine, ...], formula: str, digits: int
) -> Sum:
    return Sum(label=label, value=round(value, digits), unit=unit, lines=lines, formula=formula, source=_FEED)


def _box(job: Job, plan: RunPlan, n: int) -> FeedStep:
    box = plan.boxes[n]
    model = job.model_of(box.box_id)
    return FeedStep(
        kind="box",
        label=box.label,
        says=f"takes class {box.takes_class}, draws {box.max_w:g} W, gives class {box.gives_class}",
        figures=(),
        caution=model.caution if model is not None else "",
    )


def _device(job: Job, plan: RunPlan, fed: FeedPlan) -> FeedStep:
    number = poe_class_needed(job, plan.to_id)
    volts = Sum(
        label="Volts at full load",
        value=fed.worst_pd_v or 0.0,
        unit="V",
        limit=fed.least_pd_v,
        holds=fed.holds,
        lines=fed.sum.lines,
        formula=fed.sum.formula,
        source=fed.sum.source,
    )
    watts = Sum(
        label="Most it draws",
        value=fed.device_max_w,
        unit="W",
        limit=library().poe_class(number).device_w if number else None,
        holds=not number or fed.device_max_w <= library().poe_class(number).device_w + 1e-9,
        lines=(
            SumLine(label="itself, at most", value=round(fed.device_max_w - fed.passed_w, 2), unit="W"),
            SumLine(label="passed on at its own ports", value=fed.passed_w, unit="W"),
        ),
        formula="data sheet of the device + what it passes on",
        source=library().poe_class(number).source if number else "data sheet",
    )
    minded = [m.caution for m in models_on(job)[plan.run_id] if m.guards_surge]
    end = job.model_of(plan.to_id)
    minded += [end.caution] if end is not None and end.caution else []
    return FeedStep(
        kind="device",
        label=plan.to_label,
        says=f"asks for class {number}" if number else "asks for no power",
        figures=(watts, volts),
        caution=" ".join(minded),
        holds=fed.holds,
    )
