"""A channel for every radio: least weighted overlap over all pairs that hear each other.

A greedy start (the most-heard radio first) is improved by changing one radio at a time until
no change helps. Channels a person has set are kept. The exact plan with its bound comes with the
placement work; the value returned here is an upper bound and says so.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import BANDS, AccessPoint, Band, Job, Radio
from heathrise.core.library import Domain, SubBand, library, limit
from heathrise.core.radio.coverage import NOTHING_DBM, radio_on
from heathrise.core.radio.reach import gain_db
from heathrise.core.radio.scene import Scene, Stand, pattern_of
from heathrise.core.sums import Noun

Floats = NDArray[np.float64]
SETS_24 = {"1/6/11": (1, 6, 11), "1/5/9/13": (1, 5, 9, 13)}
# The lowest channel of the first block that a width can be bonded from, by band.
_FIRST = {"5": (36, 100, 149), "6": (1,)}


class RadioPlan(Noun):
    """The planned settings of one radio and why."""

    point_id: str
    label: str
    band: Band
    on: bool
    channel: int | None
    width_mhz: int
    power_dbm: float
    eirp_dbm: float
    eirp_limit_dbm: float | None
    fixed: bool
    shared: float
    quietest: int | None
    quietest_shared: float
    reason: str


@dataclass(frozen=True)
class Seat:
    """One radio that needs a channel."""

    point: AccessPoint
    radio: Radio
    width_mhz: int
    choices: tuple[int, ...]


def centre_mhz(band: str, channel: int) -> float:
    """Return a 20 MHz channel's centre frequency. Source: IEEE 802.11-2020 annex E."""
    if band == "2.4":
        return 2407.0 + 5 * channel if channel < 14 else 2484.0
    return (5000.0 if band == "5" else 5950.0) + 5 * channel


def span_mhz(band: str, channel: int, width_mhz: int) -> tuple[float, float]:
    """Return the lowest and highest frequency of the bonded block that holds a channel. [MHz]"""
    if band == "2.4" or width_mhz == 20:
        centre = centre_mhz(band, channel)
        return centre - 10, centre + 10
    step = width_mhz // 5
    start = max(first for first in _FIRST[band] if first <= channel)
    low = start + (channel - start) // step * step
    left = centre_mhz(band, low) - 10
    return left, left + width_mhz


def overlap(one: tuple[float, float], other: tuple[float, float]) -> float:
    """Return the share of the narrower block that two blocks have in common, 0 to 1."""
    common = min(one[1], other[1]) - max(one[0], other[0])
    return max(0.0, common / min(one[1] - one[0], other[1] - other[0]))


def sub_band(domain: Domain, band: str, channel: int) -> SubBand | None:
    """Return the piece of a domain that holds a channel."""
    return next((s for s in domain.sub_bands if s.band == band and channel in s.channels), None)


def channel_choices(job: Job, band: Band, width_mhz: int, outdoors: bool) -> tuple[int, ...]:
    """Return the primary channels the domain and the practice allow, one per bonded block."""
    domain = library().domains[job.site.domain]
    allowed = [
        channel
        for piece in domain.sub_bands
        if piece.band == band
        and not (piece.radar and not job.practice.radar_channels)
        and not (piece.indoor_only and outdoors)
        for channel in piece.channels
    ]
    if band == "2.4":
        return tuple(c for c in SETS_24[job.practice.set_24] if c in allowed)
    starts, seen = [], set()
    for channel in allowed:
        block = span_mhz(band, channel, width_mhz)
        members = [c for c in allowed if block[0] < centre_mhz(band, c) < block[1]]
        if block not in seen and len(members) == width_mhz // 20:
            seen.add(block)
            starts.append(channel)
    return tuple(starts)


def width_of(job: Job, radio: Radio) -> int:
    """Return a radio's width: set, else the practice's."""
    if radio.width_mhz is not None:
        return radio.width_mhz
    by_band = {"2.4": 20, "5": job.practice.width_5_mhz, "6": job.practice.width_6_mhz}
    return by_band[radio.band]


def heard_dbm(scene: Scene, band: Band, points: list[AccessPoint]) -> Floats:
    """Return how loud each point (row) is at each other point (column), both antennas. [dBm]"""
    n = len(points)
    stands = [scene.stand(point) for point in points]
    places = np.array([(s.x_m, s.y_m, s.z_m) for s in stands]).reshape(-1, 3)
    level: Floats = np.full((n, n), float(NOTHING_DBM))
    for i, (point, stand) in enumerate(zip(points, stands, strict=True)):
        radio = radio_on(point, band, scene.building.job.practice)
        if radio is None:
            continue
        level[i] = radio.power_dbm + _gain_dbi(point, band) + gain_db(scene, stand, band, places)
        level[i] += [
            _gain_dbi(p, band) + _towards(scene, s, stand) for p, s in zip(points, stands, strict=True)
        ]
    np.fill_diagonal(level, NOTHING_DBM)
    return level


def _gain_dbi(point: AccessPoint, band: Band) -> float:
    has = library().access_points[point.model].band(band)
    return has.gain_dbi if has else 0.0


def _towards(scene: Scene, stand: Stand, other: Stand) -> float:
    """Return an antenna's gain under its peak towards another's place. [dB]"""
    way = other.x_m - stand.x_m, other.y_m - stand.y_m, other.z_m - stand.z_m
    return pattern_of(scene, stand.pattern).relative_db(way, stand.axis, stand.up)


def pair_weights(heard: Floats) -> Floats:
    """Return how much each pair matters: 0 when unheard, growing 1 per 10 dB above. Symmetric."""
    loudest = np.maximum(heard, heard.T)
    weights: Floats = np.maximum(0.0, 1.0 + (loudest - limit("air.heard_dbm")) / 10)
    weights[loudest < limit("air.heard_dbm")] = 0.0
    return weights


def plan_channels(job: Job, scene: Scene) -> tuple[RadioPlan, ...]:
    """Return the plan of every radio of the job, band by band."""
    return tuple(row for band in BANDS for row in _plan_band(job, scene, band))


def _plan_band(job: Job, scene: Scene, band: Band) -> list[RadioPlan]:
    seats = []
    for point in job.of(AccessPoint):
        radio = radio_on(point, band, job.practice)
        if radio is not None:
            width = width_of(job, radio)
            outdoors = scene.building.house_at(point.at) is None
            choices = channel_choices(job, band, width, outdoors)
            seats.append(Seat(point, radio, width, _loud_enough(job, point, radio, choices)))
    heard = heard_dbm(scene, band, [seat.point for seat in seats])
    weights = pair_weights(heard)
    chosen = assign(band, seats, weights)
    return [_row(job, band, seats, chosen, heard, weights, i) for i in range(len(seats))]


def _loud_enough(job: Job, point: AccessPoint, radio: Radio, choices: tuple[int, ...]) -> tuple[int, ...]:
    """Return the choices whose limit allows the radio's planned power; all when none does."""
    domain = library().domains[job.site.domain]
    has = library().access_points[point.model].band(radio.band)
    eirp = radio.power_dbm + (has.gain_dbi if has else 0.0)
    pieces = {channel: sub_band(domain, radio.band, channel) for channel in choices}
    fits = tuple(c for c, piece in pieces.items() if piece is not None and piece.eirp_dbm >= eirp)
    return fits or choices


def assign(band: Band, seats: list[Seat], weights: Floats) -> list[int | None]:
    """Return a channel per seat: greedy, then single changes until none lowers the overlap."""
    chosen: list[int | None] = [seat.radio.channel for seat in seats]
    free = [i for i, seat in enumerate(seats) if seat.radio.channel is None and seat.choices]
    for i in sorted(free, key=lambda i: -float(weights[i].sum())):
        chosen[i] = _least(band, seats, weights, chosen, i)
    for _ in range(len(seats) + 1):
        changed = False
        for i in free:
            better = _least(band, seats, weights, chosen, i)
            if better != chosen[i]:
                chosen[i], changed = better, True
        if not changed:
            break
    return chosen


def shared_weight(
    band: Band, seats: list[Seat], weights: Floats, chosen: list[int | None], i: int, channel: int
) -> float:
    """Return the overlap one seat would have on a channel."""
    mine = span_mhz(band, channel, seats[i].width_mhz)
    total = 0.0
    for j in np.flatnonzero(weights[i]):
        other = chosen[j]
        if j != i and other is not None:
            total += float(weights[i, j]) * overlap(mine, span_mhz(band, other, seats[j].width_mhz))
    return total


def _least(band: Band, seats: list[Seat], weights: Floats, chosen: list[int | None], i: int) -> int | None:
    """Return the channel with least overlap; the present one on a tie, then the lowest."""
    costs = {c: shared_weight(band, seats, weights, chosen, i, c) for c in seats[i].choices}
    least = min(costs.values())
    now = chosen[i]
    if now is not None and costs.get(now, least + 1) <= least + 1e-9:
        return now
    return next(c for c in seats[i].choices if costs[c] <= least + 1e-9)


def _row(
    job: Job,
    band: Band,
    seats: list[Seat],
    chosen: list[int | None],
    heard: Floats,
    weights: Floats,
    i: int,
) -> RadioPlan:
    seat, channel = seats[i], chosen[i]
    has = library().access_points[seat.point.model].band(band)
    piece = None
    shared = 0.0
    quietest = _least(band, seats, weights, chosen, i) if seat.choices else None
    if channel is not None:
        piece = sub_band(library().domains[job.site.domain], band, channel)
        shared = shared_weight(band, seats, weights, chosen, i, channel)
    return RadioPlan(
        point_id=seat.point.id,
        label=seat.point.label,
        band=band,
        on=True,
        channel=channel,
        width_mhz=seat.width_mhz,
        power_dbm=seat.radio.power_dbm,
        eirp_dbm=seat.radio.power_dbm + (has.gain_dbi if has else 0.0),
        eirp_limit_dbm=piece.eirp_dbm if piece else None,
        fixed=seat.radio.channel is not None,
        shared=round(shared, 3),
        quietest=quietest,
        quietest_shared=0.0
        if quietest is None
        else round(shared_weight(band, seats, weights, chosen, i, quietest), 3),
        reason=_reason(seats, chosen, heard, i),
    )


def _reason(seats: list[Seat], chosen: list[int | None], heard: Floats, i: int) -> str:
    """Say which neighbours decided, loudest first."""
    channel = chosen[i]
    if channel is None:
        return "no channel of this width is allowed here by the domain and the practice"
    loudest = np.argsort(-heard[:, i])[:2]
    near = [j for j in loudest if heard[j, i] >= limit("air.heard_dbm") and j != i]
    kept = "set by hand" if seats[i].radio.channel is not None else f"{channel} here"
    if not near:
        return f"{kept}; no other point is heard at {limit('air.heard_dbm'):.0f} dBm or more"
    words = [f"{seats[j].point.label} on {chosen[j]} is heard at {heard[j, i]:.0f}" for j in near]
    return f"{kept}, because {' and '.join(words)} dBm"
