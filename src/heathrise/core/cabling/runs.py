"""Every run of a job: its route, length, limit, speed and rating."""

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from heathrise.core.cabling.boxes import Box, boxes_in, spans_m
from heathrise.core.cabling.conduit import ConduitFill, conduit_fill
from heathrise.core.cabling.ends import (
    hangs_high,
    label_of,
    poe_class_needed,
    runs_of,
    spares_of,
    speed_needed,
)
from heathrise.core.cabling.ground import Hole
from heathrise.core.cabling.lengths import equivalent_length, heat_factor, longest_fixed_m
from heathrise.core.cabling.pulling import Pull, pull_of
from heathrise.core.cabling.routes import Leg, Route, Router
from heathrise.core.deriving import Broken
from heathrise.core.job import Job, Link, Pathway
from heathrise.core.library import CableType, Speed, library, limit
from heathrise.core.site.building import Building, named
from heathrise.core.sums import Noun, Sum, SumLine


class Keep(Noun):
    """What becomes of a cable that lies already: it is used, used once a test says so, or retired; and why."""

    verdict: Literal["use", "test", "retire"]
    why: str


class RunPlan(Noun):
    """One run as computed. Lengths of the permanent link, without cords.

    `span_m` is its longest piece that nothing begins anew: all of it where no box stands on its way. `asks_class` is
    the PoE class it asks for where it begins. `next_mbps` is what the generation after asks of it, `carries_next`
    whether the cable carries that too; `bend_mm` how tight it may be bent at rest, and while it is pulled.
    """

    run_id: str
    label: str
    from_id: str
    from_label: str
    to_id: str
    to_label: str
    cable: str
    cable_label: str
    category: str
    legs: tuple[Leg, ...]
    holes: tuple[Hole, ...]
    boxes: tuple[Box, ...]
    asks_class: int
    length_m: float
    span_m: float
    limit_m: float
    hottest_c: float
    holds: bool
    speed_mbps: int
    carries_m: float
    next_mbps: int
    carries_next: bool
    bend_mm: float
    bend_pulled_mm: float
    environments: tuple[str, ...]
    bundle: int
    existing: bool
    keep: Keep | None
    length_sum: Sum
    limit_sum: Sum


class PathwayPlan(Noun):
    """One pathway as computed: the runs in it with what each is across, how full it is where it has a bore, and how
    cables are drawn through it.
    """

    pathway_id: str
    label: str
    run_ids: tuple[str, ...]
    ods_mm: tuple[float, ...]
    bore_mm: float | None
    fill: ConduitFill | None
    sum: Sum | None
    pull: Pull | None


@dataclass(frozen=True)
class Runs:
    """What the later stages and the rules read of the runs."""

    plans: tuple[RunPlan, ...]
    pathways: tuple[PathwayPlan, ...]
    spares: frozenset[str]
    broken: tuple[Broken, ...] = ()

    @cached_property
    def by_id(self) -> dict[str, RunPlan]:
        """Plans by run id."""
        return {plan.run_id: plan for plan in self.plans}


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
    """Return every run and pathway of a job, computed."""
    router = Router(job, building)
    routes = {link.id: route_of(job, router, link) for link in runs_of(job)}
    spares = spares_of(job)
    boxes = boxes_in(job)
    crowd = crowd_of(cells_of(r) for i, r in routes.items() if i not in spares and _is_fed(job, i))
    plans = tuple(
        plan_run(job, link, route, bundles_of(route, crowd), boxes.get(link.id, ()))
        for link, route in ((link, routes[link.id]) for link in runs_of(job))
    )
    pathways = tuple(plan_pathway(pathway, plans) for pathway in job.of(Pathway))
    return Runs(plans, pathways, spares_of(job))


def home_of(job: Job, link: Link) -> str:
    """Return the rack a run starts at, else what it starts at."""
    return job.rack_of(link.a.on) or link.a.on


Cell = tuple[str, int, int, int]


def _is_fed(job: Job, run_id: str) -> bool:
    return poe_class_needed(job, job.get(Link, run_id).b.on) > 0


def cells_of(route: Route) -> tuple[tuple[Cell, ...], ...]:
    """Return the pieces of the building each leg of a route passes through: what shares one lies together."""
    return tuple(_cells(leg) for leg in route.legs)


def _cells(leg: Leg) -> tuple[Cell, ...]:
    near_m = limit("cabling.bundled_m")
    steps = max(1, math.ceil(leg.length_m / near_m))
    shares = [(n + 0.5) / steps for n in range(steps)]
    places = (
        (
            leg.a.x_m + t * (leg.b.x_m - leg.a.x_m),
            leg.a.y_m + t * (leg.b.y_m - leg.a.y_m),
            leg.z0_m + t * (leg.z1_m - leg.z0_m),
        )
        for t in shares
    )
    cut = math.floor
    return tuple((leg.storey_id, cut(x / near_m), cut(y / near_m), cut(z / near_m)) for x, y, z in places)


def crowd_of(ways: Iterable[tuple[tuple[Cell, ...], ...]]) -> Counter[Cell]:
    """Return how many powered runs pass through each piece of the building."""
    return Counter(cell for way in ways for cell in {c for leg in way for c in leg})


def bundles_of(route: Route, crowd: Counter[Cell]) -> tuple[int, ...]:
    """Return how many powered runs lie together on each leg of a route, at the thickest."""
    return tuple(max((crowd[cell] for cell in leg), default=0) for leg in cells_of(route))


def route_of(job: Job, router: Router, link: Link) -> Route:
    """Return the route of a run from end to end."""
    return router.route(link, job.spot(link.a.on), job.spot(link.b.on))


def plan_run(
    job: Job, run: Link, route: Route, bundles: tuple[int, ...], boxes: tuple[Box, ...] = ()
) -> RunPlan:
    """Return one run's length, limit, speed and rating on its route.

    `bundles` says of each leg how many powered runs it lies with: each part warms by its own bundle. `boxes` begin it
    anew on its way.
    """
    cable = cable_of(run)
    legs = tuple(_named(job, leg) for leg in route.legs)
    poe_class = boxes[0].takes_class if boxes else poe_class_needed(job, run.b.on)
    source_w = library().poe_class(poe_class).source_w if poe_class else 0.0
    rises = tuple(bundle_rise_c(source_w, bundle) for bundle in bundles) or (0.0,)
    parts = _parts(legs, rises, run, job)
    length_m = sum(part for part, _, _ in parts)
    warm = [(part, temperature) for part, temperature, _ in parts]
    derate = cord_derate(job)
    heat = sum(part * heat_factor(t, cable.screened) for part, t in warm) / length_m
    reach_m = library().categories[cable.category].reach_m
    limit_m = longest_fixed_m(heat, job.practice.cords_m, derate) if reach_m is None else reach_m
    spans = spans_m(boxes, length_m)
    if reach_m is not None:
        holds = length_m <= reach_m
    elif boxes:
        holds = max(spans) <= limit_m
    else:
        holds = equivalent_length(warm, job.practice.cords_m, derate, cable.screened).ok
    speed = speed_needed(job, run.b.on)
    faster = next_speed(speed)
    return RunPlan(
        run_id=run.id,
        label=run.label,
        from_id=home_of(job, run),
        from_label=label_of(job, home_of(job, run)),
        to_id=run.b.on,
        to_label=label_of(job, run.b.on),
        cable=run.product or "",
        cable_label=cable.label,
        category=cable.category,
        legs=legs,
        holes=route.holes,
        boxes=boxes,
        asks_class=poe_class,
        length_m=round(length_m, 2),
        span_m=round(max(spans), 2),
        limit_m=round(limit_m, 2),
        hottest_c=max(t for _, t in warm),
        holds=holds,
        speed_mbps=speed,
        carries_m=speed_row(cable.category, speed).max_m,
        next_mbps=faster,
        carries_next=carries_over(cable.category, faster, max(spans) + job.practice.cords_m),
        bend_mm=round(bend_mm(cable, "rest"), 1),
        bend_pulled_mm=round(bend_mm(cable, "pulled"), 1),
        environments=tuple(sorted({leg.environment for leg in route.legs})),
        length_sum=_length_sum(run, parts, length_m, limit_m, holds, spans),
        bundle=max(bundles, default=0),
        existing=run.there,
        keep=keep_of(cable, max(spans), speed, job.practice.cords_m) if run.there else None,
        limit_sum=_limit_sum(job, run, cable, heat, limit_m, max(rises), max(bundles, default=0))
        if reach_m is None
        else _reach_sum(run, cable, reach_m),
    )


def _named(job: Job, leg: Leg) -> Leg:
    """Return a leg that names its riser or pathway by its label, where the way knows it by its id."""
    what = named(job, leg.what)
    return leg if what == leg.what else leg.model_copy(update={"what": what})


def cable_of(run: Link) -> CableType:
    """Return the cable of a run. Raises UnknownItem for a run of none."""
    return library().cables[run.product or ""]


def cord_derate(job: Job) -> float:
    """Return by how much cords of the practice's gauge cost more than fixed cable, as a share."""
    return library().cords[str(job.practice.cords_awg)].derate


def _parts(
    legs: tuple[Leg, ...], rises_c: tuple[float, ...], run: Link, job: Job
) -> list[tuple[float, float, str]]:
    """Return (length_m, temperature_c, what) of every fixed part: legs with weave, and loops."""
    weave = limit("cabling.weave")
    parts = [
        (leg.length_m * weave, leg.temperature_c + rise, leg.what)
        for leg, rise in zip(legs, rises_c, strict=False)
    ]
    indoors = job.site.climate.indoors_c + rises_c[0]
    parts.append((limit("cabling.loop_rack_m"), indoors, "loop at the rack"))
    name = "ceiling" if hangs_high(job, run.b.on) else "outlet"
    last_c = parts[-2][1] if len(parts) > 1 else indoors
    parts.append((limit(f"cabling.loop_{name}_m"), last_c, f"loop at the {name}"))
    return parts


def _length_sum(
    run: Link,
    parts: list[tuple[float, float, str]],
    length_m: float,
    limit_m: float,
    ok: bool,
    spans: tuple[float, ...],
) -> Sum:
    whole = SumLine(label="all of it", value=round(length_m, 2), unit="m")
    pieces = tuple(
        SumLine(label=f"span {n}", value=round(span, 2), unit="m") for n, span in enumerate(spans, 1)
    )
    chain = len(spans) > 1
    return Sum(
        label=f"{run.label}: " + ("longest span of its chain" if chain else "length of the permanent link"),
        value=round(max(spans), 2),
        unit="m",
        limit=round(limit_m, 2),
        holds=ok,
        lines=tuple(
            SumLine(label=what, value=round(part, 2), unit="m", note=f"at [[{t:.0f}|C]]")
            for part, t, what in parts
        )
        + ((whole, *pieces) if chain else ()),
        formula="(route + drops) x 1.05 for weave + service loops"
        + ("; cut where a box begins it anew" if chain else ""),
        source="limits: cabling (design values)",
    )


def _limit_sum(
    job: Job, run: Link, cable: CableType, heat: float, limit_m: float, rise_c: float, bundle: int
) -> Sum:
    derate, cords_m = cord_derate(job), job.practice.cords_m
    return Sum(
        label=f"{run.label}: limit for its heat and cords",
        value=round(limit_m, 2),
        unit="m",
        lines=(
            SumLine(label="equivalent length allowed", value=limit("cabling.equivalent_m"), unit="m"),
            SumLine(
                label=f"cords of {job.practice.cords_awg} AWG x {1 + derate:.2f}",
                value=-cords_m * (1 + derate),
                unit="m",
            ),
            SumLine(label="mean heat factor of the fixed parts", value=round(heat, 4), unit=""),
            SumLine(
                label="most rise from PoE", value=rise_c, unit="C", note=f"{bundle} powered runs together"
            ),
            SumLine(label="link rule", value=limit("cabling.permanent_link_m"), unit="m"),
        ),
        formula="min(90, (102 - C (1 + D)) / (1 + k))",
        source=f"ANSI/TIA-568; {'screened' if cable.screened else 'unscreened'} cable",
    )


def _reach_sum(run: Link, cable: CableType, reach_m: float) -> Sum:
    category = library().categories[cable.category]
    line = SumLine(label=f"reach of light in {category.label}", value=reach_m, unit="m")
    return Sum(label=f"{run.label}: limit", value=reach_m, unit="m", lines=(line,), source=category.source)


def plan_pathway(pathway: Pathway, plans: Sequence[RunPlan]) -> PathwayPlan:
    """Return what lies in a pathway: runs whose routes take it, and those put in it by hand."""
    put_in = set(pathway.link_ids)
    inside = [
        plan
        for plan in plans
        if plan.run_id in put_in or any(leg.pathway_id == pathway.id for leg in plan.legs)
    ]
    ids = tuple(plan.run_id for plan in inside)
    cables = [library().cables[plan.cable] for plan in inside]
    ods = tuple(cable.diameter_mm for cable in cables)
    pull = pull_of(pathway, cables)
    if pathway.bore is None:
        return PathwayPlan(
            pathway_id=pathway.id,
            label=pathway.label,
            run_ids=ids,
            ods_mm=ods,
            bore_mm=None,
            fill=None,
            sum=None,
            pull=pull,
        )
    bore = library().bores[pathway.bore]
    fill = conduit_fill(bore.bore_mm, ods)
    lines = [SumLine(label=f"cable {od:g} mm", value=od * od, unit="mm2") for od in ods]
    lines.append(SumLine(label="bore squared", value=round(bore.bore_mm**2, 2), unit="mm2"))
    return PathwayPlan(
        pathway_id=pathway.id,
        label=pathway.label,
        run_ids=ids,
        ods_mm=ods,
        bore_mm=bore.bore_mm,
        fill=fill,
        pull=pull,
        sum=Sum(
            label=f"{pathway.label}: fill",
            value=round(100 * fill.fill, 1),
            unit="%",
            limit=round(100 * fill.limit, 1),
            holds=fill.ok,
            lines=tuple(lines),
            formula="sum of diameters squared / bore squared",
            source="53/31/40 % rule",
        ),
    )


def keep_of(cable: CableType, length_m: float, speed_mbps: int, cords_m: float) -> Keep:
    """Return what becomes of a cable that lies already, by what it is to carry over its channel."""
    row, channel_m = speed_row(cable.category, speed_mbps), length_m + cords_m
    speed = f"{speed_mbps:,} Mb/s"
    if cable.copper_clad:
        return Keep(
            verdict="retire",
            why="Copper-clad aluminium is no category cable: it breaks, and heats under power.",
        )
    if channel_m > row.max_m:
        why = f"It carries {speed} over {row.max_m:g} m at the most; this channel is {channel_m:.0f} m."
        return Keep(verdict="retire", why=why if row.max_m else f"It does not carry {speed} over any length.")
    if row.warn_over_m is not None and channel_m > row.warn_over_m:
        sure = f"surely over {row.warn_over_m:g} m" if row.warn_over_m else "only where a test says so"
        why = f"It carries {speed} {sure}; this channel is {channel_m:.0f} m ({row.note})."
        return Keep(verdict="test", why=why)
    return Keep(verdict="use", why=f"It carries {speed} over this channel. Test it as it lies, then use it.")


def category_that_carries(job: Job, plan: RunPlan) -> str | None:
    """Return a cable that carries the run's speed over its length in its spaces, cheapest first.

    One that conducts for one that does: what is at the ends stays as it is.
    """
    shelf = library().cables
    now = shelf[plan.cable]
    fits = [
        (burns_worse(job, cable), cable.box_price or 0.0, key)
        for key, cable in shelf.items()
        if not cable.copper_clad
        and (cable.conducts, cable.pair_mm2) == (now.conducts, now.pair_mm2)
        and set(plan.environments) <= cable.environments
        and carries(cable.category, plan, job.practice.cords_m)
    ]
    return min(fits)[-1] if fits else None


def burns_worse(job: Job, cable: CableType) -> int:
    """Return by how many classes a cable burns worse than is asked on escape routes; 0 where no class is asked."""
    domain = library().domains[job.site.domain]
    order = domain.fire_classes
    if cable.fire_class not in order or domain.fire_escape is None:
        return 0
    return max(0, order.index(domain.fire_escape) - order.index(cable.fire_class))


def carries(category: str, plan: RunPlan, cords_m: float) -> bool:
    """Return whether a category carries the run's speed over its channel without a condition."""
    return carries_over(category, plan.speed_mbps, plan.span_m + cords_m)


def carries_over(category: str, speed_mbps: int, channel_m: float) -> bool:
    """Return whether a category carries a speed over a channel without a condition."""
    row = speed_row(category, speed_mbps)
    sure_m = row.max_m if row.warn_over_m is None else min(row.max_m, row.warn_over_m)
    return channel_m <= max(sure_m, 0.0)


def next_speed(speed_mbps: int) -> int:
    """Return the next speed of ports over one; the same for the fastest there is. [Mb/s]"""
    return min(
        (row.speed_mbps for row in library().speeds if row.speed_mbps > speed_mbps), default=speed_mbps
    )


def bend_mm(cable: CableType, when: Literal["rest", "pulled"]) -> float:
    """Return the least radius a cable may be bent to. [mm] Source: ANSI/TIA-568: 4 and 8 x its diameter; fibre 10 and 20."""
    kind = "copper" if cable.conducts else "fibre"
    return limit(f"cabling.bend_{kind}_{when}") * cable.diameter_mm
