"""Habits of other people's drawings and lists the readers had not met: each of these came in wrong once."""

import io

import ezdxf
import pypdfium2 as pdfium
import pytest
from pypdfium2 import raw

from heathrise.core.site.roles import guess_role, roles_of
from heathrise.exchange.dxf import read_dxf
from heathrise.exchange.ifc import read_ifc
from heathrise.exchange.inventory import read_inventory
from heathrise.exchange.rows import table_rows
from heathrise.exchange.unreadable import Unreadable
from heathrise.exchange.vectorpdf import read_vector_pdf
from heathrise.store.jobs import new_id


@pytest.mark.parametrize(
    ("name", "role"),
    [
        ("DRAWING", None),
        ("Drawing frame", "ignore"),
        ("A-GLAZING", "window"),
        ("ramen", "window"),
        ("Rahmen", "ignore"),
        ("A_WallExt2", "wall"),
        ("Wände tragend", "wall"),
        ("cloisons", "wall"),
        ("Türen EG", "door"),
        ("drzwi", "door"),
        ("WINTERGARTEN", None),
        ("win_01", "window"),
        ("PORTAL", None),
        ("murs porteurs", "wall"),
    ],
)
def test_layers_are_told_by_whole_words_in_several_languages(name, role):
    assert guess_role(name) == role


def test_what_lies_on_layer_0_of_a_block_takes_the_layer_the_block_is_put_on():
    document = ezdxf.new()
    block = document.blocks.new("WING")
    block.add_line((0, 0), (5, 0), dxfattribs={"layer": "0"})
    block.add_line((0, 1), (5, 1), dxfattribs={"layer": "GRID"})
    document.modelspace().add_blockref("WING", (0, 0), dxfattribs={"layer": "WALLS"})
    out = io.StringIO()
    document.write(out)
    drawing = read_dxf(out.getvalue().encode())
    roles = {row.name: row.lines for row in roles_of(drawing, {}, 1.0)}
    assert roles == {"WALLS": 1, "GRID": 1}


@pytest.mark.parametrize("turn", [0, 90, 180, 270])
def test_a_turned_page_stands_upright(turn):
    """A wall along the top of the page as it is seen lies along the top of the drawing."""
    document = pdfium.PdfDocument.new()
    page = document.new_page(400, 300)
    wide, high = (400, 300) if turn % 180 == 0 else (300, 400)
    # Where the top edge as seen is drawn on the unturned page.
    ends = {
        0: ((50, 290), (350, 290)),
        90: ((10, 50), (10, 250)),
        180: ((350, 10), (50, 10)),
        270: ((390, 250), (390, 50)),
    }[turn]
    path = raw.FPDFPageObj_CreateNewPath(*map(float, ends[0]))
    raw.FPDFPath_LineTo(path, *map(float, ends[1]))
    raw.FPDFPath_SetDrawMode(path, 0, True)
    raw.FPDFPage_InsertObject(page, path)
    raw.FPDFPage_GenerateContent(page)
    page.set_rotation(turn)
    out = io.BytesIO()
    document.save(out)
    ((x0, y0, x1, y1, *_),) = [list(line[:4]) for line in read_vector_pdf(out.getvalue()).lines]
    assert (y0, y1) == pytest.approx((10, 10), abs=0.5)
    assert 0 <= min(x0, x1) < max(x0, x1) <= wide
    assert x0 < x1
    assert high > 0


def test_every_page_of_a_file_can_be_asked_for():
    document = pdfium.PdfDocument.new()
    for _ in range(3):
        document.new_page(400, 300)
    out = io.BytesIO()
    document.save(out)
    assert read_vector_pdf(out.getvalue(), 2).pages == 3
    with pytest.raises(Unreadable, match="3 pages"):
        read_vector_pdf(out.getvalue(), 4)


def test_a_model_without_its_end_is_said_to_be_cut_short():
    body = b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=IFCPROJECT('x',$,$,$,$,$,$,$,$);\n#2=IFCWALL("
    with pytest.raises(Unreadable, match="cut short"):
        read_ifc(body, new_id)


@pytest.mark.parametrize(
    ("text", "counts"),
    [
        ("Device,Watts,Count\nCamera,12,4\nPhone,5,30\n", [4, 30]),
        ("Device;Leistung W;Menge\nKamera;12;4\nTelefon;5;30\n", [4, 30]),
        ("Device,Power (W)\nCamera,12\nPhone,5\n", [1, 1]),
        ("Device,Serial number,Quantity\nCamera,90017,2\nPhone,90018,3\n", [2, 3]),
        ("Device,MAC,Room\nCamera,0a:00:00:00:00:01,12\nPhone,0a:00:00:00:00:02,14\n", [1, 1]),
        ("Camera,12.5,4\nPhone,4.4,30\n", [4, 30]),
    ],
)
def test_watts_and_numbers_of_rooms_are_no_counts(text, counts):
    assert [d.count for d in read_inventory(table_rows(text.encode())).devices] == counts
