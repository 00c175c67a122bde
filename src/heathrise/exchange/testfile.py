"""Files of cable tests in: CSV and XLSX of any tester that writes a plain table, whatever its columns are called.

Two shapes are read, alone or mixed. Long: a row a reading, with columns quantity, pair, f_mhz and value. Wide: a row a
run, with a column a quantity. Written out and documented (docs/formats.md): label, configuration, class, site, tester,
when, verdict, wire_map, quantity, pair, f_mhz, value.
"""

import re
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import UTC, datetime
from typing import Any, get_args

from dateutil.parser import ParserError
from dateutil.parser import parse as parse_date

from heathrise.core.job import CableTest, Configuration, Curve, Quantity, Record, TestReading
from heathrise.core.proving.testfile import ReadTest
from heathrise.exchange.rows import Rows, columns_by, number_of
from heathrise.exchange.tables import Cell
from heathrise.exchange.unreadable import Unreadable

COLUMNS = (
    "label",
    "configuration",
    "class",
    "site",
    "tester",
    "when",
    "verdict",
    "wire_map",
    "quantity",
    "pair",
    "f_mhz",
    "value",
)
MOST_ROWS = 400_000
_OVER_FREQUENCY = frozenset({"insertion-loss", "next", "return-loss", "other"})
# More readings of one quantity and pair than this are a curve.
_FEW = 3
# What columns are called, in the languages files come in; the longer word is looked for first.
# fmt: off
_HEADS: Mapping[str, tuple[str, ...]] = {
    "label": ("cable id", "cable label", "circuit id", "link id", "kabel-id", "label", "cable", "circuit", "run", "kabel",
              "strecke", "câble", "cavo", "id", "name"),
    "configuration": ("link type", "configuration", "test type", "measured as", "messart", "konfiguration", "arrangement",
                      "setup"),
    "class": ("test class", "class", "standard", "category", "limit", "klasse", "norm", "classe", "categoria", "cat"),
    "site": ("site", "project", "job", "projekt", "standort", "chantier", "progetto", "cantiere"),
    "tester": ("tester", "instrument", "serial", "serial number", "gerät", "messgerät", "appareil", "strumento"),
    "when": ("date and time", "test date", "date", "time", "when", "datum", "zeit", "data", "heure"),
    "verdict": ("result", "verdict", "pass/fail", "summary", "ergebnis", "résultat", "esito", "status"),
    "wire_map": ("wire map", "wiremap", "wire-map", "verdrahtung", "mappa cavi"),
    "quantity": ("quantity", "parameter", "measurement", "messgröße", "grandeur", "grandezza"),
    "pair": ("pair", "pairs", "paar", "paire", "coppia"),
    "f_mhz": ("frequency (mhz)", "frequency", "f mhz", "mhz", "freq", "frequenz", "fréquence", "frequenza"),
    "value": ("value", "reading", "wert", "valeur", "valore", "messwert"),
}
_QUANTITIES: Mapping[str, tuple[str, ...]] = {
    "other": ("ps next", "psnext", "power sum next", "acr-f", "acrf", "ps acr-f", "psacrf", "acr-n", "acr", "alien", "psanext",
              "tcl", "eltctl", "headroom", "margin"),
    "insertion-loss": ("insertion loss", "insertion-loss", "attenuation", "einfügedämpfung", "dämpfung", "affaiblissement",
                       "attenuazione", "il"),
    "next": ("near end crosstalk", "near-end crosstalk", "next", "nahnebensprechen", "paradiaphonie"),
    "return-loss": ("return loss", "return-loss", "rückflussdämpfung", "affaiblissement de réflexion", "rl"),
    "skew": ("delay skew", "skew", "laufzeitunterschied"),
    "delay": ("propagation delay", "prop delay", "delay", "laufzeit", "temps de propagation"),
    "loop": ("loop resistance", "dc loop", "dc resistance", "loop", "resistance", "schleifenwiderstand", "widerstand",
             "résistance"),
    "unbalance-ohm": ("unbalance ohm", "unbalance (ohm)", "unbalance-ohm", "resistance unbalance (ohm)"),
    "unbalance": ("resistance unbalance", "unbalance", "unsymmetrie"),
    "light-loss": ("optical loss", "light loss", "light-loss", "fibre loss", "fiber loss", "loss at 1310", "loss at 1550"),
    "length": ("length", "länge", "longueur", "lunghezza"),
}
_CONFIGURATIONS: tuple[tuple[str, Configuration], ...] = (
    ("mptl", "modular-plug link"), ("modular", "modular-plug link"), ("permanent", "permanent link"), ("perm", "permanent link"),
    ("pl", "permanent link"), ("channel", "channel"), ("kanal", "channel"), ("canal", "channel"), ("ch", "channel"),
    ("fib", "fibre link"), ("optic", "fibre link"), ("lwl", "fibre link"), ("link", "permanent link"),
)
_CLASSES = (("cat 6a", "EA"), ("cat6a", "EA"), ("cat. 6a", "EA"), ("ea", "EA"), ("cat 6", "E"), ("cat6", "E"), ("e", "E"),
            ("cat 5e", "D"), ("cat5e", "D"), ("d", "D"), ("fa", "FA"), ("f", "F"))
_PASS = ("pass", "ok", "good", "bestanden", "réussi", "conforme", "superato", "yes", "✓")
_FAIL = ("fail", "nok", "bad", "nicht bestanden", "échec", "non conforme", "fallito", "no", "✗")
# fmt: on


def read_tests(rows: Rows) -> tuple[list[ReadTest], int]:
    """Return (the tests of a file, one a run and time; how many rows were left out as empty or not understood).

    Raises
    ------
    Unreadable
        If it has no column of labels beside a result or a reading, or too many rows.
    """
    if len(rows) > MOST_ROWS:
        raise Unreadable(f"the file has more than {MOST_ROWS} rows", "Send it in parts, some runs each")
    head_at, columns, wide = _head(rows)
    tests: dict[tuple[str, str], _Building] = {}
    skipped = 0
    for number, row in enumerate(rows[head_at + 1 :], start=head_at + 2):
        cells = {name: row[at].strip() if at < len(row) else "" for name, at in columns.items()}
        if not cells.get("label"):
            skipped += 1
            continue
        key = (cells["label"], cells.get("when", ""))
        building = tests.setdefault(key, _Building(number, cells["label"]))
        building.say(cells)
        read = building.add_long(cells)
        for at, quantity in wide.items():
            read |= building.add(
                quantity, cells.get("pair", ""), cells.get("f_mhz", ""), row[at] if at < len(row) else ""
            )
        skipped += not read and not cells.get("verdict") and not cells.get("wire_map")
    return [one.made() for one in tests.values()], skipped


def _head(rows: Rows) -> tuple[int, dict[str, int], dict[int, Quantity]]:
    """Return where the headings stand, which column is which, and which are quantities of a wide table."""
    for at, row in enumerate(rows[:30]):
        columns = columns_by(_HEADS, row)
        taken = set(columns.values())
        wide: dict[int, Quantity] = {}
        for n, cell in enumerate(row):
            quantity = quantity_of(cell)
            if quantity is not None and (n not in taken or "quantity" not in columns):
                wide[n] = quantity
        kept = {name: n for name, n in columns.items() if n not in wide}
        if "label" in kept and ({"verdict", "value", "wire_map"} & set(kept) or wide):
            return at, kept, wide
    raise Unreadable(
        "no row names a cable beside a result or a reading",
        "Give the columns headings such as: label, configuration, class, verdict, quantity, pair, f_mhz, value",
    )


def quantity_of(text: str) -> Quantity | None:
    """Return the quantity a word means, None for none.

    >>> quantity_of("NEXT (dB)"), quantity_of("PS NEXT"), quantity_of("Einfügedämpfung"), quantity_of("colour")
    ('next', 'other', 'insertion-loss', None)
    """
    plain = re.sub(r"[\s_]+", " ", text.strip().casefold())
    found = [
        (len(word), name)
        for name, words in _QUANTITIES.items()
        for word in words
        if plain == word or re.search(rf"(?<![\w-]){re.escape(word)}(?![\w-])", plain)
    ]
    name = max(found)[1] if found else None
    return next((one for one in get_args(Quantity) if one == name), None)


class _Building:
    """A test as its rows come in."""

    def __init__(self, row: int, label: str):
        self.row, self.label = row, label
        self.said: dict[str, str] = {}
        self.values: dict[tuple[Quantity, str], list[tuple[float | None, float]]] = defaultdict(list)
        self.odd: list[str] = []

    def say(self, cells: Mapping[str, str]) -> None:
        """Take in what is said of the whole test."""
        for name in ("configuration", "class", "site", "tester", "when", "verdict", "wire_map"):
            if cells.get(name) and name not in self.said:
                self.said[name] = cells[name]

    def add_long(self, cells: Mapping[str, str]) -> bool:
        """Take in the reading of a row that names its quantity; False where it has none."""
        quantity = quantity_of(cells.get("quantity", ""))
        if quantity is None:
            if cells.get("quantity") and cells.get("value"):
                quantity = "other"
            else:
                return False
        return self.add(quantity, cells.get("pair", ""), cells.get("f_mhz", ""), cells.get("value", ""))

    def add(self, quantity: Quantity, pair: str, f_mhz: str, value: str) -> bool:
        """Take in a reading; False where it is no number."""
        found = _number(value)
        if found is None:
            return False
        frequency = _number(f_mhz)
        has_one = quantity in _OVER_FREQUENCY and frequency is not None and frequency > 0
        self.values[quantity, _pair(pair)].append((frequency if has_one else None, found))
        return True

    def made(self) -> ReadTest:
        """Return the test that the rows were."""
        problem = ""
        body: dict[str, Any] = {
            "configuration": _configuration(self.said.get("configuration", "")),
            "test_class": _class(self.said.get("class", "")),
            "verdict": _verdict(self.said.get("verdict", "")),
            "site": self.said.get("site", "")[:80],
            "tester": self.said.get("tester", "")[:80],
        }
        wire_map, split = _wire_map(self.said.get("wire_map", ""))
        when = _when(self.said.get("when", ""))
        try:
            readings, curves = _readings(self.values)
            if not readings and not curves and body["verdict"] == "none" and not wire_map:
                problem = "it says neither pass nor fail, and has no reading"
            test = CableTest(**body, wire_map=wire_map, split=split, readings=readings, curves=curves)
        except ValueError as error:
            problem = f"a value is out of all bounds: {str(error).splitlines()[-2].strip()[:120]}"
            test = CableTest(configuration=body["configuration"])
        return ReadTest(label=self.label[:80], row=self.row, test=test, said_at=when, problem=problem)


def _readings(
    values: Mapping[tuple[Quantity, str], Sequence[tuple[float | None, float]]],
) -> tuple[tuple[TestReading, ...], tuple[Curve, ...]]:
    readings: list[TestReading] = []
    curves: list[Curve] = []
    for (quantity, pair), rows in values.items():
        swept = sorted((f, v) for f, v in rows if f is not None)
        is_curve = len(swept) > _FEW
        if is_curve:
            f_mhz, value = (tuple(column) for column in zip(*swept, strict=True))
            curves.append(Curve(quantity=quantity, pair=pair, f_mhz=f_mhz, value=value))
        readings += [
            TestReading(quantity=quantity, pair=pair, f_mhz=f, value=v)
            for f, v in rows
            if f is None or not is_curve
        ]
    return tuple(readings), tuple(curves)


def _number(text: str) -> float | None:
    found = re.search(r"[-\u2212]?\d[\d.,'\u2019\s]*", text)
    return number_of(found[0].strip(" .,")) if found else None


def _pair(text: str) -> str:
    """Return a pair as "12", two as "12-36", whatever marks part its wires.

    >>> _pair("1,2"), _pair("12/36"), _pair("Pair 4-5"), _pair("1-2 to 3-6")
    ('12', '12-36', '45', '12-36')
    """
    digits = re.sub(r"[^1-8]", "", text)
    return digits[:2] + (f"-{digits[2:4]}" if len(digits) == 4 else "")


def _configuration(text: str) -> Configuration:
    """Return how it was joined; a file that does not say is taken for the link that installers test."""
    plain = text.casefold()
    return next(
        (meant for word, meant in _CONFIGURATIONS if re.search(rf"(?<!\w){word}", plain)), "permanent link"
    )


def _class(text: str) -> str:
    plain = re.sub(r"\s+", " ", text.casefold())
    return next((cls for word, cls in _CLASSES if re.search(rf"(?<!\w){re.escape(word)}(?!\w)", plain)), "")


def _verdict(text: str) -> str:
    plain = text.strip().casefold()
    if any(word in plain for word in _FAIL if len(word) > 2) or plain in _FAIL:
        return "fail"
    return "pass" if any(plain.startswith(word) for word in _PASS) else "none"


def _wire_map(text: str) -> tuple[str, bool]:
    """Return (where each wire comes out, whether a pair is split) of what testers write."""
    plain = text.strip().casefold()
    if _verdict(plain) == "pass":
        return "12345678", False
    wires = re.sub(r"[\s,;/-]", "", plain).replace("o", "x")
    return (wires if re.fullmatch(r"[1-8xs]{8}", wires) else ""), "split" in plain


def _when(text: str) -> datetime | None:
    """Return when it was tested; a record whose date cannot be read is dated by when it came."""
    if not text:
        return None
    try:
        found: datetime = parse_date(text, dayfirst="." in text)
    except (ParserError, OverflowError, ValueError):
        return None
    return found if found.tzinfo else found.replace(tzinfo=UTC)


def rows_of_tests(labels: Mapping[str, str], records: Iterable[Record], site: str) -> list[tuple[Cell, ...]]:
    """Return the rows of a file of tests, as `COLUMNS` names them: what is read back is the same. `labels` by run."""
    rows: list[tuple[Cell, ...]] = []
    for record in records:
        test = record.measured
        if not isinstance(test, CableTest) or record.subject not in labels:
            continue
        head = (
            labels[record.subject],
            test.configuration,
            test.test_class,
            test.site or site,
            test.tester,
            record.said_at.isoformat(timespec="seconds"),
            test.verdict,
            ("split " if test.split else "") + test.wire_map,
        )
        readings = [(one.quantity, one.pair, one.f_mhz, one.value) for one in test.readings]
        readings += [
            (curve.quantity, curve.pair, f_mhz, value)
            for curve in test.curves
            for f_mhz, value in zip(curve.f_mhz, curve.value, strict=True)
        ]
        rows += [(*head, *reading) for reading in readings] or [(*head, "", "", None, None)]
    return rows
