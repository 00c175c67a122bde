"""How a space meets its need, from the signals over its cells."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.special import ndtr

from heathrise.core.job import Band, LinkDirection, Point, Practice
from heathrise.core.library import Need, library, limit
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.coverage import NOTHING_DBM, Signals, loudest
from heathrise.core.radio.scene import Grid
from heathrise.core.radio.views import AirView, error_db
from heathrise.core.site.building import Building
from heathrise.core.sums import Noun, Sum, SumLine

Float32s = NDArray[np.float32]
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
    dark: bool
    chance: float
    pass_chance: float
    edge_dbm: float
    cover_ids: tuple[str, ...]
    worst_dbm: float
    worst_at: Point
    worst_point_id: str | None
    worst_second_dbm: float
    worst_second_at: Point
    holds: bool
    sum: Sum


@lru_cache(maxsize=64)
def cells_of(building: Building, grid: Grid, storey_id: str) -> dict[str, Ints]:
    """Return the numbers of the grid cells inside each space of a storey."""
    points = grid.points_m()
    return {
        space.id: np.flatnonzero(shapely.contains_xy(building.polygons[space.id], points[:, 0], points[:, 1]))
        for space in building.spaces[storey_id]
    }


@dataclass(frozen=True)
class Judging:
    """How the house practice judges: on which way, and whether a second signal must be there; a space that is
    meant to be dark is not asked for one.
    """

    way: LinkDirection
    second: bool
    dark: bool = False


def judging(practice: Practice) -> Judging:
    """Return how a practice judges a space."""
    way: LinkDirection = "down" if practice.design_on == "down" else "weaker"
    return Judging(way, practice.second_signal == "required")


def score(
    space_id: str,
    storey_id: str,
    need_code: str,
    air_view: AirView,
    inside: Ints,
    by: Judging,
) -> SpaceScore:
    """Return how a space meets its need; it and the point are named by their ids.

    `inside` are the numbers of its cells on the grid that is looked at. `pass_chance` is the chance that the share of
    the space that must meet the need does: the error is taken as common to all of it.
    """
    need = library().needs[need_code]
    heard, grid, off_db = air_view.heard, air_view.grid, error_db(air_view.scene)
    best, second = loudest(heard.rows(by.way, inside), len(inside), 2)
    assert need.best_dbm is not None and need.snr_db is not None and need.band is not None
    quiet_dbm = noise_floor_dbm(20, limit("air.noise_figure_client_db"))
    loud_ok = best >= need.best_dbm
    # What is sent on the channel besides takes time more than signal: it is said of its own (`noise`).
    best_ok = loud_ok & (best - quiet_dbm >= need.snr_db)
    edge_dbm = float(np.quantile(best, 1 - limit("air.pass_share"), method="lower"))
    wants_second = need.second_dbm is not None and by.second
    second_ok = second >= (need.second_dbm or NOTHING_DBM)
    ok = best_ok & second_ok if wants_second else best_ok
    worst, worst_second = int(np.argmin(best)), int(np.argmin(second))
    share = float(ok.mean())
    return SpaceScore(
        space_id=space_id,
        label=space_id,
        storey_id=storey_id,
        need=need_code,
        need_label=need.label,
        band=need.band,
        area_m2=round(len(inside) * grid.cell_m**2, 1),
        share=round(share, 4),
        best_share=round(float(loud_ok.mean()), 4),
        dark=by.dark,
        second_share=round(float(second_ok.mean()), 4),
        pass_chance=round(float(ndtr((edge_dbm - need.best_dbm) / off_db)), 4),
        edge_dbm=round(edge_dbm, 1),
        cover_ids=_cover(heard, by.way, inside),
        chance=round(float(ndtr((best.astype(float) - need.best_dbm) / off_db).mean()), 4),
        worst_dbm=round(float(best[worst]), 1),
        worst_at=_centre(grid, int(inside[worst])),
        worst_point_id=_serving(heard, by.way, int(inside[worst])),
        worst_second_dbm=round(float(second[worst_second]), 1),
        worst_second_at=_centre(grid, int(inside[worst_second])),
        holds=share >= limit("air.pass_share"),
        sum=_score_sum(space_id, need, loud_ok, second_ok, share, wants_second),
    )


def _centre(grid: Grid, cell: int) -> Point:
    """Return the centre of a cell by its number."""
    return Point(
        x_m=round(grid.x0_m + (cell % grid.columns + 0.5) * grid.cell_m, 3),
        y_m=round(grid.y0_m + (cell // grid.columns + 0.5) * grid.cell_m, 3),
    )


def _serving(heard: Signals, way: LinkDirection, cell: int) -> str | None:
    levels = [float(row[0]) for row in heard.rows(way, np.array([cell]))]
    return heard.points[int(np.argmax(levels))].id if levels else None


class SpaceNoise(Noun):
    """How the best signal of a space lies over noise and what else is sent on the channel that serves it."""

    space_id: str
    label: str
    storey_id: str
    band: Band
    share: float
    least_db: float
    worst_db: float
    worst_at: Point
    holds: bool
    sum: Sum


def noise(
    space_id: str, storey_id: str, need: Need, sinr_db: Float32s, grid: Grid, inside: Ints
) -> SpaceNoise:
    """Return the same from the ratio over a storey; the space is named by its id. [dB]"""
    assert need.snr_db is not None and need.band is not None
    here = sinr_db[inside]
    clear, worst = here >= need.snr_db, int(np.argmin(here))
    share = float(clear.mean())
    holds = share >= limit("air.pass_share")
    return SpaceNoise(
        space_id=space_id,
        label=space_id,
        storey_id=storey_id,
        band=need.band,
        share=round(share, 4),
        least_db=need.snr_db,
        worst_db=round(float(here[worst]), 1),
        worst_at=_centre(grid, int(inside[worst])),
        holds=holds,
        sum=Sum(
            label=f"{space_id}: share clear of noise and other points",
            value=round(100 * share, 1),
            unit="%",
            limit=100 * limit("air.pass_share"),
            holds=holds,
            lines=(
                SumLine(label="places looked at, every 0.5 m", value=len(here), unit=""),
                SumLine(label=f"{need.snr_db:.0f} dB or more", value=int(clear.sum()), unit=""),
            ),
            formula="signal / (thermal noise in 20 MHz + sum of others on the channel x share of it x time on the air)",
            source=f"library: needs ({need.source}); limits: air.others_busy_share",
        ),
    )


def _cover(heard: Signals, way: LinkDirection, inside: Ints) -> tuple[str, ...]:
    """Return the two points that cover for each other over most of a space, none where one is heard at most."""
    if len(heard.points) < 2:
        return ()
    levels = np.array(list(heard.rows(way, inside)))
    two = np.sort(np.argpartition(-levels, 1, axis=0)[:2], axis=0)
    second = np.take_along_axis(levels, two, axis=0).min(axis=0)
    pairs, counts = np.unique(two[:, second >= limit("air.heard_dbm")], axis=1, return_counts=True)
    if not len(counts):
        return ()
    one, other = pairs[:, int(np.argmax(counts))]
    return heard.points[int(one)].id, heard.points[int(other)].id


def _score_sum(
    space_id: str,
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
        label=f"{space_id}: share that meets {need.label.lower()}",
        value=round(share * 100, 1),
        unit="%",
        limit=limit("air.pass_share") * 100,
        holds=share >= limit("air.pass_share"),
        lines=tuple(lines),
        formula="places that meet every part of the need / places looked at",
        source=f"library: needs ({need.source}). Usual error 6 to 8 dB, nothing measured.",
    )
