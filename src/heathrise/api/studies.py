"""Long work on a job's air: start a study, watch it, stop it; what it finds is offered as edits."""

from typing import Annotated, Literal, cast

from flask import Response, current_app
from pydantic import Field, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from heathrise.api.desk import opened
from heathrise.api.documented import group
from heathrise.api.jobs import answer
from heathrise.api.shapes import JobPath
from heathrise.core.edit import EditError
from heathrise.core.job import Id, Storey
from heathrise.core.radio.finds import StudyAsked, StudyFind
from heathrise.core.sums import Noun
from heathrise.settings import Settings
from heathrise.store import studies
from heathrise.store.tables import StudyRow
from heathrise.work import studies as working

blueprint = group("studies", "/api/jobs")
_FOUND: TypeAdapter[tuple[StudyFind, ...]] = TypeAdapter(tuple[StudyFind, ...])
_LOST = "its process stopped without a word. Start it again; nothing was changed."
_OLD = "what it found was kept by another version. Start it again; nothing was changed."
State = Literal["running", "done", "failed", "stopped"]


class StudyPath(Noun):
    """A study's address."""

    job_id: Id
    study_id: Id


class StudyState(Noun):
    """A study, how far it is, and what it has found so far. `revision` is the job's it looked at."""

    id: Id
    asked: StudyAsked
    revision: int
    state: State
    share: float
    doing: str
    found: tuple[Annotated[StudyFind, Field(discriminator="found")], ...]


class StudiesAnswer(Noun):
    """The last study of each kind."""

    studies: tuple[StudyState, ...]


def _state(session: Session, row: StudyRow) -> StudyState:
    state, doing, found = cast(State, row.state), row.doing, _found(studies.found_json(row))
    if studies.is_lost(session, row):
        state, doing = "failed", _LOST
    elif found is None:
        state, doing = "failed", _OLD
    return StudyState(
        id=row.id,
        asked=StudyAsked.model_validate(row.asked),
        revision=row.revision,
        state=state,
        share=row.share,
        doing=doing,
        found=found or (),
    )


def _found(text: str | None) -> tuple[StudyFind, ...] | None:
    """Return what a study found; None when another version wrote it in another shape."""
    try:
        return () if text is None else _FOUND.validate_json(text)
    except ValidationError:
        return None


@blueprint.post("/<job_id>/studies", responses={202: StudyState})
def begin(path: JobPath, body: StudyAsked) -> Response:
    """Start a study; it is worked on in the background."""
    job = opened(path.job_id, may="edit")
    kept = job.kept
    if body.model not in kept.job.equipment or not kept.job.equipment[body.model].radiates:
        raise EditError(f"the library has no access point named {body.model}")
    for storey_id in body.storey_ids:
        if not isinstance(kept.job.by_id.get(storey_id), Storey):
            raise EditError("the job has no such storey")
    settings = cast(Settings, current_app.extensions["settings"])
    with job.desk.database.transaction() as session:
        asked = body.model_dump(mode="json")
        row = studies.begin(session, path.job_id, body.study, asked, kept.revision)
        found = _state(session, row)
    working.start(settings.database_url, settings.cluster, row.id)
    return answer(found.model_dump_json(), status=202)


@blueprint.get("/<job_id>/studies", responses={200: StudiesAnswer})
def get_all(path: JobPath) -> Response:
    """Return the last study of each kind."""
    with opened(path.job_id, may="see").desk.database.transaction() as session:
        rows = tuple(_state(session, row) for row in studies.latest(session, path.job_id))
    return answer(StudiesAnswer(studies=rows).model_dump_json())


@blueprint.get("/<job_id>/studies/<study_id>", responses={200: StudyState})
def get(path: StudyPath) -> Response:
    """Return how far a study is and what it has found."""
    with opened(path.job_id, may="see").desk.database.transaction() as session:
        found = _state(session, studies.find(session, path.job_id, path.study_id))
    return answer(found.model_dump_json())


@blueprint.delete("/<job_id>/studies/<study_id>", responses={200: StudyState})
def stop(path: StudyPath) -> Response:
    """Stop a study; what it has found so far is kept."""
    with opened(path.job_id, may="edit").desk.database.transaction() as session:
        studies.find(session, path.job_id, path.study_id)
        studies.end(session, path.study_id, "stopped", "stopped; what was found is kept")
        session.expire_all()
        found = _state(session, studies.find(session, path.job_id, path.study_id))
    return answer(found.model_dump_json())
