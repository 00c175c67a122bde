"""What a job needs, item by item, and what each is counted from; before spares, packs and prices."""

import math
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

from heathrise.core.cabling.cutting import boxes_needed, cuts_by_cable
from heathrise.core.cabling.runs import PathwayPlan, RunPlan, Runs
from heathrise.core.job import AccessPoint, Equipment, InLine, InRack, Job, OnSheet, Pathway, Rack
from heathrise.core.library import library, limit
from heathrise.core.ordering.counting import COUNTERS, Counted, Counting

_PANEL_PORTS = 24
# How many patch cords of each length the patches want, by length. [m]
Cords = Mapping[float, int]


class KitNeed(NamedTuple):
    """So much of an item, and what it is counted from. `spare` is what is bought beside it, `boxes` how many packs of
    `pack` it takes where that is not its length over the pack's, `kept` what the client has of it.
    """

    group: str
    item: str
    label: str
    unit: str
    counted: tuple[Counted, ...]
    why: str
    spare: int = 0
    pack: float = 1
    boxes: int | None = None
    kept: int = 0

    @property
    def amount(self) -> float:
        """How much is needed."""
        return round(sum(count for _, count in self.counted), 1)


def needs(counting: Counting, cords: Cords) -> tuple[KitNeed, ...]:
    """Return everything a job needs, in the order of the list."""
    job, runs = counting.job, counting.runs
    found = [
        *_points(job),
        *_equipment(job),
        *_cable(counting.new_runs),
        *_pathways(job, runs),
        *_ends(job, counting, cords),
        *_consumables(counting),
    ]
    return tuple(_together(_with_kept(job, need) for need in found))


def _together(found: Iterable[KitNeed]) -> list[KitNeed]:
    """Return needs of one item in one group as one, where each comes first."""
    kept: dict[tuple[str, str], KitNeed] = {}
    for need in found:
        before = kept.get((need.group, need.item))
        kept[need.group, need.item] = (
            need
            if before is None
            else before._replace(
                counted=(*before.counted, *need.counted),
                why="; ".join(dict.fromkeys((before.why, need.why))),
                spare=before.spare + need.spare,
            )
        )
    return [
        need._replace(spare=part_spares(need.item, need.amount)) if need.item in library().parts else need
        for need in kept.values()
    ]


def part_spares(item: str, need: float) -> int:
    """Return spares of a small part: the larger of a twentieth and one bag of what is spoilt in the hand."""
    part = library().parts[item]
    share = math.ceil(need * limit("order.spare_share"))
    return {"none": 0, "share": share, "bag": max(share, part.pack)}[part.spare]


def _with_kept(job: Job, need: KitNeed) -> KitNeed:
    """Return a need with what the client has of it and keeps."""
    if job.practice.old_kit != "keep":
        return need
    there = sum(kept.count for kept in job.brief.kept if kept.serves and kept.item == need.item)
    return need._replace(kept=min(there, math.ceil(need.amount))) if there else need


def spare_points(count: int) -> int:
    """Return spare access points: one per 15 begun, from 8 on."""
    if count < limit("order.points_before_spare"):
        return 0
    return math.ceil(count / limit("order.points_per_spare"))


def _points(job: Job) -> Iterator[KitNeed]:
    by_model: dict[str, list[Counted]] = defaultdict(list)
    for point in job.of(AccessPoint):
        by_model[point.model].append((point.label, 1))
    spares = spare_points(len(job.of(AccessPoint)))
    ranked = sorted(by_model.items(), key=lambda pair: -len(pair[1]))
    for n, (code, counted) in enumerate(ranked):
        label = job.equipment[code].label
        yield KitNeed(
            "Air", code, label, "pieces", tuple(counted), "access points placed", 0 if n else spares
        )


def _placed(job: Job, where: type[OnSheet] | type[InRack] | type[InLine]) -> dict[str, tuple[Counted, ...]]:
    """Return what stands in a kind of place by its model, in the order of the equipment."""
    found: dict[str, list[Counted]] = defaultdict(list)
    for thing in job.of(Equipment):
        if isinstance(thing.place, where):
            found[thing.model].append((thing.label, 1))
    return {code: tuple(counted) for code, counted in found.items()}


def _equipment(job: Job) -> Iterator[KitNeed]:
    yield from _models(job, OnSheet, "Fixed things", "devices placed")
    yield from _models(job, InRack, "Rack", "in racks")
    racks: dict[str, list[Counted]] = defaultdict(list)
    for rack in job.of(Rack):
        racks[rack.model].append((rack.label, 1))
    for code, counted in racks.items():
        yield KitNeed("Rack", code, library().racks[code].label, "pieces", tuple(counted), "racks marked")
    yield from _models(job, InLine, "Rack", "on the way of a run")
    yield from _comes_with(job)
    if job.of(Rack):
        yield from _gateway(job)


def _models(
    job: Job, where: type[OnSheet] | type[InRack] | type[InLine], group: str, why: str
) -> Iterator[KitNeed]:
    for code, counted in _placed(job, where).items():
        yield KitNeed(group, code, job.equipment[code].label, "pieces", counted, why)


def _part(group: str, item: str, counted: Iterable[Counted], why: str, unit: str = "pieces") -> KitNeed:
    part = library().parts[item]
    return KitNeed(group, item, part.label, unit, tuple(counted), why, pack=part.pack)


def _comes_with(job: Job) -> Iterator[KitNeed]:
    """Yield the parts that models always take."""
    wanted: dict[str, list[Counted]] = defaultdict(list)
    for thing in job.of(Equipment):
        for part in job.equipment[thing.model].comes_with:
            wanted[part].append((thing.label, 1))
    for part, counted in wanted.items():
        yield _part("Fixed things", part, counted, "with what it is for")


def _gateway(job: Job) -> Iterator[KitNeed]:
    """Yield the gateway, and a controller of its own where the practice or the size wants one."""
    points = len(job.of(AccessPoint))
    placed = [job.equipment[thing.model] for thing in job.of(Equipment)]
    # One that stands elsewhere brings a service of its own and is no gateway of this network.
    racked = [job.equipment[thing.model] for thing in job.of(Equipment) if job.rack_of(thing.id)]
    routes = any(model.forwards == "route" for model in racked)
    controls = any(model.controls for model in placed)
    if job.practice.gateway == "by-size" and points < limit("order.all_in_one_points"):
        if not routes:
            yield _part(
                "Rack", "gateway", [("the site", 1)], f"gateway and controller in one for {points} points"
            )
        return
    why = "practice: separate" if job.practice.gateway == "separate" else f"{points} points"
    for name, there in (("gateway", routes), ("controller", controls)):
        if not there:
            yield _part("Rack", name, [("the site", 1)], why)


def _cable(new: Sequence[RunPlan]) -> Iterator[KitNeed]:
    metres: dict[str, list[Counted]] = defaultdict(list)
    for plan in new:
        metres[plan.cable].append((plan.label, plan.length_m))
    cuts = cuts_by_cable(new)
    for code, counted in metres.items():
        cable = library().cables[code]
        yield KitNeed(
            "Cable",
            code,
            cable.label,
            "m",
            tuple(counted),
            f"{len(counted)} runs, each in one piece, longest first",
            pack=cable.box_m,
            boxes=boxes_needed(cable, cuts[code]),
        )


def _ends(job: Job, counting: Counting, cords: Cords) -> Iterator[KitNeed]:
    runs, new = counting.runs, counting.new_runs
    plugs = job.practice.device_end == "plug"
    # What lies already has its ends; it still wants cords.
    by_category: dict[str, list[RunPlan]] = defaultdict(list)
    for plan in new:
        by_category[plan.category].append(plan)
    for category, plans in sorted(by_category.items()):
        each, why = (1, "one at the rack") if plugs else (2, "two ends a run")
        jack = library().categories[category].jack
        yield _part("Ends", jack, [(plan.label, each) for plan in plans], why)
    if plugs and new:
        yield _part(
            "Ends", "plug-field", [(p.label, 1) for p in new], "house practice: field plug at the device"
        )
    yield from _panels(job, runs)
    yield from _cords(runs, cords)


def _panels(job: Job, runs: Runs) -> Iterator[KitNeed]:
    """Yield panels beside those that stand in a rack already, which are bought with what stands there."""
    by_rack = Counter(plan.from_id for plan in runs.plans if job.rack_of(plan.from_id))
    wanted = sum(math.ceil(n / _PANEL_PORTS) for n in by_rack.values() if n > _panel_above(job))
    models = (job.equipment[thing.model] for thing in job.of(Equipment))
    placed = sum(len(model.port_list) for model in models if model.lands_cables) // _PANEL_PORTS
    if wanted > placed:
        why = f"house practice: panel {job.practice.panel}"
        yield _part("Ends", "panel-24", [("runs at racks", wanted - placed)], why)


def _panel_above(job: Job) -> float:
    """Return the number of runs in a rack above which it gets a panel."""
    return {"always": 0.0, "never": math.inf, "above-8": limit("order.panel_above_runs")}[job.practice.panel]


def _cords(runs: Runs, cords: Cords) -> Iterator[KitNeed]:
    """Yield patch cords at the racks: those the patches want by length, a usual one for each run beside them."""
    left = len(runs.plans) - sum(cords.values())
    if left > 0:
        yield _part("Ends", "cord-rack", [("runs without a patch yet", left)], "one a run at the rack")
    for code, cord in library().patch_cords.items():
        count = cords.get(cord.length_m, 0)
        if count:
            label = f"Patch cord {cord.length_m:g} m"
            why = "from panel to switch, as patched"
            yield KitNeed("Ends", code, label, "pieces", (("patches of this length", count),), why)


def _consumables(counting: Counting) -> Iterator[KitNeed]:
    """Yield what is used up, by the library's list."""
    for row in library().consumables.values():
        each = row.count / limit(row.share_limit) if row.share_limit else row.count
        counted = tuple((name, round(count * each, 3)) for name, count in COUNTERS[row.per](counting))
        if counted:
            need = _part("Small parts", row.part, counted, row.why)
            whole = math.ceil(sum(count for _, count in counted) - 1e-6)
            rest = whole - sum(count for _, count in counted)
            yield need._replace(counted=(*counted, ("rounded up", round(rest, 3)))) if rest > 1e-3 else need


def _pathways(job: Job, runs: Runs) -> Iterator[KitNeed]:
    """Yield the pathways to be made: their drawn length, else the outdoor part of what was put in them."""
    plans = {plan.pathway_id: plan for plan in runs.pathways}
    for pathway in job.of(Pathway):
        if pathway.there:
            continue
        yield from _through(pathway, plans[pathway.id])
        if pathway.bore is not None:
            need = math.ceil(max(pathway.length_m, *_outdoor_m(runs, plans[pathway.id].run_ids), 3.0))
            label = library().bores[pathway.bore].label
            yield KitNeed("Cable", pathway.bore, label, "m", ((pathway.label, need),), "pathways to make")


def _through(pathway: Pathway, plan: PathwayPlan) -> Iterator[KitNeed]:
    """Yield what a new pathway takes beside its tube: a tray by the metre, boxes to pull from, a cord left in it."""
    if pathway.pathway_kind == "tray" and pathway.path:
        yield _part("Cable", "tray-m", [(pathway.label, math.ceil(pathway.length_m))], "trays to make", "m")
        return
    if plan.pull is None:
        return
    yield _part("Cable", "draw-cord", [(pathway.label, 1)], "left in each for the next cable")
    boxes = len(plan.pull.boxes)
    if boxes:
        far_m, bends = limit("cabling.pull_point_m"), limit("cabling.pull_bends")
        why = f"none further than {far_m:g} m or {bends:g} right angles apart"
        yield _part("Cable", "pull-box", [(pathway.label, boxes)], why)


def _outdoor_m(runs: Runs, run_ids: tuple[str, ...]) -> list[float]:
    legs = [runs.by_id[run_id].legs for run_id in run_ids]
    return [sum(leg.length_m for leg in some if leg.environment == "outdoor") for some in legs]
