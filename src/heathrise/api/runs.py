"""Stage 5: runs as the planner proposes them."""

from flask import Response

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, group
from heathrise.api.shapes import JobPath
from heathrise.work.asking import DetourAsked, LabelsAsked, Nothing, PathwayTaken, RunsAsked, SuggestionAnswer

blueprint = group("runs", "/api/jobs")


@blueprint.get("/<job_id>/runs/suggestion", responses={200: SuggestionAnswer})
def suggest(path: JobPath, query: RunsAsked) -> Response:
    """Suggest a run to everything that has too few, or one to a single thing; the person sends it as an edit."""
    return opened(path.job_id, may="edit").ask("runs.suggest", query)


@blueprint.get("/<job_id>/runs/cuts", responses=answers_with("core.cabling.cutting:CutLists"))
def cuts(path: JobPath) -> Response:
    """Return which run is cut from which box, a cable each, with the bound no list is under."""
    return opened(path.job_id, may="see").ask("runs.cuts", Nothing())


@blueprint.get("/<job_id>/runs/holes", responses=answers_with("core.cabling.drilling:DrillList"))
def holes(path: JobPath) -> Response:
    """Return what is drilled where, for which runs, and the sleeve they want in it."""
    return opened(path.job_id, may="see").ask("runs.holes", Nothing())


@blueprint.get("/<job_id>/runs/pathways", responses=answers_with("core.cabling.proposing:PathwaysToMake"))
def pathways(path: JobPath) -> Response:
    """Return the pathways that are worth making for the runs as they lie now."""
    return opened(path.job_id, may="see").ask("runs.pathways", Nothing())


@blueprint.post("/<job_id>/runs/pathways", responses={200: SuggestionAnswer})
def make_pathway(path: JobPath, body: PathwayTaken) -> Response:
    """Work out what puts a proposed pathway into the job; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("runs.make-pathway", body)


@blueprint.get("/<job_id>/runs/detour", responses=answers_with("core.cabling.detour:Detour"))
def led(path: JobPath, query: DetourAsked) -> Response:
    """Return a run as it would lie if it were led through a place. Nothing is saved."""
    return opened(path.job_id, may="see").ask("runs.detour", query)


@blueprint.get("/<job_id>/runs/labels", responses=answers_with("core.cabling.labelling:Labels"))
def labels(path: JobPath, query: LabelsAsked) -> Response:
    """Return what a scheme calls every run, beside what it is called now."""
    return opened(path.job_id, may="see").ask("runs.labels", query)


@blueprint.post("/<job_id>/runs/labels", responses={200: SuggestionAnswer})
def relabel(path: JobPath, body: LabelsAsked) -> Response:
    """Work out every run's label by a scheme; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("runs.relabel", body)
