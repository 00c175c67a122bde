"""The first minute: from a client's own drawing to a costed plan with no open fault, every action counted."""

import pytest
from playwright.sync_api import Locator, Page, expect

from heathrise.core.findings import assess
from heathrise.core.job import AccessPoint, Network, Rack, Space
from heathrise.store.jobs import load_job
from tests.e2e.screen import Paper, computed, notes, open_job, stage, thing
from tests.e2e.storey import ROOMS, twenty_rooms

pytestmark = pytest.mark.e2e

# The aim of the whole walk, whatever the machine.
MOST_ACTIONS = 40
DROP = """([bytes, name]) => {
  const data = new DataTransfer()
  data.items.add(new File([new Uint8Array(bytes)], name))
  const target = document.querySelector('main')
  for (const type of ['dragover', 'drop'])
    target.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }))
}"""


class Hand:
    """A person's hand: presses, keys and drops, counted."""

    def __init__(self, page: Page):
        self.page = page
        self.actions = 0

    def press(self, what: Locator) -> None:
        """Press something."""
        self.actions += 1
        what.click()
        computed(self.page)

    def button(self, name: str, exact: bool = False) -> None:
        """Press a button by its name."""
        self.press(self.page.get_by_role("button", name=name, exact=exact).first)

    def on_sheet(self, x_m: float, y_m: float) -> None:
        """Press a place on the sheet."""
        self.actions += 1
        Paper(self.page).press(x_m, y_m)
        computed(self.page)

    def drop(self, body: bytes, name: str) -> None:
        """Drop a file on the page."""
        self.actions += 1
        self.page.evaluate(DROP, [list(body), name])

    def next_step(self, words: str) -> None:
        """Follow the line that says what is next; it must say this."""
        line = self.page.locator(".next .step")
        expect(line).to_contain_text(words)
        self.press(line)


def job_of(page: Page, kept):
    with kept.transaction() as session:
        return load_job(session, page.url.split("/")[-1]).job


def test_from_a_drawing_to_a_costed_plan_without_a_fault_in_forty_actions(page: Page, kept):
    page.goto("/")
    expect(page.get_by_role("heading", name="Jobs", exact=True)).to_be_visible()
    hand = Hand(page)
    hand.drop(twenty_rooms(), "Willow Wing.dxf")
    expect(page.get_by_role("heading", name="Willow Wing", exact=True)).to_be_visible()
    hand.press(page.get_by_role("button", name="Accept 24 walls"))
    assert len(job_of(page, kept).of(Space)) == ROOMS + 1

    # What is next is always said, and goes there.
    hand.next_step("place for the rack")
    hand.on_sheet(17.0, 7.0)
    hand.next_step("where the service enters")
    hand.on_sheet(16.0, 7.0)
    hand.next_step("each space needs")
    hand.button("Propose from names")
    hand.next_step("Place access points")
    hand.button("Place points")
    use = page.get_by_role("region", name="Placing", exact=True).get_by_role("button", name="Use").first
    expect(use).to_be_enabled(timeout=120_000)
    hand.press(use)
    hand.next_step("Run cables")
    hand.button("Run cables to everything")
    hand.next_step("Add a switch")
    # By its whole name: the line that says what is next begins alike.
    hand.button("Add a switch", exact=True)
    hand.next_step("Make the networks")
    hand.button("Propose networks")

    # Faults that are left are mended where they are said: all of a rule at once, or each by its first remedy.
    for _ in range(8):
        line = page.locator(".next .step")
        if "Mend" not in line.inner_text():
            break
        hand.press(line)
        entry = page.locator(".group.fault, .note.fault").first
        hand.press(entry.locator("button.ink-button").first)
    job = job_of(page, kept)
    found = assess(job)
    faults = [(f.rule, f.text) for f in found.findings if f.severity == "fault"]
    assert faults == []
    assert found.cost_sum.value > 0
    assert all(job.of(kind) for kind in (AccessPoint, Rack, Network))
    assert hand.actions <= MOST_ACTIONS
    print(f"{hand.actions} actions")


def test_an_empty_sheet_is_forty_metres_wide_and_follows_what_is_drawn(page: Page):
    page.goto("/")
    page.get_by_label("Name of the job").fill("Empty sheet")
    page.get_by_role("button", name="Start", exact=True).click()
    computed(page)
    paper = Paper(page)
    assert paper.box["width"] / paper.k >= 40
    page.get_by_role("button", name="Draw walls").click()
    paper = Paper(page)
    paper.press(2, 2)
    page.mouse.move(*paper.at(10, 2))
    page.keyboard.type("60")
    page.keyboard.press("Enter")
    page.keyboard.press("Enter")
    computed(page)
    after = Paper(page)
    x, _ = after.at(62, 2)
    assert after.box["x"] < x < after.box["x"] + after.box["width"]


def test_every_tool_has_a_word_and_says_its_name_at_once(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "2")
    tools = page.get_by_role("toolbar", name="Tools")
    words = tools.locator(".word").all_inner_texts()
    assert {"Look", "Plan", "Change", "Drawing", "View"} <= set(words)
    wall = tools.get_by_role("button", name="Wall", exact=True)
    wall.focus()
    page.keyboard.press("Shift+Tab")
    page.keyboard.press("Tab")
    expect(wall.locator(".tip")).to_be_visible()
    expect(wall.locator(".tip")).to_contain_text("W")
    strip = tools.bounding_box()
    first = min(box["x"] for box in (t.bounding_box() for t in page.locator(".thing").all()) if box)
    assert first > strip["x"] + strip["width"]


def test_what_next_goes_on_to_the_next_fault_brings_it_into_sight_and_can_be_put_off(page: Page, fresh):
    open_job(page, fresh)
    line = page.locator(".next .step")
    here = page.locator(".note.here")
    seen = []
    for _ in range(3):
        line.click()
        computed(page)
        expect(here).to_have_count(1)
        expect(here).to_be_in_viewport(ratio=1)
        expect(line).to_be_in_viewport(ratio=1)
        seen.append(here.get_attribute("data-key"))
    assert len(set(seen)) == 3
    words = line.inner_text()
    page.get_by_role("button", name="later").click()
    expect(line).not_to_contain_text("Mend")
    assert line.inner_text() != words


def test_findings_of_a_rule_are_mended_together_and_taken_back_by_one_undo(page: Page, fresh, kept):
    open_job(page, fresh)
    stage(page, "3")
    group = page.locator('.group[data-rule="air.same-channel"]')
    before = job_of(page, kept)
    group.get_by_role("button", name="Mend all").click()
    expect(page.locator('[data-rule="air.same-channel"]')).to_have_count(0)
    computed(page)
    page.keyboard.press("Control+z")
    expect(group).to_be_visible()
    computed(page)
    assert {e.id: e for e in job_of(page, kept).elements} == {e.id: e for e in before.elements}


def test_a_remedy_that_was_tried_cures_at_the_first_press(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "3")
    note = notes(page, "air.power-over-domain").first
    note.hover()
    note.get_by_role("button", name="Lower 5 GHz").click()
    expect(page.locator('[data-rule="air.power-over-domain"]')).to_have_count(0)


def test_anything_is_found_by_its_name(page: Page, fresh):
    open_job(page, fresh)
    for text, hint in (
        ("Foyer", "space"),
        ("Failures", "panel"),
        ("SW1/1", "port"),
        ("Table: Runs", "Runs"),
        ("guest", "fault"),
    ):
        page.keyboard.press("Control+k")
        field = page.get_by_label("Find or do anything").last
        field.fill(text)
        expect(page.locator("#found").get_by_text(hint, exact=True).first).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.locator("#found")).to_have_count(0)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("walk")


def test_the_drawer_keeps_the_height_a_person_gave_it(page: Page, fresh):
    open_job(page, fresh)
    page.keyboard.press("t")
    edge = page.get_by_role("separator", name="Height of the drawer")
    edge.focus()
    before = edge.bounding_box()["y"]
    for _ in range(4):
        page.keyboard.press("ArrowUp")
    page.wait_for_function(
        "([edge, most]) => edge.getBoundingClientRect().y < most", arg=[edge.element_handle(), before - 40]
    )
    high = edge.bounding_box()["y"]
    page.reload()
    computed(page)
    page.keyboard.press("t")
    expect(edge).to_be_visible()
    assert edge.bounding_box()["y"] == pytest.approx(high, abs=3)


def test_the_job_list_is_searched_sorted_renamed_copied_and_archived(page: Page, strict):
    page.goto("/")
    find = page.get_by_label("Find a job")
    find.fill("withy")
    rows = page.locator("tbody tr")
    expect(rows).to_have_count(1)
    page.get_by_role("button", name="More of Withy Mill House").click()
    page.get_by_role("button", name="Duplicate Withy Mill House").click()
    expect(page.get_by_role("link", name="Withy Mill House (copy)", exact=True)).to_be_visible()
    page.get_by_role("button", name="More of Withy Mill House (copy)").click()
    page.get_by_role("button", name="Rename Withy Mill House (copy)").click()
    page.get_by_label("New name of Withy Mill House (copy)").fill("Withy Mill, spring")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name="Withy Mill, spring", exact=True)).to_be_visible()
    assert strict() == []
    page.get_by_role("button", name="Rename Withy Mill, spring").click()
    page.get_by_label("New name of Withy Mill, spring").fill("Not meant")
    page.keyboard.press("Escape")
    expect(page.get_by_role("link", name="Withy Mill, spring", exact=True)).to_be_visible()
    page.get_by_role("button", name="Archive Withy Mill, spring").click()
    expect(page.get_by_role("link", name="Withy Mill, spring", exact=True)).to_be_hidden()
    page.get_by_role("button", name="Archive: 1").click()
    expect(page.get_by_role("link", name="Withy Mill, spring", exact=True)).to_be_visible()
    page.get_by_role("button", name="Back to open jobs").click()
    find.fill("")
    page.get_by_role("columnheader", name="Job").get_by_role("button").click()
    names = page.locator("tbody .name").all_inner_texts()
    assert names == sorted(names, key=str.lower)


def test_a_job_opens_on_the_storey_people_enter(page: Page):
    page.goto("/")
    page.get_by_role("link", name="Withy Mill House", exact=True).click()
    computed(page)
    expect(page.locator(".sheet")).to_have_attribute("aria-label", "Sheet: plan of Ground")
    hall = thing(page, "Hall").first.bounding_box() if thing(page, "Hall").count() else None
    paper = Paper(page)
    # The house of 15 m takes more than a third of the sheet; it is not a stamp beside its boat store.
    assert paper.k * 15 > paper.box["width"] / 3
    assert hall is None or hall["x"] > paper.box["x"]


def test_a_model_gets_figures_of_this_jobs_own_and_what_hangs_on_them_follows(page: Page, fresh, kept):
    open_job(page, fresh)
    stage(page, "6")
    page.get_by_role("tab", name="Models").click()
    row = page.locator("tr[data-code=switch-24-poe]")
    row.get_by_label("PoE budget").fill("60")
    page.keyboard.press("Tab")
    expect(row).to_contain_text("own figures")
    expect(page.locator('[data-rule="power.budget-over"]')).to_be_visible()
    computed(page)
    assert job_of(page, kept).equipment["switch-24-poe"].budget_w == 60
    row.get_by_role("button", name="As in the library").click()
    expect(page.locator('[data-rule="power.budget-over"]')).to_have_count(0)
