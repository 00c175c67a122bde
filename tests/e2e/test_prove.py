"""Stage 10 in a browser: tests read and typed, a controller asked, faults turned, a job signed; and each demo job from the order
to a signed hand-over.
"""

import csv
import io
import re

import pypdfium2 as pdfium
import pytest
from demo.load import JOBS
from playwright.sync_api import Locator, Page, expect

from heathrise.core.job import Acceptance, CableTest
from heathrise.store import editions
from heathrise.store.onsite import records_since
from tests.e2e.screen import computed, job_of, saved, stage, tab

pytestmark = pytest.mark.e2e


def at(page: Page, address: str, key: str, panel: str) -> None:
    page.goto(address)
    computed(page)
    stage(page, key)
    tab(page, panel)


def sign_as(page: Page, name: str = "Ines") -> None:
    page.get_by_label("Written down by").first.fill(name)


def downloaded(page: Page, name: str) -> bytes:
    with page.expect_download() as got:
        page.get_by_role("link", name=name).first.click()
    return got.value.path().read_bytes()


def filled_in(page: Page, **odd: dict[str, str]) -> bytes:
    """The tests to be filled in, as the application writes them, each passed but those named."""
    rows = list(csv.DictReader(io.StringIO(downloaded(page, "Tests (CSV)").decode())))
    out = io.StringIO()
    writer = csv.DictWriter(out, list(rows[0]))
    writer.writeheader()
    for row in rows:
        writer.writerow({**row, "verdict": "pass", "wire_map": "12345678", **odd.get(row["label"], {})})
    return out.getvalue().encode()


def read_file(page: Page, body: bytes) -> None:
    page.get_by_label("File of tests").set_input_files(
        {"name": "tests.csv", "mimeType": "text/csv", "buffer": body}
    )


def records(kept, address: str):
    with kept.transaction() as session:
        return records_since(session, address.rsplit("/", 1)[1], 0)[0]


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_every_part_of_the_stage_is_clean(page, fresh, strict, night):
    at(page, fresh, "0", "Runs tested")
    if night:
        page.get_by_role("button", name="Night sheet").click()
    page.get_by_role("region", name="Runs tested").get_by_role("button", name="R-03", exact=True).click()
    expect(page.get_by_role("button", name="Keep this test")).to_be_visible()
    assert strict() == []
    tab(page, "Ports and points")
    page.locator("section[aria-label='Ports and points'] li .row").last.click()
    expect(page.get_by_role("button", name="Keep what I saw")).to_be_visible()
    assert strict() == []
    for panel in ("Air and walks", "Faults", "Hand over", "Logbook"):
        tab(page, panel)
        expect(page.get_by_role("region", name=panel)).to_be_visible()
        assert strict() == [], panel


def test_a_file_is_looked_at_before_it_is_taken_and_a_fault_is_named(page, fresh, kept, strict):
    at(page, fresh, "0", "Runs tested")
    sign_as(page)
    body = filled_in(
        page,
        **{
            "R-02": {"wire_map": "1234567x", "verdict": "fail"},
            "R-03": {"configuration": "channel"},
            "R-04": {"label": "R-404"},
        },
    )
    read_file(page, body)
    expect(page.get_by_text("no run of this job has that label")).to_be_visible()
    expect(page.get_by_text("and does not count")).to_be_visible()
    assert records(kept, fresh) == []
    page.get_by_label("R-404 is the run").select_option(label="R-04")
    expect(page.get_by_text("no run of this job has that label")).to_be_hidden()
    assert strict() == []
    page.get_by_role("button", name=re.compile(r"^Take \d+ tests$")).click()
    region = page.get_by_role("region", name="Runs tested")
    row = region.get_by_role("row", name=re.compile("^R-02"))
    expect(row).to_contain_text("fails")
    expect(row).to_contain_text("A wire is open")
    expect(region.get_by_role("row", name=re.compile("^R-03"))).to_contain_text("tested otherwise")
    expect(page.locator('[data-rule="prove.test-failed"]').first).to_contain_text("pair 7-8 is dead")
    assert {one.by for one in records(kept, fresh)} == {"Ines"}


def test_a_test_is_typed_and_its_curve_stands_against_its_limit(page, fresh, kept):
    at(page, fresh, "0", "Runs tested")
    sign_as(page)
    page.get_by_role("region", name="Runs tested").get_by_role("button", name="R-05", exact=True).click()
    page.get_by_label("Insertion loss").fill("17,6")
    page.get_by_label("Length").fill("21")
    page.get_by_role("button", name="Keep this test").click()
    row = page.get_by_role("region", name="Runs tested").get_by_role("row", name=re.compile("^R-05"))
    expect(row).to_contain_text("by little")
    expect(row).to_contain_text("0.2 dB")
    expect(page.get_by_role("img", name="R-05: curves against their limit")).to_be_visible()
    row.get_by_role("button", name=re.compile("open the sum")).click()
    expect(page.get_by_text("limit - read")).to_be_visible()
    (one,) = records(kept, fresh)
    assert isinstance(one.measured, CableTest)
    assert {(r.quantity, r.value) for r in one.measured.readings} == {
        ("insertion-loss", 17.6),
        ("length", 21.0),
    }


def test_the_controller_is_asked_and_what_it_does_not_know_stays_open(page, fresh):
    at(page, fresh, "7", "Controller")
    page.get_by_role("button", name="Set up a simulated one").click()
    page.get_by_role("button", name=re.compile(r"^Send \d+ steps$")).click()
    expect(page.get_by_text("It is as planned.")).to_be_visible(timeout=240_000)
    stage(page, "0")
    tab(page, "Ports and points")
    page.get_by_role("button", name="Ask the controller").click()
    ports = page.get_by_role("heading", name=re.compile(r"^Ports: \d+ of \d+ as planned$"))
    expect(ports).to_be_visible()
    expect(page.locator("section[aria-label='Ports and points'] ul").first).not_to_contain_text("differs")
    points = page.locator("section[aria-label='Ports and points'] li").filter(has_text="Library")
    expect(points.last).to_contain_text("in part")
    expect(points.last).to_contain_text("the controller")


def test_a_fault_is_mended_looked_at_and_opened_again(page, fresh, kept):
    at(page, fresh, "0", "Faults")
    sign_as(page)
    page.get_by_label("What is wrong").fill("Tray rattles over the hall")
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_text("1 open of 1")).to_be_visible()
    expect(page.get_by_role("button", name="Accept it")).to_be_disabled()
    page.get_by_label("Words on Tray rattles over the hall").fill("two more clips")
    page.get_by_role("button", name="Mended", exact=True).click()
    expect(page.get_by_text("mended, to be looked at").first).to_be_visible()
    page.get_by_role("button", name="I looked: it holds").click()
    expect(page.get_by_text("0 open of 1")).to_be_visible()
    page.reload()
    computed(page)
    stage(page, "0")
    tab(page, "Faults")
    page.get_by_role("button", name="Open it again").click()
    expect(page.get_by_text("1 open of 1")).to_be_visible()
    assert len(records(kept, fresh)) == 4


def test_what_is_written_down_with_no_signal_is_sent_when_there_is_one(page, context, fresh, kept):
    at(page, fresh, "0", "Logbook")
    sign_as(page)
    context.set_offline(True)
    page.get_by_label("What was done").fill("Changed the battery")
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_text("1 waiting to be sent")).to_be_visible()
    context.set_offline(False)
    expect(page.get_by_role("cell", name="Changed the battery")).to_be_visible()
    assert [one.text for one in records(kept, fresh)] == ["Changed the battery"]


def tick_everything(page: Page) -> None:
    """Tick every task of every day on the board; what is tested is not ticked."""
    days = page.get_by_role("button", name=re.compile(r"^All of .* is done$"))
    while left := days.count():
        days.first.click()
        expect(days).to_have_count(left - 1)


def accept_everything(region: Locator) -> None:
    """Accept every open fault with a reason; one that a graver one silenced comes up after it."""
    faults = region.get_by_role("listitem").filter(has=region.page.get_by_placeholder("why it is lived with"))
    while faults.count():
        words = faults.first.locator("p").first.inner_text()
        faults.first.get_by_role("textbox").fill("Known to the client, mended in spring")
        faults.first.get_by_role("button", name="Accept it").click()
        expect(faults.filter(has_text=words)).to_have_count(0)


@pytest.mark.parametrize("name", list(JOBS))
def test_a_demo_job_is_ordered_fitted_proven_and_handed_over(page, kept, brought, name):
    address = brought(JOBS[name]())
    at(page, address, "8", "Suppliers")
    assert downloaded(page, "To be filled in (XLSX)")[:2] == b"PK"
    tab(page, "Good, better, best")
    expect(page.get_by_role("region", name="Good, better, best")).to_be_visible()
    stage(page, "9")
    tab(page, "Board")
    expect(page.get_by_text("the longest chain takes")).to_be_visible()
    sign_as(page)
    for group in page.locator("details.group:not([open]) summary").all():
        group.click()
    tick_everything(page)
    stage(page, "0")
    tab(page, "Runs tested")
    read_file(page, filled_in(page))
    page.get_by_role("button", name=re.compile(r"^Take \d+ tests$")).click()
    expect(page.get_by_text("no record")).to_have_count(0)
    tab(page, "Ports and points")
    for button in page.get_by_role("button", name=re.compile(r"^I saw all \d+ as planned$")).all():
        button.click()
    points = page.locator("section[aria-label='Ports and points'] div > ul").last.locator("> li > .row")
    for number in range(points.count()):
        points.nth(number).click()
        page.get_by_role("region", name="Ports and points").get_by_label("Serial", exact=True).fill(
            f"SN-{number}"
        )
        page.get_by_role("button", name="Keep what I saw").click()
        expect(points.nth(number)).to_contain_text("as planned")
    tab(page, "Hand over")
    region = page.get_by_role("region", name="Hand over")
    expect(region.get_by_text("✓ all").first).to_be_visible()
    accept_everything(region)
    for box in region.get_by_placeholder("why all the same").all():
        box.fill("Measured when the rooms are in use")
    region.get_by_label("Handed over by").fill("Ines")
    region.get_by_label("To whom").fill("The owner")
    region.get_by_label("Whom to call").fill("Ines, 01632 960000")
    saved(page)
    region.get_by_role("button", name="Make the set and sign it").click()
    expect(region.get_by_text("Edition 1")).to_be_visible(timeout=180_000)
    whole = pdfium.PdfDocument(downloaded(page, "The set (PDF)"))
    text = whole[0].get_textpage().get_text_range()
    assert "Hand-over 1" in text
    assert name in text
    region.get_by_role("button", name="What is otherwise since").click()
    expect(region.get_by_text("The job is as it was handed over.")).to_be_visible()
    reasons = [one.reason for one in job_of(kept, address).of(Acceptance)]
    everything = "".join(sheet.get_textpage().get_text_range() for sheet in whole)
    assert re.sub(r"\s+", " ", everything).count("Known to the client") == sum(
        "Known" in why for why in reasons
    )
    with kept.transaction() as session:
        (row,) = editions.every(session, address.rsplit("/", 1)[1])
        assert (row.state, row.number) == ("signed", 1)
