"""The one door for edits, undo and redo, and what others did."""

import json

from flask import Response

from heathrise.api.desk import Opened, opened
from heathrise.api.documented import gives, group
from heathrise.api.jobs import answer
from heathrise.api.shapes import (
    ActorQuery,
    EditAnswer,
    EditRequest,
    HistoryAnswer,
    JobPath,
    SincePath,
    StepRequest,
)
from heathrise.store import edits, jobs
from heathrise.store.edits import Asked, Edit, Way

blueprint = group("edits", "/api/jobs")
# A window that missed more changes than this opens the job anew.
_TOLD_AT_MOST = 500


def edit_answer(job: Opened, since: int, actor: str, label: str) -> Response:
    """Return every operation after a revision, oldest first, and what the actor can undo and redo.

    Where the history does not reach back (a backup was put back), or tells more than the job is worth
    reading again, the answer says so and the browser opens the job anew.
    """
    with job.desk.database.transaction() as session:
        revision = jobs.revision_of(session, job.id)
        told = jobs.told_since(session, job.id, since, revision, _TOLD_AT_MOST)
        past = edits.history(session, job.id, actor)
    steps = [step for operations in told or () for step in operations]
    body = EditAnswer.model_construct(
        revision=revision,
        label=label,
        operations=jobs.OPERATIONS.validate_python(steps),
        can_undo=past.undo is not None,
        can_redo=past.redo is not None,
        reload=told is None,
    )
    return answer(body.model_dump_json(), revision)


@blueprint.post("/<job_id>/edits", responses={200: EditAnswer})
def edit(path: JobPath, body: EditRequest) -> Response:
    """Apply operations made on a revision; answer with all that was done since."""
    job = opened(path.job_id, may="edit")
    seen = {element.id: element for element in body.seen} | dict.fromkeys(body.absent)
    job.edit(
        Edit(body.edit_id, body.actor, body.label, body.base_revision, body.operations, seen, body.choices)
    )
    since = body.base_revision if body.known_revision is None else body.known_revision
    return edit_answer(job, since, body.actor, body.label)


@blueprint.post("/<job_id>/undo", responses={200: EditAnswer})
def undo(path: JobPath, body: StepRequest) -> Response:
    """Undo this browser's last change."""
    return _step(path.job_id, body, "undo")


@blueprint.post("/<job_id>/redo", responses={200: EditAnswer})
def redo(path: JobPath, body: StepRequest) -> Response:
    """Redo this browser's last undone change."""
    return _step(path.job_id, body, "redo")


def _step(job_id: str, body: StepRequest, way: Way) -> Response:
    job = opened(job_id, may="edit")
    kept, label = job.step(Asked(body.edit_id, body.actor, body.target, body.choices), way)
    since = kept.revision - 1 if body.known_revision is None else body.known_revision
    return edit_answer(job, since, body.actor, label)


@blueprint.get("/<job_id>/history", responses={200: HistoryAnswer})
def history(path: JobPath, query: ActorQuery) -> Response:
    """Say whether this browser has something to undo and redo."""
    job = opened(path.job_id, may="see")
    with job.desk.database.transaction() as session:
        past = edits.history(session, job.id, query.actor)
    body = HistoryAnswer(can_undo=past.undo is not None, can_redo=past.redo is not None)
    return answer(body.model_dump_json())


@blueprint.get("/<job_id>/since/<int:revision>", responses={200: EditAnswer})
def since(path: SincePath, query: ActorQuery) -> Response:
    """Return every operation after a revision."""
    job = opened(path.job_id, may="see")
    return edit_answer(job, path.revision, query.actor, "")


@blueprint.get("/<job_id>/events", responses=gives("text/event-stream"))
def events(path: JobPath) -> Response:
    """Tell the job's revision as a server-sent event; the front door carries the stream on while it grows."""
    job = opened(path.job_id, may="see")
    with job.desk.database.transaction() as session:
        revision = jobs.revision_of(session, job.id)
    told = f"retry: 2000\nevent: revision\ndata: {json.dumps({'revision': revision})}\n\n"
    return Response(told, mimetype="text/event-stream", headers={"X-Accel-Buffering": "no"})
