"""Every view: axe finds nothing, nothing runs out of its box, day and night."""

import pytest
from benchmarks import plans
from playwright.sync_api import Page, expect

from tests.e2e.screen import OVERFLOW, open_job, stage, thing

pytestmark = pytest.mark.e2e


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_every_stage_is_clean_and_fits(page: Page, fresh, strict, night):
    open_job(page, fresh)
    if night:
        page.get_by_role("button", name="Night sheet").click()
    for key in "1234567890":
        stage(page, key)
        if key == "3":
            page.get_by_role("tab", name="Spaces").first.click()
        assert strict() == [], key
        assert page.evaluate(OVERFLOW) == [], key


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_every_part_of_the_brief_is_clean(page: Page, fresh, strict, night):
    open_job(page, fresh)
    if night:
        page.get_by_role("button", name="Night sheet").click()
    stage(page, "1")
    for name in ("Spaces and hours", "Devices", "Questions", "Forgotten drops", "House practice"):
        page.get_by_role("tablist", name="Parts of the brief").get_by_role("tab", name=name).click()
        assert strict() == [], name


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_import_many_build_ups_and_the_look_are_clean(page: Page, fresh, strict, night):
    open_job(page, fresh)
    if night:
        page.get_by_role("button", name="Night sheet").click()
    stage(page, "2")
    page.get_by_role("tab", name="Build-ups").click()
    assert strict() == []
    page.get_by_role("tab", name="Build-ups").click()
    page.get_by_label("Import a drawing").set_input_files(
        {"name": "plan.dxf", "mimeType": "image/vnd.dxf", "buffer": plans.dxf(plans.plan(2)).encode()}
    )
    expect(page.get_by_role("button", name="Accept")).to_be_visible()
    assert strict() == []
    page.get_by_role("button", name="Leave it").click()
    box = page.locator(".sheet").bounding_box()
    page.keyboard.down("Shift")
    page.mouse.move(box["x"] + 90, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 20, box["y"] + box["height"] - 80, steps=3)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(page.get_by_role("region", name="Many selected")).to_be_visible()
    assert strict() == []
    page.keyboard.press("v")
    expect(page.locator(".look canvas")).to_be_visible()
    assert strict() == []


def test_selection_sum_palette_and_keys_are_clean(page: Page, fresh, strict):
    open_job(page, fresh)
    thing(page, "Hall east").click()
    page.locator('.ledger [data-key="longest"]').click()
    assert strict() == []
    page.keyboard.press("Control+k")
    expect(page.get_by_role("combobox", name="Find or do anything")).to_be_visible()
    assert strict() == []
    page.keyboard.press("Escape")
    expect(page.get_by_role("combobox", name="Find or do anything")).to_be_hidden()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("next, previous finding")
    assert strict() == []


def test_the_job_list_is_clean(page: Page, strict):
    page.goto("/")
    expect(page.get_by_role("link", name="Tern Lane Music School").first).to_be_visible()
    assert strict() == []


def test_the_frame_is_usable_at_1024(page: Page, fresh):
    page.set_viewport_size({"width": 1024, "height": 768})
    open_job(page, fresh)
    assert page.evaluate(OVERFLOW) == []
    expect(page.get_by_role("button", name="Undo")).to_be_visible()
