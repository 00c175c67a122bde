"""The jobs one process computes for, each with a lock of its own; the longest unasked rests when room is short."""

import threading
from collections import OrderedDict

from heathrise.core.sums import Noun
from heathrise.store.database import Database
from heathrise.work.answers import ANSWERS, Answer
from heathrise.work.open_job import OpenJob

# So many jobs are held warm by one process.
_KEEP = 3


class Bench:
    """Answers questions about open jobs. Jobs do not wait for each other; questions about one do."""

    def __init__(self, database: Database):
        self.database = database
        self._jobs: OrderedDict[str, OpenJob] = OrderedDict()
        self._locks: dict[str, threading.Lock] = {}
        self._guard = threading.Lock()

    def answer(self, job_id: str, name: str, asked: Noun, revision: int = 0) -> Answer:
        """Answer a question at the newest revision, at least `revision`. Raises what the core raises."""
        opened, lock = self._opened(job_id)
        opened.want(revision)
        with lock:
            return ANSWERS[name].answer(opened, asked)

    def _opened(self, job_id: str) -> tuple[OpenJob, threading.Lock]:
        with self._guard:
            opened = self._jobs.pop(job_id, None) or OpenJob(self.database, job_id)
            self._jobs[job_id] = opened
            while len(self._jobs) > _KEEP:
                gone, _ = self._jobs.popitem(last=False)
                self._locks.pop(gone, None)
            return opened, self._locks.setdefault(job_id, threading.Lock())
