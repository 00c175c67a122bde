"""What a rack draws from the mains, what of it leaves over cables, and what stays as heat."""

from collections.abc import Sequence
from dataclasses import dataclass

from heathrise.core.cabling.ends import feeds_on
from heathrise.core.job import Job, Link, Rack
from heathrise.core.library import library, limit
from heathrise.core.power.feeds import FeedPlan, Feeds
from heathrise.core.racks.elevation import in_rack
from heathrise.core.sums import Sum, SumLine
from heathrise.core.switching.ports import PortPlan, Ports
from heathrise.core.units import quantity

_HOURS_A_YEAR = 8760
_BTU_PER_WH = 3.412


@dataclass(frozen=True)
class Drawn:
    """What a rack draws itself, and what it sends over cables. [W]"""

    own: tuple[tuple[str, float], ...]
    sent: tuple[tuple[str, float], ...]

    @property
    def own_w(self) -> float:
        """Its own watts."""
        return sum(watts for _, watts in self.own)

    @property
    def sent_w(self) -> float:
        """What leaves it over cables."""
        return sum(watts for _, watts in self.sent)

    @property
    def mains_w(self) -> float:
        """What it takes from the mains."""
        return self.own_w + self.sent_w / limit("power.supply_efficiency")


def fed_ports(job: Job, ports: Ports, feeds: Feeds, rack_id: str) -> list[tuple[PortPlan, FeedPlan]]:
    """Return the ports of a rack that feed something, with what they feed."""
    return [
        (port, feeds.by_id[port.run_id])
        for port in ports.ports
        if port.run_id in feeds.by_id
        and port.needs_class
        and port.poe_class
        and job.rack_of(port.switch_id) == rack_id
    ]


def injected(job: Job, feeds: Feeds, rack_id: str) -> list[FeedPlan]:
    """Return what injectors beside a rack feed."""
    found = []
    for run_id in feeds_on(job):
        begins = job.get(Link, run_id).a.on
        if run_id in feeds.by_id and job.rack_of(begins) == rack_id:
            found.append(feeds.by_id[run_id])
    return found


def drawn(job: Job, ports: Ports, feeds: Feeds, rack_id: str, most: bool) -> Drawn:
    """Return what a rack draws, at most or on a usual day."""
    own = tuple((t.label, kind.max_w if most else kind.typical_w) for t, kind in in_rack(job, rack_id))
    fed = [feed for _, feed in fed_ports(job, ports, feeds, rack_id)] + injected(job, feeds, rack_id)
    sent = tuple((feed.label, (feed.max_source_w if most else feed.typical_source_w) or 0.0) for feed in fed)
    return Drawn(tuple(row for row in own if row[1]), sent)


def _lines(found: Drawn) -> tuple[SumLine, ...]:
    return (
        *(SumLine(label=label, value=round(watts, 1), unit="W") for label, watts in found.own),
        SumLine(
            label=f"to {len(found.sent)} devices over their cables", value=round(found.sent_w, 1), unit="W"
        ),
        SumLine(
            label="lost in the supplies of what feeds them",
            value=round(found.mains_w - found.own_w - found.sent_w, 1),
            unit="W",
        ),
    )


def mains_sum(rack: Rack, found: Drawn, when: str) -> Sum:
    """Return what a rack takes from the mains. [W]"""
    share = limit("power.supply_efficiency")
    return Sum(
        label=f"{rack.label}: from the mains, {when}",
        value=round(found.mains_w, 1),
        unit="W",
        lines=_lines(found),
        formula=f"own watts + power at the ports / {share:g}",
        source=library().limits["power.supply_efficiency"].source,
    )


def heat_sum(rack: Rack, found: Drawn) -> Sum:
    """Return the heat a rack leaves in its room: what it draws less what leaves over cables. [W]"""
    heat = found.mains_w - found.sent_w
    return Sum(
        label=f"{rack.label}: heat into the room",
        value=round(heat, 1),
        unit="W",
        lines=(
            SumLine(label="from the mains", value=round(found.mains_w, 1), unit="W"),
            SumLine(
                label="leaves over cables",
                value=-round(found.sent_w, 1),
                unit="W",
                note=f"{heat * _BTU_PER_WH:.0f} BTU/h stay",
            ),
        ),
        formula="from the mains - power that leaves; W x 3.412 = BTU/h",
        source="all that a rack draws and does not send on turns to heat",
    )


def year_sum(rack: Rack, usual: Drawn, currency: str) -> Sum:
    """Return what a rack and all it feeds cost a year. [money]"""
    kwh = usual.mains_w * _HOURS_A_YEAR / 1000
    price = limit("rack.kwh_price")
    return Sum(
        label=f"{rack.label}: running cost of a year",
        value=round(kwh * price, 0),
        unit=currency,
        lines=(
            SumLine(label="from the mains on a usual day", value=round(usual.mains_w, 1), unit="W"),
            SumLine(label="in a year", value=round(kwh, 0), unit="kWh"),
            SumLine(label="price of a kilowatt-hour", value=price, unit=currency),
        ),
        formula="W x 8760 h / 1000 x price",
        source=library().limits["rack.kwh_price"].source,
    )


def rise_sum(
    rack: Rack, heat_w: float, room: tuple[str, float, float], hottest_c: float, most_c: float
) -> Sum:
    """Return how warm a closet gets beside its rack. `room`: (name, area of its shell [m²], fan [m³/h]). [C]

    Steady: the heat leaves through walls, floor and ceiling, and with the air a fan moves.
    """
    name, shell_m2, air_m3_h = room
    passed = limit("rack.wall_u") * shell_m2 + limit("rack.air_wh") * air_m3_h
    at_c = hottest_c + heat_w / passed
    reserve = limit("rack.ambient_reserve_c")
    return Sum(
        label=f"{name}: how warm it gets beside {rack.label}",
        value=round(at_c, 1),
        unit="C",
        limit=most_c - reserve,
        holds=at_c <= most_c - reserve + 1e-9,
        lines=(
            SumLine(label="hottest inside", value=hottest_c, unit="C"),
            SumLine(label="heat of the rack", value=round(heat_w, 1), unit="W"),
            SumLine(
                label=f"its {shell_m2:.1f} m² of shell and a fan of {air_m3_h:g} m³/h pass",
                value=round(passed, 1),
                unit="W/K",
            ),
            SumLine(
                label="lowest rated ambient in the rack",
                value=most_c,
                unit="C",
                note=f"{quantity(reserve, 'K', 0)} of it are kept",
            ),
        ),
        formula="hottest + heat / (U A + 0.34 x air)",
        source=library().limits["rack.wall_u"].source,
    )


def least_rated_c(job: Job, rack_id: str) -> float | None:
    """Return the lowest rated ambient of what stands in a rack; None where none is known. [C]"""
    rated: Sequence[float] = [
        kind.hottest_c for _, kind in in_rack(job, rack_id) if kind.hottest_c is not None
    ]
    return min(rated, default=None)
