"""Terrain as a compact grid, the sum behind a signal, and suggested runs and networks."""

import struct

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint, Tag

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
from heathrise.core.job import Point
from heathrise.core.network.defaults import default_networks
from heathrise.core.radio.account import loudest_accounts
from heathrise.core.radio.coverage import ranked, signals
from heathrise.core.radio.scene import Grid, scene_of
from heathrise.core.site.building import building_of
from heathrise.store.jobs import new_id

blueprint = APIBlueprint("air", __name__, url_prefix="/api/jobs", abp_tags=[Tag(name="air")])
RANK = {"best": 0, "second": 1, "third": 2}
# Header: x0, y0, cell (m), columns, rows as five little-endian 32-bit floats; then int16 centi-dB.
HEADER = struct.Struct("<5f")


def pack(grid: Grid, level_dbm: np.ndarray) -> bytes:
    """Return a grid of levels as the browser reads it."""
    head = HEADER.pack(grid.x0_m, grid.y0_m, grid.cell_m, grid.columns, grid.rows)
    return head + np.round(level_dbm * 100).clip(-32000, 32000).astype("<i2").tobytes()


@blueprint.post("/<job_id>/air/terrain")
def terrain(path: JobPath, body: TerrainRequest) -> Response:
    """Return a storey's signal as a binary grid; with `moved`, as it would be."""
    job = desk().job(path.job_id).job
    if body.moved is not None:
        job = apply(job, [Put(element=body.moved)]).job
    scene = scene_of(building_of(job))
    _known_storey(job.by_id.get(body.storey_id))
    grid = scene.grid(body.storey_id)
    heard = signals(job, scene, body.band, grid)
    level = ranked(heard.way(body.way), RANK[body.signal])
    return Response(pack(grid, level), mimetype="application/octet-stream")


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
