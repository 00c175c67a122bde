"""Each port in use and each access point, as they were found beside how they were planned."""

from collections.abc import Mapping, Sequence
from typing import Literal

from heathrise.core.job import AccessPoint, Job, Network, PointSeen, PortSeen, Record, Ssid, Walk, WalkSeen
from heathrise.core.job.element import BANDS
from heathrise.core.library import limit
from heathrise.core.proving.symptoms import TWO_PAIR_MBPS
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.onair import names_on
from heathrise.core.sums import Noun
from heathrise.core.switching.ports import PortPlan

# "part": nothing differs, and not all was looked at.
SeenState = Literal["holds", "differs", "part", "none"]


class Check(Noun):
    """One thing planned beside what was found; `code` says which, `found` is empty where nobody looked."""

    code: str
    name: str
    planned: str
    found: str
    holds: bool | None
    value: float | None = None
    limit: float | None = None
    unit: str = ""


class PortProof(Noun):
    """A port in use, planned and found. `subject` is what its records are kept under."""

    subject: str
    switch_id: str
    switch_label: str
    port: str
    run_id: str | None
    to_label: str
    state: SeenState
    checks: tuple[Check, ...]
    seen_by: str
    by_controller: bool


class PointProof(Noun):
    """An access point, planned and found; `names` are the names a client joins there, by id."""

    point_id: str
    label: str
    model_label: str
    storey: str
    serial: str
    state: SeenState
    checks: tuple[Check, ...]
    names: dict[str, str]
    guests: bool
    seen_by: str
    by_controller: bool


class WalkProof(Noun):
    """A walk on a call; None breaks where nobody walked it."""

    walk_id: str
    label: str
    state: SeenState
    breaks: int | None
    walked: int
    seen_by: str


def port_subject(switch_id: str, port: str) -> str:
    """Return what the records of a port are kept under."""
    return f"{switch_id}/{port}"


def _newest(records: Sequence[Record], of: type) -> Record | None:
    return next((one for one in reversed(records) if isinstance(one.measured, of)), None)


def _state(checks: Sequence[Check]) -> SeenState:
    found = [check.holds for check in checks if check.holds is not None]
    if not found:
        return "none"
    if not all(found):
        return "differs"
    return "holds" if len(found) == len(checks) else "part"


def speed_of(port: PortPlan) -> int:
    """Return what is planned between a port and what hangs on it: the slower of both. [Mb/s]"""
    return min(port.speed_mbps, port.needs_mbps) if port.needs_mbps else port.speed_mbps


def port_proof(port: PortPlan, network: str, records: Sequence[Record]) -> PortProof:
    """Return a port as it was found last beside its plan; `network` is the one it comes into, empty where there is none."""
    newest = _newest(records, PortSeen)
    seen = newest.measured if newest is not None else None
    found = seen if isinstance(seen, PortSeen) else PortSeen()
    checks = [_speed(port, found)]
    if port.watts:
        checks.append(_watts(port, found))
    if network:
        fine = found.network.strip().casefold() == network.casefold() if found.network else None
        checks.append(Check(code="network", name="Network", planned=network, found=found.network, holds=fine))
    return PortProof(
        subject=port_subject(port.switch_id, port.port),
        switch_id=port.switch_id,
        switch_label=port.switch_label,
        port=port.port,
        run_id=port.run_id,
        to_label=port.to_label,
        state=_state(checks),
        checks=tuple(checks),
        seen_by=newest.by if newest else "",
        by_controller=found.by_controller,
    )


def _speed(port: PortPlan, found: PortSeen) -> Check:
    planned = speed_of(port)
    return Check(
        code="speed",
        name="Speed",
        planned=f"{planned} Mb/s",
        found="" if found.mbps is None else f"{found.mbps} Mb/s" if found.mbps else "no link",
        holds=None if found.mbps is None else found.mbps >= planned,
        value=found.mbps,
        limit=planned,
        unit="Mb/s",
    )


def _watts(port: PortPlan, found: PortSeen) -> Check:
    most = port.watts * (1 + limit("proving.watts_share"))
    return Check(
        code="watts",
        name="Power",
        planned=f"{port.watts:.1f} W at most",
        found="" if found.watts is None else f"{found.watts:.1f} W",
        holds=None if found.watts is None else found.watts <= most,
        value=found.watts,
        limit=port.watts,
        unit="W",
    )


def two_pairs_only(check: Check) -> bool:
    """Say whether a link runs at what two pairs carry, where four were planned."""
    return check.code == "speed" and check.value == TWO_PAIR_MBPS and (check.limit or 0) > TWO_PAIR_MBPS


def point_proof(
    job: Job, point: AccessPoint, radios: Sequence[RadioPlan], records: Sequence[Record], storey: str
) -> PointProof:
    """Return an access point as it was found last beside its plan."""
    newest = _newest(records, PointSeen)
    seen = newest.measured if newest is not None else None
    found = seen if isinstance(seen, PointSeen) else PointSeen()
    serials = [one.text for one in records if one.kind == "serial" and one.text]
    at_place = found.serial or (serials[-1] if serials else "")
    names = {ssid.id: ssid.label for band in BANDS for ssid in names_on(job, point.id, band)}
    guests = _has_guests(job, names)
    checks = [_serial(point, at_place)]
    checks += [check for radio in radios if radio.on for check in _radio(radio, found)]
    checks += [_joined(ssid_id, label, found) for ssid_id, label in names.items()]
    if guests:
        kept_out = found.guest_kept_out
        said = {None: "", True: "kept out", False: "gets in"}[kept_out]
        checks.append(
            Check(code="guest", name="Guest reaches inside", planned="kept out", found=said, holds=kept_out)
        )
    return PointProof(
        point_id=point.id,
        label=point.label,
        model_label=job.equipment[point.model].label,
        storey=storey,
        serial=point.serial,
        state=_state(checks),
        checks=tuple(checks),
        names=names,
        guests=guests,
        seen_by=newest.by if newest else "",
        by_controller=found.by_controller,
    )


def _has_guests(job: Job, names: Mapping[str, str]) -> bool:
    networks = [job.get(Network, ssid.network_id) for ssid in job.of(Ssid) if ssid.id in names]
    return any(network.purpose == "guest" for network in networks)


def _serial(point: AccessPoint, found: str) -> Check:
    same = point.serial.casefold() == found.casefold()
    return Check(
        code="serial",
        name="Serial",
        planned=point.serial or "not on the drawing",
        found=found,
        holds=(same if point.serial else True) if found else None,
    )


def _radio(radio: RadioPlan, found: PointSeen) -> list[Check]:
    seen = next((one for one in found.radios if one.band == radio.band), None)
    channel, power = (seen.channel, seen.power_dbm) if seen else (None, None)
    checks = []
    if radio.channel is not None:
        checks.append(
            Check(
                code="channel",
                name=f"Channel, {radio.band} GHz",
                planned=str(radio.channel),
                found="" if channel is None else str(channel),
                holds=None if channel is None else channel == radio.channel,
                value=channel,
                limit=radio.channel,
            )
        )
    near = None if power is None else abs(power - radio.power_dbm) <= limit("proving.power_db")
    checks.append(
        Check(
            code="power",
            name=f"Power, {radio.band} GHz",
            planned=f"{radio.power_dbm:g} dBm",
            found="" if power is None else f"{power:g} dBm",
            holds=near,
            value=power,
            limit=radio.power_dbm,
            unit="dBm",
        )
    )
    return checks


def _joined(ssid_id: str, label: str, found: PointSeen) -> Check:
    joined = True if ssid_id in found.joined else False if ssid_id in found.not_joined else None
    said = {None: "", True: "joined", False: "not joined"}[joined]
    return Check(code="joined", name=f"Join {label}", planned="joined", found=said, holds=joined)


def walk_proof(walk: Walk, records: Sequence[Record]) -> WalkProof:
    """Return a walk as it went last."""
    newest = _newest(records, WalkSeen)
    seen = newest.measured if newest is not None else None
    breaks = seen.breaks if isinstance(seen, WalkSeen) else None
    return WalkProof(
        walk_id=walk.id,
        label=walk.label,
        state="none" if breaks is None else "differs" if breaks else "holds",
        breaks=breaks,
        walked=sum(isinstance(one.measured, WalkSeen) for one in records),
        seen_by=newest.by if newest else "",
    )
