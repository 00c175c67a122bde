"""Stage 7: networks as the planner proposes them."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from heathrise.api.desk import opened
from heathrise.api.shapes import JobPath
from heathrise.work.asking import Nothing, SuggestionAnswer

blueprint = APIBlueprint("network", __name__, url_prefix="/api/jobs", abp_tags=[Tag(name="network")])


@blueprint.get("/<job_id>/network/suggestion", responses={200: SuggestionAnswer})
def suggest(path: JobPath) -> Response:
    """Suggest the networks a job of this kind starts with, clear of the service's subnet; the person sends it as an edit."""
    return opened(path.job_id, may="edit").ask("network.suggest", Nothing())
