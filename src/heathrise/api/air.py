"""Stage 3: terrain, the sum behind a signal, prints, and what was measured."""

from typing import Literal

from flask import Response
from flask_openapi3 import FileStorage
from pydantic import BaseModel

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, gives, group
from heathrise.api.sent import sent_table
from heathrise.api.shapes import JobPath
from heathrise.core.job import Band, Id, LinkDirection
from heathrise.core.sums import Noun
from heathrise.work.asking import Nothing, PlaceAsked, PrintAsked, TerrainAsked

blueprint = group("air", "/api/jobs")


class MeasuredForm(BaseModel):
    """A table of what was measured."""

    file: FileStorage


class PrintPath(Noun):
    """A print's address."""

    job_id: Id
    ending: Literal["svg", "png", "pdf"]


class PrintQuery(Noun):
    """Which layer of which storey is printed."""

    storey_id: Id
    band: Band = "5"
    signal: str = "best"
    way: LinkDirection = "weaker"
    paper: Literal["A4", "A3", "A2", "A1"] = "A3"


@blueprint.post("/<job_id>/air/terrain", responses=gives("application/octet-stream"))
def terrain(path: JobPath, body: TerrainAsked) -> Response:
    """Return a layer of a storey's air as a binary grid."""
    return opened(path.job_id, may="see").ask("air.terrain", body)


@blueprint.get("/<job_id>/air/account", responses=answers_with("work.answers.air:AccountAnswer"))
def account(path: JobPath, query: PlaceAsked) -> Response:
    """Return the sums behind the two loudest signals at a place."""
    return opened(path.job_id, may="see").ask("air.account", query)


@blueprint.post("/<job_id>/air/survey", responses=answers_with("exchange.measured:Measured"))
def survey(path: JobPath, form: MeasuredForm) -> Response:
    """Read survey points from a table; the person sends them as an edit."""
    return opened(path.job_id, may="edit").ask("air.survey", sent_table(form.file, "the table"))


@blueprint.post("/<job_id>/air/scan", responses=answers_with("exchange.measured:Measured"))
def scan(path: JobPath, form: MeasuredForm) -> Response:
    """Read neighbours from a scan."""
    return opened(path.job_id, may="edit").ask("air.scan", sent_table(form.file, "the table"))


@blueprint.post("/<job_id>/air/antenna", responses=answers_with("exchange.measured:Measured"))
def antenna(path: JobPath, form: MeasuredForm) -> Response:
    """Read an antenna pattern."""
    return opened(path.job_id, may="edit").ask("air.antenna", sent_table(form.file, "the table"))


@blueprint.get("/<job_id>/air/compared", responses=answers_with("core.radio.learning:Compared"))
def compared(path: JobPath) -> Response:
    """Return measured beside predicted."""
    return opened(path.job_id, may="see").ask("air.compared", Nothing())


@blueprint.get(
    "/<job_id>/air/print.<ending>", responses=gives("image/svg+xml", "image/png", "application/pdf")
)
def print_layer(path: PrintPath, query: PrintQuery) -> Response:
    """Return a layer of the air as a print."""
    asked = PrintAsked(**query.model_dump(), ending=path.ending)
    return opened(path.job_id, may="see").ask("air.print", asked)
