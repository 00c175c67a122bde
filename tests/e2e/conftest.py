"""The built application as it is served, and a browser that fails the test on any console error."""

from collections.abc import Callable, Iterator

import pytest
from demo.load import load_demo_jobs
from demo.tern_lane import tern_lane
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright
from tools.localdb import LocalDatabase
from tools.serve import ROOT, Serving

from heathrise.core.job import Job
from heathrise.store.database import Database, migrate
from heathrise.store.jobs import create_job

AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
RUN_AXE = "(tags) => axe.run(document, { runOnly: { type: 'tag', values: tags } })"
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
# A slow machine is no fault of the screen's.
expect.set_options(timeout=60_000)
# Chromium says this of every refused request; the tests that refuse one look at the screen instead.
EXPECTED = ("Failed to load resource",)


@pytest.fixture(scope="session")
def served(server: LocalDatabase) -> Iterator[tuple[str, str, str]]:
    """(address, database URL, address of the simulated controller) of a server with the demo job."""
    url = server.create("e2e")
    migrate(url)
    load_demo_jobs(url)
    # Simulated devices update and start in a blink.
    with Serving(server, url, speed=400) as serving:
        yield serving.address, url, serving.stand_in_address


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        yield opened
        opened.close()


@pytest.fixture
def context(browser: Browser, served) -> Iterator[BrowserContext]:
    made = browser.new_context(
        base_url=served[0], viewport={"width": 1280, "height": 800}, accept_downloads=True
    )
    made.set_default_timeout(15_000)
    yield made
    made.close()


@pytest.fixture
def open_page(context: BrowserContext) -> Iterator:
    """Open pages that collect console errors; none may be left at the end."""
    errors: list[str] = []

    def open_one() -> Page:
        page = context.new_page()
        page.on(
            "console",
            lambda m: (
                errors.append(m.text) if m.type == "error" and not m.text.startswith(EXPECTED) else None
            ),
        )
        page.on("pageerror", lambda error: errors.append(str(error)))
        return page

    yield open_one
    assert errors == []


@pytest.fixture
def page(open_page) -> Page:
    return open_page()


@pytest.fixture
def kept(served) -> Iterator[Database]:
    database = Database(served[1])
    yield database
    database.engine.dispose()


@pytest.fixture
def brought(kept) -> Callable[[Job], str]:
    """Keep a job and return its address."""

    def bring(job: Job) -> str:
        with kept.transaction() as session:
            return f"/jobs/{create_job(session, job).id}"

    return bring


@pytest.fixture
def fresh(brought) -> str:
    """The address of a demo school of this test's own."""
    return brought(tern_lane())


@pytest.fixture
def strict(page: Page, strict_on):
    """The page with axe in it, past the page's own policy."""
    return lambda: strict_on(page)


@pytest.fixture
def strict_on():
    """What axe says of a page."""

    def check(page: Page) -> list[str]:
        # A dialog that still fades in has other colours than when it stands.
        page.wait_for_function("() => document.getAnimations().every((a) => a.playState !== 'running')")
        page.evaluate(AXE.read_text("utf-8"))
        found = page.evaluate(RUN_AXE, TAGS)["violations"]
        return [f"{v['id']}: {n['target']} {n['failureSummary']}" for v in found for n in v["nodes"][:3]]

    return check
