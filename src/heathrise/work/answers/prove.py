"""Stage 10: what is proven, tests read and opened, what a controller says, the papers of a hand-over, what is otherwise since."""

from datetime import UTC, datetime

from heathrise.core.cabling.derived import run_plan, runs
from heathrise.core.deriving import Memo
from heathrise.core.findings.assess import settings
from heathrise.core.findings.ready import proven, ready
from heathrise.core.findings.verdicts import judged
from heathrise.core.fitting.field import FieldPack, field_pack
from heathrise.core.job import CableTest, Job
from heathrise.core.network.comparing import compare
from heathrise.core.network.derived import built_as_planned
from heathrise.core.network.matching import match_units
from heathrise.core.proving.cables import RunProof, judged_for, tests_in
from heathrise.core.proving.derived import done, point_proofs, port_proofs, run_proof
from heathrise.core.proving.doing import TaskDone
from heathrise.core.proving.drift import drift
from heathrise.core.proving.live import seen_live
from heathrise.core.proving.testfile import held_against
from heathrise.core.proving.testing import TestCurve, curves_of
from heathrise.core.site.actions import NotPossible
from heathrise.core.sums import Noun
from heathrise.exchange.jobfile import read_job
from heathrise.exchange.named import named_file
from heathrise.exchange.paper.handover import STATES, HandOver, hand_over_pdf, test_report_pdf
from heathrise.exchange.paper.joined import joined
from heathrise.exchange.schedule import workbook
from heathrise.exchange.tables import Cell, to_csv
from heathrise.exchange.testfile import COLUMNS, read_tests, rows_of_tests
from heathrise.work.answers.fit import the_plan
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import (
    DriftAsked,
    HandOverAsked,
    HeldAsked,
    Nothing,
    PapersJoined,
    RecordsMade,
    RunTestsAsked,
    ScheduleAsked,
    SettingsHeld,
    TestsSent,
)
from heathrise.work.open_job import OpenJob

_PDF = "application/pdf"
_CSV = "text/csv; charset=utf-8"
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@answers("prove.proven", Nothing)
def everything(opened: OpenJob, _: Nothing) -> Answer:
    """Everything of stage 10."""
    memo = opened.memo()
    return in_json(proven(memo.look), memo.revision)


@answers("prove.ready", Nothing)
def what_stands_in_the_way(opened: OpenJob, _: Nothing) -> Answer:
    """What stands in the way of signing."""
    memo = opened.memo()
    return in_json(ready(memo.look), memo.revision)


class TestListed(Noun):
    """A record of a test, beside others of its run."""

    __test__ = False

    record_id: str
    said_at: datetime
    by: str
    configuration: str
    test_class: str
    verdict: str
    why: str


class RunTests(Noun):
    """A run with all its tests; `curves` are those of the one that is shown."""

    proof: RunProof
    tests: tuple[TestListed, ...]
    shown: str | None
    curves: tuple[TestCurve, ...]


@answers("prove.run", RunTestsAsked)
def run_tests(opened: OpenJob, asked: RunTestsAsked) -> Answer:
    """A run with its tests and the curves of one."""
    memo = opened.memo()
    job: Job = memo.source
    there = asked.run in runs(memo.look).by_id
    proof, plan = (run_proof(memo.look, asked.run), run_plan(memo.look, asked.run)) if there else (None, None)
    if proof is None or plan is None:
        raise NotPossible("the job has no such run; what was measured of it stays on record")
    tests = tests_in(job.recorded(asked.run))
    listed = []
    for record, test in tests:
        judged_test = judged_for(plan, job.practice, test)
        listed.append(
            TestListed(
                record_id=record.id,
                said_at=record.when,
                by=record.by,
                configuration=test.configuration,
                test_class=test.test_class,
                verdict=judged_test.verdict,
                why=judged_test.why,
            )
        )
    wanted = asked.record or proof.test_id
    shown = next((test for record, test in tests if record.id == wanted), None)
    curves = _curves(shown, proof.test_class) if shown else ()
    found = RunTests(proof=proof, tests=tuple(listed), shown=wanted if shown else None, curves=curves)
    return in_json(found, memo.revision)


def _curves(test: CableTest, cls: str) -> tuple[TestCurve, ...]:
    return curves_of(test if test.test_class else test.model_copy(update={"test_class": cls}))


@answers("prove.tests", TestsSent)
def tests(opened: OpenJob, asked: TestsSent) -> Answer:
    """A file of tests held against the runs; nothing is taken by this."""
    memo = opened.memo()
    job: Job = memo.source
    read, skipped = read_tests(asked.rows)
    found = held_against(
        job,
        runs(memo.look).plans,
        read,
        asked.by,
        datetime.now(tz=UTC),
        asked.chosen,
        asked.any_site,
        skipped,
    )
    return in_json(found, memo.revision)


@answers("prove.seen-live", HeldAsked)
def live_seen(opened: OpenJob, asked: HeldAsked) -> Answer:
    """What a controller says of ports and access points, as records."""
    memo = opened.memo()
    job: Job = memo.source
    matched = match_units(job, built_as_planned(memo.look), asked.live)
    found = seen_live(
        asked.live, matched, port_proofs(memo.look), point_proofs(memo.look), datetime.now(tz=UTC)
    )
    return in_json(RecordsMade(records=found), memo.revision)


@answers("prove.drift", DriftAsked)
def since_then(opened: OpenJob, asked: DriftAsked) -> Answer:
    """What of the job is otherwise than when it was handed over."""
    kept = opened.newest()
    return in_json(drift(read_job(asked.job_file), kept.job), kept.revision)


@answers("prove.live-drift", SettingsHeld)
def live_since_then(opened: OpenJob, asked: SettingsHeld) -> Answer:
    """What a controller has otherwise than what was handed over."""
    memo = opened.memo()
    matched = match_units(memo.source, built_as_planned(memo.look), asked.live)
    return in_json(compare(asked.handed, asked.live, matched), memo.revision)


class WorkDone(Noun):
    """How far the work is: tasks by key as their records leave them, and those that are done by what was measured."""

    done: dict[str, TaskDone]
    proven: tuple[str, ...]


@answers("fit.done", Nothing)
def how_far(opened: OpenJob, _: Nothing) -> Answer:
    """How far the work is."""
    memo = opened.memo()
    return in_json(WorkDone(done=done(memo.look), proven=_tested(memo)), memo.revision)


class FieldTaken(Noun):
    """What a phone takes along, and how far the work is."""

    pack: FieldPack
    done: dict[str, TaskDone]
    proven: tuple[str, ...]
    revision: int


@answers("fit.field", Nothing)
def take_along(opened: OpenJob, _: Nothing) -> Answer:
    """What a phone takes along to where there is no signal."""
    memo = opened.memo()
    pack = field_pack(memo.source, the_plan(memo))
    return in_json(
        FieldTaken(pack=pack, done=done(memo.look), proven=_tested(memo), revision=memo.revision),
        memo.revision,
    )


def _tested(memo: Memo) -> tuple[str, ...]:
    """Return the tasks that are done by what was measured: no record, not done."""
    proofs = (run_proof(memo.look, plan.run_id) for plan in runs(memo.look).plans)
    return tuple(f"test:{one.run_id}" for one in proofs if one and one.state in ("pass", "marginal"))


@answers("export.tests", ScheduleAsked)
def export_tests(opened: OpenJob, asked: ScheduleAsked) -> Answer:
    """Every test on record; with none, a row a run to be filled in."""
    memo = opened.memo()
    job: Job = memo.source
    plans = runs(memo.look).plans
    labels = {plan.run_id: plan.label for plan in plans}
    rows = rows_of_tests(labels, job.records, job.name)
    if not rows:
        proofs = (run_proof(memo.look, plan.run_id) for plan in plans)
        rows = [
            (one.label, one.configuration, one.test_class, job.name, "", "", "", "", "", "", None, None)
            for one in proofs
            if one is not None
        ]
    name = named_file(job.name, f"tests.{asked.ending}")
    if asked.ending == "csv":
        return Answer(to_csv(COLUMNS, rows).encode(), memo.revision, _CSV, name)
    return Answer(workbook((("Tests", COLUMNS, rows),)), memo.revision, _XLSX, name)


@answers("export.proof", Nothing)
def export_proof(opened: OpenJob, _: Nothing) -> Answer:
    """Everything proven as a workbook, a sheet each."""
    memo = opened.memo()
    found = proven(memo.look)
    run_rows: list[tuple[Cell, ...]] = [
        (
            one.label,
            one.to_label,
            one.configuration,
            one.test_class,
            STATES[one.state],
            one.margin_sum.value if one.margin_sum else None,
            one.measured_m,
            one.planned_m,
            one.tested_by,
            one.why,
        )
        for one in found.runs
    ]
    port_rows: list[tuple[Cell, ...]] = [
        (
            port.switch_label,
            port.port,
            port.to_label,
            check.name,
            check.planned,
            check.found,
            _held(check.holds),
            port.seen_by,
        )
        for port in found.ports
        for check in port.checks
    ]
    point_rows: list[tuple[Cell, ...]] = [
        (point.label, check.name, check.planned, check.found, _held(check.holds), point.seen_by)
        for point in found.points
        for check in point.checks
    ]
    fault_rows: list[tuple[Cell, ...]] = [
        (
            one.label,
            one.text,
            one.owner,
            one.state,
            one.reason,
            one.by,
            one.said.isoformat(timespec="minutes"),
        )
        for one in found.faults
    ]
    body = workbook(
        (
            (
                "Runs",
                (
                    "run",
                    "to",
                    "tested_as",
                    "class",
                    "result",
                    "margin",
                    "measured_m",
                    "drawn_m",
                    "by",
                    "remark",
                ),
                run_rows,
            ),
            ("Ports", ("switch", "port", "to", "what", "planned", "found", "holds", "by"), port_rows),
            ("Access points", ("point", "what", "planned", "found", "holds", "by"), point_rows),
            ("Faults", ("where", "what", "whose", "state", "reason", "by", "at"), fault_rows),
        )
    )
    return Answer(body, memo.revision, _XLSX, named_file(memo.source.name, "proof.xlsx"))


def _held(holds: bool | None) -> str:
    return {None: "not looked at", True: "yes", False: "no"}[holds]


@answers("export.test-report", Nothing)
def test_report(opened: OpenJob, _: Nothing) -> Answer:
    """Everything measured, as PDF."""
    memo = opened.memo()
    job: Job = memo.source
    body = test_report_pdf(job, memo.revision, datetime.now(tz=UTC).date(), proven(memo.look))
    return Answer(body, memo.revision, _PDF, named_file(job.name, "test-report.pdf"))


@answers("export.hand-over", HandOverAsked)
def hand_over(opened: OpenJob, asked: HandOverAsked) -> Answer:
    """The paper of a hand-over."""
    memo = opened.memo()
    job: Job = memo.source
    signing = asked.signing
    given = HandOver(
        number=asked.number,
        day=datetime.now(tz=UTC).date(),
        firm=signing.firm or job.ordering.firm,
        signed_by=signing.signed_by,
        client=signing.client,
        call=signing.call,
        note=signing.note,
        waived=signing.waived,
        proven=proven(memo.look),
        accepted=[one for one in judged(memo.look) if one.accepted is not None],
        settings=settings(memo.look),
    )
    body = hand_over_pdf(job, memo.revision, given)
    return Answer(body, memo.revision, _PDF, named_file(job.name, f"hand-over-{asked.number}.pdf"))


@answers("export.joined", PapersJoined)
def papers_joined(opened: OpenJob, asked: PapersJoined) -> Answer:
    """Papers as one."""
    kept = opened.newest()
    return Answer(joined(asked.bodies), kept.revision, _PDF, named_file(kept.job.name, "set.pdf"))
