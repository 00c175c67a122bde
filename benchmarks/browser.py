"""Mouse move to redrawn terrain in Chromium on the demo school, and the server's memory."""

import statistics
import tempfile
import time
from pathlib import Path
from urllib.request import urlopen

import psutil
from demo.load import load_demo_jobs
from playwright.sync_api import Page, sync_playwright
from tools.localdb import LocalDatabase
from tools.serve import Serving

from benchmarks import afternoon, edits_screen
from benchmarks.core import Row
from benchmarks.school import reference_school
from heathrise.store.database import Database, migrate
from heathrise.store.jobs import create_job

MOVES = 120
# Listens before the application does; the time runs to the paint that follows the move.
WATCH = """() => {
  const canvas = document.querySelector('canvas.terrain');
  window.__spans = []; let moved = null;
  document.querySelector('.sheet').addEventListener('pointermove', (e) => { moved ??= e.timeStamp; }, true);
  new MutationObserver(() => { if (moved !== null) { window.__spans.push(performance.now() - moved); moved = null; } })
    .observe(canvas, { attributes: true, attributeFilter: ['data-painted'] });
}"""

FRAMES = """() => { window.__frames = []; let last = performance.now();
  const tick = (now) => { window.__frames.push(now - last); last = now; requestAnimationFrame(tick) };
  requestAnimationFrame(tick); }"""


def rows() -> list[Row]:
    """Serve the demo, drag an access point about, and return the table's lines."""
    with tempfile.TemporaryDirectory() as folder, LocalDatabase(Path(folder)) as database:
        url = database.create("bench")
        migrate(url)
        job_id = load_demo_jobs(url)[-1]
        with Serving(database, url) as serving:
            first_s = _first_answer_s(f"{serving.address}/api/jobs/{job_id}/assessment")
            spans, frame, edited = _drag(f"{serving.address}/jobs/{job_id}")
            memory_mb, resident_mb = _memory_mb(serving.web.pid)
            afternoon.worked(serving.address, url)
            grown_mb = _memory_mb(serving.web.pid)[0] - memory_mb
            with Database(url).transaction() as session:
                school = create_job(session, reference_school())
            pan = _pan(f"{serving.address}/jobs/{school.id}")
    p95 = statistics.quantiles(spans, n=20)[18]
    return [
        Row(
            f"mouse move to redrawn terrain, p95 of {len(spans)}",
            f"{p95:.0f} ms",
            f"{frame:.0f} ms (an empty frame)",
            f"{p95 / frame:.1f} frames",
            "80 ms",
            p95 <= 80,
        ),
        Row("the same, median", f"{statistics.median(spans):.0f} ms", "", "", "", True),
        Row(
            "frame while panning the reference school, median of 120",
            f"{pan:.1f} ms",
            f"{frame:.1f} ms (an empty frame)",
            f"{pan / frame:.2f} frames",
            "60 frames a second",
            pan <= max(17.0, frame * 1.05),
        ),
        Row(
            "memory of the server with the demo open, all its processes",
            f"{memory_mb:.0f} MB",
            f"{resident_mb:.0f} MB (shared pages counted for each)",
            "",
            "700 MB",
            memory_mb < 700,
        ),
        Row(
            f"what it grows by over {afternoon.EDITS * afternoon.JOBS} edits of {afternoon.JOBS} jobs",
            f"{grown_mb:.0f} MB",
            "",
            "",
            "250 MB",
            grown_mb < 250,
        ),
        Row("first answer after a start, the demo school", f"{first_s:.1f} s", "", "", "3 s", first_s <= 3),
        *edited,
    ]


def _first_answer_s(address: str) -> float:
    start = time.perf_counter()
    with urlopen(address, timeout=120) as answer:
        answer.read()
    return time.perf_counter() - start


def _drag(address: str) -> tuple[list[float], float, list[Row]]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium",
            args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.wait_for_selector(".frame[aria-busy=false]", timeout=120_000)
        page.keyboard.press("3")
        page.wait_for_selector("canvas[data-painted]")
        frame = _empty_frame_ms(page)
        page.evaluate(WATCH)
        box = page.locator('.thing[data-label="Ensemble"]').bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + 12
        page.mouse.move(x, y)
        page.mouse.down()
        page.evaluate("() => { window.__spans.length = 0 }")
        for step in range(MOVES):
            page.mouse.move(x + 4 + 40 * (step % 12) / 12, y + 30 * (step % 7) / 7)
            page.wait_for_function(f"() => window.__spans.length > {step}", polling=5)
        page.mouse.up()
        spans: list[float] = page.evaluate("() => window.__spans")
        page.wait_for_selector(".frame[aria-busy=false]")
        edited = edits_screen.rows(page)
        browser.close()
    return spans, frame, edited


def _pan(address: str) -> float:
    """Return the median time between frames while the sheet is dragged. [ms]"""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium",
            args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.wait_for_selector(".frame[aria-busy=false]", timeout=120_000)
        page.keyboard.press("2")
        page.wait_for_selector("g.wall", state="attached")
        page.mouse.move(900, 660)
        page.mouse.down()
        page.evaluate(FRAMES)
        for step in range(MOVES):
            page.mouse.move(900 - step % 60, 660 - step % 40)
        page.mouse.up()
        spans: list[float] = page.evaluate("() => window.__frames.slice(0, 120)")
        browser.close()
    return statistics.median(spans)


def _empty_frame_ms(page: Page) -> float:
    """Return the time of a frame in which nothing is done: what the browser itself takes."""
    script = """() => new Promise((done) => { let n = 0, start = performance.now();
      const tick = () => (++n === 30 ? done((performance.now() - start) / 30) : requestAnimationFrame(tick));
      requestAnimationFrame(tick); })"""
    return float(page.evaluate(script))


def _memory_mb(pid: int) -> tuple[float, float]:
    """Return the memory of a server's processes: pages they share counted once, and counted for each."""
    root = psutil.Process(pid)
    found = [process.memory_full_info() for process in (root, *root.children(recursive=True))]
    return sum(m.pss for m in found) / 1e6, sum(m.rss for m in found) / 1e6
