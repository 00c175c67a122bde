"""Stage 6: power, ports and racks as the planner has them."""

from flask import Response

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, group
from heathrise.api.shapes import JobPath
from heathrise.work.asking import FeedAsked, Nothing, RackArranged, SuggestionAnswer, WayOutTaken

blueprint = group("ports", "/api/jobs")


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


@blueprint.get("/<job_id>/ports/loads", responses=answers_with("core.racks.derived:Loads"))
def loads(path: JobPath) -> Response:
    """Return every switch's limits, its cases of load, who is shed first, and who could take over."""
    return opened(path.job_id, may="see").ask("ports.loads", Nothing())


@blueprint.get("/<job_id>/ports/feed", responses=answers_with("core.power.along:FeedPath"))
def feed(path: JobPath, query: FeedAsked) -> Response:
    """Return power along one run, step by step."""
    return opened(path.job_id, may="see").ask("ports.feed", query)


@blueprint.get("/<job_id>/ports/outlets", responses=answers_with("core.power.outlets:Outlets"))
def outlets(path: JobPath) -> Response:
    """Return everything that is plugged into the mains, and what it draws."""
    return opened(path.job_id, may="see").ask("ports.outlets", Nothing())


@blueprint.get("/<job_id>/ports/unfed", responses=answers_with("core.switching.too_many:Unfed"))
def unfed(path: JobPath) -> Response:
    """Return every device that is not fed, with the ways out compared."""
    return opened(path.job_id, may="see").ask("ports.unfed", Nothing())


@blueprint.post("/<job_id>/ports/unfed", responses={200: SuggestionAnswer})
def mend(path: JobPath, body: WayOutTaken) -> Response:
    """Work out what one way out takes; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("ports.way-out", body)


@blueprint.get("/<job_id>/ports/racks", responses=answers_with("core.racks.derived:Racks"))
def racks(path: JobPath) -> Response:
    """Return every rack: what stands at which unit, and what is asked of its place."""
    return opened(path.job_id, may="see").ask("ports.racks", Nothing())


@blueprint.post("/<job_id>/ports/racks", responses={200: SuggestionAnswer})
def arrange(path: JobPath, body: RackArranged) -> Response:
    """Work out what decides the units of a rack; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("ports.arrange", body)


@blueprint.get("/<job_id>/ports/standby", responses=answers_with("core.racks.derived:Standbys"))
def standby(path: JobPath) -> Response:
    """Return how long every rack runs alone, what stays on, and what of the shelf would do."""
    return opened(path.job_id, may="see").ask("ports.standby", Nothing())


@blueprint.get("/<job_id>/ports/recording", responses=answers_with("core.racks.derived:Recordings"))
def recording(path: JobPath) -> Response:
    """Return every recorder and storage: what it must hold, and what its disks hold."""
    return opened(path.job_id, may="see").ask("ports.recording", Nothing())


@blueprint.get("/<job_id>/ports/patches", responses=answers_with("core.racks.derived:Patches"))
def patches(path: JobPath) -> Response:
    """Return from cable to panel to cord to port, rack by rack."""
    return opened(path.job_id, may="see").ask("ports.patches", Nothing())


@blueprint.post("/<job_id>/ports/patches", responses={200: SuggestionAnswer})
def decide_patches(path: JobPath) -> Response:
    """Work out what decides where every cable lands; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("ports.decide-patches", Nothing())
