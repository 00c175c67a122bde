"""Every bridge of a job as it stands: its path, what it carries, which way both ends look, its channel."""

from collections.abc import Sequence
from dataclasses import replace

from heathrise.core.deriving import Look, derived
from heathrise.core.job import Band, Equipment, Job, Link, PathPoint
from heathrise.core.job.view import job_of
from heathrise.core.library.equipment import AirUnit
from heathrise.core.links.overair import OverAir, over_air
from heathrise.core.links.profile import Masts, bearing_deg, checked_profile, tilt_deg
from heathrise.core.links.span import Span, span_at
from heathrise.core.radio.air import radio_rows
from heathrise.core.radio.channels import channel_choices, span_mhz
from heathrise.core.site.building import Building
from heathrise.core.site.derived import building
from heathrise.core.sums import Noun, Sum


class BridgeEnd(Noun):
    """One end of a bridge: how high over the ground, and which way it looks, clockwise from north and over level."""

    unit_id: str
    label: str
    height_m: float
    bearing_deg: float
    tilt_deg: float


class BridgePlan(Noun):
    """One bridge as computed. `checks` are its limits, the path first; `why_not` says why it carries nothing.

    `places` are the profile of its path, `needs_m` what is to be free over each; `channel` is one that no
    access point of the job uses, None where its band has none or is another.
    """

    link_id: str
    label: str
    ends: tuple[BridgeEnd, BridgeEnd]
    length_m: float
    mbps: float
    margin_db: float | None
    holds: bool
    why_not: str
    checks: tuple[Sum, ...]
    throughput: Sum | None
    places: tuple[PathPoint, ...]
    needs_m: tuple[float, ...]
    channel: int | None


@derived
def bridges(look: Look) -> tuple[BridgePlan, ...]:
    """Every bridge of the job, in the links' own order."""
    job = job_of(look)
    found = [link for link in job.of(Link) if link.medium == "bridge"]
    used = (
        [(row.channel, row.width_mhz, row.band) for row in radio_rows(look) if row.on and row.channel]
        if found
        else []
    )
    plans = (bridge_plan(job, building(look), link, used) for link in found)
    return tuple(plan for plan in plans if plan is not None)


def bridge_plan(
    job: Job, of: Building, link: Link, used: Sequence[tuple[int, int, Band]]
) -> BridgePlan | None:
    """Return one bridge as it stands; None where an end is no unit that sees anything, or both stand at one place.

    `used` are the (channel, width_mhz, band) of the job's access points.
    """
    near, far = (job.by_id[end.on] for end in (link.a, link.b))
    if not isinstance(near, Equipment) or not isinstance(far, Equipment):
        return None
    unit = job.equipment[near.model].air
    one, other = job.spot(near.id), job.spot(far.id)
    if unit is None or one.at == other.at:
        return None
    tall = tuple(max(0.1, of.storey(s.storey_id).elevation_m + s.height_m) for s in (one, other))
    span = span_at(of, one.at, other.at, Masts(from_m=tall[0], to_m=tall[1]))
    if link.profile:
        span = replace(span, length_m=link.profile[-1].distance_m, places=link.profile)
    carried = _carried(job, span, unit, far, link.label)
    zones = {place.distance_m: place.needs_m for place in carried.path.places} if carried.path else {}
    return BridgePlan(
        link_id=link.id,
        label=link.label,
        ends=_ends(span, near, far),
        length_m=round(span.length_m, 2),
        mbps=carried.mbps,
        margin_db=None if carried.margin_db is None else round(carried.margin_db, 1),
        holds=not carried.why_not,
        why_not=carried.why_not,
        checks=carried.checks,
        throughput=carried.throughput,
        places=span.places,
        needs_m=tuple(round(zones.get(place.distance_m, 0.0), 3) for place in span.places),
        channel=_free_channel(job, unit, used),
    )


def _carried(job: Job, span: Span, unit: AirUnit, far: Equipment, label: str) -> OverAir:
    if job.equipment[far.model].air != unit:
        return OverAir(
            "Its ends are not alike: both units must be of one kind to hear each other.", None, (), None
        )
    try:
        checked_profile(span.places)
    except ValueError as error:
        return OverAir(f"The profile of its path cannot be used: {error}.", None, (), None)
    return over_air(span, unit, job.site, label)


def _ends(span: Span, near: Equipment, far: Equipment) -> tuple[BridgeEnd, BridgeEnd]:
    """Return both ends; the top of the sheet is north, down the sheet is y."""
    east, north = span.b.x_m - span.a.x_m, span.a.y_m - span.b.y_m
    rise = span.places[-1].ground_m + span.masts.to_m - span.places[0].ground_m - span.masts.from_m
    there, back = bearing_deg(east, north), bearing_deg(-east, -north)
    up, down = tilt_deg(span.length_m, rise), tilt_deg(span.length_m, -rise)
    return (
        _end(near, span.masts.from_m, there, up),
        _end(far, span.masts.to_m, back, down),
    )


def _end(unit: Equipment, height_m: float, bearing: float, tilt: float) -> BridgeEnd:
    return BridgeEnd(
        unit_id=unit.id,
        label=unit.label,
        height_m=round(height_m, 2),
        bearing_deg=round(bearing, 1),
        tilt_deg=round(tilt, 2),
    )


def _free_channel(job: Job, unit: AirUnit, used: Sequence[tuple[int, int, Band]]) -> int | None:
    """Return the first channel outdoors that overlaps none of the access points', None where there is none."""
    if unit.band is None:
        return None
    taken = [span_mhz(band, channel, width) for channel, width, band in used if band == unit.band]
    for channel in channel_choices(job, unit.band, unit.width_mhz, outdoors=True):
        low, high = span_mhz(unit.band, channel, unit.width_mhz)
        if all(high <= start or low >= stop for start, stop in taken):
            return channel
    return None
