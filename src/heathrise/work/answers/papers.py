"""What leaves of the runs: the schedule as a table, storeys as drawings, all of it as one set of papers."""

from collections.abc import Sequence

from heathrise.core.cabling.cutting import CutLists, cut_lists
from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.drilling import DrillList, drill_list
from heathrise.core.cabling.labelling import labels_by
from heathrise.core.deriving import Look
from heathrise.core.job import Job, Storey
from heathrise.core.links.bridges import bridges
from heathrise.core.site.actions import NotPossible
from heathrise.core.switching.derived import ports
from heathrise.core.switching.topology import topology
from heathrise.exchange.named import named_file
from heathrise.exchange.paper.drawn import Drawn, runs_drawn
from heathrise.exchange.paper.river import river_drawn
from heathrise.exchange.paper.sheets import Page, TablePage, Title, titled, write_pdf
from heathrise.exchange.paper.vectors import drawn_dxf, drawn_svg
from heathrise.exchange.schedule import (
    CUTS,
    HOLES,
    SCHEDULE,
    Row,
    cut_rows,
    heading,
    hole_rows,
    schedule_csv,
    schedule_rows,
    workbook,
)
from heathrise.exchange.tables import to_csv
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import LabelsAsked, Nothing, PapersAsked, RiverAsked, RunsFileAsked, ScheduleAsked
from heathrise.work.open_job import OpenJob

_PDF = "application/pdf"
_SVG = "image/svg+xml; charset=utf-8"
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def _lists(look: Look, job: Job) -> tuple[DrillList, CutLists]:
    plans = runs(look).plans
    return drill_list(job, plans), cut_lists(plans)


def _drawn(look: Look, job: Job, storey_id: str, holes: DrillList) -> Drawn:
    return runs_drawn(job, storey_id, runs(look).plans, holes.holes, bridges(look))


@answers("export.schedule", ScheduleAsked)
def schedule(opened: OpenJob, asked: ScheduleAsked) -> Answer:
    """The schedule of runs as CSV, or as a workbook with holes and cuts beside it."""
    memo = opened.memo()
    job: Job = memo.source
    rows = schedule_rows(runs(memo.look).plans, ports(memo.look))
    name = named_file(job.name, f"runs.{asked.ending}")
    if asked.ending == "csv":
        return Answer(schedule_csv(rows).encode(), memo.revision, "text/csv; charset=utf-8", name)
    holes, cuts = _lists(memo.look, job)
    sheets = (
        ("Runs", SCHEDULE, rows),
        ("Holes", HOLES, hole_rows(holes)),
        ("Cuts", CUTS, cut_rows(cuts)),
    )
    return Answer(workbook(sheets), memo.revision, _XLSX, name)


@answers("export.labels", LabelsAsked)
def label_list(opened: OpenJob, asked: LabelsAsked) -> Answer:
    """What every run is called now and what a scheme calls it, as CSV."""
    kept = opened.newest()
    rows = [(run.old, run.new) for run in labels_by(kept.job, asked.scheme).runs]
    name = named_file(kept.job.name, "labels.csv")
    return Answer(to_csv(("now", "then"), rows).encode(), kept.revision, "text/csv; charset=utf-8", name)


@answers("export.runs", RunsFileAsked)
def drawing(opened: OpenJob, asked: RunsFileAsked) -> Answer:
    """A storey's runs as DXF, SVG, or PDF at a true scale."""
    memo = opened.memo()
    job: Job = memo.source
    storey = job.by_id.get(asked.storey_id)
    if not isinstance(storey, Storey):
        raise NotPossible("the job has no such storey; it may have been removed")
    holes = drill_list(job, runs(memo.look).plans)
    drawn = _drawn(memo.look, job, storey.id, holes)
    name = named_file(job.name, f"runs.{asked.ending}")
    title = titled(job, f"Runs, {storey.label}", memo.revision)
    if asked.ending == "dxf":
        return Answer(drawn_dxf(drawn).encode(), memo.revision, "image/vnd.dxf; charset=utf-8", name)
    if asked.ending == "svg":
        text = drawn_svg(drawn, f"{job.name}: runs, {storey.label}")
        return Answer(text.encode(), memo.revision, _SVG, name)
    body = write_pdf([Page(title, drawn)], (), asked.paper, f"{job.name}: runs, {storey.label}")
    return Answer(body, memo.revision, _PDF, name)


@answers("links.river", Nothing)
def river(opened: OpenJob, _: Nothing) -> Answer:
    """The network laid out from where the service enters."""
    memo = opened.memo()
    return in_json(topology(memo.look), memo.revision)


@answers("export.river", RiverAsked)
def river_file(opened: OpenJob, asked: RiverAsked) -> Answer:
    """The network drawn, as SVG or PDF."""
    memo = opened.memo()
    job: Job = memo.source
    drawn = river_drawn(topology(memo.look))
    name = named_file(job.name, f"network.{asked.ending}")
    if asked.ending == "svg":
        return Answer(drawn_svg(drawn, f"{job.name}: network").encode(), memo.revision, _SVG, name)
    page = Page(titled(job, "The network, from the service on", memo.revision), drawn, to_scale=False)
    return Answer(write_pdf([page], (), asked.paper, f"{job.name}: network"), memo.revision, _PDF, name)


@answers("export.papers", PapersAsked)
def papers(opened: OpenJob, asked: PapersAsked) -> Answer:
    """Every storey that has a run as a drawing, then schedule, holes and cuts, as one PDF."""
    memo = opened.memo()
    job: Job = memo.source
    holes, cuts = _lists(memo.look, job)
    used = {leg.storey_id for plan in runs(memo.look).plans for leg in plan.legs}
    pages = [
        Page(titled(job, f"Runs, {storey.label}", memo.revision), _drawn(memo.look, job, storey.id, holes))
        for storey in job.storeys
        if storey.id in used
    ]
    water = river_drawn(topology(memo.look))
    pages.append(Page(titled(job, "The network, from the service on", memo.revision), water, to_scale=False))
    rows = schedule_rows(runs(memo.look).plans, ports(memo.look))
    tables = [
        _table(titled(job, "Schedule of runs", memo.revision), SCHEDULE, rows, _SCHEDULE_SHARES),
        _table(titled(job, "What is drilled", memo.revision), HOLES, hole_rows(holes), _HOLES_SHARES),
        _table(titled(job, "What is cut from which box", memo.revision), CUTS, cut_rows(cuts), _CUTS_SHARES),
    ]
    body = write_pdf(pages, [table for table in tables if table.rows], asked.paper, f"{job.name}: runs")
    return Answer(body, memo.revision, _PDF, named_file(job.name, "runs.pdf"))


_SCHEDULE_SHARES = (7, 8, 8, 14, 14, 6, 6, 6, 7, 12, 5, 7, 6, 5)
_HOLES_SHARES = (4, 8, 14, 16, 6, 6, 13, 6, 5, 26)
_CUTS_SHARES = (20, 5, 8, 10, 8, 8)


def _table(title: Title, head: Sequence[str], rows: Sequence[Row], shares: tuple[float, ...]) -> TablePage:
    heads = tuple(heading(name) for name in head)
    cells = tuple(tuple("" if cell is None else str(cell) for cell in row) for row in rows)
    return TablePage(title, heads, cells, shares)
