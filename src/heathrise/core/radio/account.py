"""The sum behind one signal: free space, every wall and slab by name, both antennas.

Written apart from the kernel, in plain steps, so that each checks the other in the tests.
"""

import math

import numpy as np
import shapely

from heathrise.core.job import BANDS, AccessPoint, Band, Job, Point
from heathrise.core.library import library, limit
from heathrise.core.radio.balance import balance_of
from heathrise.core.radio.bounced import Bounced, areas_crossed, bounced_rays, cosine_of
from heathrise.core.radio.coverage import client_power_dbm, radio_on, signals
from heathrise.core.radio.mirrors import mirrored_at, own_storey
from heathrise.core.radio.reach import around, learned_db, point_cells
from heathrise.core.radio.scene import Scene, Transmitter, pattern_of
from heathrise.core.radio.way import WayPlace, way_round
from heathrise.core.site.building import named
from heathrise.core.sums import Noun, Sum, SumLine

# So many mirrored rays are named; the rest are counted.
_NAMED_RAYS = 3


def crossings(
    scene: Scene, transmitter: Transmitter, at: tuple[float, float, float]
) -> list[tuple[str, int, float]]:
    """Return (what, kind 0 wall or 1 slab, share of the way) along a ray, nearest first."""
    ray = shapely.LineString([(transmitter.x_m, transmitter.y_m), at[:2]])
    rise = at[2] - transmitter.z_m
    found: list[tuple[str, int, float]] = []
    obstacles = scene.building.obstacles
    for i, (x1, y1, x2, y2) in enumerate(obstacles.ends_m):
        hit = ray.intersection(shapely.LineString([(x1, y1), (x2, y2)]))
        if hit.is_empty or hit.geom_type != "Point" or ray.length == 0:
            continue
        share = ray.project(hit) / ray.length
        low, high = obstacles.heights_m[i]
        if 0 < share < 1 and low <= transmitter.z_m + share * rise < high:
            found.append((str(i), 0, share))
    for i, slab in enumerate(scene.building.slabs):
        share = (slab.z_m - transmitter.z_m) / rise if rise else 0.0
        if 0 < share < 1 and slab.area.covers(ray.interpolate(share, normalized=True)):
            found.append((str(i), 1, share))
    return sorted(found, key=lambda crossing: crossing[2])


class Account(Noun):
    """The sum behind a signal, and the way round the strongest indirect part takes, if any."""

    point_id: str
    sum: Sum
    way: tuple[WayPlace, ...] = ()


def signal_account(
    job: Job, scene: Scene, point: AccessPoint, band: Band, storey_id: str, at: Point
) -> Account | None:
    """Return the weaker of down and up at a place as a sum; None when the radio is off."""
    radio = radio_on(job, point, band)
    has = job.equipment[point.model].band(band)
    if radio is None or has is None:
        return None
    client = library().clients[job.brief.client_class]
    z_m = scene.building.storey(storey_id).elevation_m + limit("air.client_height_m")
    transmitter = scene.transmitter(point)
    end = (at.x_m, at.y_m, z_m)
    direct = _direct_lines(scene, transmitter, end, BANDS.index(band))
    direct_gain = sum(line.value for line in direct)
    gain, round_lines, way = _round_lines(scene, transmitter, band, end, direct_gain)
    lines = [
        SumLine(label=f"{point.label} sends", value=radio.power_dbm, unit="dBm"),
        SumLine(label="its antenna's peak", value=has.gain_dbi, unit="dBi"),
        *direct,
        *round_lines,
        SumLine(label=f"antenna of a {client.label.lower()}", value=client.gain_dbi, unit="dBi"),
    ]
    learned = float(learned_db(scene, transmitter, np.array([end]))[0])
    if learned:
        lines.append(SumLine(label="learned of this place from the survey", value=learned, unit="dB"))
    down = radio.power_dbm + has.gain_dbi + gain + client.gain_dbi + learned
    sends = client_power_dbm(client, band)
    if sends < radio.power_dbm:
        gap = sends - radio.power_dbm
        lines.append(SumLine(label="the way up is weaker by", value=gap, unit="dB"))
    found = _worded(
        job,
        label=f"{point.label} at {at.x_m:.1f}, {at.y_m:.1f}, {band} GHz",
        value=round(min(down, down + sends - radio.power_dbm), 2),
        unit="dBm",
        lines=tuple(lines),
        formula="P + G(direction) - free space - walls - slabs, mirrored rays and what goes round "
        "added in power, + G client; "
        "weaker of down and up",
        source=f"COST 231 multi-wall; power balance of rooms (docs/accuracy.md). {error_words(scene)}",
    )
    return Account(point_id=point.id, sum=found, way=way)


def _worded(job: Job, label: str, value: float, unit: str, lines: tuple[SumLine, ...], **more: str) -> Sum:
    """Return a sum with the labels of the job in place of the ids its building knows."""
    written = tuple(
        line.model_copy(update={"label": named(job, line.label), "note": named(job, line.note)})
        for line in lines
    )
    return Sum(label=label, value=value, unit=unit, lines=written, **more)


def error_words(scene: Scene) -> str:
    """Say how far a prediction usually lies off, and how that is known."""
    if scene.learned is not None:
        known = scene.learned
        return f"Error {known.held_out_db:.1f} dB on points held out of {known.points} measured."
    return f"Usual error 6 to {limit('air.model_error_db'):.0f} dB, nothing measured."


def _direct_lines(
    scene: Scene, transmitter: Transmitter, end: tuple[float, float, float], index: int
) -> list[SumLine]:
    way = (end[0] - transmitter.x_m, end[1] - transmitter.y_m, end[2] - transmitter.z_m)
    distance = math.hypot(*way)
    far = 10 * limit("air.exponent") * math.log10(max(distance, 1.0))
    lines = [
        SumLine(
            label=f"{_off_axis_deg(transmitter, way, distance):.0f} degrees off its axis",
            value=pattern_of(scene, transmitter.pattern).relative_db(way, transmitter.axis, transmitter.up),
            unit="dB",
        ),
        SumLine(label="free space over 1 m", value=-float(scene.one_metre_db[index]), unit="dB"),
        SumLine(label=f"distance {distance:.1f} m", value=-far, unit="dB"),
        *_crossing_lines(scene, transmitter, end, index),
        *_area_lines(scene, transmitter, end, index),
    ]
    if scene.offset_db:
        lines.append(SumLine(label="offset learned from the survey", value=scene.offset_db, unit="dB"))
    return lines


def _round_lines(
    scene: Scene, transmitter: Transmitter, band: Band, end: tuple[float, float, float], direct_db: float
) -> tuple[float, list[SumLine], tuple[WayPlace, ...]]:
    """Return the whole path gain, the lines that mirrors and what goes round add, and the way of the
    strongest of them.
    """
    if not scene.model.round:
        return direct_db, [], ()
    lines = []
    rays = _rays(scene, transmitter, end, BANDS.index(band), direct_db)
    mirrored = sum(ray.gain for ray in rays)
    so_far = direct_db + _added_db(direct_db, mirrored)
    if rays:
        note = _ray_words(scene, rays)
        lines.append(SumLine(label="what is mirrored adds", value=so_far - direct_db, unit="dB", note=note))
    cell = int(point_cells(balance_of(scene), np.array([end]))[0])
    extra = float(around(scene, transmitter, band)[cell]) if cell >= 0 else 0.0
    whole = so_far + _added_db(so_far, extra)
    way = way_round(scene, transmitter, band, cell)
    if way is not None:
        parts = [f"from {way.starts_in} {way.start_gain_db:.1f} dB"]
        parts += [f"{s.name} {s.length_m:.0f} m {-s.loss_db:+.1f}" for s in way.stretches]
        note = f"{'; '.join(parts)}; in all {10 * math.log10(extra):.1f} dB"
        lines.append(SumLine(label="what goes round adds", value=whole - so_far, unit="dB", note=note))
    if rays and rays[0].gain > extra:
        return whole, lines, _ray_way(scene, transmitter, rays[0], end)
    return whole, lines, way.places if way is not None else ()


def _added_db(gain_db: float, extra: float) -> float:
    """Return by how much a power beside it raises a path gain. [dB]"""
    return 10 * math.log10(1 + extra / 10 ** (gain_db / 10))


def _rays(
    scene: Scene, transmitter: Transmitter, end: tuple[float, float, float], index: int, direct_db: float
) -> tuple[Bounced, ...]:
    mirrored = scene.mirrors and bool(mirrored_at(scene, transmitter, np.array([end])).every.any())
    return bounced_rays(scene, transmitter, end, index, 10 ** (direct_db / 10)) if mirrored else ()


def _ray_words(scene: Scene, rays: tuple[Bounced, ...]) -> str:
    names = scene.building.obstacles.names
    words = []
    for ray in rays[:_NAMED_RAYS]:
        off = " and ".join(names[wall] for wall in ray.walls) or "floor and ceiling"
        words.append(f"off {off} {ray.gain_db:.1f} dB")
    if len(rays) > _NAMED_RAYS:
        words.append(f"{len(rays) - _NAMED_RAYS} weaker rays")
    return f"{'; '.join(words)}; in all {10 * math.log10(sum(ray.gain for ray in rays)):.1f} dB"


def _ray_way(
    scene: Scene, transmitter: Transmitter, ray: Bounced, end: tuple[float, float, float]
) -> tuple[WayPlace, ...]:
    storey = scene.building.storeys[own_storey(scene, transmitter)].id
    corners = ((transmitter.x_m, transmitter.y_m), *((x, y) for x, y, _ in ray.places), end[:2])
    return tuple(WayPlace(storey_id=storey, at=Point(x_m=round(x, 3), y_m=round(y, 3))) for x, y in corners)


def _off_axis_deg(transmitter: Transmitter, way: tuple[float, float, float], distance: float) -> float:
    if distance < 1e-9:
        return 0.0
    cosine = sum(a * b for a, b in zip(transmitter.axis, way, strict=True)) / distance
    return math.degrees(math.acos(max(-1.0, min(1.0, cosine))))


def _crossing_lines(
    scene: Scene, transmitter: Transmitter, end: tuple[float, float, float], index: int
) -> list[SumLine]:
    obstacles, slabs = scene.building.obstacles, scene.building.slabs
    lines, start = [], (transmitter.x_m, transmitter.y_m, transmitter.z_m)
    for which, kind, _ in crossings(scene, transmitter, end):
        if kind == 0:
            row, cosine = int(scene.wall_rows[int(which)]), cosine_of(scene, int(which), start, end)
            name = obstacles.names[int(which)]
        else:
            row, cosine = int(scene.slab_rows[int(which)]), abs(end[2] - start[2]) / math.dist(start, end)
            name = slabs[int(which)].name
        note = f"{math.degrees(math.acos(min(1.0, cosine))):.0f} degrees off straight on"
        lines.append(SumLine(label=name, value=-scene.crossing_db(row, cosine, index), unit="dB", note=note))
    return lines


def _area_lines(
    scene: Scene, transmitter: Transmitter, end: tuple[float, float, float], index: int
) -> list[SumLine]:
    """Return what the ray loses in areas, by the length of way in each."""
    found = areas_crossed(scene, (transmitter.x_m, transmitter.y_m, transmitter.z_m), end, index)
    return [SumLine(label=name, value=-loss, unit="dB") for name, loss in found]


def loudest_accounts(
    job: Job, scene: Scene, band: Band, storey_id: str, at: Point, most: int = 2
) -> tuple[Account, ...]:
    """Return the accounts of the loudest access points at a place, loudest first.

    The kernel says which they are; only those are worked out in plain steps.
    """
    z_m = scene.building.storey(storey_id).elevation_m + limit("air.client_height_m")
    heard = signals(job, scene, band, np.array([[at.x_m, at.y_m, z_m]]))
    loudest = np.argsort(-heard.way("weaker")[:, 0], kind="stable")[:most]
    accounts = (signal_account(job, scene, heard.points[n], band, storey_id, at) for n in loudest)
    return tuple(account for account in accounts if account is not None)
