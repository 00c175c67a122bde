"""Where a thing goes, as it is measured on site: how high, on what, how far from two walls, which way it looks."""

import math
from collections.abc import Sequence

from heathrise.core.effort.walls import Walls
from heathrise.core.effort.work import mounted
from heathrise.core.job import AccessPoint, Equipment, Job, Link, Point, Wall
from heathrise.core.library import limit
from heathrise.core.site.building import Building, space_at
from heathrise.core.sums import Noun

# Two walls that stand more across than along each other fix a place.
_ACROSS = math.sin(math.radians(45))
# What stands nearer hangs on it.
_ON_IT_M = 0.35


class FromWall(Noun):
    """How far from the face of a wall, at right angles to it. [m]"""

    wall: str
    away_m: float
    side: str


class MountSheet(Noun):
    """One thing to be mounted, with all that is asked on the ladder."""

    element_id: str
    label: str
    model: str
    storey: str
    space: str
    mount: str
    height_m: float
    face: str
    from_walls: tuple[FromWall, ...]
    looks: str
    tilt_deg: float
    runs: tuple[str, ...]
    ports: tuple[str, ...]
    note: str


def mount_sheets(job: Job, building: Building, ports: dict[str, str]) -> tuple[MountSheet, ...]:
    """Return a sheet a thing on the sheet, storey by storey. `ports` says by run where it is plugged in."""
    order = {storey.id: n for n, storey in enumerate(job.storeys)}
    things = [(one, mount) for one, mount in mounted(job) if mount != "desk"]
    things.sort(key=lambda pair: order[job.spot(pair[0].id).storey_id])
    walls = Walls(job)
    return tuple(_sheet(job, building, walls, ports, one, mount) for one, mount in things)


def _sheet(
    job: Job,
    building: Building,
    walls: Walls,
    ports: dict[str, str],
    one: AccessPoint | Equipment,
    mount: str,
) -> MountSheet:
    spot = job.spot(one.id)
    near = walls.near(spot.storey_id, spot.at.x_m, spot.at.y_m)
    space = space_at(job, building, spot.storey_id, spot.at)
    runs = [
        link for link in job.of(Link) if link.b.on == one.id and link.medium in ("copper", "fibre", "hybrid")
    ]
    point = one if isinstance(one, AccessPoint) else None
    return MountSheet(
        element_id=one.id,
        label=one.label,
        model=job.equipment[one.model].label,
        storey=job.by_id[spot.storey_id].label,
        space=space.label if space is not None else "",
        mount=mount,
        height_m=spot.height_m,
        face=_face(mount, spot.at, near),
        from_walls=tuple(_from(job, away, spot.at, wall) for away, wall in _two(near)),
        looks=_looks(point.facing_deg) if point is not None and mount != "ceiling" else "",
        tilt_deg=point.tilt_deg if point is not None else 0.0,
        runs=tuple(run.label for run in runs),
        ports=tuple(ports[run.id] for run in runs if run.id in ports),
        note=getattr(one, "note", ""),
    )


def _face(mount: str, at: Point, near: Sequence[tuple[float, Wall]]) -> str:
    """Return what it hangs on in words."""
    if mount == "ceiling":
        return "face down, its mark towards the longer side of the space"
    if near and near[0][0] <= _ON_IT_M:
        return f"on {near[0][1].label}, {_side(at, near[0][1])}"
    return "as the drawing shows"


def _two(near: Sequence[tuple[float, Wall]]) -> list[tuple[float, Wall]]:
    """Return the nearest wall, and the nearest that stands across it: two lengths that fix a place."""
    if not near:
        return []
    across = next((pair for pair in near[1:] if _sine(near[0][1], pair[1]) >= _ACROSS), None)
    return [near[0]] if across is None else [near[0], across]


def _sine(one: Wall, other: Wall) -> float:
    ax, ay = one.b.x_m - one.a.x_m, one.b.y_m - one.a.y_m
    bx, by = other.b.x_m - other.a.x_m, other.b.y_m - other.a.y_m
    return abs(ax * by - ay * bx) / (one.length_m * other.length_m)


def _from(job: Job, middle_m: float, at: Point, wall: Wall) -> FromWall:
    away = max(0.0, middle_m - _thick_m(job, wall) / 2)
    return FromWall(wall=wall.label, away_m=round(away, 2), side=_side(at, wall))


def _thick_m(job: Job, wall: Wall) -> float:
    """Return how thick a wall is: as drawn, else as its build-up says, else as a usual one. [m]"""
    if wall.thickness_m is not None:
        return wall.thickness_m
    layered = job.build_ups[wall.build_up].thickness_m if wall.build_up is not None else None
    return layered if layered is not None else limit("plan.wall_usual_m")


def _side(at: Point, wall: Wall) -> str:
    """Return on which side of a wall a place is, by the sheet's own directions: north is its top."""
    mx, my = (wall.a.x_m + wall.b.x_m) / 2, (wall.a.y_m + wall.b.y_m) / 2
    along_x = abs(wall.b.x_m - wall.a.x_m) >= abs(wall.b.y_m - wall.a.y_m)
    if along_x:
        return "south of it" if at.y_m > my else "north of it"
    return "east of it" if at.x_m > mx else "west of it"


_WINDS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


def _looks(facing_deg: float) -> str:
    """Return where it looks: a bearing from the sheet's top, and its name."""
    return f"{_WINDS[round(facing_deg / 45) % 8]}, {facing_deg % 360:.0f}° from the top of the sheet"
