"""What a placement is worked out on: the spots, the places, and which spot serves which place how well."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.job import Band, Job, Space
from heathrise.core.library import library, limit
from heathrise.core.radio.balance import balance_of
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.candidates import Spot, spots
from heathrise.core.radio.coverage import client_power_dbm, radios
from heathrise.core.radio.finds import Aim
from heathrise.core.radio.reach import NOTHING_DB, direct_db, gains_db, point_cells
from heathrise.core.radio.scene import Scene, grid_losses
from heathrise.core.radio.threads import each
from heathrise.core.site.building import spaces_on

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.int64]
# A space with so many spots has more than a first answer needs.
_MANY_SPOTS = 24


@dataclass(frozen=True)
class Wanted:
    """The places of one space: their rows among all places, and what the space asks."""

    space: Space
    rows: Ints
    needs_second: bool


@dataclass(frozen=True)
class Ground:
    """What the solver reads: which spot serves which place at best and at second, and the prices."""

    spots: tuple[Spot, ...]
    spaces: tuple[Wanted, ...]
    best: Bools
    second: Bools
    prices: Floats
    least_points: int
    places: Floats
    asks: Floats
    bands: dict[Band, Ints]

    def worth(self, chosen: Ints) -> tuple[float, float]:
        """Return (places lacking, price) of a plan: the less the better."""
        return self.lacking(chosen), float(self.prices[chosen].sum())

    def share(self, wanted: Wanted, chosen: Ints) -> float:
        """Return the share of a space's places that meets its need with some spots."""
        return float(self.met(wanted, chosen).mean()) if len(wanted.rows) else 1.0

    def met(self, wanted: Wanted, chosen: Ints) -> Bools:
        """Return which of a space's places meet its need with some spots."""
        met: Bools = np.asarray(self.best[np.ix_(chosen, wanted.rows)].any(axis=0), bool)
        if wanted.needs_second:
            met = met & np.asarray(self.second[np.ix_(chosen, wanted.rows)].sum(axis=0) >= 2)
        return met

    def lacking(self, chosen: Ints) -> float:
        """Return how many places short of their share all spaces are together."""
        return sum(max(0.0, wanted_of(w) - float(self.met(w, chosen).sum())) for w in self.spaces)

    def reachable(self) -> Ints:
        """Return how many places of each space a plan is asked to meet: what all spots together can."""
        every = np.arange(len(self.spots))
        could = [int(self.met(w, every).sum()) if len(every) else 0 for w in self.spaces]
        return np.array([min(wanted_of(w), n) for w, n in zip(self.spaces, could, strict=True)], np.int64)


def wanted_of(wanted: Wanted) -> int:
    """Return how many places of a space are to be met."""
    return ceil(limit("place.pass_share") * len(wanted.rows) - 1e-9)


def ground_of(
    job: Job, scene: Scene, aim: Aim, model: str, storeys: tuple[str, ...], rough: bool = False
) -> Ground:
    """Return spots, places, and who serves what; a `rough` one leaves half the spots of large spaces unjudged."""
    found = spots(job, scene.building, model, storeys)
    points, wanted = _places(job, scene, storeys, aim)
    asks, bands = _asks(wanted, aim, len(points))
    judged = _judged(found) if rough else np.arange(len(found))
    best = np.zeros((len(found), len(points)), bool)
    second = np.zeros_like(best)
    best[judged], second[judged] = _served(job, scene, [found[i] for i in judged], points, asks, bands)
    people = sum(space.people for space in job.of(Space) if space.storey_id in storeys)
    least = ceil(people / limit("place.clients_per_radio"))
    prices, least = _prices(found, aim), min(least, len(found))
    return Ground(found, wanted, best, second, prices, least, points, asks, bands)


def _judged(found: tuple[Spot, ...]) -> Ints:
    """Return the spots judged for a first answer: all that are kept or of a small space, half of the others."""
    of_space = Counter(spot.space for spot in found if not spot.kept)
    return np.array(
        [i for i, s in enumerate(found) if s.kept or of_space[s.space] < _MANY_SPOTS or i % 2 == 0], np.int64
    )


def _prices(found: tuple[Spot, ...], aim: Aim) -> Floats:
    """Return what each spot costs by what is aimed at: a point, its price, or its cable."""
    if aim == "cable":
        return np.array([20.0 + spot.cable_m for spot in found])
    if aim == "fewest":
        return np.array([1000.0 + spot.cable_m for spot in found])
    return np.array([spot.cost for spot in found])


def _places(job: Job, scene: Scene, storeys: tuple[str, ...], aim: Aim) -> tuple[Floats, tuple[Wanted, ...]]:
    """Return the places (n, 3) of all spaces with a need, and each space's rows among them."""
    points: list[Floats] = []
    wanted, count = [], 0
    for storey_id in storeys:
        wide = scene.grid(storey_id, limit("place.cell_m")).points_m()
        close = scene.grid(storey_id, limit("place.cell_m") / 2).points_m()
        for space in spaces_on(job, storey_id):
            need = library().needs[space.need]
            if need.best_dbm is None:
                continue
            shape = scene.building.polygons[space.id]
            lattice = close if shape.area < limit("place.small_m2") else wide
            here = lattice[shapely.contains_xy(shape, lattice[:, 0], lattice[:, 1])]
            if not len(here):
                middle = shape.representative_point()
                here = np.array([[middle.x, middle.y, lattice[0, 2]]])
            twice = need.second_dbm is not None and (
                job.practice.second_signal == "required" or aim == "roaming"
            )
            wanted.append(Wanted(space, count + np.arange(len(here)), twice))
            points.append(here)
            count += len(here)
    return np.concatenate(points) if points else np.empty((0, 3)), tuple(wanted)


def _asks(wanted: tuple[Wanted, ...], aim: Aim, count: int) -> tuple[Floats, dict[Band, Ints]]:
    """Return the best and second signal each place asks for, (2, places), and the places of each band."""
    asks = np.full((2, count), np.inf)
    bands: dict[Band, Ints] = {}
    floor = noise_floor_dbm(20, limit("air.noise_figure_client_db"))
    extra = limit("place.roaming_extra_db") if aim == "roaming" else 0.0
    for w in wanted:
        need = library().needs[w.space.need]
        assert need.best_dbm is not None and need.band is not None and need.snr_db is not None
        asks[0, w.rows] = max(need.best_dbm, floor + need.snr_db)
        if need.second_dbm is not None:
            asks[1, w.rows] = need.second_dbm + extra
        bands[need.band] = np.concatenate([bands.get(need.band, np.empty(0, np.int64)), w.rows])
    return asks, bands


def _served(
    job: Job, scene: Scene, found: Sequence[Spot], points: Floats, asks: Floats, bands: dict[Band, Ints]
) -> tuple[Bools, Bools]:
    """Return which spot reaches which place at best and at second signal, (spots, places)."""
    best = np.zeros((len(found), len(points)), bool)
    second = np.zeros_like(best)
    for band, rows in bands.items():
        level = levels_dbm(job, scene, found, points[rows], band)
        best[:, rows] = level >= asks[0, rows]
        second[:, rows] = level >= asks[1, rows]
    return best, second


def followed_dbm(job: Job, scene: Scene, found: Sequence[Spot], points: Floats, band: Band) -> Floats:
    """Return the weaker way's signal of spots at every place, mirrors followed, (spots, places). [dBm]"""
    levels = np.full((len(found), len(points)), float(NOTHING_DB))
    sending = [
        (i, sends) for i, spot in enumerate(found) if (sends := _sends_dbm(job, spot, band)) is not None
    ]
    transmitters = [replace(scene.transmitter(found[i].point), floors=False) for i, _ in sending]
    for (i, sends), gain in zip(sending, gains_db(scene, transmitters, band, points), strict=True):
        levels[i] = gain + sends
    return levels


def _sends_dbm(job: Job, spot: Spot, band: Band) -> float | None:
    """Return the weaker way's power with both antennas, None without a radio of the band. [dBm]"""
    client = library().clients[job.brief.client_class]
    radio = next((r for r in radios(job, spot.point) if r.band == band and r.on and not r.aside), None)
    has = job.equipment[spot.point.model].band(band)
    if radio is None or has is None:
        return None
    down = job.practice.design_on == "down"
    sends = radio.power_dbm if down else min(radio.power_dbm, client_power_dbm(client, band))
    return sends + has.gain_dbi + client.gain_dbi


def levels_dbm(job: Job, scene: Scene, found: Sequence[Spot], points: Floats, band: Band) -> Floats:
    """Return the weaker way's signal of every spot at every place, without mirrors, (spots, places). [dBm]

    All spots are solved for at once; each one's rays are followed on its own storey only.
    """
    direct = np.full((len(found), len(points)), float(NOTHING_DB))
    balance = balance_of(scene)
    source = np.zeros((len(found), balance.count))
    powers = np.full(len(found), -200.0)

    def straight(i: int) -> None:
        sends = _sends_dbm(job, found[i], band)
        if sends is None:
            return
        transmitter, powers[i] = scene.transmitter(found[i].point), sends
        direct[i] = direct_db(scene.losses(transmitter, points), band)
        storey_id = found[i].point.storey_id
        numbers = balance.numbers[storey_id].ravel()
        gain = direct_db(grid_losses(scene, transmitter, balance.grids[storey_id]), band)[numbers >= 0]
        source[i, numbers[numbers >= 0]] = 10.0 ** (gain / 10)

    each(straight, range(len(found)))
    if not scene.model.round or not len(found):
        without: Floats = direct + powers[:, None]
        return without
    indirect = balance.solver(band).around(source.T)
    cells = point_cells(balance, points)
    extra = np.where(cells[:, None] >= 0, indirect[cells], 0.0).T
    whole: Floats = np.asarray(10 * np.log10(10 ** (direct / 10) + extra) + powers[:, None], float)
    return whole


class Follower:
    """Follows spots with mirrors, each once."""

    def __init__(self, job: Job, scene: Scene):
        self.job, self.scene = job, scene
        self.known: set[int] = set()

    def missing(self, chosen: Ints) -> list[int]:
        """Return those of some spots that were not followed yet."""
        return [int(i) for i in chosen if int(i) not in self.known]

    def followed(self, ground: Ground, rows: list[int]) -> Ground:
        """Return the ground with some spots judged by all that is known of the air."""
        self.known.update(rows)
        best, second = ground.best.copy(), ground.second.copy()
        taken = [ground.spots[i] for i in rows]
        for band, places in ground.bands.items():
            levels = followed_dbm(self.job, self.scene, taken, ground.places[places], band)
            here = np.ix_(np.array(rows, np.int64), places)
            best[here], second[here] = levels >= ground.asks[0, places], levels >= ground.asks[1, places]
        return replace(ground, best=best, second=second)
