"""Every run of a job: its route, length, limit, speed and rating."""

from collections import Counter
from dataclasses import dataclass
from functools import cached_property

from heathrise.core.cabling.conduit import ConduitFill, conduit_fill
from heathrise.core.cabling.lengths import equivalent_length, heat_factor, longest_fixed_m
from heathrise.core.cabling.routes import Leg, Router
from heathrise.core.job import AccessPoint, Conduit, Device, Job, Rack, Run
from heathrise.core.library import CableType, Speed, library, limit
from heathrise.core.site.building import Building
from heathrise.core.sums import Noun, Sum, SumLine

# The longest uplink between racks is planned at this speed.
_RACK_MBPS = 10_000


class RunPlan(Noun):
    """One run as computed. Lengths of the permanent link, without cords."""

    run_id: str
    label: str
    rack_id: str
    to_id: str
    to_label: str
    cable: str
    cable_label: str
    category: str
    legs: tuple[Leg, ...]
    drilled: tuple[str, ...]
    length_m: float
    limit_m: float
    hottest_c: float
    holds: bool
    speed_mbps: int
    carries_m: float
    environments: tuple[str, ...]
    length_sum: Sum
    limit_sum: Sum


class ConduitPlan(Noun):
    """One conduit as computed."""

    conduit_id: str
    label: str
    bore_mm: float
    cables: int
    fill: ConduitFill
    sum: Sum


@dataclass(frozen=True)
class Runs:
    """What the later stages and the rules read of the runs."""

    plans: tuple[RunPlan, ...]
    conduits: tuple[ConduitPlan, ...]

    @cached_property
    def by_id(self) -> dict[str, RunPlan]:
        """Plans by run id."""
        return {plan.run_id: plan for plan in self.plans}

    @cached_property
    def spares(self) -> frozenset[str]:
        """Runs beyond the first to the same end: tested and patched, but on no port and unfed."""
        first: dict[str, str] = {}
        for plan in self.plans:
            first.setdefault(plan.to_id, plan.run_id)
        return frozenset(plan.run_id for plan in self.plans if first[plan.to_id] != plan.run_id)


def speed_needed(end: AccessPoint | Device | Rack) -> int:
    """Return the speed of what a run goes to. [Mb/s]"""
    if isinstance(end, AccessPoint):
        return library().access_points[end.model].uplink_mbps
    return library().devices[end.model].speed_mbps if isinstance(end, Device) else _RACK_MBPS


def poe_class_needed(end: AccessPoint | Device | Rack) -> int:
    """Return the PoE class of what a run goes to; 0 when it asks for none."""
    if isinstance(end, AccessPoint):
        return library().access_points[end.model].poe_class
    return library().devices[end.model].poe_class if isinstance(end, Device) else 0


def speed_row(category: str, speed_mbps: int) -> Speed:
    """Return how far a category carries a speed. A speed no row lists is not carried."""
    for row in library().speeds:
        if row.category == category and row.speed_mbps == speed_mbps:
            return row
    return Speed(
        category=category,
        speed_mbps=speed_mbps,
        max_m=0,
        warn_over_m=None,
        note="not carried",
        source="IEEE 802.3",
    )


def bundle_rise_c(source_w: float, bundle: int) -> float:
    """Return a bundle's own rise from PoE. [C] Source: design table after TSB-184-A."""
    if source_w <= 0:
        return 0.0
    for most_w, most, rise in library().bundle_rise:
        if source_w <= most_w and bundle <= most:
            return rise
    return library().bundle_rise[-1][2]


def plan_runs(job: Job, building: Building) -> Runs:
    """Return every run and conduit of a job, computed."""
    router = Router(job, building)
    bundles = Counter(run.rack_id for run in job.of(Run))
    plans = tuple(_plan(job, router, run, bundles[run.rack_id]) for run in job.of(Run))
    return Runs(plans, tuple(_conduit(job, conduit) for conduit in job.of(Conduit)))


def _plan(job: Job, router: Router, run: Run, bundle: int) -> RunPlan:
    end, cable = job.end_of(run), library().cables[run.cable]
    route = router.route(run)
    poe_class = poe_class_needed(end)
    source_w = library().poe_class(poe_class).source_w if poe_class else 0.0
    rise = bundle_rise_c(source_w, bundle)
    parts = _parts(route.legs, rise, end, job)
    length_m = sum(part for part, _, _ in parts)
    warm = [(part, temperature) for part, temperature, _ in parts]
    derate = limit("cabling.cord_derate")
    held = equivalent_length(warm, job.practice.cords_m, derate, cable.screened)
    heat = sum(part * heat_factor(t, cable.screened) for part, t in warm) / length_m
    limit_m = longest_fixed_m(heat, job.practice.cords_m, derate)
    speed = speed_needed(end)
    return RunPlan(
        run_id=run.id,
        label=run.label,
        rack_id=run.rack_id,
        to_id=run.to_id,
        to_label=end.label,
        cable=run.cable,
        cable_label=cable.label,
        category=cable.category,
        legs=route.legs,
        drilled=route.drilled,
        length_m=round(length_m, 2),
        limit_m=round(limit_m, 2),
        hottest_c=max(t for _, t in warm),
        holds=held.ok,
        speed_mbps=speed,
        carries_m=speed_row(cable.category, speed).max_m,
        environments=tuple(sorted({leg.environment for leg in route.legs})),
        length_sum=_length_sum(run, parts, length_m, limit_m, held.ok),
        limit_sum=_limit_sum(run, cable, heat, limit_m, job.practice.cords_m, rise),
    )


def _parts(
    legs: tuple[Leg, ...], rise_c: float, end: AccessPoint | Device | Rack, job: Job
) -> list[tuple[float, float, str]]:
    """Return (length_m, temperature_c, what) of every fixed part: legs with weave, and loops."""
    weave = limit("cabling.weave")
    parts = [(leg.length_m * weave, leg.temperature_c + rise_c, leg.what) for leg in legs]
    indoors = job.site.climate.indoors_c + rise_c
    parts.append((limit("cabling.loop_rack_m"), indoors, "loop at the rack"))
    ceiling = isinstance(end, AccessPoint) or (
        isinstance(end, Device) and library().devices[end.model].mount == "ceiling"
    )
    name = "ceiling" if ceiling else "outlet"
    last_c = parts[-2][1] if len(parts) > 1 else indoors
    parts.append((limit(f"cabling.loop_{name}_m"), last_c, f"loop at the {name}"))
    return parts


def _length_sum(
    run: Run, parts: list[tuple[float, float, str]], length_m: float, limit_m: float, ok: bool
) -> Sum:
    return Sum(
        label=f"{run.label}: length of the permanent link",
        value=round(length_m, 2),
        unit="m",
        limit=round(limit_m, 2),
        holds=ok,
        lines=tuple(
            SumLine(label=what, value=round(part, 2), unit="m", note=f"at [[{t:.0f}|C]]")
            for part, t, what in parts
        ),
        formula="(route + drops) x 1.05 for weave + service loops",
        source="limits: cabling (design values)",
    )


def _limit_sum(run: Run, cable: CableType, heat: float, limit_m: float, cords_m: float, rise_c: float) -> Sum:
    derate = limit("cabling.cord_derate")
    return Sum(
        label=f"{run.label}: limit for its heat and cords",
        value=round(limit_m, 2),
        unit="m",
        lines=(
            SumLine(label="equivalent length allowed", value=limit("cabling.equivalent_m"), unit="m"),
            SumLine(label=f"cords x {1 + derate:.2f}", value=-cords_m * (1 + derate), unit="m"),
            SumLine(label="mean heat factor of the fixed parts", value=round(heat, 4), unit=""),
            SumLine(label="bundle's own rise from PoE", value=rise_c, unit="C"),
            SumLine(label="link rule", value=limit("cabling.permanent_link_m"), unit="m"),
        ),
        formula="min(90, (102 - C (1 + D)) / (1 + k))",
        source=f"ANSI/TIA-568; {'screened' if cable.screened else 'unscreened'} cable",
    )


def _conduit(job: Job, conduit: Conduit) -> ConduitPlan:
    bore = library().bores[conduit.bore]
    ods = [library().cables[job.get(Run, ref).cable].diameter_mm for ref in conduit.run_ids]
    fill = conduit_fill(bore.bore_mm, ods)
    lines = [SumLine(label=f"cable {od:g} mm", value=od * od, unit="mm2") for od in ods]
    lines.append(SumLine(label="bore squared", value=round(bore.bore_mm**2, 2), unit="mm2"))
    return ConduitPlan(
        conduit_id=conduit.id,
        label=conduit.label,
        bore_mm=bore.bore_mm,
        cables=len(ods),
        fill=fill,
        sum=Sum(
            label=f"{conduit.label}: fill",
            value=round(100 * fill.fill, 1),
            unit="%",
            limit=round(100 * fill.limit, 1),
            holds=fill.ok,
            lines=tuple(lines),
            formula="sum of diameters squared / bore squared",
            source="53/31/40 % rule",
        ),
    )


def category_that_carries(job: Job, plan: RunPlan) -> str | None:
    """Return a cable that carries the run's speed over its length in its spaces, cheapest first."""
    shelf = library().cables
    fits = [
        (cable.box_price or 0.0, key)
        for key, cable in shelf.items()
        if not cable.copper_clad
        and set(plan.environments) <= cable.environments
        and carries(cable.category, plan, job.practice.cords_m)
    ]
    return min(fits)[1] if fits else None


def carries(category: str, plan: RunPlan, cords_m: float) -> bool:
    """Return whether a category carries the run's speed over its channel without a condition."""
    row = speed_row(category, plan.speed_mbps)
    sure_m = row.max_m if row.warn_over_m is None else min(row.max_m, row.warn_over_m)
    return plan.length_m + cords_m <= max(sure_m, 0.0)
