"""What recorders and storage must hold: bit rates, hours and days against usable disks."""

from collections.abc import Sequence

from heathrise.core.job import DiskSet, Equipment, Job, Link
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.sums import Noun, Sum, SumLine
from heathrise.core.switching.ports import PortPlan, Ports

_SECONDS_AN_HOUR = 3600
_BITS_A_BYTE = 8
# Disks are sold by powers of ten.
_BYTES_A_TB = 1e12
# Fewest disks of a set.
FEWEST: dict[DiskSet, int] = {"none": 1, "mirror": 2, "single": 3, "double": 4}


class RecordingPlan(Noun):
    """One recorder or storage: what it must hold and can, how many send to it, and over which path files come and go."""

    element_id: str
    label: str
    what: str
    bays: int
    disks_tb: tuple[float, ...]
    disk_set: DiskSet
    hours: float
    days: int
    needs: Sum
    usable: Sum
    cameras: Sum
    path: Sum
    says: str


def usable_tb(disks_tb: Sequence[float], kind: DiskSet) -> float:
    """Return what a set of disks holds. [TB]

    A mirror pairs disks of falling size and each pair holds its smaller one; parity takes as much of each disk as the
    smallest has, and one or two disks' worth of it. Too few disks hold nothing.
    """
    sizes = sorted(disks_tb, reverse=True)
    if len(sizes) < FEWEST[kind]:
        return 0.0
    if kind == "mirror":
        return float(sum(sizes[1::2]))
    if kind == "none":
        return float(sum(sizes))
    lost = 1 if kind == "single" else 2
    return float((len(sizes) - lost) * sizes[-1])


def recorded_tb(mbps: float, hours: float, days: int) -> float:
    """Return what a bit rate comes to over hours a day and days. [TB]"""
    return mbps * 1e6 / _BITS_A_BYTE * _SECONDS_AN_HOUR * hours * days / _BYTES_A_TB


def recording_of(job: Job, ports: Ports) -> tuple[RecordingPlan, ...]:
    """Return every recorder and storage of a job."""
    cameras = _sending(job)
    to = {link.b.on: ports.by_run[link.id] for link in job.of(Link) if link.id in ports.by_run}
    return tuple(
        _plan(thing, job.equipment[thing.model], cameras, to.get(thing.id))
        for thing in job.of(Equipment)
        if job.equipment[thing.model].bays
    )


def _sending(job: Job) -> list[tuple[str, float]]:
    """Return what sends a picture, with its bit rate. [Mb/s]"""
    wired = {link.b.on for link in job.of(Link)}
    found = []
    for thing in job.of(Equipment):
        rate = job.equipment[thing.model].picture_mbps
        if rate and thing.id in wired:
            found.append((thing.label, rate))
    return found


def _plan(
    thing: Equipment, model: EquipmentModel, cameras: list[tuple[str, float]], port: PortPlan | None
) -> RecordingPlan:
    records = bool(model.channels)
    mine = cameras if records else []
    total = sum(rate for _, rate in mine)
    needed = recorded_tb(total, thing.records_h, thing.keeps_days) if records else 0.0
    usable = usable_tb(thing.disks_tb, thing.disk_set)
    return RecordingPlan(
        element_id=thing.id,
        label=thing.label,
        what=model.label,
        bays=model.bays,
        disks_tb=thing.disks_tb,
        disk_set=thing.disk_set,
        hours=thing.records_h,
        days=thing.keeps_days,
        needs=_needs(thing, mine, total, needed, usable),
        usable=_usable(thing, usable, needed),
        cameras=_cameras(thing, model, mine),
        path=_path(thing, model, total, port),
        says=_says(thing, model, usable),
    )


def _needs(
    thing: Equipment, mine: list[tuple[str, float]], total: float, needed: float, usable: float
) -> Sum:
    return Sum(
        label=f"{thing.label}: what it must hold",
        value=round(needed, 2),
        unit="TB",
        limit=round(usable, 2),
        holds=needed <= usable + 1e-9,
        lines=(
            *(SumLine(label=label, value=rate, unit="Mb/s") for label, rate in mine),
            SumLine(label="all of them", value=round(total, 1), unit="Mb/s"),
            SumLine(label="recorded a day", value=thing.records_h, unit="h"),
            SumLine(label="kept", value=thing.keeps_days, unit="days"),
        ),
        formula="Mb/s / 8 x 3600 x hours x days / 1,000,000 = TB",
        source="data sheets of the cameras; a TB is 10^12 bytes, as disks are sold",
    )


def _usable(thing: Equipment, usable: float, needed: float) -> Sum:
    formulas = {
        "none": "sum of the disks; one fails and what is on it is gone",
        "mirror": "of each pair the smaller disk",
        "single": "(disks - 1) x the smallest",
        "double": "(disks - 2) x the smallest",
    }
    return Sum(
        label=f"{thing.label}: usable",
        value=round(usable, 2),
        unit="TB",
        holds=usable + 1e-9 >= needed,
        lines=tuple(
            SumLine(label=f"disk {n}", value=size, unit="TB")
            for n, size in enumerate(thing.disks_tb, start=1)
        ),
        formula=formulas[thing.disk_set],
        source="how sets of disks are built; parity takes of each disk as much as the smallest has",
    )


def _cameras(thing: Equipment, model: EquipmentModel, mine: list[tuple[str, float]]) -> Sum:
    return Sum(
        label=f"{thing.label}: cameras that record to it",
        value=len(mine),
        unit="",
        limit=model.channels or None,
        holds=len(mine) <= model.channels,
        lines=tuple(SumLine(label=label, value=rate, unit="Mb/s") for label, rate in mine),
        formula="cameras with a cable",
        source="data sheet of the recorder",
    )


def _path(thing: Equipment, model: EquipmentModel, total: float, port: PortPlan | None) -> Sum:
    """Return how fast files come and go; large files want more than a gigabit."""
    wants = limit("storage.large_files_mbps") if not model.channels else total
    there = port.speed_mbps if port is not None else 0
    at = f"port {port.switch_label}/{port.port}" if port is not None else "no port of a switch yet"
    path_mbps = min(model.uplink_mbps, there)
    return Sum(
        label=f"{thing.label}: its path",
        value=path_mbps,
        unit="Mb/s",
        limit=round(wants, 1),
        holds=path_mbps >= wants,
        lines=(
            SumLine(label="its fastest port", value=model.uplink_mbps, unit="Mb/s"),
            SumLine(label=at, value=there, unit="Mb/s"),
        ),
        formula="the slower of both, against the pictures of all cameras"
        if model.channels
        else "the slower of both; large files are worked on over 10 Gb/s",
        source=library().limits["storage.large_files_mbps"].source,
    )


def _says(thing: Equipment, model: EquipmentModel, usable: float) -> str:
    if len(thing.disks_tb) > model.bays:
        return f"{len(thing.disks_tb)} disks do not fit its {model.bays} bays"
    if thing.disks_tb and not usable:
        return f"a set of this kind takes {FEWEST[thing.disk_set]} disks or more"
    unused = sum(thing.disks_tb) - usable
    if thing.disk_set in ("single", "double") and len(set(thing.disks_tb)) > 1:
        least = min(thing.disks_tb)
        lost = sum(size - least for size in thing.disks_tb)
        return f"{lost:g} TB of the larger disks are not used: parity takes of each what the smallest has"
    return f"{unused:g} TB stand against a failed disk" if unused else ""
