"""Links: an outbuilding's ways compared, one of them chosen, and taken back."""

import re

import pytest
from demo.withy_mill import withy_mill
from playwright.sync_api import Page, expect

from heathrise.core.cabling.drilling import drill_list
from heathrise.core.findings import assess
from heathrise.core.job import AccessPoint, Link
from heathrise.core.library import library
from heathrise.store.jobs import load_job
from tests.e2e.screen import OVERFLOW, Paper, computed, open_job, stage, tool

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
    mains = page.get_by_role("rowheader", name="Over the mains wiring", exact=True)
    expect(panel.get_by_role("row").filter(has=mains)).to_contain_text("boards of their own")
    panel.get_by_role("button", name="Radio bridge at 60 GHz", exact=True).click()
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


def test_an_outbuilding_goes_to_a_chosen_bridge_with_its_path_and_back(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    stage(page, "4")
    page.get_by_role("tab", name="Ways", exact=True).click()
    panel = page.get_by_role("region", name="Ways", exact=True)
    panel.get_by_label("Ways to").select_option("Portable")
    panel.get_by_role("button", name="Use Radio bridge at 60 GHz").click()
    expect(panel.get_by_role("row").filter(has_text="Radio bridge at 60 GHz")).to_contain_text("taken")
    expect(page.locator('[data-rule="links.earths-joined"]')).to_have_count(0)
    expect(page.locator(".ridge")).to_contain_text("by air, 1 000 Mb/s")
    computed(page)
    found = assess(job_of(page, kept))
    chain = next(c for c in found.chains if c.label == "Portable")
    assert "Bridge to Portable" in chain.way
    assert not [f.text for f in found.findings if f.rule == "links.earths-joined"]

    page.get_by_role("tab", name="Paths", exact=True).click()
    paths = page.get_by_role("region", name="Paths", exact=True)
    expect(paths.get_by_role("img")).to_have_attribute("aria-label", re.compile("Path of Bridge to Portable"))
    paths.get_by_text("The path as measured").click()
    typed = paths.get_by_role("textbox")
    typed.fill("0; 2\n300; 1\n200; 3")
    paths.get_by_role("button", name="Take this path").click()
    expect(paths.get_by_role("alert")).to_contain_text("out of order: 200 m stands after 300 m")
    expect(typed).to_have_value("0; 2\n300; 1\n200; 3")
    page.get_by_role("tab", name="Ways", exact=True).click()
    page.get_by_role("tab", name="Paths", exact=True).click()
    paths.get_by_text("The path as measured").click()
    expect(typed).to_have_value("0; 2\n300; 1\n200; 3")
    typed.fill("0; 2\n150; 1; 6\n300; 3")
    paths.get_by_role("button", name="Take this path").click()
    expect(paths.get_by_role("alert")).to_have_count(0)
    expect(paths).to_contain_text("300 m")
    assert page.evaluate(OVERFLOW) == []

    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.locator('[data-rule="links.earths-joined"]')).to_be_visible()
    expect(page.locator(".ridge")).to_have_count(0)
    computed(page)
    assert not [link for link in job_of(page, kept).of(Link) if link.medium == "bridge"]
    assert strict() == []


def test_an_outbuilding_that_is_drawn_here_gets_fibre_and_then_a_bridge_in_its_place(
    page: Page, fresh, kept, strict
):
    open_job(page, fresh)
    stage(page, "2")
    paper = Paper(page)
    tool(page, "Wall")
    corners = ((2, 24), (8, 24), (8, 30), (2, 30))
    for corner in (*corners, corners[0]):
        paper.press(*corner)
    page.keyboard.press("Enter")
    tool(page, "Space")
    for corner in corners:
        paper.press(*corner)
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    computed(page)
    house = page.get_by_role("textbox", name="House")
    house.fill("Bicycle shed")
    house.press("Enter")
    house.blur()
    stage(page, "3")
    tool(page, "Access point")
    Paper(page).press(5, 27)
    page.keyboard.press("Escape")
    computed(page)
    point = max(job_of(page, kept).of(AccessPoint), key=lambda e: e.order)
    assert not [link for link in job_of(page, kept).of(Link) if link.b.on == point.id]

    stage(page, "4")
    page.get_by_role("tab", name="Ways", exact=True).click()
    panel = page.get_by_role("region", name="Ways", exact=True)
    panel.get_by_label("Ways to").select_option(point.label)
    expect(panel).to_contain_text("Main house to Bicycle shed")
    panel.get_by_role("button", name="Use Fibre, mains at the far end").click()
    expect(panel.get_by_role("row").filter(has_text="Fibre, mains")).to_contain_text("taken")
    computed(page)
    found = assess(job_of(page, kept))
    assert medium_of(page, kept, point.label) == "fibre"
    assert next(c for c in found.chains if c.element_id == point.id).holds

    panel.get_by_role("button", name="Use Radio bridge at 5 GHz").click()
    expect(panel.get_by_role("row").filter(has_text="Radio bridge at 5 GHz")).to_contain_text("taken")
    computed(page)
    found = assess(job_of(page, kept))
    chain = next(c for c in found.chains if c.element_id == point.id)
    assert f"Bridge to {point.label}" in chain.way
    assert medium_of(page, kept, point.label) == "copper"
    assert strict() == []


def test_a_point_hangs_on_another_by_air_and_gets_its_cable_back_by_undo(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    stage(page, "4")
    page.get_by_role("tab", name="Mesh").click()
    mesh = page.get_by_role("region", name="Mesh")
    expect(mesh).to_contain_text("Every access point has a cable")
    page.get_by_role("tab", name="Ways", exact=True).click()
    ways = page.get_by_role("region", name="Ways", exact=True)
    ways.get_by_label("Ways to").select_option("Ensemble")
    ways.get_by_role("button", name="Use Wireless mesh hop").click()
    hop = page.get_by_role("rowheader", name="Wireless mesh hop")
    expect(ways.get_by_role("row").filter(has=hop)).to_contain_text("taken")
    computed(page)
    found = assess(job_of(page, kept))
    node = next(n for n in found.meshes if n.label == "Ensemble")
    assert node.holds
    assert node.same_channel
    chain = next(c for c in found.chains if c.label == "Ensemble")
    assert chain.holds
    assert chain.speed_mbps == int(node.mbps)
    # The sheet and the margin say by what it hangs, and each figure opens.
    expect(page.locator("svg").get_by_text(f"by air, {node.mbps:.0f}").first).to_be_visible()
    page.get_by_role("tab", name="Mesh").click()
    row = mesh.get_by_role("row").filter(has_text="Ensemble")
    expect(row).to_contain_text(node.parent_label)
    row.get_by_role("button", name=re.compile("dBm")).click()
    card = page.get_by_label("The sum behind a number")
    expect(card).to_contain_text("EIRP of the quieter way")
    card.get_by_role("button", name="Close the sum").click()
    assert page.evaluate(OVERFLOW) == []
    assert strict() == []
    page.keyboard.press("Control+z")
    expect(mesh).to_contain_text("Every access point has a cable")
    computed(page)
    assert medium_of(page, kept, "Ensemble") == "copper"


def test_a_boat_store_past_plain_reach_gets_boxes_on_its_way(page: Page, brought, kept):
    # Under a name of its own: other tests look for the demo's by name.
    open_job(page, brought(withy_mill().model_copy(update={"name": "Mill down the bank"})))
    stage(page, "4")
    page.get_by_role("tab", name="Ways", exact=True).click()
    ways = page.get_by_role("region", name="Ways", exact=True)
    ways.get_by_label("Ways to").select_option("Boat store")
    ways.get_by_role("button", name="Use Chain of powered extenders").click()
    row = ways.get_by_role("row").filter(has=page.get_by_role("rowheader", name="Chain of powered extenders"))
    expect(row).to_contain_text("taken")
    computed(page)
    found = assess(job_of(page, kept))
    run = next(r for r in found.runs if r.to_label == "Boat store")
    assert run.holds
    assert len(run.boxes) == 1
    assert next(f for f in found.feeds if f.run_id == run.run_id).holds


def test_a_switch_failed_shows_who_is_cut_off_and_what_takes_over(page: Page, fresh, strict):
    open_job(page, fresh)
    stage(page, "4")
    page.get_by_role("tab", name="What fails", exact=True).click()
    panel = page.get_by_role("region", name="What fails", exact=True)
    panel.get_by_role("combobox").select_option("Cable")
    expect(panel.get_by_role("row").filter(has_text="switch")).to_have_count(0)
    panel.get_by_role("button", name="Show R-06 failed").click()
    expect(panel.get_by_role("row").filter(has_text="R-06")).to_contain_text("1: Practice row")
    expect(panel.locator(".more")).to_contain_text("still served")
    expect(panel.locator(".more")).to_contain_text("at its edge")
    expect(page.locator(".failing .cut")).to_have_count(1)
    assert strict() == []
    panel.get_by_role("button", name="Show R-06 failed").click()
    expect(page.locator(".failing")).to_have_count(0)


def test_the_network_is_drawn_and_leaves_as_a_paper(page: Page, fresh, strict):
    open_job(page, fresh)
    stage(page, "4")
    page.get_by_role("tab", name="River map", exact=True).click()
    panel = page.get_by_role("region", name="River map", exact=True)
    panel.get_by_role("button", name=re.compile("^SW1,")).click()
    expect(page.locator(".card h2")).to_have_text("SW1")
    expect(panel).to_contain_text("R-02, Cat 6A")
    assert strict() == []
    with page.expect_download() as saved:
        panel.get_by_label("Save the network as").select_option("PDF A3")
    assert saved.value.suggested_filename == "tern-lane-music-school.network.pdf"
    stage(page, "5")
    with page.expect_download() as saved:
        page.get_by_label("Save the runs as").select_option("Schedule, XLSX")
    assert saved.value.suggested_filename.endswith(".xlsx")


def test_a_run_is_dragged_another_way_released_by_undo_and_led_by_figures(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    stage(page, "5")
    sheet = page.locator(".sheet")
    run = next(plan for plan in assess(job_of(page, kept)).runs if plan.to_label == "Theory")
    leg = next(leg for leg in run.legs if leg.z0_m == leg.z1_m and leg.length_m > 6)
    paper = Paper(page)
    x, y = paper.at((leg.a.x_m + leg.b.x_m) / 2, (leg.a.y_m + leg.b.y_m) / 2)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 20, y + 12, steps=3)
    page.mouse.move(x + 30, y + 25, steps=3)
    expect(sheet.locator(".detour text")).to_contain_text(" of ")
    page.mouse.up()
    expect(sheet.locator(".pin[data-pin]")).to_have_count(1)
    computed(page)
    pinned = [link for link in job_of(page, kept).of(Link) if link.pins]
    assert len(pinned) == 1
    led = page.get_by_text("Led by 1 of your pins")
    expect(led).to_be_visible()
    page.keyboard.press("Control+z")
    expect(sheet.locator(".pin[data-pin]")).to_have_count(0)
    computed(page)
    assert not [link for link in job_of(page, kept).of(Link) if link.pins]

    page.get_by_text("Finds its own way").click()
    page.get_by_role("button", name="Pin its longest part").click()
    across = page.get_by_role("group", name="Pin 1").get_by_label("Across")
    expect(across).to_be_visible()
    before = next(plan for plan in assess(job_of(page, kept)).runs if plan.run_id == pinned[0].id).length_m
    across.fill("15")
    across.press("Enter")
    computed(page)
    job = job_of(page, kept)
    (link,) = [link for link in job.of(Link) if link.pins]
    assert link.pins[0].at.x_m == 15
    after = next(plan for plan in assess(job).runs if plan.run_id == link.id).length_m
    assert after != before
    page.get_by_role("button", name="Release pin 1").click()
    computed(page)
    assert not [link for link in job_of(page, kept).of(Link) if link.pins]
    assert strict() == []


def test_a_pathway_worth_making_is_looked_at_and_made(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    stage(page, "5")
    page.get_by_role("tab", name="Pathways to make").click()
    panel = page.get_by_role("region", name="Pathways to make")
    tray = panel.get_by_role("button", name="tray", exact=True)
    tray.click()
    expect(tray).to_have_attribute("aria-pressed", "true")
    assert page.evaluate(OVERFLOW) == []
    assert strict() == []
    before = panel.get_by_role("button", name=re.compile("^Make the")).count()
    panel.get_by_role("button", name=re.compile("^Make the tray")).click()
    expect(panel.get_by_role("button", name=re.compile("^Make the"))).to_have_count(before - 1)
    computed(page)
    found = assess(job_of(page, kept))
    made = next(p for p in found.pathways if p.label == "Tray 1")
    assert len(made.run_ids) >= 8
    assert next(line for line in found.kit if line.item == "tray-m").order >= 3


def test_the_drill_list_says_what_is_drilled_where_and_for_whom(page: Page, fresh, kept, strict):
    open_job(page, fresh)
    stage(page, "5")
    page.get_by_role("tab", name="Drill list", exact=True).click()
    panel = page.get_by_role("region", name="Drill list", exact=True)
    job = job_of(page, kept)
    listed = drill_list(job, assess(job).runs)
    expect(panel).to_contain_text(f"{len(listed.holes)} holes")
    expect(panel.locator("tbody tr:has(.made)")).to_have_count(len(listed.holes))
    panel.locator(".run").first.click()
    expect(page.locator(".card h2")).to_contain_text("R-")
    assert page.evaluate(OVERFLOW) == []
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
