"""What a controller says of ports and access points, as records: the same nouns a person types."""

from collections.abc import Iterable, Iterator
from datetime import datetime
from uuid import UUID, uuid5

from heathrise.core.job import BandSeen, PointSeen, PortSeen, Record
from heathrise.core.job.element import BANDS
from heathrise.core.network.held import Matched
from heathrise.core.network.live import Live, LiveUnit
from heathrise.core.proving.ports import PointProof, PortProof

_BY = "the controller"


def seen_live(
    live: Live, matched: Matched, ports: Iterable[PortProof], points: Iterable[PointProof], now: datetime
) -> tuple[Record, ...]:
    """Return what a controller says of what is planned; what it does not know it says nothing of."""
    units = {unit.serial: unit for unit in live.units}
    at = {one.element_id: units[one.serial] for one in matched.matches if one.serial in units}
    return (*_ports(live, at, ports, now), *_points(live, at, points, now))


def _record(subject: str, of: str, seen: PortSeen | PointSeen, now: datetime) -> Record:
    return Record(
        id=str(uuid5(UUID(of), f"{subject} {now.isoformat()}")),
        kind="measured",
        subject=subject,
        said_at=now,
        by=_BY,
        measured=seen,
    )


def _ports(
    live: Live, at: dict[str, LiveUnit], ports: Iterable[PortProof], now: datetime
) -> Iterator[Record]:
    native = {(one.switch, one.port): one.native for one in live.ports}
    for port in ports:
        unit = at.get(port.switch_id)
        found = next((one for one in unit.ports if one.name == port.port), None) if unit else None
        if unit is not None and found is not None:
            seen = PortSeen(
                mbps=found.mbps if found.up else 0,
                watts=round(found.watts, 1),
                network=native.get((unit.serial, port.port), ""),
                by_controller=True,
            )
            yield _record(port.subject, port.switch_id, seen, now)


def _points(
    live: Live, at: dict[str, LiveUnit], points: Iterable[PointProof], now: datetime
) -> Iterator[Record]:
    powers = {(one.access_point, one.band): one.power_dbm for one in live.radios}
    for point in points:
        unit = at.get(point.point_id)
        if unit is None:
            continue
        radios = []
        for radio in unit.radios:
            power = powers.get((unit.serial, radio.band))
            if radio.band in BANDS:
                radios.append(
                    BandSeen(
                        band=radio.band,
                        channel=radio.channel,
                        power_dbm=power if isinstance(power, int | float) else None,
                    )
                )
        seen = PointSeen(serial=unit.serial, radios=tuple(radios), by_controller=True)
        yield _record(point.point_id, point.point_id, seen, now)
