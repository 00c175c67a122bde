"""The command line: the same core for scripts."""

import csv
import json
import sys
from dataclasses import replace
from pathlib import Path

import click
import numpy as np

from heathrise.core.edit import Put, apply
from heathrise.core.findings import assess
from heathrise.core.job import Band, Job
from heathrise.core.radio.coverage import signals
from heathrise.core.radio.reach import gain_db
from heathrise.core.radio.scene import Scene, scene_of
from heathrise.core.rule import Finding
from heathrise.core.site.building import building_of
from heathrise.core.units import plain
from heathrise.core.vectors import Outcome, evaluate
from heathrise.exchange.jobfile import NotAJobFile, job_schema, read_job
from heathrise.exchange.tables import to_csv

COVERAGE_COLUMNS = ("floor", "x", "y", "ap", "rssi_down_dbm", "rssi_up_dbm", "path_loss_db")
JOB_FILE_HELP = (
    "JOB is a job file: a JSON document whose schema `heathrise schema` prints and "
    "docs/job.schema.json keeps; docs/job-file.md explains it with an example."
)


@click.group()
@click.version_option(package_name="heathrise")
def main() -> None:
    """Plan a building's wired and wireless network from one model."""


def _job(path: Path) -> Job:
    try:
        return read_job(path.read_bytes())
    except NotAJobFile as error:
        raise click.ClickException(f"{path}: {error}") from error


JobFile = click.argument("job", type=click.Path(exists=True, dir_okay=False, path_type=Path))


def _finding(finding: Finding) -> dict[str, object]:
    body = finding.model_dump(mode="json", exclude={"fixes", "sum"})
    return body | {
        "text": plain(finding.text),
        "advice": plain(finding.advice),
        "fixes": [fix.label for fix in finding.fixes],
    }


@main.command(epilog=JOB_FILE_HELP)
@JobFile
@click.option("--json", "as_json", is_flag=True, help="Print findings and totals as JSON.")
@click.option("--strict", is_flag=True, help="Exit with 1 when a fault is open.")
def check(job: Path, as_json: bool, strict: bool) -> None:
    """Compute a job and print its findings and totals."""
    loaded = _job(job)
    found = assess(loaded)
    if as_json:
        totals = {
            entry.key: entry.sum.model_dump(include={"label", "value", "unit", "limit", "holds"})
            for entry in found.ledger
        }
        body = {
            "job": loaded.name,
            "findings": [_finding(finding) for finding in found.findings],
            "totals": totals,
        }
        click.echo(json.dumps(body, indent=1, ensure_ascii=False))
    else:
        for finding in found.findings:
            words = f"{plain(finding.text)} {plain(finding.advice)}"
            click.echo(f"{finding.severity:8} {finding.subject}: {words}")
        for entry in found.ledger:
            limit = "" if entry.sum.limit is None else f" / {entry.sum.limit:g}"
            click.echo(f"{entry.sum.label}: {entry.sum.value:g}{limit} {entry.sum.unit}".rstrip())
    if strict and any(f.severity == "fault" and not f.accepted for f in found.findings):
        sys.exit(1)


@main.command(epilog=JOB_FILE_HELP)
@JobFile
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
    loaded = _job(job)
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
    even = [replace(scene.stand(point), pattern="isotropic") for point in heard.points]
    loss_db = [-gain_db(scene, stand, band, where) for stand in even]
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


@main.command()
def schema() -> None:
    """Print the JSON Schema of the job file."""
    click.echo(json.dumps(job_schema(), indent=1))


@main.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
def vectors(file: Path) -> None:
    """Hold worked examples against the core; exit with 1 when one does not hold."""
    try:
        cases = json.loads(file.read_text("utf-8"))
        outcomes = [evaluate(case) for case in cases]
    except (ValueError, AttributeError) as error:
        raise click.ClickException(f"{file} is not a list of worked examples: {error}") from error
    for outcome in outcomes:
        _print_outcome(outcome)
    held = sum(outcome.holds for outcome in outcomes)
    click.echo(f"{held} of {len(outcomes)} hold")
    if held < len(outcomes):
        sys.exit(1)


def _print_outcome(outcome: Outcome) -> None:
    word = "holds" if outcome.holds else "DOES NOT HOLD"
    expected, got = json.dumps(outcome.expected), json.dumps(outcome.got)
    why = f" ({outcome.why})" if outcome.why else ""
    click.echo(f"{outcome.topic}: {outcome.name}\n  expected {expected}\n  got      {got}\n  {word}{why}")
