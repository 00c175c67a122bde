"""Terrain as a compact grid, the sum behind a signal, prints, and what was measured beside it."""

import struct
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from heathrise.core.deriving import Look
from heathrise.core.edit import EditError, Put, apply
from heathrise.core.job import Job, Point, Storey, Variant
from heathrise.core.library import UnknownItem, library
from heathrise.core.radio.account import Account, error_words, loudest_accounts
from heathrise.core.radio.air import air_view, radio_rows, scene
from heathrise.core.radio.learning import measured_against_predicted
from heathrise.core.radio.scene import Grid, Scene, scene_of
from heathrise.core.radio.views import AirView, see, straight, with_points, without
from heathrise.core.site.building import building_of
from heathrise.core.sums import Noun
from heathrise.exchange.measured import read_antenna, read_scan, read_survey
from heathrise.exchange.named import named_file
from heathrise.exchange.paper.airmap import air_drawn
from heathrise.exchange.paper.pixels import first_page_png
from heathrise.exchange.paper.sheets import Page, titled, write_pdf
from heathrise.exchange.paper.vectors import drawn_svg
from heathrise.exchange.terrain import Terrain
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import Nothing, PlaceAsked, PrintAsked, TableAsked, TerrainAsked
from heathrise.work.open_job import OpenJob

# Header: x0, y0, cell (m), columns, rows, step as six little-endian 32-bit floats; then 16-bit integers,
# each a value over the step; the least of them stands for no value.
HEADER = struct.Struct("<6f")
_NO_VALUE = -32768
Values = NDArray[np.float32]


class AccountAnswer(Noun):
    """The two loudest access points at a place, each as a sum with its way round."""

    accounts: tuple[Account, ...]


def pack(grid: Grid, values: Values, unit: str) -> bytes:
    """Return a grid of values as the browser reads it."""
    step = 0.1 if unit == "Mb/s" else 0.01
    head = HEADER.pack(grid.x0_m, grid.y0_m, grid.cell_m, grid.columns, grid.rows, step)
    whole = np.round(values / step).clip(-32000, 32000)
    return head + np.where(np.isnan(values), _NO_VALUE, whole).astype("<i2").tobytes()


@answers("air.terrain", TerrainAsked)
def terrain(opened: OpenJob, asked: TerrainAsked) -> Answer:
    """A layer of a storey's air as a binary grid."""
    memo = opened.memo()
    job: Job = memo.source
    _known_storey(job, asked.storey_id)
    if asked.signal not in library().layers:
        raise UnknownItem(f"there is no layer of the air named {asked.signal}")
    unit = library().layers[asked.signal].unit
    if (
        asked.moved is None
        and asked.without is None
        and asked.variant is None
        and asked.signal != "difference"
    ):
        grid, values = _as_it_stands(memo.look, asked)
        return Answer(pack(grid, values, unit), memo.revision, "application/octet-stream")
    if asked.moved is not None:
        job = apply(job, [Put(element=asked.moved)]).job
    if asked.without is not None:
        job = without(job, asked.without)
    here = scene(memo.look)
    shown = _as_variant(job, asked.variant) if asked.variant else job
    grid, values = _seen(shown, here, asked, "best" if asked.signal == "difference" else asked.signal)
    if asked.signal == "difference":
        values = values - _seen(*_other(job, here, asked), asked, "best")[1]
    return Answer(pack(grid, values, unit), memo.revision, "application/octet-stream")


def _other(job: Job, here: Scene, asked: TerrainAsked) -> tuple[Job, Scene]:
    """Return what is laid beside the design."""
    if asked.against == "straight":
        plain = straight(job)
        return plain, scene_of(building_of(plain))
    return (job if asked.against in (None, "design") else _as_variant(job, str(asked.against))), here


def _as_it_stands(look: Look, asked: TerrainAsked | PrintAsked) -> tuple[Grid, Values]:
    """Return a layer of the design from what is known of it already."""
    known = air_view(look, asked.storey_id, asked.band)
    over = replace(known, job=look.source, way=asked.way)
    return known.grid, see(over, asked.signal)


def _seen(job: Job, here: Scene, asked: TerrainAsked, name: str) -> tuple[Grid, Values]:
    grid = here.grid(asked.storey_id)
    unmirrored_id = asked.moved.id if asked.quick and asked.moved else None
    return grid, see(AirView(job, here, asked.band, grid, asked.way, unmirrored_id=unmirrored_id), name)


def _as_variant(job: Job, variant_id: str) -> Job:
    found = job.by_id.get(variant_id)
    if not isinstance(found, Variant):
        raise EditError("the job has no such variant")
    return with_points(job, found.points)


def _known_storey(job: Job, storey_id: str) -> None:
    if not isinstance(job.by_id.get(storey_id), Storey):
        raise EditError("the job has no such storey")


@answers("air.account", PlaceAsked)
def account(opened: OpenJob, asked: PlaceAsked) -> Answer:
    """The sums behind the two loudest signals at a place."""
    memo = opened.memo()
    _known_storey(memo.source, asked.storey_id)
    at = Point(x_m=asked.x_m, y_m=asked.y_m)
    found = loudest_accounts(memo.source, scene(memo.look), asked.band, asked.storey_id, at)
    return in_json(AccountAnswer(accounts=found), memo.revision)


@answers("air.compared", Nothing)
def compared(opened: OpenJob, _: Nothing) -> Answer:
    """Measured beside predicted."""
    memo = opened.memo()
    return in_json(measured_against_predicted(memo.source, scene(memo.look)), memo.revision)


@answers("air.print", PrintAsked)
def print_layer(opened: OpenJob, asked: PrintAsked) -> Answer:
    """A layer of the air as a print."""
    memo = opened.memo()
    job: Job = memo.source
    _known_storey(job, asked.storey_id)
    if asked.signal not in library().layers or asked.signal == "difference":
        raise UnknownItem(f"there is no layer of the air named {asked.signal}")
    grid, values = _as_it_stands(memo.look, asked)
    row = library().layers[asked.signal]
    unit = f", {row.unit}" if row.unit else ""
    storey = job.get(Storey, asked.storey_id).label
    words = f"{row.label}, {asked.way} way, {asked.band} GHz{unit}"
    terrain = Terrain(grid, values.astype(float), row.levels)
    channels = {
        r.point_id: str(r.channel) for r in radio_rows(memo.look) if r.band == asked.band and r.channel
    }
    drawn = air_drawn(job, asked.storey_id, terrain, words, channels)
    name = named_file(job.name, f"{asked.signal}-{asked.band}GHz.{asked.ending}")
    if asked.ending == "svg":
        text = drawn_svg(drawn, f"{job.name}: {storey}, {words}")
        return Answer(text.encode(), memo.revision, "image/svg+xml; charset=utf-8", name)
    title = titled(job, f"{storey}: {row.label.lower()} at {asked.band} GHz", memo.revision)
    title = replace(title, caution=error_words(scene(memo.look)))
    body = write_pdf([Page(title, drawn)], (), asked.paper, f"{job.name}: {storey}")
    if asked.ending == "pdf":
        return Answer(body, memo.revision, "application/pdf", name)
    return Answer(first_page_png(body), memo.revision, "image/png", name)


@answers("air.survey", TableAsked)
def survey(opened: OpenJob, asked: TableAsked) -> Answer:
    """Survey points read from a table; the person sends them as an edit."""
    kept = opened.newest()
    return in_json(read_survey(asked.rows, kept.job, new_id), kept.revision)


@answers("air.scan", TableAsked)
def scan(opened: OpenJob, asked: TableAsked) -> Answer:
    """Neighbours read from a scan."""
    return in_json(read_scan(asked.rows, new_id), opened.newest().revision)


@answers("air.antenna", TableAsked)
def antenna(opened: OpenJob, asked: TableAsked) -> Answer:
    """An antenna pattern, read."""
    return in_json(read_antenna(asked.rows, asked.name or "Antenna", new_id), opened.newest().revision)
