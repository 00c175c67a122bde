"""Runs a study in a process of its own: its parts side by side, progress and finds to the database.

Stopping is the database's word: the process sees at its next beat that nobody waits and ends with
all it started. Nothing of a job is changed by a study; what it finds is offered as edits.
"""

import json
import os
import signal
from concurrent.futures import Executor, Future, as_completed
from functools import lru_cache
from typing import Any

import structlog
from sqlalchemy.orm import Session

from heathrise import logs
from heathrise.store import jobs, studies
from heathrise.store.database import Database, DatabaseGone
from heathrise.store.tables import StudyRow
from heathrise.work import background
from heathrise.work.pools import ClusterGone, pool

_LOST = (
    "its process stopped without a word; it may have needed more memory than there is. Nothing was changed."
)
log = structlog.get_logger(__name__)


def start(database_url: str, cluster: str, study_id: str) -> None:
    """Start working on a study; its state is in the database."""

    def lost(session: Session) -> None:
        studies.end(session, study_id, "failed", _LOST)

    background.start(run, (database_url, cluster, study_id), database_url, lost, daemon=False)


class Progress:
    """How far a study is, and what it found so far."""

    def __init__(self, database: Database, study_id: str):
        self.database = database
        self.study_id = study_id
        self.share, self.doing = 0.0, "starting"
        self.found: str | None = None

    def tell(self) -> bool:
        """Say how far it is; False when nobody waits."""
        found, self.found = self.found, None
        try:
            with self.database.transaction() as session:
                return studies.beat(session, self.study_id, self.share, self.doing, found)
        except DatabaseGone:
            self.found = self.found or found
            return True


def run(database_url: str, cluster: str, study_id: str) -> None:
    """Work on one study to its end."""
    os.setpgrp()
    logs.configure()
    database = Database(database_url)
    progress = Progress(database, study_id)
    with database.transaction() as session:
        row = session.get(StudyRow, study_id)
        if row is None or row.state != "running":
            return
        asked = json.dumps(row.asked)
        job = jobs.load_job(session, row.job_id).job.model_dump_json()
    state, words = "done", ""
    with background.Beat(progress.tell, _end_all):
        try:
            _work(job, asked, cluster, progress)
        except Exception as error:
            state, words = "failed", _in_words(error)
    progress.tell()
    with database.transaction() as session:
        studies.end(session, study_id, state, words)
    database.engine.dispose()


def _end_all() -> None:
    """End this process and all that it started."""
    os.killpg(os.getpgrp(), signal.SIGKILL)


def _in_words(error: Exception) -> str:
    from heathrise.core.radio.learning import TooFew  # noqa: PLC0415

    if isinstance(error, TooFew | ClusterGone):
        text = str(error)
        return text[:1].upper() + text[1:]
    if type(error).__module__.startswith("distributed"):
        return (
            "The cluster was lost while it worked. The job is as it was. Start it again, and the study anew."
        )
    log.error("study_broke", **logs.where(error))
    return "Something went wrong on our side; it is in the log. The job is as it was."


def _work(job: str, asked: str, cluster: str, progress: Progress) -> None:
    from heathrise.core.radio.finds import StudyAsked  # noqa: PLC0415
    from heathrise.core.radio.studies import parts  # noqa: PLC0415

    wanted = parts(_job(job), StudyAsked.model_validate_json(asked))
    with pool(cluster, len(wanted)) as executor:
        waiting = {
            executor.submit(one_part, job, asked, part.model_dump_json()): n for n, part in enumerate(wanted)
        }
        found: dict[int, list[Any]] = {}
        progress.doing = wanted[0].name if wanted else ""
        for future in as_completed(waiting):
            found[waiting[future]] = _result(future, executor)
            progress.share = len(found) / len(wanted)
            left = [part.name for n, part in enumerate(wanted) if n not in found]
            progress.doing = left[0] if left else "done"
            progress.found = json.dumps([row for n in sorted(found) for row in found[n]])


def _result(future: "Future[str]", executor: Executor) -> list[Any]:
    try:
        rows: list[Any] = json.loads(future.result())
    except BaseException:
        executor.shutdown(wait=False, cancel_futures=True)
        raise
    return rows


def one_part(job: str, asked: str, part: str) -> str:
    """Work out one part; what goes in and comes out is text, so that any machine can do it."""
    from heathrise.core.radio.finds import Part, StudyAsked  # noqa: PLC0415
    from heathrise.core.radio.studies import work  # noqa: PLC0415

    found = work(_job(job), StudyAsked.model_validate_json(asked), Part.model_validate_json(part))
    return json.dumps([json.loads(row.model_dump_json()) for row in found])


@lru_cache(maxsize=4)
def _job(job: str) -> Any:
    from heathrise.core.job import Job  # noqa: PLC0415

    return Job.model_validate_json(job)
