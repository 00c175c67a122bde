"""The phone on the ladder: with no signal after one visit, the server gone, the page loaded again in mid-task; nothing is lost."""

import io
import re
from collections.abc import Iterator

import pytest
from demo.fern_hollow import fern_hollow
from PIL import Image
from playwright.sync_api import BrowserContext, Page, expect
from tools.localdb import LocalDatabase
from tools.serve import Serving

from heathrise.core.job import AccessPoint, Link, Record
from heathrise.store.database import Database, migrate
from heathrise.store.jobs import create_job
from heathrise.store.onsite import keep_records, photos, records_since
from tests.e2e.screen import computed, stage, tab
from tests.site import record

pytestmark = pytest.mark.e2e
PHONE = {"width": 360, "height": 740}


def picture(kind: str = "JPEG", side: int = 2400) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (side, side // 2), (80, 120, 80)).save(out, kind)
    return out.getvalue()


@pytest.fixture
def phone(browser, served) -> Iterator[BrowserContext]:
    made = browser.new_context(base_url=served[0], viewport=PHONE, has_touch=True, is_mobile=True)
    made.set_default_timeout(20_000)
    yield made
    made.close()


@pytest.fixture
def clinic(kept) -> str:
    """The id of a clinic of this test's own."""
    with kept.transaction() as session:
        return create_job(session, fern_hollow()).id


def on_site(phone: BrowserContext, job_id: str, at: str = "") -> Page:
    """Open a job on a phone, signed by name, and wait until it may be left without a signal."""
    page = phone.new_page()
    page.goto(f"/field/{job_id}{at}")
    expect(page.get_by_role("main")).not_to_have_attribute("aria-busy", "true")
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.get_by_label("I am").fill("Ana")
    return page


def written(kept: Database, job_id: str) -> list[Record]:
    with kept.transaction() as session:
        return records_since(session, job_id, 0)[0]


def open_task(page: Page, name: str) -> None:
    page.get_by_role("button", name=re.compile(r"^All \d+ tasks$")).click()
    page.get_by_role("button", name=name).first.click()


def test_with_no_signal_everything_is_written_down_and_sent_when_there_is_one(phone, clinic, kept, strict_on):
    page = on_site(phone, clinic)
    assert strict_on(page) == []
    phone.set_offline(True)
    page.reload()
    expect(page.get_by_text("no signal")).to_be_visible()
    open_task(page, "Pull: R-01")
    page.get_by_label("Measured length, m").fill("41,5")
    page.get_by_role("button", name="Keep").first.click()
    expect(page.get_by_text("The length is kept.")).to_be_visible()
    page.get_by_label("Photograph").set_input_files(
        {"name": "p.jpg", "mimeType": "image/jpeg", "buffer": picture()}
    )
    expect(page.get_by_text("The photograph is kept.")).to_be_visible()
    page.get_by_label("Note").fill("Duct was blocked, went round by the store")
    page.reload()
    expect(page.get_by_role("heading", name="Pull: R-01")).to_be_visible()
    expect(page.get_by_label("Note")).to_have_value("Duct was blocked, went round by the store")
    page.get_by_role("button", name="Keep").last.click()
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.get_by_text("4 waiting on this device, no signal")).to_be_visible()
    assert written(kept, clinic) == []
    phone.set_offline(False)
    expect(page.get_by_text("all sent")).to_be_visible()
    found = written(kept, clinic)
    assert [one.kind for one in found] == ["length", "photo", "note", "done"]
    assert {one.by for one in found} == {"Ana"}
    assert found[0].number == 41.5
    with kept.transaction() as session:
        (photo,) = photos(session, clinic)
    assert photo.id == found[1].photo
    assert Image.open(io.BytesIO(photo.jpeg)).size == (1600, 800)


def test_a_photograph_that_cannot_be_read_stays_here_and_keeps_nothing_else_back(phone, clinic, kept):
    page = on_site(phone, clinic)
    page.get_by_label("Photograph").set_input_files(
        {"name": "p.jpg", "mimeType": "image/jpeg", "buffer": picture()[:900]}
    )
    expect(page.get_by_text("1 not taken")).to_be_visible()
    before = page.get_by_role("heading", level=1).inner_text()
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.get_by_role("heading", level=1)).not_to_have_text(before)
    expect(page.get_by_text("all sent")).to_be_visible()
    assert [one.kind for one in written(kept, clinic)] == ["photo", "done"]
    page.get_by_role("button", name="Let it go").click()
    expect(page.get_by_text("1 not taken")).to_be_hidden()


def test_what_is_otherwise_goes_to_the_desk_and_is_drawn_by_one_press(phone, clinic, page):
    job = fern_hollow()
    point = job.of(AccessPoint)[0]
    ladder = on_site(phone, clinic)
    phone.set_offline(True)
    open_task(ladder, f"Mount: {point.label}")
    ladder.get_by_text("It is otherwise than drawn").click()
    ladder.get_by_label(f"What of {point.label}").select_option("height_m")
    ladder.get_by_label("It really is, m").fill("2,35")
    ladder.get_by_role("button", name="Send it to the desk").click()
    expect(ladder.get_by_text("It goes to the desk, to be drawn so.")).to_be_visible()
    ladder.get_by_label("Note").fill("Tile cracked")
    ladder.get_by_role("button", name="This is a fault: onto the list").click()
    phone.set_offline(False)
    expect(ladder.get_by_text("all sent")).to_be_visible()
    page.goto(f"/jobs/{clinic}")
    computed(page)
    stage(page, "0")
    tab(page, "Faults")
    expect(page.get_by_text("Tile cracked")).to_be_visible()
    page.get_by_role("button", name="Draw it so").click()
    expect(page.get_by_text("Found otherwise than drawn")).to_be_hidden()
    computed(page)
    body = page.evaluate("(id) => fetch(`/api/jobs/${id}`).then((r) => r.json())", clinic)
    assert next(e for e in body["elements"] if e["id"] == point.id)["height_m"] == 2.35


def test_the_code_of_a_label_opens_what_is_to_be_done_there(phone, clinic):
    run = next(one for one in fern_hollow().of(Link) if one.medium != "cord")
    page = on_site(phone, clinic, f"?at={run.id}")
    expect(page.get_by_role("heading", name=run.label, exact=True)).to_be_visible()
    expect(page.get_by_role("button", name=re.compile(f": {run.label}"))).to_have_count(4)


def test_two_who_tick_the_same_are_both_kept_and_what_was_removed_meanwhile_too(phone, clinic, kept):
    run = next(one for one in fern_hollow().of(Link) if one.medium != "cord")
    page = on_site(phone, clinic)
    phone.set_offline(True)
    open_task(page, f"Pull: {run.label}")
    page.get_by_label("Measured length, m").fill("30")
    page.get_by_role("button", name="Keep").first.click()
    page.get_by_role("button", name="Done", exact=True).click()
    with kept.transaction() as session:
        ben = [
            record(run.id, "length", number=39.0, by="Ben", task=f"pull:{run.id}"),
            record(run.id, "done", by="Ben", task=f"pull:{run.id}"),
        ]
        keep_records(session, clinic, ben, run.id)
    phone.set_offline(False)
    expect(page.get_by_text("all sent")).to_be_visible()
    assert {(one.kind, one.by) for one in written(kept, clinic)} == {
        ("length", "Ana"),
        ("length", "Ben"),
        ("done", "Ana"),
        ("done", "Ben"),
    }
    open_task(page, f"Pull: {run.label}")
    expect(page.get_by_text("were both written down here")).to_be_visible()


def test_a_server_that_is_killed_keeps_nobody_from_working(browser, server: LocalDatabase):
    """Of its own, for it dies: what was ticked meanwhile arrives at the one that comes after it."""
    url = server.create("e2e_field")
    migrate(url)
    database = Database(url)
    with database.transaction() as session:
        job_id = create_job(session, fern_hollow()).id
    serving = Serving(server, url)
    with serving:
        context = browser.new_context(base_url=serving.address, viewport=PHONE)
        page = on_site(context, job_id)
        serving.web.kill()
        serving.web.wait(10)
        page.get_by_role("button", name="Done", exact=True).click()
        expect(page.get_by_text("1 waiting on this device")).to_be_visible()
        page.reload()
        expect(page.get_by_text("1 waiting on this device, no signal")).to_be_visible()
        serving.start_again()
        expect(page.get_by_text("all sent")).to_be_visible()
        assert [one.kind for one in written(database, job_id)] == ["done"]
        context.close()
    database.engine.dispose()


def test_a_device_that_never_took_it_along_says_what_to_do(phone, clinic):
    page = on_site(phone, clinic)
    phone.set_offline(True)
    page.goto("/field/01890000-0000-7000-8000-000000000001")
    expect(page.get_by_role("heading", name="Not taken along")).to_be_visible()
    page.get_by_role("link", name="Jobs on this device").click()
    expect(page.get_by_role("link", name=re.compile("Fern Hollow"))).to_be_visible()
