"""What the brief means: which things get a cable and which get air, who is where at which hour,
what is still to be asked, and where a cable is often forgotten.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple

from heathrise.core.job import Brief, Carrier, DeviceCount, Job, Practice, Site, Space
from heathrise.core.library import DeviceKind, Profile, library, limit
from heathrise.core.sums import Noun, Sum, SumLine

HOURS = range(24)


class InventoryLine(Noun):
    """One row of the inventory with how it is carried, and why."""

    what: str
    count: int
    way: Carrier
    advised: Carrier
    overruled: bool
    why: str
    demand_mbps: float


class HourDemand(Noun):
    """What one hour asks for."""

    hour: int
    people: float
    clients: float
    demand_mbps: float


class SpaceDemand(Noun):
    """A space's people and demand over the day, and its peak."""

    space_id: str
    label: str
    profile: str
    hours: tuple[HourDemand, ...]
    peak: Sum


class OpenQuestion(Noun):
    """A question to the client; `answer` is None while it is open."""

    code: str
    text: str
    why: str
    answer: str | None
    on: str | None


class DropLine(Noun):
    """A place where a cable is often forgotten, and what was said of it."""

    code: str
    label: str
    why: str
    device: str | None
    wanted: bool | None
    note: str


class PerPerson(NamedTuple):
    """What one person asks of the air, how many of their devices are busy at once, and how it was counted. [Mb/s, 1]"""

    mbps: float
    clients: float
    lines: tuple[SumLine, ...]


@dataclass(frozen=True)
class Demand:
    """What Brief carries to Air and Order."""

    inventory: tuple[InventoryLine, ...]
    spaces: tuple[SpaceDemand, ...]
    total: tuple[HourDemand, ...]
    questions: tuple[OpenQuestion, ...]
    drops: tuple[DropLine, ...]


def advised_way(count: DeviceCount, practice: Practice) -> tuple[Carrier, str]:
    """Return how the house practice carries a kind of device, and why."""
    kind = library().device_kinds.get(count.device or "")
    moves = kind.moves if kind else count.moves
    if moves:
        return "air", kind.advice if kind else "It moves: air."
    if practice.cable_for == "points":
        return "air", "House practice: only access points get a cable."
    if practice.cable_for == "high-rate" and not (kind and kind.high_rate):
        return "air", "House practice: only high-rate things get a cable."
    return "cable", kind.advice if kind else "It does not move: cable."


def inventory(job: Job) -> tuple[InventoryLine, ...]:
    """Return every row of the brief with how it is carried."""
    lines = []
    for count in job.brief.devices:
        advised, why = advised_way(count, job.practice)
        overruled = count.way is not None and count.way != advised
        lines.append(
            InventoryLine(
                what=count.what,
                count=count.count,
                way=count.way or advised,
                advised=advised,
                overruled=overruled,
                why=f"{count.reason} (practice says {advised})" if overruled else why,
                demand_mbps=round(count.count * _busy_mbps(count), 2),
            )
        )
    return tuple(lines)


def cabled(job: Job) -> int:
    """Return how many things of the brief are carried by a cable."""
    return sum(line.count for line in inventory(job) if line.way == "cable")


def _busy_mbps(count: DeviceCount) -> float:
    """Return the mean demand of one device of a row. [Mb/s]"""
    kind = _kind(count)
    return kind.demand_kbps * kind.active_share / 1000


def _kind(count: DeviceCount) -> DeviceKind:
    kinds = library().device_kinds
    return kinds[count.device] if count.device in kinds else kinds["laptop" if count.moves else "desktop"]


def profile_of(space: Space, site: Site) -> Profile:
    """Return the profile of a space: its own, else its kind's, else its site's."""
    shelf = library().profiles
    if space.profile is not None:
        return shelf[space.profile]
    by_space = [p for p in shelf.values() if p.space_kind == space.space_kind]
    by_site = [p for p in shelf.values() if p.site_kind == site.site_kind]
    return (by_space or by_site or [shelf["always"]])[0]


def demand(job: Job) -> Demand:
    """Return what the brief means for the stages after it."""
    one = per_person(job)
    return summed(job, tuple(space_demand_of(s, job.site, one) for s in job.of(Space) if s.people))


def summed(job: Job, spaces: tuple[SpaceDemand, ...]) -> Demand:
    """Return the same from what each space asks for."""
    total = tuple(
        HourDemand(
            hour=h,
            people=round(sum(s.hours[h].people for s in spaces), 1),
            clients=round(sum(s.hours[h].clients for s in spaces), 1),
            demand_mbps=round(sum(s.hours[h].demand_mbps for s in spaces), 1),
        )
        for h in HOURS
    )
    return Demand(inventory(job), spaces, total, tuple(_questions(job)), tuple(_drops(job)))


def per_person(job: Job) -> PerPerson:
    """Return what one person asks of the air, and how it was counted. [Mb/s]

    The devices that go by air, shared over the people at the peak.
    """
    people = job.brief.people_peak + job.brief.guests_peak
    if not people:
        each = limit("brief.person_mbps")
        busy = library().device_kinds["laptop"].active_share
        return PerPerson(each, busy, (SumLine(label="usual person", value=each, unit="Mb/s"),))
    ways = [line.way for line in inventory(job)]
    air = [c for c, way in zip(job.brief.devices, ways, strict=True) if way == "air"]
    total = sum(c.count * _busy_mbps(c) for c in air)
    guest = library().device_kinds["guest-phone"].active_share * limit("network.guest_devices")
    busy = sum(c.count * _kind(c).active_share for c in air) + job.brief.guests_peak * guest
    guests = job.brief.guests_peak * limit("network.guest_devices") * _guest_mbps(job)
    lines = [
        SumLine(label=f"{c.what} x {c.count}", value=round(c.count * _busy_mbps(c), 2), unit="Mb/s")
        for c in air
    ]
    lines.append(SumLine(label=f"guests x {job.brief.guests_peak}", value=round(guests, 2), unit="Mb/s"))
    lines.append(SumLine(label="people and guests at the peak", value=people, unit=""))
    return PerPerson((total + guests) / people, busy / people, tuple(lines))


def _guest_mbps(job: Job) -> float:
    kind = library().device_kinds["guest-phone"]
    return min(kind.demand_kbps * kind.active_share / 1000, job.practice.guest_mbps)


def space_demand_of(space: Space, site: Site, one: PerPerson) -> SpaceDemand:
    """Return a space's people and demand over the day."""
    people, label, profile = space.people, space.label, profile_of(space, site)
    hours = tuple(
        HourDemand(
            hour=h,
            people=round(people * profile.share[h], 1),
            clients=round(people * profile.share[h] * one.clients, 1),
            demand_mbps=round(people * profile.share[h] * one.mbps, 2),
        )
        for h in HOURS
    )
    peak = max(hours, key=lambda hour: hour.demand_mbps)
    return SpaceDemand(
        space_id=space.id,
        label=label,
        profile=profile.label,
        hours=hours,
        peak=Sum(
            label=f"Peak demand of {label} at {peak.hour:02d}:00",
            value=peak.demand_mbps,
            unit="Mb/s",
            lines=(
                SumLine(label="people", value=people, unit=""),
                SumLine(
                    label=f"share there by {profile.label.lower()}", value=profile.share[peak.hour], unit=""
                ),
                SumLine(label="one person", value=round(one.mbps, 3), unit="Mb/s"),
                *one.lines,
            ),
            formula="people x share of the hour x (devices by air x demand x share busy) / people at the peak",
            source="library: device kinds, profiles (design values)",
        ),
    )


def _questions(job: Job) -> Iterator[OpenQuestion]:
    answers = {answer.question: answer for answer in job.brief.answers}
    for code, row in library().questions.items():
        if row.sites and job.site.site_kind not in row.sites:
            continue
        if row.services and not _asks_login(job.brief, row.services):
            continue
        answer = answers.get(code)
        yield OpenQuestion(
            code=code,
            text=row.text,
            why=row.why,
            answer=answer.text if answer else None,
            on=answer.on.isoformat() if answer else None,
        )


def _asks_login(brief: Brief, services: tuple[str, ...]) -> bool:
    return brief.internet.service in services and brief.internet.addressing == "pppoe"


def _drops(job: Job) -> Iterator[DropLine]:
    checks = {check.drop: check for check in job.brief.drops}
    for code, row in library().drops.items():
        if row.sites and job.site.site_kind not in row.sites:
            continue
        check = checks.get(code)
        yield DropLine(
            code=code,
            label=row.label,
            why=row.why,
            device=row.device,
            wanted=check.wanted if check else None,
            note=check.note if check else "",
        )
