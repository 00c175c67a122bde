"""Path gain from an access point to places: the direct ray, what walls mirror and what goes round, in power."""

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from threading import Lock

import numpy as np
from cachetools import cached
from numpy.typing import NDArray

from heathrise.core.job import BANDS, Band
from heathrise.core.radio.balance import Balance, balance_of, scattered
from heathrise.core.radio.keeping import is_kept, room
from heathrise.core.radio.mirrors import Mirrored, followed, grid_mirrored, mirrored_at, own_storey
from heathrise.core.radio.nearby import near_db, space_numbers
from heathrise.core.radio.scene import Grid, Losses, Scene, Transmitter, grid_losses
from heathrise.core.radio.threads import each

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
# Gain that stands for none at all. [dB]
NOTHING_DB = np.float32(-300.0)


def direct_db(losses: Losses, band: Band) -> Float32s:
    """Return the direct path gain with the access point's antenna under its peak. [dB]"""
    gain: Float32s = losses.relative_db - losses.loss_db[BANDS.index(band)]
    return gain


def losses_of(scene: Scene, transmitter: Transmitter, where: Grid | Floats) -> Losses:
    """Return direct losses on a grid (kept) or at points (n, 3)."""
    transmitter = replace(transmitter, mirrors=True)
    return (
        grid_losses(scene, transmitter, where)
        if isinstance(where, Grid)
        else _losses_at(scene, transmitter, where)
    )


def _by_places(scene: Scene, transmitter: Transmitter, points_m: Floats) -> tuple[Scene, Transmitter, bytes]:
    return scene, transmitter, points_m.tobytes()


@cached(room(2), key=_by_places, lock=Lock())
def _losses_at(scene: Scene, transmitter: Transmitter, points_m: Floats) -> Losses:
    """Return direct losses at points (n, 3), kept a while: one band after another asks for the same."""
    return scene.losses(transmitter, points_m)


@cached(room(96), lock=Lock())
def around(scene: Scene, transmitter: Transmitter, band: Band) -> Float32s:
    """Return the indirect path gain of every cell indoors, as a ratio of power, kept.

    Direct rays are followed to the transmitter's storey, the one above and the one below; what is
    thrown back further off has crossed two slabs and is not heard.
    """
    balance = balance_of(scene)
    direct, last = np.zeros(balance.count), np.zeros(balance.count)
    is_followed = np.zeros(balance.count, bool)
    storeys = followed(scene, transmitter) if follows(scene, transmitter) else ()
    for storey in storeys:
        storey_id = scene.building.storeys[storey].id
        numbers = balance.numbers[storey_id].ravel()
        found = grid_mirrored(scene, transmitter, balance.grids[storey_id]).last[BANDS.index(band)]
        last[numbers[numbers >= 0]] = found[numbers >= 0]
        is_followed[numbers[numbers >= 0]] = True
    for storey_id in _near_storeys(scene, transmitter):
        numbers = balance.numbers[storey_id].ravel()
        inside = numbers >= 0
        gain = direct_db(losses_of(scene, transmitter, balance.grids[storey_id]), band)
        direct[numbers[inside]] = 10.0 ** (gain[inside] / 10.0)
    gone_round = balance.solver(band).around(scattered(direct, is_followed), last if storeys else None)
    whole: Float32s = gone_round.astype(np.float32)
    return whole


def follows(scene: Scene, transmitter: Transmitter) -> bool:
    """Say whether a transmitter's rays are followed by mirrors."""
    return scene.mirrors and transmitter.mirrors


def mirrored_of(scene: Scene, transmitter: Transmitter, where: Grid | Floats) -> Mirrored:
    """Return what walls mirror on a grid (kept) or at points (n, 3)."""
    return (
        grid_mirrored(scene, transmitter, where)
        if isinstance(where, Grid)
        else mirrored_at(scene, transmitter, where)
    )


def _near_storeys(scene: Scene, transmitter: Transmitter) -> list[str]:
    storeys, own = scene.building.storeys, own_storey(scene, transmitter)
    return [storey.id for storey in storeys[max(0, own - 1) : own + 2]]


def gain_db(scene: Scene, transmitter: Transmitter, band: Band, where: Grid | Floats) -> Float32s:
    """Return the path gain, antenna under its peak included, on a grid (kept) or at points (n, 3). [dB]"""
    return (
        grid_gain_db(scene, transmitter, band, where)
        if isinstance(where, Grid)
        else _at_db(scene, transmitter, band, where)
    )


@cached(room(48), lock=Lock())
def grid_gain_db(scene: Scene, transmitter: Transmitter, band: Band, grid: Grid) -> Float32s:
    """Return `gain_db` on a grid, kept."""
    return _at_db(scene, transmitter, band, grid)


def _at_db(scene: Scene, transmitter: Transmitter, band: Band, where: Grid | Floats) -> Float32s:
    direct = direct_db(losses_of(scene, transmitter, where), band)
    if not scene.building.storeys:
        return direct
    learned = learned_db(scene, transmitter, where)
    if not scene.model.round:
        return direct + learned
    balance = balance_of(scene)
    cells = grid_cells(balance, where) if isinstance(where, Grid) else point_cells(balance, where)
    extra = np.concatenate([around(scene, transmitter, band), np.zeros(1, np.float32)])[cells]
    if follows(scene, transmitter):
        extra = extra + mirrored_of(scene, transmitter, where).every[BANDS.index(band)]
    power = np.maximum(10 ** (direct / 10) + extra, np.float32(1e-37))
    both: Float32s = 10 * np.log10(power, dtype=np.float32)
    return np.maximum(both, NOTHING_DB) + learned


def gains_db(
    scene: Scene, transmitters: Sequence[Transmitter], band: Band, where: Grid | Floats
) -> list[Float32s]:
    """Return `gain_db` of many transmitters. Those not known yet are found one a thread."""
    unknown = [transmitter for transmitter in transmitters if not _is_known(scene, transmitter, band, where)]
    if len(unknown) > 1:
        factored(scene, (band,))
        found = dict(zip(unknown, each(lambda s: gain_db(scene, s, band, where), unknown), strict=True))
        return [found[s] if s in found else gain_db(scene, s, band, where) for s in transmitters]
    return [gain_db(scene, transmitter, band, where) for transmitter in transmitters]


def factored(scene: Scene, bands: Sequence[Band]) -> None:
    """Factor the balances of bands, one a thread, before other threads ask for them."""
    if scene.model.round and scene.building.storeys:
        solvers = [balance_of(scene).solver(band) for band in bands]
        each(lambda solver: solver.factor, solvers)


def _is_known(scene: Scene, transmitter: Transmitter, band: Band, where: Grid | Floats) -> bool:
    """Say whether the slow parts of a transmitter's gain are kept: a single one is left to all threads."""
    if not isinstance(where, Grid):
        return False
    if is_kept(grid_gain_db, scene, transmitter, band, where):
        return True
    if not is_kept(grid_losses, scene, replace(transmitter, mirrors=True), where):
        return False
    return not (scene.model.round and scene.building.storeys) or is_kept(around, scene, transmitter, band)


def learned_db(scene: Scene, transmitter: Transmitter, where: Grid | Floats) -> Float32s:
    """Return what a survey taught of the space each place lies in, and of the transmitter heard there. [dB]"""
    if scene.learned is None:
        return np.zeros(1, np.float32)
    spaces = _learned_on_grid(scene, where) if isinstance(where, Grid) else _learned_at(scene, where)
    return spaces + near_db(scene, transmitter, where)


@lru_cache(maxsize=32)
def _learned_on_grid(scene: Scene, grid: Grid) -> Float32s:
    return _learned_at(scene, grid.points_m())


def _learned_at(scene: Scene, points_m: Floats) -> Float32s:
    shifts = {s.space_id: s.shift_db for s in scene.learned.spaces} if scene.learned else {}
    # The last one is for places in no space, numbered -1.
    by_number = np.array([*(shifts.get(i, 0.0) for i in scene.building.polygons), 0.0], np.float32)
    found: Float32s = by_number[space_numbers(scene.building, points_m)]
    return found


@lru_cache(maxsize=64)
def grid_cells(balance: Balance, grid: Grid) -> Ints:
    """Return the number of the cell that holds each place of a grid, -1 outdoors."""
    return point_cells(balance, grid.points_m())


def point_cells(balance: Balance, points_m: Floats) -> Ints:
    """Return the number of the cell that holds each point (n, 3), -1 outdoors."""
    storeys = balance.scene.building.storeys
    floors = np.array([storey.elevation_m for storey in storeys])
    level = np.searchsorted(floors, points_m[:, 2] + 1e-6, side="right") - 1
    found = np.full(len(points_m), -1)
    for index, storey in enumerate(storeys):
        grid, numbers = balance.grids[storey.id], balance.numbers[storey.id]
        column = np.floor((points_m[:, 0] - grid.x0_m) / grid.cell_m).astype(int)
        row = np.floor((points_m[:, 1] - grid.y0_m) / grid.cell_m).astype(int)
        here = (level == index) & (column >= 0) & (column < grid.columns) & (row >= 0) & (row < grid.rows)
        found[here] = numbers[row[here], column[here]]
    return found
