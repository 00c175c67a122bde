"""Terrain as a compact grid, the sum behind a signal, and suggested runs and networks."""

import struct
from contextlib import closing
from typing import Literal

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint, FileStorage, Tag
from pydantic import BaseModel

from heathrise.api.desk import desk
from heathrise.api.jobs import answer
from heathrise.api.shapes import (
    AccountAnswer,
    AccountQuery,
    JobPath,
    SuggestionAnswer,
    TerrainRequest,
)
from heathrise.core.cabling.defaults import default_runs
from heathrise.core.edit import EditError, Put, apply
from heathrise.core.job import Band, Id, Job, Point, Storey, Variant
from heathrise.core.library import UnknownItem, library
from heathrise.core.network.defaults import default_networks
from heathrise.core.radio.account import error_words, loudest_accounts
from heathrise.core.radio.learning import Compared, compare
from heathrise.core.radio.scene import Grid, scene_of
from heathrise.core.radio.views import Sight, see, straight, with_points, without
from heathrise.core.site.building import building_of
from heathrise.core.sums import Noun
from heathrise.exchange.measured import Measured, read_antenna, read_scan, read_survey
from heathrise.exchange.terrain import Print, print_png, print_svg
from heathrise.exchange.unreadable import Unreadable
from heathrise.store.jobs import new_id

blueprint = APIBlueprint("air", __name__, url_prefix="/api/jobs", abp_tags=[Tag(name="air")])
# Header: x0, y0, cell (m), columns, rows, step as six little-endian 32-bit floats; then 16-bit integers,
# each a value over the step; the least of them stands for no value.
HEADER = struct.Struct("<6f")
_NO_VALUE = -32768
_MOST_BYTES = 5_000_000


def pack(grid: Grid, values: np.ndarray, unit: str) -> bytes:
    """Return a grid of values as the browser reads it."""
    step = 0.1 if unit == "Mb/s" else 0.01
    head = HEADER.pack(grid.x0_m, grid.y0_m, grid.cell_m, grid.columns, grid.rows, step)
    whole = np.round(values / step).clip(-32000, 32000)
    return head + np.where(np.isnan(values), _NO_VALUE, whole).astype("<i2").tobytes()


@blueprint.post("/<job_id>/air/terrain")
def terrain(path: JobPath, body: TerrainRequest) -> Response:
    """Return a layer of a storey's air as a binary grid."""
    job = desk().job(path.job_id).job
    _known_storey(job.by_id.get(body.storey_id))
    if body.signal not in library().layers:
        raise UnknownItem(f"there is no layer of the air named {body.signal}")
    if body.moved is not None:
        job = apply(job, [Put(element=body.moved)]).job
    if body.without is not None:
        job = without(job, body.without)
    shown = _as_variant(job, body.variant) if body.variant else job
    grid, values = _seen(shown, body, "best" if body.signal == "difference" else body.signal)
    if body.signal == "difference":
        other = straight(job) if body.against == "straight" else job
        if body.against not in (None, "design", "straight"):
            other = _as_variant(job, str(body.against))
        values = values - _seen(other, body, "best")[1]
    return Response(
        pack(grid, values, library().layers[body.signal].unit), mimetype="application/octet-stream"
    )


def _seen(job: Job, body: TerrainRequest, name: str) -> tuple[Grid, np.ndarray]:
    scene = scene_of(building_of(job))
    grid = scene.grid(body.storey_id)
    hasty = body.moved.id if body.quick and body.moved else None
    return grid, see(Sight(job, scene, body.band, grid, body.way, hasty=hasty), name)


def _as_variant(job: Job, variant_id: str) -> Job:
    found = job.by_id.get(variant_id)
    if not isinstance(found, Variant):
        raise EditError("the job has no such variant")
    return with_points(job, found.points)


def _known_storey(element: object) -> None:
    if getattr(element, "kind", None) != "storey":
        raise EditError("the job has no such storey")


@blueprint.get("/<job_id>/air/account", responses={200: AccountAnswer})
def account(path: JobPath, query: AccountQuery) -> Response:
    """Return the sums behind the two loudest signals at a place."""
    job = desk().job(path.job_id).job
    _known_storey(job.by_id.get(query.storey_id))
    at = Point(x_m=query.x_m, y_m=query.y_m)
    found = loudest_accounts(job, scene_of(building_of(job)), query.band, query.storey_id, at)
    return answer(AccountAnswer(accounts=found).model_dump_json())


@blueprint.get("/<job_id>/runs/suggestion", responses={200: SuggestionAnswer})
def suggest_runs(path: JobPath) -> Response:
    """Suggest a run to everything that has none."""
    job = desk().job(path.job_id).job
    return answer(SuggestionAnswer(operations=default_runs(job, new_id)).model_dump_json())


@blueprint.get("/<job_id>/network/suggestion", responses={200: SuggestionAnswer})
def suggest_networks(path: JobPath) -> Response:
    """Suggest the networks a job of this kind starts with, clear of the service's subnet."""
    job = desk().job(path.job_id).job
    return answer(SuggestionAnswer(operations=default_networks(job, new_id)).model_dump_json())


class MeasuredForm(BaseModel):
    """A table of what was measured."""

    file: FileStorage


@blueprint.post("/<job_id>/air/survey", responses={200: Measured})
def survey(path: JobPath, form: MeasuredForm) -> Response:
    """Read survey points from a table; the person sends them as an edit."""
    return answer(read_survey(_read(form), desk().job(path.job_id).job, new_id).model_dump_json())


@blueprint.post("/<job_id>/air/scan", responses={200: Measured})
def scan(path: JobPath, form: MeasuredForm) -> Response:
    """Read neighbours from a scan."""
    desk().job(path.job_id)
    return answer(read_scan(_read(form), new_id).model_dump_json())


@blueprint.post("/<job_id>/air/antenna", responses={200: Measured})
def antenna(path: JobPath, form: MeasuredForm) -> Response:
    """Read an antenna pattern."""
    desk().job(path.job_id)
    return answer(read_antenna(_read(form), form.file.filename or "Antenna", new_id).model_dump_json())


def _read(form: MeasuredForm) -> bytes:
    with closing(form.file):
        body = bytes(form.file.read(_MOST_BYTES + 1))
    if len(body) > _MOST_BYTES:
        raise Unreadable(f"the table is larger than {_MOST_BYTES // 1_000_000} MB; send a part of it.")
    return body


@blueprint.get("/<job_id>/air/compared", responses={200: Compared})
def compared(path: JobPath) -> Response:
    """Return measured beside predicted."""
    job = desk().job(path.job_id).job
    return answer(compare(job, scene_of(building_of(job))).model_dump_json())


class PrintQuery(Noun):
    """Which layer of which storey is printed."""

    storey_id: Id
    band: Band = "5"
    signal: str = "best"
    way: Literal["weaker", "down", "up"] = "weaker"


class PrintPath(Noun):
    """A print's address."""

    job_id: Id
    ending: Literal["svg", "png"]


@blueprint.get("/<job_id>/air/print.<ending>")
def print_layer(path: PrintPath, query: PrintQuery) -> Response:
    """Return a layer of the air as a print."""
    job = desk().job(path.job_id).job
    _known_storey(job.by_id.get(query.storey_id))
    if query.signal not in library().layers or query.signal == "difference":
        raise UnknownItem(f"there is no layer of the air named {query.signal}")
    asked = TerrainRequest(storey_id=query.storey_id, band=query.band, signal=query.signal, way=query.way)
    grid, values = _seen(job, asked, query.signal)
    row, scene = library().layers[query.signal], scene_of(building_of(job))
    unit = f", {row.unit}" if row.unit else ""
    storey = job.get(Storey, query.storey_id).label
    words = f"{storey}, {row.label.lower()}, {query.way} way, {query.band} GHz{unit}. {error_words(scene)}"
    sheet = Print(job, query.storey_id, grid, values.astype(float), row.levels, words)
    body = print_svg(sheet) if path.ending == "svg" else print_png(sheet)
    kind = "image/svg+xml" if path.ending == "svg" else "image/png"
    name = f"{query.signal}-{query.band}GHz.{path.ending}"
    return Response(body, mimetype=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
