"""The kit list and the hours of a job, counted from the model."""

import math
from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

from heathrise.core.cabling.cutting import boxes_needed, cuts_by_cable
from heathrise.core.cabling.drilling import drill_list
from heathrise.core.cabling.runs import PathwayPlan, Runs
from heathrise.core.job import (
    AccessPoint,
    Equipment,
    InLine,
    InRack,
    Job,
    Network,
    OnSheet,
    Pathway,
    Rack,
    Space,
    Storey,
)
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.library.packs import packed_price
from heathrise.core.sums import Noun, Sum, SumLine

_PANEL_PORTS = 24
# How many patch cords of each length the patches want, by length. [m]
Cords = Mapping[float, int]
NO_CORDS: Cords = {}
_RUNS_PER_LABEL_ROLL = 50


class KitLine(Noun):
    """One line of the bill of materials. `order` is `need` with spares, rounded to packs."""

    group: str
    item: str
    label: str
    need: float
    unit: str
    spare: int
    pack: float
    packed: float | None = None
    order: int
    each: float | None
    cost: float | None
    why: str


class HoursLine(Noun):
    """One line of the hours."""

    label: str
    count: float
    per: str
    each_h: float
    hours: float


@dataclass(frozen=True)
class Kit:
    """What the order stage shows and the ledger sums."""

    lines: tuple[KitLine, ...]
    hours: tuple[HoursLine, ...]
    cost_sum: Sum
    hours_sum: Sum


def _piece(group: str, item: str, label: str, count: int, price: float | None, why: str) -> KitLine:
    return KitLine(
        group=group,
        item=item,
        label=label,
        need=count,
        unit="pieces",
        spare=0,
        pack=1,
        order=count,
        each=price,
        cost=None if price is None else round(price * count, 2),
        why=why,
    )


def _packed(group: str, item: str, need: int, why: str) -> KitLine:
    """Return a line for a small part: need plus a twentieth, rounded up to packs."""
    part = library().parts[item]
    spare = math.ceil(need * limit("order.spare_share")) if part.pack > 1 else 0
    packs = math.ceil((need + spare) / part.pack)
    return KitLine(
        group=group,
        item=item,
        label=part.label,
        need=need,
        unit="pieces",
        spare=packs * part.pack - need,
        pack=part.pack,
        order=packs,
        each=None if part.price is None else part.price * part.pack,
        cost=None if part.price is None else round(part.price * part.pack * packs, 2),
        why=why,
    )


def spare_points(count: int) -> int:
    """Return spare access points: one per 15 begun, from 8 on."""
    if count < limit("order.points_before_spare"):
        return 0
    return math.ceil(count / limit("order.points_per_spare"))


def _points(job: Job) -> list[KitLine]:
    counts = Counter(point.model for point in job.of(AccessPoint))
    spares = spare_points(sum(counts.values()))
    lines = []
    for index, (key, count) in enumerate(counts.most_common()):
        model = job.equipment[key]
        extra = spares if index == 0 else 0
        line = _piece("Air", key, model.label, count + extra, model.price, "access points placed")
        line = line.model_copy(update={"need": count, "spare": extra})
        lines.append(_in_packs(line, model))
    return lines


def _in_packs(line: KitLine, model: EquipmentModel) -> KitLine:
    """Return a line at the least price of pieces and packs together."""
    if not model.packs or line.each is None:
        return line
    least = packed_price(line.order, line.each, model.packs)
    sizes = ", ".join(str(pack.count) for pack in model.packs)
    why = f"{line.why}; packs of {sizes} taken where cheaper" if least < (line.cost or 0.0) else line.why
    return line.model_copy(update={"cost": least, "why": why})


def _placed(job: Job, where: type[OnSheet] | type[InRack] | type[InLine]) -> Counter[str]:
    """Return how many of each model stand in a kind of place, in the order of the equipment."""
    return Counter(thing.model for thing in job.of(Equipment) if isinstance(thing.place, where))


def _equipment(job: Job) -> list[KitLine]:
    lines = [
        *_models(job, OnSheet, "Fixed things", "devices placed"),
        *_models(job, InRack, "Rack", "in racks"),
    ]
    for key, count in Counter(r.model for r in job.of(Rack)).items():
        rack = library().racks[key]
        lines.append(_piece("Rack", key, rack.label, count, rack.price, "racks marked"))
    lines += _models(job, InLine, "Rack", "on the way of a run")
    lines += _comes_with(job)
    return [*lines, *_gateway(job)] if job.of(Rack) else lines


def _models(
    job: Job, where: type[OnSheet] | type[InRack] | type[InLine], group: str, why: str
) -> list[KitLine]:
    shelf = job.equipment
    return [
        _piece(group, key, shelf[key].label, count, shelf[key].price, why)
        for key, count in _placed(job, where).items()
    ]


def _comes_with(job: Job) -> list[KitLine]:
    """Return the parts that models always take."""
    wanted: Counter[str] = Counter()
    for thing in job.of(Equipment):
        wanted.update(job.equipment[thing.model].comes_with)
    return [_packed("Fixed things", part, count, "with what it is for") for part, count in wanted.items()]


def _gateway(job: Job) -> list[KitLine]:
    """Return the gateway, and a controller of its own where the practice or the size wants one."""
    points = len(job.of(AccessPoint))
    placed = [job.equipment[thing.model] for thing in job.of(Equipment)]
    # One that stands elsewhere brings a service of its own and is no gateway of this network.
    racked = [job.equipment[thing.model] for thing in job.of(Equipment) if job.rack_of(thing.id)]
    routes = any(model.forwards == "route" for model in racked)
    controls = any(model.controls for model in placed)
    small = points < limit("order.all_in_one_points")
    if job.practice.gateway == "by-size" and small:
        why = f"gateway and controller in one for {points} points"
        return [] if routes else [_packed("Rack", "gateway", 1, why)]
    why = "practice: separate" if job.practice.gateway == "separate" else f"{points} points"
    lacking = [name for name, there in (("gateway", routes), ("controller", controls)) if not there]
    return [_packed("Rack", name, 1, why) for name in lacking]


def _cable(runs: Runs) -> list[KitLine]:
    metres: dict[str, float] = defaultdict(float)
    new = [plan for plan in runs.plans if not plan.existing]
    counts = Counter(plan.cable for plan in new)
    for plan in new:
        metres[plan.cable] += plan.length_m
    lines = []
    cuts = cuts_by_cable(new)
    for key, length in metres.items():
        cable = library().cables[key]
        boxes = boxes_needed(cable, cuts[key])
        price = cable.box_price
        lines.append(
            KitLine(
                group="Cable",
                item=key,
                label=cable.label,
                need=round(length, 1),
                unit="m",
                spare=int(boxes * cable.box_m - length),
                pack=cable.box_m,
                order=boxes,
                each=price,
                cost=None if price is None else round(boxes * price, 2),
                why=f"{counts[key]} runs, each in one piece, longest first",
            )
        )
    return lines


def _ends(job: Job, runs: Runs, cords: Cords) -> list[KitLine]:
    lines = []
    plugs = job.practice.device_end == "plug"
    # What lies already has its ends; it still wants cords.
    new = [plan for plan in runs.plans if not plan.existing]
    for category, count in sorted(Counter(plan.category for plan in new).items()):
        jacks, why = (count, "one at the rack") if plugs else (2 * count, "two ends a run")
        lines.append(_packed("Ends", library().categories[category].jack, jacks, why))
    if plugs and new:
        lines.append(_packed("Ends", "plug-field", len(new), "house practice: field plug at the device"))
    total = len(runs.plans)
    if not total:
        return lines
    by_rack = Counter(plan.from_id for plan in runs.plans if job.rack_of(plan.from_id))
    wanted = sum(math.ceil(n / _PANEL_PORTS) for n in by_rack.values() if n > _panel_above(job))
    # Panels that stand in a rack already are bought with what stands there.
    panels = max(0, wanted - _panels_placed(job))
    if panels:
        lines.append(_packed("Ends", "panel-24", panels, f"house practice: panel {job.practice.panel}"))
    lines += _cords(total, cords)
    if job.practice.device_end == "jack":
        lines.append(_packed("Ends", "cord-device", total, "one a run at the device"))
    outlets = sum("outlet" in job.equipment[thing.model].mounts for thing in job.of(Equipment))
    if outlets:
        lines.append(_packed("Ends", "box-surface", outlets, "one an outlet"))
    lines.append(_packed("Ends", "labels", math.ceil(total / _RUNS_PER_LABEL_ROLL), "four labels a run"))
    holes = len(drill_list(job, runs.plans).holes)
    if holes:
        each = limit("cabling.holes_a_cartridge")
        why = f"a cartridge per {each:g} holes; what holds fire back takes a rated system"
        lines.append(_packed("Ends", "firestop", math.ceil(holes / each), why))
    return lines


def _cords(total: int, cords: Cords) -> list[KitLine]:
    """Return patch cords at the racks: those the patches want by length, a usual one for each run beside them."""
    lines = []
    left = total - sum(cords.values())
    if left > 0:
        lines.append(_packed("Ends", "cord-rack", left, "one a run at the rack"))
    for code, cord in library().patch_cords.items():
        count = cords.get(cord.length_m, 0)
        if count:
            label = f"Patch cord {cord.length_m:g} m"
            lines.append(_piece("Ends", code, label, count, cord.price, "from panel to switch, as patched"))
    return lines


def _panels_placed(job: Job) -> int:
    """Return how many panels of the usual size what stands in racks comes to."""
    models = (job.equipment[thing.model] for thing in job.of(Equipment))
    return sum(len(model.port_list) for model in models if model.lands_cables) // _PANEL_PORTS


def _panel_above(job: Job) -> float:
    """Return the number of runs in a rack above which it gets a panel."""
    return {"always": 0.0, "never": math.inf, "above-8": limit("order.panel_above_runs")}[job.practice.panel]


def _unpriced(lines: list[KitLine]) -> tuple[SumLine, ...]:
    """Return a line that names what has no price: the sum is not complete without it."""
    names = [f"{line.label} x {line.order:g}" for line in lines if line.cost is None]
    if not names:
        return ()
    return (SumLine(label="without a price", value=len(names), unit="lines", note="; ".join(names)),)


def _kept(job: Job) -> list[KitLine]:
    """Return what the client keeps: bought for nothing, counted so that nobody buys it again."""
    keeps = job.practice.old_kit == "keep"
    lines = []
    for item in job.brief.kept:
        stays = keeps and item.serves
        why = "kept: it serves its need" if stays else "to be replaced: price it as new kit"
        line = _piece(
            "Kept" if stays else "Replaced", "kept", item.what, item.count, 0.0 if stays else None, why
        )
        lines.append(line.model_copy(update={"order": 0}) if stays else line)
    return lines


def _pathways(job: Job, runs: Runs) -> list[KitLine]:
    """Return the pathways to be made: their drawn length, else the outdoor part of what was put in them."""
    plans = {plan.pathway_id: plan for plan in runs.pathways}
    lines = []
    for pathway in job.of(Pathway):
        if pathway.there:
            continue
        lines += _through(pathway, plans[pathway.id])
        if pathway.bore is None:
            continue
        bore = library().bores[pathway.bore]
        need = math.ceil(max(_drawn_m(pathway), *_outdoor_m(runs, plans[pathway.id].run_ids), 3.0))
        line = _piece("Cable", pathway.bore, bore.label, need, bore.price_per_m, pathway.label)
        lines.append(line.model_copy(update={"unit": "m"}))
    return lines


def _through(pathway: Pathway, plan: PathwayPlan) -> list[KitLine]:
    """Return what a new pathway takes beside its tube: a tray by the metre, boxes to pull from, a cord left in it."""
    if pathway.pathway_kind == "tray" and pathway.path:
        line = _packed("Cable", "tray-m", math.ceil(_drawn_m(pathway)), pathway.label)
        return [line.model_copy(update={"unit": "m"})]
    if plan.pull is None:
        return []
    cord = _packed("Cable", "draw-cord", 1, f"left in {pathway.label} for the next cable")
    boxes = len(plan.pull.boxes)
    far_m, bends = limit("cabling.pull_point_m"), limit("cabling.pull_bends")
    why = f"{pathway.label}: none further than {far_m:g} m or {bends:g} right angles apart"
    return [cord, *([_packed("Cable", "pull-box", boxes, why)] if boxes else [])]


def _drawn_m(pathway: Pathway) -> float:
    return sum(math.hypot(b.x_m - a.x_m, b.y_m - a.y_m) for a, b in pairwise(pathway.path))


def _outdoor_m(runs: Runs, run_ids: tuple[str, ...]) -> list[float]:
    legs = [runs.by_id[run_id].legs for run_id in run_ids]
    return [sum(leg.length_m for leg in some if leg.environment == "outdoor") for some in legs]


def _hours(job: Job, runs: Runs) -> list[HoursLine]:
    points, spaces = len(job.of(AccessPoint)), len(job.of(Space))
    things, racked = _placed(job, OnSheet).total(), _placed(job, InRack).total()
    new = [plan for plan in runs.plans if not plan.existing]
    metres = sum(plan.length_m for plan in new)
    counts: tuple[tuple[str, float], ...] = (
        ("survey", 1),
        ("bench" if job.practice.preparation == "bench" else "prepare-site", points + racked),
        ("pull", round(metres, 1)),
        ("terminate", len(new)),
        ("mount-point", points),
        ("mount-device", things),
        ("rack", len(job.of(Rack))),
        ("switch", racked),
        ("configure", len(job.of(Network))),
        ("walk", spaces),
        ("hand-over", 1),
    )
    lines = []
    for key, count in counts:
        row = library().labour[key]
        lines.append(
            HoursLine(
                label=row.label,
                count=count,
                per=row.per,
                each_h=row.hours,
                hours=round(count * row.hours, 2),
            )
        )
    drilled = Counter((one.through, one.hours) for one in drill_list(job, runs.plans).holes)
    for (name, hours), holes in drilled.items():
        if hours:
            lines.append(
                HoursLine(
                    label=f"Drill {name.lower()}",
                    count=holes,
                    per="hole",
                    each_h=hours,
                    hours=round(holes * hours, 2),
                )
            )
    return [line for line in lines if line.count]


def count_kit(job: Job, runs: Runs, cords: Cords = NO_CORDS) -> Kit:
    """Return the bill of materials and the hours of a job."""
    counted = [
        *_points(job),
        *_equipment(job),
        *_cable(runs),
        *_pathways(job, runs),
        *_ends(job, runs, cords),
        *_kept(job),
    ]
    lines = [line.model_copy(update={"packed": line.pack}) if line.pack > 1 else line for line in counted]
    hours = _hours(job, runs) if job.of(Storey) else []
    currency = job.practice.currency
    cost = round(sum(line.cost or 0.0 for line in lines), 2)
    unknown = sum(line.cost is None for line in lines)
    total_h = round(sum(line.hours for line in hours), 1)
    budget = job.brief.budget
    cost_lines = [
        SumLine(label=f"{line.label} x {line.order:g}", value=line.cost, unit=currency)
        for line in lines
        if line.cost is not None
    ]
    hour_lines = [SumLine(label=line.label, value=line.hours, unit="h") for line in hours]
    return Kit(
        tuple(lines),
        tuple(hours),
        Sum(
            label=f"Kit, at least: {unknown} prices unknown" if unknown else "Kit",
            value=cost,
            unit=currency,
            limit=budget,
            holds=budget is None or (cost <= budget and not unknown),
            lines=(*cost_lines, *_unpriced(lines)),
            formula="sum of packs x price",
            source="library: prices (own values, before tax)",
        ),
        Sum(
            label="Hours",
            value=total_h,
            unit="h",
            lines=tuple(hour_lines),
            formula="sum of count x own rate",
            source="library: labour (own rates)",
        ),
    )
