"""Stage 2 as a person works it: files in, tools in hand, many at once, the look in three dimensions."""

import json
import re

import pytest
from benchmarks import plans
from benchmarks.models import model
from playwright.sync_api import Page, expect

from heathrise.core.job import (
    Fixture,
    Line,
    NoGo,
    Opening,
    OwnBuildUp,
    Pathway,
    Space,
    Storey,
    Underlay,
    Wall,
)
from tests.e2e.screen import Paper, computed, open_job, stage, tool
from tests.e2e.test_new_job import job_of, start

pytestmark = pytest.mark.e2e


def send(page: Page, name: str, body: bytes) -> None:
    page.get_by_label("Import a drawing").set_input_files(
        {"name": name, "mimeType": "application/octet-stream", "buffer": body}
    )


def card(page: Page):
    return page.get_by_role("region", name="Import", exact=True)


def test_a_cad_drawing_is_imported_looked_at_and_taken_back_in_one_press(page: Page, kept):
    start(page, "Heron Terrace")
    made = plans.plan(5)
    send(page, "heron.dxf", plans.dxf(made).encode())
    accept = card(page).get_by_role("button", name="Accept")
    expect(accept).to_have_text(f"Accept 16 walls, {len(made.doors)} openings, {len(made.rooms)} spaces")
    expect(page.locator(".pencil .wall")).to_have_count(16)
    assert job_of(page, kept).of(Wall) == ()

    # One wall is pressed away and back, then one stays away.
    page.locator("[data-pencil]").nth(6).dispatch_event("click")
    expect(accept).to_contain_text("Accept 15 walls")
    page.locator("[data-pencil]").nth(6).dispatch_event("click")
    expect(accept).to_contain_text("Accept 16 walls")
    page.locator("[data-pencil]").nth(6).dispatch_event("click")
    accept.click()
    expect(card(page)).to_be_hidden()
    computed(page)
    job = job_of(page, kept)
    assert len(job.of(Wall)) == 15
    assert {space.label for space in job.of(Space)} == {name for name, _ in made.rooms}
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("g.wall")).to_have_count(0)
    assert job_of(page, kept).of(Wall) == ()


def test_a_layer_is_said_to_hold_walls_and_the_walls_come(page: Page):
    start(page, "Odd layers")
    send(page, "odd.dxf", plans.dxf(plans.plan(2)).replace("A-WALL", "Q-12").encode())
    role = card(page).get_by_label("Layer Q-12 holds")
    # Its name says nothing, its lines do; a person has the last word.
    expect(role).to_have_value("wall")
    expect(page.locator(".pencil .wall")).not_to_have_count(0)
    role.select_option("ignore")
    expect(page.locator(".pencil .wall")).to_have_count(0)
    role.select_option("wall")
    expect(page.locator(".pencil .wall")).not_to_have_count(0)
    expect(card(page).get_by_role("button", name="Accept")).to_contain_text("walls")


def test_a_photographed_leaflet_is_straightened_scaled_and_accepted(page: Page, kept):
    start(page, "Leaflet House")
    send(page, "leaflet.png", plans.picture(plans.plan(3).turned(1.5)))
    expect(card(page).get_by_text("no scale yet")).to_be_visible()
    expect(card(page).get_by_text("turned by")).to_be_visible()
    card(page).get_by_label("Scale by").select_option("print")
    card(page).get_by_label("Printed scale").fill("100")
    card(page).get_by_label("Scale by").select_option("length")
    shown = re.match(r"[\d.]+", card(page).locator(".facts").inner_text())[0]
    card(page).get_by_role("button", name="Set").click()
    expect(card(page).get_by_role("alert")).to_contain_text("above zero")
    card(page).get_by_label("Length as shown").fill(shown)
    card(page).get_by_label("True length").fill("18")
    card(page).get_by_role("button", name="Set").click()
    expect(card(page).locator(".facts")).to_have_text(
        re.compile(r"^(18|17\.9\d*|18\.0\d*)\sm by (12|11\.9\d*|12\.0\d*)\sm")
    )
    card(page).get_by_role("button", name="Accept").click()
    expect(card(page)).to_be_hidden()
    computed(page)
    job = job_of(page, kept)
    (underlay,) = job.of(Underlay)
    assert underlay.metres_per_px == pytest.approx(0.0254 / 150 * 100, rel=0.02)
    assert len(job.of(Wall)) >= 10


def test_a_building_model_brings_its_storeys(page: Page, kept):
    start(page, "Model House")
    send(page, "model.ifc", model(storeys=3, rooms=3).encode())
    card(page).get_by_role("button", name="show", exact=True).last.click()
    expect(page.locator(".pencil .wall")).to_have_count(6)
    card(page).get_by_role("button", name="Accept").click()
    expect(card(page)).to_be_hidden()
    computed(page)
    assert len(job_of(page, kept).of(Storey)) == 3


def test_a_file_that_cannot_be_read_says_so_and_leaves_the_job_alone(page: Page, kept):
    start(page, "Bad file")
    send(page, "letter.docx", b"PK\x03\x04 nothing of ours")
    expect(card(page).get_by_role("alert")).to_contain_text("Unpack it and send the drawing inside")
    card(page).get_by_role("button", name="Put it away").click()
    expect(card(page)).to_be_hidden()
    assert job_of(page, kept).of(Wall) == ()


def test_a_house_is_drawn_with_the_tools(page: Page, kept):
    start(page, "Drawn House")
    expect(page.get_by_role("heading", name="Nothing is drawn")).to_be_visible()
    tool(page, "Wall")
    page.get_by_label("Thickness of new walls").fill("0.3")
    paper = Paper(page)
    for corner in ((1, 1), (9, 1), (9, 7), (1, 7), (1, 1)):
        paper.press(*corner)
    page.keyboard.press("Enter")
    paper.press(5, 1)
    paper.press(5, 7)
    page.keyboard.press("Enter")
    tool(page, "Opening")
    paper.press(5, 4)
    tool(page, "Select")
    page.get_by_role("button", name="Find spaces").click()
    expect(page.get_by_text("2 new spaces found")).to_be_visible()
    tool(page, "No-go area")
    page.get_by_label("Which no-go area").select_option("damp")
    for corner in ((1.5, 1.5), (3, 1.5), (3, 3)):
        paper.press(*corner)
    page.keyboard.press("Enter")
    tool(page, "Line")
    page.get_by_label("Which line").select_option("cable")
    paper.press(2, 5)
    paper.press(4, 5.5)
    page.keyboard.press("Enter")
    tool(page, "Pathway")
    page.get_by_label("Which pathway").select_option("tray")
    paper.press(6, 5)
    paper.press(8, 5.5)
    page.keyboard.press("Enter")
    tool(page, "Fixture")
    page.get_by_label("Which fixture").select_option("electrical-panel")
    paper.press(8, 2)
    tool(page, "Curved wall")
    paper.press(9, 3)
    paper.press(10.5, 4)
    paper.press(9, 5)
    computed(page)
    page.get_by_role("button", name="Copy storey").click()
    computed(page)
    job = job_of(page, kept)
    assert len(job.storeys) == 2
    ground = [w for w in job.of(Wall) if w.storey_id == job.storeys[0].id]
    straight = [w for w in ground if not w.label.startswith("Curved")]
    assert len(straight) == 5
    assert {w.thickness_m for w in straight} == {0.3}
    assert len(ground) > 10
    assert [o.opening_kind for o in job.of(Opening)] == ["opening", "opening"]
    assert len(job.of(Space)) == 4
    assert [n.reason for n in job.of(NoGo)] == ["damp"]
    assert [line.line_kind for line in job.of(Line)] == ["cable"]
    assert [(way.pathway_kind, len(way.path), way.label) for way in job.of(Pathway)] == [
        ("tray", 2, "Tray 1")
    ]
    assert [f.fixture_kind for f in job.of(Fixture)] == ["electrical-panel"]


def test_an_end_is_dragged_by_its_handle_and_what_meets_it_comes_along(page: Page, kept):
    start(page, "Handles")
    tool(page, "Wall")
    paper = Paper(page)
    for corner in ((2, 2), (8, 2), (8, 6)):
        paper.press(*corner)
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    paper.press(4, 2)
    handle = page.locator('.handles rect[data-end="b"]').bounding_box()
    page.mouse.move(handle["x"] + 5, handle["y"] + 5)
    page.mouse.down()
    page.mouse.move(*paper.at(9, 3), steps=4)
    page.mouse.up()
    computed(page)
    first, second = job_of(page, kept).of(Wall)
    assert (first.b.x_m, first.b.y_m) == pytest.approx((9, 3), abs=0.2)
    assert (second.a.x_m, second.a.y_m) == (first.b.x_m, first.b.y_m)


def test_many_are_boxed_changed_copied_and_removed_together(page: Page, fresh, kept):
    open_job(page, fresh)
    stage(page, "2")
    paper = Paper(page)
    page.keyboard.down("Shift")
    page.mouse.move(*paper.at(14.5, 9.4))
    page.mouse.down()
    page.mouse.move(*paper.at(27, 14.2), steps=5)
    page.mouse.up()
    page.keyboard.up("Shift")
    many = page.get_by_role("region", name="Many selected")
    expect(many).to_contain_text("selected")
    before = len(job_of(page, kept).elements)
    many.get_by_label("Step across").fill("0")
    many.get_by_label("Step down").fill("40")
    many.get_by_label("Columns").fill("1")
    many.get_by_label("Rows").fill("2")
    many.get_by_role("button", name="Copy", exact=True).click()
    computed(page)
    assert len(job_of(page, kept).elements) > before + 5
    many.get_by_role("button", name="Remove all").click()
    expect(many).to_be_hidden()
    computed(page)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    computed(page)
    assert len(job_of(page, kept).elements) == before


def test_a_build_up_gets_own_figures_and_goes_back_to_the_librarys(page: Page, fresh, kept):
    open_job(page, fresh)
    stage(page, "2")
    page.get_by_role("tab", name="Build-ups").click()
    page.get_by_role("button", name="Dense block 100 mm").click()
    page.get_by_label("Loss at 5 GHz").fill("20")
    page.get_by_label("Loss at 5 GHz").blur()
    computed(page)
    (own,) = job_of(page, kept).of(OwnBuildUp)
    assert (own.code, own.loss_5_db) == ("block-dense-100", 20)
    page.get_by_role("button", name="Add a layer").click()
    page.get_by_label("Thickness of layer 1").fill("215")
    page.get_by_label("Thickness of layer 1").blur()
    expect(page.get_by_text("Layers cost")).to_be_visible()
    page.get_by_role("button", name="As in the library").click()
    computed(page)
    assert job_of(page, kept).of(OwnBuildUp) == ()


def test_a_build_up_of_the_jobs_own_is_given_to_a_wall(page: Page, fresh, kept):
    open_job(page, fresh)
    stage(page, "2")
    page.get_by_role("tab", name="Build-ups").click()
    page.get_by_role("button", name="Add a build-up").click()
    expect(page.get_by_role("heading", name="Own build-up 1")).to_be_visible()
    page.get_by_role("tab", name="Build-ups").click()
    wall = next(w for w in job_of(page, kept).of(Wall) if w.label == "Hall east wall")
    Paper(page).press((wall.a.x_m + 3 * wall.b.x_m) / 4, (wall.a.y_m + 3 * wall.b.y_m) / 4)
    page.get_by_role("combobox", name="Build-up").select_option(label="Own build-up 1")
    computed(page)
    assert job_of(page, kept).by_id[wall.id].build_up == "own-1"


def test_the_look_shows_the_building_and_leads_back_to_the_sheet(page: Page, fresh):
    open_job(page, fresh)
    page.keyboard.press("v")
    look = page.get_by_role("group", name="The building in three dimensions")
    expect(look.locator("canvas")).to_be_visible()
    page.get_by_label("Storeys apart").fill("2.2")
    page.get_by_role("slider", name="Cut through the building").fill("60")
    look.focus()
    page.keyboard.press("ArrowLeft")
    box = look.bounding_box()
    page.mouse.dblclick(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator(".sheet")).to_be_visible()
    page.keyboard.press("v")
    expect(look).to_be_visible()
    page.keyboard.press("v")
    expect(page.locator(".sheet")).to_be_visible()


def test_a_storey_goes_out_in_open_formats(page: Page, fresh):
    open_job(page, fresh)
    stage(page, "2")
    with page.expect_download() as got:
        page.get_by_label("Save the drawing as").select_option("geojson")
    kinds = {f["properties"]["kind"] for f in json.loads(got.value.path().read_text("utf-8"))["features"]}
    assert kinds == {"wall", "door", "window", "space"}
