"""How long a rack runs alone: what its battery gives, what is kept on and for how long, and what would do."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from heathrise.core.job import Job, Link, Rack
from heathrise.core.library import PRIORITIES, EquipmentModel, Priority, SupplyUnit, library, limit
from heathrise.core.power.feeds import FeedPlan, Feeds
from heathrise.core.racks.drawing_power import fed_ports, injected
from heathrise.core.racks.elevation import in_rack
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.loads import priority_of
from heathrise.core.switching.ports import Ports

_LONGEST_H = 72.0


class Kept(Noun):
    """One way of running alone: what of the devices is kept, and for how long."""

    code: str
    label: str
    load: Sum
    minutes: Sum
    kept: tuple[str, ...]
    lost: tuple[str, ...]
    lost_ids: tuple[str, ...]
    holds: bool


class SupplyChoice(Noun):
    """A supply of the shelf, and how long it keeps everything, and what matters, running."""

    model: str
    label: str
    price: float | None
    chemistry: str
    everything: Sum
    staged: Sum
    carries: bool
    holds: bool


class Standby(Noun):
    """How long a rack runs alone. Without a supply in it `ways` is empty and `choices` says what would do."""

    rack_id: str
    label: str
    wants_min: int
    supplies: tuple[str, ...]
    ways: tuple[Kept, ...]
    choices: tuple[SupplyChoice, ...]
    advised: str | None


@dataclass(frozen=True)
class Battery:
    """Batteries taken together, as they are at the end of their life and in this cold. [Wh when new, W]"""

    energy_wh: float
    most_w: float
    chemistry: str
    cold: bool

    def usable_wh(self, hours: float) -> float:
        """Return what is left of it when emptied in so many hours."""
        share = usable_share(self.chemistry, hours)
        weather = limit("standby.cold_share") if self.cold else 1.0
        return self.energy_wh * share * limit("standby.aged_share") * weather


def usable_share(chemistry: str, hours: float) -> float:
    """Return the usable share of a battery's rated energy; of lead-acid, by how fast it is emptied."""
    if chemistry == "lithium":
        return limit("standby.lithium_share")
    at, share = zip(*library().battery_shares, strict=True)
    return float(np.interp(hours, at, share))


def hours_of(battery: Battery, parts: Sequence[tuple[float, float]]) -> float:
    """Return how long a battery lasts when each (share of its energy) is spent at a (load [W]), one after another.

    What lead-acid gives depends on how long it lasts: T = sum(share E(T) / load), solved for T.
    """
    per_wh = sum(share / load for share, load in parts if load > 0)
    if per_wh <= 0:
        return _LONGEST_H

    def over(hours: float) -> float:
        return battery.usable_wh(hours) * per_wh - hours

    return _LONGEST_H if over(_LONGEST_H) > 0 else float(brentq(over, 0.0, _LONGEST_H))


@dataclass(frozen=True)
class _Load:
    """What a rack draws itself, and each fed device with its watts at the port and how long it is kept."""

    own: tuple[tuple[str, float], ...]
    fed: tuple[tuple[FeedPlan, Priority], ...]

    def kept(self, least: Priority) -> list[FeedPlan]:
        return [feed for feed, priority in self.fed if PRIORITIES.index(priority) >= PRIORITIES.index(least)]

    def watts(self, least: Priority) -> float:
        own = sum(watts for _, watts in self.own)
        return own + _sent_w(self.kept(least)) / limit("power.supply_efficiency")


def _sent_w(feeds: Sequence[FeedPlan]) -> float:
    return sum(feed.typical_source_w or 0.0 for feed in feeds)


def _load(job: Job, ports: Ports, feeds: Feeds, rack_id: str) -> _Load:
    own = tuple((thing.label, kind.typical_w) for thing, kind in in_rack(job, rack_id) if kind.typical_w)
    fed = [feed for _, feed in fed_ports(job, ports, feeds, rack_id)] + injected(job, feeds, rack_id)
    return _Load(own, tuple((feed, priority_of(job, job.get(Link, feed.run_id))) for feed in fed))


def standby_of(job: Job, ports: Ports, feeds: Feeds, rack_id: str) -> Standby:
    """Return how long a rack runs alone, kept in several ways, and what of the shelf would do."""
    rack = job.get(Rack, rack_id)
    load = _load(job, ports, feeds, rack_id)
    cold = job.site.climate.indoors_coldest_c < limit("standby.cold_c")
    units = [(t.label, kind.supply) for t, kind in in_rack(job, rack_id) if kind.supply is not None]
    battery = _together([unit for _, unit in units], cold)
    choices = _choices(job, rack, load, cold)
    fits = [one for one in choices if one.holds and one.price is not None]
    return Standby(
        rack_id=rack_id,
        label=rack.label,
        wants_min=rack.keeps_min,
        supplies=tuple(label for label, _ in units),
        ways=_ways(job, rack, load, battery) if battery else (),
        choices=choices,
        advised=min(fits, key=lambda one: one.price or 0.0).model if fits else None,
    )


def _together(units: Sequence[SupplyUnit], cold: bool) -> Battery | None:
    """Return several supplies as one; unlike kinds are taken as the weaker kind."""
    if not units:
        return None
    kinds = {unit.chemistry for unit in units}
    return Battery(
        sum(unit.energy_wh for unit in units),
        sum(unit.most_w for unit in units),
        "lead-acid" if "lead-acid" in kinds else "lithium",
        cold,
    )


# What is kept on: all, then less; staged begins with all and sheds as the battery empties.
_WAYS: tuple[tuple[str, str, Priority], ...] = (
    ("all", "Everything", "low"),
    ("high", "What matters", "high"),
    ("critical", "What must", "critical"),
)


def _ways(job: Job, rack: Rack, load: _Load, battery: Battery) -> tuple[Kept, ...]:
    found = [
        _kept(job, rack, load, battery, code, label, least, ((1.0, load.watts(least)),))
        for code, label, least in _WAYS
    ]
    found.append(_kept(job, rack, load, battery, "staged", "Shed by stages", "critical", _staged(load)))
    return tuple(found)


def _staged(load: _Load) -> tuple[tuple[float, float], ...]:
    first, second = limit("standby.first_share"), limit("standby.second_share")
    shares = (1 - first, first - second, second)
    return tuple((share, load.watts(least)) for share, (_, _, least) in zip(shares, _WAYS, strict=True))


def _kept(
    job: Job,
    rack: Rack,
    load: _Load,
    battery: Battery,
    code: str,
    label: str,
    least: Priority,
    parts: Sequence[tuple[float, float]],
) -> Kept:
    """Return one way of running alone."""
    watts = max(watts for _, watts in parts)
    carries = watts <= battery.most_w + 1e-9
    hours = hours_of(battery, parts) if carries else 0.0
    kept = load.kept(least)
    lost = [feed for feed, _ in load.fed if feed not in kept]
    names = {feed.run_id: job.by_id[job.get(Link, feed.run_id).b.on].label for feed, _ in load.fed}
    return Kept(
        code=code,
        label=label,
        load=_load_sum(rack, load, least, watts, battery),
        minutes=_minutes_sum(rack.label, rack, battery, parts, hours),
        kept=tuple(names[feed.run_id] for feed in kept),
        lost=tuple(names[feed.run_id] for feed in lost),
        lost_ids=tuple(job.get(Link, feed.run_id).b.on for feed in lost),
        holds=carries and hours * 60 >= rack.keeps_min,
    )


def _load_sum(rack: Rack, load: _Load, least: Priority, watts: float, battery: Battery) -> Sum:
    # Staged begins with everything on.
    shown = load.kept("low") if watts > load.watts(least) + 1e-9 else load.kept(least)
    share = limit("power.supply_efficiency")
    return Sum(
        label=f"{rack.label}: load on its battery",
        value=round(watts, 1),
        unit="W",
        limit=battery.most_w,
        holds=watts <= battery.most_w + 1e-9,
        lines=(
            *(SumLine(label=label, value=own, unit="W") for label, own in load.own),
            SumLine(
                label=f"{len(shown)} devices at the ports / {share:g}",
                value=round(_sent_w(shown) / share, 1),
                unit="W",
            ),
        ),
        formula=f"own watts + power at the ports / {share:g}, on a usual day",
        source=library().limits["power.supply_efficiency"].source,
    )


def _minutes_sum(
    of: str, rack: Rack, battery: Battery, parts: Sequence[tuple[float, float]], hours: float
) -> Sum:
    usable = battery.usable_wh(hours)
    return Sum(
        label=f"{of}: minutes alone",
        value=round(hours * 60),
        unit="min",
        limit=rack.keeps_min or None,
        holds=hours * 60 >= rack.keeps_min,
        lines=(
            SumLine(label="rated when new", value=battery.energy_wh, unit="Wh"),
            SumLine(
                label=f"usable share of {battery.chemistry}, emptied so fast",
                value=round(usable_share(battery.chemistry, hours), 2),
                unit="",
            ),
            SumLine(label="at the end of its life", value=limit("standby.aged_share"), unit=""),
            *(
                [SumLine(label="in the cold", value=limit("standby.cold_share"), unit="")]
                if battery.cold
                else []
            ),
            SumLine(label="usable", value=round(usable, 0), unit="Wh"),
            *(
                SumLine(label=f"{share:.0%} of it spent at", value=round(watts, 1), unit="W")
                for share, watts in parts
            ),
        ),
        formula="time = sum of (share x usable energy / load)",
        source=library().limits["standby.aged_share"].source,
    )


def _choices(job: Job, rack: Rack, load: _Load, cold: bool) -> tuple[SupplyChoice, ...]:
    """Return the supplies of the shelf for this load, the cheapest first."""
    shelf = [(code, kind) for code, kind in job.equipment.items() if kind.supply is not None]
    # A supply that stands there already is in the load; another instead of it draws about the same.
    extra = 0.0 if any(kind.keeps_running for _, kind in in_rack(job, rack.id)) else 1.0
    found = [_choice(code, kind, rack, load, cold, extra) for code, kind in shelf]
    return tuple(sorted(found, key=lambda one: (one.price is None, one.price or 0.0)))


def _choice(
    code: str, kind: EquipmentModel, rack: Rack, load: _Load, cold: bool, extra: float
) -> SupplyChoice:
    battery = _together([kind.supply] if kind.supply else [], cold)
    assert battery is not None
    own = kind.typical_w * extra
    everything = load.watts("low") + own
    carries = everything <= battery.most_w
    whole = hours_of(battery, ((1.0, everything),)) if carries else 0.0
    stages = tuple((share, watts + own) for share, watts in _staged(load))
    staged = hours_of(battery, stages) if carries else 0.0
    return SupplyChoice(
        model=code,
        label=kind.label,
        price=kind.price,
        chemistry=battery.chemistry,
        everything=_minutes_sum(f"{kind.label}, all on", rack, battery, ((1.0, everything),), whole),
        staged=_minutes_sum(f"{kind.label}, shed by stages", rack, battery, stages, staged),
        carries=carries,
        holds=carries and whole * 60 >= rack.keeps_min,
    )
