"""Stage 10 and the phone on the ladder: what was written down, photographs, tests in files, what a controller says."""

import json
from datetime import timedelta
from typing import Any, cast

from flask import Response, current_app, make_response
from flask_openapi3 import FileStorage
from pydantic import AwareDatetime, BaseModel, Field, ValidationError

from heathrise.api.controller import controlling
from heathrise.api.desk import Opened, opened
from heathrise.api.documented import answers_with, gives, group
from heathrise.api.jobs import answer
from heathrise.api.sent import sent, sent_table
from heathrise.api.shapes import JobPath, TablePath
from heathrise.core.job import Id, Label, Record
from heathrise.core.sums import Noun
from heathrise.exchange.jobfile import in_words
from heathrise.settings import Settings
from heathrise.store import onsite
from heathrise.work.asking import HeldAsked, Nothing, RecordsMade, RunTestsAsked, ScheduleAsked, TestsSent
from heathrise.work.bounded import bounded
from heathrise.work.bringing import photo_row

blueprint = group("prove", "/api/jobs")
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
_PHOTO_S = 60
_MOST_RECORDS = 500


class RecordsSent(Noun):
    """What a device wrote down, oldest first, as it stood when it sent it by its own clock. Each is looked at by itself: one
    that cannot be kept keeps no other back.
    """

    device: Id
    sent_at: AwareDatetime | None = None
    records: list[dict[str, Any]] = Field(max_length=_MOST_RECORDS)


class RecordRefused(Noun):
    """A record that cannot be kept as it is, and why. It stays on the device."""

    id: str
    why: str


class RecordsKept(Noun):
    """What became of what was sent: ids that stand here now, those refused, and how far the device's clock was off. [s]"""

    kept: tuple[str, ...]
    new: int
    refused: tuple[RecordRefused, ...]
    clock_off_s: float


class PhotoPath(Noun):
    """A photograph of a job."""

    job_id: Id
    photo_id: Id


class PhotoForm(BaseModel):
    """A photograph as it was taken."""

    file: FileStorage


class PhotoKept(Noun):
    """A photograph that is kept."""

    photo_id: Id
    width_px: int
    height_px: int


class TestsForm(BaseModel):
    """A file of tests, who reads it, the runs a person named for labels (JSON, by label), whether another site's name is
    no matter, and whether what can be taken is taken now.
    """

    __test__ = False

    file: FileStorage
    by: Label
    chosen: dict[str, str] = Field(default_factory=dict)
    any_site: bool = False
    take: bool = False


class TestsPath(Noun):
    """A run of a job."""

    __test__ = False

    job_id: Id
    run_id: Id


class RecordQuery(Noun):
    """Which record is shown; none shows the one that counts."""

    record: Id | None = None


def _settings() -> Settings:
    return cast(Settings, current_app.extensions["settings"])


@blueprint.get("/<job_id>/prove", responses=answers_with("core.findings.ready:Proven"))
def everything(path: JobPath) -> Response:
    """Return every run, port, point, walk and space as it was proven, the faults, and what stands in the way of signing."""
    return opened(path.job_id, may="see").ask("prove.proven", Nothing())


@blueprint.get("/<job_id>/prove/runs/<run_id>", responses=answers_with("work.answers.prove:RunTests"))
def run_tests(path: TestsPath, query: RecordQuery) -> Response:
    """Return a run with all its tests, and the curves of one with their limits."""
    asked = RunTestsAsked(run=path.run_id, record=query.record)
    return opened(path.job_id, may="see").ask("prove.run", asked)


@blueprint.get("/<job_id>/field", responses=answers_with("work.answers.prove:FieldTaken"))
def field(path: JobPath) -> Response:
    """Return what a phone takes along to where there is no signal."""
    return opened(path.job_id, may="see").ask("fit.field", Nothing())


@blueprint.post("/<job_id>/records", responses={200: RecordsKept})
def write_down(path: JobPath, body: RecordsSent) -> Response:
    """Keep what was written down on site. What came before is not kept twice, and nothing is ever taken out."""
    job = opened(path.job_id, may="edit")
    fit, refused = _checked(body.records)
    with job.desk.database.transaction() as session:
        off = onsite.clock_off(session, body.sent_at)
        new = onsite.keep_records(session, job.id, fit, body.device, off)
    found = RecordsKept(
        kept=tuple(record.id for record in fit),
        new=new,
        refused=tuple(refused),
        clock_off_s=round(off.total_seconds(), 1),
    )
    return answer(found.model_dump_json())


def _checked(bodies: list[dict[str, Any]]) -> tuple[list[Record], list[RecordRefused]]:
    fit, refused = [], []
    for body in bodies:
        try:
            # When it came in is for us to say.
            fit.append(Record.model_validate({**body, "at": None}))
        except ValidationError as error:
            refused.append(RecordRefused(id=str(body.get("id", ""))[:60], why=in_words(error)[:400]))
    return fit, refused


@blueprint.post("/<job_id>/photos/<photo_id>", responses={201: PhotoKept})
def take_photo(path: PhotoPath, form: PhotoForm) -> Response:
    """Keep a photograph, made upright and small, without what the camera wrote into it."""
    _, body = sent(form.file, "the photograph", _settings().picture_mb)
    job = opened(path.job_id, may="edit")
    given = (job.id, path.photo_id, body, _settings().picture_megapixels)
    row = bounded("the photograph", _PHOTO_S, photo_row, *given)
    found = PhotoKept(photo_id=row.id, width_px=row.width_px, height_px=row.height_px)
    with job.desk.database.transaction() as session:
        onsite.keep_photo(session, row)
    return answer(found.model_dump_json(), status=201)


@blueprint.get("/<job_id>/photos/<photo_id>", responses=gives("image/jpeg"))
def photo(path: PhotoPath) -> Response:
    """Return a photograph."""
    job = opened(path.job_id, may="see")
    with job.desk.database.transaction() as session:
        row = onsite.photo(session, job.id, path.photo_id)
    response = make_response(row.body)
    response.content_type = "image/jpeg"
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@blueprint.post("/<job_id>/prove/tests", responses=answers_with("core.proving.testfile:TestsRead"))
def tests(path: JobPath, form: TestsForm) -> Response:
    """Read a file of tests and answer with what would become of each; with `take` what can be taken is kept."""
    job = opened(path.job_id, may="edit")
    table = sent_table(form.file, "the file of tests", _TESTS_MB, _TESTS_ROWS)
    asked = TestsSent.model_construct(rows=table.rows, by=form.by, chosen=form.chosen, any_site=form.any_site)
    said = job.said("prove.tests", asked)
    # The curves stay here: what is shown is one line a test.
    body = json.loads(said.body)
    if form.take:
        _keep(job, RecordsMade.model_validate({"records": body["records"]}))
    return answer(json.dumps({**body, "records": []}))


_TESTS_MB, _TESTS_ROWS = 60, 400_000


@blueprint.post("/<job_id>/prove/controller", responses={200: RecordsKept})
def ask_controller(path: JobPath) -> Response:
    """Ask the controller for every port and access point, and write down what it says."""
    job = opened(path.job_id, may="edit")
    live = controlling(job).driver().read()
    made = RecordsMade.model_validate_json(job.said("prove.seen-live", HeldAsked(live=live)).body)
    new = _keep(job, made)
    found = RecordsKept(kept=tuple(one.id for one in made.records), new=new, refused=(), clock_off_s=0.0)
    return answer(found.model_dump_json())


def _keep(job: Opened, made: RecordsMade) -> int:
    with job.desk.database.transaction() as session:
        return onsite.keep_records(session, job.id, made.records, "", timedelta())


@blueprint.get("/<job_id>/export/tests.<ending>", responses=gives("text/csv", _XLSX))
def export_tests(path: TablePath) -> Response:
    """Export every test on record, or with none a row a run to be filled in: CSV or a workbook."""
    return opened(path.job_id, may="see").ask("export.tests", ScheduleAsked(ending=path.ending))


@blueprint.get("/<job_id>/export/proof.xlsx", responses=gives(_XLSX))
def export_proof(path: JobPath) -> Response:
    """Export everything proven as a workbook."""
    return opened(path.job_id, may="see").ask("export.proof", Nothing())


@blueprint.get("/<job_id>/export/test-report.pdf", responses=gives("application/pdf"))
def export_test_report(path: JobPath) -> Response:
    """Export the report of every test as PDF."""
    return opened(path.job_id, may="see").ask("export.test-report", Nothing())
