"""The sum behind one signal: free space, every wall and slab by name, both antennas.

Written apart from the kernel, in plain steps, so that each checks the other in the tests.
"""

import math

import shapely

from heathrise.core.job import BANDS, AccessPoint, Band, Job, Point
from heathrise.core.library import library, limit
from heathrise.core.radio.antenna import pattern_table
from heathrise.core.radio.coverage import client_power_dbm, radio_on
from heathrise.core.radio.scene import Scene, Stand
from heathrise.core.sums import Sum, SumLine


def crossings(scene: Scene, stand: Stand, at: tuple[float, float, float]) -> list[tuple[str, int, float]]:
    """Return (what, kind 0 wall or 1 slab, share of the way) along a ray, nearest first."""
    ray = shapely.LineString([(stand.x_m, stand.y_m), at[:2]])
    rise = at[2] - stand.z_m
    found: list[tuple[str, int, float]] = []
    obstacles = scene.building.obstacles
    for i, (x1, y1, x2, y2) in enumerate(obstacles.ends_m):
        hit = ray.intersection(shapely.LineString([(x1, y1), (x2, y2)]))
        if hit.is_empty or hit.geom_type != "Point" or ray.length == 0:
            continue
        share = ray.project(hit) / ray.length
        low, high = obstacles.heights_m[i]
        if 0 < share < 1 and low <= stand.z_m + share * rise < high:
            found.append((str(i), 0, share))
    for i, slab in enumerate(scene.building.slabs):
        share = (slab.z_m - stand.z_m) / rise if rise else 0.0
        if 0 < share < 1 and slab.area.covers(ray.interpolate(share, normalized=True)):
            found.append((str(i), 1, share))
    return sorted(found, key=lambda crossing: crossing[2])


def signal_account(
    job: Job, scene: Scene, point: AccessPoint, band: Band, storey_id: str, at: Point
) -> Sum | None:
    """Return the weaker of down and up at a place as a sum; None when the radio is off."""
    radio = radio_on(point, band, job.practice)
    has = library().access_points[point.model].band(band)
    if radio is None or has is None:
        return None
    client = library().clients[job.brief.client_class]
    z_m = scene.building.storey(storey_id).elevation_m + limit("air.client_height_m")
    stand = scene.stand(point)
    end = (at.x_m, at.y_m, z_m)
    way = (end[0] - stand.x_m, end[1] - stand.y_m, end[2] - stand.z_m)
    distance = math.hypot(*way)
    index = BANDS.index(band)
    off_axis = _off_axis_deg(stand, way, distance)
    one_metre = float(scene.one_metre_db[index])
    far = 10 * limit("air.exponent") * math.log10(max(distance, 1.0))
    lines = [
        SumLine(label=f"{point.label} sends", value=radio.power_dbm, unit="dBm"),
        SumLine(label="its antenna's peak", value=has.gain_dbi, unit="dBi"),
        SumLine(
            label=f"{off_axis:.0f} degrees off its axis",
            value=float(pattern_table(stand.pattern)[round(off_axis)]),
            unit="dB",
        ),
        SumLine(label="free space over 1 m", value=-one_metre, unit="dB"),
        SumLine(label=f"distance {distance:.1f} m", value=-far, unit="dB"),
        *_crossing_lines(scene, stand, end, index),
        SumLine(label=f"antenna of a {client.label.lower()}", value=client.gain_dbi, unit="dBi"),
    ]
    down = sum(line.value for line in lines)
    sends = client_power_dbm(client, band)
    if sends < radio.power_dbm:
        gap = sends - radio.power_dbm
        lines.append(SumLine(label="the way up is weaker by", value=gap, unit="dB"))
    return Sum(
        label=f"{point.label} at {at.x_m:.1f}, {at.y_m:.1f}, {band} GHz",
        value=round(min(down, down + sends - radio.power_dbm), 2),
        unit="dBm",
        lines=tuple(lines),
        formula="P + G(direction) - free space - walls - slabs + G client; weaker of down and up",
        source="COST 231 multi-wall; library: build-ups. Usual error 6 to 8 dB, nothing measured.",
    )


def _off_axis_deg(stand: Stand, way: tuple[float, float, float], distance: float) -> float:
    if distance < 1e-9:
        return 0.0
    cosine = sum(a * b for a, b in zip(stand.axis, way, strict=True)) / distance
    return math.degrees(math.acos(max(-1.0, min(1.0, cosine))))


def _crossing_lines(scene: Scene, stand: Stand, end: tuple[float, float, float], index: int) -> list[SumLine]:
    obstacles, slabs = scene.building.obstacles, scene.building.slabs
    lines, walls_db = [], 0.0
    for which, kind, _ in crossings(scene, stand, end):
        if kind == 0:
            loss = float(obstacles.losses_db[int(which), index])
            walls_db += loss
            name = obstacles.names[int(which)]
        else:
            loss, name = slabs[int(which)].losses_db[index], slabs[int(which)].name
        lines.append(SumLine(label=name, value=-loss, unit="dB"))
    bound = float(scene.bound_db[index])
    if walls_db > bound:
        lines.append(
            SumLine(
                label="walls bounded",
                value=walls_db - bound,
                unit="dB",
                note="energy goes round through doors",
            )
        )
    return lines


def loudest_accounts(
    job: Job, scene: Scene, band: Band, storey_id: str, at: Point, most: int = 2
) -> tuple[Sum, ...]:
    """Return the accounts of the loudest access points at a place, loudest first."""
    accounts = (signal_account(job, scene, point, band, storey_id, at) for point in job.of(AccessPoint))
    heard = sorted((a for a in accounts if a is not None), key=lambda a: -a.value)
    return tuple(heard[:most])
