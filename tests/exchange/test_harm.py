"""Files made to do harm, or broken on their way: each is refused in words, whatever it is."""

import io
import json
import random
import struct
import zipfile
import zlib

import pytest
from benchmarks import bombs
from defusedxml.ElementTree import fromstring
from openpyxl import Workbook
from PIL import Image

from heathrise.core.job import Job
from heathrise.exchange.jobfile import NotAJobFile, read_job, write_job
from heathrise.exchange.pictures import open_picture
from heathrise.exchange.plans import write_svg
from heathrise.exchange.reading import read_file
from heathrise.exchange.readings import ReadingChoices
from heathrise.exchange.rows import table_rows
from heathrise.exchange.svgplan import read_svg
from heathrise.exchange.tables import to_csv
from heathrise.exchange.unreadable import NotAPicture, Unreadable
from heathrise.exchange.words import one_line
from tests.house import House


def workbook() -> bytes:
    book = Workbook()
    book.active.append(["Device", "Count"])
    book.active.append(["Phones", 3])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def repacked(change) -> bytes:
    """The workbook with each of its files changed."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(workbook())) as old, zipfile.ZipFile(out, "w") as new:
        for item in old.infolist():
            new.writestr(item.filename, change(item.filename, old.read(item)))
    return out.getvalue()


def in_sheet(change):
    return repacked(lambda name, text: change(text) if name.endswith("sheet1.xml") else text)


def flagged(at: int, value: int) -> bytes:
    """The workbook with a byte of every local and central header changed: flags, or the way it is packed."""
    body = bytearray(workbook())
    for mark, offset in ((b"PK\x03\x04", at), (b"PK\x01\x02", at + 2)):
        found = body.find(mark)
        while found >= 0:
            body[found + offset] = value
            found = body.find(mark, found + 4)
    return bytes(body)


ENTITIES = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>'
WORKBOOKS = {
    "entities": in_sheet(lambda text: ENTITIES + text.split(b"?>")[-1].replace(b"3</v>", b"&b;</v>")),
    "broken XML": in_sheet(lambda text: text[: len(text) // 2]),
    "no XML": in_sheet(lambda _: b"\x00\xff not XML"),
    "encrypted": flagged(6, 1),
    "unknown compression": flagged(8, 99),
    "cut short": workbook()[:400],
    "an archive of something else": repacked(lambda *_: b"")[:-60],
}


def test_the_workbook_itself_is_read():
    assert table_rows(workbook()) == [["Device", "Count"], ["Phones", "3"]]


@pytest.mark.parametrize("name", WORKBOOKS)
def test_a_workbook_that_does_harm_is_refused(name):
    with pytest.raises(Unreadable):
        table_rows(WORKBOOKS[name])


@pytest.mark.parametrize("seed", range(60))
def test_a_workbook_with_any_bytes_changed_is_read_or_refused(seed):
    chance = random.Random(seed)
    body = bytearray(workbook())
    for _ in range(chance.randint(1, 12)):
        body[chance.randrange(4, len(body))] = chance.randrange(256)
    try:
        table_rows(bytes(body))
    except Unreadable as error:
        assert len(str(error)) > 20


@pytest.mark.parametrize(
    "text",
    [
        "<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0L1",
        "<svg>&undefined;</svg>",
        "<!DOCTYPE svg [<!ENTITY a 'b'>]><svg>&a;</svg>",
        "<svg " + "a" * 50_000,
        "<svg>" + "<g>" * 5_000,
    ],
)
def test_a_broken_svg_is_refused(text):
    with pytest.raises(Unreadable):
        read_svg(text.encode())


@pytest.mark.parametrize("size", [(30_000_001, 1), (1, 40_000), (9_000, 9_000)])
def test_a_picture_of_no_plan_is_refused_before_it_is_unpacked(size):
    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", *size, 8, 0, 0, 0, 0)
    body = b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", b"") + chunk(b"IEND", b"")
    with pytest.raises(NotAPicture, match=r"is the most|megapixels"):
        open_picture(body, 40)


def test_a_usual_picture_is_read():
    out = io.BytesIO()
    Image.new("RGB", (300, 200)).save(out, "PNG")
    assert open_picture(out.getvalue(), 40)[0].size == (300, 200)


def test_a_job_file_of_many_wrong_elements_tells_of_the_first_and_looks_at_twenty():
    body = json.loads(write_job(Job(name="Mill")))
    body["elements"] = [{"kind": "wall"}] * 100_000
    with pytest.raises(NotAJobFile) as caught:
        read_job(json.dumps(body))
    assert "elements.0" in str(caught.value)
    assert "16 or more others" in str(caught.value)
    assert len(str(caught.value)) < 1000


@pytest.mark.parametrize("elements", [None, 3, "walls", {"a": 1}, [None], [[[]]], [3]])
def test_a_job_file_of_another_build_is_refused(elements):
    body = json.loads(write_job(Job(name="Mill"))) | {"elements": elements}
    for version in (1, 2):
        with pytest.raises(NotAJobFile):
            read_job(json.dumps(body | {"schema_version": version}))


@pytest.mark.parametrize(
    "cell", ["=1+1", "a;=1+1", "a\n=1+1", "\n=1+1", "\r\n =1+1", "a\t+1", "a,@x", "x; -1", "\t=1"]
)
def test_no_part_of_a_cell_is_taken_for_a_formula_whatever_parts_cells(cell):
    text = to_csv(["what"], [[cell]])
    for delimiter in ";,\t":
        for part in text.replace('"', "").replace("\r", "\n").replace(delimiter, "\n").split("\n"):
            assert part.strip()[:1] not in ("=", "+", "-", "@")


def test_words_that_are_no_formula_are_left_alone():
    assert to_csv(["what", "n"], [["Cat 6A; 305 m - box", -3]]) == "what,n\nCat 6A; 305 m - box,-3\n"


def test_an_svg_plan_carries_no_character_that_xml_cannot():
    house = House()
    job = house.job
    space = next(e for e in job.elements if e.kind == "space")
    odd = job.model_copy(
        update={
            "name": "Mill\x00\x0b",
            "elements": tuple(
                e.model_copy(update={"label": "Hall\x01\x1f\ufffe"}) if e.id == space.id else e
                for e in job.elements
            ),
        }
    )
    odd = Job.model_construct(name=odd.name, elements=odd.elements)
    text = write_svg(odd, space.storey_id)
    assert "Hall" in "".join(fromstring(text).itertext())


@pytest.mark.parametrize(
    ("sent", "kept"),
    [
        ("plan\r\nSet-Cookie: x.dxf", "plan Set-Cookie: x.dxf"),
        ("\x00\n", "Drawing"),
        ("", "Drawing"),
        ("a" * 300, "a" * 200),
    ],
)
def test_a_files_name_is_one_line(sent, kept):
    assert one_line(sent, "Drawing") == kept


@pytest.mark.parametrize(
    "body", [bombs.dxf(8, 10), bombs.svg(10, 10)], ids=["blocks in blocks", "groups in groups"]
)
def test_a_small_drawing_that_unfolds_without_end_is_refused_early(body):
    with pytest.raises(Unreadable, match="unfold"):
        read_file(body, ReadingChoices(megapixels=40), lambda: "", "Bomb")
