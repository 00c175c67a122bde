"""Drawings in: send a file, watch it being read, map it, accept what is right."""

import hashlib
import io
from typing import Literal, cast

from flask import Response, current_app
from flask_openapi3 import FileStorage
from PIL import Image
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from heathrise.api.desk import opened
from heathrise.api.documented import gives, group
from heathrise.api.edits import edit_answer
from heathrise.api.jobs import answer
from heathrise.api.sent import sent
from heathrise.api.shapes import EditAnswer, JobPath
from heathrise.core.edit import Put
from heathrise.core.job import Id, Underlay
from heathrise.core.site.accepting import OpeningSaid, StoreyTaken, Taken, accept
from heathrise.core.site.actions import NotPossible
from heathrise.core.site.align import scale_by_door, scale_by_length, scale_by_print
from heathrise.core.site.proposal import Role
from heathrise.core.sums import Noun, Sum
from heathrise.exchange.kinds import kind_of
from heathrise.exchange.readings import Corners, Reading, ReadingChoices
from heathrise.exchange.unreadable import LOCKED
from heathrise.settings import Settings
from heathrise.store import attachments, edits, imports, jobs
from heathrise.store.edits import Edit
from heathrise.store.jobs import NoSuchJob, new_id
from heathrise.store.tables import AttachmentRow, ImportRow
from heathrise.work import reading

blueprint = group("imports", "/api/jobs")
_POINT_M = 0.0254 / 72
_FIRM_LAYERS = "layer"


class ImportForm(BaseModel):
    """A drawing; `page` counts from 1 and matters for a PDF, 0 is every page with a plan."""

    file: FileStorage
    page: int = Field(0, ge=0, le=10_000)


class ImportPath(Noun):
    """An import's address."""

    job_id: Id
    import_id: Id


class ScaleAsked(Noun):
    """A scale said in one of four ways; the first that is given is taken."""

    metres_per_unit: float | None = Field(None, gt=0, le=1000)
    shown_m: float | None = Field(None, gt=0, le=10_000)
    true_m: float | None = Field(None, gt=0, le=10_000)
    door_m: float | None = Field(None, gt=0.3, le=3)
    printed: float | None = Field(None, gt=0, le=5000)
    paper: Literal["A0", "A1", "A2", "A3", "A4"] | None = None


class ImportAsked(Noun):
    """What a person says of a file: what its layers hold, its scale, the page, corners of a photographed sheet."""

    roles: dict[str, Role] = {}
    scale: ScaleAsked = ScaleAsked()
    page: int = Field(0, ge=0, le=10_000)
    corners: Corners | None = None
    password: str = Field("", max_length=200)


class ImportState(Noun):
    """A file being read, or read; `locked` is one that opens to its password alone, `earlier` one that was read before."""

    id: Id
    name: str
    state: Literal["running", "done", "failed"]
    share: float
    doing: str
    reading: Reading | None = None
    scale_sum: Sum | None = None
    locked: bool = False
    earlier: bool = False


class AcceptRequest(Noun):
    """What of a proposal is drawn, as what, and onto which storey; `storeys` are in the proposal's order."""

    edit_id: Id
    actor: Id
    base_revision: int = Field(ge=0)
    storey_id: Id | None = None
    rejected: tuple[Id, ...] = Field((), max_length=50_000)
    kinds: tuple[OpeningSaid, ...] = Field((), max_length=50_000)
    storeys: tuple[StoreyTaken, ...] = Field((), max_length=100)
    keep_picture: bool = True


def _settings() -> Settings:
    return cast(Settings, current_app.extensions["settings"])


def _state(session: Session, row: ImportRow, scale_sum: Sum | None = None) -> Response:
    text = imports.reading_json(row) if row.state == "done" else None
    state, doing = row.state, row.doing
    if imports.is_lost(session, row):
        state, doing = (
            "failed",
            "the reader stopped without a word. Send the file again; nothing was changed.",
        )
    found = ImportState(
        id=row.id,
        name=row.name,
        state=cast(Literal["running", "done", "failed"], state),
        share=row.share,
        doing=doing,
        reading=None if text is None else Reading.model_validate_json(text),
        scale_sum=scale_sum,
        locked=state == "failed" and doing.startswith(LOCKED),
        earlier=state != "done" and row.result is not None,
    )
    return answer(found.model_dump_json(), status=202 if state == "running" else 200)


@blueprint.post("/<job_id>/imports", responses={202: ImportState})
def begin(path: JobPath, form: ImportForm) -> Response:
    """Send a drawing; it is read in the background."""
    name, body = sent(form.file, "Drawing", _settings().drawing_mb)
    # What is none of ours is said at once; only what may be read is kept and read.
    kind_of(body)
    with opened(path.job_id, may="edit").desk.database.transaction() as session:
        asked = ReadingChoices.model_validate(
            {
                "roles": imports.choices(session, _FIRM_LAYERS),
                "page": form.page,
                "megapixels": _settings().picture_megapixels,
            }
        )
        row = imports.begin(session, path.job_id, name, body, asked.model_dump(mode="json"))
        response = _state(session, row)
    reading.start(_settings().database_url, row.id, row.turn)
    return response


@blueprint.get("/<job_id>/imports/<import_id>", responses={200: ImportState, 202: ImportState})
def get(path: ImportPath) -> Response:
    """Say how far a file is, or what was understood."""
    with opened(path.job_id, may="see").desk.database.transaction() as session:
        return _state(session, imports.find(session, path.job_id, path.import_id, with_result=True))


@blueprint.put("/<job_id>/imports/<import_id>", responses={202: ImportState})
def ask(path: ImportPath, body: ImportAsked) -> Response:
    """Read a file again by what a person says of it; the firm remembers what layers hold."""
    with opened(path.job_id, may="edit").desk.database.transaction() as session:
        row = imports.find(session, path.job_id, path.import_id, with_result=True)
        before = imports.reading_json(row)
        found = None if before is None else Reading.model_validate_json(before)
        scale, scale_sum = _scale(body.scale, found)
        asked = ReadingChoices(
            roles=body.roles,
            metres_per_unit=scale or (found.metres_per_unit if found and found.scale_known else None),
            page=body.page,
            megapixels=_settings().picture_megapixels,
            corners=body.corners,
            password=body.password,
        )
        imports.choose(session, _FIRM_LAYERS, _corrected(body.roles, found))
        imports.again(session, row, asked.model_dump(mode="json"))
        session.flush()
        response = _state(session, row, scale_sum)
        turn = row.turn
    reading.start(_settings().database_url, path.import_id, turn)
    return response


@blueprint.post("/<job_id>/imports/<import_id>/back", responses={200: ImportState})
def back(path: ImportPath) -> Response:
    """Go back to what a file showed before it was asked to be read again, when that failed or is not wanted."""
    with opened(path.job_id, may="edit").desk.database.transaction() as session:
        row = imports.find(session, path.job_id, path.import_id, with_result=True)
        if not imports.back(row):
            raise NotPossible("the file was not read before")
        return _state(session, row)


def _corrected(said: dict[str, Role], found: Reading | None) -> dict[str, object]:
    """Return what a person put right of the layers: that is worth knowing again. Pens of a page say nothing of the next."""
    if found is None or found.kind == "pdf":
        return {}
    guessed = {layer.name: layer.role for layer in found.layers}
    return {name: role for name, role in said.items() if guessed.get(name, role) != role}


def _scale(said: ScaleAsked, found: Reading | None) -> tuple[float | None, Sum | None]:
    """Return metres per unit by what was said, and the sum it came from."""
    if said.metres_per_unit is not None:
        return said.metres_per_unit, None
    now = found.metres_per_unit if found else None
    try:
        if said.shown_m is not None and said.true_m is not None and now is not None:
            scale = scale_by_length(said.shown_m / now, said.true_m)
        elif said.door_m is not None and found is not None and now is not None:
            scale = scale_by_door(found.proposal, now, said.door_m)
        elif said.printed is not None and found is not None and found.kind == "pdf":
            return _POINT_M * said.printed, None
        elif said.printed is not None and said.paper is not None and found is not None and found.picture_px:
            scale = scale_by_print(max(found.sheet_px or found.picture_px), said.paper, said.printed)
        else:
            return None, None
    except ValueError as error:
        raise NotPossible(str(error)) from error
    return scale.metres_per_px, scale.sum


@blueprint.delete("/<job_id>/imports/<import_id>", responses={204: None})
def cancel(path: ImportPath) -> Response:
    """Stop reading a file, or leave its proposal."""
    with opened(path.job_id, may="edit").desk.database.transaction() as session:
        imports.forget(session, path.job_id, path.import_id)
    return current_app.make_response(("", 204))


@blueprint.get("/<job_id>/imports/<import_id>/picture", responses=gives("image/png"))
def picture(path: ImportPath) -> Response:
    """Return the straightened picture of an import."""
    with opened(path.job_id, may="see").desk.database.transaction() as session:
        png = imports.find(session, path.job_id, path.import_id, with_result=True).png
    if png is None:
        raise NoSuchJob(path.import_id)
    response = current_app.make_response(png)
    response.content_type = "image/png"
    return response


@blueprint.get("/<job_id>/imports/<import_id>/original", responses=gives("image/png", "image/jpeg"))
def original(path: ImportPath) -> Response:
    """Return a photograph or scan as it was sent, to say where its sheet's corners are."""
    with opened(path.job_id, may="see").desk.database.transaction() as session:
        body = imports.find(session, path.job_id, path.import_id).body
    if kind_of(body) != "picture":
        raise NoSuchJob(path.import_id)
    response = current_app.make_response(body)
    response.content_type = "image/png" if body.startswith(b"\x89PNG") else "image/jpeg"
    return response


@blueprint.post("/<job_id>/imports/<import_id>/accept", responses={200: EditAnswer})
def take(path: ImportPath, body: AcceptRequest) -> Response:
    """Draw what was accepted, as one edit that one undo takes back; the import is then forgotten."""
    into = opened(path.job_id, may="edit")
    with into.desk.database.transaction() as session:
        row = imports.find(session, path.job_id, path.import_id, with_result=True)
        text = imports.reading_json(row)
        if text is None or row.state != "done":
            raise NotPossible("the file has not been read yet")
        found = Reading.model_validate_json(text)
        job = jobs.load_job(session, path.job_id).job
        if body.storey_id is None and any(s.elevation_m is None for s in found.proposal.storeys):
            raise NotPossible("say which storey the drawing is of")
        taken = Taken(
            frozenset(body.rejected), {one.id: one.opening_kind for one in body.kinds}, body.storeys
        )
        operations = list(accept(job, found.proposal, taken, body.storey_id, new_id))
        if row.png is not None and body.keep_picture and body.storey_id is not None:
            operations.append(Put(element=_underlay(session, row, found, body.storey_id)))
        if not operations:
            raise NotPossible("nothing was accepted, so there is nothing to draw")
        label = f"Import {row.name}"[:120]
        made = Edit(body.edit_id, body.actor, label, body.base_revision, tuple(operations))
        kept = edits.commit_edit(session, path.job_id, made, into.desk.known(path.job_id))
        session.delete(row)
    into.desk.keep(kept)
    return edit_answer(into, body.base_revision, body.actor, label)


def _underlay(session: Session, row: ImportRow, found: Reading, storey_id: str) -> Underlay:
    png = row.png or b""
    width, height = Image.open(io.BytesIO(png)).size
    digest = hashlib.sha256(png).hexdigest()
    attachment = AttachmentRow(
        id=new_id(),
        job_id=row.job_id,
        name=row.name,
        sha256=digest,
        width_px=width,
        height_px=height,
        body=png,
    )
    kept_id = attachments.keep_attachment(session, attachment)
    return Underlay(
        id=new_id(),
        label=row.name[:80],
        storey_id=storey_id,
        attachment_id=kept_id,
        width_px=width,
        height_px=height,
        metres_per_px=found.metres_per_unit if found.scale_known else None,
    )
