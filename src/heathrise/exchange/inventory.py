"""Device lists in: pasted from a spreadsheet, CSV in any usual encoding, XLSX; counted by kind or one row a device."""

import re
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise

from heathrise.core.job import DeviceCount
from heathrise.core.library import library
from heathrise.core.site.listed import ListedDevice, Placed, device_kind_of
from heathrise.core.site.proposal import Skipped
from heathrise.core.site.wording import plain
from heathrise.core.sums import Noun
from heathrise.exchange.rows import Rows, columns_by, number_of
from heathrise.exchange.unreadable import Unreadable

_MOST_ROWS = 5000
_MOST_COUNT = 100_000
# A heading stands among the first rows, in few letters; titles and dates may be above it.
_HEAD_ROWS, _HEAD_CHARS = 15, 40
# A column is one of counts when so much of it is.
_COUNTS, _HEADED = 0.6, 0.2
_PIECES = re.compile(
    r"^[x×]?\s*(\d{1,6})\s*(?:[x×]|pcs?\.?|pieces?|stk\.?|stück|st\.?|ea\.?|units?|uds?\.?|pz\.?|szt\.?|un\.?)?$",
    re.IGNORECASE,
)
_TIMES = re.compile(r"^(\d{1,5})\s*[x×]\s+(.{2,})$", re.IGNORECASE)
_MAC = re.compile(r"^(?:[0-9a-f]{2}[:.\- ]?){5}[0-9a-f]{2}$", re.IGNORECASE)
Columns = Mapping[str, int]


class ColumnRead(Noun):
    """A column of a list and what it was taken for."""

    heading: str
    holds: str


class Inventory(Noun):
    """Devices as understood: counted by kind for the brief, and row by row; what was left out, and which column was which."""

    devices: tuple[DeviceCount, ...]
    rows: tuple[ListedDevice, ...]
    skipped: tuple[Skipped, ...]
    columns: tuple[ColumnRead, ...] = ()


class ListRead(Inventory):
    """A list as it was understood in a job: what of it would stand where on the plan."""

    placed: Placed


def read_inventory(rows: Rows) -> Inventory:
    """Return devices from a table's rows.

    Raises
    ------
    Unreadable
        When there is no row, or there are too many.
    """
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if not rows:
        raise Unreadable("the list is empty", "Send one with a row for each device or each kind of device")
    if len(rows) > _MOST_ROWS:
        raise Unreadable(
            f"the list has {len(rows)} rows; {_MOST_ROWS} is the most", "Count devices of a kind in one row"
        )
    first, columns = _columns(rows)
    skipped = [
        Skipped(what=_shown(n, row), count=1, why="it stands above the headings")
        for n, row in enumerate(rows[: max(first - 1, 0)], 1)
    ]
    found = list(_devices(rows, first, columns, skipped))
    head = rows[first - 1] if first else []
    return Inventory(
        devices=_counted(found),
        rows=tuple(found),
        skipped=tuple(skipped[:100]),
        columns=tuple(
            ColumnRead(heading=head[at].strip() if at < len(head) else f"column {at + 1}", holds=name)
            for name, at in sorted(columns.items(), key=lambda item: item[1])
        ),
    )


def _shown(number: int, row: Sequence[str]) -> str:
    return f"row {number}: {' '.join(cell.strip() for cell in row if cell.strip())[:60]}"


def _columns(rows: Rows) -> tuple[int, Columns]:
    """Return where the devices begin, and which column is which: by headings, then by what is in them."""
    first, columns = _heading(rows)
    head, body = (rows[first - 1] if first else []), rows[first:]
    barred = {at for at, cell in enumerate(head) if _is_barred(cell)}
    said = columns.pop("count", None)
    columns.pop("barred", None)
    free = [at for at in range(max(map(len, rows))) if at not in barred and at not in columns.values()]
    count = _count_column(head, body, free, said)
    if count is not None:
        columns["count"] = count
    if "what" not in columns:
        columns["what"] = _name_column(body, [at for at in free if at != count], columns.get("kind"))
    return first, columns


def _heading(rows: Rows) -> tuple[int, dict[str, int]]:
    """Return which row heads the columns, counted from 1, and what it calls them; 0 where none does."""
    heads = {name: row.words for name, row in library().list_words.items() if name != "total"}
    first: int = 0
    columns: dict[str, int] = {}
    for number, row in enumerate(rows[:_HEAD_ROWS], start=1):
        cells = [plain_words(cell) if len(cell) < _HEAD_CHARS else "" for cell in row]
        found = columns_by(heads, cells)
        # Headings hold no number, and little more than what they are called.
        numbered = any(re.search(r"\d", row[at]) for at in found.values())
        if len(found) > len(columns) and not numbered and _headed(cells, found, heads):
            first, columns = number, found
    return first, columns


def _count_column(head: Sequence[str], body: Rows, free: Sequence[int], said: int | None) -> int | None:
    """Return the column of counts: one headed so that holds numbers, else one without a heading; None for one device a row."""
    words = library().list_words["count"].words
    headed = [at for at in free if any(f" {w} " in f" {plain_words(_cell(head, at))} " for w in words)]
    fits = [at for at in headed if _holds_counts(body, at, _HEADED)]
    if fits:
        return said if said in fits else fits[0]
    if said is not None and _is_running(body, said):
        return None
    unnamed = [at for at in free if not _cell(head, at) and _holds_counts(body, at)]
    return unnamed[-1] if unnamed else None


def _name_column(body: Rows, free: Sequence[int], kind: int | None) -> int:
    """Return the column of names: the first that mostly holds letters, else the one of kinds, else the first there is."""
    lettered = [
        at for at in free if sum(any(map(str.isalpha, _cell(row, at))) for row in body) > 0.5 * len(body)
    ]
    return next(iter(lettered), kind if kind is not None else next(iter(free), 0))


def _headed(cells: Sequence[str], found: Columns, heads: Mapping[str, Sequence[str]]) -> bool:
    """Say whether a row heads columns: two or more of its cells are called so, or one is nothing else."""
    telling = {name: at for name, at in found.items() if name != "barred"}
    whole = [at for name, at in telling.items() if cells[at] in heads[name]]
    return bool(whole) or (len(telling) > 1 and all(len(cells[at].split()) <= 3 for at in found.values()))


def plain_words(cell: str) -> str:
    """Return a heading as its plain words: numbers and signs left out."""
    return plain(cell.replace("/", " ").replace("ß", "ss"))


def _is_barred(cell: str) -> bool:
    return bool(set(plain_words(cell).split()) & set(library().list_words["barred"].words))


def _cell(row: Sequence[str], at: int | None) -> str:
    return row[at].strip() if at is not None and at < len(row) else ""


def count_of(cell: str) -> int | None:
    """Return a whole number of pieces, None where a cell holds none.

    >>> count_of("12"), count_of("3 pcs"), count_of("x4"), count_of("12.5 W")
    (12, 3, 4, None)
    """
    found = _PIECES.match(cell.strip())
    if found:
        return int(found[1])
    value = number_of(cell)
    return round(value) if value is not None and value == round(value) and value >= 0 else None


def _holds_counts(body: Rows, at: int, least: float = _COUNTS) -> bool:
    """Say whether a column holds counts: whole numbers, and none that only number the rows."""
    cells = [_cell(row, at) for row in body if _cell(row, at)]
    whole = [n for cell in cells if (n := count_of(cell)) is not None]
    enough = len(whole) >= max(1, least * len(cells)) and len(cells) >= 0.4 * least * len(body)
    return enough and not _is_running(body, at)


def _is_running(body: Rows, at: int) -> bool:
    """Say whether a column numbers its rows: 1, 2, 3 and on."""
    numbers = [n for row in body if (n := count_of(_cell(row, at))) is not None]
    return len(numbers) > 2 and all(b - a == 1 for a, b in pairwise(numbers))


def _devices(rows: Rows, first: int, columns: Columns, skipped: list[Skipped]) -> Iterator[ListedDevice]:
    """Yield the devices of a list; what is none is noted with its reason."""
    under = ""
    seen: dict[tuple[str, str], int] = {}
    for number, row in enumerate(rows[first:], start=first + 1):
        why = _why_none(row, columns)
        if why == "heading":
            under = next(cell.strip() for cell in row if cell.strip())
            skipped.append(
                Skipped(what=_shown(number, row), count=1, why="a heading: what follows is under it")
            )
            continue
        if why is not None:
            skipped.append(Skipped(what=_shown(number, row), count=1, why=why))
            continue
        device = _device(number, row, columns, under)
        twin = next(
            (f"{mark} of row {seen[mark, value]}" for mark, value in _marks(device) if (mark, value) in seen),
            None,
        )
        if twin is not None:
            skipped.append(
                Skipped(what=_shown(number, row), count=1, why=f"it has the {twin}: it was taken once")
            )
            continue
        for mark, value in _marks(device):
            seen[mark, value] = number
        yield device


def _marks(device: ListedDevice) -> Iterator[tuple[str, str]]:
    if device.mac:
        yield "MAC", device.mac
    if device.serial:
        yield "serial number", device.serial


def _why_none(row: Sequence[str], columns: Columns) -> str | None:
    """Return why a row is no device, "heading" for one that heads others, None for a device."""
    filled = [cell.strip() for cell in row if cell.strip()]
    words = plain_words(filled[0]) if filled else ""
    what, count = (
        _cell(row, columns["what"]) or _cell(row, columns.get("kind")),
        _cell(row, columns.get("count")),
    )
    pieces = count_of(count) if count else 1
    totals = library().list_words["total"].words
    reasons = (
        (any(words == w or words.startswith(f"{w} ") for w in totals), "it sums up other rows"),
        (len(filled) == 1 and len(columns) > 1 and bool(what) and number_of(what) is None, "heading"),
        (not what, "no name"),
        (pieces is None, f"its count {count[:20]} is no whole number"),
        (pieces is not None and pieces > _MOST_COUNT, f"no count from 0 to {_MOST_COUNT:,}"),
    )
    return next((why for holds, why in reasons if holds), None)


def _device(number: int, row: Sequence[str], columns: Columns, under: str) -> ListedDevice:
    def said(name: str) -> str:
        return _cell(row, columns.get(name))

    what, count = said("what") or said("kind"), count_of(said("count")) if said("count") else None
    times = _TIMES.match(what)
    if count is None and times:
        count, what = int(times[1]), times[2]
    kind = device_kind_of(said("kind")) or device_kind_of(what) or device_kind_of(under)
    mac = re.sub(r"[^0-9a-f]", "", said("mac").lower())
    note = [said("note")]
    if said("mac") and not _MAC.match(said("mac")):
        mac = ""
        note.append(f"MAC as written: {said('mac')}")
    place = said("place")
    if not place and device_kind_of(under) is None:
        place = under
    return ListedDevice(
        row=number,
        label=what[:80],
        device=kind,
        count=1 if count is None else count,
        place=place[:80],
        floor=said("floor")[:80],
        position=said("position")[:80],
        mac=":".join(mac[n : n + 2] for n in range(0, 12, 2)) if len(mac) == 12 else "",
        serial=re.sub(r"[^A-Za-z0-9-]", "", said("serial")).upper()[:32],
        vlan=said("vlan")[:40],
        address=said("address")[:40],
        note="; ".join(filter(None, note))[:200],
    )


def _counted(found: Sequence[ListedDevice]) -> tuple[DeviceCount, ...]:
    """Return counts for the brief: rows as they are where each counts, of a kind together where each is one device."""
    if not found:
        return ()
    single = all(device.count == 1 for device in found) and len(found) > 1
    if not single or len({device.device for device in found}) == len(found):
        return tuple(device_count(device.label, device.count, device.device) for device in found)
    kinds = library().device_kinds
    together: Counter[tuple[str, str | None]] = Counter()
    for device in found:
        label = kinds[device.device].label if device.device in kinds else device.label
        together[label, device.device] += device.count
    return tuple(device_count(label, count, kind) for (label, kind), count in together.items())


def device_count(what: str, count: int, kind: str | None = None) -> DeviceCount:
    """Return a count with the kind of device that is said or its name tells, when it tells one."""
    kind = kind or device_kind_of(what)
    row = library().device_kinds[kind] if kind else None
    return DeviceCount(
        what=what[:80],
        count=count,
        device=kind,
        moves=row.moves if row else True,
        purpose=row.purpose if row else "main",
    )
