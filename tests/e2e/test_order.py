"""Stages 8 and 9 in a browser: prices read, packs bought, three ways compared; tasks with their days, and the crew's papers."""

import io
import re

import cv2
import icalendar
import numpy as np
import openpyxl
import pypdfium2
import pytest
from playwright.sync_api import Page, expect

from heathrise.core.job import Fitting, Ordering
from tests.e2e.screen import computed, job_of, ledger, saved, stage, tab

pytestmark = pytest.mark.e2e

LIST = (
    "Handelshaus;;;;\nArtikelnummer;Bezeichnung;VE;Nettopreis;Bestand\n"
    "HD-1;Dome camera, 4 MP;1;139,50 €;12\nHD-2;Kasten fuer Kabel;1;9,90;\nHD-3;Desk phone;1;-4;\n"
).encode()


def at_stage(page: Page, address: str, key: str) -> None:
    page.goto(address)
    computed(page)
    stage(page, key)


def downloaded(page: Page, name: str) -> bytes:
    with page.expect_download() as got:
        page.get_by_role("link", name=name).first.click()
    return got.value.path().read_bytes()


def test_a_price_list_is_read_row_by_row_before_it_is_taken(page, fresh, kept, strict):
    at_stage(page, fresh, "8")
    before = ledger(page, "kit")
    tab(page, "Suppliers")
    page.get_by_label("Price list", exact=True).set_input_files(
        {"name": "list.csv", "mimeType": "text/csv", "buffer": LIST}
    )
    expect(page.get_by_text("1 of 3 rows can be taken.")).to_be_visible()
    expect(page.get_by_text("a price below nothing: -4")).to_be_visible()
    page.get_by_label("Row 4 stands for").select_option(label="Surface box for an outlet")
    expect(page.get_by_text("2 of 3 rows can be taken.")).to_be_visible()
    assert strict() == []
    page.get_by_role("button", name="Take 2 prices").click()
    saved(page)
    expect(page.locator('.ledger [data-key="kit"] .mono')).not_to_have_text(before)
    offers = {offer.number: offer for offer in job_of(kept, fresh).of(Ordering)[0].offers}
    assert (offers["HD-1"].price, offers["HD-2"].item) == (139.5, "box-surface")
    assert "HD-3" not in offers
    page.keyboard.press("Control+z")
    expect(page.locator('.ledger [data-key="kit"] .mono')).to_have_text(before)


def test_three_ways_are_compared_and_one_is_taken(page, fresh, strict):
    at_stage(page, fresh, "8")
    tab(page, "Good, better, best")
    page.get_by_role("button", name="Work out three ways to buy it").click()
    good = page.get_by_role("button", name="Take good")
    expect(good).to_be_visible()
    assert strict() == []
    before = ledger(page, "kit")
    good.click()
    expect(page.locator('.ledger [data-key="kit"] .mono')).not_to_have_text(before)
    computed(page)
    text = "".join(
        sheet.get_textpage().get_text_bounded()
        for sheet in pypdfium2.PdfDocument(downloaded(page, "quote (PDF)"))
    )
    assert all(
        words in text for words in ("Quote TL-26-1", "Marram Network Installers", "Three ways to do it")
    )


def test_a_line_is_tried_as_another_and_taken(page, fresh, kept, strict):
    at_stage(page, fresh, "8")
    before = ledger(page, "kit")
    tab(page, "What if")
    page.get_by_label("Line of the order").select_option(label="Cat 6A indoor")
    take = page.get_by_role("button", name=re.compile("Take it.*Cat 6A screened indoor"))
    expect(take).to_be_visible()
    assert strict() == []
    take.click()
    expect(page.locator('.ledger [data-key="kit"] .mono')).not_to_have_text(before)
    saved(page)
    assert any(
        link.product == "cat6a-screened" for link in job_of(kept, fresh).elements if link.kind == "link"
    )


def test_terms_change_the_hours_and_open_to_their_sums(page, fresh, kept, strict):
    at_stage(page, fresh, "8")
    before = ledger(page, "hours")
    tab(page, "Terms")
    page.get_by_label("a listed building").check()
    expect(page.locator('.ledger [data-key="hours"] .mono')).not_to_have_text(before)
    page.get_by_label("Own rate: Survey and set out").fill("2,5")
    page.get_by_label("Own rate: Survey and set out").press("Tab")
    saved(page)
    assert strict() == []
    order = job_of(kept, fresh).of(Ordering)[0]
    assert "listed" in order.hardships
    assert [(rate.task, rate.hours) for rate in order.rates] == [("survey", 2.5)]


def test_the_board_is_read_by_day_and_room_and_a_task_is_held(page, fresh, kept, strict):
    at_stage(page, fresh, "9")
    tab(page, "Board")
    expect(page.get_by_text("working days; the longest chain takes")).to_be_visible()
    assert strict() == []
    page.get_by_role("button", name="Room", exact=True).click()
    page.get_by_text("Recital hall, Ground").first.click()
    row = page.get_by_role("button", name="Mount: Hall east")
    row.click()
    expect(page.get_by_text("Trained, with a second person below.")).to_be_visible()
    page.get_by_label("Hold Mount: Hall east on").fill("2027-03-03")
    page.get_by_label("Hold Mount: Hall east on").press("Tab")
    saved(page)
    (held,) = job_of(kept, fresh).of(Fitting)[0].held
    assert (held.task.split(":")[0], held.on.isoformat()) == ("mount-point", "2027-03-03")
    expect(row).to_contain_text("held")
    assert strict() == []


@pytest.mark.parametrize(
    ("name", "words"),
    [
        ("Pull sheet (PDF)", "Longest first"),
        ("Labels (PDF)", "R-01"),
        ("Mounting (PDF)", "from the face of each wall"),
        ("How ends are made (PDF)", "Ends by B"),
        ("Bench sheet (PDF)", "On the bench"),
        ("Questions to the client (PDF)", "Questions before we plan"),
    ],
)
def test_the_papers_of_the_crew_come_out(page, fresh, name, words):
    at_stage(page, fresh, "9")
    tab(page, "Sheets")
    document = pypdfium2.PdfDocument(downloaded(page, name))
    assert words in "".join(sheet.get_textpage().get_text_bounded() for sheet in document)


def test_days_and_lists_are_read_by_other_programs(page, fresh):
    at_stage(page, fresh, "9")
    tab(page, "Sheets")
    days = icalendar.Calendar.from_ical(downloaded(page, "Days (iCalendar)"))
    assert len(days.walk("VEVENT")) > 5
    stage(page, "8")
    book = openpyxl.load_workbook(io.BytesIO(downloaded(page, "kit list (XLSX)")))
    assert book.sheetnames == ["Kit", "Hours"]


def test_ends_are_drawn_in_colours_and_words(page, fresh, strict):
    at_stage(page, fresh, "9")
    tab(page, "Ends")
    expect(page.get_by_role("img", name="Ends by B, pin 1 at the left")).to_be_visible()
    assert strict() == []


def test_what_stays_is_taken_off_its_line_of_the_kit(page, fresh, kept):
    at_stage(page, fresh, "1")
    before = ledger(page, "kit")
    page.get_by_label("Taken off which line of the kit, row 1").select_option(label="Desk phone")
    expect(page.locator('.ledger [data-key="kit"] .mono')).not_to_have_text(before)
    saved(page)
    assert [item.item for item in job_of(kept, fresh).brief.kept] == ["desk-phone"]


def test_the_code_of_a_label_opens_what_it_stands_on(page, fresh, kept):
    """Read off the printed sheet by another reader, as a phone would."""
    at_stage(page, fresh, "9")
    tab(page, "Sheets")
    sheet = pypdfium2.PdfDocument(downloaded(page, "Labels (PDF)"))[0].render(scale=4).to_numpy()
    mm = sheet.shape[1] / 210
    label = np.ascontiguousarray(sheet[int(9 * mm) : int(38 * mm), int(9 * mm) : int(39 * mm)])
    address, _, _ = cv2.QRCodeDetector().detectAndDecode(label)
    first = next(e for e in job_of(kept, fresh).elements if e.id == address.rpartition("=")[2])
    page.goto(address)
    expect(page.get_by_role("heading", level=1)).to_contain_text(first.label)
    page.goto(address.replace("/field/", "/jobs/"))
    computed(page)
    expect(page.locator(".margin").get_by_role("heading", name=first.label)).to_be_visible()
