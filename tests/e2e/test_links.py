"""Links: an outbuilding's ways compared, one of them chosen, and taken back."""

import pytest
from playwright.sync_api import Page, expect

from heathrise.core.findings import assess
from heathrise.core.job import AccessPoint, Link
from heathrise.core.library import library
from heathrise.store.jobs import load_job
from tests.e2e.screen import OVERFLOW, computed, open_job, stage

pytestmark = pytest.mark.e2e


def job_of(page: Page, kept):
    with kept.transaction() as session:
        return load_job(session, page.url.split("/")[-1]).job


def medium_of(page: Page, kept, label: str) -> str:
    job = job_of(page, kept)
    thing = next(e for e in job.of(AccessPoint) if e.label == label)
    return next(link for link in job.of(Link) if link.b.on == thing.id).medium


def test_an_outbuilding_goes_from_its_ways_compared_to_a_chosen_fibre_and_back(
    page: Page, fresh, kept, strict
):
    open_job(page, fresh)
    stage(page, "4")
    page.get_by_role("tab", name="Ways", exact=True).click()
    panel = page.get_by_role("region", name="Ways", exact=True)
    panel.get_by_label("Ways to").select_option("Portable")
    rows = panel.locator("tbody th")
    expect(rows).to_have_count(len(library().ways))
    # What is out says why, and its limit can be opened.
    out = panel.get_by_role("row").filter(has_text="Over the mains wiring")
    expect(out).to_contain_text("boards of their own")
    panel.get_by_role("button", name="Radio bridge at 60 GHz").click()
    panel.get_by_role("button", name="What is left in clear air").click()
    card = page.get_by_label("The sum behind a number")
    expect(card).to_contain_text("oxygen")
    expect(card).to_contain_text("0.86 R^0.77")
    card.get_by_role("button", name="Close the sum").click()
    assert page.evaluate(OVERFLOW) == []

    expect(page.locator('[data-rule="links.earths-joined"]')).to_be_visible()
    panel.get_by_role("button", name="Use Fibre, mains at the far end").click()
    expect(panel.get_by_role("row").filter(has_text="Fibre, mains")).to_contain_text("taken")
    expect(page.locator('[data-rule="links.earths-joined"]')).to_have_count(0)
    computed(page)
    assert medium_of(page, kept, "Portable") == "fibre"
    found = assess(job_of(page, kept))
    chain = next(c for c in found.chains if c.label == "Portable")
    assert chain.holds
    assert chain.speed_mbps == 1000

    page.keyboard.press("Control+z")
    expect(page.locator('[data-rule="links.earths-joined"]')).to_be_visible()
    computed(page)
    assert medium_of(page, kept, "Portable") == "copper"
    assert strict() == []


def test_the_ways_follow_what_is_picked_on_the_sheet(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "4")
    page.get_by_role("tab", name="Ways", exact=True).click()
    panel = page.get_by_role("region", name="Ways", exact=True)
    panel.get_by_label("Ways to").select_option("Foyer")
    expect(page.get_by_role("heading", name="Foyer", exact=True)).to_be_visible()
    expect(panel).to_contain_text("Both ends are in one house")


def test_the_cut_list_says_which_run_comes_from_which_box(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    stage(page, "5")
    page.get_by_role("tab", name="Cut list", exact=True).click()
    panel = page.get_by_role("region", name="Cut list", exact=True)
    runs = [plan for plan in assess(job_of(page, kept)).runs if not plan.existing]
    expect(panel.locator(".cut")).to_have_count(len(runs))
    expect(panel).to_contain_text("no list has fewer")
    panel.locator(".cut").first.click()
    expect(page.locator(".card h2")).to_contain_text("R-")
    assert strict() == []


def test_a_scheme_of_labels_is_looked_at_taken_and_taken_back(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    stage(page, "5")
    page.get_by_role("tab", name="Labels", exact=True).click()
    panel = page.get_by_role("region", name="Labels", exact=True)
    before = [link.label for link in job_of(page, kept).of(Link)]
    panel.get_by_label("Label by").select_option("Rack, panel and port, storey and number")
    expect(panel.locator("tbody tr").first).to_contain_text("/ R-0.01")
    assert strict() == []
    panel.get_by_role("button", name=f"Relabel {len(before)} runs").click()
    expect(panel).to_contain_text("Every run is called so")
    computed(page)
    after = [link.label for link in job_of(page, kept).of(Link)]
    assert all("-A-" in label or "-B-" in label for label in after)
    assert len(set(after)) == len(after)
    page.keyboard.press("Control+z")
    expect(panel.get_by_role("button", name=f"Relabel {len(before)} runs")).to_be_visible()
    computed(page)
    assert [link.label for link in job_of(page, kept).of(Link)] == before
