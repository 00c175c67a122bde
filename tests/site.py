"""What somebody writes down on a site, for tests: records about a job's things, and runs tested."""

from datetime import UTC, datetime, timedelta
from itertools import count
from typing import Any

from heathrise.core.job import Job, Record
from heathrise.store.jobs import new_id
from tests.house import by_label

MORNING = datetime(2026, 5, 4, 8, tzinfo=UTC)
_minutes = count(1)


def record(subject: str, kind: str = "measured", **body: Any) -> Record:
    """A record about something, each a minute after the one before."""
    given = {"id": new_id(), "by": "Ana", "said_at": MORNING + timedelta(minutes=next(_minutes))} | body
    return Record.model_validate({"kind": kind, "subject": subject, **given})


def a_test_of(run_id: str, configuration: str = "permanent link", cls: str = "EA", **test: Any) -> Record:
    """A run tested; with nothing said it passes by the tester's word."""
    given = {"configuration": configuration, "test_class": cls, "verdict": "pass"} | test
    when = {"said_at": given.pop("said_at")} if "said_at" in given else {}
    return record(run_id, measured={"measured": "test", **given}, **when)


def seen(subject: str, measured: str, **body: Any) -> Record:
    """Something looked at."""
    return record(subject, measured={"measured": measured, **body})


def noted(job: Job, *records: Record) -> Job:
    """The job with more written down."""
    return job.with_records((*job.records, *records))


def run_id(job: Job, label: str = "R-01") -> str:
    """The id of a run by its label."""
    return by_label(job, label).id
