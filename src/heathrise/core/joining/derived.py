"""The ways to one thing, worked out from a job when somebody asks for them."""

from heathrise.core.cabling.defaults import default_cable, nearest_rack, new_run, wanting
from heathrise.core.cabling.derived import router, spares
from heathrise.core.cabling.ends import runs_of
from heathrise.core.cabling.runs import RunPlan, plan_run, route_of
from heathrise.core.deriving import Look
from heathrise.core.edit import EditError
from heathrise.core.job import AccessPoint, End, Equipment, Job, Link, Rack
from heathrise.core.job.view import job_of
from heathrise.core.joining import bridging, copper, fibre, hanging, others, wireless
from heathrise.core.joining.bridged import boxes_on, bridge_into, rack_before
from heathrise.core.joining.case import Case
from heathrise.core.joining.choosing import CHOOSERS
from heathrise.core.joining.unwired import Unwired, unwired
from heathrise.core.joining.way import Way, ways_of
from heathrise.core.library import library, limit
from heathrise.core.links.meshing import mesh_node
from heathrise.core.links.span import Span, span_between
from heathrise.core.site.building import Building
from heathrise.core.site.derived import brief, building
from heathrise.core.sums import Noun, Sum, SumLine

# Read so that their ways are registered.
KINDS = (bridging, copper, fibre, hanging, others, wireless)
_NO_RACK = "No rack is marked for a cable to start from."
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
        return _way_with(case.job.get(Equipment, case.bridge.a.on).model)
    if case.now.unit is not None:
        return _way_with(case.now.unit.model)
    if case.now.hop is not None:
        by_model = _way_with(case.thing.model)
        return by_model if case.now.hop.medium == "powerline" or by_model == "repeater" else "mesh"
    laid = case.run is not None and case.job.by_id.get(case.run.id) is not None
    return _cable_way(case.job, case.run) if laid and case.run else None


def _cable_way(job: Job, run: Link) -> str:
    """Return the code of the way that a cable is."""
    # A box that is fed over the cable is an extender; a switch on its way with mains of its own is none.
    on_way = [job.equipment[box.model] for box in boxes_on(job, run.id)]
    if any(model.joins and model.takes_class for model in on_way):
        return "extender-chain"
    cable = library().cables[run.product] if run.product else None
    if cable is None or cable.conducts:
        return "copper"
    return "fibre-powered" if cable.pair_mm2 else "fibre"


def _way_with(model: str) -> str | None:
    """Return the code of the way that a model is a part of, None where there is none."""
    ways = library().ways.items()
    return next((code for code, info in ways if any(part.model == model for part in info.parts)), None)


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
    bridge, now = bridge_into(job, of, thing), unwired(job, thing)
    run, why = _run(look, job, thing, bridge, now)
    radiates = isinstance(thing, AccessPoint)
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
        now=now,
        node=mesh_node(look, thing.id) if radiates else None,
    )


def _run(look: Look, job: Job, thing: Thing, bridge: Link | None, now: Unwired) -> tuple[Link | None, str]:
    """Return the thing's first run as it lies, else one as it would lie from the nearest rack; or why there is none.

    Where its house is reached by a bridge, as it would lie from the rack the bridge comes from; where its run begins
    at a unit beside it, as it would lie from the nearest rack.
    """
    spare = spares(look)
    laid = next((link for link in runs_of(job) if link.b.on == thing.id and link.id not in spare), None)
    home = rack_before(job, bridge) if bridge else None
    if laid is not None and now.unit is not None:
        rack = nearest_rack(job, thing)
        return (None, _NO_RACK) if rack is None else (laid.model_copy(update={"a": End(on=rack.id)}), "")
    if laid is not None:
        return (laid.model_copy(update={"a": End(on=home)}) if home else laid), ""
    rack = job.get(Rack, home) if home else nearest_rack(job, thing)
    if rack is None:
        return None, _NO_RACK
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
