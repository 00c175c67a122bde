"""`python -m benchmarks.bombs`: files made to do harm, each read as it would be; what memory and time they took."""

import io
import struct
import sys
import threading
import time
import zipfile
import zlib
from collections.abc import Callable
from typing import Any

import psutil
from openpyxl import Workbook

from heathrise.core.job import Job
from heathrise.exchange.jobfile import read_job, write_job
from heathrise.exchange.pictures import read_picture
from heathrise.exchange.reading import read_file
from heathrise.exchange.readings import ReadingChoices
from heathrise.exchange.rows import table_rows
from heathrise.store.jobs import new_id
from heathrise.work.bounded import bounded

MOST_MB, MOST_S = 2000, 120
_LOOK_S = 0.01


def drawing(body: bytes) -> int:
    """Read a drawing as an import does; how many storeys it proposes."""
    return len(read_file(body, ReadingChoices(megapixels=40), new_id, "Bomb").reading.proposal.storeys)


def picture(body: bytes) -> int:
    return read_picture(body, 40).width_px


def job(body: bytes) -> int:
    return len(read_job(body).elements)


def pdf(side: int, times: int) -> bytes:
    """A page with a picture of so many pixels a side, packed so many times over."""
    whole = zlib.compressobj(9)
    data = b"".join(whole.compress(bytes(side)) for _ in range(side)) + whole.flush()
    for _ in range(times - 1):
        data = zlib.compress(data, 9)
    filters = b"[" + b"/FlateDecode " * times + b"]"
    image = b"<</Type/XObject/Subtype/Image/Width %d/Height %d/ColorSpace/DeviceGray" % (side, side)
    image += b"/BitsPerComponent 8/Filter %s/Length %d>>stream\n%s\nendstream" % (filters, len(data), data)
    drawn = b"q 500 0 0 500 0 0 cm /I Do Q"
    objects = [
        b"<</Type/Catalog/Pages 2 0 R>>",
        b"<</Type/Pages/Kids[3 0 R]/Count 1>>",
        b"<</Type/Page/Parent 2 0 R/MediaBox[0 0 600 600]/Contents 4 0 R/Resources<</XObject<</I 5 0 R>>>>>>",
        b"<</Length %d>>stream\n%s\nendstream" % (len(drawn), drawn),
        image,
    ]
    return _pdf_of(objects)


def _pdf_of(objects: list[bytes]) -> bytes:
    out, at = bytearray(b"%PDF-1.7\n"), []
    for number, body in enumerate(objects, start=1):
        at.append(len(out))
        out += b"%d 0 obj%s endobj\n" % (number, body)
    table = len(out)
    out += b"xref\n0 %d\n0000000000 65535 f \n" % (len(objects) + 1)
    out += b"".join(b"%010d 00000 n \n" % offset for offset in at)
    out += b"trailer<</Size %d/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF" % (len(objects) + 1, table)
    return bytes(out)


def pdf_of_lines(count: int) -> bytes:
    """A page of a line drawn over and over, its content packed."""
    drawn = zlib.compress(b"0 0 m 600 600 l S\n" * count, 9)
    content = b"<</Filter/FlateDecode/Length %d>>stream\n%s\nendstream" % (len(drawn), drawn)
    page = b"<</Type/Page/Parent 2 0 R/MediaBox[0 0 600 600]/Contents 4 0 R/Resources<<>>>>"
    return _pdf_of([b"<</Type/Catalog/Pages 2 0 R>>", b"<</Type/Pages/Kids[3 0 R]/Count 1>>", page, content])


def png(width: int, height: int) -> bytes:
    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    packed = zlib.compressobj(9)
    data = b"".join(packed.compress(bytes(width + 1)) for _ in range(min(height, 40_000))) + packed.flush()
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", data) + chunk(b"IEND", b"")


def workbook(rows: int, columns: int) -> bytes:
    """A workbook whose one sheet unpacks to a great deal."""
    out = io.BytesIO()
    Workbook().save(out)
    cells = "".join(f'<c r="A{n}" t="inlineStr"><is><t>x</t></is></c>' for n in range(columns))
    head = '<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>'
    sheet = head + f"<row>{cells}</row>" * rows + "</sheetData></worksheet>"
    bomb = io.BytesIO()
    with zipfile.ZipFile(out) as old, zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as new:
        for item in old.infolist():
            new.writestr(item.filename, sheet if item.filename.endswith("sheet1.xml") else old.read(item))
    return bomb.getvalue()


def shared(count: int) -> bytes:
    """A workbook with a great many shared strings."""
    out = io.BytesIO()
    Workbook().save(out)
    text = (
        '<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
        + "<si><t>x</t></si>" * count
    )
    bomb = io.BytesIO()
    with zipfile.ZipFile(out) as old, zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as new:
        for item in old.infolist():
            new.writestr(
                item.filename, old.read(item) if "sharedStrings" not in item.filename else text + "</sst>"
            )
    return bomb.getvalue()


def job_of(elements: str) -> bytes:
    """A job file with these elements."""
    return write_job(Job(name="Bomb")).replace('"elements": []', f'"elements": [{elements}]').encode()


def dxf(levels: int, times: int) -> bytes:
    """Blocks that hold the block before so many times."""
    lines = ["0", "SECTION", "2", "BLOCKS"]
    for level in range(levels):
        lines += ["0", "BLOCK", "8", "0", "2", f"B{level}", "70", "0", "10", "0", "20", "0", "30", "0"]
        if level == 0:
            lines += ["0", "LINE", "8", "WALL", "10", "0", "20", "0", "11", "5", "21", "5"]
        else:
            lines += ["0", "INSERT", "8", "WALL", "2", f"B{level - 1}", "10", "1", "20", "1"] * times
        lines += ["0", "ENDBLK", "8", "0"]
    lines += ["0", "ENDSEC", "0", "SECTION", "2", "ENTITIES"]
    lines += [
        "0",
        "INSERT",
        "8",
        "WALL",
        "2",
        f"B{levels - 1}",
        "10",
        "0",
        "20",
        "0",
        "0",
        "ENDSEC",
        "0",
        "EOF",
    ]
    return "\n".join(lines).encode()


def svg(levels: int, times: int) -> bytes:
    """Groups that use the group before so many times."""
    defs = '<g id="g0"><path d="M0 0L100 100"/></g>'
    for level in range(1, levels):
        uses = f'<use xlink:href="#g{level - 1}"/>' * times
        defs += f'<g id="g{level}">{uses}</g>'
    space = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return f'<svg {space} width="100" height="100"><defs>{defs}</defs><use xlink:href="#g{levels - 1}"/></svg>'.encode()


BOMBS: dict[str, tuple[Callable[[bytes], Any], int, Callable[[], bytes]]] = {
    "a PDF of a picture of 0.9 gigapixels, packed twice": (picture, 60, lambda: pdf(30_000, 2)),
    "the same, packed three times, as a drawing": (drawing, MOST_S, lambda: pdf(30_000, 3)),
    "a PDF of five million lines": (drawing, MOST_S, lambda: pdf_of_lines(5_000_000)),
    "a PNG of 39 megapixels as a picture": (picture, 60, lambda: png(6_500, 6_000)),
    "the same as a drawing": (drawing, MOST_S, lambda: png(6_500, 6_000)),
    "a PNG 30,000,000 by 1": (picture, 60, lambda: png(30_000_000, 1)),
    "a workbook of 1.5 million cells": (table_rows, 20, lambda: workbook(150_000, 10)),
    "a workbook of three million shared strings": (table_rows, 20, lambda: shared(3_000_000)),
    "a table of 5 MB of quotes": (table_rows, 20, lambda: b'"' * 4_999_999),
    "a job file of 40 MB of wrong elements": (
        job,
        90,
        lambda: job_of(",".join(['{"kind":"wall"}'] * 2_400_000)),
    ),
    "a job file of 40 MB of numbers": (job, 90, lambda: job_of(",".join(["1"] * 19_000_000))),
    "a job file of 40 MB of brackets": (job, 90, lambda: job_of("[" * 20_000_000 + "]" * 19_000_000)),
    "a job file of one element with ten million points": (
        job,
        90,
        lambda: job_of('{"kind":"space","outline":[' + ",".join(["{}"] * 13_000_000) + "]}"),
    ),
    "a DXF of blocks in blocks, ten to the ninth lines": (drawing, MOST_S, lambda: dxf(10, 10)),
    "an SVG of groups in groups, ten to the ninth paths": (drawing, MOST_S, lambda: svg(10, 10)),
}


def peak_mb(over: threading.Event) -> list[float]:
    """Note the largest resident memory of any process below this one until it is over."""
    found = [0.0]
    while not over.wait(_LOOK_S):
        for process in psutil.Process().children(recursive=True):
            try:
                found[0] = max(found[0], process.memory_info().rss / 1e6)
            except psutil.Error:
                continue
    return found


def read(work: Callable[[bytes], Any], cpu_s: int, body: bytes) -> tuple[str, float, float]:
    """Return (what became of it, its reader's peak in MB, seconds)."""
    over = threading.Event()
    peaks: list[float] = []
    looking = threading.Thread(target=lambda: peaks.extend(peak_mb(over)))
    looking.start()
    begun = time.monotonic()
    try:
        said = f"read: {bounded('the file', cpu_s, work, body)!r}"[:40]
    except ValueError as error:
        said = str(error)
    seconds = time.monotonic() - begun
    over.set()
    looking.join()
    return said, peaks[0], seconds


def main() -> None:
    """Read every bomb and print the table; exit with 1 when one went over its bounds."""
    held = True
    print("| file | size | memory | time | what was said |\n| --- | --- | --- | --- | --- |")
    for name, (work, cpu_s, made) in BOMBS.items():
        body = made()
        said, memory_mb, seconds = read(work, cpu_s, body)
        held &= memory_mb <= MOST_MB and seconds <= 2 * cpu_s
        size = f"{len(body) / 1e6:.1f} MB" if len(body) > 1e5 else f"{len(body) / 1e3:.1f} kB"
        print(f"| {name} | {size} | {memory_mb:.0f} MB | {seconds:.1f} s | {said[:90]} |", flush=True)
    if not held:
        sys.exit(1)


if __name__ == "__main__":
    main()
