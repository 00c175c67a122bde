"""Files in and out: pictures, job files, the kit list, the settings."""

from typing import Literal, cast

from flask import Response, current_app, make_response, request
from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from heathrise.api.desk import opened
from heathrise.api.documented import gives, group
from heathrise.api.jobs import answer
from heathrise.api.sent import sent
from heathrise.api.shapes import JobBrought, JobPath, PictureAnswer, PicturePath, TablePath
from heathrise.core.job import Id
from heathrise.exchange.jobfile import NotAJobFile, write_job
from heathrise.exchange.named import named_file
from heathrise.settings import Settings
from heathrise.store import attachments
from heathrise.store.jobs import new_id
from heathrise.work.asking import (
    LabelsAsked,
    Nothing,
    PapersAsked,
    PlanFileAsked,
    QuestionsAsked,
    RiverAsked,
    RunsFileAsked,
    ScheduleAsked,
    SettingsAsked,
)
from heathrise.work.bounded import bounded
from heathrise.work.bringing import bring_in, picture_row, whole_job

blueprint = group("files", "/api")
_MB = 1_000_000
_PLANS = ("image/vnd.dxf", "image/svg+xml", "application/geo+json", "image/png")
_DRAWINGS = ("image/vnd.dxf", "image/svg+xml", "application/pdf")
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
_PICTURE_S = 60
_JOB_FILE_S = 90


class PlanPath(BaseModel):
    """A job and the kind of file."""

    job_id: Id
    ending: Literal["dxf", "svg", "geojson", "png"]


class RunsPath(BaseModel):
    """A job and the kind of drawing."""

    job_id: Id
    ending: Literal["dxf", "svg", "pdf"]


class SettingsPath(BaseModel):
    """A job and the kind of table."""

    job_id: Id
    ending: Literal["json", "yaml", "zip"]


class NetworkPath(BaseModel):
    """A job and the kind of drawing."""

    job_id: Id
    ending: Literal["svg", "pdf"]


class RunsQuery(BaseModel):
    """Which storey, on which paper."""

    storey_id: Id
    paper: Literal["A4", "A3", "A2", "A1"] = "A3"


class QuestionsPath(BaseModel):
    """A job and the kind of paper."""

    job_id: Id
    ending: Literal["txt", "pdf"]


class PictureForm(BaseModel):
    """A picture upload; `page` counts from 1 and matters for a PDF."""

    file: FileStorage
    page: int = Field(1, ge=1, le=10_000)


def _settings() -> Settings:
    return cast(Settings, current_app.extensions["settings"])


def _download(body: str, mimetype: str, name: str) -> Response:
    response = make_response(body)
    response.content_type = f"{mimetype}; charset=utf-8"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@blueprint.post("/jobs/<job_id>/pictures", responses={201: PictureAnswer})
def upload(path: JobPath, form: PictureForm) -> Response:
    """Keep a floor-plan picture: PNG, JPEG, or one page of a PDF."""
    name, body = sent(form.file, "the picture", _settings().picture_mb)
    job = opened(path.job_id, may="edit")
    given = (
        path.job_id,
        new_id(),
        name,
        body,
        _settings().picture_megapixels,
        form.page,
    )
    row, pages = bounded("the picture", _PICTURE_S, picture_row, *given)
    with job.desk.database.transaction() as session:
        kept_id = attachments.keep_attachment(session, row)
    found = PictureAnswer(attachment_id=kept_id, width_px=row.width_px, height_px=row.height_px, pages=pages)
    return answer(found.model_dump_json(), status=201)


@blueprint.get("/jobs/<job_id>/pictures/<picture_id>", responses=gives("image/png"))
def picture(path: PicturePath) -> Response:
    """Return a picture as PNG."""
    job = opened(path.job_id, may="see")
    with job.desk.database.transaction() as session:
        row = attachments.attachment(session, path.job_id, path.picture_id)
    response = make_response(row.body)
    response.content_type = "image/png"
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


_SETTINGS = ("application/json", "application/yaml", "application/zip")


@blueprint.get("/jobs/<job_id>/export/settings.<ending>", responses=gives(*_SETTINGS))
def export_settings(path: SettingsPath) -> Response:
    """Export networks, names, radios and ports: JSON or YAML, or an archive with a sheet a device and the topology."""
    return opened(path.job_id, may="see").ask("export.settings", SettingsAsked(ending=path.ending))


@blueprint.get("/jobs/<job_id>/export/topology.json", responses=gives("application/json"))
def export_topology(path: JobPath) -> Response:
    """Export what is joined to what, in the terms of RFC 8345."""
    return opened(path.job_id, may="see").ask("export.topology", Nothing())


@blueprint.get("/jobs/<job_id>/export/job.json", responses=gives("application/json"))
def export_job(path: JobPath) -> Response:
    """Export the job as one JSON file, with its pictures and all that was written down on site."""
    here = opened(path.job_id, may="see")
    job = here.job
    with here.desk.database.transaction() as session:
        text = write_job(whole_job(session, path.job_id, job))
    return _download(text, "application/json", named_file(job.name, "job.json"))


class StoreyQuery(BaseModel):
    """Which storey."""

    storey_id: Id


@blueprint.get("/jobs/<job_id>/export/plan.<ending>", responses=gives(*_PLANS))
def export_plan(path: PlanPath, query: StoreyQuery) -> Response:
    """Export a storey's drawing: DXF, SVG, GeoJSON or PNG."""
    asked = PlanFileAsked(storey_id=query.storey_id, ending=path.ending)
    return opened(path.job_id, may="see").ask("export.plan", asked)


@blueprint.get("/jobs/<job_id>/export/runs.<ending>", responses=gives(*_DRAWINGS))
def export_runs(path: RunsPath, query: RunsQuery) -> Response:
    """Export a storey's runs as a drawing: DXF, SVG, or PDF at a true scale."""
    asked = RunsFileAsked(storey_id=query.storey_id, ending=path.ending, paper=query.paper)
    return opened(path.job_id, may="see").ask("export.runs", asked)


@blueprint.get("/jobs/<job_id>/export/schedule.<ending>", responses=gives("text/csv", _XLSX))
def export_schedule(path: TablePath) -> Response:
    """Export the schedule of runs: CSV, or a workbook with holes and cuts beside it."""
    return opened(path.job_id, may="see").ask("export.schedule", ScheduleAsked(ending=path.ending))


@blueprint.get("/jobs/<job_id>/export/network.<ending>", responses=gives("image/svg+xml", "application/pdf"))
def export_network(path: NetworkPath, query: PapersAsked) -> Response:
    """Export the network drawn from where the service enters: SVG or PDF."""
    asked = RiverAsked(ending=path.ending, paper=query.paper)
    return opened(path.job_id, may="see").ask("export.river", asked)


@blueprint.get("/jobs/<job_id>/export/labels.csv", responses=gives("text/csv"))
def export_labels(path: JobPath, query: LabelsAsked) -> Response:
    """Export what every run is called now and what a scheme calls it."""
    return opened(path.job_id, may="see").ask("export.labels", query)


@blueprint.get("/jobs/<job_id>/export/papers.pdf", responses=gives("application/pdf"))
def export_papers(path: JobPath, query: PapersAsked) -> Response:
    """Export all storeys' runs, schedule, holes and cuts as one PDF."""
    return opened(path.job_id, may="see").ask("export.papers", query)


@blueprint.get("/jobs/<job_id>/export/racks.pdf", responses=gives("application/pdf"))
def export_racks(path: JobPath, query: PapersAsked) -> Response:
    """Export every rack from front and rear, what stands in it and its patches as one PDF."""
    return opened(path.job_id, may="see").ask("export.racks", query)


@blueprint.get("/jobs/<job_id>/export/patches.<ending>", responses=gives("text/csv", _XLSX))
def export_patches(path: TablePath) -> Response:
    """Export the patch schedule: CSV or a workbook."""
    return opened(path.job_id, may="see").ask("export.patches", ScheduleAsked(ending=path.ending))


@blueprint.get("/jobs/<job_id>/export/questions.<ending>", responses=gives("text/plain", "application/pdf"))
def export_questions(path: QuestionsPath) -> Response:
    """Export the questions to the client: text or PDF."""
    return opened(path.job_id, may="see").ask("export.questions", QuestionsAsked(ending=path.ending))


@blueprint.post("/import", responses={201: JobBrought})
def import_job() -> Response:
    """Make a job from a job file sent as the body."""
    body = request.get_data()
    if len(body) > _settings().job_file_mb * _MB:
        raise NotAJobFile(f"the file has {len(body) / _MB:.1f} MB; {_settings().job_file_mb} MB is the most")
    given = (_settings().database_url, body, _settings().picture_megapixels)
    made = bounded("the job file", _JOB_FILE_S, bring_in, *given)
    return answer(JobBrought(**made._asdict()).model_dump_json(), 0, 201)
