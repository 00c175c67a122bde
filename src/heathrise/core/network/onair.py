"""Names on the air: at which point and band each is, and what their beacons cost where they are heard."""

from collections.abc import Iterable, Mapping, Sequence

from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import BANDS, AccessPoint, Job, Ssid, Storey
from heathrise.core.library import limit
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.onair import is_at, names_on, radio_share, share_of
from heathrise.core.sums import Noun, Sum, SumLine

_NAME_CHARS = 32


def points_of(job: Job, ssid: Ssid) -> frozenset[str]:
    """Return the points a name is on the air at."""
    return frozenset(point.id for point in job.of(AccessPoint) if is_at(job, ssid, point.id))


def airtime_of(job: Job, row: RadioPlan, labels: Mapping[str, str]) -> Sum | None:
    """Return the beacon airtime where one radio stands: of its own names and of every point it hears on its channel;
    None where nothing is on the air.
    """
    mine = names_on(job, row.point_id, row.band)
    if row.channel is None or not mine:
        return None
    heard = [
        (row.point_id, f"{row.label} itself"),
        *((i, f"{labels.get(i, i)}, heard") for i in row.heard_ids),
    ]
    shares = [(lab, radio_share(job, i, row.band), len(names_on(job, i, row.band))) for i, lab in heard]
    total = sum(share for _, share, _ in shares)
    most = limit("network.beacon_warning")
    lines = [
        SumLine(label=label, value=round(100 * share, 3), unit="%", note=f"{count} names")
        for label, share, count in shares
    ]
    lines += [
        SumLine(label=f"{s.label}: one radio", value=round(100 * share_of(s, row.band), 3), unit="%")
        for s in mine
    ]
    return Sum(
        label=f"Beacon airtime at {row.label}, {row.band} GHz channel {row.channel}",
        value=round(100 * total, 2),
        unit="%",
        limit=100 * most,
        holds=total <= most,
        lines=tuple(lines),
        formula="over points heard and their names: (preamble + bytes x 8 / rate + contention) / 102.4 ms",
        source="IEEE 802.11 beacon interval of 100 TU; limits: network.beacon",
    )


class NameCell(Noun):
    """One name at one point: on which bands, and on which it could be."""

    ssid_id: str
    bands: tuple[str, ...]
    on: bool


class NameRow(Noun):
    """One access point's row of the matrix; `airtime` by band that is on the air."""

    point_id: str
    label: str
    storey_id: str
    storey: str
    bands: tuple[str, ...]
    cells: tuple[NameCell, ...]
    airtime: tuple[Sum, ...]


class NameColumn(Noun):
    """One name of the matrix: its network and bands, at how many points, whether at all."""

    ssid_id: str
    label: str
    network: str
    bands: tuple[str, ...]
    points: int
    everywhere: bool


class NameMatrix(Noun):
    """Names by points, storey by storey."""

    columns: tuple[NameColumn, ...]
    rows: tuple[NameRow, ...]
    bands: tuple[str, ...]


def name_matrix(job: Job, rows: Sequence[RadioPlan], networks: Mapping[str, str]) -> NameMatrix:
    """Return which name is on the air where."""
    labels = {point.id: point.label for point in job.of(AccessPoint)}
    at = {ssid.id: points_of(job, ssid) for ssid in job.of(Ssid)}
    by_point: dict[str, list[RadioPlan]] = {}
    for row in rows:
        by_point.setdefault(row.point_id, []).append(row)
    columns = tuple(
        NameColumn(
            ssid_id=s.id,
            label=s.label,
            network=networks.get(s.network_id, ""),
            bands=s.bands,
            points=len(at[s.id]),
            everywhere=s.everywhere,
        )
        for s in job.of(Ssid)
    )
    found = [
        _row(job, point, storey, by_point.get(point.id, []), labels)
        for storey in sorted(job.of(Storey), key=lambda one: one.elevation_m)
        for point in job.of(AccessPoint)
        if point.storey_id == storey.id
    ]
    return NameMatrix(columns=columns, rows=tuple(found), bands=BANDS)


def _row(
    job: Job, point: AccessPoint, storey: Storey, rows: list[RadioPlan], labels: Mapping[str, str]
) -> NameRow:
    bands = [row.band for row in rows if row.on]
    cells = tuple(
        NameCell(
            ssid_id=s.id,
            bands=tuple(band for band in bands if band in s.bands),
            on=is_at(job, s, point.id) and any(band in s.bands for band in bands),
        )
        for s in job.of(Ssid)
    )
    sums = (airtime_of(job, row, labels) for row in rows if row.on)
    return NameRow(
        point_id=point.id,
        label=point.label,
        storey_id=storey.id,
        storey=storey.label,
        bands=tuple(bands),
        cells=cells,
        airtime=tuple(one for one in sums if one is not None),
    )


def put_on_air(job: Job, ssid_id: str, where: str, on: bool) -> tuple[Operation, ...]:
    """Return what puts a name on the air, or takes it off, at a point, on a storey or on a band.

    Raises
    ------
    EditError
        If the name or the place is gone.
    """
    ssid = next((s for s in job.of(Ssid) if s.id == ssid_id), None)
    if ssid is None:
        raise EditError("that name is not there any more")
    if where in BANDS:
        bands = tuple(b for b in BANDS if (b in ssid.bands and b != where) or (b == where and on))
        return (Put(element=ssid.model_copy(update={"bands": bands})),)
    points = job.of(AccessPoint)
    chosen = {point.id for point in points if where in (point.id, point.storey_id)}
    if not chosen:
        raise EditError("there is no access point any more where the name was pressed")
    have = points_of(job, ssid)
    return (Put(element=_narrowed(job, ssid, have | chosen if on else have - chosen)),)


def _narrowed(job: Job, ssid: Ssid, points: Iterable[str]) -> Ssid:
    """Return a name that is on the air at these points: told by whole storeys where it is, new points come along."""
    wanted, every = set(points), job.of(AccessPoint)
    if wanted == {point.id for point in every}:
        return ssid.model_copy(update={"everywhere": True, "storey_ids": (), "point_ids": ()})
    by_storey: dict[str, set[str]] = {}
    for point in every:
        by_storey.setdefault(point.storey_id, set()).add(point.id)
    whole = [storey.id for storey in job.of(Storey) if by_storey.get(storey.id, {""}) <= wanted]
    rest = [p.id for p in every if p.id in wanted and p.storey_id not in whole]
    return ssid.model_copy(update={"everywhere": False, "storey_ids": tuple(whole), "point_ids": tuple(rest)})


def announced(job: Job, ssid: Ssid, point: AccessPoint) -> str:
    """Return the name as a point announces it: its own at each point where the practice says one per point."""
    if job.practice.point_names == "one":
        return ssid.label
    return f"{ssid.label[: _NAME_CHARS - 1 - len(point.label)]} {point.label}"[:_NAME_CHARS]
