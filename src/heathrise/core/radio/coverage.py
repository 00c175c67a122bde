"""Signal over a storey: each access point down and up, and the best, second and third of them."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import AccessPoint, Band, Job, Practice, Radio
from heathrise.core.library import Client, library, limit
from heathrise.core.radio.reach import gains_db
from heathrise.core.radio.scene import Grid, Scene

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Way = Literal["weaker", "down", "up"]
NOTHING_DBM = np.float32(-150.0)


@dataclass(frozen=True)
class Signals:
    """Every access point's signal at every place: (points on the band, n). [dBm]"""

    points: tuple[AccessPoint, ...]
    down_dbm: Float32s
    up_dbm: Float32s

    def way(self, way: Way) -> Float32s:
        """Return down, up or the weaker of both."""
        if way == "weaker":
            return np.minimum(self.down_dbm, self.up_dbm)
        return self.down_dbm if way == "down" else self.up_dbm


def start_dbm(practice: Practice, band: str) -> float:
    """Return the starting power of a planned radio by the house practice. [dBm]"""
    more = limit("air.more_power_db") if practice.points_power == "more-power" else 0.0
    return limit(f"air.start_{band.replace('.', '')}_dbm") + more


def radios(job: Job, point: AccessPoint) -> tuple[Radio, ...]:
    """Return an access point's radios: those set, else its model's at starting power."""
    if point.radios:
        return point.radios
    model = job.equipment[point.model]
    return tuple(
        Radio(band=b.band, power_dbm=min(b.max_dbm, start_dbm(job.practice, b.band))) for b in model.bands
    )


def radio_on(job: Job, point: AccessPoint, band: str) -> Radio | None:
    """Return the radio of a band when it is on and the model has that band."""
    if job.equipment[point.model].band(band) is None:
        return None
    return next((r for r in radios(job, point) if r.band == band and r.on), None)


def client_power_dbm(client: Client, band: str) -> float:
    """Return a client's power on a band; one without the band is never heard."""
    power = client.power_dbm(band)
    return float(NOTHING_DBM) if power is None else power


def signal(
    job: Job, point: AccessPoint, radio: Radio, path_gain_db: Float32s, client: Client
) -> tuple[Float32s, Float32s]:
    """Return (down, up) of one access point from its path gain, antenna under its peak included.

    down = P_ap + G_ap(direction) - PL + G_client; up = P_client + G_client - PL + G_ap(direction).
    """
    has = job.equipment[point.model].band(radio.band)
    through = path_gain_db + np.float32((has.gain_dbi if has else 0.0) + client.gain_dbi)
    up = through + np.float32(client_power_dbm(client, radio.band))
    return through + np.float32(radio.power_dbm), up


def signals(
    job: Job,
    scene: Scene,
    band: Band,
    where: Grid | Floats,
    client: Client | None = None,
    hasty: str | None = None,
) -> Signals:
    """Return the signals of every access point that is on the air, on a grid or at points (n, 3).

    `hasty` names a point that is being moved: its rays are not followed by mirrors.
    """
    client = client or library().clients[job.brief.client_class]
    n = where.rows * where.columns if isinstance(where, Grid) else len(where)
    sending = [(p, r) for p in job.of(AccessPoint) if (r := radio_on(job, p, band)) is not None]
    stands = [replace(scene.stand(point), mirrors=point.id != hasty) for point, _ in sending]
    down, up = np.empty((len(sending), n), np.float32), np.empty((len(sending), n), np.float32)
    for i, gain in enumerate(gains_db(scene, stands, band, where)):
        down[i], up[i] = signal(job, *sending[i], gain, client)
    return Signals(tuple(point for point, _ in sending), down, up)


def ranked(levels_dbm: Float32s, rank: int) -> Float32s:
    """Return the best (0), second (1) or third (2) of levels (points, n); -150 dBm for none."""
    if levels_dbm.shape[0] <= rank:
        return np.full(levels_dbm.shape[1], NOTHING_DBM)
    best_first: Float32s = np.partition(-levels_dbm, rank, axis=0)
    level: Float32s = -best_first[rank]
    return level
