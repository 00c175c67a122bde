"""What readings teach of the places near them, beyond what walls and spaces explain.

Two places have an error of the prediction in common when they hear the same access point on the same
storey, more so in the same space, and most when they lie close. What is left of the readings after the fit
is spread by that: the best guess from what is measured (simple kriging; Cressie, Statistics for Spatial
Data, 1993, section 3.2). What two places have in common is seen on traced scenes: docs/accuracy.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from threading import Lock

import numpy as np
import shapely
from cachetools import cached
from numpy.typing import NDArray

from heathrise.core.job import NearShift
from heathrise.core.library import limit
from heathrise.core.radio.keeping import room
from heathrise.core.radio.mirrors import own_storey
from heathrise.core.radio.scene import Grid, Scene, Transmitter
from heathrise.core.site.building import Building

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
# A point that was moved further than this since is another point to what was measured. [m]
_SAME_M = 0.5


@dataclass(frozen=True)
class Heard:
    """Places with the sender heard there: numbers of sender, storey and space (-1 for none), and x, y. [m]"""

    sender: Ints
    storey: Ints
    space: Ints
    xy_m: Floats


def common_db2(one: Heard, other: Heard) -> Floats:
    """Return the error each place of one has in common with each of the other, (n, m). [dB2]"""
    apart_m = np.linalg.norm(one.xy_m[:, None] - other.xy_m[None], axis=2)
    near = limit("learn.near_db") ** 2 * np.exp(-apart_m / limit("learn.near_m"))
    inside = (one.space[:, None] == other.space[None]) & (one.space[:, None] >= 0)
    found = limit("learn.sender_db") ** 2 + near + limit("learn.pair_db") ** 2 * inside
    alike: Floats = (
        found * (one.sender[:, None] == other.sender[None]) * (one.storey[:, None] == other.storey[None])
    )
    return alike


def near_db(scene: Scene, transmitter: Transmitter, where: Grid | Floats) -> Float32s:
    """Return what readings of a transmitter teach of a grid (kept) or of points (n, 3); 0 where none was near. [dB]"""
    readings = _readings(scene, transmitter)
    if not readings:
        return np.zeros(1, np.float32)
    return _on_grid(scene, readings, where) if isinstance(where, Grid) else _at(scene, readings, where)


def _readings(scene: Scene, transmitter: Transmitter) -> tuple[NearShift, ...]:
    """Return the readings of the point that stands here."""
    if scene.learned is None or not scene.learned.near:
        return ()
    storey_id = scene.building.storeys[own_storey(scene, transmitter)].id
    return tuple(
        n
        for n in scene.learned.near
        if n.from_storey_id == storey_id
        and np.hypot(n.from_at.x_m - transmitter.x_m, n.from_at.y_m - transmitter.y_m) < _SAME_M
    )


@cached(room(24), lock=Lock())
def _on_grid(scene: Scene, readings: tuple[NearShift, ...], grid: Grid) -> Float32s:
    return _at(scene, readings, grid.points_m())


def _at(scene: Scene, readings: Sequence[NearShift], points_m: Floats) -> Float32s:
    storeys, spaces = _numbers(scene.building)
    level, inside = storey_numbers(scene.building, points_m), space_numbers(scene.building, points_m)
    found = np.zeros(len(points_m), np.float32)
    for number in {storeys[n.storey_id] for n in readings if n.storey_id in storeys}:
        mine = [n for n in readings if storeys.get(n.storey_id) == number]
        rows = np.flatnonzero(level == number)
        nothing = np.zeros(len(mine), np.int64)
        heard = Heard(
            nothing,
            nothing,
            np.array([spaces.get(n.space_id or "", -1) for n in mine], np.int64),
            np.array([(n.at.x_m, n.at.y_m) for n in mine], float),
        )
        here = np.zeros(len(rows), np.int64)
        places = Heard(here, here, inside[rows], points_m[rows, :2])
        found[rows] = common_db2(places, heard) @ np.array([n.weight for n in mine])
    return found


@lru_cache(maxsize=8)
def _numbers(building: Building) -> tuple[dict[str, int], dict[str, int]]:
    """Return the number of each storey and of each space."""
    storeys = {storey.id: n for n, storey in enumerate(building.storeys)}
    return storeys, {space_id: n for n, space_id in enumerate(building.polygons)}


def space_numbers(building: Building, points_m: Floats) -> Ints:
    """Return the number of the space each point (n, 3) lies in, in the order of the building's polygons; -1 for none."""
    numbers, level = _numbers(building)[1], storey_numbers(building, points_m)
    found = np.full(len(points_m), -1)
    for number in set(level[level >= 0].tolist()):
        here = level == number
        # The largest first: a room inside a hall is a space of its own.
        spaces = building.spaces[building.storeys[number].id]
        for space in sorted(spaces, key=lambda s: -building.polygons[s.id].area):
            inside = shapely.contains_xy(building.polygons[space.id], points_m[:, 0], points_m[:, 1])
            found[here & inside] = numbers[space.id]
    return found


def storey_numbers(building: Building, points_m: Floats) -> Ints:
    """Return the number of the storey each point (n, 3) is on, -1 below the lowest."""
    floors = np.array([storey.elevation_m for storey in building.storeys])
    found: Ints = np.searchsorted(floors, points_m[:, 2] + 1e-6, side="right") - 1
    return found


def heard_of(
    building: Building, senders: Sequence[str], storey_ids: Sequence[str], places_m: Floats
) -> Heard:
    """Return places (n, 3), each on a storey and heard from a sender, by numbers."""
    storeys, _ = _numbers(building)
    codes = {sender: n for n, sender in enumerate(sorted(set(senders)))}
    return Heard(
        np.array([codes[s] for s in senders], np.int64),
        np.array([storeys[s] for s in storey_ids], np.int64),
        space_numbers(building, places_m),
        places_m[:, :2],
    )
