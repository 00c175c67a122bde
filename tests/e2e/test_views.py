"""Every view: axe finds nothing, nothing runs out of its box, day and night."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.screen import open_job, stage, thing

pytestmark = pytest.mark.e2e
AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
RUN = "(tags) => axe.run(document, { runOnly: { type: 'tag', values: tags } })"
OVERFLOW = """() => [...document.querySelectorAll('.bar, .ledger, .spine button, .drawer header, .margin')]
  .filter((e) => e.scrollWidth > e.clientWidth + 1).map((e) => e.className)"""


@pytest.fixture
def strict(page: Page):
    """The page with axe in it, past the page's own policy."""

    def check() -> list[str]:
        page.evaluate(AXE.read_text("utf-8"))
        found = page.evaluate(RUN, TAGS)["violations"]
        return [f"{v['id']}: {n['target']} {n['failureSummary']}" for v in found for n in v["nodes"][:3]]

    return check


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_every_stage_is_clean_and_fits(page: Page, fresh, strict, night):
    open_job(page, fresh)
    if night:
        page.get_by_role("button", name="Night sheet").click()
    for key in "1234567890":
        stage(page, key)
        if key == "3":
            page.get_by_role("button", name="Spaces").first.click()
        assert strict() == [], key
        assert page.evaluate(OVERFLOW) == [], key


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
