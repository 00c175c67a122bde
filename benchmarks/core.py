"""The coverage kernel on the reference school, beside the plain solution of the same sum."""

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from benchmarks.plain import PlainSolution
from benchmarks.school import reference_school
from heathrise.core.findings import assess
from heathrise.core.job import AccessPoint
from heathrise.core.radio.colouring import solve
from heathrise.core.radio.mirrors import grid_mirrored, kept_images
from heathrise.core.radio.reach import around, grid_gain_db
from heathrise.core.radio.scene import Scene, grid_losses
from heathrise.core.radio.threads import each
from heathrise.core.site.building import building_of

BAND = 1


@dataclass(frozen=True)
class Row:
    """A line of the table."""

    what: str
    ours: str
    beside: str
    ratio: str
    wanted: str
    holds: bool


def median_s(work: Callable[[], object], times: int) -> float:
    """Return the median time of a piece of work, after one run to warm it."""
    work()
    spans = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spans.append(time.perf_counter() - start)
    return statistics.median(spans)


def forget() -> None:
    """Drop what was kept of the air and of plans by earlier measurements."""
    for kept in (grid_losses, grid_mirrored, kept_images, around, grid_gain_db, solve):
        kept.cache_clear()


def rows() -> list[Row]:
    """Time the kernel, check that both solutions agree, and return the table's lines."""
    job = reference_school()
    scene = Scene(building_of(job))
    grids = [scene.grid(storey.id, 0.5) for storey in job.storeys]
    transmitters = [scene.transmitter(point) for point in job.of(AccessPoint)]
    plain = PlainSolution(scene)

    def ours(transmitter):
        return [scene.losses(transmitter, grid.points_m()) for grid in grids]

    def theirs(transmitter):
        return [plain.losses_db(transmitter, grid, BAND) for grid in grids]

    one, one_plain = median_s(lambda: ours(transmitters[0]), 15), median_s(lambda: theirs(transmitters[0]), 1)
    every = median_s(lambda: each(ours, transmitters), 5)
    every_plain = one_plain * len(transmitters)
    worst = agreement(scene, plain, transmitters[0], grids)
    whole = median_s(lambda: assess(job), 3)
    cells = sum(grid.rows * grid.columns for grid in grids)
    return [
        Row(
            f"one access point moved, {cells:,} cells, 4 storeys",
            f"{one * 1e3:.1f} ms",
            f"{one_plain * 1e3:,.0f} ms",
            f"{one_plain / one:,.0f} x",
            "30 ms, 100 x",
            one <= 0.03 and one_plain / one >= 100,
        ),
        Row(
            "all 60 access points",
            f"{every:.2f} s",
            f"{every_plain:,.0f} s (60 x one)",
            f"{every_plain / every:,.0f} x",
            "1 s, 100 x",
            every <= 1 and every_plain / every >= 100,
        ),
        Row(
            "share of cells on which both agree within 0.01 dB",
            f"{worst:.3%}",
            "",
            "",
            "all but rays along a wall",
            worst > 0.995,
        ),
        Row("the whole job assessed again (radio kept)", f"{whole:.2f} s", "", "", "", True),
    ]


def agreement(scene: Scene, plain: PlainSolution, transmitter, grids) -> float:
    """Return the share of cells on which both solutions give the same crossings."""
    same = total = 0
    for grid in grids:
        points = grid.points_m()
        way = np.linalg.norm(points - (transmitter.x_m, transmitter.y_m, transmitter.z_m), axis=1)
        free = scene.one_metre_db[BAND] + 20 * np.log10(np.maximum(way, 1))
        crossed = scene.losses(transmitter, points).loss_db[BAND] - free
        close = np.abs(crossed - plain.losses_db(transmitter, grid, BAND)) < 0.01
        same, total = same + int(close.sum()), total + len(points)
    return same / total
