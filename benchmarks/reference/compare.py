"""The application's path gain against the traced maps: error in dB over the cells indoors."""

from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from benchmarks.reference.scenes import REFERENCES, Reference
from heathrise.core.job import BANDS, AccessPoint, Band
from heathrise.core.radio.balance import Balance, balance_of, scattered
from heathrise.core.radio.mirrors import Mirrored, followed, mirrored_at
from heathrise.core.radio.scene import Scene, Transmitter, scene_of
from heathrise.core.site.building import building_of

MAPS = Path(__file__).resolve().parents[2] / "tests" / "core" / "radio" / "reference"
# Below this path gain nothing can be heard, and few rays arrive to trust. [dB]
FLOOR_DB = -110.0
BAND_OF: dict[str, Band] = {"2_437": "2.4", "5_5": "5", "6_185": "6"}
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Compared:
    """Errors of one sender's map, predicted less traced. [dB]"""

    reference: Reference
    band: Band
    direct_db: Floats
    full_db: Floats


def rmse(errors_db: Floats) -> float:
    """Return the root of the mean square."""
    return float(np.sqrt(np.mean(errors_db**2)))


def traced(reference: Reference, f_name: str = "5_5") -> Floats:
    """Return the traced map: path gain (senders, planes, rows, columns). [dB]"""
    with np.load(MAPS / f"{reference.name}-{f_name}.npz") as kept:
        return np.asarray(kept["gain_db"], float)


def compare(reference: Reference, f_name: str = "5_5") -> list[Compared]:
    """Return the errors of every sender of a scene."""
    job = reference.job()
    scene = scene_of(building_of(job))
    balance = balance_of(scene)
    band = BAND_OF[f_name]
    gains = traced(reference, f_name)
    found = []
    for number, point in enumerate(job.of(AccessPoint)):
        transmitter = replace(scene.transmitter(point), pattern="isotropic")
        direct, full = _predicted(scene, balance, transmitter, band)
        truth = np.empty(balance.count)
        for plane, numbers in enumerate(balance.numbers.values()):
            truth[numbers[numbers >= 0]] = gains[number, plane][numbers >= 0]
        seen = truth > FLOOR_DB
        found.append(
            Compared(
                reference,
                band,
                (10 * np.log10(direct) - truth)[seen],
                (10 * np.log10(full) - truth)[seen],
            )
        )
    return found


def _predicted(scene: Scene, balance: Balance, transmitter: Transmitter, band: Band) -> tuple[Floats, Floats]:
    """Return the straight ray's path gain and the whole at every cell indoors, as ratios."""
    direct = _by_cell(scene, balance, transmitter, band)
    mirrored = _mirrored(scene, balance, transmitter, band)
    storeys = [scene.building.storeys[n].id for n in followed(scene, transmitter)]
    own = np.concatenate([balance.numbers[storey_id].ravel() for storey_id in storeys])
    is_followed = np.isin(np.arange(balance.count), own)
    around = balance.solver(band).around(scattered(direct, is_followed), mirrored.last)
    return direct, direct + mirrored.every + around


def predicted_map(reference: Reference, f_name: str = "5_5") -> Floats:
    """Return the same map as is traced, as predicted; NaN out of doors. [dB]"""
    job = reference.job()
    scene = scene_of(building_of(job))
    balance = balance_of(scene)
    maps = []
    for point in job.of(AccessPoint):
        transmitter = replace(scene.transmitter(point), pattern="isotropic")
        gain_db = 10 * np.log10(_predicted(scene, balance, transmitter, BAND_OF[f_name])[1])
        maps.append([np.where(n >= 0, gain_db[n], np.nan) for n in balance.numbers.values()])
    return np.array(maps)


def _by_cell(scene: Scene, balance: Balance, transmitter: Transmitter, band: Band) -> Floats:
    """Return the direct path gain at every cell indoors."""
    gain = np.empty(balance.count)
    for storey_id, numbers in balance.numbers.items():
        loss = scene.losses(transmitter, balance.grids[storey_id].points_m()).loss_db[BANDS.index(band)]
        flat = numbers.ravel()
        gain[flat[flat >= 0]] = 10 ** (-loss[flat >= 0].astype(float) / 10)
    return gain


def _mirrored(scene: Scene, balance: Balance, transmitter: Transmitter, band: Band) -> Mirrored:
    """Return what mirrors bring to every cell indoors at one band, (n,) each."""
    points = np.empty((balance.count, 3))
    for storey_id, numbers in balance.numbers.items():
        inside = numbers.ravel() >= 0
        points[numbers.ravel()[inside]] = balance.grids[storey_id].points_m()[inside]
    found, index = mirrored_at(scene, transmitter, points), BANDS.index(band)
    return Mirrored(found.every[index], found.last[index])


def table() -> list[tuple[str, str, str, float, float, float, float]]:
    """Return (scene, band, fitted or not, direct RMSE and mean, full RMSE and mean) a sender. [dB]"""
    rows = []
    for reference in REFERENCES:
        for f_name in BAND_OF:
            if not (MAPS / f"{reference.name}-{f_name}.npz").is_file():
                continue
            for c in compare(reference, f_name):
                use = "fitted" if reference.fitted else "held out"
                rows.append(
                    (
                        reference.name,
                        c.band,
                        use,
                        rmse(c.direct_db),
                        float(c.direct_db.mean()),
                        rmse(c.full_db),
                        float(c.full_db.mean()),
                    )
                )
    return rows


if __name__ == "__main__":
    for row in table():
        print("| {} | {} GHz | {} | {:.1f} | {:+.1f} | {:.1f} | {:+.1f} |".format(*row))
