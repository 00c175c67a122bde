"""`make bench`: run everything, print the table, write it into docs/performance.md."""

import os
import platform
import re
from datetime import UTC, datetime
from pathlib import Path

from benchmarks import air, browser, core, drawings, edits, links, network, order, ports, prove, runs

PAGE = Path(__file__).resolve().parents[1] / "docs" / "performance.md"
BEGIN, END = "<!-- table: written by make bench -->", "<!-- end of table -->"


def processor() -> str:
    """Return the processor's name as the kernel tells it."""
    found = re.search(r"model name\s*:\s*(.+)", Path("/proc/cpuinfo").read_text("utf-8"))
    return found[1] if found else platform.machine()


def main() -> None:
    """Measure and write."""
    # First what needs most to stand: a screen that will not answer is known after a minute, not after eight.
    on_screen = browser.rows()
    rows = [
        *core.rows(),
        *edits.rows(),
        *links.rows(),
        *runs.rows(),
        *ports.rows(),
        *network.rows(),
        *order.rows(),
        *prove.rows(),
        *air.rows(),
        *drawings.rows(),
        *on_screen,
    ]
    head = f"Measured {datetime.now(UTC):%Y-%m-%d} on {processor()}, {os.cpu_count()} cores, Python {platform.python_version()}."
    lines = [
        head,
        "",
        "| what | here | beside it | ratio | wanted | holds |",
        "| --- | --- | --- | --- | --- | --- |",
    ]
    lines += [
        f"| {r.what} | {r.ours} | {r.beside} | {r.ratio} | {r.wanted} | {'yes' if r.holds else 'no'} |"
        for r in rows
    ]
    table = "\n".join(lines)
    print(table)
    text = PAGE.read_text("utf-8")
    before, rest = text.split(BEGIN)
    PAGE.write_text(f"{before}{BEGIN}\n{table}\n{END}{rest.split(END)[1]}", "utf-8")


main()
