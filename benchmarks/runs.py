"""Three hundred runs of the reference school routed, one led anew, all failed one by one; and four times as much."""

import math
import statistics
import time

from benchmarks.core import Row, median_s
from benchmarks.school import wired_school
from heathrise.core.cabling.derived import router, run_ids, runs
from heathrise.core.cabling.drilling import drill_list
from heathrise.core.cabling.routes import Route, Router
from heathrise.core.cabling.runs import route_of
from heathrise.core.deriving import Memo
from heathrise.core.job import Job, Link
from heathrise.core.site.building import building_of
from heathrise.core.switching.failing import failures
from heathrise.exchange.paper.drawn import bundles


def rows() -> list[Row]:
    """Time them."""
    job = wired_school()
    building = building_of(job)
    spans = [_all(job, Router(job, building)) for _ in range(3)]
    took_s, routes = statistics.median(took for took, _ in spans), spans[0][1]
    alone_s = _each_by_itself(job, 12) / 12 * len(routes)
    wide = wired_school(runs=1200, wider=2)
    wide_s = statistics.median(_all(wide, Router(wide, building_of(wide)))[0] for _ in range(3))
    return [
        Row(
            f"{len(routes)} runs routed",
            f"{took_s:.2f} s",
            f"{alone_s:.1f} s (each searched by itself)",
            f"{alone_s / took_s:.1f} x",
            "2 s",
            took_s <= 2,
        ),
        _one(job),
        Row(
            "four times the runs, walls and floor, routed",
            f"{wide_s:.2f} s",
            f"{took_s:.2f} s",
            f"{wide_s / took_s:.1f} x",
            "under 6 x",
            wide_s / took_s < 6,
        ),
        _lengths(job, routes),
        _shared(job, routes),
        _failures(job),
    ]


def _all(job: Job, found: Router) -> tuple[float, list[Route]]:
    links = job.of(Link)
    start = time.perf_counter()
    routes = [route_of(job, found, link) for link in links]
    return time.perf_counter() - start, routes


def _each_by_itself(job: Job, many: int) -> float:
    building = building_of(job)
    start = time.perf_counter()
    for link in job.of(Link)[:many]:
        route_of(job, Router(job, building), link)
    return time.perf_counter() - start


def _one(job: Job) -> Row:
    memo = Memo(job)
    found = router(memo.look)
    link = job.get(Link, run_ids(memo.look)[7])
    took = median_s(lambda: route_of(job, found, link), 21)
    fresh = median_s(lambda: route_of(job, Router(job, building_of(job)), link), 5)
    return Row(
        "one run led anew",
        f"{took * 1e3:.1f} ms",
        f"{fresh * 1e3:.0f} ms (the whole building anew)",
        f"{fresh / took:.0f} x",
        "80 ms",
        took <= 0.08,
    )


def _lengths(job: Job, routes: list[Route]) -> Row:
    """Nothing along the grain is shorter than both sides of a right angle and the way up and down."""
    least = 0.0
    for link in job.of(Link):
        a, b = job.spot(link.a.on), job.spot(link.b.on)
        high = [job.by_id[spot.storey_id].elevation_m + spot.height_m for spot in (a, b)]
        least += abs(a.at.x_m - b.at.x_m) + abs(a.at.y_m - b.at.y_m) + abs(high[0] - high[1])
    total = sum(route.length_m for route in routes)
    return Row(
        "their length, void and drops in it",
        f"{total:.0f} m",
        f"{least:.0f} m (no void, no wall, no riser)",
        f"{total / least:.2f} x",
        "beside it",
        total >= least,
    )


def _shared(job: Job, routes: list[Route]) -> Row:
    """What ways are made and holes drilled for all, beside each run on its own."""
    memo = Memo(job)
    legs = [leg for route in routes for leg in route.legs if leg.z0_m == leg.z1_m]
    by_storey = {leg.storey_id for leg in legs}
    ways = sum(
        math.dist(*stroke.points)
        for s in by_storey
        for stroke in bundles([leg for leg in legs if leg.storey_id == s])
    )
    alone = sum(leg.length_m for leg in legs)
    holes = len(drill_list(job, runs(memo.look).plans).holes)
    drilled = sum(len(route.holes) for route in routes)
    return Row(
        "their ways and holes, shared",
        f"{ways:.0f} m, {holes} holes",
        f"{alone:.0f} m, {drilled} holes (each on its own)",
        f"{alone / ways:.1f} x, {drilled / holes:.1f} x",
        "never more",
        ways <= alone and holes <= drilled,
    )


def _failures(job: Job) -> Row:
    memo = Memo(job)
    start = time.perf_counter()
    found = failures(memo.look)
    first = time.perf_counter() - start
    took = median_s(lambda: failures(memo.look), 5)
    return Row(
        f"all {len(found.all)} single failures",
        f"{took:.2f} s",
        f"{first:.1f} s (with air and runs worked out first)",
        f"{first / took:.0f} x",
        "2 s",
        took <= 2,
    )
