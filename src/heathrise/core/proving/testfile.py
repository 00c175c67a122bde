"""A file of cable tests held against the runs of a job: which record is whose, what it would say, what cannot be taken."""

import re
import uuid
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Literal

from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import CableTest, Job, Record
from heathrise.core.library import library
from heathrise.core.proving.cables import configuration_of, counts, judged_for
from heathrise.core.proving.testing import Verdict
from heathrise.core.sums import Noun

How = Literal["label", "chosen", "unknown"]


class ReadTest(Noun):
    """One test as it was read from a file: by what label, when, and what of it could not be understood."""

    label: str
    row: int
    test: CableTest
    said_at: datetime | None
    problem: str


class TestRow(Noun):
    """What would become of one test of a file. `warning` is said of what can be taken, `problem` of what cannot."""

    __test__ = False

    label: str
    row: int
    run_id: str | None
    run_label: str
    how: How
    configuration: str
    test_class: str
    verdict: Verdict | None
    why: str
    warning: str
    problem: str
    taken: bool


class TestsRead(Noun):
    """A file of tests, read and held against the job. Nothing is taken by this."""

    __test__ = False

    rows: tuple[TestRow, ...]
    records: tuple[Record, ...]
    taken: int
    skipped: int
    other_site: str
    unnamed: tuple[str, ...]


def plain_label(text: str) -> str:
    """Return a label without what people leave out or write otherwise: case, spaces, marks.

    >>> plain_label("TR1-A-07 / R-0.14") == plain_label("tr1 a07/r0.14")
    True
    """
    return re.sub(r"[\W_]+", "", text.casefold())


def run_of(plans: Sequence[RunPlan], label: str) -> RunPlan | None:
    """Return the run a label means: its own, else the only one that it is a part of between marks."""
    wanted = plain_label(label)
    same = [plan for plan in plans if plain_label(plan.label) == wanted]
    if not same:
        parts = {
            plan.run_id: {plain_label(part) for part in re.split(r"\s*/\s*", plan.label)} for plan in plans
        }
        same = [plan for plan in plans if wanted and wanted in parts[plan.run_id]]
    return same[0] if len(same) == 1 else None


def held_against(
    job: Job,
    plans: Sequence[RunPlan],
    read: Iterable[ReadTest],
    by: str,
    now: datetime,
    chosen: Mapping[str, str],
    any_site: bool,
    skipped: int = 0,
) -> TestsRead:
    """Return what would become of each test. `chosen` are runs a person named for labels, `any_site` takes tests of a file
    that names another site.
    """
    by_id = {plan.run_id: plan for plan in plans}
    tests = list(read)
    often = Counter(plain_label(one.label) for one in tests)
    rows, records, sites = [], [], set()
    for one in tests:
        plan = by_id.get(chosen.get(one.label, "")) or run_of(plans, one.label)
        other = bool(one.test.site) and plain_label(one.test.site) != plain_label(job.name)
        if other:
            sites.add(one.test.site)
        row = _row(
            job, one, plan, one.label in chosen, other and not any_site, often[plain_label(one.label)] > 1
        )
        rows.append(row)
        if row.taken and plan is not None:
            records.append(_record(one, plan, by, now))
    return TestsRead(
        rows=tuple(rows),
        records=tuple(records),
        taken=len(records),
        skipped=skipped,
        other_site=", ".join(sorted(sites)),
        unnamed=tuple(dict.fromkeys(row.label for row in rows if row.run_id is None)),
    )


def _row(
    job: Job, one: ReadTest, plan: RunPlan | None, was_chosen: bool, other_site: bool, twice: bool
) -> TestRow:
    problem, warning, why = one.problem, "", ""
    verdict: Verdict | None = None
    if plan is None:
        problem = problem or "no run of this job has that label; choose one, or leave it"
    elif other_site:
        problem = problem or f"the file says it is of {one.test.site}, not of this job"
    if plan is not None:
        configuration = configuration_of(job.practice, plan)
        cls = library().categories[plan.category].test_class or ""
        judged = judged_for(plan, job.practice, one.test)
        verdict, why = judged.verdict, judged.why
        if not counts(one.test, configuration, cls):
            warning = f"{configuration}, class {cls} is planned: kept on record, and does not count"
        elif twice:
            warning = "there are several of this run: the newest counts"
    return TestRow(
        label=one.label,
        row=one.row,
        run_id=plan.run_id if plan else None,
        run_label=plan.label if plan else "",
        how="chosen" if was_chosen else "label" if plan else "unknown",
        configuration=one.test.configuration,
        test_class=one.test.test_class,
        verdict=verdict,
        why=why,
        warning=warning,
        problem=problem,
        taken=not problem and plan is not None,
    )


def _record(one: ReadTest, plan: RunPlan, by: str, now: datetime) -> Record:
    """Return the record of a test. Its id comes from what it says, so that a file read twice is kept once."""
    body = f"{plan.run_id} {one.said_at} {one.test.model_dump_json()}"
    return Record(
        id=str(uuid.uuid5(uuid.UUID(plan.run_id), body)),
        kind="measured",
        subject=plan.run_id,
        said_at=one.said_at or now,
        by=by,
        task=f"test:{plan.run_id}",
        measured=one.test,
    )
