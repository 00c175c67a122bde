"""What clients really send, from the file to placed points: a sheet of two storeys, pages, a photographed leaflet, a list."""

import time

import pytest
from benchmarks.hands.strokes import Habit, strokes
from benchmarks.hands.truth import corridor, house
from benchmarks.hands.writers import dxf, pdf, picture
from playwright.sync_api import Page, expect

from heathrise.core.job import AccessPoint, Equipment, Opening, Space, Storey, Underlay, Wall
from tests.e2e.screen import computed, stage
from tests.e2e.test_first_minute import Hand
from tests.e2e.test_new_job import job_of, start
from tests.e2e.test_plan import card, send

pytestmark = pytest.mark.e2e

NAMES = ("Corridor", "Office", "Meeting", "Store", "Kitchen", "Laboratory", "Classroom")
LAYERS = {
    "wall": "WALLS",
    "door": "DOORS",
    "window": "GLAZING",
    "name": "NAMES",
    "furn": "FURNITURE",
    "title": "TITLES",
}


def accept(page: Page) -> None:
    card(page).get_by_role("button", name="Accept").click()
    expect(card(page)).to_be_hidden()
    computed(page)


def go_on_to_points(page: Page, kept, x_m: float, y_m: float) -> None:
    """Follow what is next until points are placed."""
    hand = Hand(page)
    hand.next_step("place for the rack")
    hand.on_sheet(x_m, y_m)
    hand.next_step("where the service enters")
    hand.on_sheet(x_m + 0.9, y_m)
    hand.next_step("each space needs")
    hand.button("Propose from names")
    hand.next_step("Place access points")
    hand.button("Place points")
    use = page.get_by_role("region", name="Placing", exact=True).get_by_role("button", name="Use").first
    expect(use).to_be_enabled(timeout=120_000)
    hand.press(use)
    assert job_of(page, kept).of(AccessPoint)


def test_a_sheet_of_two_storeys_becomes_two_storeys_with_points(page: Page, kept):
    low, up = corridor(NAMES, 21, storey=0), corridor(NAMES, 21, storey=1)
    drawn = strokes(low, Habit(title="Ground floor")) + strokes(up.moved(35, 1), Habit(title="First floor"))
    start(page, "Two on a sheet")
    send(page, "storeys.dxf", dxf(drawn, LAYERS, insunits=4))
    found = card(page).get_by_role("region", name="Storeys found")
    expect(found.get_by_label("Name of storey 1")).to_have_value("Ground floor")
    found.get_by_label("Name of storey 2").fill("Upper floor")
    found.get_by_role("button", name="show", exact=True).click()
    expect(page.locator(".pencil text").filter(has_text="1.01")).to_have_count(1)
    accept(page)
    job = job_of(page, kept)
    assert {s.label: s.elevation_m for s in job.of(Storey)}["Upper floor"] == 3.0
    assert len(job.of(Space)) == 2 * len(NAMES)
    go_on_to_points(page, kept, 5.0, 6.0)


def test_two_pages_become_two_storeys_and_one_is_left_out_by_a_press(page: Page, kept):
    pages = [
        strokes(corridor(NAMES, 22, storey=n), Habit(title=title, frame=True, note="Scale 1:100"))
        for n, title in enumerate(("Ground floor", "First floor"))
    ]
    body = pdf(pages, {"wall": "0.7 w 0 0 0 RG", "frame": "0.5 w"})
    start(page, "Two pages")
    send(page, "pages.pdf", body)
    expect(card(page).locator(".facts")).to_contain_text("1:100")
    expect(card(page).get_by_label("Page of the file")).to_have_value("0")
    card(page).get_by_label("Draw First floor").uncheck()
    expect(card(page).get_by_role("button", name="Accept")).to_contain_text(f"{len(NAMES)} spaces")
    accept(page)
    assert len(job_of(page, kept).of(Space)) == len(NAMES)
    go_on_to_points(page, kept, 5.0, 6.0)


def drag(page: Page, handle, dx: float, dy: float) -> tuple[dict, dict]:
    """Drag a handle, taken hold of beside its middle, and return where it was and is."""
    handle.hover(position={"x": 5, "y": 8})  # waits until the picture is there and the dialog stands still
    before = handle.bounding_box()
    page.mouse.down()
    page.mouse.move(before["x"] + 5 + dx, before["y"] + 8 + dy, steps=4)
    page.mouse.up()
    return before, handle.bounding_box()


def test_a_photographed_leaflet_is_straightened_by_dragged_corners(page: Page, kept):
    plan = house(("Hall", "Bedroom", "Study", "Kitchen", "Lounge", "Office"), 23)
    drawn = strokes(plan, Habit(walls="filled", number="none", measures="m", furniture=False))
    start(page, "Leaflet")
    send(page, "leaflet.jpg", picture(drawn, camera=(22, -14, 4), kind="JPEG", dpi=180, scale=80))
    move = card(page).get_by_role("button", name="Move the corners of the sheet")
    expect(move).to_be_visible(timeout=60_000)  # the recogniser of letters is loaded first
    move.click()
    sheet = page.get_by_role("dialog", name="Corners of the sheet")
    corner = sheet.get_by_role("button", name="Corner upper left")
    # Corners that cross are refused, and what was read before is still there.
    other = sheet.get_by_role("button", name="Corner upper right")
    other.hover()
    drag(page, corner, other.bounding_box()["x"] - corner.bounding_box()["x"] + 40, 0)
    sheet.get_by_role("button", name="Straighten and read again").click()
    expect(card(page).get_by_role("alert")).to_contain_text("do not go round", timeout=60_000)
    card(page).get_by_role("button", name="Go on with what was read before").click()
    move.click()
    before, moved = drag(page, corner, 20, 15)
    assert moved["x"] == pytest.approx(before["x"] + 20, abs=2)
    assert moved["y"] == pytest.approx(before["y"] + 15, abs=2)
    # Dragged too far: arrow keys bring it back to the sheet's own corner, one by one.
    corner.focus()
    while corner.bounding_box()["x"] > before["x"] + 1:
        corner.press("ArrowLeft")
    while corner.bounding_box()["y"] > before["y"] + 1:
        corner.press("ArrowUp")
    sheet.get_by_role("button", name="Straighten and read again").click()
    expect(sheet).to_be_hidden()
    expect(card(page).get_by_role("button", name="Accept")).to_be_enabled(timeout=60_000)
    expect(card(page).get_by_text("straightened by its four corners")).to_be_visible()
    accept(page)
    job = job_of(page, kept)
    assert len(job.of(Underlay)) == 1
    assert len(job.of(Space)) == len(plan.rooms)
    assert len([o for o in job.of(Opening) if o.opening_kind == "door"]) >= len(plan.doors) - 1
    (underlay,) = job.of(Underlay)
    middle = underlay.width_px * underlay.metres_per_px / 2, underlay.height_px * underlay.metres_per_px / 2
    go_on_to_points(page, kept, middle[0] - 0.4, middle[1] + 0.9)


def test_a_device_list_is_counted_and_put_into_its_rooms(page: Page, kept):
    plan = corridor(NAMES, 24)
    start(page, "With a list")
    send(page, "plan.dxf", dxf(strokes(plan, Habit()), LAYERS, insunits=4))
    accept(page)
    stage(page, "1")
    page.get_by_role("tab", name="Devices").click()
    rows = (
        "sep=;\nDevice list, second draft\n\nItem;Qty;Room;MAC Address;Watts\n"
        "Ceiling camera;1;0.01 Corridor;0A-00-00-00-00-01;12\nPrinter;2;Office;;300\nLaptop;24;;;65\n"
        "Ceiling camera;1;0.01 Corridor;0A-00-00-00-00-01;12\nTotal;28;;;\n"
    )
    page.get_by_label("Device list").set_input_files(
        {"name": "devices.csv", "mimeType": "text/csv", "buffer": rows.encode()}
    )
    expect(page.get_by_text("3 rows understood")).to_be_visible()
    expect(page.get_by_text("it was taken once")).to_be_visible()
    expect(page.get_by_text("it sums up other rows")).to_be_visible()
    page.get_by_role("button", name="Take in 3 counts and 3 things").click()
    computed(page)
    job = job_of(page, kept)
    assert [(d.what, d.count) for d in job.brief.devices[-3:]] == [
        ("Ceiling camera", 1),
        ("Printer", 2),
        ("Laptop", 24),
    ]
    things = {thing.label: thing for thing in job.of(Equipment)}
    assert things["Ceiling camera"].mac == "0a:00:00:00:00:01"
    assert {"Printer 1", "Printer 2"} <= set(things)
    stage(page, "2")
    go_on_to_points(page, kept, 5.0, 6.0)


def test_forty_rooms_are_mended_by_hand_in_under_three_minutes(page: Page, kept):
    """A storey whose doors are gaps alone and whose furniture lies on the walls' layer: all alike is put right at once."""
    names = ("Corridor", *(f"Office {n}" for n in range(1, 40)))
    plan = corridor(names, 25, widths=(2.8, 3.4))
    drawn = [s for s in strokes(plan, Habit(furniture=False)) if s.pen != "door"]
    start(page, "Forty rooms")
    send(page, "forty.dxf", dxf(drawn, LAYERS | {"window": "WALLS"}, insunits=4))
    began = time.monotonic()
    doubts = card(page).get_by_role("region", name="To look at first")
    gaps = doubts.get_by_label("gaps taken for passages as")
    doubts.get_by_role("button").filter(has_text="gaps taken for passages").click()
    expect(page.locator(".pencil .opening.lit")).to_have_count(len(plan.doors))
    gaps.select_option("door")
    expect(page.locator(".pencil .opening.door")).to_have_count(len(plan.doors))
    # A single wall is pressed away too.
    walls = page.locator(".pencil .catch")
    walls.first.dispatch_event("click")
    expect(page.locator(".pencil .wall.out")).to_have_count(1)
    # One of those put right together is left out, one by one.
    page.locator(".pencil .opening.door").first.dispatch_event("click")
    expect(page.locator(".pencil .opening.out")).to_have_count(1)
    # Read again for another reason, what was put right stays so.
    card(page).get_by_label("Layer NAMES holds").select_option("ignore")
    expect(page.locator(".pencil text").filter(has_text="Office")).to_have_count(0)
    expect(page.locator(".pencil .wall.out")).to_have_count(1)
    expect(page.locator(".pencil .opening.out")).to_have_count(1)
    walls.first.dispatch_event("click")
    page.locator(".pencil .opening.out").dispatch_event("click")
    expect(page.locator(".pencil .out")).to_have_count(0)
    expect(gaps).to_have_value("door")
    expect(page.locator(".pencil .opening.door")).to_have_count(len(plan.doors))
    accept(page)
    job = job_of(page, kept)
    assert time.monotonic() - began < 180
    assert len(job.of(Space)) == 40
    assert len([o for o in job.of(Opening) if o.opening_kind == "door"]) == len(plan.doors)
    assert len(job.of(Wall)) > 40
