"""What is handed over: editions begun, made, signed, fetched; what is otherwise since."""

import json

from flask import Response, make_response
from pydantic import Field

from heathrise.api.controller import controlling
from heathrise.api.desk import Opened, opened
from heathrise.api.documented import answers_with, gives, group
from heathrise.api.jobs import answer
from heathrise.api.shapes import JobPath
from heathrise.core.job import Id
from heathrise.core.network.settings import Settings
from heathrise.core.sums import Noun
from heathrise.exchange.named import named_file
from heathrise.work.asking import DriftAsked, Nothing, SettingsHeld, Signing
from heathrise.work.handing import JOB_FILE, SETTINGS_FILE, Editions, EditionShown, HandingOver

blueprint = group("handover", "/api/jobs")


class EditionPath(Noun):
    """A hand-over of a job."""

    job_id: Id
    edition_id: Id


class EditionFilePath(Noun):
    """A file of a hand-over."""

    job_id: Id
    edition_id: Id
    name: str = Field(min_length=1, max_length=120)


def _handing(job: Opened) -> HandingOver:
    return HandingOver(job.desk.database, job.id, job.said)


@blueprint.get("/<job_id>/hand-overs", responses={200: Editions})
def every(path: JobPath) -> Response:
    """Return the hand-overs of a job, the newest first."""
    return answer(_handing(opened(path.job_id, may="see")).every().model_dump_json())


@blueprint.post("/<job_id>/hand-overs", responses={200: EditionShown})
def begin(path: JobPath, body: Signing) -> Response:
    """Begin a hand-over; refused while a fault is open, or a part is not proven and no reason is given."""
    job = opened(path.job_id, may="edit")
    ready = json.loads(job.said("prove.ready", Nothing()).body)
    return answer(_handing(job).begin(job.job, ready, body).model_dump_json())


@blueprint.post("/<job_id>/hand-overs/<edition_id>/next", responses={200: EditionShown})
def go_on(path: EditionPath) -> Response:
    """Make the next file of a hand-over; the last one signs it."""
    job = opened(path.job_id, may="edit")
    kept = job.kept
    return answer(_handing(job).go_on(path.edition_id, kept.job, kept.revision).model_dump_json())


@blueprint.post("/<job_id>/hand-overs/<edition_id>/stop", responses={200: EditionShown})
def stop(path: EditionPath) -> Response:
    """Stop one that is not signed yet."""
    return answer(_handing(opened(path.job_id, may="edit")).stop(path.edition_id).model_dump_json())


@blueprint.get("/<job_id>/hand-overs/<edition_id>/files/<name>", responses=gives("application/octet-stream"))
def fetch(path: EditionFilePath) -> Response:
    """Return a file of a hand-over."""
    body, kind = _handing(opened(path.job_id, may="see")).file(path.edition_id, path.name)
    response = make_response(body)
    response.content_type = kind
    response.headers["Content-Disposition"] = f'attachment; filename="{path.name}"'
    return response


@blueprint.get("/<job_id>/hand-overs/<edition_id>/set.zip", responses=gives("application/zip"))
def archive(path: EditionPath) -> Response:
    """Return all files of a hand-over as one archive."""
    job = opened(path.job_id, may="see")
    response = make_response(_handing(job).archive(path.edition_id))
    response.content_type = "application/zip"
    name = named_file(job.job.name, "hand-over.zip")
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@blueprint.get("/<job_id>/hand-overs/<edition_id>/drift", responses=answers_with("core.proving.drift:Drift"))
def drift(path: EditionPath) -> Response:
    """Return what of the job is otherwise than when it was handed over."""
    job = opened(path.job_id, may="see")
    body, _ = _handing(job).file(path.edition_id, JOB_FILE)
    return job.ask("prove.drift", DriftAsked(job_file=body.decode()))


@blueprint.get(
    "/<job_id>/hand-overs/<edition_id>/live", responses=answers_with("core.network.held:Differences")
)
def live(path: EditionPath) -> Response:
    """Read the controller and return what it has otherwise than what was handed over."""
    job = opened(path.job_id, may="see")
    body, _ = _handing(job).file(path.edition_id, SETTINGS_FILE)
    found = controlling(job).driver().read()
    return job.ask("prove.live-drift", SettingsHeld(live=found, handed=Settings.model_validate_json(body)))
