"""Nothing is lost: two windows, a conflict, a lost connection, a reload in the middle."""

import pytest
from playwright.sync_api import Page, Route, expect

from heathrise.core.edit import Put
from heathrise.core.job import AccessPoint, Job, Opening, Wall
from heathrise.store.edits import Edit, commit_edit
from heathrise.store.jobs import bin_job, create_job, forget_job, load_job, new_id
from tests.e2e.screen import computed, open_job, stage, thing

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


def held_back(page: Page, pattern: str) -> list[Route]:
    """The requests to some addresses, kept waiting until they are let go."""
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    page.route(pattern, hold)
    return held


def find(page: Page, label: str) -> None:
    """Choose a thing by its name with the palette."""
    page.keyboard.press("Control+k")
    page.get_by_role("dialog").get_by_role("combobox").fill(label)
    page.keyboard.press("Enter")


def test_two_windows_see_each_others_edits(open_page, fresh):
    one, other = open_page(), open_page()
    for page in (one, other):
        open_job(page, fresh)
    rename(one, "Foyer", "Foyer north")
    expect(thing(other, "Foyer north")).to_be_visible()
    rename(other, "Theory", "Theory west")
    expect(thing(one, "Theory west")).to_be_visible()
    computed(one)


@pytest.mark.parametrize(("press", "kept_label"), [("All yours", "Foyer B"), ("All theirs", "Foyer A")])
def test_two_edits_of_one_value_leave_the_choice_to_the_person(open_page, fresh, kept, press, kept_label):
    one, other = open_page(), open_page()
    for page in (one, other):
        open_job(page, fresh)
    # The other window is out of earshot while it edits.
    other.route("**/since/**", lambda route: route.abort())
    other.route("**/edits", lambda route: route.abort())
    rename(other, "Foyer", "Foyer B")
    rename(one, "Foyer", "Foyer A")
    computed(one)
    other.unroute("**/edits")
    card = other.get_by_role("alert", name="Changed by somebody else")
    expect(card).to_contain_text("Foyer A")
    expect(card).to_contain_text("Foyer B")
    expect(card.get_by_role("button", name="1 to choose")).to_be_disabled()
    other.unroute("**/since/**")
    card.get_by_role("button", name=press).click()
    card.get_by_role("button", name="Settle").click()
    expect(card).to_be_hidden()
    computed(other)
    assert label_of(kept, fresh, "Foyer") == [kept_label]
    expect(thing(one, kept_label)).to_be_visible()


def test_what_two_changed_of_one_thing_without_meeting_is_kept_of_both(open_page, fresh, kept):
    one, other = open_page(), open_page()
    for page in (one, other):
        open_job(page, fresh)
    other.route("**/edits", lambda route: route.abort())
    thing(other, "Foyer").click()
    height = other.locator(".card").get_by_label("Height")
    height.fill("2.35")
    height.press("Enter")
    rename(one, "Foyer", "Foyer A")
    computed(one)
    other.unroute("**/edits")
    expect(thing(other, "Foyer A")).to_be_visible()
    expect(other.get_by_text("all saved")).to_be_visible()
    with kept.transaction() as session:
        job = load_job(session, fresh.split("/")[-1]).job
    point = next(p for p in job.of(AccessPoint) if p.label == "Foyer A")
    assert point.height_m == 2.35


def test_what_is_being_typed_is_not_replaced_by_a_colleagues_value(open_page, fresh):
    one, other = open_page(), open_page()
    for page in (one, other):
        open_job(page, fresh)
    thing(other, "Foyer").click()
    name = other.locator(".card").get_by_label("Name")
    name.fill("Foyer by the")
    rename(one, "Foyer", "Foyer A")
    computed(one)
    expect(other.get_by_text("changed meanwhile to Foyer A")).to_be_visible()
    expect(name).to_have_value("Foyer by the")
    name.press("Escape")
    expect(name).to_have_value("Foyer A")


def test_a_door_of_a_colleague_is_named_before_it_goes_with_a_wall(open_page, fresh, kept):
    page = open_page()
    open_job(page, fresh)
    page.route("**/edits", lambda route: route.abort())
    stage(page, "1")
    with kept.transaction() as session:
        job_id = fresh.split("/")[-1]
        job = load_job(session, job_id).job
        wall = next(w for w in job.of(Wall) if w.label)
        door = Opening(id=new_id(), label="Ben's door", wall_id=wall.id, at_m=0, width_m=0.8)
    find(page, wall.label)
    page.keyboard.press("Delete")
    expect(page.get_by_text("1 waiting")).to_be_visible()
    with kept.transaction() as session:
        commit_edit(
            session, job_id, Edit(new_id(), new_id(), "Ben", 0, (Put(element=door),), {door.id: None})
        )
    page.unroute("**/edits")
    card = page.get_by_role("alert", name="Changed by somebody else")
    expect(card).to_contain_text("Ben's door")
    expect(card).to_contain_text("goes with what you remove")
    card.get_by_role("button", name="All theirs").click()
    card.get_by_role("button", name="Settle").click()
    expect(page.get_by_text("all saved")).to_be_visible()
    with kept.transaction() as session:
        assert {wall.id, door.id} <= set(load_job(session, job_id).job.by_id)


def refused(route: Route) -> None:
    route.fulfill(
        status=422,
        content_type="application/problem+json",
        body='{"status":422,"title":"x","detail":"A point hangs from something."}',
    )


def put_in_bin(kept, path: str, for_good: bool = False) -> None:
    with kept.transaction() as session:
        bin_job(session, path.rsplit("/", maxsplit=1)[-1])
        if for_good:
            forget_job(session, path.rsplit("/", maxsplit=1)[-1])


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


def test_work_of_a_closed_window_is_sent_from_the_job_list(open_page, fresh, kept):
    page = open_page()
    open_job(page, fresh)
    page.route("**/edits", lambda route: route.abort())
    rename(page, "Foyer", "Foyer kept")
    expect(page.get_by_text("offline, 1 waiting")).to_be_visible()
    page.close()
    other = open_page()
    other.route("**/edits", down)
    other.goto("/")
    waiting = other.get_by_role("region", name="Not saved yet")
    expect(waiting).to_contain_text("Tern Lane Music School")
    expect(waiting).to_contain_text("The database does not answer")
    other.unroute("**/edits")
    expect(waiting).to_be_hidden()
    assert label_of(kept, fresh, "Foyer") == ["Foyer kept"]


def test_undo_pressed_at_once_undoes_the_edit_before_it(page: Page, fresh, kept):
    open_job(page, fresh)
    rename(page, "Foyer", "Foyer first")
    computed(page)
    held = held_back(page, "**/edits")
    rename(page, "Foyer first", "Foyer second")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("saving")).to_be_visible()
    held[0].continue_()
    page.unroute("**/edits")
    computed(page)
    assert label_of(kept, fresh, "Foyer") == ["Foyer first"]


@pytest.mark.parametrize("key", ["1", "2", "3", "6"])
def test_an_edit_that_is_refused_is_set_aside_with_its_reason_in_every_stage(page: Page, fresh, key, strict):
    open_job(page, fresh)
    thing(page, "Foyer").click()
    page.route("**/edits", refused)
    height = page.locator(".card").get_by_label("Height")
    height.fill("2.35")
    height.press("Enter")
    aside = page.get_by_role("region", name="Not saved")
    expect(aside).to_contain_text("A point hangs from something.")
    page.evaluate("() => document.activeElement.blur()")
    stage(page, key)
    expect(aside).to_be_visible()
    assert strict() == []
    page.unroute("**/edits")
    page.reload()
    expect(aside).to_contain_text("A point hangs from something.")
    aside.get_by_role("button", name="Try again").click()
    expect(page.get_by_text("all saved")).to_be_visible()
    expect(aside).to_be_hidden()


def test_a_job_put_in_the_bin_meanwhile_is_put_back_with_the_work_that_waited(open_page, fresh, kept):
    page = open_page()
    open_job(page, fresh)
    put_in_bin(kept, fresh)
    gone = page.get_by_role("alert", name="The job is gone")
    expect(gone).to_contain_text("put in the bin")
    rename(page, "Foyer", "Foyer kept")
    expect(gone).to_contain_text("1 edit not saved yet")
    gone.get_by_role("button", name="Put it back").click()
    expect(gone).to_be_hidden()
    expect(page.get_by_text("all saved")).to_be_visible()
    assert label_of(kept, fresh, "Foyer") == ["Foyer kept"]


def test_a_job_deleted_meanwhile_is_saved_as_a_new_job_or_a_file(open_page, fresh, kept):
    page = open_page()
    open_job(page, fresh)
    put_in_bin(kept, fresh, for_good=True)
    gone = page.get_by_role("alert", name="The job is gone")
    expect(gone).to_contain_text("was deleted")
    rename(page, "Foyer", "Foyer saved")
    with page.expect_download() as saved:
        gone.get_by_role("button", name="Save as a file").click()
    assert "Foyer saved" in saved.value.path().read_text("utf-8")
    gone.get_by_role("button", name="Save as a new job").click()
    expect(gone).to_be_hidden()
    expect(thing(page, "Foyer saved")).to_be_visible()
    assert page.url.split("/")[-1] != fresh.split("/")[-1]
    assert label_of(kept, page.url, "Foyer") == ["Foyer saved"]


def test_a_job_goes_to_the_bin_and_comes_back_from_the_list(page: Page, kept, strict):
    with kept.transaction() as session:
        create_job(session, Job(name="Short lived"))
    page.goto("/")
    page.get_by_role("button", name="More of Short lived").click()
    page.get_by_role("button", name="Put Short lived in the bin").click()
    bin_ = page.get_by_role("region", name="Bin")
    expect(bin_.get_by_role("row", name="Short lived")).to_be_visible()
    assert strict() == []
    expect(page.get_by_role("link", name="Short lived", exact=True)).to_be_hidden()
    bin_.get_by_role("button", name="Put back Short lived").click()
    expect(page.get_by_role("link", name="Short lived", exact=True)).to_be_visible()
    page.get_by_role("button", name="More of Short lived").click()
    page.get_by_role("button", name="Put Short lived in the bin").click()
    bin_.get_by_role("button", name="Forget Short lived").click()
    bin_.get_by_role("button", name="Forget for good").click()
    expect(bin_.get_by_role("row", name="Short lived")).to_be_hidden()


def test_a_full_browser_says_that_the_window_has_to_stay_open(page: Page, fresh, kept):
    page.add_init_script(
        "IDBObjectStore.prototype.put = () => { throw new DOMException('full', 'QuotaExceededError') }"
    )
    open_job(page, fresh)
    page.route("**/edits", down)
    rename(page, "Foyer", "Foyer kept")
    expect(page.get_by_text("held in this window alone")).to_be_visible()
    page.unroute("**/edits")
    expect(page.get_by_text("all saved")).to_be_visible()
    assert label_of(kept, fresh, "Foyer") == ["Foyer kept"]


def test_two_jobs_never_mix_when_one_opens_slowly(page: Page, fresh, kept):
    with kept.transaction() as session:
        other = create_job(session, Job(name="The quick one")).id
    page.goto("/")
    held = held_back(page, f"**/api{fresh}")
    page.goto("/")
    page.locator(f'a[href="{fresh}"]').first.click()
    expect(page.get_by_text("opening")).to_be_visible()
    page.evaluate(f"() => history.pushState({{}}, '', '/jobs/{other}')")
    page.evaluate("() => dispatchEvent(new PopStateEvent('popstate', { state: {} }))")
    expect(page.get_by_role("heading", name="The quick one")).to_be_visible()
    for route in held:
        route.continue_()
    expect(page.get_by_text("all saved")).to_be_visible()
    expect(page.get_by_role("heading", name="The quick one")).to_be_visible()


def test_a_job_that_is_gone_says_so_and_leads_back(page: Page):
    page.goto("/jobs/00000000-0000-7000-8000-000000000000")
    expect(page.get_by_role("alert")).to_contain_text("may have been deleted")
    page.get_by_role("link", name="Job list").click()
    expect(page.get_by_role("heading", name="Jobs", exact=True)).to_be_visible()
