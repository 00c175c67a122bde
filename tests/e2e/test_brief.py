"""Stage 1 as a person works it: people, devices, questions, drops, house practice."""

import pytest
from playwright.sync_api import Page, expect

from heathrise.core.job import Brief, Practice, Space
from tests.e2e.screen import computed, ledger, open_job, stage
from tests.e2e.test_new_job import job_of

pytestmark = pytest.mark.e2e


def tab(page: Page, name: str) -> None:
    page.get_by_role("tablist", name="Parts of the brief").get_by_role("tab", name=name).click()


@pytest.fixture
def brief(page: Page, fresh) -> Page:
    open_job(page, fresh)
    stage(page, "1")
    return page


def test_people_and_hours_make_the_demand_of_a_space(brief: Page, kept):
    tab(brief, "Spaces and hours")
    brief.get_by_label("People in Archive").fill("12")
    brief.get_by_label("People in Archive").blur()
    brief.get_by_label("Hours of Archive").select_option("always")
    computed(brief)
    archive = next(s for s in job_of(brief, kept).of(Space) if s.label == "Archive")
    assert (archive.people, archive.profile) == (12, "always")
    row = brief.get_by_role("row", name="Archive")
    expect(row).to_contain_text("Mb/s")
    row.get_by_role("button", name="Mb/s").click()
    expect(brief.get_by_text("share there by all day and night")).to_be_visible()


def test_devices_are_pasted_split_by_practice_and_overruled_with_a_reason(brief: Page, kept):
    tab(brief, "Devices")
    brief.get_by_text("Paste from a spreadsheet").click()
    brief.get_by_label("Rows pasted from a spreadsheet").fill("Printers\t3\nTills\t2\nnonsense\t?")
    brief.get_by_role("button", name="Read it").click()
    expect(brief.get_by_text("2 rows understood")).to_be_visible()
    expect(brief.get_by_text("row 3: nonsense")).to_be_visible()
    brief.get_by_role("button", name="Take in 2 counts").click()
    computed(brief)
    devices = job_of(brief, kept).brief.devices
    assert [(d.what, d.count, d.device) for d in devices[-2:]] == [
        ("Printers", 3, "printer"),
        ("Tills", 2, "till"),
    ]
    row = len(devices) - 1
    expect(brief.get_by_label(f"Carried by, row {row}")).to_have_value("cable")
    brief.get_by_label(f"Carried by, row {row}").select_option("air")
    brief.get_by_label(f"Reason, row {row}").fill("they stand on a trolley")
    brief.get_by_role("button", name="Keep").click()
    computed(brief)
    assert job_of(brief, kept).brief.devices[row - 1].way == "air"
    expect(brief.get_by_text("they stand on a trolley (practice says cable)")).to_be_visible()


def test_a_question_is_answered_with_its_day_and_the_finding_counts_down(brief: Page, kept):
    tab(brief, "Questions")
    open_before = int(brief.locator(".questions .lead").inner_text().split()[0])
    answer = brief.get_by_label("Where may a rack stand")
    answer.fill("Under the stair")
    answer.blur()
    computed(brief)
    said = {a.question: a for a in job_of(brief, kept).of(Brief)[0].answers}
    assert said["rack-place"].text == "Under the stair"
    assert said["rack-place"].on.year >= 2025
    expect(brief.locator(".questions .lead")).to_contain_text(f"{open_before - 1} questions")
    with brief.expect_download() as got:
        brief.get_by_role("link", name="PDF").click()
    assert got.value.path().read_bytes().startswith(b"%PDF-")


def test_a_forgotten_drop_is_wanted_and_asks_for_its_place(brief: Page, kept):
    tab(brief, "Forgotten drops")
    brief.get_by_role("group", name="Gate or drive wanted").get_by_role("button", name="yes").click()
    computed(brief)
    assert next(d for d in job_of(brief, kept).brief.drops if d.drop == "gate").wanted
    expect(brief.locator(".note", has_text="drops want a door station")).to_be_visible()


def test_a_practice_is_compared_before_it_is_taken_and_every_stage_follows(brief: Page, kept):
    tab(brief, "House practice")
    before = ledger(brief, "kit")
    group = brief.get_by_role("group", name="Gateway and controller")
    group.get_by_role("button", name="Separate").click()
    compare = brief.get_by_role("complementary", name="Before and after")
    expect(compare.get_by_role("row", name="kit")).to_have_class("changes")
    assert job_of(brief, kept).practice.gateway == "by-size"
    compare.get_by_role("button", name="Take it for this job").click()
    computed(brief)
    assert job_of(brief, kept).of(Practice)[0].gateway == "separate"
    expect(brief.locator('.ledger [data-key="kit"] .mono')).not_to_have_text(before)
    expect(brief.get_by_text("differs from the firm's practice in 2")).to_be_visible()
    brief.get_by_role("button", name="Take the firm's").click()
    computed(brief)
    assert job_of(brief, kept).practice.gateway == "by-size"
    assert job_of(brief, kept).practice.cables_per_point == 2
