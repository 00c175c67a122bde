"""Device lists in, as clients send them; questions out."""

import io
from datetime import date

import pypdfium2 as pdfium
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from heathrise.core.site.brief import OpenQuestion
from heathrise.exchange.inventory import read_inventory
from heathrise.exchange.questions import questions_pdf, questions_text
from heathrise.exchange.rows import number_of, table_rows
from heathrise.exchange.unreadable import Unreadable


def rows(body: bytes) -> list[tuple[str, int, str | None]]:
    return [(d.what, d.count, d.device) for d in read_inventory(table_rows(body)).devices]


EXPECTED = [
    ("Laptops", 24, "laptop"),
    ("Überwachungskamera", 3, "camera"),
    ("Handheld scanner", 1234, "scanner"),
]


@pytest.mark.parametrize(
    ("name", "body"),
    [
        ("comma", "Device,Count\nLaptops,24\nÜberwachungskamera,3\nHandheld scanner,1234\n".encode()),
        (
            "semicolon, decimal comma, code page",
            "Gerät;Anzahl\nLaptops;24,0\nÜberwachungskamera;3\nHandheld scanner;1.234\n".encode("cp1252"),
        ),
        ("pasted, no heading", "Laptops\t24\nÜberwachungskamera\t3\nHandheld scanner\t1234".encode()),
        (
            "count first, byte order mark",
            "\ufeffQty,Item\n24,Laptops\n3,Überwachungskamera\n1234,Handheld scanner".encode(),
        ),
        (
            "UTF-16",
            "What\tNumber\nLaptops\t24\nÜberwachungskamera\t3\nHandheld scanner\t1234\n".encode("utf-16"),
        ),
    ],
)
def test_lists_in_every_dress(name, body):
    assert rows(body) == EXPECTED, name


def test_a_workbook():
    book = Workbook()
    for row in (
        ("Kind", "How many", "Count"),
        ("Laptops", None, 24),
        ("Überwachungskamera", None, 3),
        ("Handheld scanner", None, 1234),
    ):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    assert rows(out.getvalue()) == EXPECTED


def test_rows_that_make_no_sense_are_named_and_left_out():
    found = read_inventory(
        table_rows(b"Device,Count\nLaptops,24\n,3\nTablets,many\nPhones,-2\nCameras,999999\n")
    )
    assert [d.what for d in found.devices] == ["Laptops"]
    assert [s.what.split(":")[0] for s in found.skipped] == ["row 3", "row 4", "row 5", "row 6"]
    assert [s.why for s in found.skipped] == [
        "no name",
        "its count many is no whole number",
        "its count -2 is no whole number",
        "no count from 0 to 100,000",
    ]


@pytest.mark.parametrize("body", [b"PK\x03\x04broken", b"\x7fELF\x00\x00\x01", b"a,1\n" * 6000])
def test_what_is_no_list_says_so(body):
    with pytest.raises(Unreadable):
        read_inventory(table_rows(body))


@pytest.mark.parametrize("body", [b"", b"\n\n", b";;;\n;;;\n"])
def test_an_empty_list_is_said_to_be_empty(body):
    with pytest.raises(Unreadable, match="empty"):
        rows(body)


@settings(max_examples=60, deadline=None)
@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused_in_words(body):
    try:
        found = read_inventory(table_rows(body))
    except Unreadable as error:
        assert str(error)
    else:
        assert all(0 <= d.count <= 100_000 and d.what for d in found.devices)


@given(st.integers(0, 10**8))
def test_numbers_are_read_as_people_write_them(value):
    grouped = f"{value:,}"
    assert {
        number_of(t) for t in (str(value), grouped, grouped.replace(",", "."), grouped.replace(",", "\u00a0"))
    } == {float(value)}


QUESTIONS = (
    OpenQuestion(
        code="a", text="Where <is> the rack?", why="Runs end there & start there.", answer=None, on=None
    ),
    OpenQuestion(code="b", text="Who owns it?", why="The client does.", answer="Ms Example", on="2026-11-02"),
)


def test_questions_go_out_as_text_open_ones_first():
    text = questions_text("Mill", QUESTIONS, date(2026, 11, 3))
    assert "1. Where <is> the rack?" in text
    assert text.index("Where <is>") < text.index("Already answered") < text.index("Ms Example (2026-11-02)")
    assert "Nothing is open" in questions_text("Mill", QUESTIONS[1:], date(2026, 11, 3))


def test_questions_go_out_as_a_pdf_with_the_same_words():
    document = pdfium.PdfDocument(questions_pdf("Mill", QUESTIONS, date(2026, 11, 3)))
    page = document[0]
    words = page.get_textpage().get_text_range()
    assert "Where <is> the rack?" in words
    assert "Ms Example" in words
    document.close()
