"""Two hundred and forty links on eight switches of five kinds given out; one device added; feeds summed."""

import random
import statistics
import time
from collections.abc import Callable, Mapping, Sequence
from typing import TypeVar

from demo.drawing import Drawing, at

from benchmarks.core import Row, median_s
from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Memo
from heathrise.core.job import Job
from heathrise.core.power.derived import feeds
from heathrise.core.power.feeds import plan_feeds
from heathrise.core.switching.assigning import give_out
from heathrise.core.switching.ports import asks_in, assign, loads_of, slots_in
from heathrise.core.switching.slots import Slot

LINKS, POINTS, PAIRS = 240, 100, 80
SWITCHES = (
    "own-48-poe",
    "own-48-poe",
    "own-48-plain",
    "own-48-plain",
    "switch-24-poe-2g5",
    "switch-24-poe-2g5",
)
MORE = ("switch-16-poe-2g5", "switch-24-poe")


def _own(label: str, gives: int, budget_w: float) -> dict[str, object]:
    ports = [{"count": 48, "speed_mbps": 1000, "gives_class": gives}]
    return {
        "label": label,
        "forwards": "switch",
        "managed": True,
        "height_u": 1,
        "budget_w": budget_w,
        "ports": ports,
    }


def rack_of_240() -> Job:
    """Return one rack with eight switches of five kinds and 240 links, a hundred of them to access points."""
    d = Drawing("Ports")
    d.add("site", "Site")
    d.add("brief", "Brief")
    d.add("practice", "House practice", cables_per_point=1)
    storey = d.add("storey", "Ground", elevation_m=0.0, ceiling_m=2.6, void_m=0.4)
    d.space(storey, "Hall", (0, 0, 60, 40))
    d.add("model", "Powered 48", code="own-48-poe", model=_own("Powered 48", 4, 740))
    d.add("model", "Plain 48", code="own-48-plain", model=_own("Plain 48", 0, 0))
    rack = d.add("rack", "TR1", storey_id=storey, at=at(30, 20))
    for n, code in enumerate((*SWITCHES, *MORE), 1):
        d.in_rack(f"SW{n}", code, rack)
    some = random.Random(4)
    for n in range(LINKS):
        place = at(round(some.uniform(1, 59), 1), round(some.uniform(1, 39), 1))
        if n < POINTS:
            model = "ap-ceiling-wifi6e-4x4" if n % 4 == 0 else "ap-ceiling-wifi6-2x2"
            thing = d.add("access-point", f"AP {n}", storey_id=storey, at=place, height_m=2.6, model=model)
        else:
            thing = d.thing(f"Outlet {n}", "outlet-data", storey, place)
        d.run(f"R-{n:03d}", rack, thing, "cat6a-indoor", None)
    return Job(name="Ports", elements=tuple(d.elements))


def rows() -> list[Row]:
    """Time them."""
    job = rack_of_240()
    look, rack = Memo(job).look, next(e.id for e in job.elements if e.kind == "rack")
    laid, fed = runs(look), feeds(look)
    asks, slots = asks_in(job, laid, rack), slots_in(job, rack)
    loads = loads_of(job, asks, fed, rack)
    some = random.Random(5)
    drawn = [sorted(some.sample(range(POINTS), 2)) for _ in range(PAIRS)]
    pairs = sorted({(a, b) for a, b in drawn})
    greedy_s, greedy = _timed(lambda: assign(asks, slots))
    took, found = _timed(lambda: give_out(asks, slots, loads, pairs, {}, greedy, settled=False))
    held = {i: n for i, n in found.placed.items() if i != POINTS - 1}
    again_s, again = _timed(lambda: give_out(asks, slots, loads, pairs, held, held, settled=False))
    moved = sum(held.get(i) != n for i, n in again.placed.items() if i in held)
    feed_s = median_s(lambda: plan_feeds(job, laid), 5)
    return [
        Row(
            f"{LINKS} links on eight switches of five kinds given out",
            f"{took:.2f} s, {_apart(found.placed, slots, pairs)} pairs together",
            f"{greedy_s:.2f} s, {_apart(greedy, slots, pairs)} together (least cost alone)",
            f"{took / greedy_s:.1f} x",
            "1 s",
            took <= 1 and len(found.placed) == LINKS,
        ),
        Row(
            "one device more: the fewest patches",
            f"{again_s * 1000:.0f} ms, {moved} moved",
            f"{took:.2f} s (from nothing)",
            f"{again_s / took:.2f} x",
            "300 ms",
            again_s <= 0.3 and moved == 0,
        ),
        Row(
            f"feeds of {len(laid.plans)} links summed",
            f"{feed_s * 1000:.1f} ms",
            f"{took:.2f} s (ports given out)",
            f"{feed_s / took:.3f} x",
            "5 ms for 300",
            feed_s <= 0.005,
        ),
    ]


T = TypeVar("T")


def _timed(work: Callable[[], T]) -> tuple[float, T]:
    """Return the median time of a piece of work, and what it made."""
    spans = []
    for _ in range(3):
        start = time.perf_counter()
        found = work()
        spans.append(time.perf_counter() - start)
    return statistics.median(spans), found


def _apart(placed: Mapping[int, int], slots: Sequence[Slot], pairs: Sequence[tuple[int, int]]) -> int:
    """Return how many pairs hang on one switch."""
    on = {i: slots[n].switch.id for i, n in placed.items()}
    return sum(on.get(a) == on.get(b) for a, b in pairs)
