"""What the handlers share: the database, and results kept by job and revision.

Nothing here is the truth: a cold process computes it again from the database.
"""

import threading
from collections import OrderedDict

from flask import current_app

from heathrise.core.findings import Assessment, assess
from heathrise.store import jobs
from heathrise.store.database import Database
from heathrise.store.jobs import Kept

_KEEP = 24


class Desk:
    """Loads jobs and assesses them, each once a revision."""

    def __init__(self, database: Database):
        self.database = database
        self._jobs: OrderedDict[tuple[str, int], Kept] = OrderedDict()
        self._assessments: OrderedDict[tuple[str, int], Assessment] = OrderedDict()
        self._lock = threading.Lock()
        self._computing = threading.Lock()

    def keep(self, kept: Kept) -> Kept:
        """Remember a job just loaded or edited, sharing equal elements with its last revision."""
        with self._lock:
            self._jobs[kept.id, kept.revision] = kept
            while len(self._jobs) > _KEEP:
                self._jobs.popitem(last=False)
        return kept

    def job(self, job_id: str) -> Kept:
        """Return the latest revision of a job."""
        with self.database.transaction() as session:
            revision = jobs.revision_of(session, job_id)
            found = self._jobs.get((job_id, revision))
            return found if found is not None else self.keep(jobs.load_job(session, job_id))

    def assessment(self, kept: Kept) -> Assessment:
        """Return everything computed of a job."""
        key = (kept.id, kept.revision)
        with self._computing:
            found = self._assessments.get(key)
            if found is None:
                found = assess(kept.job)
                self._assessments[key] = found
                while len(self._assessments) > _KEEP:
                    self._assessments.popitem(last=False)
        return found


def desk() -> Desk:
    """Return the application's desk."""
    found = current_app.extensions["desk"]
    if not isinstance(found, Desk):
        raise TypeError("the application was made without a desk")
    return found
