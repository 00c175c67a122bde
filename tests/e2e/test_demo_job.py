"""Points 3 to 7 of the first slice on the demo school, as a person walks them."""

import csv
import io

import pytest
from playwright.sync_api import Page, expect

from heathrise.core.job import AccessPoint, Equipment, Link
from heathrise.store.jobs import load_job
from tests.e2e.screen import Paper, computed, ledger, notes, open_job, painted, stage, thing

pytestmark = pytest.mark.e2e


def job_of(kept, path):
    with kept.transaction() as session:
        return load_job(session, path.split("/")[-1]).job


def by_label(job, cls, label):
    return next(element for element in job.of(cls) if element.label == label)


def test_the_list_leads_to_the_school(page: Page):
    page.goto("/")
    page.get_by_role("link", name="Tern Lane Music School").first.click()
    expect(page.get_by_role("heading", name="Tern Lane Music School")).to_be_visible()
    computed(page)
    expect(page.locator('.ledger [data-key="ports"]')).to_contain_text("28 / 44")


def test_a_dragged_point_redraws_its_terrain_while_it_moves(page: Page, fresh, kept):
    open_job(page, fresh)
    before = painted(page)
    x, y = Paper(page).at(37.5, 13.5)
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(1, 7):
        page.mouse.move(x - 12 * step, y + 4 * step)
        expect(page.locator("canvas.terrain")).not_to_have_attribute("data-painted", str(before))
        assert painted(page) > before
        before = painted(page)
    assert by_label(job_of(kept, fresh), AccessPoint, "Theory").at.x_m == 37.5
    page.mouse.up()
    computed(page)
    assert by_label(job_of(kept, fresh), AccessPoint, "Theory").at.x_m < 36


@pytest.mark.parametrize("band", ["2.4", "5", "6 GHz"])
def test_best_and_second_signal_on_every_band(page: Page, fresh, band):
    open_job(page, fresh)
    for signal in ("Best", "Second"):
        page.get_by_role("group", name="Band").get_by_role("button", name=band).click()
        page.get_by_role("group", name="Signal").get_by_role("button", name=signal).click()
        expect(page.locator(".legend")).to_contain_text(
            f"{signal.lower()} signal, weaker way, {band.split()[0]} GHz"
        )
    page.get_by_label("Way").select_option("up")
    expect(page.locator(".legend")).to_contain_text("second signal, up")


def test_spaces_are_scored_and_the_worst_place_opens_to_its_sum(page: Page, fresh):
    open_job(page, fresh)
    page.get_by_role("tab", name="Spaces 29").click()
    page.get_by_role("button", name="Percussion").first.click()
    expect(page.get_by_role("region", name="Selected: Percussion")).to_contain_text("Browsing, video, 5 GHz")
    page.locator(".facts").get_by_title("Open the loss account there").click()
    account = page.get_by_role("complementary", name="The sum behind a number")
    expect(account).to_contain_text("free space over 1 m")
    expect(account).to_contain_text("Usual error 6 to 8 dB")


def test_findings_lead_to_their_place_and_their_fixes_mend(page: Page, fresh, kept):
    open_job(page, fresh)
    for key, rule, fix in (
        ("3", "air.power-over-domain", "Lower 5 GHz"),
        ("3", "air.same-channel", "Change to channel"),
        ("5", "runs.speed-marginal", "Move it to Cat 6 indoor"),
        ("7", "network.overlaps-outside", "Renumber to"),
    ):
        stage(page, key)
        found = notes(page, rule)
        key_of = found.first.get_attribute("data-key")
        note = page.locator(f'.note[data-key="{key_of}"]')
        note.locator(".subject").click()
        expect(page.locator(".card")).to_be_visible()
        note.get_by_role("button", name=fix).click()
        expect(note).to_have_count(0)
    computed(page)
    job = job_of(kept, fresh)
    assert by_label(job, Link, "R-01").product == "cat6-indoor"


def test_the_next_finding_comes_by_key_and_points_at_its_place(page: Page, fresh):
    open_job(page, fresh)
    page.keyboard.press(".")
    first = page.locator(".note.here .subject").inner_text()
    expect(page.locator(".leader circle")).to_be_visible()
    page.keyboard.press(".")
    expect(page.locator(".note.here .subject")).not_to_have_text(first)
    page.keyboard.press(",")
    expect(page.locator(".note.here .subject")).to_have_text(first)


def test_a_finding_is_accepted_with_a_reason_and_taken_back(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "4")
    note = notes(page, "links.earths-joined")
    note.get_by_text("Why").click()
    note.get_by_role("button", name="Accept with a reason").click()
    note.get_by_label("Reason").fill("Fibre is ordered for spring.")
    note.get_by_role("button", name="Accept", exact=True).click()
    expect(note).to_contain_text("Fibre is ordered for spring.")
    note.get_by_role("button", name="Take back").click()
    expect(note).to_contain_text("Warning")


def test_runs_power_ports_and_networks_are_in_their_tables(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "5")
    page.get_by_role("tab", name="Runs 28").click()
    page.get_by_role("button", name="Length 42.8 m: open the sum").click()
    expect(page.get_by_role("complementary", name="The sum behind a number")).to_contain_text(
        "R-10: length of the permanent link"
    )
    expect(page.get_by_role("complementary", name="The sum behind a number")).to_contain_text("outdoors")
    page.keyboard.press("Escape")
    stage(page, "6")
    expect(page.get_by_role("cell", name="SW1/1", exact=True)).to_be_visible()
    page.get_by_role("tab", name="Feeds").click()
    expect(page.get_by_role("columnheader", name="Lowest voltage")).to_be_visible()
    stage(page, "7")
    expect(page.get_by_role("cell", name="10.20.20.0/23")).to_be_visible()


def test_columns_are_put_away_and_stay_away(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "6")
    page.get_by_role("tab", name="Ports").click()
    expect(page.get_by_role("columnheader", name="Speed")).to_be_visible()
    page.get_by_role("button", name="Columns of Ports").click()
    page.get_by_role("checkbox", name="Speed").uncheck()
    expect(page.get_by_role("checkbox", name="Port", exact=True)).to_be_disabled()
    page.keyboard.press("Escape")
    expect(page.get_by_role("columnheader", name="Speed")).to_be_hidden()
    page.reload()
    computed(page)
    stage(page, "6")
    page.get_by_role("tab", name="Ports").click()
    expect(page.get_by_role("columnheader", name="Needs")).to_be_visible()
    expect(page.get_by_role("columnheader", name="Speed")).to_be_hidden()
    page.get_by_role("button", name="Columns of Ports").click()
    page.get_by_role("button", name="Show all").click()
    expect(page.get_by_role("columnheader", name="Speed")).to_be_visible()


def test_a_model_of_the_jobs_own_is_made_and_used(page: Page, fresh, strict, kept):
    """Equipment the library has not got: started like one it has, its ports and figures filled in, then chosen."""
    open_job(page, fresh)
    stage(page, "6")
    page.get_by_role("tab", name="Models").click()
    page.get_by_label("A new model like").select_option(label="Switch, 24 x 1G powered, 2 x SFP+")
    page.get_by_label("Name of Switch, 24 x 1G").fill("Switch of the house, 48 powered")
    page.get_by_label("Name of Switch, 24 x 1G").blur()
    page.get_by_role("button", name="Parts of Switch of the house").click()
    page.get_by_label("How many, Ports, copper").fill("48")
    page.get_by_label("How many, Ports, copper").blur()
    page.get_by_label("PoE budget of Switch of the house").fill("740")
    page.get_by_label("PoE budget of Switch of the house").blur()
    computed(page)
    assert strict() == []
    page.get_by_role("button", name="Add a switch").click()
    page.get_by_role("combobox", name="Model", exact=True).select_option(
        label="Switch of the house, 48 powered"
    )
    computed(page)
    job = job_of(kept, fresh)
    added = next(e for e in job.of(Equipment) if e.model == "own-model-1")
    model = job.equipment[added.model]
    assert (model.ports[0].count, model.budget_w, len(model.port_list)) == (48, 740, 50)
    page.get_by_role("tab", name="Loads").click()
    expect(page.get_by_role("button", name=f"{added.label}: power of its budget")).to_be_visible()
    # What stands in the job is not taken from under it.
    page.get_by_role("tab", name="Models").click()
    page.locator('[data-code="own-model-1"]').get_by_role("button", name="Remove").click()
    expect(page.get_by_text("own-model-1")).to_be_visible()
    assert job_of(kept, fresh).equipment["own-model-1"].budget_w == 740


def test_the_ledger_changes_with_an_edit_undo_and_redo_and_a_reload_loses_nothing(page: Page, fresh):
    open_job(page, fresh)
    kit, ports = ledger(page, "kit"), ledger(page, "ports")
    thing(page, "Theory").click()
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.locator('.ledger [data-key="ports"]')).to_contain_text("27 / 44")
    assert ledger(page, "kit") != kit
    page.keyboard.press("Control+z")
    expect(page.locator('.ledger [data-key="ports"]')).to_contain_text("28 / 44")
    expect(page.locator('.ledger [data-key="kit"] .mono')).to_have_text(kit)
    page.keyboard.press("Control+Shift+z")
    expect(page.locator('.ledger [data-key="ports"]')).to_contain_text("27 / 44")
    page.reload()
    expect(page.locator('.ledger [data-key="ports"]')).to_contain_text("27 / 44")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator('.ledger [data-key="ports"] .mono')).to_have_text(ports)


def download(page: Page, name: str) -> str:
    with page.expect_download() as got:
        page.get_by_role("link", name=name).click()
    return got.value.path().read_text("utf-8")


def test_kit_settings_and_job_go_out_and_the_job_comes_back_identical(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "8")
    rows = list(csv.DictReader(io.StringIO(download(page, "kit list (CSV)"))))
    assert sum(float(row["cost"]) for row in rows) == pytest.approx(
        float(ledger(page, "kit").split("/")[0].replace("\u202f", "")), abs=1
    )
    with page.expect_download() as quote:
        page.get_by_role("link", name="quote (PDF)").click()
    assert quote.value.path().read_bytes().startswith(b"%PDF-")
    first = download(page, "job file (JSON)")
    page.goto("/")
    page.get_by_label("Choose a job file").set_input_files(
        {"name": "job.json", "mimeType": "application/json", "buffer": first.encode()}
    )
    expect(page.get_by_role("heading", name="Tern Lane Music School")).to_be_visible()
    computed(page)
    stage(page, "8")
    assert download(page, "job file (JSON)") == first


def test_a_broken_job_file_is_refused_on_the_screen(page: Page):
    page.goto("/")
    page.get_by_label("Choose a job file").set_input_files(
        {"name": "x.json", "mimeType": "application/json", "buffer": b"{"}
    )
    expect(page.get_by_role("alert")).to_contain_text("not readable JSON")


def test_metric_and_imperial_day_and_night(page: Page, fresh):
    open_job(page, fresh)
    metres = ledger(page, "longest")
    assert metres.endswith("m")
    page.get_by_role("button", name="Switch metric and imperial").click()
    expect(page.locator('.ledger [data-key="longest"] .mono')).to_contain_text("ft")
    page.get_by_role("button", name="Night sheet").click()
    expect(page.locator("html")).to_have_class("night")
    page.reload()
    expect(page.locator("html")).to_have_class("night")
    expect(page.locator('.ledger [data-key="longest"]')).to_contain_text("ft")


def test_floors_open_by_key_and_on_the_section(page: Page, fresh):
    open_job(page, fresh)
    page.keyboard.press("]")
    expect(thing(page, "Class A")).to_be_visible()
    page.get_by_role("button", name="Open Ground").click()
    expect(thing(page, "Foyer")).to_be_visible()


def test_anything_is_found_from_the_keyboard(page: Page, fresh):
    open_job(page, fresh)
    page.keyboard.press("Control+k")
    page.get_by_role("combobox", name="Find or do anything").fill("keyboard lab access")
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Selected: Keyboard lab")).to_be_visible()
    expect(thing(page, "Keyboard lab")).to_be_visible()


def test_a_point_is_nudged_by_arrow_keys(page: Page, fresh, kept):
    open_job(page, fresh)
    thing(page, "Foyer").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    computed(page)
    at = by_label(job_of(kept, fresh), AccessPoint, "Foyer").at
    assert (at.x_m, at.y_m) == (17.6, 5.0)


def test_what_is_no_number_stays_in_its_box_and_is_not_sent(page: Page, fresh, kept):
    open_job(page, fresh)
    thing(page, "Foyer").click()
    height = page.get_by_label("Height")
    height.fill("high")
    height.press("Enter")
    expect(page.locator(".card")).to_contain_text("“high” is no number")
    expect(height).to_have_value("high")
    height.fill("3,1")
    height.press("Enter")
    computed(page)
    assert by_label(job_of(kept, fresh), AccessPoint, "Foyer").height_m == 3.1


def test_a_refused_edit_says_why_and_shows_what_is_kept(page: Page, fresh):
    open_job(page, fresh)
    thing(page, "Foyer").click()
    height = page.get_by_label("Height")
    height.fill("55")
    height.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="stands in the margin")).to_be_visible()
    aside = page.get_by_role("region", name="Not saved")
    expect(aside).to_contain_text("outside every storey")
    expect(page.get_by_text("1 not saved")).to_be_visible()
    thing(page, "Foyer").click()
    expect(page.get_by_label("Height")).to_have_value("2.9")
    aside.get_by_role("button", name="Let it go").click()
    expect(page.get_by_text("all saved")).to_be_visible()


def test_paper_is_where_the_drawing_says(page: Page, fresh):
    open_job(page, fresh)
    box = thing(page, "Portable").bounding_box()
    x, y = Paper(page).at(31, 30.5)
    assert box["x"] < x < box["x"] + box["width"]
    assert box["y"] < y < box["y"] + box["height"]
