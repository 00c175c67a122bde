"""Pictures are checked by content and encoded again; tables are safe in a spreadsheet."""

import csv
import io

import pypdfium2 as pdfium
import pytest
from PIL import Image

from heathrise.exchange.pictures import read_picture
from heathrise.exchange.tables import KIT_COLUMNS, kit_csv, to_csv
from heathrise.exchange.unreadable import NotAPicture


def encoded(kind, size=(40, 30)):
    out = io.BytesIO()
    Image.new("RGB", size, "white").save(out, kind)
    return out.getvalue()


def pdf(pages):
    document = pdfium.PdfDocument.new()
    for _ in range(pages):
        document.new_page(144, 72)
    out = io.BytesIO()
    document.save(out)
    document.close()
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG"])
def test_a_picture_comes_out_as_a_png_of_its_size(kind):
    picture = read_picture(encoded(kind), 40)
    assert (picture.width_px, picture.height_px, picture.pages) == (40, 30, 1)
    assert Image.open(io.BytesIO(picture.png)).format == "PNG"


def test_a_page_of_a_pdf_is_drawn_at_150_dots_an_inch():
    picture = read_picture(pdf(3), 40, page=2)
    assert (picture.width_px, picture.height_px, picture.pages) == (300, 150, 3)


def test_what_rides_in_a_picture_is_left_behind():
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x010E] = "secret"
    Image.new("RGB", (8, 8)).save(out, "JPEG", exif=exif)
    assert b"secret" not in read_picture(out.getvalue(), 40).png


REFUSED = [
    (b"", "neither PNG, JPEG nor PDF"),
    (b"GIF89a", "neither PNG"),
    (b"\x89PNG\r\n\x1a\nrest", "cannot be read"),
    (encoded("PNG")[:60], "cannot be read"),
    (encoded("JPEG")[:120], "cannot be read"),
    (b"%PDF-1.7 nonsense", "PDF cannot be read"),
    (encoded("PNG", (2000, 1001)), "2.0 megapixels; 2 is the most"),
]


@pytest.mark.parametrize(("body", "words"), REFUSED, ids=range(len(REFUSED)))
def test_what_is_no_picture_is_refused_in_words(body, words):
    with pytest.raises(NotAPicture, match=words):
        read_picture(body, 2)


def test_a_pdf_page_too_large_is_refused_before_it_is_drawn():
    document = pdfium.PdfDocument.new()
    document.new_page(14_000, 14_000)
    out = io.BytesIO()
    document.save(out)
    document.close()
    with pytest.raises(NotAPicture, match="megapixels"):
        read_picture(out.getvalue(), 40)


@pytest.mark.parametrize(
    ("pages", "page", "words"), [(0, 1, "no pages|cannot be read"), (2, 3, "has 2 pages")]
)
def test_a_page_that_is_not_there_is_refused(pages, page, words):
    with pytest.raises(NotAPicture, match=words):
        read_picture(pdf(pages), 40, page=page)


@pytest.mark.parametrize("text", ["=1+1", "+1", "-1", "@x", "\tx"])
def test_no_cell_can_be_taken_for_a_formula(text):
    (_, row) = csv.reader(io.StringIO(to_csv(["a"], [[text]])))
    assert row == ["'" + text]


def test_numbers_below_zero_stay_numbers():
    assert to_csv(["a"], [[-3.5]]) == "a\n-3.5\n"


def test_the_kit_list_reads_back(assessed):
    rows = list(csv.DictReader(io.StringIO(kit_csv(assessed.kit))))
    assert tuple(rows[0]) == KIT_COLUMNS
    assert len(rows) == len(assessed.kit)
    assert sum(float(row["cost"]) for row in rows) == pytest.approx(assessed.cost_sum.value)
