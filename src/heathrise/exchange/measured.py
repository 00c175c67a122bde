"""What was measured, in: survey points, scans of neighbours, antenna patterns. CSV or XLSX."""

from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from typing import Any

from pydantic import ValidationError

from heathrise.core.edit import Operation, Put
from heathrise.core.job import (
    BANDS,
    AccessPoint,
    Antenna,
    Band,
    CutPoint,
    Job,
    Neighbour,
    Point,
    Storey,
    SurveyPoint,
)
from heathrise.core.site.proposal import Skipped
from heathrise.core.sums import Noun
from heathrise.exchange.rows import Rows, number_of
from heathrise.exchange.unreadable import Unreadable

NewId = Callable[[], str]
_MOST_ROWS = 20_000
_MOST_TOLD = 50
_WORDS: dict[str, tuple[str, ...]] = {
    "storey": ("storey", "floor", "level", "etage", "geschoss"),
    "x": ("x", "x_m"),
    "y": ("y", "y_m"),
    "point": ("point", "ap", "access point", "name", "bssid", "ssid"),
    "band": ("band", "ghz", "frequency"),
    "dbm": ("dbm", "rssi", "level", "signal", "rssi_dbm"),
    "at": ("time", "at", "measured", "date"),
    "channel": ("channel", "ch", "kanal"),
    "width": ("width", "mhz", "width_mhz"),
    "cut": ("cut", "plane"),
    "angle": ("angle", "angle_deg", "degrees", "deg"),
    "gain": ("gain", "db", "relative_db", "gain_db", "level"),
}


class Measured(Noun):
    """What a file holds, as an edit the person sends; and the rows that were left out, with why."""

    operations: tuple[Operation, ...]
    taken: int
    skipped: tuple[Skipped, ...]


class _Table:
    """Rows by what their columns mean."""

    def __init__(self, rows: Rows, wanted: Sequence[str], must: Sequence[str]):
        if len(rows) > _MOST_ROWS:
            raise Unreadable(f"the list has {len(rows)} rows; {_MOST_ROWS} is the most", "Send it in parts")
        if not rows:
            raise Unreadable("the list has no rows", "Send one with a row of names and a row for each place")
        self.columns: dict[str, int] = {}
        for index, head in enumerate(cell.strip().lower() for cell in rows[0]):
            meant = next((w for w in wanted if head in _WORDS[w] and w not in self.columns), None)
            if meant:
                self.columns[meant] = index
        missing = [word for word in must if word not in self.columns]
        if missing:
            raise Unreadable(
                f"the list has no column {' and no column '.join(missing)}", "Name them in its first row"
            )
        self.rows = rows[1:]
        self.skipped: list[Skipped] = []

    def cell(self, row: list[str], name: str) -> str:
        at = self.columns.get(name, -1)
        return row[at].strip() if 0 <= at < len(row) else ""

    def skip(self, number: int, row: list[str], why: str) -> None:
        if len(self.skipped) < _MOST_TOLD:
            self.skipped.append(Skipped(what=f"row {number}: {' '.join(row)[:60]}", count=1, why=why))


def read_survey(rows: Rows, job: Job, new_id: NewId) -> Measured:
    """Return survey points; columns storey, x, y, point, band, dBm, and a time when there is one.

    Raises
    ------
    Unreadable
        If the file is no table, or a column is missing.
    """
    table = _Table(rows, ("storey", "x", "y", "point", "band", "dbm", "at"), ("x", "y", "point", "dbm"))
    storeys = {storey.label.lower(): storey for storey in job.of(Storey)}
    points = {point.label.lower(): point for point in job.of(AccessPoint)}
    seen: set[tuple[str, ...]] = set()
    found: list[Operation] = []
    for number, row in enumerate(table.rows, start=2):
        try:
            made = _survey_point(table, row, storeys, points, job, new_id, len(found) + 1)
        except ValueError as error:
            table.skip(number, row, _why(error))
            continue
        key = (made.storey_id, made.point_id, made.band, str(made.at), str(made.measured_at))
        if key in seen:
            table.skip(number, row, "the same place, point and time stand above")
            continue
        seen.add(key)
        found.append(Put(element=made))
    return Measured(operations=tuple(found), taken=len(found), skipped=tuple(table.skipped))


def _survey_point(
    table: _Table,
    row: list[str],
    storeys: dict[str, Storey],
    points: dict[str, AccessPoint],
    job: Job,
    new_id: NewId,
    number: int,
) -> SurveyPoint:
    point = points.get(table.cell(row, "point").lower())
    if point is None:
        raise ValueError("the job has no access point of that name")
    named = table.cell(row, "storey").lower()
    storey = storeys.get(named) if named else job.get(Storey, point.storey_id)
    if storey is None:
        raise ValueError("the job has no storey of that name")
    x, y = number_of(table.cell(row, "x")), number_of(table.cell(row, "y"))
    dbm = number_of(table.cell(row, "dbm"))
    if x is None or y is None:
        raise ValueError("x and y must be numbers")
    if dbm is None or not -120 <= dbm <= 0:
        raise ValueError("a level must be a number from -120 to 0 dBm")
    return SurveyPoint(
        id=new_id(),
        label=f"Reading {number}",
        storey_id=storey.id,
        at=Point(x_m=x, y_m=y),
        point_id=point.id,
        band=_band(table.cell(row, "band") or "5"),
        rssi_dbm=dbm,
        measured_at=_time(table.cell(row, "at")),
    )


def _band(text: str) -> Band:
    value = number_of(text.lower().removesuffix("ghz"))
    if value is None:
        raise ValueError("the band must be 2.4, 5 or 6 GHz")
    ghz = value / 1000 if value > 100 else value
    near = {"2.4": (2.3, 2.6), "5": (4.9, 5.9), "6": (5.92, 7.2)}
    for band in BANDS:
        low, high = near[band]
        if low <= ghz <= high:
            return band
    raise ValueError("the band must be 2.4, 5 or 6 GHz")


def _time(text: str) -> datetime | None:
    if not text:
        return None
    try:
        found = datetime.fromisoformat(text)
    except ValueError as error:
        raise ValueError("the time must be written like 2026-11-23T10:15") from error
    return found if found.tzinfo else found.replace(tzinfo=UTC)


def read_scan(rows: Rows, new_id: NewId) -> Measured:
    """Return neighbours; columns name or BSSID, band, channel, dBm, and width when there is one.

    Raises
    ------
    Unreadable
        As `read_survey`.
    """
    table = _Table(rows, ("point", "band", "channel", "dbm", "width"), ("channel", "dbm"))
    found: list[Operation] = []
    for number, row in enumerate(table.rows, start=2):
        try:
            found.append(Put(element=_neighbour(table, row, new_id, len(found) + 1)))
        except ValueError as error:
            table.skip(number, row, _why(error))
    return Measured(operations=tuple(found), taken=len(found), skipped=tuple(table.skipped))


def _neighbour(table: _Table, row: list[str], new_id: NewId, number: int) -> Neighbour:
    channel, dbm = number_of(table.cell(row, "channel")), number_of(table.cell(row, "dbm"))
    if channel is None or not 1 <= channel <= 233:
        raise ValueError("the channel must be a number from 1 to 233")
    if dbm is None or not -120 <= dbm <= 0:
        raise ValueError("a level must be a number from -120 to 0 dBm")
    said = table.cell(row, "band")
    body: dict[str, Any] = {
        "id": new_id(),
        "label": table.cell(row, "point")[:80] or f"Neighbour {number}",
        "band": _band(said) if said else ("2.4" if channel <= 14 else "5"),
        "channel": int(channel),
        "width_mhz": int(number_of(table.cell(row, "width")) or 20),
        "rssi_dbm": dbm,
    }
    return Neighbour.model_validate(body)


def read_antenna(rows: Rows, name: str, new_id: NewId) -> Measured:
    """Return an antenna pattern; columns cut (azimuth or elevation), angle, gain in dB.

    Gains are brought under their own peak.

    Raises
    ------
    Unreadable
        If the file is no table, a cut is missing, has gaps, or cannot be a pattern.
    """
    table = _Table(rows, ("cut", "angle", "gain"), ("cut", "angle", "gain"))
    cuts: dict[str, dict[float, float]] = {"azimuth": {}, "elevation": {}}
    for number, row in enumerate(table.rows, start=2):
        which = next((c for c in cuts if c.startswith(table.cell(row, "cut").lower()[:2] or "-")), None)
        angle, gain = number_of(table.cell(row, "angle")), number_of(table.cell(row, "gain"))
        if which is None or angle is None or gain is None or not -360 <= angle <= 360:
            table.skip(number, row, "a row is a cut (azimuth or elevation), an angle and a gain")
            continue
        turned = angle - 360 if angle > 180 else angle + 360 if angle < -180 else angle
        cuts[which][turned] = gain
    peak = max((gain for cut in cuts.values() for gain in cut.values()), default=0.0)
    code = "own-" + "".join(c if c.isalnum() else "-" for c in name.lower().rsplit(".", 1)[0])[:40].strip("-")
    try:
        made = Antenna(
            id=new_id(),
            label=name.rsplit(".", 1)[0][:80] or "Antenna",
            code=code,
            azimuth=_cut(cuts["azimuth"], peak),
            elevation=_cut(cuts["elevation"], peak),
        )
    except ValidationError as error:
        raise Unreadable(_why(error), "Mend the rows it names and send it again") from error
    return Measured(operations=(Put(element=made),), taken=1, skipped=tuple(table.skipped))


def _cut(cut: dict[float, float], peak: float) -> tuple[CutPoint, ...]:
    return tuple(
        CutPoint(angle_deg=angle, relative_db=round(gain - peak, 3)) for angle, gain in sorted(cut.items())
    )


def _why(error: ValueError) -> str:
    """Return the words of a mistake in a row."""
    if isinstance(error, ValidationError):
        return str(error.errors()[0]["msg"]).removeprefix("Value error, ")
    return str(error)
