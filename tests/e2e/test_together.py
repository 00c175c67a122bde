"""Nothing is lost: two windows, a conflict, a lost connection, a reload in the middle."""

import pytest
from playwright.sync_api import Page, Route, expect

from heathrise.core.job import AccessPoint
from heathrise.store.jobs import load_job
from tests.e2e.screen import computed, open_job, thing

pytestmark = pytest.mark.e2e


def label_of(kept, path, start):
    with kept.transaction() as session:
        job = load_job(session, path.split("/")[-1]).job
    return [p.label for p in job.of(AccessPoint) if p.label.startswith(start)]


def rename(page: Page, label: str, new: str) -> None:
    thing(page, label).click()
    name = page.locator(".card").get_by_label("Name")
    name.fill(new)
    name.press("Enter")


def test_two_windows_see_each_others_edits(open_page, fresh):
    one, other = open_page(), open_page()
    for page in (one, other):
        open_job(page, fresh)
    rename(one, "Foyer", "Foyer north")
    expect(thing(other, "Foyer north")).to_be_visible()
    rename(other, "Theory", "Theory west")
    expect(thing(one, "Theory west")).to_be_visible()
    computed(one)


@pytest.mark.parametrize(("press", "kept_label"), [("Use yours", "Foyer B"), ("Keep theirs", "Foyer A")])
def test_two_edits_of_one_element_leave_the_choice_to_the_person(open_page, fresh, kept, press, kept_label):
    one, other = open_page(), open_page()
    for page in (one, other):
        open_job(page, fresh)
    # The other window is out of earshot while it edits.
    other.route("**/since/**", lambda route: route.abort())
    rename(one, "Foyer", "Foyer A")
    computed(one)
    rename(other, "Foyer", "Foyer B")
    card = other.get_by_role("alert", name="Changed by somebody else")
    expect(card).to_contain_text("Foyer A")
    expect(card).to_contain_text("Foyer B")
    other.unroute("**/since/**")
    card.get_by_role("button", name=press).click()
    computed(other)
    assert label_of(kept, fresh, "Foyer") == [kept_label]
    expect(thing(one, kept_label)).to_be_visible()


def down(route: Route) -> None:
    route.fulfill(
        status=503,
        content_type="application/problem+json",
        body='{"status":503,"title":"x","detail":"The database does not answer."}',
    )


@pytest.mark.parametrize("outage", [lambda route: route.abort(), down], ids=["no connection", "no database"])
def test_an_edit_made_while_the_server_is_away_waits_survives_a_reload_and_arrives(
    page: Page, fresh, kept, outage
):
    open_job(page, fresh)
    page.route("**/edits", outage)
    rename(page, "Foyer", "Foyer kept")
    expect(page.get_by_text("offline, 1 waiting")).to_be_visible()
    page.reload()
    expect(thing(page, "Foyer kept")).to_be_visible()
    expect(page.get_by_text("offline, 1 waiting")).to_be_visible()
    assert label_of(kept, fresh, "Foyer") == ["Foyer"]
    page.unroute("**/edits")
    expect(page.get_by_text("all saved")).to_be_visible()
    assert label_of(kept, fresh, "Foyer") == ["Foyer kept"]


def test_a_job_that_is_gone_says_so_and_leads_back(page: Page):
    page.goto("/jobs/00000000-0000-7000-8000-000000000000")
    expect(page.get_by_role("alert")).to_contain_text("may have been deleted")
    page.get_by_role("link", name="Job list").click()
    expect(page.get_by_role("heading", name="Jobs", exact=True)).to_be_visible()
