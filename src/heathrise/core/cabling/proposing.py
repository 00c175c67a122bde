"""Pathways that are worth making: trays where many runs lie together, ducts and conduits where runs leave the house."""

import math
from collections import defaultdict
from collections.abc import Callable, Sequence
from typing import NamedTuple

import shapely
import shapely.ops
from shapely.geometry.base import BaseGeometry

from heathrise.core.cabling.conduit import conduit_fill
from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.routes import Leg
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.deriving import Look
from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import Job, Pathway, Point, derived_id
from heathrise.core.job.view import job_of
from heathrise.core.job.wiring import PathwayKind, Surroundings
from heathrise.core.library import library, limit
from heathrise.core.site.derived import building
from heathrise.core.sums import Noun

# Legs nearer to each other than this lie in one pathway. [m]
_TOGETHER_M = 0.1
# What lies nearer to a house than this is led along its wall. [m]
_AT_WALL_M = 0.6


_WHY = {
    "conduit": "what runs along the outside wall lies in a conduit",
    "duct": "what crosses open ground lies in a duct, at the depth the local rule says",
}


class PathwayToMake(Noun):
    """A pathway that is worth making: where, for which runs, how wide or of which bore, and what a metre costs."""

    key: str
    pathway_kind: PathwayKind
    storey_id: str
    storey_label: str
    path: tuple[Point, ...]
    length_m: float
    height_m: float
    surroundings: Surroundings
    run_labels: tuple[str, ...]
    width_mm: float | None
    bore: str | None
    bore_label: str
    cost: float | None
    why: str


class PathwaysToMake(Noun):
    """Every pathway that is worth making, the one for most runs first."""

    pathways: tuple[PathwayToMake, ...]


class _Lane(NamedTuple):
    """Where legs lie that could share a pathway: a storey, its height over the floor, and what it passes."""

    storey_id: str
    z_m: float
    environment: str


def proposals(look: Look) -> PathwaysToMake:
    """Return the pathways worth making for the runs of a job as they lie now."""
    job = job_of(look)
    plans = [plan for plan in runs(look).plans if not plan.existing]
    lanes: dict[_Lane, list[tuple[Leg, RunPlan]]] = defaultdict(list)
    for plan in plans:
        for leg in plan.legs:
            if leg.pathway_id is None and leg.z0_m == leg.z1_m and leg.length_m > 0:
                lanes[_Lane(leg.storey_id, round(leg.z0_m, 1), leg.environment)].append((leg, plan))
    houses = shapely.union_all(list(building(look).houses.values()))
    found = [one for lane, legs in lanes.items() for one in _on_lane(job, houses, lane, legs)]
    return PathwaysToMake(pathways=tuple(sorted(found, key=lambda p: (-len(p.run_labels), -p.length_m))))


def made(look: Look, key: str, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return the operation that puts a proposed pathway into the job, still to be made.

    Raises
    ------
    EditError
        If it is not proposed any more.
    """
    job = job_of(look)
    one = next((one for one in proposals(look).pathways if one.key == key), None)
    if one is None:
        raise EditError("this pathway is not proposed any more: runs lie otherwise by now")
    taken = {pathway.label for pathway in job.of(Pathway)}
    stem = one.pathway_kind.capitalize()
    label = next(f"{stem} {n}" for n in range(1, 10_000) if f"{stem} {n}" not in taken)
    pathway = Pathway(
        id=new_id(),
        label=label,
        pathway_kind=one.pathway_kind,
        storey_id=one.storey_id,
        path=one.path,
        height_m=one.height_m,
        bore=one.bore,
        width_mm=one.width_mm,
        surroundings=one.surroundings,
        there=False,
    )
    return (Put(element=pathway),)


def _on_lane(
    job: Job, houses: BaseGeometry, lane: _Lane, legs: Sequence[tuple[Leg, RunPlan]]
) -> list[PathwayToMake]:
    """Return what is worth making on one lane: outdoors for any run, indoors where enough lie together."""
    outdoors = lane.environment in ("outdoor", "ground", "wet")
    least = 1 if outdoors else int(limit("cabling.tray_runs"))
    lines = _crowded(legs, least)
    found = []
    for line in lines:
        inside = [
            plan
            for leg, plan in legs
            if line.buffer(_TOGETHER_M).intersection(_line(leg)).length > _TOGETHER_M
        ]
        plans = list({plan.run_id: plan for plan in inside}.values())
        if line.length >= limit("cabling.pathway_least_m") and len(plans) >= least:
            found.append(_proposal(job, lane, line, plans, _kind(houses, lane, line, outdoors)))
    return found


def _kind(houses: BaseGeometry, lane: _Lane, line: shapely.LineString, outdoors: bool) -> PathwayKind:
    """Return what is made along a line: a tray indoors, a conduit along a wall, a duct across open ground."""
    if not outdoors:
        return "tray"
    away = (
        lane.environment == "ground" or houses.distance(line.interpolate(0.5, normalized=True)) > _AT_WALL_M
    )
    return "duct" if away else "conduit"


def _line(leg: Leg) -> shapely.LineString:
    return shapely.LineString([(leg.a.x_m, leg.a.y_m), (leg.b.x_m, leg.b.y_m)])


def _crowded(legs: Sequence[tuple[Leg, RunPlan]], least: int) -> list[shapely.LineString]:
    """Return the lines along which at least so many runs lie together, joined where they meet end to end."""
    step = _TOGETHER_M / 2
    snapped = [shapely.set_precision(_line(leg), step) for leg, _ in legs]
    noded = shapely.ops.unary_union([line for line in snapped if line.length > 0])
    pieces = [part for part in shapely.get_parts(noded) if part.geom_type == "LineString"]
    tree = shapely.STRtree(snapped)
    kept = []
    for piece in pieces:
        middle = piece.interpolate(0.5, normalized=True)
        near = tree.query(middle, predicate="dwithin", distance=step)
        if len({legs[n][1].run_id for n in near.tolist()}) >= least:
            kept.append(piece)
    if not kept:
        return []
    merged = shapely.line_merge(shapely.MultiLineString(kept))
    return [shapely.simplify(_opened(part), step) for part in shapely.get_parts(merged)]


def _opened(line: shapely.LineString) -> shapely.LineString:
    """Return the first half of a line that comes back to its beginning: one way round is enough."""
    return shapely.ops.substring(line, 0, 0.5, normalized=True) if line.is_ring else line


def _proposal(
    job: Job, lane: _Lane, line: shapely.LineString, plans: Sequence[RunPlan], kind: PathwayKind
) -> PathwayToMake:
    storey = next(storey for storey in job.storeys if storey.id == lane.storey_id)
    ods = [library().cables[plan.cable].diameter_mm for plan in plans]
    path = tuple(Point(x_m=round(x, 2), y_m=round(y, 2)) for x, y in line.coords)
    outdoors, buried = kind != "tray", kind == "duct"
    bore = least_bore(ods) if outdoors else None
    width = None if outdoors else tray_width_mm(ods)
    price = library().bores[bore].price_per_m if bore else library().parts["tray-m"].price
    return PathwayToMake(
        key=derived_id(lane.storey_id, f"{kind} {[(p.x_m, p.y_m) for p in path]}"),
        pathway_kind=kind,
        storey_id=storey.id,
        storey_label=storey.label,
        path=path,
        length_m=round(line.length, 1),
        height_m=-limit("cabling.duct_depth_m") if buried else round(lane.z_m - storey.elevation_m, 2),
        surroundings="ground" if buried else _surroundings(lane.environment),
        run_labels=tuple(plan.label for plan in plans),
        width_mm=width,
        bore=bore,
        bore_label=library().bores[bore].label if bore else "",
        cost=None if price is None else round(price * line.length, 2),
        why=_WHY[kind] if kind in _WHY else f"{len(plans)} runs lie together here",
    )


def _surroundings(environment: str) -> Surroundings:
    known: dict[str, Surroundings] = {
        "riser": "riser",
        "plenum": "plenum",
        "outdoor": "outdoor",
        "ground": "ground",
        "wet": "wet",
    }
    return known.get(environment, "general")


def least_bore(ods_mm: Sequence[float]) -> str | None:
    """Return the narrowest bore that holds cables with a quarter of its limit to spare, None where none does."""
    share = limit("cabling.fill_choice")
    fits = {
        code: bore.bore_mm
        for code, bore in library().bores.items()
        if (fill := conduit_fill(bore.bore_mm, ods_mm)).fill <= fill.limit * share
    }
    return min(fits, key=lambda code: (fits[code], code), default=None)


def tray_width_mm(ods_mm: Sequence[float]) -> float:
    """Return how wide a tray is to be for cables, filled to its share with a quarter to spare. [mm]"""
    area = sum(math.pi / 4 * od * od for od in ods_mm)
    share = limit("cabling.tray_fill") * limit("cabling.fill_choice")
    step = limit("cabling.tray_step_mm")
    return step * math.ceil(area / share / limit("cabling.tray_depth_mm") / step)
