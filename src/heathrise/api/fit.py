"""Stage 9: the tasks with their days, and the papers of the crew."""

from typing import Literal

from flask import Response, request
from pydantic import BaseModel

from heathrise.api.desk import opened
from heathrise.api.documented import answers_with, gives, group
from heathrise.api.shapes import JobPath
from heathrise.core.job import Id
from heathrise.work.asking import LabelSheetAsked, Nothing

blueprint = group("fit", "/api/jobs")


class SheetPath(BaseModel):
    """A job and one of the crew's papers."""

    job_id: Id
    sheet: Literal["pull-sheet", "bench-sheet", "mounting", "ends"]


@blueprint.get("/<job_id>/fit/plan", responses=answers_with("core.fitting.scheduling:FitPlan"))
def plan(path: JobPath) -> Response:
    """Return the tasks, what each waits for, its day and who does it; the longest chain as a sum."""
    return opened(path.job_id, may="see").ask("fit.plan", Nothing())


@blueprint.get("/<job_id>/fit/done", responses=answers_with("work.answers.prove:WorkDone"))
def done(path: JobPath) -> Response:
    """Return how far the work is: what was ticked, noted and measured at each task."""
    return opened(path.job_id, may="see").ask("fit.done", Nothing())


@blueprint.get("/<job_id>/fit/ends", responses=answers_with("core.fitting.ends:EndGuide"))
def ends(path: JobPath) -> Response:
    """Return how ends are made in this job, pin by pin."""
    return opened(path.job_id, may="see").ask("fit.ends", Nothing())


@blueprint.get("/<job_id>/export/days.ics", responses=gives("text/calendar"))
def export_days(path: JobPath) -> Response:
    """Export the days of work as iCalendar."""
    return opened(path.job_id, may="see").ask("export.calendar", Nothing())


@blueprint.get("/<job_id>/export/sheets/<sheet>.pdf", responses=gives("application/pdf"))
def export_sheet(path: SheetPath) -> Response:
    """Export one of the crew's papers: pulls, bench, mounting, how ends are made."""
    return opened(path.job_id, may="see").ask(f"export.{path.sheet}", Nothing())


@blueprint.get("/<job_id>/export/label-sheet.pdf", responses=gives("application/pdf"))
def export_labels(path: JobPath) -> Response:
    """Export labels to be cut, each with a code that opens what it stands on."""
    asked = LabelSheetAsked(base=request.host_url.rstrip("/"))
    return opened(path.job_id, may="see").ask("export.label-sheet", asked)
