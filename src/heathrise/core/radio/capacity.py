"""Airtime: what Brief asks of each space, laid on the radios that serve it, hour by hour.

airtime = sum over spaces of (demand x share of the space a radio serves / usable rate there)
+ beacons + neighbours on the channel. A slow corner costs more air than a fast one: the rate of a
space is the harmonic mean over its places.
"""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import Band, Job, Neighbour, Ssid
from heathrise.core.library import library, limit
from heathrise.core.radio.beacons import name_airtime
from heathrise.core.radio.channels import RadioPlan, span_mhz
from heathrise.core.radio.colouring import overlap
from heathrise.core.radio.rates import usable_share
from heathrise.core.radio.views import Sight
from heathrise.core.site.brief import SpaceDemand
from heathrise.core.sums import Noun, Sum, SumLine

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
# A place without any rate still takes air: it is counted at the slowest rate there is. [Mb/s]
_SLOWEST_MBPS = 1.0


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


@dataclass
class _Load:
    """What is gathered for one radio: airtime at one person's rate and clients, by hour."""

    seconds: Floats = field(default_factory=lambda: np.zeros(24))
    clients: Floats = field(default_factory=lambda: np.zeros(24))
    parts: list[tuple[str, Floats, float]] = field(default_factory=list)


def loads(
    job: Job,
    plan: tuple[RadioPlan, ...],
    demands: tuple[SpaceDemand, ...],
    sights: dict[tuple[str, Band], Sight],
    cells: dict[str, tuple[str, Ints]],
) -> tuple[RadioLoad, ...]:
    """Return the airtime of every radio.

    `sights` are the air by storey and band; `cells` the storey of each space and its places there.
    """
    gathered: dict[tuple[str, Band], _Load] = {}
    spaces = {space.space_id: space for space in demands}
    needs = {e.id: library().needs[e.need] for e in job.elements if e.kind == "space"}
    for space_id, demand in spaces.items():
        band = needs[space_id].band
        storey_id, inside = cells.get(space_id, ("", np.empty(0, np.int64)))
        if band is None or not len(inside) or (storey_id, band) not in sights:
            continue
        _lay(gathered, sights[storey_id, band], demand, inside, band)
    rows = [_row(job, row, gathered.get((row.point_id, row.band), _Load())) for row in plan if row.on]
    return tuple(rows)


def _lay(
    gathered: dict[tuple[str, Band], _Load], sight: Sight, demand: SpaceDemand, inside: Ints, band: Band
) -> None:
    """Lay one space's demand on the radios that serve its places."""
    rate, server = sight.rates[inside], sight.server[inside]
    mbps = np.array([hour.demand_mbps for hour in demand.hours])
    people = np.array([hour.people for hour in demand.hours])
    for number in np.unique(server[server >= 0]):
        here = server == number
        share = float(here.mean())
        slow = 1 / float(np.mean(1 / np.maximum(rate[here], _SLOWEST_MBPS)))
        load = gathered.setdefault((sight.heard.points[int(number)].id, band), _Load())
        load.seconds += mbps * share / slow
        load.clients += people * share
        load.parts.append((demand.label, mbps * share, slow))


def _row(job: Job, plan: RadioPlan, load: _Load) -> RadioLoad:
    fixed = _beacons(job, plan.band) + _neighbours(job, plan)
    usable = np.array([usable_share(max(1.0, clients)) for clients in load.clients])
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
            formula=f"demand / (PHY rate x {usable[peak]:.2f} usable with {load.clients[peak]:.0f} people) "
            "+ beacons + neighbours",
            source="library: device kinds, profiles, rates (design values)",
        ),
    )


def _beacons(job: Job, band: Band) -> float:
    """Return the share of air the names of a band cost one radio."""
    slow = {"2.4": None, "5": 6.0, "6": 6.0}[band]
    return sum(
        name_airtime(slow if slow is not None else ssid.lowest_rate_24_mbps)
        for ssid in job.of(Ssid)
        if band in ssid.bands
    )


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
