"""Airtime: what Brief asks of each space, laid on the radios that serve it, hour by hour.

airtime = sum over spaces of (demand x share of the space a radio serves / usable rate there)
+ beacons + neighbours on the channel. A slow corner costs more air than a fast one: the rate of a
space is the harmonic mean over its places.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import Band, Job, Neighbour
from heathrise.core.library import limit
from heathrise.core.radio.channels import span_mhz
from heathrise.core.radio.colouring import overlap
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.onair import radio_share
from heathrise.core.radio.rates import usable_shares
from heathrise.core.radio.views import AirView
from heathrise.core.site.brief import SpaceDemand
from heathrise.core.sums import Noun, Sum, SumLine

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
# A place without any rate still takes air: it is counted at the slowest rate there is. [Mb/s]
SLOWEST_MBPS = 1.0


class RadioLoad(Noun):
    """One radio's airtime over the day. Shares of the air, 1 is all of it."""

    point_id: str
    label: str
    band: Band
    hours: tuple[float, ...]
    peak_hour: int
    peak: float
    clients: float
    sum: Sum


class Served(NamedTuple):
    """A point that serves a part of a space: the share of it, and the mean PHY rate there. [1, Mb/s]"""

    point_id: str
    band: Band
    share: float
    rate_mbps: float


class Part(NamedTuple):
    """A space a radio serves a share of, at a mean PHY rate; `over` says how its air is taken by what another point
    serves. [1, Mb/s]
    """

    space_id: str
    share: float
    rate_mbps: float
    over: str = ""


@dataclass
class _Load:
    """What is gathered for one radio: airtime at one person's rate and clients, by hour."""

    seconds: Floats = field(default_factory=lambda: np.zeros(24))
    clients: Floats = field(default_factory=lambda: np.zeros(24))
    parts: list[tuple[str, Floats, float]] = field(default_factory=list)


def served_by(air_view: AirView, inside: Ints, band: Band) -> tuple[Served, ...]:
    """Return which points serve the places of a space; the rate is the harmonic mean over them."""
    rate, server = air_view.rates[inside], air_view.server[inside]
    found = []
    for number in np.unique(server[server >= 0]):
        here = server == number
        slow = 1 / float(np.mean(1 / np.maximum(rate[here], SLOWEST_MBPS)))
        found.append(Served(air_view.heard.points[int(number)].id, band, float(here.mean()), slow))
    return tuple(found)


def parts_by_radio(served: Mapping[str, Iterable[Served]]) -> dict[tuple[str, Band], tuple[Part, ...]]:
    """Return what each radio serves; `served` says by space id who serves it."""
    found: dict[tuple[str, Band], list[Part]] = {}
    for space_id, by in served.items():
        for one in by:
            found.setdefault((one.point_id, one.band), []).append(Part(space_id, one.share, one.rate_mbps))
    return {radio: tuple(parts) for radio, parts in found.items()}


def fixed_share(job: Job, plan: RadioPlan) -> float:
    """Return the share of the air that is gone before anybody sends: beacons and neighbours."""
    return _beacons(job, plan) + _neighbours(job, plan)


def load_of(plan: RadioPlan, fixed: float, parts: Iterable[tuple[Part, SpaceDemand]]) -> RadioLoad:
    """Return the airtime of a radio from what it serves and the demand there."""
    load = _Load()
    for part, demand in parts:
        mbps = np.array([hour.demand_mbps for hour in demand.hours])
        busy = np.array([hour.clients for hour in demand.hours])
        load.seconds += mbps * part.share / part.rate_mbps
        if not part.over:
            load.clients += busy * part.share
        label = f"{demand.label}, {part.over}" if part.over else demand.label
        load.parts.append((label, mbps * part.share, part.rate_mbps))
    return _row(plan, fixed, load)


def _row(plan: RadioPlan, fixed: float, load: _Load) -> RadioLoad:
    usable = usable_shares(load.clients)
    hours = load.seconds / usable + fixed
    peak = int(np.argmax(hours))
    lines = [
        SumLine(
            label=f"{label}: {mbps[peak]:.1f} Mb/s at {slow:.0f} Mb/s PHY",
            value=round(100 * float(mbps[peak]) / slow / float(usable[peak]), 2),
            unit="%",
        )
        for label, mbps, slow in load.parts
        if mbps[peak] > 0
    ]
    lines.append(SumLine(label="beacons and neighbours", value=round(100 * fixed, 2), unit="%"))
    return RadioLoad(
        point_id=plan.point_id,
        label=plan.label,
        band=plan.band,
        hours=tuple(round(float(h), 4) for h in hours),
        peak_hour=peak,
        peak=round(float(hours[peak]), 4),
        clients=round(float(load.clients[peak]), 1),
        sum=Sum(
            label=f"Airtime of {plan.label}, {plan.band} GHz, at {peak:02d}:00",
            value=round(100 * float(hours[peak]), 1),
            unit="%",
            limit=100 * limit("air.airtime_fault"),
            holds=bool(hours[peak] <= limit("air.airtime_fault")),
            lines=tuple(lines),
            formula=f"demand / (PHY rate x {usable[peak]:.2f} usable with {load.clients[peak]:.0f} clients busy at once) "
            "+ beacons + neighbours",
            source="library: device kinds, profiles, rates (design values)",
        ),
    )


def _beacons(job: Job, plan: RadioPlan) -> float:
    """Return the share of air that beacons of the names of a band take: of every point heard on the channel."""
    if plan.channel is None:
        return 0.0
    return sum(radio_share(job, point_id, plan.band) for point_id in (plan.point_id, *plan.heard_ids))


def _neighbours(job: Job, plan: RadioPlan) -> float:
    """Return the share of air that known neighbours heard on the channel take."""
    if plan.channel is None:
        return 0.0
    mine = span_mhz(plan.band, plan.channel, plan.width_mhz)
    total = sum(
        overlap(mine, span_mhz(n.band, n.channel, n.width_mhz)) * limit("air.others_busy_share")
        for n in job.of(Neighbour)
        if n.band == plan.band and n.rssi_dbm >= limit("air.heard_dbm")
    )
    return min(1.0, total)
