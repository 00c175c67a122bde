"""The ways to one outbuilding, and the cut list of three hundred runs."""

import random
import time

from demo.withy_mill import withy_mill

from benchmarks.core import Row, median_s
from heathrise.core.cabling.cutting import Cut, cut_list
from heathrise.core.deriving import Memo
from heathrise.core.findings.assess import assessment
from heathrise.core.job import AccessPoint
from heathrise.core.joining.derived import ways_to

CABLE = "cat6a-indoor"


def rows() -> list[Row]:
    """Time both."""
    return [_ways(), *(_cuts(seed) for seed in range(3))]


def _ways() -> Row:
    memo = Memo(withy_mill())
    thing = next(point for point in memo.source.of(AccessPoint) if point.label == "Boat store")
    start = time.perf_counter()
    assessment(memo.look)
    every = time.perf_counter() - start
    took = median_s(lambda: ways_to(memo.look, thing.id), 9)
    return Row(
        "all ways to one outbuilding",
        f"{took * 1e3:.0f} ms",
        f"{every * 1e3:.0f} ms (the whole job)",
        f"{every / took:.0f} x",
        "300 ms",
        took <= 0.3,
    )


def _cuts(seed: int) -> Row:
    rng = random.Random(seed)
    cuts = [Cut(run_id=str(n), label=f"R-{n}", length_m=round(rng.uniform(12, 88), 1)) for n in range(300)]
    cuts.sort(key=lambda cut: -cut.length_m)
    start = time.perf_counter()
    found = cut_list(CABLE, cuts)
    took = time.perf_counter() - start
    return Row(
        f"cut list of 300 runs, draw {seed}: boxes",
        f"{len(found.boxes)} in {took:.1f} s",
        f"{found.first_fit} (first fit), bound {found.bound}",
        f"{len(found.boxes) / found.bound:.3f} x",
        "1 % in 10 s",
        len(found.boxes) <= found.bound * 1.01 and took <= 10,
    )
