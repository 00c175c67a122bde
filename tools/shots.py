"""One picture of each main view from the demo job, at 1280x800, into docs/screenshots/."""

import re
import tempfile
from pathlib import Path

from benchmarks import plans
from demo.load import load_demo_jobs
from playwright.sync_api import Page, sync_playwright

from heathrise.store.database import migrate
from tools.localdb import LocalDatabase
from tools.serve import ROOT, Serving

FOLDER = ROOT / "docs" / "screenshots"
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]


def _still(page: Page, name: str) -> None:
    """Take the picture once everything is computed and painted."""
    page.wait_for_selector(".frame[aria-busy=false]")
    page.evaluate("() => new Promise((f) => requestAnimationFrame(() => requestAnimationFrame(f)))")
    page.screenshot(path=FOLDER / f"{name}.png")


def _stage(page: Page, key: str, table: str | None = None) -> None:
    page.keyboard.press(key)
    if table is None:
        return
    tab = page.locator(".ink-tab").filter(has_text=re.compile(rf"^{table}\s*\d*$"))
    if tab.and_(page.locator(".p-tab-active")).count() == 0:
        tab.click()


def _walk(page: Page) -> None:
    """Draw a walk from the hall to the library and stand half-way."""
    _stage(page, "3", "Walks")
    page.keyboard.press("p")
    box = page.locator(".sheet").bounding_box()
    text = page.locator(".sheet svg.ink > g").first.get_attribute("transform") or ""
    x, y, k = (float(n) for n in re.findall(r"-?[\d.]+(?:e-?\d+)?", text))
    for at in ((5, 6), (13, 9.3), (36, 9.3), (36, 4)):
        page.mouse.click(box["x"] + x + at[0] * k, box["y"] + y + at[1] * k)
    page.keyboard.press("Enter")
    page.wait_for_selector(".frame[aria-busy=false]")
    page.get_by_label("Along the walk").fill("70")
    _still(page, "walks")
    page.click("[aria-label='Undo']")
    page.wait_for_selector(".frame[aria-busy=false]")


def take(page: Page, address: str, job_id: str) -> None:
    """Walk the views."""
    page.goto(address)
    page.wait_for_selector("table")
    page.wait_for_function("() => [...document.images].every((one) => one.complete && one.naturalWidth)")
    page.screenshot(path=FOLDER / "jobs.png")
    page.goto(f"{address}/jobs/{job_id}")
    page.wait_for_selector("canvas[data-painted]")
    page.wait_for_selector(".ledger button")
    page.mouse.move(640, 745)
    page.keyboard.press(".")
    _still(page, "air")
    page.click("[aria-label='Night sheet']")
    page.mouse.move(640, 745)
    _still(page, "night")
    page.click("[aria-label='Night sheet']")
    page.click("[aria-label='Open Ground']")
    page.keyboard.press("Escape")
    _walk(page)
    _stage(page, "1")
    page.click(".brief .ink-tab:has-text('Spaces and hours')")
    _still(page, "brief")
    page.click(".brief .ink-tab:has-text('House practice')")
    page.click("[aria-label='Gateway and controller'] >> text=Separate")
    page.wait_for_selector(".compare table")
    page.locator(".brief .body").evaluate("(e) => { e.scrollTop = 0 }")
    _still(page, "practice")
    page.keyboard.press("t")
    _stage(page, "2")
    _still(page, "plan")
    for key, table, name in (
        ("4", "Ways", "links"),
        ("5", "Runs", "runs"),
        ("6", "Fronts", "ports"),
        ("6", "Racks", "racks"),
        ("8", "Kit", "order"),
        ("9", "Board", "fit"),
    ):
        _stage(page, key, table)
        if name == "fit":
            page.wait_for_selector("text=the longest chain takes")
        _still(page, name)
    _network(page)


def _network(page: Page) -> None:
    """Bring the school on against the simulated controller and watch its phones."""
    _stage(page, "7", "Controller")
    page.get_by_role("button", name="Set up a simulated one").click()
    page.get_by_role("button", name=re.compile(r"^Send \d+ steps$")).click()
    page.wait_for_selector("text=It is as planned.", timeout=240_000)
    watch = page.get_by_role("checkbox", name="Watch it on the sheet")
    watch.check()
    page.wait_for_selector("g.live circle.on")
    _still(page, "network")
    watch.uncheck()


def take_plan(page: Page, address: str, others: dict[str, str], school: str) -> None:
    """The views of Plan beside the sheet, and the other demo jobs."""
    drawing = plans.dxf(plans.plan(5)).encode()
    fresh = page.request.post(
        f"{address}/api/jobs", data={"name": "Heron Terrace", "site_kind": "home"}
    ).json()
    page.goto(f"{address}/jobs/{fresh['id']}")
    page.wait_for_selector(".frame[aria-busy=false]")
    page.set_input_files(
        "[aria-label='Import a drawing']",
        {"name": "heron.dxf", "mimeType": "image/vnd.dxf", "buffer": drawing},
    )
    page.wait_for_selector("text=Accept 16 walls")
    _still(page, "import")
    for name, job_id in others.items():
        page.goto(f"{address}/jobs/{job_id}")
        page.wait_for_selector("canvas[data-painted]")
        page.wait_for_selector(".ledger button")
        if name == "mill":
            page.keyboard.press("]")
        page.mouse.move(640, 745)
        if name == "mill":
            _stage(page, "2")
            _still(page, name)
        else:
            _prove(page)
    page.goto(f"{address}/jobs/{school}")
    page.wait_for_selector(".ledger button")
    _stage(page, "3")
    page.keyboard.press("v")
    page.fill("[aria-label='Storeys apart']", "1.8")
    page.wait_for_selector(".look:not([data-painted='0'])")
    page.wait_for_function("() => Number(document.querySelector('.look').dataset.painted) >= 2")
    _still(page, "look")


def _prove(page: Page) -> None:
    """The clinic's tests, the one that is nearest to its limit opened."""
    page.evaluate("localStorage.setItem('heathrise.me', 'Ines')")
    _stage(page, "0", "Runs tested")
    panel = page.get_by_role("region", name="Runs tested")
    panel.get_by_role("button", name="R-01", exact=True).click()
    page.wait_for_selector("canvas[role=img]")
    panel.evaluate("(e) => { e.scrollTop = 96 }")
    page.mouse.move(640, 745)
    _still(page, "prove")


def take_field(page: Page, address: str, job_id: str) -> None:
    """A task on a phone: an end to be made."""
    page.goto(f"{address}/field/{job_id}")
    page.get_by_role("button", name=re.compile(r"^All \d+ tasks$")).click()
    page.get_by_role("button", name=re.compile("End at the device: R-04")).first.click()
    page.wait_for_selector("article ol")
    page.screenshot(path=FOLDER / "field.png")


def main() -> None:
    """Serve the demo from an empty database and take the pictures."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, LocalDatabase(Path(folder)) as database:
        url = database.create("shots")
        migrate(url)
        clinic, mill, school = load_demo_jobs(url)
        with Serving(database, url, speed=400) as serving, sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            take(page, serving.address, school)
            take_plan(page, serving.address, {"mill": mill, "clinic": clinic}, school)
            phone = browser.new_page(viewport={"width": 360, "height": 800})
            take_field(phone, serving.address, clinic)
            browser.close()


if __name__ == "__main__":
    main()
