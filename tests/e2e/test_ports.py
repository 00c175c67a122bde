"""Power and ports: given out anew, taken, and taken back."""

import pytest
from playwright.sync_api import Page, expect

from heathrise.core.findings import assess
from heathrise.store.jobs import load_job
from tests.e2e.screen import OVERFLOW, computed, open_job, stage

pytestmark = pytest.mark.e2e


def rules_of(page: Page, kept) -> list[str]:
    with kept.transaction() as session:
        job = load_job(session, page.url.split("/")[-1]).job
    return [f.rule for f in assess(job).findings]


def test_ports_are_given_out_anew_by_the_patches_that_move_and_put_back_by_undo(
    page: Page, fresh, kept, strict
):
    open_job(page, fresh)
    stage(page, "6")
    page.get_by_role("tab", name="Given out anew").click()
    panel = page.get_by_role("region", name="Given out anew")
    fed = page.get_by_role("row", name="devices under-fed").get_by_role("cell")
    expect(fed.nth(0)).to_have_text("1")
    expect(fed.nth(1)).to_have_text("0")
    assert page.evaluate(OVERFLOW) == []
    assert strict() == []
    assert "power.device-under-fed" in rules_of(page, kept)
    panel.get_by_role("button", name="Move 6").click()
    expect(panel).to_contain_text("No patch need move")
    computed(page)
    assert "power.device-under-fed" not in rules_of(page, kept)
    page.keyboard.press("Control+z")
    expect(panel.get_by_role("button", name="Move 6")).to_be_visible()
    computed(page)
    assert "power.device-under-fed" in rules_of(page, kept)
