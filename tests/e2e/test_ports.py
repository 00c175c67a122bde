"""Power, ports and racks: patched anew, dragged, over budget, one too many, too few ports, a rack arranged and printed."""

import pypdfium2
import pytest
from playwright.sync_api import Locator, Page, expect

from heathrise.core.findings import assess
from heathrise.core.job import Equipment, Link, Rack
from heathrise.store.jobs import load_job
from tests.e2e.screen import OVERFLOW, computed, open_job, stage
from tests.school import badly_patched, starved

pytestmark = pytest.mark.e2e


def job_of(page: Page, kept):
    with kept.transaction() as session:
        return load_job(session, page.url.split("/")[-1]).job


def rules_of(page: Page, kept) -> list[str]:
    return [f.rule for f in assess(job_of(page, kept)).findings]


def port_of(page: Page, kept, run: str) -> str:
    """The switch and port a run is on."""
    job = job_of(page, kept)
    end = next(link for link in job.of(Link) if link.label == run).a
    return f"{job.by_id[end.on].label}/{end.port}"


def panel(page: Page, name: str) -> Locator:
    """A tab of the drawer, opened."""
    stage(page, "6")
    page.get_by_role("tab", name=name, exact=True).click()
    return page.get_by_role("region", name=name, exact=True)


def socket(page: Page, name: str) -> Locator:
    """A port of a front."""
    switch, _, port = name.partition("/")
    return page.get_by_role("button", name=f"Port {switch}/{port},")


def checked(page: Page, strict) -> None:
    """Nothing runs out of its box, and axe has nothing to say."""
    assert page.evaluate(OVERFLOW) == []
    assert strict() == []


def test_ports_are_given_out_anew_by_the_patches_that_move_and_put_back_by_undo(
    page: Page, brought, kept, strict
):
    open_job(page, brought(badly_patched()))
    anew = panel(page, "Re-patch")
    fed = page.get_by_role("row", name="devices under-fed").get_by_role("cell")
    expect(fed.nth(0)).to_have_text("1")
    expect(fed.nth(1)).to_have_text("0")
    checked(page, strict)
    assert "power.device-under-fed" in rules_of(page, kept)
    move = anew.get_by_role("button", name="Move")
    move.click()
    expect(anew).to_contain_text("No patch need move")
    computed(page)
    assert "power.device-under-fed" not in rules_of(page, kept)
    page.keyboard.press("Control+z")
    expect(move).to_be_visible()
    computed(page)
    assert "power.device-under-fed" in rules_of(page, kept)


def test_a_cable_is_dragged_to_a_free_port_and_another_moved_by_keys_alone(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    panel(page, "Fronts")
    checked(page, strict)
    start, end = port_of(page, kept, "R-28"), "SW1/24"
    socket(page, start).drag_to(socket(page, end))
    expect(page.get_by_role("button", name="Port SW1/24, R-28 to")).to_be_visible()
    computed(page)
    assert port_of(page, kept, "R-28") == end
    # By keys: taken with Enter, carried by arrows, put down with Enter; where one is already the two trade.
    one, other = socket(page, "SW1/1"), socket(page, "SW1/2")
    one.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Holding R-03")).to_be_visible()
    page.keyboard.press("ArrowRight")
    expect(other).to_be_focused()
    page.keyboard.press("Enter")
    computed(page)
    assert (port_of(page, kept, "R-03"), port_of(page, kept, "R-04")) == ("SW1/2", "SW1/1")
    page.keyboard.press("Control+z")
    computed(page)
    assert (port_of(page, kept, "R-03"), port_of(page, kept, "R-04")) == ("SW1/1", "SW1/2")


def test_one_device_too_many_is_mended_by_the_way_out_that_is_chosen(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    panel(page, "Fronts")
    socket(page, "SW2/2").drag_to(socket(page, "SW1/8"))
    computed(page)
    assert "power.device-under-fed" in rules_of(page, kept)
    loads = panel(page, "Loads")
    ways = loads.get_by_role("region", name="Ways out for Hall east")
    expect(ways).to_contain_text("asks for class 5 and gets class 4")
    expect(ways).to_contain_text("the 6 GHz radio off")
    expect(ways).to_contain_text("mains last")
    checked(page, strict)
    ways.get_by_role("button", name="Choose: Injector").click()
    expect(ways).to_have_count(0)
    computed(page)
    assert "power.device-under-fed" not in rules_of(page, kept)
    # Drawn with its outlet, and with what to mind.
    page.locator(".thing[data-label='Hall east']").click()
    feed = panel(page, "A feed")
    feed.get_by_label("Run").select_option(label="R-02")
    expect(feed).to_contain_text("Wants a mains outlet beside it")
    expect(feed).not_to_contain_text("runs with less")
    expect(feed).to_contain_text("mains last")
    checked(page, strict)


def test_over_its_budget_a_switch_says_who_goes_first_and_what_another_takes_over(
    page: Page, brought, kept, strict
):
    open_job(page, brought(starved()))
    loads = panel(page, "Loads")
    most = loads.get_by_role("row", name="Everything at its most").filter(has_text="lets go of")
    expect(most).to_have_count(1)
    expect(most).to_contain_text("high")
    expect(loads.get_by_role("row", name="SW1 lost")).to_contain_text("SW2 can take over nothing")
    checked(page, strict)
    most.get_by_role("button", name="everything at its most").click()
    card = page.get_by_role("complementary", name="The sum behind a number")
    expect(card).to_contain_text("limit")
    most.get_by_role("button", name="given back when it is let go").first.click()
    expect(card).to_contain_text("loop of its cable")
    page.get_by_role("button", name="Close the sum").click()
    assert "power.budget-over" in rules_of(page, kept)
    anew = panel(page, "Re-patch")
    expect(
        page.get_by_role("row", name="switches over their budget").get_by_role("cell").nth(1)
    ).to_have_text("0")
    anew.get_by_role("button", name="Move").click()
    computed(page)
    assert "power.budget-over" not in rules_of(page, kept)


def test_with_a_switch_gone_what_finds_no_port_is_named_with_a_way_out(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    racks = panel(page, "Racks")
    racks.get_by_role("button", name="SW1, Switch").click()
    page.get_by_role("button", name="Remove", exact=True).click()
    note = page.locator('.note[data-rule="ports.no-port"]')
    expect(note).to_contain_text("every port of its rack is taken")
    computed(page)
    why = panel(page, "Re-patch").get_by_role("region", name="What cannot all hold")
    expect(why).to_contain_text("each of 28 ends has a port, of 23 in TR1")
    expect(why.get_by_role("button", name="Add Switch").first).to_be_visible()
    checked(page, strict)
    note.get_by_role("button", name="Add Switch").click()
    expect(note).to_have_count(0)
    computed(page)
    assert "ports.no-port" not in rules_of(page, kept)


def test_a_recorder_in_a_rack_is_joined_by_a_cord_and_the_cord_goes_with_it(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    panel(page, "Racks").get_by_label("Add to the rack").select_option(label="Recorder for 8 cameras")
    note = page.locator('.note[data-rule="ports.no-cord"]')
    expect(note).to_contain_text("no cord joins it to a switch")
    note.get_by_role("button", name="Join it by a cord").click()
    expect(note).to_have_count(0)
    patches = panel(page, "Patches")
    row = patches.get_by_role("row", name="C-01")
    expect(row).to_contain_text("in the rack")
    checked(page, strict)
    row.get_by_role("button", name="C-01").click()
    page.get_by_role("button", name="Undo").click()
    computed(page)
    assert "ports.no-cord" in rules_of(page, kept)


def test_what_is_plugged_into_the_mains_stands_beneath_the_feed(page: Page, fresh, strict):
    open_job(page, fresh)
    mains = panel(page, "A feed").get_by_role("region", name="From the mains")
    expect(mains.get_by_role("row", name="UPS1")).to_contain_text("TR1")
    expect(mains).to_contain_text("licensed electrician")
    mains.get_by_role("button", name="at the most").click()
    expect(page.get_by_role("complementary", name="The sum behind a number")).to_contain_text("UPS1")
    checked(page, strict)


def test_a_rack_is_arranged_by_drag_and_by_keys_and_printed(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    racks = panel(page, "Racks")
    strip = racks.get_by_role("button", name="Strip 1, Power strip")
    strip.scroll_into_view_if_needed()
    unit = int(strip.get_attribute("data-unit"))
    strip.press("ArrowDown")
    expect(strip).to_have_attribute("data-unit", str(unit - 1))
    box = strip.bounding_box()
    page.mouse.move(box["x"] + 30, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 30, box["y"] + box["height"] * 3.5, steps=4)
    page.mouse.up()
    expect(strip).to_have_attribute("data-unit", str(unit - 4))
    computed(page)
    job = job_of(page, kept)
    assert next(e for e in job.of(Equipment) if e.label == "Strip 1").place.unit == unit - 4
    checked(page, strict)
    racks.get_by_role("button", name="Arrange anew").click()
    expect(strip).to_have_attribute("data-unit", str(unit))
    computed(page)
    with page.expect_download() as download:
        racks.get_by_label("Save the racks as").select_option(label="PDF A4")
    text = "".join(
        sheet.get_textpage().get_text_range()
        for sheet in pypdfium2.PdfDocument(download.value.path().read_bytes())
    )
    for words in ("TR1, front", "TR1, rear", "1:", "Strip 1", "380 mm deep", "Patches", "blue"):
        assert words in text


def test_how_long_a_rack_runs_alone_is_asked_for_and_a_supply_taken(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    alone = panel(page, "Battery")
    expect(alone.get_by_role("row", name="What must")).to_contain_text("Foyer")
    checked(page, strict)
    wanted = alone.get_by_label("min alone")
    wanted.fill("120")
    wanted.press("Enter")
    computed(page)
    assert "standby.too-short" in rules_of(page, kept)
    alone.get_by_role("button", name="Take Battery supply 1000 W").click()
    computed(page)
    job = job_of(page, kept)
    assert "standby.too-short" not in rules_of(page, kept)
    assert job.of(Rack)[0].keeps_min == 120
    assert [e.label for e in job.of(Equipment) if job.equipment[e.model].keeps_running] == ["UPS1"]


def test_the_patches_are_listed_with_their_cords_and_saved_as_a_table(page: Page, fresh, strict):
    open_job(page, fresh)
    patches = panel(page, "Patches")
    expect(patches).to_contain_text("× 0.5 m blue")
    expect(patches.get_by_role("row", name="R-01")).to_contain_text("PP1")
    checked(page, strict)
    with page.expect_download() as download:
        patches.get_by_label("Save the patches as").select_option(label="CSV")
    lines = download.value.path().read_text("utf-8-sig").splitlines()
    assert lines[0].startswith("rack,run,to,panel")
    assert len(lines) == 29
