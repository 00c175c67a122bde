"""Stage 6: ports as the planner proposes them."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with
from heathrise.api.shapes import JobPath
from heathrise.work.asking import Nothing, SuggestionAnswer

blueprint = APIBlueprint("ports", __name__, url_prefix="/api/jobs", abp_tags=[Tag(name="ports")])


@blueprint.get("/<job_id>/ports/suggestion", responses={200: SuggestionAnswer})
def suggest(path: JobPath) -> Response:
    """Suggest to decide every port that is proposed; the person sends it as an edit."""
    return opened(path.job_id, may="edit").ask("ports.suggest", Nothing())


@blueprint.get("/<job_id>/ports/anew", responses=answers_with("core.switching.replanning:Replan"))
def anew(path: JobPath) -> Response:
    """Return the ports as they would be given out anew, by the patches that move."""
    return opened(path.job_id, may="see").ask("ports.anew", Nothing())


@blueprint.post("/<job_id>/ports/anew", responses={200: SuggestionAnswer})
def move(path: JobPath) -> Response:
    """Work out what moves those patches; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("ports.move", Nothing())
