"""Every error as a problem document (RFC 9457), in one place.

Each says what happened, that the work is safe, and what to do next.
"""

from http import HTTPStatus
from typing import Any

import structlog
from flask import Flask, Response, request
from flask import json as flask_json
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from heathrise import logs
from heathrise.controller.driver import ChangedMeanwhile, ControllerError, Garbled, NoAnswer, SignInRefused
from heathrise.core.edit import EditError
from heathrise.core.library import UnknownItem
from heathrise.core.site.actions import NotPossible
from heathrise.exchange.jobfile import NotAJobFile, in_words
from heathrise.exchange.unreadable import NotAPicture, Unreadable
from heathrise.store.database import DatabaseGone
from heathrise.store.edits import Conflict, NothingToUndo
from heathrise.store.jobs import InBin, NoSuchJob
from heathrise.store.sealing import NoKey
from heathrise.work.bounded import Busy
from heathrise.work.calculators import Broke, CalculatorGone
from heathrise.work.controlling import NoController, StepUnderWay
from heathrise.work.handing import NotReady

log = structlog.get_logger(__name__)
SAFE = "Nothing was saved and nothing was harmed."
_WORDS = {
    403: ("Not allowed", "The request came from another site and was refused."),
    404: ("Not found", "There is nothing at this address. Go back to the job list."),
    405: ("Not allowed here", "This address does not take that kind of request."),
    413: ("Too large", "The upload is larger than is read at once. Send a smaller one."),
    415: ("Wrong kind", "The request's content is of a kind this address does not read."),
}


_CONTROLLER: dict[type[ControllerError], tuple[str, str]] = {
    NoAnswer: ("The controller does not answer", "no-answer"),
    Garbled: ("The controller cannot be understood", "garbled"),
    SignInRefused: ("The controller does not let us in", "sign-in"),
    ChangedMeanwhile: ("Changed meanwhile", "changed"),
}


def problem(status: int, title: str, detail: str, **more: Any) -> Response:
    """Return a problem document."""
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail, **more}
    return Response(
        flask_json.dumps(body), status=status, content_type="application/problem+json; charset=utf-8"
    )


def invalid(error: ValidationError) -> Response:
    """Return what is wrong with a request's parts, and where."""
    places = [".".join(str(part) for part in complaint["loc"]) for complaint in error.errors()]
    return problem(422, "Not understood", f"{in_words(error)}. {SAFE}", where=places[:20])


def register(app: Flask) -> None:
    """Give every exception of ours its status and words."""

    @app.errorhandler(InBin)
    def _binned(_: InBin) -> Response:
        words = "The job was put in the bin. It can be put back from the job list, with all that is in it."
        return problem(410, "In the bin", words, why="bin")

    @app.errorhandler(NoSuchJob)
    def _no_job(_: NoSuchJob) -> Response:
        return problem(404, "No such job", "The job is not here; it may have been deleted.")

    @app.errorhandler(Conflict)
    def _conflict(error: Conflict) -> Response:
        return problem(
            409,
            "Changed by somebody else",
            f"{error}. Nothing is lost: choose which stands.",
            why="clash",
            clashes=[clash.model_dump(mode="json") for clash in error.clashes],
            revision=error.revision,
            target=error.target,
        )

    @app.errorhandler(NothingToUndo)
    def _nothing(error: NothingToUndo) -> Response:
        return problem(409, "Nothing left", f"{error}.")

    @app.errorhandler(EditError)
    @app.errorhandler(UnknownItem)
    @app.errorhandler(NotAJobFile)
    @app.errorhandler(NotAPicture)
    @app.errorhandler(Unreadable)
    @app.errorhandler(NotPossible)
    def _unfit(error: Exception) -> Response:
        text = str(error)
        return problem(422, "Not possible", f"{text[:1].upper()}{text[1:].rstrip('.')}. {SAFE}")

    @app.errorhandler(ValidationError)
    def _invalid(error: ValidationError) -> Response:
        return invalid(error)

    @app.errorhandler(DatabaseGone)
    def _gone(error: DatabaseGone) -> Response:
        log.error("database_gone", detail=str(error))
        words = "The database does not answer. Your edit waits in this browser and is sent again."
        response = problem(503, "Cannot save just now", words)
        response.headers["Retry-After"] = "2"
        return response

    @app.errorhandler(CalculatorGone)
    def _away(error: CalculatorGone) -> Response:
        log.error("calculator_gone", detail=str(error))
        words = "What computes does not answer just now. Your work is safe; this is asked again in a moment."
        response = problem(503, "Cannot compute just now", words)
        response.headers["Retry-After"] = "2"
        return response

    @app.errorhandler(Busy)
    def _busy(error: Busy) -> Response:
        text = str(error)
        response = problem(503, "Busy", f"{text[:1].upper()}{text[1:]}", why="busy")
        response.headers["Retry-After"] = "30"
        return response

    @app.errorhandler(Broke)
    def _broke(error: Broke) -> Response:
        log.error("calculator_broke", detail=str(error))
        words = "Something went wrong on our side; it is in the log. What was saved before is safe."
        return problem(500, "Our mistake", words)

    @app.errorhandler(NoController)
    def _no_controller(_: NoController) -> Response:
        words = (
            "The job has no controller yet. Say where it is and who you are there, or set up a simulated one."
        )
        return problem(409, "No controller", words, why="no-controller")

    @app.errorhandler(NotReady)
    def _not_ready(error: NotReady) -> Response:
        text = str(error)
        return problem(
            409, "Not ready to be signed", f"{text[:1].upper()}{text[1:]}. {SAFE}", why="not-ready"
        )

    @app.errorhandler(StepUnderWay)
    def _under_way(_: StepUnderWay) -> Response:
        words = "Another window is at a step of this. Look again in a moment; it goes on by itself."
        return problem(409, "Under way", words, why="under-way")

    @app.errorhandler(NoKey)
    def _no_key(error: NoKey) -> Response:
        text = str(error)
        return problem(409, "Cannot open secrets", f"{text[:1].upper()}{text[1:]}. {SAFE}", why="no-key")

    @app.errorhandler(ControllerError)
    def _controller(error: ControllerError) -> Response:
        title, why = _CONTROLLER.get(type(error), ("The controller refused", "refused"))
        text = str(error)
        return problem(
            424, title, f"{text[:1].upper()}{text[1:].rstrip('.')}. The plan is as it was.", why=why
        )

    @app.errorhandler(RecursionError)
    def _deep(_: RecursionError) -> Response:
        return problem(400, "Not understood", f"What was sent is nested deeper than anything here. {SAFE}")

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        code = error.code or 500
        title, detail = _WORDS.get(code, (HTTPStatus(code).phrase, str(error.description)))
        return problem(code, title, detail)

    @app.errorhandler(Exception)
    def _unexpected(error: Exception) -> Response:
        log.error("unexpected", path=request.path, **logs.where(error))
        words = "Something went wrong on our side; it is in the log. What was saved before is safe."
        return problem(500, "Our mistake", words)
