"""What a careful colleague says of racks: room, weight, fixings, clear space, air, quiet, and running alone."""

from collections.abc import Iterator
from typing import Any

from heathrise.core.cabling.ends import place_of
from heathrise.core.edit import Put
from heathrise.core.job import Equipment, InRack, Job, Link, Rack, derived_id
from heathrise.core.library import library, limit
from heathrise.core.racks.care import RackPlan
from heathrise.core.racks.elevation import Elevation, units_mended
from heathrise.core.racks.patching import PatchList
from heathrise.core.racks.recording import RecordingPlan
from heathrise.core.racks.standby import Standby
from heathrise.core.rule import Fix, Observation, rule
from heathrise.core.units import quantity

RackPlans = tuple[RackPlan, ...]
Standbys = tuple[Standby, ...]
Recordings = tuple[RecordingPlan, ...]


def _of_rack(job: Job, rack: Elevation | Standby | PatchList, **said: Any) -> Observation:
    """Return what is said of a rack, at its place."""
    place = place_of(job, rack.rack_id)
    return Observation(subject_ids=(rack.rack_id,), subject=rack.label, place=place, **said)


def _larger(job: Job, plan: RackPlan) -> tuple[Fix, ...]:
    """Return the fix that takes the next larger rack for what stands in this one."""
    deepest = max((one.depth_mm or 0.0 for one in plan.elevation.items), default=0.0) + limit("rack.plugs_mm")
    fits = [
        (code, model)
        for code, model in library().racks.items()
        if model.height_u >= plan.elevation.used_u
        and model.depth_mm >= deepest
        and model.most_kg >= plan.weight.value
        and model.price is not None
    ]
    if not fits:
        return ()
    code, model = min(fits, key=lambda row: row[1].price or 0.0)
    changed = job.get(Rack, plan.elevation.rack_id).model_copy(update={"model": code})
    return (Fix(label=f"Take {model.label}", operations=(Put(element=changed),)),)


@rule("rack.too-small")
def too_small(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """Something finds no units in its rack."""
    for plan in racks:
        left = [one for one in plan.elevation.items if one.unit is None and one.height_u]
        if left:
            names = ", ".join(one.label for one in left)
            yield _of_rack(
                job,
                plan.elevation,
                value=plan.elevation.used_u,
                limit=plan.elevation.height_u,
                unit="U",
                text=f"{names} {'finds' if len(left) == 1 else 'find'} no room in {plan.elevation.label}: "
                f"{quantity(plan.elevation.used_u, 'U', 0)} are wanted of {quantity(plan.elevation.height_u, 'U', 0)}.",
                advice="Take a larger rack, or a second one.",
                sum=plan.units,
                fixes=_larger(job, plan),
            )


@rule("rack.few-spare-units")
def few_spare_units(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """Less than a quarter of a rack stays blank."""
    for plan in racks:
        of = plan.elevation
        if not plan.units.holds and of.used_u <= of.height_u:
            yield _of_rack(
                job,
                of,
                value=of.used_u,
                limit=plan.units.limit,
                unit="U",
                text=f"{quantity(of.used_u, 'U', 0)} of {quantity(of.height_u, 'U', 0)} in {of.label} are taken; "
                f"{quantity(plan.units.limit or 0.0, 'U', 0)} leave a quarter blank.",
                advice="Take the next larger rack while nothing hangs yet.",
                sum=plan.units,
            )


@rule("rack.clash")
def clash(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """Two things were given the same unit, or one stands out of its rack."""
    for plan in racks:
        wrong = [one for one in plan.elevation.items if one.clashes]
        if wrong:
            names = " and ".join(one.label for one in wrong[:4])
            yield _of_rack(
                job,
                plan.elevation,
                text=f"{names} were given units of {plan.elevation.label} that are taken, or that it has not got.",
                advice="Move one of them in the elevation, or arrange the rack anew.",
                fixes=(
                    Fix(
                        label="Move what clashes to the next free units",
                        operations=units_mended(job, plan.elevation.rack_id),
                    ),
                ),
            )


@rule("rack.too-deep")
def too_deep(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """Something is deeper than its rack, its plugs counted."""
    for plan in racks:
        for one in plan.elevation.items:
            needs = (one.depth_mm or 0.0) + limit("rack.plugs_mm")
            if one.depth_mm is not None and needs > plan.elevation.depth_mm:
                yield Observation(
                    subject_ids=(plan.elevation.rack_id, one.element_id),
                    subject=one.label,
                    value=needs,
                    limit=plan.elevation.depth_mm,
                    unit="mm",
                    text=f"{one.label} takes {quantity(needs, 'mm', 0)} with its plugs; {plan.elevation.label} is "
                    f"{quantity(plan.elevation.depth_mm, 'mm', 0)} deep.",
                    advice="Take a deeper rack, or stand it elsewhere.",
                    place=place_of(job, plan.elevation.rack_id),
                    fixes=_larger(job, plan),
                )


@rule("rack.too-heavy")
def too_heavy(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """A rack carries more than it may."""
    for plan in racks:
        if not plan.weight.holds:
            yield _of_rack(
                job,
                plan.elevation,
                value=plan.weight.value,
                limit=plan.weight.limit,
                unit="kg",
                text=f"{quantity(plan.weight.value, 'kg', 1)} stand in {plan.elevation.label}; it carries "
                f"{quantity(plan.weight.limit or 0.0, 'kg', 0)}.",
                advice="Stand the heaviest on the floor, or take a floor rack.",
                sum=plan.weight,
                fixes=_larger(job, plan),
            )


def _board(job: Job, rack_id: str) -> Fix:
    changed = job.get(Rack, rack_id).model_copy(update={"backing_board": True})
    return Fix(label="Put a backing board behind it", operations=(Put(element=changed),))


@rule("rack.fixings-miss")
def fixings_miss(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """The holes of a wall rack do not meet the studs."""
    for plan in racks:
        found = plan.fixings
        if found.meet is False:
            yield _of_rack(
                job,
                plan.elevation,
                value=found.holes_mm,
                limit=found.studs_mm,
                unit="mm",
                text=f"The holes of {plan.elevation.label} are {quantity(found.holes_mm or 0.0, 'mm', 0)} apart, the "
                f"studs {quantity(found.studs_mm or 0.0, 'mm', 0)}: they do not meet.",
                advice="Screw a backing board to the studs and the rack to the board.",
                fixes=(_board(job, plan.elevation.rack_id),),
            )


@rule("rack.studs-unknown")
def studs_unknown(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """Nobody said what a wall rack is screwed to, and something heavy stands in it."""
    for plan in racks:
        heavy = plan.weight.value >= limit("rack.heavy_kg")
        if plan.fixings.meet is None and heavy:
            yield _of_rack(
                job,
                plan.elevation,
                value=plan.weight.value,
                unit="kg",
                text=f"{plan.elevation.label} carries {quantity(plan.weight.value, 'kg', 1)} and nobody said how far "
                "apart the studs of its wall stand.",
                advice="Find the studs and enter their spacing, or plan a backing board.",
                sum=plan.weight,
                fixes=(_board(job, plan.elevation.rack_id),),
            )


@rule("rack.panel-space")
def panel_space(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """A rack stands in the working space of an electrical panel."""
    yield from _too_near(
        job,
        racks,
        "electrical-panel",
        "stands in the working space before {label}, {deep} deep",
        "Move the rack. The space before a panel stays free for whoever works on it; the local code decides how much.",
        limit("rack.panel_deep_mm"),
    )


@rule("rack.heater")
def heater(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """A rack stands beside or above a water heater."""
    yield from _too_near(
        job,
        racks,
        "heater",
        "stands {gap} from {label}; {deep} keep it from heat and water",
        "Move the rack.",
        limit("rack.heater_mm"),
    )


def _too_near(
    job: Job, racks: RackPlans, kind: str, words: str, advice: str, clear_mm: float
) -> Iterator[Observation]:
    for plan in racks:
        for near in plan.near:
            if near.holds or near.kind != kind:
                continue
            said = words.format(
                label=near.label,
                gap=quantity(max(0.0, near.clear.value), "mm", 0),
                deep=quantity(clear_mm, "mm", 0),
            )
            yield Observation(
                subject_ids=(plan.elevation.rack_id, near.element_id),
                subject=f"{plan.elevation.label} and {near.label}",
                value=max(0.0, near.clear.value),
                limit=clear_mm,
                unit="mm",
                text=f"{plan.elevation.label} {said}.",
                advice=advice,
                place=place_of(job, plan.elevation.rack_id),
            )


@rule("rack.too-warm")
def too_warm(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """A closet gets warmer than what stands in it may be."""
    for plan in racks:
        rise = plan.rise
        if rise is not None and not rise.holds:
            rack = job.get(Rack, plan.elevation.rack_id)
            fan = rack.model_copy(update={"air_m3_h": rack.air_m3_h + _fan_m3_h(plan)})
            yield Observation(
                subject_ids=(rack.id,),
                subject=rack.label,
                value=rise.value,
                limit=rise.limit,
                unit="C",
                text=f"Beside {rack.label} it gets {quantity(rise.value, 'C', 0)} on the hottest day; "
                f"{quantity(rise.limit or 0.0, 'C', 0)} keep a reserve to what is rated least.",
                advice="Let air through the door, plan a fan, or stand it in a larger room.",
                place=place_of(job, rack.id),
                sum=rise,
                fixes=(Fix(label=f"Plan a fan of {fan.air_m3_h:g} m³/h", operations=(Put(element=fan),)),)
                if fan.air_m3_h > rack.air_m3_h
                else (),
            )


def _fan_m3_h(plan: RackPlan) -> float:
    """Return the air that takes the heat away within what is allowed, in steps of 10. [m³/h]"""
    rise = plan.rise
    assert rise is not None
    allowed = (rise.limit or 0.0) - rise.lines[0].value
    if allowed <= 0:
        return 0.0
    passed = rise.lines[2].value
    more = (plan.heat.value / allowed - passed) / limit("rack.air_wh")
    return max(0.0, -(-more // 10) * 10)


@rule("rack.noise")
def noise(job: Job, racks: RackPlans) -> Iterator[Observation]:
    """A rack is heard where people want quiet."""
    for plan in racks:
        for one in plan.quiet:
            if one.holds:
                continue
            yield Observation(
                subject_ids=(plan.elevation.rack_id, one.space_id),
                subject=f"{plan.elevation.label} in {one.label}",
                value=one.level.value,
                limit=one.level.limit,
                unit="dB",
                text=f"{plan.elevation.label} is heard with {quantity(one.level.value, 'dB', 0)} in {one.label}; "
                f"{quantity(one.level.limit or 0.0, 'dB', 0)} is quiet enough there.",
                advice="Take models without fans, or stand it elsewhere.",
                place=place_of(job, plan.elevation.rack_id),
                sum=one.level,
            )


@rule("standby.too-short")
def too_short(job: Job, alone: Standbys) -> Iterator[Observation]:
    """A rack runs alone for less than was asked."""
    for rack in alone:
        best = rack.ways[0] if rack.ways else None
        if not rack.wants_min or (best is not None and best.holds):
            continue
        lasts = best.minutes.value if best is not None else 0.0
        has = f"its battery keeps everything for {quantity(lasts, 'min', 0)}" if best else "it has no battery"
        yield _of_rack(
            job,
            rack,
            value=lasts,
            limit=rack.wants_min,
            unit="min",
            text=f"{rack.label} is to run {quantity(rack.wants_min, 'min', 0)} alone; {has}.",
            advice="Take a larger supply, or keep less of it on.",
            sum=best.minutes if best is not None else None,
            fixes=_supply(job, rack),
        )


def _supply(job: Job, rack: Standby) -> tuple[Fix, ...]:
    """Return the fix that puts the cheapest supply that lasts into a rack, in place of what stands there."""
    if rack.advised is None:
        return ()
    model = job.equipment[rack.advised]
    there = [
        thing
        for thing in job.of(Equipment)
        if isinstance(thing.place, InRack)
        and thing.place.rack_id == rack.rack_id
        and job.equipment[thing.model].keeps_running
    ]
    if there:
        put = Put(element=there[0].model_copy(update={"model": rack.advised}))
        return (Fix(label=f"Take {model.label} instead", operations=(put,)),)
    label = _free_label(job, "UPS")
    added = Equipment(
        id=derived_id(rack.rack_id, "supply"),
        label=label,
        model=rack.advised,
        place=InRack(rack_id=rack.rack_id),
    )
    return (Fix(label=f"Add {model.label}", operations=(Put(element=added),)),)


@rule("standby.overloaded")
def overloaded(job: Job, alone: Standbys) -> Iterator[Observation]:
    """A battery is asked for more watts than it gives."""
    for rack in alone:
        best = rack.ways[0] if rack.ways else None
        if best is not None and not best.load.holds:
            yield _of_rack(
                job,
                rack,
                value=best.load.value,
                limit=best.load.limit,
                unit="W",
                text=f"{rack.label} asks its battery for {quantity(best.load.value, 'W', 0)}; it gives "
                f"{quantity(best.load.limit or 0.0, 'W', 0)}.",
                advice="Take a larger one, or put only what must run on it.",
                sum=best.load,
                fixes=_supply(job, rack),
            )


@rule("storage.too-small")
def disks_too_small(job: Job, recording: Recordings) -> Iterator[Observation]:
    """A recorder keeps fewer days than was asked."""
    for one in recording:
        if one.needs.holds:
            continue
        text = (
            f"{one.label} must hold {quantity(one.needs.value, 'TB')} for {one.days} days; its disks hold "
            f"{quantity(one.usable.value, 'TB')}"
        )
        yield Observation(
            subject_ids=(one.element_id,),
            subject=one.label,
            value=one.needs.value,
            limit=one.usable.value,
            unit="TB",
            text=f"{text}{f' ({one.says})' if one.says else ''}.",
            advice="Take larger disks, record only movement, or keep fewer days; the local privacy law may ask for fewer.",
            place=place_of(job, one.element_id),
            sum=one.needs,
        )


@rule("storage.too-many-cameras")
def too_many_cameras(job: Job, recording: Recordings) -> Iterator[Observation]:
    """More cameras have a cable than a recorder takes."""
    for one in recording:
        if one.cameras.limit is None or one.cameras.holds:
            continue
        yield Observation(
            subject_ids=(one.element_id,),
            subject=one.label,
            value=one.cameras.value,
            limit=one.cameras.limit,
            unit="cameras",
            text=f"{quantity(one.cameras.value, 'cameras', 0)} have a cable; {one.label} records "
            f"{quantity(one.cameras.limit, '', 0)}.",
            advice="Take a larger recorder, or a second one.",
            place=place_of(job, one.element_id),
            sum=one.cameras,
        )


@rule("ports.no-landing")
def no_landing(job: Job, patches: tuple[PatchList, ...]) -> Iterator[Observation]:
    """Cables find no port on the panels of their rack, or were given one that another has."""
    for rack in patches:
        if not rack.unlanded:
            continue
        names = ", ".join(job.by_id[run_id].label for run_id in rack.unlanded[:6])
        more = f" and {len(rack.unlanded) - 6} more" if len(rack.unlanded) > 6 else ""
        yield _of_rack(
            job,
            rack,
            value=len(rack.unlanded),
            limit=0,
            unit="cables",
            text=f"{names}{more} {'finds' if len(rack.unlanded) == 1 else 'find'} no port of their own on a panel in "
            f"{rack.label}.",
            advice="Add a panel, plug them straight in, or give another port to the one that shares its own.",
            fixes=_panel(job, rack),
        )


def _panel(job: Job, rack: PatchList) -> tuple[Fix, ...]:
    """Return the fix that adds the cheapest panel with enough ports, where runs wait for one."""
    waiting = [run for run in job.of(Link) if run.id in rack.unlanded and run.a.panel is None]
    fits = [
        (code, model)
        for code, model in job.equipment.items()
        if model.lands_cables and model.price is not None and len(model.port_list) >= len(waiting)
    ]
    if not waiting or not fits:
        return ()
    code, model = min(fits, key=lambda row: row[1].price or 0.0)
    label = _free_label(job, "PP")
    added = Equipment(
        id=derived_id(rack.rack_id, f"panel {label}"),
        label=label,
        model=code,
        place=InRack(rack_id=rack.rack_id),
    )
    return (Fix(label=f"Add {model.label}, {model.price:,.0f}", operations=(Put(element=added),)),)


def _free_label(job: Job, stem: str) -> str:
    used = {thing.label for thing in job.of(Equipment)}
    return next(name for name in (f"{stem}{n}" for n in range(1, 100_000)) if name not in used)
