"""Stage 7: networks, names on the air, who reaches whom, addresses, the run book."""

from flask import Response

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, group
from heathrise.api.shapes import JobPath
from heathrise.work.asking import (
    FlowPressed,
    NamePressed,
    Nothing,
    PracticeChosen,
    RenumberAsked,
    SuggestionAnswer,
)

blueprint = group("network", "/api/jobs")


@blueprint.get("/<job_id>/network/suggestion", responses={200: SuggestionAnswer})
def suggest(path: JobPath) -> Response:
    """Suggest the networks a job of this kind starts with, clear of the service's subnet; the person sends it as an edit."""
    return opened(path.job_id, may="edit").ask("network.suggest", Nothing())


@blueprint.get("/<job_id>/network/flows", responses=answers_with("core.network.flows:FlowMatrix"))
def flows(path: JobPath) -> Response:
    """Return who may open connections to whom."""
    return opened(path.job_id, may="see").ask("network.flows", Nothing())


@blueprint.post("/<job_id>/network/flows", responses={200: SuggestionAnswer})
def press_flow(path: JobPath, body: FlowPressed) -> Response:
    """Work out what turns one cell over; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("network.press", body)


@blueprint.get("/<job_id>/network/names", responses=answers_with("core.network.onair:NameMatrix"))
def names(path: JobPath) -> Response:
    """Return which name is on the air where, and what that costs."""
    return opened(path.job_id, may="see").ask("network.names", Nothing())


@blueprint.post("/<job_id>/network/names", responses={200: SuggestionAnswer})
def press_name(path: JobPath, body: NamePressed) -> Response:
    """Work out what puts a name on the air somewhere, or takes it off. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("network.put-on-air", body)


@blueprint.get("/<job_id>/network/addresses", responses=answers_with("core.network.addresses:AddressMap"))
def addresses(path: JobPath) -> Response:
    """Return the address space in use and what lies over what."""
    return opened(path.job_id, may="see").ask("network.addresses", Nothing())


@blueprint.get(
    "/<job_id>/network/renumbering", responses=answers_with("core.network.renumbering:Renumbering")
)
def renumbering(path: JobPath, query: RenumberAsked) -> Response:
    """Return how a network that people use is moved to another subnet."""
    return opened(path.job_id, may="see").ask("network.renumbering", query)


@blueprint.post("/<job_id>/network/renumbering", responses={200: SuggestionAnswer})
def renumber(path: JobPath, body: RenumberAsked) -> Response:
    """Work out what renumbers it in the plan; the person sends it as an edit. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("network.renumber", body)


@blueprint.get("/<job_id>/network/splittings", responses=answers_with("core.network.splitting:Splittings"))
def splittings(path: JobPath) -> Response:
    """Return one name for all bands beside a name a band."""
    return opened(path.job_id, may="see").ask("network.splittings", Nothing())


@blueprint.post("/<job_id>/network/practice", responses={200: SuggestionAnswer})
def practice(path: JobPath, body: PracticeChosen) -> Response:
    """Work out what makes a choice the practice of this job. Nothing is saved."""
    return opened(path.job_id, may="edit").ask("network.practice", body)


@blueprint.get("/<job_id>/network/told", responses=answers_with("core.network.telling:AllTold"))
def told(path: JobPath) -> Response:
    """Return every setting with who says so and why."""
    return opened(path.job_id, may="see").ask("network.told", Nothing())


@blueprint.get("/<job_id>/network/run-book", responses=answers_with("core.network.runbook:RunBook"))
def run_book(path: JobPath) -> Response:
    """Return what is done in which order until the system is on."""
    return opened(path.job_id, may="see").ask("network.run-book", Nothing())
