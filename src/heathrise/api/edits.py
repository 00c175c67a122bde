"""The one door for edits, undo and redo, and what others did."""

import json
import threading
from collections.abc import Iterator
from time import monotonic

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from heathrise.api.desk import Desk, desk
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
from heathrise.core.edit import Operation
from heathrise.store import jobs
from heathrise.store.database import DatabaseGone
from heathrise.store.jobs import OPERATIONS, Edit, Kept, NoSuchJob, Way

blueprint = APIBlueprint("edits", __name__, url_prefix="/api/jobs", abp_tags=[Tag(name="edits")])
# Every window asks the database; no process needs to know of another.
_POLL_S = 0.3
_BEAT_S = 15.0
_STREAM_S = 600.0


def edit_answer(kept: Kept, actor: str, label: str, operations: tuple[Operation, ...]) -> Response:
    """Return what was done, and what the actor can undo and redo."""
    with desk().database.transaction() as session:
        past = jobs.history(session, kept.id, actor)
    body = EditAnswer.model_construct(
        revision=kept.revision,
        label=label,
        operations=operations,
        can_undo=bool(past.undo),
        can_redo=bool(past.redo),
    )
    return answer(body.model_dump_json(), kept.revision)


def since_revision(job_id: str, revision: int) -> tuple[Operation, ...]:
    """Return every operation after a revision, oldest first."""
    with desk().database.transaction() as session:
        later = reversed(jobs.changes(session, job_id, limit=1000))
        steps = [step for change in later if change.revision > revision for step in change.operations]
    return OPERATIONS.validate_python(steps)


@blueprint.post("/<job_id>/edits", responses={200: EditAnswer})
def edit(path: JobPath, body: EditRequest) -> Response:
    """Apply operations made on a revision; answer with all that was done since."""
    made = Edit(body.edit_id, body.actor, body.label, body.base_revision, body.operations)
    with desk().database.transaction() as session:
        kept = jobs.commit_edit(session, path.job_id, made)
    desk().keep(kept)
    return edit_answer(kept, body.actor, body.label, since_revision(path.job_id, body.base_revision))


@blueprint.post("/<job_id>/undo", responses={200: EditAnswer})
def undo(path: JobPath, body: StepRequest) -> Response:
    """Undo this browser's last change."""
    return _step(path.job_id, body.actor, "undo")


@blueprint.post("/<job_id>/redo", responses={200: EditAnswer})
def redo(path: JobPath, body: StepRequest) -> Response:
    """Redo this browser's last undone change."""
    return _step(path.job_id, body.actor, "redo")


def _step(job_id: str, actor: str, way: Way) -> Response:
    with desk().database.transaction() as session:
        kept, label = jobs.step_back(session, job_id, actor, "undo" if way == "undo" else "redo")
    desk().keep(kept)
    return edit_answer(kept, actor, label, since_revision(job_id, kept.revision - 1))


@blueprint.get("/<job_id>/history", responses={200: HistoryAnswer})
def history(path: JobPath, query: ActorQuery) -> Response:
    """Say whether this browser has something to undo and redo."""
    with desk().database.transaction() as session:
        past = jobs.history(session, path.job_id, query.actor)
    body = HistoryAnswer(can_undo=bool(past.undo), can_redo=bool(past.redo))
    return answer(body.model_dump_json())


@blueprint.get("/<job_id>/since/<int:revision>", responses={200: EditAnswer})
def since(path: SincePath, query: ActorQuery) -> Response:
    """Return every operation after a revision."""
    kept = desk().job(path.job_id)
    return edit_answer(kept, query.actor, "", since_revision(path.job_id, path.revision))


@blueprint.get("/<job_id>/events")
def events(path: JobPath) -> Response:
    """Stream the job's revision whenever it grows, as server-sent events."""
    stream = Response(_revisions(desk(), path.job_id), mimetype="text/event-stream")
    stream.headers["X-Accel-Buffering"] = "no"
    return stream


def _revisions(here: Desk, job_id: str) -> Iterator[str]:
    known, beat, pause = -1, monotonic(), threading.Event()
    until = monotonic() + _STREAM_S
    while monotonic() < until:
        try:
            with here.database.transaction() as session:
                revision = jobs.revision_of(session, job_id)
        except (DatabaseGone, NoSuchJob):
            return
        if revision != known:
            known, beat = revision, monotonic()
            yield f"event: revision\ndata: {json.dumps({'revision': revision})}\n\n"
        elif monotonic() - beat > _BEAT_S:
            beat = monotonic()
            yield ": still here\n\n"
        pause.wait(_POLL_S)
