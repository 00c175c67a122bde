"""Stage 7 in a browser: networks, flows, names by point, addresses; and each demo job brought on against a simulated
controller, from fresh out of its box to as planned.
"""

import re

import pytest
from demo.load import JOBS
from playwright.sync_api import Page, expect
from sqlalchemy import text

from heathrise.core.job import Equipment, FixedAddress, Flow, Network, Ssid
from tests.e2e.screen import computed, job_of, saved, stage, tab

pytestmark = pytest.mark.e2e
SECRET = "Otter-Lantern-Quill-58"


def at_network(page: Page, address: str) -> None:
    page.goto(address)
    computed(page)
    stage(page, "7")


def test_a_cell_is_pressed_read_in_words_and_undone(page, fresh, kept, strict):
    at_network(page, fresh)
    tab(page, "Who reaches whom")
    cell = page.get_by_role("button", name=re.compile("^Things to School: may not"))
    cell.click()
    expect(page.get_by_role("button", name=re.compile("^Things to School: may open"))).to_be_visible()
    expect(page.get_by_text("Things may open connections to School and the internet")).to_be_visible()
    saved(page)
    assert [flow.allowed for flow in job_of(kept, fresh).of(Flow)] == [True]
    assert strict() == []
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Things to School: may not"))).to_be_visible()
    saved(page)
    assert job_of(kept, fresh).of(Flow) == ()


def test_a_name_is_taken_off_a_point_and_its_port_lets_go_of_the_network(page, fresh, kept, strict):
    at_network(page, fresh)
    tab(page, "Names by point")
    page.get_by_role("button", name="tern-lane-guest at Foyer").click()
    expect(page.get_by_role("button", name="tern-lane-guest at Foyer")).to_have_attribute(
        "aria-pressed", "false"
    )
    saved(page)
    guest = next(s for s in job_of(kept, fresh).of(Ssid) if s.label == "tern-lane-guest")
    assert not guest.everywhere
    assert strict() == []
    tab(page, "Port settings")
    row = page.get_by_role("row", name=re.compile("Foyer point"))
    expect(row).to_contain_text("Things 40")
    expect(row).not_to_contain_text("Guests 30")


def test_a_network_that_lies_over_the_service_is_moved(page, fresh, kept, strict):
    at_network(page, fresh)
    tab(page, "Addresses")
    expect(page.get_by_text("lie over each other")).to_be_visible()
    page.get_by_label("Keep one for").fill("Lobby printer")
    page.get_by_label("In which network").select_option(label="Things")
    expect(page.get_by_text("10.20.40.2")).to_be_visible()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("button", name="Lobby printer")).to_be_visible()
    page.get_by_label("Move a network that people use:").select_option(label="Cameras 192.168.1.0/24")
    expect(page.get_by_text("Shorten the lease of Cameras")).to_be_visible()
    assert strict() == []
    page.get_by_role("button", name="Renumber in the plan").click()
    expect(page.get_by_text("Nothing lies over anything else.")).to_be_visible()
    saved(page)
    job = job_of(kept, fresh)
    cameras = next(n for n in job.of(Network) if n.purpose == "cameras")
    assert str(cameras.subnet) == "10.20.50.0/24"
    assert [(one.label, str(one.address)) for one in job.of(FixedAddress)] == [
        ("Lobby printer", "10.20.40.2")
    ]


def test_an_outlet_is_put_into_the_guests_network_and_its_port_follows(page, fresh, kept):
    job = job_of(kept, fresh)
    outlet = next(
        e
        for e in job.of(Equipment)
        if e.model == "outlet-data" and job.spot(e.id).storey_id == job.storeys[0].id
    )
    at_network(page, fresh)
    tab(page, "Port settings")
    page.locator(f'.thing[data-label="{outlet.label}"]').click(force=True)
    page.get_by_role("combobox", name="Network").select_option(label="Guests")
    expect(page.get_by_role("row", name=re.compile(f"{outlet.label} edge"))).to_contain_text("Guests 30")
    saved(page)
    changed = job_of(kept, fresh).by_id[outlet.id]
    assert changed.network_id == next(n.id for n in job.of(Network) if n.purpose == "guest")


@pytest.mark.parametrize(
    ("name", "words"),
    [("One name or many", "Names of 5 and 2.4 GHz"), ("Why", "settings"), ("Run book", "On the bench")],
)
def test_what_is_told_of_the_network_reads_well(page, fresh, strict, name, words):
    at_network(page, fresh)
    tab(page, name)
    expect(page.get_by_role("region", name=name).get_by_text(words).first).to_be_visible()
    assert strict() == []


@pytest.mark.parametrize("name", list(JOBS))
def test_a_demo_job_goes_from_fresh_to_verified_as_planned(page, brought, kept, strict, name):
    address = brought(JOBS[name]())
    at_network(page, address)
    tab(page, "Controller")
    page.get_by_role("button", name="Set up a simulated one").click()
    expect(page.get_by_role("button", name=re.compile(r"^Send \d+ steps$"))).to_be_visible()
    assert strict() == []
    tab(page, "Units")
    page.get_by_role("button", name=re.compile(r"^Settle \d+ as matched$")).click()
    expect(page.get_by_text("every unit that is there is settled on the drawing")).to_be_visible()
    assert strict() == []
    saved(page)
    tab(page, "Controller")
    page.get_by_role("checkbox", name="Watch it on the sheet").check()
    page.get_by_role("button", name=re.compile(r"^Send \d+ steps$")).click()
    expect(page.get_by_text("It is as planned.")).to_be_visible(timeout=240_000)
    expect(page.get_by_text("nothing differs")).to_be_visible()
    expect(page.locator("g.live text").first).to_contain_text("✓")
    assert strict() == []
    with kept.transaction() as session:
        row = session.execute(
            text(
                "select state, sealed_ from (select state, backup as sealed_, job_id from push) p where job_id = :job"
            ),
            {"job": address.rpartition("/")[2]},
        ).one()
    assert row.state == "done"
    assert b"secret" not in row.sealed_


def test_a_passphrase_is_typed_shown_when_asked_and_in_no_page_otherwise(page, brought, kept, strict):
    address = brought(JOBS["Withy Mill House"]())
    at_network(page, address)
    tab(page, "Passphrases")
    row = page.get_by_role("row", name=re.compile("withy-mill-guest"))
    row.get_by_label("A passphrase for withy-mill-guest").fill("short-12")
    row.get_by_role("button", name="Keep it").click()
    expect(row.get_by_text(re.compile("weak: 8 characters"))).to_be_visible()
    row.get_by_label("A passphrase for withy-mill-guest").fill(SECRET)
    row.get_by_role("button", name="Keep it").click()
    expect(row.get_by_text("kept, typed")).to_be_visible()
    assert SECRET not in page.content()
    assert strict() == []
    row.get_by_role("button", name="Show").click()
    expect(row.get_by_text(SECRET)).to_be_visible()
    row.get_by_role("button", name="Close").click()
    assert SECRET not in page.content()
    with page.expect_download() as card:
        row.get_by_role("button", name="Card").click()
    assert card.value.suggested_filename.endswith(".pdf")
    with kept.transaction() as session:
        rows = session.execute(text("select * from secret")).all()
    assert rows
    assert SECRET.encode() not in b"".join(row.sealed for row in rows)


def test_a_fault_on_the_live_network_is_a_finding_in_the_margin(page, brought, served):
    address = brought(JOBS["Fern Hollow Veterinary Clinic"]())
    at_network(page, address)
    tab(page, "Controller")
    page.get_by_role("button", name="Set up a simulated one").click()
    page.get_by_role("button", name=re.compile(r"^Send \d+ steps$")).click()
    expect(page.get_by_text("It is as planned.")).to_be_visible(timeout=240_000)
    job = address.rpartition("/")[2]
    answered = page.request.get(f"/api/jobs/{job}/controller/live").json()
    serial = next(m["serial"] for m in answered["matched"]["matches"] if m["label"] == "SW1")
    page.request.post(
        f"{served[2]}/sim/{job}/faults", data={"kind": "dead-pair", "serial": serial, "port": "1"}
    )
    page.get_by_role("button", name="Look again").click()
    expect(
        page.get_by_role("region", name="Findings").get_by_text(re.compile("a pair of the cable is dead"))
    ).to_be_visible()
