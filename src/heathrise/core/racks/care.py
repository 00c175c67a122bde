"""What a rack needs of its place: room, depth, weight on its fixings, air, quiet, clear space, and what it costs to run."""

from shapely import Polygon

from heathrise.core.job import Job, Rack
from heathrise.core.library import library, limit
from heathrise.core.power.feeds import Feeds
from heathrise.core.racks.drawing_power import (
    drawn,
    heat_sum,
    least_rated_c,
    mains_sum,
    rise_sum,
    year_sum,
)
from heathrise.core.racks.elevation import Elevation, elevation_of, in_rack
from heathrise.core.racks.surroundings import Near, Quiet, near_of, noise_sum, quiet_of
from heathrise.core.site.building import Building, polygon
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.ports import Ports


class Fixings(Noun):
    """How a rack hangs on its wall: holes and studs apart [mm]; `meet` is None where nobody looked at the studs."""

    holes_mm: float | None
    studs_mm: float | None
    backing_board: bool
    meet: bool | None


class RackPlan(Noun):
    """One rack and all that is asked of its place. `rise` is None where it stands in no drawn room."""

    elevation: Elevation
    units: Sum
    weight: Sum
    mains: Sum
    usual: Sum
    heat: Sum
    rise: Sum | None
    noise: Sum
    year: Sum
    fixings: Fixings
    near: tuple[Near, ...]
    quiet: tuple[Quiet, ...]


def rack_plan_of(job: Job, of: Building, ports: Ports, feeds: Feeds, rack_id: str) -> RackPlan:
    """Return a rack with everything that is asked of its place."""
    rack = job.get(Rack, rack_id)
    elevation = elevation_of(job, rack_id)
    most, usual = (drawn(job, ports, feeds, rack_id, most) for most in (True, False))
    heat = heat_sum(rack, most)
    noise = noise_sum(
        rack.label, [(t.label, kind.noise_db) for t, kind in in_rack(job, rack_id) if kind.noise_db]
    )
    return RackPlan(
        elevation=elevation,
        units=units_sum(elevation),
        weight=weight_sum(job, rack),
        mains=mains_sum(rack, most, "at most"),
        usual=mains_sum(rack, usual, "on a usual day"),
        heat=heat,
        rise=_rise(job, of, rack, heat.value),
        noise=noise,
        year=year_sum(rack, usual, job.practice.currency),
        fixings=fixings_of(rack),
        near=near_of(job, of, rack),
        quiet=quiet_of(job, of, rack, noise.value),
    )


def units_sum(elevation: Elevation) -> Sum:
    """Return the units that are taken, held against what leaves the blank spare. [U]"""
    most = int(elevation.height_u * (1 - limit("rack.spare_share")))
    return Sum(
        label=f"{elevation.label}: units taken",
        value=elevation.used_u,
        unit="U",
        limit=most,
        holds=elevation.used_u <= most,
        lines=tuple(
            SumLine(label=one.label, value=one.height_u, unit="U") for one in elevation.items if one.height_u
        ),
        formula=f"of {elevation.height_u} U, a quarter kept blank",
        source=library().limits["rack.spare_share"].source,
    )


def weight_sum(job: Job, rack: Rack) -> Sum:
    """Return what hangs on the fixings of a rack, held against what it may carry. [kg]"""
    model = library().racks[rack.model]
    things = [(t.label, kind.weight_kg) for t, kind in in_rack(job, rack.id) if kind.weight_kg]
    total = sum(kg for _, kg in things)
    return Sum(
        label=f"{rack.label}: weight in it",
        value=round(total, 1),
        unit="kg",
        limit=model.most_kg,
        holds=total <= model.most_kg + 1e-9,
        lines=(
            *(SumLine(label=label, value=kg, unit="kg") for label, kg in things),
            SumLine(
                label=model.label,
                value=model.weight_kg,
                unit="kg",
                note="itself; beside what it may carry, but on the wall's fixings too",
            ),
        ),
        formula="sum of what stands in it, without the rack itself",
        source=model.source,
    )


def fixings_of(rack: Rack) -> Fixings:
    """Return whether the fixings of a wall rack meet studs: its holes are as far apart as studs, or several of them."""
    model = library().racks[rack.model]
    if model.fixings_mm is None:
        return Fixings(holes_mm=None, studs_mm=rack.studs_mm, backing_board=rack.backing_board, meet=True)
    meet = None
    if rack.backing_board:
        meet = True
    elif rack.studs_mm is not None:
        # A slot takes some millimetres: holes that far off a whole number of studs still meet them.
        apart = model.fixings_mm / rack.studs_mm
        meet = round(apart) >= 1 and abs(model.fixings_mm - round(apart) * rack.studs_mm) <= limit(
            "rack.slot_mm"
        )
    return Fixings(
        holes_mm=model.fixings_mm, studs_mm=rack.studs_mm, backing_board=rack.backing_board, meet=meet
    )


def _rise(job: Job, of: Building, rack: Rack, heat_w: float) -> Sum | None:
    space = of.space_at(rack.storey_id, rack.at)
    rated = least_rated_c(job, rack.id)
    if space is None or rated is None:
        return None
    room = polygon(space)
    high_m = space.ceiling_m or of.storey(rack.storey_id).ceiling_m
    name = job.by_id[space.id].label
    hottest = space.hottest_c if space.hottest_c is not None else job.site.climate.indoors_c
    return rise_sum(rack, heat_w, (name, shell_m2(room, high_m), rack.air_m3_h), hottest, rated)


def shell_m2(room: Polygon, high_m: float) -> float:
    """Return the area of walls, floor and ceiling of a room. [m²]"""
    return float(room.length * high_m + 2 * room.area)
