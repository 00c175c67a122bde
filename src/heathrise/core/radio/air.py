"""The air of a job: every space scored against its need, and the radio plan."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.special import ndtr

from heathrise.core.job import Band, Job, Point, Space, Walk
from heathrise.core.library import Need, library, limit
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.capacity import RadioLoad, loads
from heathrise.core.radio.channels import BandPlan, RadioPlan, plan_bands
from heathrise.core.radio.coverage import NOTHING_DBM, Signals, Way, ranked
from heathrise.core.radio.scene import Grid, Scene, scene_of
from heathrise.core.radio.views import Sight, error_db
from heathrise.core.radio.walking import Walked, play
from heathrise.core.site.brief import demand
from heathrise.core.site.building import Building, building_of
from heathrise.core.sums import Noun, Sum, SumLine

Ints = NDArray[np.int64]


class SpaceScore(Noun):
    """How a space meets its need. Levels are of the weaker way unless the practice says down."""

    space_id: str
    label: str
    storey_id: str
    need: str
    need_label: str
    band: Band
    area_m2: float
    share: float
    best_share: float
    second_share: float
    chance: float
    worst_dbm: float
    worst_at: Point
    worst_point_id: str | None
    worst_second_dbm: float
    worst_second_at: Point
    holds: bool
    sum: Sum


@dataclass(frozen=True)
class Air:
    """What the later stages and the rules read of the air."""

    scene: Scene
    scores: tuple[SpaceScore, ...]
    radio_plan: tuple[RadioPlan, ...]
    bands: tuple[BandPlan, ...]
    loads: tuple[RadioLoad, ...]
    walks: tuple[Walked, ...]


@lru_cache(maxsize=64)
def _cells(building: Building, grid: Grid, storey_id: str) -> dict[str, Ints]:
    """Return the numbers of the grid cells inside each space of a storey."""
    points = grid.points_m()
    return {
        space.id: np.flatnonzero(shapely.contains_xy(building.polygons[space.id], points[:, 0], points[:, 1]))
        for space in building.spaces[storey_id]
    }


def assess_air(job: Job, cell_m: float = 0.5) -> Air:
    """Return scores, radio plan, airtime and walks of a job."""
    building = building_of(job)
    scene = scene_of(building)
    plan = plan_bands(job, scene)
    scores: list[SpaceScore] = []
    sights: dict[tuple[str, Band], Sight] = {}
    cells: dict[str, tuple[str, Ints]] = {}
    for storey in building.storeys:
        grid = scene.grid(storey.id, cell_m)
        inside = _cells(building, grid, storey.id)
        for space in building.spaces[storey.id]:
            need = library().needs[space.need]
            if need.band is None or not len(inside[space.id]):
                continue
            key = storey.id, need.band
            if key not in sights:
                sights[key] = Sight(job, scene, need.band, grid, "weaker", plan.rows)
            cells[space.id] = storey.id, inside[space.id]
            scores.append(_score(job, space, need, sights[key], inside[space.id]))
    loaded = loads(job, plan.rows, demand(job).spaces, sights, cells)
    walks = tuple(play(job, scene, walk) for walk in job.of(Walk))
    return Air(scene, tuple(scores), plan.rows, plan.bands, loaded, walks)


def _score(job: Job, space: Space, need: Need, sight: Sight, inside: Ints) -> SpaceScore:
    heard, grid, off_db = sight.heard, sight.grid, error_db(sight.scene)
    way: Way = "down" if job.practice.design_on == "down" else "weaker"
    levels = heard.way(way)[:, inside]
    best, second = ranked(levels, 0), ranked(levels, 1)
    assert need.best_dbm is not None and need.snr_db is not None and need.band is not None
    quiet_dbm = noise_floor_dbm(20, limit("air.noise_figure_client_db"))
    best_ok = (best >= need.best_dbm) & (best - quiet_dbm >= need.snr_db)
    wants_second = need.second_dbm is not None and job.practice.second_signal == "required"
    second_ok = second >= (need.second_dbm or NOTHING_DBM)
    ok = best_ok & second_ok if wants_second else best_ok
    worst, worst_second = int(np.argmin(best)), int(np.argmin(second))
    share = float(ok.mean())
    return SpaceScore(
        space_id=space.id,
        label=space.label,
        storey_id=space.storey_id,
        need=space.need,
        need_label=need.label,
        band=need.band,
        area_m2=round(len(inside) * grid.cell_m**2, 1),
        share=round(share, 4),
        best_share=round(float(best_ok.mean()), 4),
        second_share=round(float(second_ok.mean()), 4),
        chance=round(float(ndtr((best.astype(float) - need.best_dbm) / off_db).mean()), 4),
        worst_dbm=round(float(best[worst]), 1),
        worst_at=_centre(grid, int(inside[worst])),
        worst_point_id=_serving(heard, levels, worst),
        worst_second_dbm=round(float(second[worst_second]), 1),
        worst_second_at=_centre(grid, int(inside[worst_second])),
        holds=share >= limit("air.pass_share"),
        sum=_score_sum(space, need, best_ok, second_ok, share, wants_second),
    )


def _centre(grid: Grid, cell: int) -> Point:
    """Return the centre of a cell by its number."""
    return Point(
        x_m=round(grid.x0_m + (cell % grid.columns + 0.5) * grid.cell_m, 3),
        y_m=round(grid.y0_m + (cell // grid.columns + 0.5) * grid.cell_m, 3),
    )


def _serving(heard: Signals, levels: NDArray[np.float32], cell: int) -> str | None:
    return heard.points[int(levels[:, cell].argmax())].id if heard.points else None


def _score_sum(
    space: Space,
    need: Need,
    best_ok: NDArray[np.bool_],
    second_ok: NDArray[np.bool_],
    share: float,
    wants_second: bool,
) -> Sum:
    lines = [
        SumLine(label="places looked at, every 0.5 m", value=len(best_ok), unit=""),
        SumLine(label=f"best {need.best_dbm:.0f} dBm or more", value=int(best_ok.sum()), unit=""),
    ]
    if need.second_dbm is not None:
        note = "" if wants_second else "wished, not counted"
        lines.append(
            SumLine(
                label=f"second {need.second_dbm:.0f} dBm or more",
                value=int(second_ok.sum()),
                unit="",
                note=note,
            )
        )
    return Sum(
        label=f"{space.label}: share that meets {need.label.lower()}",
        value=round(share * 100, 1),
        unit="%",
        limit=limit("air.pass_share") * 100,
        holds=share >= limit("air.pass_share"),
        lines=tuple(lines),
        formula="places that meet every part of the need / places looked at",
        source=f"library: needs ({need.source}). Usual error 6 to 8 dB, nothing measured.",
    )
