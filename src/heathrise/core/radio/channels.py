"""A channel for every radio: least weighted overlap over all pairs that hear each other.

Up to a number of radios on a band (limits: air.exact_seats) the plan is solved exactly; beyond, the
best plan of a long search is taken, and a study says by a bound how far it may be off.
Channels a person has set are kept. Known neighbours count on the channels they were heard on.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import BANDS, AccessPoint, Band, Job, Neighbour, Radio
from heathrise.core.library import Domain, SubBand, library, limit
from heathrise.core.radio.colouring import Puzzle, overlap, solve, spread
from heathrise.core.radio.coverage import NOTHING_DBM, radio_on
from heathrise.core.radio.finds import BandPlan, RadioPlan
from heathrise.core.radio.reach import factored, gains_db
from heathrise.core.radio.scene import Scene, Transmitter, pattern_of

Floats = NDArray[np.float64]
SETS_24 = {"1/6/11": (1, 6, 11), "1/5/9/13": (1, 5, 9, 13)}
# The lowest channel of the first block that a width can be bonded from, by band.
_FIRST = {"5": (36, 100, 149), "6": (1,)}


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


@cache
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


def sub_band(domain: Domain, band: str, channel: int) -> SubBand | None:
    """Return the piece of a domain that holds a channel."""
    return next((s for s in domain.sub_bands if s.band == band and channel in s.channels), None)


def pieces_of(domain: Domain, band: Band, channel: int, width_mhz: int) -> tuple[SubBand, ...]:
    """Return every piece of a domain that a bonded block touches: the strictest of them holds for all of it."""
    low, high = span_mhz(band, channel, width_mhz)
    return tuple(
        piece
        for piece in domain.sub_bands
        if piece.band == band and any(low < centre_mhz(band, c) < high for c in piece.channels)
    )


def eirp_limit_dbm(domain: Domain, band: Band, channel: int, width_mhz: int) -> float | None:
    """Return the most EIRP on a channel of a width, None where the domain has none there. [dBm]"""
    found = [piece.limit_dbm(width_mhz) for piece in pieces_of(domain, band, channel, width_mhz)]
    return min(found, default=None)


def channel_choices(job: Job, band: Band, width_mhz: int, outdoors: bool) -> tuple[int, ...]:
    """Return the primary channels the domain and the practice allow, one per bonded block."""
    practice = job.practice
    allowed = _allowed(library().domains[job.site.domain], band, practice.radar_channels, outdoors)
    if band == "2.4":
        return tuple(c for c in SETS_24[practice.set_24] if c in allowed)
    return _blocks(allowed, band, width_mhz)


@cache
def _allowed(domain: Domain, band: Band, radar: bool, outdoors: bool) -> tuple[int, ...]:
    return tuple(
        channel
        for piece in domain.sub_bands
        if piece.band == band and not (piece.radar and not radar) and not (piece.indoor_only and outdoors)
        for channel in piece.channels
    )


@cache
def _blocks(allowed: tuple[int, ...], band: Band, width_mhz: int) -> tuple[int, ...]:
    """Return the first channel of each block that can be bonded whole from what is allowed."""
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


def between_db(job: Job, scene: Scene, band: Band, points: Sequence[AccessPoint]) -> Floats:
    """Return the path gain from each point (row) to each other (column), both antennas counted. [dB]

    Without mirrors: which pairs hear each other hangs on tens of dB, not on the last two.
    """
    n = len(points)
    transmitters = [replace(scene.transmitter(point), mirrors=False) for point in points]
    places = np.array([(s.x_m, s.y_m, s.z_m) for s in transmitters]).reshape(-1, 3)
    gain_dbi = np.array([_gain_dbi(job, point, band) for point in points])
    sent = np.array(gains_db(scene, transmitters, band, places), float).reshape(n, n)
    hearing = (
        np.array([_towards_db(scene, transmitter, places) for transmitter in transmitters]).reshape(n, n).T
    )
    found: Floats = gain_dbi[:, None] + sent + gain_dbi + hearing
    return found


def heard_dbm(
    job: Job, scene: Scene, band: Band, points: Sequence[AccessPoint], between: Floats | None = None
) -> Floats:
    """Return how loud each point (row) is at each other point (column), both antennas. [dBm]

    `between` is what `between_db` found of these points, when it is known.
    """
    radios = [radio_on(job, point, band) for point in points]
    power_dbm = np.array([radio.power_dbm if radio else 0.0 for radio in radios])
    level = power_dbm[:, None] + (between_db(job, scene, band, points) if between is None else between)
    level[[radio is None for radio in radios]] = NOTHING_DBM
    np.fill_diagonal(level, NOTHING_DBM)
    return level


def _gain_dbi(job: Job, point: AccessPoint, band: Band) -> float:
    has = job.equipment[point.model].band(band)
    return has.gain_dbi if has else 0.0


def _towards_db(scene: Scene, transmitter: Transmitter, places_m: Floats) -> Floats:
    """Return an antenna's gain under its peak towards places (n, 3). [dB]"""
    ways = places_m - (transmitter.x_m, transmitter.y_m, transmitter.z_m)
    return pattern_of(scene, transmitter.pattern).towards_db(ways, transmitter.axis, transmitter.up)


def pair_weights(heard: Floats) -> Floats:
    """Return how much each pair matters: 0 when unheard, growing 1 per 10 dB above. Symmetric."""
    loudest = np.maximum(heard, heard.T)
    weights: Floats = np.maximum(0.0, 1.0 + (loudest - limit("air.heard_dbm")) / 10)
    weights[loudest < limit("air.heard_dbm")] = 0.0
    return weights


@dataclass(frozen=True)
class ChannelPlan:
    """The plan of one band, and how good it is; None when no radio is on it."""

    rows: tuple[RadioPlan, ...]
    band: BandPlan | None


@dataclass(frozen=True)
class ChannelPlans:
    """The plan of every radio, and how good it is on each band."""

    rows: tuple[RadioPlan, ...]
    bands: tuple[BandPlan, ...]


def plan_channels(job: Job, scene: Scene) -> tuple[RadioPlan, ...]:
    """Return the plan of every radio of the job, band by band."""
    return plan_bands(job, scene).rows


def plan_bands(job: Job, scene: Scene, seconds: float | None = None) -> ChannelPlans:
    """Return the channel plan of a job; with `seconds` a bound of each band beyond the usual number too."""
    factored(scene, [band for band in BANDS if seats_of(job, scene, band)])
    plans = [plan_band(job, scene, band, seconds) for band in BANDS]
    return ChannelPlans(
        tuple(row for plan in plans for row in plan.rows), tuple(p.band for p in plans if p.band is not None)
    )


def seats_of(job: Job, scene: Scene, band: Band) -> list[Seat]:
    """Return the radios of a band that are on, with the channels open to each."""
    seats = []
    for point in job.of(AccessPoint):
        radio = radio_on(job, point, band)
        if radio is not None:
            width = width_of(job, radio)
            outdoors = scene.building.house_at(point.at) is None
            choices = channel_choices(job, band, width, outdoors)
            seats.append(Seat(point, radio, width, _loud_enough(job, point, radio, choices, width)))
    return seats


def plan_band(
    job: Job, scene: Scene, band: Band, seconds: float | None = None, between: Floats | None = None
) -> ChannelPlan:
    """Return the channel plan of one band; `between` is the gain between its points, when it is known."""
    seats = seats_of(job, scene, band)
    if not seats:
        return ChannelPlan((), None)
    heard = heard_dbm(job, scene, band, [seat.point for seat in seats], between)
    weights = pair_weights(heard)
    puzzle, placed = puzzle_of(job, band, seats, weights)
    exact = len(seats) <= limit("air.exact_seats")
    found = solve(puzzle, seconds or (limit("air.exact_s") if exact else 0.0))
    chosen: list[int | None] = [None] * len(seats)
    for index, choice in zip(placed, spread(puzzle, found.chosen), strict=True):
        chosen[index] = _open(seats[index])[choice]
    rows = tuple(_row(job, band, seats, chosen, heard, weights, i) for i in range(len(seats)))
    quality = BandPlan(
        band=band,
        radios=len(seats),
        overlap=round(found.total, 3),
        greedy=round(found.greedy, 3),
        bound=round(found.bound, 3),
        proven=found.proven,
    )
    return ChannelPlan(rows, quality)


def _open(seat: Seat) -> tuple[int, ...]:
    """Return the channels a seat may take: the one that was set, else its choices."""
    return seat.choices if seat.radio.channel is None else (seat.radio.channel,)


def puzzle_of(job: Job, band: Band, seats: list[Seat], weights: Floats) -> tuple[Puzzle, list[int]]:
    """Return the colouring to solve and the seats in it; a seat without any channel is left out."""
    placed = [i for i, seat in enumerate(seats) if _open(seat)]
    choices = tuple(
        tuple(span_mhz(band, channel, seats[i].width_mhz) for channel in _open(seats[i])) for i in placed
    )
    kept = weights[np.ix_(placed, placed)].round(6)
    own = tuple(tuple(neighbour_weight(job, band, block) for block in blocks) for blocks in choices)
    return Puzzle(choices, tuple(map(tuple, kept.tolist())), own), placed


def neighbour_weight(job: Job, band: Band, block: tuple[float, float]) -> float:
    """Return what known neighbours put on a block, weighed as pairs are."""
    total = 0.0
    for other in job.of(Neighbour):
        if other.band == band and other.rssi_dbm >= limit("air.heard_dbm"):
            shared = overlap(block, span_mhz(band, other.channel, other.width_mhz))
            total += shared * (1.0 + (other.rssi_dbm - limit("air.heard_dbm")) / 10)
    return round(total, 6)


def _loud_enough(
    job: Job, point: AccessPoint, radio: Radio, choices: tuple[int, ...], width_mhz: int
) -> tuple[int, ...]:
    """Return the choices whose limit allows the radio's planned power; all when none does."""
    domain = library().domains[job.site.domain]
    has = job.equipment[point.model].band(radio.band)
    eirp = radio.power_dbm + (has.gain_dbi if has else 0.0)
    most = {channel: eirp_limit_dbm(domain, radio.band, channel, width_mhz) for channel in choices}
    fits = tuple(c for c, limit_dbm in most.items() if limit_dbm is not None and limit_dbm >= eirp)
    return fits or choices


def shared_weight(
    band: Band, seats: list[Seat], weights: Floats, chosen: list[int | None], i: int, channel: int
) -> float:
    """Return the overlap one seat would have with the others on a channel."""
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
    has = job.equipment[seat.point.model].band(band)
    most = None
    shared = 0.0
    quietest = _least(band, seats, weights, chosen, i) if seat.choices else None
    if channel is not None:
        most = eirp_limit_dbm(library().domains[job.site.domain], band, channel, seat.width_mhz)
        shared = shared_weight(band, seats, weights, chosen, i, channel)
    heard_ids = _heard_on_channel(band, seats, chosen, heard, i)
    return RadioPlan(
        point_id=seat.point.id,
        label=seat.point.label,
        band=band,
        on=True,
        channel=channel,
        width_mhz=seat.width_mhz,
        power_dbm=seat.radio.power_dbm,
        eirp_dbm=seat.radio.power_dbm + (has.gain_dbi if has else 0.0),
        eirp_limit_dbm=most,
        fixed=seat.radio.channel is not None,
        heard_on_channel=len(heard_ids) + (channel is not None),
        heard_ids=heard_ids,
        shared=round(shared, 3),
        quietest=quietest,
        quietest_shared=0.0
        if quietest is None
        else round(shared_weight(band, seats, weights, chosen, i, quietest), 3),
        reason=_reason(seats, chosen, heard, i),
    )


def _heard_on_channel(
    band: Band, seats: list[Seat], chosen: list[int | None], heard: Floats, i: int
) -> tuple[str, ...]:
    """Return the points that one hears on its channel, itself apart; none for one without a channel."""
    mine = chosen[i]
    if mine is None:
        return ()
    block, found = span_mhz(band, mine, seats[i].width_mhz), []
    for j in np.flatnonzero(heard[:, i] >= limit("air.heard_dbm")):
        theirs = chosen[j]
        if j != i and theirs is not None and overlap(block, span_mhz(band, theirs, seats[j].width_mhz)) > 0:
            found.append(seats[j].point.id)
    return tuple(found)


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
