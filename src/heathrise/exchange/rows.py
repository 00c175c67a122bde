"""Tables of text in: CSV of any usual delimiter and encoding, pasted cells, XLSX; numbers as people write them."""

import csv
import io
import lzma
import re
import warnings
import zipfile
import zlib
from collections.abc import Iterable, Mapping, Sequence
from itertools import islice

from charset_normalizer import from_bytes
from defusedxml import DefusedXmlException
from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from heathrise.core.library import limit
from heathrise.exchange.unreadable import Unreadable

_MB = 1_000_000
Rows = list[list[str]]
_COLUMNS = 40
_CELL_CHARS = 1000
# Signs that stand within no word: what a letter of another code page comes to.
_ODD = re.compile(
    r"(?<=[^\W\d_])[^\w\s'’.,;:()/&+\-|\"][^\W_]?|[^\w\s'’.,;:()/&+\-|\"°²³€£#%=<>\[\]{}@!?*](?=[^\W\d_])|œ|³|¿|¹"
)
# So many lines tell what parts their cells.
_LOOK_LINES = 12


def table_rows(body: bytes, most: int = 20_000) -> Rows:
    """Return the rows of a table of text or a workbook's first sheet, at most one more than `most`.

    Raises
    ------
    Unreadable
        If the file is neither, or unpacks to far more than it should.
    """
    return _sheet(body, most) if body.startswith(b"PK\x03\x04") else _text(body, most)


def _sheet(body: bytes, most: int) -> Rows:
    try:
        with zipfile.ZipFile(io.BytesIO(body)) as packed:
            unpacked = sum(item.file_size for item in packed.infolist())
        if unpacked > limit("import.unpacked_mb") * _MB:
            raise Unreadable(
                f"the workbook unpacks to {unpacked / _MB:.0f} MB; that is no list",
                "Copy the rows to a workbook of their own",
            )
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = load_workbook(io.BytesIO(body), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        rows = [
            ["" if cell is None else str(cell)[:_CELL_CHARS] for cell in row[:_COLUMNS]]
            for row in sheet.iter_rows(values_only=True, max_row=most + 1)
        ]
        book.close()
    except (
        InvalidFileException,
        zipfile.BadZipFile,
        KeyError,
        IndexError,
        ValueError,
        OSError,
        TypeError,
        NotImplementedError,
        RuntimeError,
        EOFError,
        SyntaxError,
        zlib.error,
        lzma.LZMAError,
        DefusedXmlException,
    ) as error:
        raise Unreadable(
            f"the workbook cannot be read: {str(error)[:100]}", "Save it as XLSX or CSV again"
        ) from error
    return rows


def _text(body: bytes, most: int) -> Rows:
    if b"\x00" in body[:1000] and not body.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise Unreadable(
            "the file is neither a table of text nor an XLSX workbook", "Save the list as CSV or XLSX"
        )
    try:
        text = body.decode("utf-8")
    except UnicodeDecodeError:
        text = _decoded(body)
    text = text.lstrip("\ufeff")
    said = re.match(r"\s*\"?sep=(.)\"?\s*?\r?\n", text, re.IGNORECASE)
    text = text[said.end() :] if said else text
    delimiter = said[1] if said else _delimiter(text)
    try:
        rows = csv.reader(io.StringIO(text), delimiter=delimiter)
        written = (
            [cell[:_CELL_CHARS] for cell in row[:_COLUMNS]] for row in rows if any(map(str.strip, row))
        )
        return list(islice(written, most + 1))
    except csv.Error as error:
        raise Unreadable(f"the table cannot be read: {error}", "Save it as CSV again") from error


def _decoded(body: bytes) -> str:
    """Return text that is no UTF-8: by its marks, else by the western or central European page it reads better in."""
    best = from_bytes(body).best() if body.startswith((b"\xff\xfe", b"\xfe\xff")) or b"\x00" in body else None
    if best is not None:
        return str(best)
    read = [body.decode(page, "replace") for page in ("cp1252", "cp1250")]
    return min(read, key=lambda text: len(_ODD.findall(text)))


def _delimiter(text: str) -> str:
    """Return what parts the cells: what the first lines have most of, a title without any left aside."""
    lines = [line for line in text.splitlines() if line.strip()][:_LOOK_LINES]

    def often(mark: str) -> tuple[int, int, bool]:
        counts = [line.count(mark) for line in lines]
        usual = max(set(counts), key=lambda n: (n > 0, counts.count(n), n), default=0)
        return (counts.count(usual) if usual else 0, usual, mark == "\t")

    return max("\t;,|", key=often)


def number_of(text: str) -> float | None:
    """Return a number written with a point or a comma, with or without thousands, else None.

    >>> number_of("1.234,5"), number_of("1,234.5"), number_of("12"), number_of("-67,5")
    (1234.5, 1234.5, 12.0, -67.5)
    """
    plain = re.sub(r"[\s\u00a0'\u2019]", "", text).replace("\u2212", "-")
    sign, plain = (-1.0, plain[1:]) if plain.startswith("-") else (1.0, plain)
    if re.fullmatch(r"\d{1,3}(\.\d{3})+(,\d+)?", plain):
        plain = plain.replace(".", "").replace(",", ".")
    elif re.fullmatch(r"\d{1,3}(,\d{3})+(\.\d+)?", plain):
        plain = plain.replace(",", "")
    else:
        plain = plain.replace(",", ".")
    return sign * float(plain) if re.fullmatch(r"\d{1,9}(\.\d+)?", plain) else None


def columns_by(heads: Mapping[str, Sequence[str]], row: Iterable[str]) -> dict[str, int]:
    """Return which column is which by what heads are called: the most telling word wins, each column is one thing.

    >>> columns_by({"price": ("net price", "price"), "pack": ("pack",)}, ["Pack size", "Net price"])
    {'price': 1, 'pack': 0}
    """
    cells = [re.sub(r"[\s_]+", " ", cell.strip().casefold()) for cell in row]
    marks = [
        (len(word), name, at)
        for name, words in heads.items()
        for word in words
        for at, cell in enumerate(cells)
        if cell == word or re.search(rf"(?<!\w){re.escape(word)}(?!\w)", cell)
    ]
    found: dict[str, int] = {}
    for _, name, at in sorted(marks, key=lambda mark: (-mark[0], mark[2])):
        if name not in found and at not in found.values():
            found[name] = at
    return found
