"""One open job: its newest revision, what is derived of it, and its tables. One thread computes at a time."""

from dataclasses import replace

import structlog
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from heathrise.core.deriving import Memo, Superseded
from heathrise.core.findings.assess import Assessment, table
from heathrise.core.findings.slices import SLICES
from heathrise.core.findings.tables import Tables
from heathrise.core.job import Job, Record
from heathrise.core.job.view import changed_keys
from heathrise.core.radio.keeping import size_of_any
from heathrise.store import jobs, onsite
from heathrise.store.database import Database, DatabaseGone
from heathrise.store.jobs import Kept

log = structlog.get_logger(__name__)
# Dropping what nothing asks for any more costs a walk over all that is known.
_SWEEP_EVERY = 32


class OpenJob:
    """What a calculator holds of a job. A cold one knows nothing and is merely slower."""

    def __init__(self, database: Database, job_id: str):
        self.database = database
        self.id = job_id
        self._kept: Kept | None = None
        self._memo: Memo | None = None
        self.tables = Tables()
        self._advances = 0
        self._noted: tuple[int, int] | None = None
        self._records: tuple[Record, ...] = ()
        self._last_record = 0

    def newest(self) -> Kept:
        """Return the job at its newest revision; only what changed since the last look is read."""
        with self.database.transaction() as session:
            before = self._kept
            kept = jobs.load_job(session, self.id) if before is None else jobs.caught_up(session, before)
            if kept is not before:
                self._kept = replace(kept, job=kept.job.with_records(self._recorded(session)))
            assert self._kept is not None
        return self._kept

    def _recorded(self, session: Session) -> tuple[Record, ...]:
        """Return what was written down; only what came since the last look is read, unless some of that is gone."""
        new, last = onsite.records_since(session, self.id, self._last_record)
        known = (*self._records, *new) if new else self._records
        if onsite.count_of(session, self.id) != len(known):
            every, last = onsite.records_since(session, self.id, 0)
            known = tuple(every)
        self._records, self._last_record = known, last
        return known

    def memo(self) -> Memo:
        """Return the memo at the newest revision. Whoever asks holds `lock` while asking it."""
        kept = self.newest()
        if self._memo is None or kept.revision < self._memo.revision:
            self._memo, self.tables = Memo(kept.job, kept.revision), Tables()
        elif kept.revision > self._memo.revision:
            before: Job = self._memo.source
            self._memo.advance(kept.job, kept.revision, changed_keys(before, kept.job, SLICES))
            self._advances += 1
            if self._advances % _SWEEP_EVERY == 0:
                self._memo.sweep()
        return self._memo

    def want(self, revision: int) -> None:
        """Say that a newer revision is asked for: work on an older one stops between two values."""
        if self._memo is not None:
            self._memo.want(revision)

    def tabled(self, names: tuple[str, ...]) -> int:
        """Bring tables, all when none are named, to the newest revision, which is returned."""
        while True:
            memo = self.memo()
            try:
                for name in names or tuple(Assessment.model_fields):
                    self.tables.take(memo.revision, name, table(memo.look, name))
            except Superseded:
                continue
            memo.trim(size_of_any)
            if not names:
                self._note()
            return memo.revision

    def _note(self) -> None:
        """Keep how many findings are open where that changed, for the list of jobs.

        A list that is behind does no harm: storage that is full, or gone, leaves the answer standing.
        """
        open_ones = [f.severity for f in self.tables.rows("findings") if f.accepted is None]
        counts = open_ones.count("fault"), open_ones.count("warning")
        if counts != self._noted:
            try:
                with self.database.transaction() as session:
                    jobs.note_findings(session, self.id, *counts)
                self._noted = counts
            except (SQLAlchemyError, DatabaseGone) as error:
                log.warning("findings_not_noted", job=self.id, error=type(error).__name__)
