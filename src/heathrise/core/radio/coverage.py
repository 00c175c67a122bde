"""Signal over a storey: each access point down and up, and the best, second and third of them."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import AccessPoint, Band, Job, LinkDirection, Practice, Radio
from heathrise.core.library import Client, library, limit
from heathrise.core.radio.reach import gains_db
from heathrise.core.radio.scene import Grid, Scene

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
NOTHING_DBM = np.float32(-150.0)


@dataclass(frozen=True)
class Paths:
    """Path gain from every point on the air to every place, both ends' antennas counted: (points, n). [dB]"""

    points: tuple[AccessPoint, ...]
    gain_db: Float32s


@dataclass(frozen=True)
class Signals:
    """Every access point's signal at every place: (points on the band, n). [dBm]

    Kept as paths and powers: another power is another offset, and the paths stay.
    """

    paths: Paths
    power_dbm: Float32s
    client_dbm: np.float32

    @property
    def points(self) -> tuple[AccessPoint, ...]:
        """The points heard, in the order of the rows."""
        return self.paths.points

    @property
    def down_dbm(self) -> Float32s:
        """What a client hears of each point."""
        return self.way("down")

    @property
    def up_dbm(self) -> Float32s:
        """What each point hears of a client."""
        return self.way("up")

    def way(self, way: LinkDirection) -> Float32s:
        """Return down, up or the weaker of both."""
        level: Float32s = self.paths.gain_db + self._sent_dbm(way)[:, None]
        return level

    def rows(self, way: LinkDirection, places: Ints) -> Iterator[Float32s]:
        """Yield the same point by point, of some places: what is laid side by side is never larger than one."""
        for gain_db, sent_dbm in zip(self.paths.gain_db, self._sent_dbm(way), strict=True):
            yield gain_db[places] + sent_dbm

    def _sent_dbm(self, way: LinkDirection) -> Float32s:
        """Return what the sender of each path sends with; of the weaker way, the lesser of both."""
        up = np.full_like(self.power_dbm, self.client_dbm)
        return {"down": self.power_dbm, "up": up, "weaker": np.minimum(self.power_dbm, up)}[way]


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


def with_radio(job: Job, point: AccessPoint, band: str, **changes: object) -> AccessPoint:
    """Return the access point with one radio changed; its defaults become settings."""
    changed = tuple(
        radio.model_copy(update=changes) if radio.band == band else radio for radio in radios(job, point)
    )
    return point.model_copy(update={"radios": changed})


def radio_on(job: Job, point: AccessPoint, band: str) -> Radio | None:
    """Return the radio of a band when it is on and the model has that band."""
    if job.equipment[point.model].band(band) is None:
        return None
    return next((r for r in radios(job, point) if r.band == band and r.on), None)


def standing_on(job: Job, band: str) -> tuple[AccessPoint, ...]:
    """Return the points that are on the air of a band, in their own order."""
    return tuple(point for point in job.of(AccessPoint) if radio_on(job, point, band) is not None)


def serving_on(job: Job, point: AccessPoint, band: str) -> Radio | None:
    """Return the radio that serves clients on a band: one set aside for other points serves none."""
    radio = radio_on(job, point, band)
    return None if radio is None or radio.aside else radio


def client_power_dbm(client: Client, band: str) -> float:
    """Return a client's power on a band; one without the band is never heard."""
    power = client.power_dbm(band)
    return float(NOTHING_DBM) if power is None else power


def paths(
    job: Job,
    scene: Scene,
    band: Band,
    where: Grid | Floats,
    client: Client | None = None,
    unmirrored_id: str | None = None,
) -> Paths:
    """Return the paths from every point that serves clients on a band, on a grid or to places (n, 3).

    `unmirrored_id` names a point that is being moved: its rays are not followed by mirrors.
    """
    client = client or library().clients[job.brief.client_class]
    n = where.rows * where.columns if isinstance(where, Grid) else len(where)
    points = tuple(point for point in job.of(AccessPoint) if serving_on(job, point, band) is not None)
    transmitters = [replace(scene.transmitter(point), mirrors=point.id != unmirrored_id) for point in points]
    found = np.empty((len(points), n), np.float32)
    for i, gain_db in enumerate(gains_db(scene, transmitters, band, where)):
        has = job.equipment[points[i].model].band(band)
        found[i] = gain_db + np.float32((has.gain_dbi if has else 0.0) + client.gain_dbi)
    return Paths(points, found)


def powered(job: Job, along: Paths, band: Band, client: Client | None = None) -> Signals:
    """Return the signals along paths: down = P_point + gain, up = P_client + gain."""
    client = client or library().clients[job.brief.client_class]
    sending = [radio_on(job, job.get(AccessPoint, point.id), band) for point in along.points]
    power_dbm = np.array([radio.power_dbm if radio else NOTHING_DBM for radio in sending], np.float32)
    return Signals(along, power_dbm, np.float32(client_power_dbm(client, band)))


def signals(
    job: Job,
    scene: Scene,
    band: Band,
    where: Grid | Floats,
    client: Client | None = None,
    unmirrored_id: str | None = None,
) -> Signals:
    """Return the signals of every access point that is on the air, on a grid or at places (n, 3)."""
    return powered(job, paths(job, scene, band, where, client, unmirrored_id), band, client)


def ranked(levels_dbm: Float32s, rank: int) -> Float32s:
    """Return the best (0), second (1) or third (2) of levels (points, n); -150 dBm for none."""
    return loudest(levels_dbm, levels_dbm.shape[1], rank + 1)[rank]


def loudest(rows: Iterable[Float32s], n: int, count: int) -> list[Float32s]:
    """Return the best so many of the levels of points, each (n,), the best first; -150 dBm for none.

    One pass, point by point: each new level pushes down what it is louder than.
    """
    found: list[Float32s] = []
    for row in rows:
        pushed = row
        for rank, best in enumerate(found):
            found[rank], pushed = np.maximum(best, pushed), np.minimum(best, pushed)
        if len(found) < count:
            found.append(pushed)
    return found + [np.full(n, NOTHING_DBM) for _ in range(count - len(found))]
