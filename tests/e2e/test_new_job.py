"""Point 2: a new job from a picture to a kit list."""

import io

import pytest
from PIL import Image, ImageDraw
from playwright.sync_api import Page, expect

from heathrise.core.job import AccessPoint, Link, Network, Opening, Rack, Riser, Space, Storey, Underlay, Wall
from heathrise.store.jobs import load_job
from tests.e2e.screen import Paper, computed, stage, tool

pytestmark = pytest.mark.e2e


def plan_picture() -> bytes:
    """A drawing of 12 x 8 m at 50 pixels a metre, 1 m of margin."""
    image = Image.new("RGB", (700, 500), "white")
    pen = ImageDraw.Draw(image)
    pen.rectangle((50, 50, 650, 450), outline="black", width=6)
    pen.line((350, 50, 350, 450), fill="black", width=4)
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def start(page: Page, name: str) -> None:
    page.goto("/")
    page.get_by_label("Name of the job").fill(name)
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("heading", name=name)).to_be_visible()
    expect(page.locator(".spine button[aria-current=step]")).to_contain_text("Plan")
    computed(page)


def job_of(page: Page, kept):
    with kept.transaction() as session:
        return load_job(session, page.url.split("/")[-1]).job


def test_a_job_from_picture_to_kit_list(page: Page, kept):
    start(page, "Quarry Cottage")
    page.get_by_label("Add a drawing").set_input_files(
        {"name": "plan.png", "mimeType": "image/png", "buffer": plan_picture()}
    )
    expect(page.locator("image.underlay")).to_be_visible()
    computed(page)

    # Its scale: the long side is known to be 12 m. Unscaled it is shown at 0.02 m a pixel.
    paper = Paper(page)
    paper.press(1, 1)
    paper.press(13, 1)
    page.get_by_label("Known length").fill("12")
    page.get_by_role("button", name="Set", exact=True).click()
    computed(page)
    (underlay,) = job_of(page, kept).of(Underlay)
    assert underlay.metres_per_px == pytest.approx(0.02, rel=0.02)

    # Walls round the outside, one length typed, one build-up chosen.
    tool(page, "Wall")
    page.get_by_label("Which wall").select_option("cavity")
    paper = Paper(page)
    for corner in ((1, 1), (13, 1), (13, 9), (1, 9), (1, 1)):
        paper.press(*corner)
    page.keyboard.press("Enter")
    page.get_by_label("Which wall").select_option("brick-102")
    paper.press(7, 1)
    page.mouse.move(*paper.at(7, 5))
    page.keyboard.type("8")
    page.keyboard.press("Enter")
    page.keyboard.press("Enter")
    tool(page, "Door")
    paper.press(7, 4)
    tool(page, "Space")
    for left, right in ((1, 7), (7, 13)):
        for corner in ((left, 1), (right, 1), (right, 9), (left, 9)):
            paper.press(*corner)
        page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    tool(page, "Rack")
    paper.press(2, 2)
    tool(page, "Service entry")
    paper.press(1.4, 1.4)
    computed(page)
    job = job_of(page, kept)
    walls = job.of(Wall)
    assert sorted(round(wall.length_m, 1) for wall in walls) == pytest.approx([8, 8, 8, 12, 12], abs=0.3)
    assert min(abs(wall.length_m - 8) for wall in walls if wall.build_up == "brick-102") < 1e-6
    assert [o.wall_id for o in job.of(Opening)] == [w.id for w in walls if w.build_up == "brick-102"]
    assert len(job.of(Space)) == 2
    assert job.of(Rack)

    # A storey above and a riser to it.
    page.get_by_role("button", name="Add a storey").click()
    computed(page)
    page.keyboard.press("[")
    tool(page, "Riser")
    paper.press(2, 3)
    computed(page)
    assert len(job_of(page, kept).of(Storey)) == 2
    assert len(job_of(page, kept).of(Riser)) == 1

    # Two access points, their runs, a switch from the finding's fix, networks, the kit list.
    stage(page, "3")
    tool(page, "Access point")
    paper = Paper(page)
    paper.press(4, 5)
    paper.press(10, 5)
    page.keyboard.press("Escape")
    stage(page, "5")
    page.get_by_role("button", name="Run cables to everything").click()
    computed(page)
    stage(page, "6")
    page.get_by_role("button", name="Add Switch, 8 x 1G, 4 powered").click()
    computed(page)
    stage(page, "7")
    page.get_by_role("button", name="Propose networks").click()
    computed(page)
    stage(page, "8")
    page.get_by_role("tab", name="Kit").first.click()
    expect(page.get_by_role("cell", name="Ceiling AP, Wi-Fi 6, 2x2")).to_be_visible()
    job = job_of(page, kept)
    assert len(job.of(AccessPoint)) == 2
    # The house practice runs two cables to each.
    assert len(job.of(Link)) == 4
    assert {n.purpose for n in job.of(Network)} == {"main", "guest", "things", "cameras"}
    expect(page.locator('.ledger [data-key="spaces"]')).to_contain_text("2 / 2")
    expect(page.locator('.ledger [data-key="ports"]')).to_contain_text("2 / 8")


def test_a_wall_is_drawn_from_the_keyboard_alone(page: Page, kept):
    start(page, "Keys only")
    page.keyboard.press("w")
    page.locator(".sheet").focus()
    page.keyboard.press("ArrowRight")
    # What a browser sends when the page changes under a pointer that rests on it.
    page.locator(".sheet").dispatch_event("pointermove", {"clientX": 500, "clientY": 300})
    page.keyboard.press("Enter")
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    computed(page)
    (wall,) = job_of(page, kept).of(Wall)
    assert wall.length_m == pytest.approx(4, abs=0.06)


def test_a_wall_of_no_length_and_a_scale_of_zero_are_refused_on_the_sheet(page: Page, kept):
    start(page, "Slips")
    tool(page, "Wall")
    paper = Paper(page)
    paper.press(3, 3)
    paper.press(3, 3)
    expect(page.get_by_role("alert")).to_contain_text("no length")
    page.get_by_label("Add a drawing").set_input_files(
        {"name": "plan.png", "mimeType": "image/png", "buffer": plan_picture()}
    )
    expect(page.locator("image.underlay")).to_be_visible()
    computed(page)
    paper = Paper(page)
    paper.press(1, 1)
    paper.press(5, 1)
    page.get_by_label("Known length").fill("0")
    page.get_by_role("button", name="Set", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("above zero")
    assert job_of(page, kept).of(Underlay)[0].metres_per_px is None
    assert job_of(page, kept).of(Wall) == ()


def test_a_file_that_is_no_picture_is_refused_on_the_sheet(page: Page):
    start(page, "Wrong file")
    page.get_by_label("Add a drawing").set_input_files(
        {"name": "plan.png", "mimeType": "image/png", "buffer": b"hello"}
    )
    expect(page.get_by_role("alert")).to_contain_text("neither PNG, JPEG nor PDF")


def test_a_job_needs_a_name(page: Page):
    page.goto("/")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("alert")).to_contain_text("Give the job a name")
