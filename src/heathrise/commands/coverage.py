"""`heathrise coverage`: every access point's signal, as a table."""

import csv
from dataclasses import replace
from pathlib import Path

import click
import numpy as np

from heathrise.commands.jobs import JOB_FILE_HELP, job_file, job_in
from heathrise.core.edit import Put, apply
from heathrise.core.job import Band, Job
from heathrise.core.radio.coverage import signals
from heathrise.core.radio.reach import gain_db
from heathrise.core.radio.scene import Scene, scene_of
from heathrise.core.site.building import building_of
from heathrise.exchange.tables import to_csv

COVERAGE_COLUMNS = ("floor", "x", "y", "ap", "rssi_down_dbm", "rssi_up_dbm", "path_loss_db")


@click.command(epilog=JOB_FILE_HELP)
@job_file
@click.option("--band", type=click.Choice(["2.4", "5", "6"]), required=True)
@click.option("--floor", help="A storey's label or id; all storeys when left out.")
@click.option("--grid", "cell_m", type=click.FloatRange(0.05, 20), default=0.5, help="Cell size in m.")
@click.option("--height", "height_m", type=click.FloatRange(0, 30), default=1.0, help="Above the floor, m.")
@click.option(
    "--at",
    "points",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="CSV with columns x,y and, without --floor, floor: compute there instead of on a grid.",
)
@click.option("--direct", is_flag=True, help="Straight rays only, without what goes round.")
@click.option("--out", type=click.Path(dir_okay=False, path_type=Path), required=True)
def coverage(
    job: Path,
    band: Band,
    floor: str | None,
    cell_m: float,
    height_m: float,
    points: Path | None,
    direct: bool,
    out: Path,
) -> None:
    """Write every access point's signal at cell centres or at given points as CSV.

    Columns: floor,x,y,ap,rssi_down_dbm,rssi_up_dbm,path_loss_db, the last between isotropic
    antennas. The client class is the brief's.
    """
    loaded = job_in(job)
    if direct:
        straight = loaded.air_model.model_copy(update={"round": False})
        loaded = apply(loaded, [Put(element=straight)]).job
    scene = scene_of(building_of(loaded))
    wanted = _storeys(loaded, floor)
    rows: list[list[str | float]] = []
    for storey_id, label in wanted.items():
        if points is None:
            where = scene.grid(storey_id, cell_m, height_m).points_m()
        else:
            where = _points(points, label, floor is not None, scene, storey_id, height_m)
        rows += _signal_rows(loaded, scene, band, label, where)
    out.write_text(to_csv(COVERAGE_COLUMNS, rows), "utf-8")
    click.echo(f"{len(rows)} rows written to {out}")


def _storeys(job: Job, floor: str | None) -> dict[str, str]:
    found = {s.id: s.label for s in job.storeys if floor in (None, s.label, s.id)}
    if not found:
        names = ", ".join(s.label for s in job.storeys) or "none"
        raise click.ClickException(f"the job has no storey {floor}; it has {names}")
    return found


def _points(
    path: Path, label: str, one_floor: bool, scene: Scene, storey_id: str, height_m: float
) -> np.ndarray:
    z_m = scene.building.storey(storey_id).elevation_m + height_m
    found = []
    with path.open(encoding="utf-8-sig", newline="") as file:
        for number, row in enumerate(csv.DictReader(file), start=2):
            if not one_floor and row.get("floor") not in (label, storey_id):
                continue
            try:
                found.append((float(row["x"]), float(row["y"]), z_m))
            except (KeyError, TypeError, ValueError) as error:
                raise click.ClickException(f"{path}, line {number}: x and y must be numbers") from error
    return np.array(found).reshape(-1, 3)


def _signal_rows(
    job: Job, scene: Scene, band: Band, label: str, where: np.ndarray
) -> list[list[str | float]]:
    heard = signals(job, scene, band, where)
    even = [replace(scene.transmitter(point), pattern="isotropic") for point in heard.points]
    loss_db = [-gain_db(scene, transmitter, band, where) for transmitter in even]
    return [
        [
            label,
            round(float(where[k, 0]), 4),
            round(float(where[k, 1]), 4),
            point.label,
            round(float(heard.down_dbm[i, k]), 3),
            round(float(heard.up_dbm[i, k]), 3),
            round(float(loss_db[i][k]), 3),
        ]
        for k in range(len(where))
        for i, point in enumerate(heard.points)
    ]
