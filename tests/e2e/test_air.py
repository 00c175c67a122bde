"""The air as a person works it: placing, radio plan, walks, survey, failures, variants, layers."""

import re

import pytest
from playwright.sync_api import Page, expect

from heathrise.core.job import AccessPoint, Calibration, SurveyPoint, Variant, Walk
from heathrise.core.radio.learning import predicted_dbm, survey_of
from heathrise.core.radio.scene import scene_of
from heathrise.core.site.building import building_of
from heathrise.store.jobs import load_job
from tests.e2e.screen import OVERFLOW, Paper, computed, ledger, open_job, stage

pytestmark = pytest.mark.e2e
# A study is worked on in the background by a machine that may be busy with other tests.
LONG_MS = 180_000


def job_of(kept, path):
    with kept.transaction() as session:
        return load_job(session, path.split("/")[-1]).job


def panel(page: Page, name: str):
    """Open a panel of stage 3."""
    page.get_by_role("tab", name=name, exact=True).click()
    found = page.get_by_role("region", name=name, exact=True)
    expect(found).to_be_visible()
    return found


def test_points_place_themselves_are_looked_at_and_used(page: Page, fresh, kept):
    open_job(page, fresh)
    placing = panel(page, "Placing")
    placing.get_by_role("button", name="Place points").click()
    roaming = placing.locator('tr[data-aim="roaming"]')
    expect(roaming).to_contain_text("29 / 29", timeout=LONG_MS)
    roaming.get_by_role("button", name="Show").click()
    expect(page.get_by_role("img", name="points that would be placed here")).to_be_visible()
    placing.get_by_role("button", name="Stop").click()
    expect(placing.locator('.study[data-kind="placement"]')).to_have_attribute("data-state", "stopped")
    roaming.get_by_role("button", name="Use").click()
    computed(page)
    assert ledger(page, "spaces") == "29 / 29"
    assert len(job_of(kept, fresh).of(AccessPoint)) > 15
    page.keyboard.press("Control+z")
    computed(page)
    assert len(job_of(kept, fresh).of(AccessPoint)) == 15


def test_the_one_change_that_helps_most_is_shown_made_and_undone(page: Page, fresh, kept):
    open_job(page, fresh)
    before = ledger(page, "spaces")
    placing = panel(page, "Placing")
    placing.get_by_role("button", name="What helps most").click()
    first = placing.locator(".mends tbody tr").first
    expect(first).to_contain_text(re.compile(r"\d+ → \d+ / 29"), timeout=LONG_MS)
    met = re.search(r"→ (\d+ / 29)", first.inner_text())
    first.get_by_role("button", name="Show").click()
    expect(page.get_by_role("img", name="points that would be placed here")).to_be_visible()
    first.get_by_role("button", name="Do it").click()
    computed(page)
    assert met is not None and ledger(page, "spaces") == met[1] != before
    assert len(job_of(kept, fresh).of(AccessPoint)) in (15, 16)  # a point moved, or one more
    page.keyboard.press("Control+z")
    computed(page)
    assert ledger(page, "spaces") == before


def test_spot_heights_of_all_bands_stand_under_the_pointer(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "3")
    x, y = Paper(page).at(14.0, 4.0)
    page.mouse.move(x, y)
    spot = page.locator(".legend .spot")
    expect(spot).to_contain_text("2.4 GHz")
    expect(spot).to_contain_text("6 GHz")
    page.get_by_role("button", name="2.4", exact=True).click()
    page.mouse.move(x + 1, y)
    expect(spot).to_contain_text("5 GHz")


@pytest.mark.parametrize(("ending", "begins"), [("PDF", b"%PDF"), ("PNG", b"\x89PNG"), ("SVG", b"<?xml")])
def test_the_layer_on_the_sheet_is_printed(page: Page, fresh, ending, begins):
    open_job(page, fresh)
    stage(page, "3")
    page.get_by_role("button", name="Second", exact=True).click()
    with page.expect_download() as waiting:
        page.get_by_label("Print the sheet as").select_option(ending.lower())
    download = waiting.value
    assert download.suggested_filename == f"tern-lane-music-school.second-5GHz.{ending.lower()}"
    assert download.path().read_bytes().startswith(begins)


def test_the_radio_plan_is_proposed_with_reasons_and_made_in_one_edit(page: Page, fresh, kept):
    open_job(page, fresh)
    radios = panel(page, "Radio plan")
    expect(radios.get_by_role("table", name="How good the channels are")).to_contain_text("proven best")
    radios.get_by_role("button", name="Plan the radios").click()
    changes = radios.get_by_role("table", name="Changes")
    expect(changes).to_contain_text("as loud as a phone in a hand can answer", timeout=LONG_MS)
    expect(changes).to_contain_text("off: every place keeps")
    radios.get_by_role("button", name="Make these").click()
    computed(page)
    off = [r for p in job_of(kept, fresh).of(AccessPoint) for r in p.radios if not r.on]
    assert off
    assert {radio.band for radio in off} == {"2.4"}


def test_a_walk_is_drawn_over_a_stair_played_and_its_chart_follows(page: Page, fresh, kept):
    open_job(page, fresh)
    stage(page, "3")
    page.keyboard.press("p")
    paper = Paper(page)
    for x, y in ((20, 9.5), (6, 9.5), (3, 15)):
        paper.press(x, y)
    page.keyboard.press("]")
    expect(page.get_by_role("region", name="Sheet: plan of First")).to_be_visible()
    for x, y in ((3, 15), (10, 9.5)):
        paper.press(x, y)
    page.keyboard.press("Enter")
    computed(page)
    (walk,) = job_of(kept, fresh).of(Walk)
    assert len({stop.storey_id for stop in walk.stops}) == 2
    walks = page.get_by_role("region", name="Walks", exact=True)
    expect(walks.get_by_role("img", name=f"Signal along {walk.label}")).to_be_visible()
    expect(walks.get_by_role("list")).to_contain_text("ms")
    walks.get_by_label("Along the walk").fill("2")
    expect(page.get_by_role("region", name="Sheet: plan of Ground")).to_be_visible()
    expect(page.locator(".walker")).to_be_visible()
    walks.get_by_role("button", name="Play").click()
    expect(walks.get_by_role("button", name="Pause")).to_be_visible()
    walks.get_by_role("button", name="Pause").click()
    walks.get_by_label("Client", exact=True).select_option("laptop")
    computed(page)
    assert job_of(kept, fresh).of(Walk)[0].client_class == "laptop"


def test_a_walk_may_end_on_an_access_point(page: Page, fresh, kept):
    open_job(page, fresh)
    stage(page, "3")
    page.keyboard.press("p")
    paper = Paper(page)
    library = next(p for p in job_of(kept, fresh).of(AccessPoint) if p.label == "Library")
    paper.press(20, 9.5)
    paper.press(library.at.x_m, library.at.y_m)
    page.keyboard.press("Enter")
    computed(page)
    assert len(job_of(kept, fresh).of(Walk)) == 1


def table_of(job) -> bytes:
    """A survey of the ground floor, 6 dB under what is predicted, every third metre."""
    ground = job.storeys[0]
    point = next(p for p in job.of(AccessPoint) if p.label == "Foyer")
    places = [(15 + 1.1 * (n % 5), 2 + 1.3 * (n // 5)) for n in range(15)]
    rows = tuple(
        SurveyPoint(
            id=f"00000000-0000-7000-8000-0000000000{n:02d}",
            label="S",
            storey_id=ground.id,
            at={"x_m": x, "y_m": y},
            point_id=point.id,
            band="5",
            rssi_dbm=-60,
        )
        for n, (x, y) in enumerate(places)
    )
    measured = job.model_construct(name="m", elements=(*job.elements, *rows))
    levels = predicted_dbm(measured, scene_of(building_of(job)), survey_of(measured)) - 6
    order = [row.at for row in survey_of(measured).rows]
    lines = [f"Ground;{at.x_m};{at.y_m};Foyer;5;{level:.1f}" for at, level in zip(order, levels, strict=True)]
    return ("storey;x;y;point;band;dbm\n" + "\n".join(lines) + "\nGround;1;1;Nobody;5;-60\n").encode()


def test_a_survey_is_taken_in_learned_from_and_switched(page: Page, fresh, kept):
    open_job(page, fresh)
    survey = panel(page, "Survey")
    file = {"name": "survey.csv", "mimeType": "text/csv", "buffer": table_of(job_of(kept, fresh))}
    survey.get_by_label("Survey points").set_input_files(file)
    expect(survey).to_contain_text("15 survey points")
    expect(survey.get_by_role("list", name="Rows left out")).to_contain_text("no access point of that name")
    computed(page)
    survey.get_by_role("button", name="Learn from the survey").click()
    survey.get_by_role("button", name="Use what was learned").click(timeout=LONG_MS)
    computed(page)
    expect(survey).to_contain_text("In use: error on points held out")
    (learned,) = job_of(kept, fresh).of(Calibration)
    assert learned.before_db == pytest.approx(6, abs=0.5)
    assert learned.after_db < 1.5
    expect(page.locator(".legend")).to_contain_text("from 15 survey points")
    survey.get_by_label("What the survey taught").uncheck()
    computed(page)
    expect(page.locator(".legend")).to_contain_text("nothing measured")


def test_each_point_fails_and_the_sheet_shows_what_is_lost(page: Page, fresh):
    open_job(page, fresh)
    failures = panel(page, "Failures")
    failures.get_by_role("button", name="Fail each point").click()
    expect(failures.locator(".study")).to_have_attribute("data-state", "done", timeout=LONG_MS)
    expect(failures.get_by_role("row")).to_have_count(16)
    failures.get_by_role("button", name="Show without it").first.click()
    expect(page.locator(".notice")).to_contain_text("has failed")
    page.get_by_role("button", name="Back to the design").click()
    expect(page.locator(".notice")).to_have_count(0)


def test_two_designs_lie_side_by_side_and_as_a_difference(page: Page, fresh, kept):
    open_job(page, fresh)
    compare = panel(page, "Compare")
    compare.get_by_role("button", name="Keep the design as a variant").click()
    computed(page)
    (variant,) = job_of(kept, fresh).of(Variant)
    assert len(variant.points) == 15
    compare.get_by_role("button", name="Side by side").click()
    divider = page.get_by_role("slider", name="Divider between the design and the variant")
    expect(divider).to_have_attribute("aria-valuenow", "50")
    divider.press("ArrowRight")
    expect(divider).to_have_attribute("aria-valuenow", "55")
    compare.get_by_role("button", name="Difference").click()
    expect(page.locator(".legend")).to_contain_text("difference of best signal")
    compare.get_by_role("button", name="What goes round adds").click()
    expect(page.locator(".notice")).to_contain_text("What goes round adds")


@pytest.mark.parametrize("layer", ["third", "sinr", "phy", "overlap", "margin", "chance", "server"])
def test_every_layer_can_be_looked_at(page: Page, fresh, layer):
    open_job(page, fresh)
    label = page.get_by_label("Layer").locator(f'option[value="{layer}"]').inner_text()
    page.get_by_label("Layer").select_option(layer)
    expect(page.locator(".legend")).to_contain_text(label, ignore_case=True)


def test_airtime_is_a_heat_table_whose_figures_open(page: Page, fresh):
    open_job(page, fresh)
    airtime = panel(page, "Airtime")
    airtime.locator(".sum-link").first.click()
    expect(page.get_by_role("complementary", name="The sum behind a number")).to_contain_text("usable with")


def test_a_place_behind_a_wall_shows_the_way_that_serves_it(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "3")
    page.keyboard.press("l")
    Paper(page).press(24.0, 12.2)
    expect(page.get_by_role("complementary", name="The sum behind a number")).to_contain_text(
        "what goes round adds"
    )
    expect(page.get_by_role("img", name="The way round that serves this place")).to_be_attached()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(page.get_by_role("img", name="The way round that serves this place")).to_have_count(0)


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_every_panel_of_the_air_is_clean_and_fits(page: Page, fresh, strict, night):
    open_job(page, fresh)
    if night:
        page.get_by_role("button", name="Night sheet").click()
    for name in ("Placing", "Radio plan", "Walks", "Airtime", "Failures", "Survey", "Compare"):
        panel(page, name)
        assert strict() == [], name
        assert page.evaluate(OVERFLOW) == [], name
    page.get_by_role("button", name="Keep the design as a variant").click()
    page.get_by_role("button", name="Side by side").click()
    expect(page.get_by_role("slider", name="Divider between the design and the variant")).to_be_visible()
    assert strict() == []
