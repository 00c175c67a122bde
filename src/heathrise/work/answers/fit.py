"""Stage 9: the tasks with their days, the papers of the crew, the days as a calendar."""

from datetime import UTC, datetime

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Memo
from heathrise.core.fitting.derived import tasks
from heathrise.core.fitting.ends import end_guide
from heathrise.core.fitting.mounting import mount_sheets
from heathrise.core.fitting.scheduling import FitPlan, fit_plan
from heathrise.core.job import AccessPoint, Equipment, Job
from heathrise.core.network.runbook import run_book
from heathrise.core.site.derived import building
from heathrise.core.switching.derived import ports
from heathrise.exchange.calendar import calendar_of
from heathrise.exchange.named import named_file
from heathrise.exchange.paper.fitting import (
    LabelText,
    bench_sheet,
    ends_guide,
    label_sheet,
    mounting_sheets,
    pull_sheet,
)
from heathrise.exchange.paper.sheets import Title, titled
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import LabelSheetAsked, Nothing
from heathrise.work.open_job import OpenJob

_PDF = "application/pdf"


def the_plan(memo: Memo) -> FitPlan:
    """Return the tasks and their days, from today on."""
    job: Job = memo.source
    today = datetime.now(tz=UTC).date()
    return fit_plan(tasks(memo.look), job.ordering, job.fitting, job.site, today)


@answers("fit.plan", Nothing)
def plan(opened: OpenJob, _: Nothing) -> Answer:
    """The tasks and their days."""
    memo = opened.memo()
    return in_json(the_plan(memo), memo.revision)


@answers("fit.ends", Nothing)
def ends(opened: OpenJob, _: Nothing) -> Answer:
    """How ends are made."""
    kept = opened.newest()
    return in_json(end_guide(kept.job), kept.revision)


@answers("export.calendar", Nothing)
def calendar(opened: OpenJob, _: Nothing) -> Answer:
    """The days as iCalendar."""
    memo = opened.memo()
    body = calendar_of(memo.source, the_plan(memo), datetime.now(tz=UTC))
    return Answer(
        body, memo.revision, "text/calendar; charset=utf-8", named_file(memo.source.name, "days.ics")
    )


def _titled(memo: Memo, drawing: str) -> Title:
    return titled(memo.source, drawing, memo.revision)


@answers("export.pull-sheet", Nothing)
def pulls(opened: OpenJob, _: Nothing) -> Answer:
    """What is pulled in which order."""
    memo = opened.memo()
    body = pull_sheet(_titled(memo, "Pull sheet"), tasks(memo.look))
    return Answer(body, memo.revision, _PDF, named_file(memo.source.name, "pull-sheet.pdf"))


@answers("export.bench-sheet", Nothing)
def bench(opened: OpenJob, _: Nothing) -> Answer:
    """What is prepared, and the run book."""
    memo = opened.memo()
    body = bench_sheet(_titled(memo, "Bench sheet and run book"), tasks(memo.look), run_book(memo.source))
    return Answer(body, memo.revision, _PDF, named_file(memo.source.name, "bench-sheet.pdf"))


@answers("export.mounting", Nothing)
def mounting(opened: OpenJob, _: Nothing) -> Answer:
    """A block a thing to be mounted."""
    memo = opened.memo()
    plugged = {
        run_id: f"{port.switch_label} port {port.port}" for run_id, port in ports(memo.look).by_run.items()
    }
    sheets = mount_sheets(memo.source, building(memo.look), plugged)
    body = mounting_sheets(_titled(memo, "Mounting"), sheets)
    return Answer(body, memo.revision, _PDF, named_file(memo.source.name, "mounting.pdf"))


@answers("export.ends", Nothing)
def ends_paper(opened: OpenJob, _: Nothing) -> Answer:
    """How ends are made, on one page."""
    memo = opened.memo()
    body = ends_guide(_titled(memo, "How ends are made"), end_guide(memo.source))
    return Answer(body, memo.revision, _PDF, named_file(memo.source.name, "ends.pdf"))


@answers("export.label-sheet", LabelSheetAsked)
def labels(opened: OpenJob, asked: LabelSheetAsked) -> Answer:
    """Labels with codes: each run at both ends, each unit once."""
    memo = opened.memo()
    job: Job = memo.source
    at = f"{asked.base}/field/{opened.id}?at="
    texts = [
        LabelText(run.label, (f"at {end}", f"{run.from_label} to {run.to_label}"), at + run.run_id)
        for run in runs(memo.look).plans
        for end in (run.from_label, run.to_label)
    ]
    things: tuple[AccessPoint | Equipment, ...] = (*job.of(AccessPoint), *job.of(Equipment))
    texts += [LabelText(t.label, (job.equipment[t.model].label, ""), at + t.id) for t in things]
    body = label_sheet(texts, f"{job.name}: labels")
    return Answer(body, memo.revision, _PDF, named_file(job.name, "labels.pdf"))
