"""What stands about a rack: the working space of electrical panels, water heaters, and rooms that want quiet."""

import math

from shapely import Point as ShapelyPoint
from shapely import Polygon, box, union_all
from shapely.affinity import rotate, translate
from shapely.geometry.base import BaseGeometry

from heathrise.core.job import Fixture, Job, Point, Rack, Space
from heathrise.core.library import library, limit
from heathrise.core.site.building import Building, polygon
from heathrise.core.site.guessing import guess
from heathrise.core.sums import Noun, Sum, SumLine


class Near(Noun):
    """Something that a rack must keep clear of: how far its clear space is from the rack. Under 0 it overlaps."""

    element_id: str
    label: str
    kind: str
    clear: Sum
    holds: bool


class Quiet(Noun):
    """A room that wants quiet and hears a rack. [dB]"""

    space_id: str
    label: str
    level: Sum
    holds: bool


# What is drawn so near the line of a wall is in it: which side it looks to is not drawn. [m]
_IN_WALL_M = 0.08


def _turns(of: Building, storey_id: str, at: Point) -> tuple[float, ...]:
    """Return which ways what stands here may look: away from the nearest wall, to both sides where it is in it. [deg]"""
    spot = ShapelyPoint(at.x_m, at.y_m)
    lines = [line for line, _ in of.wall_lines(storey_id)]
    nearest = min(lines, key=spot.distance, default=None)
    if nearest is None:
        return (0.0,)
    foot = nearest.interpolate(nearest.project(spot))
    (x0, y0), (x1, y1) = nearest.coords[0], nearest.coords[-1]
    along = math.degrees(math.atan2(y1 - y0, x1 - x0))
    if spot.distance(nearest) < _IN_WALL_M:
        return (along, along + 180)
    # Of the two ways across the wall the one towards where it stands.
    across = math.radians(along + 90)
    inwards = (spot.x - foot.x) * math.cos(across) + (spot.y - foot.y) * math.sin(across) >= 0
    return (along if inwards else along + 180,)


def _before(at: Point, turn_deg: float, wide_mm: float, deep_mm: float) -> Polygon:
    """Return a rectangle that begins here and goes into the room. [m]"""
    half, deep = wide_mm / 2000, deep_mm / 1000
    return translate(rotate(box(-half, 0, half, deep), turn_deg, origin=(0, 0)), at.x_m, at.y_m)


def footprint(of: Building, rack: Rack) -> Polygon:
    """Return the floor a rack covers: its width and depth about where it was put, along its wall. [m]"""
    model = library().racks[rack.model]
    turn_deg = _turns(of, rack.storey_id, rack.at)[0]
    ahead = _before(rack.at, turn_deg, model.wide_mm, model.depth_mm)
    back = math.radians(turn_deg + 90)
    half = model.depth_mm / 2000
    return translate(ahead, -half * math.cos(back), -half * math.sin(back))


def working_space(of: Building, panel: Fixture) -> BaseGeometry:
    """Return what is kept free before an electrical panel; on both sides of the wall it is drawn in. [m]

    References
    ----------
    NFPA 70 article 110.26; the local code decides.
    """
    wide, deep = limit("rack.panel_wide_mm"), limit("rack.panel_deep_mm")
    return union_all([_before(panel.at, turn, wide, deep) for turn in _turns(of, panel.storey_id, panel.at)])


def near_of(job: Job, of: Building, rack: Rack) -> tuple[Near, ...]:
    """Return the panels and heaters of a rack's storey that stand near it, and whether it keeps clear."""
    covers = footprint(of, rack)
    found = []
    for fixture in job.of(Fixture):
        if fixture.storey_id != rack.storey_id or fixture.fixture_kind not in ("electrical-panel", "heater"):
            continue
        panel = fixture.fixture_kind == "electrical-panel"
        clear = _from_panel(of, covers, rack, fixture) if panel else _from_heater(covers, rack, fixture)
        if clear.value < limit("rack.near_mm"):
            found.append(
                Near(
                    element_id=fixture.id,
                    label=fixture.label,
                    kind=fixture.fixture_kind,
                    clear=clear,
                    holds=clear.holds,
                )
            )
    return tuple(found)


def _from_panel(of: Building, covers: Polygon, rack: Rack, panel: Fixture) -> Sum:
    """Return how far a rack stands from a panel's working space; under 0 the side of a square as large as they share."""
    space = working_space(of, panel)
    shared_m2 = covers.intersection(space).area
    inside = shared_m2 > 1e-6
    clear_mm = -1000 * math.sqrt(shared_m2) if inside else 1000 * covers.distance(space)
    model = library().racks[rack.model]
    return Sum(
        label=f"{rack.label} to the working space of {panel.label}",
        value=round(clear_mm),
        unit="mm",
        limit=0,
        holds=not inside,
        lines=(
            SumLine(label="working space, wide", value=limit("rack.panel_wide_mm"), unit="mm"),
            SumLine(label="working space, deep", value=limit("rack.panel_deep_mm"), unit="mm"),
            SumLine(label="rack, wide", value=model.wide_mm, unit="mm"),
            SumLine(label="rack, deep", value=model.depth_mm, unit="mm"),
            SumLine(label="floor they share", value=round(shared_m2, 3), unit="m2"),
        ),
        formula="least distance between the two on the floor; sharing floor: - root of what is shared",
        source=library().limits["rack.panel_deep_mm"].source,
    )


def _from_heater(covers: Polygon, rack: Rack, heater: Fixture) -> Sum:
    clear_mm = 1000 * covers.distance(ShapelyPoint(heater.at.x_m, heater.at.y_m))
    model = library().racks[rack.model]
    return Sum(
        label=f"{rack.label} to {heater.label}",
        value=round(clear_mm),
        unit="mm",
        limit=limit("rack.heater_mm"),
        holds=clear_mm >= limit("rack.heater_mm"),
        lines=(
            SumLine(label="rack, wide", value=model.wide_mm, unit="mm"),
            SumLine(label="rack, deep", value=model.depth_mm, unit="mm"),
            SumLine(label="kept between them", value=limit("rack.heater_mm"), unit="mm"),
        ),
        formula="least distance on the floor",
        source=library().limits["rack.heater_mm"].source,
    )


def noise_sum(label: str, levels: list[tuple[str, float]]) -> Sum:
    """Return levels at a metre added as powers. [dB]"""
    total = 10 * math.log10(sum(10 ** (db / 10) for _, db in levels)) if levels else 0.0
    return Sum(
        label=f"{label}: noise at a metre",
        value=round(total, 1),
        unit="dB",
        lines=tuple(SumLine(label=name, value=db, unit="dB") for name, db in levels),
        formula="10 log10 of the sum of 10^(level/10)",
        source="sound power adds; levels from data sheets",
    )


def quiet_of(job: Job, of: Building, rack: Rack, at_a_metre_db: float) -> tuple[Quiet, ...]:
    """Return the rooms of a rack's storey that want quiet, loudest first, and what they hear of it."""
    if at_a_metre_db <= 0:
        return ()
    spot = ShapelyPoint(rack.at.x_m, rack.at.y_m)
    here = of.space_at(rack.storey_id, rack.at)
    found = []
    for space in job.of(Space):
        row = guess(space, job.site.site_kind) if space.storey_id == rack.storey_id else None
        if row is None or row.most_noise_db is None:
            continue
        inside = here is not None and here.id == space.id
        away_m = max(1.0, polygon(space).distance(spot))
        cut = 0.0 if inside else limit("rack.wall_cut_db")
        level = at_a_metre_db - 20 * math.log10(away_m) - cut
        holds = level <= row.most_noise_db
        found.append(
            Quiet(
                space_id=space.id,
                label=space.label,
                holds=holds,
                level=Sum(
                    label=f"{rack.label} heard in {space.label}",
                    value=round(max(0.0, level), 1),
                    unit="dB",
                    limit=row.most_noise_db,
                    holds=holds,
                    lines=(
                        SumLine(label="at a metre", value=round(at_a_metre_db, 1), unit="dB"),
                        SumLine(
                            label=f"{away_m:.1f} m away", value=round(-20 * math.log10(away_m), 1), unit="dB"
                        ),
                        SumLine(label="in the same room" if inside else "a partition", value=-cut, unit="dB"),
                    ),
                    formula="level at a metre - 20 log10(distance) - partition",
                    source=library().limits["rack.wall_cut_db"].source,
                ),
            )
        )
    return tuple(sorted(found, key=lambda one: -one.level.value))
