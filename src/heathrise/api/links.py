"""Stage 4: all ways by which data may reach a thing."""

from flask import Response

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, group
from heathrise.api.shapes import JobPath
from heathrise.work.asking import (
    Nothing,
    ProfileAsked,
    StrandsAsked,
    StrandTagged,
    SuggestionAnswer,
    WayChosen,
    WaysAsked,
)

blueprint = group("links", "/api/jobs")


@blueprint.get("/<job_id>/links/ways", responses=answers_with("core.joining.derived:Ways"))
def ways(path: JobPath, query: WaysAsked) -> Response:
    """Return all ways to a thing, worked out for it, the best first."""
    return opened(path.job_id, may="see").ask("links.ways", query)


@blueprint.get("/<job_id>/links/river", responses=answers_with("core.switching.topology:Topology"))
def river(path: JobPath) -> Response:
    """Return the network laid out in columns, from where the service enters."""
    return opened(path.job_id, may="see").ask("links.river", Nothing())


@blueprint.get("/<job_id>/links/failures", responses=answers_with("core.switching.failing:Failures"))
def failing(path: JobPath) -> Response:
    """Return what every single failure costs: what is cut off, which spaces lose their air, who takes over."""
    return opened(path.job_id, may="see").ask("links.failures", Nothing())


@blueprint.get("/<job_id>/links/mesh", responses=answers_with("core.joining.hanging:Mesh"))
def mesh(path: JobPath) -> Response:
    """Return every point without a cable, and the one it hangs on or would best hang on."""
    return opened(path.job_id, may="see").ask("links.mesh", Nothing())


@blueprint.post("/<job_id>/links/mesh", responses={200: SuggestionAnswer})
def hang_all(path: JobPath) -> Response:
    """Work out what hangs every point without a cable on another; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("links.hang-all", Nothing())


@blueprint.get("/<job_id>/links/wirings", responses=answers_with("core.joining.wirings:Wirings"))
def wirings(path: JobPath) -> Response:
    """Return star, mixed and chain compared for the access points."""
    return opened(path.job_id, may="see").ask("links.wirings", Nothing())


@blueprint.get("/<job_id>/links/namings", responses=answers_with("core.radio.naming:Namings"))
def namings(path: JobPath) -> Response:
    """Return what walking costs by how points are named: one name or many, one network or one a point."""
    return opened(path.job_id, may="see").ask("links.namings", Nothing())


@blueprint.get("/<job_id>/links/strands", responses=answers_with("core.joining.strands:Strands"))
def strands(path: JobPath, query: StrandsAsked) -> Response:
    """Return how several services reach the far end of a run: a cable each, or over one."""
    return opened(path.job_id, may="see").ask("links.strands", query)


@blueprint.post("/<job_id>/links/strands", responses={200: SuggestionAnswer})
def tag(path: JobPath, body: StrandTagged) -> Response:
    """Work out what puts a managed switch at the far end of a run; the person sends it. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("links.tag", body)


@blueprint.post("/<job_id>/links/profile", responses={200: SuggestionAnswer})
def profile(path: JobPath, body: ProfileAsked) -> Response:
    """Read the path of a bridge from text; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("links.profile", body)


@blueprint.post("/<job_id>/links/choice", responses={200: SuggestionAnswer})
def choose(path: JobPath, body: WayChosen) -> Response:
    """Work out what puts a way into the job; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("links.choose", body)
