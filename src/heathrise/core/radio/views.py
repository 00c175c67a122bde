"""What can be seen of the air: one function a layer, each an array over the places asked for.

A new layer is one function here, registered by its name, and one table in the library's layers.toml.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.special import ndtr

from heathrise.core.job import AccessPoint, Band, Job, LinkDirection, Neighbour
from heathrise.core.library import library, limit
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.channels import plan_channels, span_mhz
from heathrise.core.radio.colouring import overlap
from heathrise.core.radio.coverage import NOTHING_DBM, Signals, ranked, signals
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.rates import phy_rates_mbps, usable_share
from heathrise.core.radio.scene import Grid, Scene
from heathrise.core.site.building import Building, spaces_on

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class AirView:
    """One band of a job's air over places: what every layer is made of.

    `in_turn` are points that hang on each other over the air: they hear each other, and none sends into another.
    """

    job: Job
    scene: Scene
    band: Band
    where: Grid | Floats
    way: LinkDirection = "weaker"
    planned: tuple[RadioPlan, ...] | None = None
    unmirrored_id: str | None = None
    known: Signals | None = None
    in_turn: tuple[frozenset[str], ...] = ()

    @cached_property
    def heard(self) -> Signals:
        """Every access point's signal at every place."""
        if self.known is not None:
            return self.known
        return signals(self.job, self.scene, self.band, self.where, unmirrored_id=self.unmirrored_id)

    @cached_property
    def levels(self) -> Float32s:
        """Signals of the way that is looked at, (points, n). [dBm]"""
        return self.heard.way(self.way)

    @property
    def grid(self) -> Grid:
        """The grid looked at. Raises TypeError when single points are."""
        if not isinstance(self.where, Grid):
            raise TypeError("this view is of single points, not of a grid")
        return self.where

    @property
    def count(self) -> int:
        """How many places there are."""
        return int(self.levels.shape[1])

    @cached_property
    def best(self) -> Float32s:
        """The best signal. [dBm]"""
        return ranked(self.levels, 0)

    @cached_property
    def server(self) -> Ints:
        """The number of the point that serves each place, -1 when none is on the air."""
        if not self.heard.points:
            return np.full(self.count, -1)
        return np.asarray(self.levels.argmax(axis=0), np.int64)

    @cached_property
    def plans(self) -> tuple[RadioPlan | None, ...]:
        """The radio plan of each point heard."""
        planned = plan_channels(self.job, self.scene) if self.planned is None else self.planned
        rows = {r.point_id: r for r in planned if r.band == self.band}
        return tuple(rows.get(point.id) for point in self.heard.points)

    @cached_property
    def overlaps(self) -> Floats:
        """The share of channel each pair of points has in common, (points, points)."""
        blocks = [
            span_mhz(self.band, p.channel, p.width_mhz) if p is not None and p.channel is not None else None
            for p in self.plans
        ]
        n = len(blocks)
        found = np.zeros((n, n))
        for i, one in enumerate(blocks):
            for j, other in enumerate(blocks):
                if i != j and one is not None and other is not None:
                    found[i, j] = overlap(one, other)
        return found

    @cached_property
    def against(self) -> Floats:
        """The same for pairs that send into each other: what hangs together sends in turns, (points, points)."""
        found = self.overlaps.copy()
        for group in self.in_turn:
            mine = [i for i, point in enumerate(self.heard.points) if point.id in group]
            found[np.ix_(mine, mine)] = 0.0
        return found

    @cached_property
    def rates(self) -> Floats:
        """The PHY rate of every place. [Mb/s]"""
        return phy(self).astype(float)

    @cached_property
    def noise_dbm(self) -> float:
        """Thermal noise of a client in 20 MHz. [dBm]"""
        return noise_floor_dbm(20, limit("air.noise_figure_client_db"))


Layer = Callable[[AirView], Float32s]
LAYERS: dict[str, Layer] = {}


def layer(name: str) -> Callable[[Layer], Layer]:
    """Register a layer by its name in layers.toml."""

    def keep(function: Layer) -> Layer:
        LAYERS[name] = function
        return function

    return keep


def see(air_view: AirView, name: str) -> Float32s:
    """Return one layer, without value in the earth round a cellar. Raises KeyError for a name that is none."""
    values = np.asarray(LAYERS[name](air_view), np.float32)
    return np.where(_in_earth(air_view), np.float32(np.nan), values)


def _in_earth(air_view: AirView) -> Bools:
    """Return which places looked at lie under the ground and in no space of their storey."""
    grid, building = air_view.where, air_view.scene.building
    if not isinstance(grid, Grid) or grid.z_m >= 0 or not building.storeys:
        return np.zeros(air_view.count, bool)
    return _outside_spaces(building, grid)


@lru_cache(maxsize=16)
def _outside_spaces(building: Building, grid: Grid) -> Bools:
    storey = max((s for s in building.storeys if s.elevation_m <= grid.z_m), key=lambda s: s.elevation_m)
    drawn = shapely.union_all([building.polygons[space.id] for space in building.spaces[storey.id]])
    points = grid.points_m()
    outside: Bools = ~shapely.contains_xy(drawn, points[:, 0], points[:, 1])
    return outside


@layer("best")
def best(air_view: AirView) -> Float32s:
    """Return the best signal. [dBm]"""
    return air_view.best


@layer("second")
def second(air_view: AirView) -> Float32s:
    """Return the second signal. [dBm]"""
    return ranked(air_view.levels, 1)


@layer("third")
def third(air_view: AirView) -> Float32s:
    """Return the third signal: what is left when two are lost. [dBm]"""
    return ranked(air_view.levels, 2)


@layer("failed")
def failed(air_view: AirView) -> Float32s:
    """Return the best signal if the point that serves each place failed. [dBm]"""
    return ranked(air_view.levels, 1)


@layer("snr")
def snr(air_view: AirView) -> Float32s:
    """Return the best signal over thermal noise in 20 MHz. [dB]"""
    return air_view.best - np.float32(air_view.noise_dbm)


@layer("interference")
def interference(air_view: AirView) -> Float32s:
    """Return what other points and known neighbours send on the serving point's channel. [dBm]

    Each counts for the share of its channel in common and of the time it is on the air.
    """
    busy = limit("air.others_busy_share")
    power = np.zeros(air_view.count)
    if air_view.heard.points:
        share = air_view.against[air_view.server].T * busy
        power += (share * 10 ** (air_view.heard.down_dbm.astype(float) / 10)).sum(axis=0)
        power += _neighbours_mw(air_view)[air_view.server] * busy
    found: Float32s = (10 * np.log10(np.maximum(power, 1e-15))).astype(np.float32)
    return found


def _neighbours_mw(air_view: AirView) -> Floats:
    """Return what neighbours put on each point's channel. [mW]"""
    heard = [n for n in air_view.job.of(Neighbour) if n.band == air_view.band]
    found = np.zeros(len(air_view.plans))
    for i, plan in enumerate(air_view.plans):
        if plan is None or plan.channel is None:
            continue
        mine = span_mhz(air_view.band, plan.channel, plan.width_mhz)
        for other in heard:
            theirs = span_mhz(air_view.band, other.channel, other.width_mhz)
            found[i] += overlap(mine, theirs) * 10 ** (other.rssi_dbm / 10)
    return found


@layer("sinr")
def sinr(air_view: AirView) -> Float32s:
    """Return the best signal over noise and interference, summed as powers. [dB]"""
    total = 10 ** (air_view.noise_dbm / 10) + 10 ** (interference(air_view).astype(float) / 10)
    found: Float32s = (air_view.best - 10 * np.log10(total)).astype(np.float32)
    return found


@layer("phy")
def phy(air_view: AirView) -> Float32s:
    """Return the PHY rate of the serving point's width, generation and streams. [Mb/s]"""
    ratio = sinr(air_view).astype(float)
    found = np.zeros(air_view.count)
    for i, (point, plan) in enumerate(zip(air_view.heard.points, air_view.plans, strict=True)):
        here = air_view.server == i
        if plan is not None and here.any():
            model = air_view.job.equipment[point.model]
            radio = model.band(air_view.band)
            streams = min(radio.chains if radio else 1, int(limit("air.client_streams")))
            found[here] = phy_rates_mbps(ratio[here], model.generation or "6", plan.width_mhz, streams)
    return found.astype(np.float32)


@layer("usable")
def usable(air_view: AirView) -> Float32s:
    """Return the PHY rate less what the air's rules cost with the usual active clients. [Mb/s]"""
    found: Float32s = phy(air_view) * np.float32(usable_share(limit("air.usual_clients")))
    return found


@layer("server")
def server(air_view: AirView) -> Float32s:
    """Return the number of the serving point, in the order of their labels."""
    return np.where(air_view.best > NOTHING_DBM, air_view.server, -1).astype(np.float32)


@layer("overlap")
def heard_on_one_channel(air_view: AirView) -> Float32s:
    """Return how many points are heard on the serving point's channel, itself counted."""
    if not air_view.heard.points:
        return np.zeros(air_view.count, np.float32)
    heard = air_view.heard.down_dbm >= limit("air.heard_dbm")
    shares = air_view.overlaps[air_view.server].T > 0
    return np.asarray((heard & shares).sum(axis=0) + heard.any(axis=0), np.float32)


@layer("margin")
def margin(air_view: AirView) -> Float32s:
    """Return by how much the second signal lies over what moving to it takes. [dB]"""
    found: Float32s = second(air_view) - np.float32(limit("air.look_for_another_dbm"))
    return found


@layer("chance")
def chance(air_view: AirView) -> Float32s:
    """Return the chance that a place meets its space's need, from the prediction's error. [%]

    References
    ----------
    A normal error in dB about the predicted level, as ITU-R P.1238 has for the spread about a median.
    """
    need = need_dbm(air_view)
    met = ndtr((air_view.best.astype(float) - need) / error_db(air_view.scene))
    found: Float32s = np.where(np.isnan(need), np.nan, 100 * met).astype(np.float32)
    return found


def error_db(scene: Scene) -> float:
    """Return the standard error of a prediction: the calibration's on points held out, else the usual. [dB]"""
    return max(scene.learned.held_out_db, 1.0) if scene.learned else limit("air.model_error_db")


def need_dbm(air_view: AirView) -> Floats:
    """Return the best signal each place needs, NaN where no space asks for any. [dBm]"""
    points = air_view.where.points_m() if isinstance(air_view.where, Grid) else air_view.where
    found = np.full(len(points), np.nan)
    building = air_view.scene.building
    floors = np.array([storey.elevation_m for storey in building.storeys])
    level = np.searchsorted(floors, points[:, 2] + 1e-6, side="right") - 1
    for index, storey in enumerate(building.storeys):
        here = level == index
        for space in spaces_on(air_view.job, storey.id):
            wanted = library().needs[space.need].best_dbm
            if wanted is not None and here.any():
                inside = here & shapely.contains_xy(building.polygons[space.id], points[:, 0], points[:, 1])
                found[inside] = wanted
    return found


def without(job: Job, point_id: str) -> Job:
    """Return the job as if one access point had failed."""
    left = tuple(e for e in job.elements if not (isinstance(e, AccessPoint) and e.id == point_id))
    return Job.model_construct(name=job.name, elements=left)


def with_points(job: Job, points: tuple[AccessPoint, ...]) -> Job:
    """Return the job with other access points in place of its own."""
    left = tuple(e for e in job.elements if not isinstance(e, AccessPoint))
    return Job.model_construct(name=job.name, elements=(*left, *points))


def straight(job: Job) -> Job:
    """Return the job looked at by straight rays only."""
    left = tuple(e for e in job.elements if e.kind != "air-model")
    model = job.air_model.model_copy(update={"round": False})
    return Job.model_construct(name=job.name, elements=(*left, model))
