"""Every file that is refused is told why in words of its own, and what to do instead."""

import io

import pytest
from benchmarks import plans
from PIL import Image

from heathrise.exchange.inventory import read_inventory
from heathrise.exchange.measured import read_survey
from heathrise.exchange.pictures import open_picture
from heathrise.exchange.reading import read_file
from heathrise.exchange.readings import ReadingChoices
from heathrise.exchange.rows import table_rows
from heathrise.exchange.unreadable import Refused

ASKED = ReadingChoices(megapixels=40)


def drawing(body: bytes) -> None:
    numbers = iter(range(1_000_000))
    read_file(body, ASKED, lambda: f"00000000-0000-7000-8000-{next(numbers):012d}", "Plan")


def png(width: int, height: int) -> bytes:
    made = io.BytesIO()
    Image.new("L", (width, height), 255).save(made, "PNG")
    return made.getvalue()


SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10">'
REFUSED = {
    "nothing": (drawing, b""),
    "a letter": (drawing, b"Dear Sir or Madam,\nplease find enclosed the drawing."),
    "an archive": (drawing, b"PK\x03\x04" + bytes(60)),
    "closed CAD": (drawing, b"AC1032" + bytes(60)),
    "DXF cut off": (drawing, plans.dxf(plans.plan(1)).encode()[:40]),
    "SVG cut off": (drawing, SVG + b"<path d='M0 0"),
    "SVG of nothing": (drawing, SVG + b"</svg>"),
    "SVG with entities": (drawing, b'<!DOCTYPE svg [<!ENTITY a "b">]>' + SVG + b"</svg>"),
    "no GeoJSON": (drawing, b'{"type": "letter"}'),
    "IFC cut off": (drawing, b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n"),
    "IFC without a project": (
        drawing,
        b"ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('IFC4'));\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n",
    ),
    "a broken PDF": (drawing, b"%PDF-1.7\n" + bytes(80)),
    "a stamp": (drawing, png(20, 20)),
    "a picture cut off": (open_one := lambda body: open_picture(body, 40), png(300, 300)[:90]),
    "too many pixels": (lambda body: open_picture(body, 1), png(1200, 1200)),
    "no picture": (open_one, b"words"),
    "a workbook cut off": (table_rows, b"PK\x03\x04" + bytes(200)),
    "no table": (table_rows, bytes(500)),
    "a list of everything": (read_inventory, [["Phone", "1"]] * 200_000),
    "readings without places": (lambda rows: read_survey(rows, None, None), [["level"], ["-60"]]),
    "no readings": (lambda rows: read_survey(rows, None, None), []),
}
WAYS_OUT = ("Save", "Send", "Export", "Print", "Unpack", "Choose", "Explode", "Count", "Copy", "Name", "Cut")


def told(name: str) -> str:
    read, body = REFUSED[name]
    with pytest.raises(Refused) as refusal:
        read(body)
    return str(refusal.value)


@pytest.mark.parametrize("name", REFUSED)
def test_a_refusal_says_what_to_do(name):
    words = told(name)
    last = words.rstrip(".").rsplit(". ", 1)[-1]
    assert last.startswith(WAYS_OUT)
    assert words.endswith(".")
    assert ".." not in words


def test_each_has_its_own_words():
    assert len({told(name) for name in REFUSED}) == len(REFUSED)
