"""Somebody else at the same controller, behind the planner's back."""

from collections.abc import Callable
from typing import Any

from heathrise.controller.line import Line
from heathrise.store import controllers


def secret_of(bench: Any) -> str:
    """The controller's secret, opened as the application does."""
    inside = bench.client.application.extensions
    with inside["desk"].database.transaction() as session:
        row = controllers.connection(session, bench.job_id)
        return inside["sealer"].open(row.sealed, bench.job_id, "controller").decode()


def line_of(bench: Any) -> Line:
    """A line to the controller, signed in."""
    line = Line(f"{bench.stand_in}/sites/{bench.job_id}")
    line.sign(line.send("POST", "session", {"account": "installer", "secret": secret_of(bench)})["token"])
    return line


def changes(bench: Any, change: Callable[[dict[str, Any]], None]) -> None:
    """Change settings as somebody else's window does."""
    line = line_of(bench)
    kept = line.get("archive")
    change(kept)
    line.send("PUT", "archive", kept)
