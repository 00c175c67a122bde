"""What a person does on the screen, in their words."""

import re

from playwright.sync_api import Locator, Page, expect

from heathrise.core.job import Job
from heathrise.store.database import Database
from heathrise.store.jobs import load_job

# Parts of the frame that run out of their box.
OVERFLOW = """() => [...document.querySelectorAll('.bar, .ledger, .spine button, .drawer header, .margin, .notes')]
  .filter((e) => e.scrollWidth > e.clientWidth + 1).map((e) => e.className)"""


def open_job(page: Page, path: str) -> None:
    """Open a job and wait until it is computed."""
    page.goto(path)
    computed(page)


def computed(page: Page) -> None:
    """Wait until everything is saved and computed."""
    expect(page.get_by_text("all saved")).to_be_visible()
    expect(page.locator(".frame")).to_have_attribute("aria-busy", "false")


def stage(page: Page, key: str) -> None:
    """Go to a stage by its key."""
    page.keyboard.press(key)
    expect(page.locator(".spine button[aria-current=step] .n")).to_have_text(key)


def thing(page: Page, label: str) -> Locator:
    """A symbol on the sheet."""
    return page.locator(f'.thing[data-label="{label}"]')


def ledger(page: Page, key: str) -> str:
    """A total of the ledger as written."""
    return page.locator(f'.ledger [data-key="{key}"] .mono').inner_text()


def notes(page: Page, rule: str) -> Locator:
    """The findings of a rule: where they are several, their entry is opened first."""
    entry = page.locator(f'[data-rule="{rule}"]').first
    expect(entry).to_be_visible()
    group = page.locator(f'.group[data-rule="{rule}"]:not(.opened)')
    for number in range(group.count() - 1, -1, -1):
        group.nth(number).get_by_role("button", name="Open", exact=True).click()
    return page.locator(f'.note[data-rule="{rule}"]')


def painted(page: Page) -> int:
    """How often the terrain was painted."""
    return int(page.locator("canvas.terrain").get_attribute("data-painted") or 0)


def tool(page: Page, name: str) -> None:
    """Take a tool in hand."""
    page.get_by_role("toolbar", name="Tools").get_by_role("button", name=name, exact=True).click()


class Paper:
    """Presses on the sheet in metres, read off the sheet's own transform."""

    def __init__(self, page: Page):
        self.page = page
        self.box = page.locator(".sheet").bounding_box()
        text = page.locator(".sheet svg.ink > g").first.get_attribute("transform") or ""
        x, y, k = (float(n) for n in re.findall(r"-?[\d.]+(?:e-?\d+)?", text))
        self.x, self.y, self.k = x, y, k

    def at(self, x_m: float, y_m: float) -> tuple[float, float]:
        """Pixels of a place."""
        return self.box["x"] + self.x + x_m * self.k, self.box["y"] + self.y + y_m * self.k

    def press(self, x_m: float, y_m: float) -> None:
        """Press a place."""
        x, y = self.at(x_m, y_m)
        self.page.mouse.move(x, y)
        self.page.mouse.click(x, y)


def tab(page: Page, name: str) -> None:
    """Open a tab of the drawer by its name, whatever it counts."""
    found = page.get_by_role("tab", name=re.compile(rf"^{re.escape(name)}( \d+)?$"))
    if found.get_attribute("aria-selected") != "true":
        found.click()
    expect(found).to_have_attribute("aria-selected", "true")


def job_of(kept: Database, address: str) -> Job:
    """The job as the database has it."""
    with kept.transaction() as session:
        return load_job(session, address.rpartition("/")[2]).job


def saved(page: Page) -> None:
    """Wait until every edit is kept."""
    expect(page.get_by_text("all saved")).to_be_visible()
