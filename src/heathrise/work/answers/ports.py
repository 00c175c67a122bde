"""Power, ports and racks: loads, feeds, ways out, elevations, standby, patches."""

from heathrise.core.cabling.derived import runs
from heathrise.core.edit import EditError, Operation
from heathrise.core.job import Job, Rack
from heathrise.core.joining.feeding import hybrid_path
from heathrise.core.power.derived import feeds
from heathrise.core.power.outlets import outlets_of
from heathrise.core.racks.derived import (
    Recordings,
    elevation,
    loads,
    patches,
    path_of_feed,
    racks,
    recording,
    standbys,
    unfed,
)
from heathrise.core.racks.elevation import units_decided
from heathrise.core.racks.patching import panels_decided
from heathrise.core.site.derived import building
from heathrise.core.switching.derived import ports
from heathrise.core.switching.ports import settled
from heathrise.core.switching.replanning import replan, replanned
from heathrise.core.switching.too_many import way_out
from heathrise.exchange.named import named_file
from heathrise.exchange.paper.racks import rack_drawn
from heathrise.exchange.paper.sheets import Page, TablePage, titled, write_pdf
from heathrise.exchange.schedule import (
    PATCHES,
    STANDING,
    heading,
    patch_rows,
    standing_rows,
    workbook,
)
from heathrise.exchange.tables import to_csv
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import (
    FeedAsked,
    Nothing,
    PapersAsked,
    RackArranged,
    ScheduleAsked,
    SuggestionAnswer,
    WayOutTaken,
)
from heathrise.work.open_job import OpenJob


def _suggested(operations: tuple[Operation, ...], revision: int) -> Answer:
    return in_json(SuggestionAnswer(operations=operations), revision)


@answers("ports.suggest", Nothing)
def suggest_ports(opened: OpenJob, _: Nothing) -> Answer:
    """Every proposed port, decided."""
    memo = opened.memo()
    return _suggested(settled(memo.source, ports(memo.look).ports), memo.revision)


@answers("ports.anew", Nothing)
def anew(opened: OpenJob, _: Nothing) -> Answer:
    """The ports as they would be given out anew."""
    memo = opened.memo()
    return in_json(replan(memo.look), memo.revision)


@answers("ports.move", Nothing)
def move(opened: OpenJob, _: Nothing) -> Answer:
    """What moves the patches that giving out anew moves; the person sends it as an edit."""
    memo = opened.memo()
    return _suggested(replanned(memo.look), memo.revision)


@answers("ports.loads", Nothing)
def loaded(opened: OpenJob, _: Nothing) -> Answer:
    """Every switch's limits, cases and who is shed."""
    memo = opened.memo()
    return in_json(loads(memo.look), memo.revision)


@answers("ports.feed", FeedAsked)
def fed(opened: OpenJob, asked: FeedAsked) -> Answer:
    """Power along one run."""
    memo = opened.memo()
    if asked.run not in feeds(memo.look).by_id:
        raise EditError("that run feeds nothing")
    path = hybrid_path(memo.source, runs(memo.look).by_id[asked.run], path_of_feed(memo.look, asked.run))
    return in_json(path, memo.revision)


@answers("ports.outlets", Nothing)
def outlets(opened: OpenJob, _: Nothing) -> Answer:
    """Everything that is plugged into the mains."""
    memo = opened.memo()
    return in_json(outlets_of(memo.source, building(memo.look)), memo.revision)


@answers("ports.unfed", Nothing)
def too_many(opened: OpenJob, _: Nothing) -> Answer:
    """Every device that is not fed, with its ways out."""
    memo = opened.memo()
    return in_json(unfed(memo.look), memo.revision)


@answers("ports.way-out", WayOutTaken)
def take_way_out(opened: OpenJob, asked: WayOutTaken) -> Answer:
    """What one way out takes; the person sends it as an edit."""
    memo = opened.memo()
    device = next((one for one in unfed(memo.look).devices if one.run_id == asked.run), None)
    if device is None:
        raise EditError("that device is fed; there is nothing to mend")
    return _suggested(way_out(device, asked.way), memo.revision)


@answers("ports.racks", Nothing)
def standing(opened: OpenJob, _: Nothing) -> Answer:
    """Every rack with what is asked of its place."""
    memo = opened.memo()
    return in_json(racks(memo.look), memo.revision)


@answers("ports.arrange", RackArranged)
def arrange(opened: OpenJob, asked: RackArranged) -> Answer:
    """What decides the units of a rack; the person sends it as an edit."""
    kept = opened.newest()
    if not isinstance(kept.job.by_id.get(asked.rack), Rack):
        raise EditError("the rack is not there any more")
    return _suggested(units_decided(kept.job, asked.rack, asked.anew), kept.revision)


@answers("ports.standby", Nothing)
def alone(opened: OpenJob, _: Nothing) -> Answer:
    """Every rack alone."""
    memo = opened.memo()
    return in_json(standbys(memo.look), memo.revision)


@answers("ports.recording", Nothing)
def recorded(opened: OpenJob, _: Nothing) -> Answer:
    """Every recorder and storage."""
    memo = opened.memo()
    return in_json(Recordings(things=recording(memo.look)), memo.revision)


@answers("ports.patches", Nothing)
def patched(opened: OpenJob, _: Nothing) -> Answer:
    """Every rack's patches."""
    memo = opened.memo()
    return in_json(patches(memo.look), memo.revision)


@answers("ports.decide-patches", Nothing)
def decide_patches(opened: OpenJob, _: Nothing) -> Answer:
    """Where every cable lands, decided; the person sends it as an edit."""
    memo = opened.memo()
    return _suggested(panels_decided(memo.source, patches(memo.look).racks), memo.revision)


@answers("export.patches", ScheduleAsked)
def patch_file(opened: OpenJob, asked: ScheduleAsked) -> Answer:
    """The patch schedule as CSV or as a workbook."""
    memo = opened.memo()
    job: Job = memo.source
    rows = patch_rows(patches(memo.look).racks)
    name = named_file(job.name, f"patches.{asked.ending}")
    if asked.ending == "csv":
        return Answer(to_csv(PATCHES, rows).encode(), memo.revision, "text/csv; charset=utf-8", name)
    body = workbook((("Patches", PATCHES, rows),))
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Answer(body, memo.revision, kind, name)


@answers("export.racks", PapersAsked)
def rack_papers(opened: OpenJob, asked: PapersAsked) -> Answer:
    """Every rack from front and rear, what stands in it, and its patches, as PDF."""
    memo = opened.memo()
    job: Job = memo.source
    plans = racks(memo.look).racks
    pages = [
        Page(
            titled(job, f"Rack {plan.elevation.label}, front and rear", memo.revision), rack_drawn(job, plan)
        )
        for plan in plans
    ]
    lists = (
        (
            "What stands in the racks",
            STANDING,
            standing_rows([elevation(memo.look, p.elevation.rack_id) for p in plans]),
        ),
        ("Patches", PATCHES, patch_rows(patches(memo.look).racks)),
    )
    tables = [
        TablePage(
            titled(job, name, memo.revision),
            tuple(heading(column) for column in head),
            tuple(tuple("" if cell is None else str(cell) for cell in row) for row in rows),
            _SHARES[name],
        )
        for name, head, rows in lists
        if rows
    ]
    body = write_pdf(pages, tables, asked.paper, f"{job.name}: racks")
    return Answer(body, memo.revision, "application/pdf", named_file(job.name, "racks.pdf"))


_SHARES = {
    "What stands in the racks": (8, 6, 14, 30, 7, 9, 9, 10),
    "Patches": (8, 9, 20, 12, 8, 10, 7, 8, 9, 12),
}
