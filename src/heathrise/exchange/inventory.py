"""Device inventories in: pasted from a spreadsheet, CSV in any usual encoding, XLSX."""

import re

from heathrise.core.job import DeviceCount
from heathrise.core.library import library
from heathrise.core.site.proposal import Skipped
from heathrise.core.sums import Noun
from heathrise.exchange.rows import Rows, number_of
from heathrise.exchange.unreadable import Unreadable

_MOST_ROWS = 5000
_COUNT_WORDS = ("count", "number", "qty", "quantity", "anzahl", "nombre", "menge", "pieces", "no.")
# Columns of numbers that are no counts, by words of their headings.
# fmt: off
_NO_COUNT = frozenset((
    "w", "watt", "watts", "power", "leistung", "puissance", "mbps", "mbit", "speed", "price",
    "cost", "preis", "prix", "euro", "eur", "usd", "ip", "vlan", "mac", "serial", "seriennummer",
    "phone", "room", "raum", "floor", "storey", "year", "height", "volt", "voltage", "amp",
    "ampere", "va", "dbm", "mm", "cm", "kg", "u",
))
# fmt: on
_WHAT_WORDS = ("what", "device", "item", "kind", "type", "name", "description", "gerät", "bezeichnung")


class Inventory(Noun):
    """Device counts as understood, and the rows that were not."""

    devices: tuple[DeviceCount, ...]
    skipped: tuple[Skipped, ...]


def read_inventory(rows: Rows) -> Inventory:
    """Return device counts from a table's rows. Raises Unreadable when they are too many."""
    if len(rows) > _MOST_ROWS:
        raise Unreadable(
            f"the list has {len(rows)} rows; {_MOST_ROWS} is the most", "Count devices of a kind in one row"
        )
    return _understood(rows)


def _understood(rows: list[list[str]]) -> Inventory:
    if not rows:
        return Inventory(devices=(), skipped=())
    what_at, count_at, headed = _columns(rows)
    widest = max(map(len, rows))
    devices, skipped = [], []
    for number, row in enumerate(rows[1:] if headed else rows, start=2 if headed else 1):
        what = row[what_at].strip() if what_at < len(row) else ""
        # A list without any counts has one device a row.
        count = number_of(row[count_at]) if count_at < len(row) else 1.0 if count_at >= widest else None
        if not what or count is None or not 0 <= count <= 100_000:
            why = "no name" if not what else "no count from 0 to 100,000"
            skipped.append(Skipped(what=f"row {number}: {' '.join(row)[:60]}", count=1, why=why))
        else:
            devices.append(device_count(what, round(count)))
    return Inventory(devices=tuple(devices), skipped=tuple(skipped[:50]))


def _columns(rows: list[list[str]]) -> tuple[int, int, bool]:
    """Return the column of the name, of the count, and whether the first row is a heading."""
    head = [cell.strip().lower() for cell in rows[0]]
    what = next((i for i, cell in enumerate(head) if any(w in cell for w in _WHAT_WORDS)), None)
    barred = {i for i, cell in enumerate(head) if set(re.findall(r"[a-z]+", cell)) & _NO_COUNT}
    count = next(
        (
            i
            for i, cell in enumerate(head)
            if any(w in cell for w in _COUNT_WORDS) and i != what and i not in barred
        ),
        None,
    )
    headed = what is not None or count is not None
    body = rows[1:] if headed else rows
    if count is None:
        width = max(map(len, rows))
        whole = [sum(_is_count(r[i]) for r in body if i < len(r)) for i in range(width)]
        fits = [i for i in range(width) if whole[i] and i not in (barred if headed else set()) and i != what]
        count = max(fits, key=lambda i: (whole[i], i), default=width)
    if what is None:
        what = next((i for i in range(max(map(len, rows))) if i != count), 0)
    return what, count, headed


def _is_count(cell: str) -> bool:
    """Say whether a cell may be a count: a whole number without a unit."""
    value = number_of(cell)
    return (
        value is not None and value == round(value) and re.fullmatch(r"[\d\s.,']+", cell.strip()) is not None
    )


def device_count(what: str, count: int) -> DeviceCount:
    """Return a count with the kind of device its name tells, when it tells one."""
    words = set(re.findall(r"[a-z]+", what.lower()))
    words |= {word.removesuffix("s") for word in words}
    kind = next((key for key, row in library().device_kinds.items() if words & set(row.words)), None)
    row = library().device_kinds[kind] if kind else None
    return DeviceCount(
        what=what[:80],
        count=count,
        device=kind,
        moves=row.moves if row else True,
        purpose=row.purpose if row else "main",
    )
