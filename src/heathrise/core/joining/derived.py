"""The ways to one thing, worked out from a job when somebody asks for them."""

import math

import numpy as np

from heathrise.core.cabling.defaults import default_cable, nearest_rack, new_run, wanting
from heathrise.core.cabling.derived import router, spares
from heathrise.core.cabling.ends import runs_of
from heathrise.core.cabling.runs import RunPlan, plan_run, route_of
from heathrise.core.deriving import Look
from heathrise.core.edit import EditError
from heathrise.core.job import BANDS, AccessPoint, End, Equipment, Job, Link, Rack
from heathrise.core.job.view import job_of
from heathrise.core.joining import bridging, copper, fibre, others, wireless
from heathrise.core.joining.bridged import bridge_into, rack_before
from heathrise.core.joining.case import Case, Heard
from heathrise.core.joining.choosing import CHOOSERS
from heathrise.core.joining.way import Way, ways_of
from heathrise.core.library import library, limit
from heathrise.core.links.span import Span, span_between
from heathrise.core.radio.air import radio_rows, scene
from heathrise.core.site.building import Building
from heathrise.core.site.derived import brief, building
from heathrise.core.sums import Noun, Sum, SumLine

# Read so that their ways are registered.
KINDS = (bridging, copper, fibre, others, wireless)
_SEEN_AT = BANDS.index("5")
Thing = AccessPoint | Equipment


class Ways(Noun):
    """All ways to one thing, the best first; what it needs, and the houses it and its rack stand in.

    `taken` is the way it is reached by now; `choosable` are those that can be put into the job by one press.
    """

    thing_id: str
    label: str
    need: Sum
    houses: tuple[str, ...]
    ways: tuple[Way, ...]
    taken: str | None
    choosable: tuple[str, ...]


def ways_to(look: Look, thing_id: str) -> Ways:
    """Return all ways by which data may reach a thing on the sheet.

    Raises
    ------
    EditError
        If the job has no such thing, or nothing it could be joined by.
    """
    case = case_of(look, thing_id)
    houses = tuple(dict.fromkeys(house for house in case.houses if house is not None))
    return Ways(
        thing_id=thing_id,
        label=case.thing.label,
        need=case.need,
        houses=houses,
        ways=ways_of(case),
        taken=_taken(case),
        choosable=tuple(CHOOSERS),
    )


def _taken(case: Case) -> str | None:
    """Return the code of the way the thing is reached by now, None where it has no run."""
    if case.bridge is not None:
        model = case.job.get(Equipment, case.bridge.a.on).model
        return next(
            (c for c, info in library().ways.items() if any(p.model == model for p in info.parts)), None
        )
    if case.run is None or case.job.by_id.get(case.run.id) is None:
        return None
    product = case.run.product
    return "copper" if product is None or library().cables[product].conducts else "fibre"


def case_of(look: Look, thing_id: str) -> Case:
    """Return all that the ways to a thing are worked out from.

    Raises
    ------
    EditError
        If the job has no such thing, or nothing it could be joined by.
    """
    job = job_of(look)
    thing = next((one for one in wanting(job) if one.id == thing_id), None)
    if thing is None:
        raise EditError(
            "what was picked stands nowhere on the sheet, or has no port, so nothing can reach it"
        )
    of = building(look)
    bridge = bridge_into(job, of, thing)
    run, why = _run(look, job, thing, bridge)
    start = job.spot(run.a.on) if run else None
    houses = (of.house_at(start.at) if start else None, of.house_at(job.spot(thing.id).at))
    return Case(
        job=job,
        building=of,
        thing=thing,
        need=_need(look, job, thing, of, houses),
        run=run,
        plan=_plan(look, job, thing, run) if run else None,
        no_run=why,
        houses=houses,
        span=_span(of, houses),
        bridge=bridge,
        heard=_heard(look, job, thing),
    )


def _run(look: Look, job: Job, thing: Thing, bridge: Link | None) -> tuple[Link | None, str]:
    """Return the thing's first run as it lies, else one as it would lie from the nearest rack; or why there is none.

    Where its house is reached by a bridge, as it would lie from the rack the bridge comes from.
    """
    spare = spares(look)
    laid = next((link for link in runs_of(job) if link.b.on == thing.id and link.id not in spare), None)
    home = rack_before(job, bridge) if bridge else None
    if laid is not None:
        return (laid.model_copy(update={"a": End(on=home)}) if home else laid), ""
    rack = job.get(Rack, home) if home else nearest_rack(job, thing)
    if rack is None:
        return None, "No rack is marked for a cable to start from."
    return new_run(job, thing, rack.id, thing.id), ""


def _plan(look: Look, job: Job, thing: Thing, run: Link) -> RunPlan:
    """Return a run as it would be of copper, whatever it is of now."""
    if not library().cables[run.product or default_cable(job, thing)].conducts:
        run = run.model_copy(update={"product": default_cable(job, thing)})
    route = route_of(job, router(look), run)
    return plan_run(job, run, route, tuple(1 for _ in route.legs))


def _span(of: Building, houses: tuple[str | None, str | None]) -> Span | None:
    one, other = houses
    return span_between(of, one, other) if one and other and one != other else None


def _need(look: Look, job: Job, thing: Thing, of: Building, houses: tuple[str | None, str | None]) -> Sum:
    """Return what is to be carried: the peak of the house it stands in where that stands apart, else of its space."""
    spot = job.spot(thing.id)
    here = of.space_at(spot.storey_id, spot.at)
    apart = houses[1] is not None and houses[0] != houses[1]
    rooms = {
        space.id
        for spaces in of.spaces.values()
        for space in spaces
        if (
            space.building == houses[1] and space.space_kind != "outdoor"
            if apart
            else here and space.id == here.id
        )
    }
    lines = tuple(
        SumLine(label=row.label, value=row.peak.value, unit="Mb/s")
        for row in brief(look).spaces
        if row.space_id in rooms and row.peak.value
    )
    least = SumLine(label="at the least, whoever is there", value=limit("links.least_mbps"), unit="Mb/s")
    total = max(sum(line.value for line in lines), least.value)
    return Sum(
        label=f"{thing.label}: what is to be carried",
        value=round(total, 1),
        unit="Mb/s",
        lines=(*lines, least),
        formula="the peaks of its spaces together, at the least what the last line says",
        source="demand by hour; design value",
    )


def _heard(look: Look, job: Job, thing: Thing) -> Heard | None:
    """Return the wired access point a thing hears best at 5 GHz by the straight ray alone, the careful side."""
    model, air, spot = job.equipment[thing.model], scene(look), job.spot(thing.id)
    radio = model.band("5")
    if radio is None:
        return None
    wired = {link.b.on for link in runs_of(job)}
    eirp = {row.point_id: row.eirp_dbm for row in radio_rows(look) if row.band == "5" and row.on}
    z_m = of_storey(air.building, spot.storey_id) + spot.height_m
    at = np.array([[spot.at.x_m, spot.at.y_m, z_m]])
    best: Heard | None = None
    for point in job.of(AccessPoint):
        if point.id == thing.id or point.id not in wired or point.id not in eirp:
            continue
        losses = air.losses(air.transmitter(point), at)
        lost, aside = float(losses.loss_db[_SEEN_AT, 0]), float(losses.relative_db[0])
        rssi = eirp[point.id] + aside - lost + radio.gain_dbi
        if best is None or rssi > best.rssi_dbm:
            best = Heard(point.label, rssi, _level(point, eirp[point.id], aside, lost, radio.gain_dbi, rssi))
    return best


def of_storey(of: Building, storey_id: str) -> float:
    """Return the height of a storey's floor. [m]"""
    return of.storey(storey_id).elevation_m


def _level(point: AccessPoint, eirp: float, aside: float, lost: float, gain: float, rssi: float) -> Sum:
    return Sum(
        label=f"Heard of {point.label} at 5 GHz",
        value=round(rssi, 1) if math.isfinite(rssi) else -200.0,
        unit="dBm",
        lines=(
            SumLine(label="EIRP", value=round(eirp, 1), unit="dBm"),
            SumLine(label="its antenna in this direction", value=round(aside, 1), unit="dB"),
            SumLine(label="free space and walls", value=-round(lost, 1), unit="dB"),
            SumLine(label="gain of the antenna here", value=gain, unit="dBi"),
        ),
        formula="EIRP + direction - loss + gain, by the straight ray alone",
        source="free space at 1 m + 10 n log10 d + crossings",
    )
