"""The one seam through which handlers get a job: `opened(job_id, may=...)`.

It knows the jobs that were opened lately, so that an edit reads only what came since, and hands questions
that take computing to the calculators. Nothing here is the truth: a cold process reads the database.
"""

import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import Literal

from flask import Response, current_app

from heathrise.core.job import Job
from heathrise.core.sums import Noun
from heathrise.store import edits, jobs
from heathrise.store.database import Database
from heathrise.store.edits import Asked, Edit, Way
from heathrise.store.jobs import Kept
from heathrise.work.calculators import Calculators, Message, Said

_KEEP = 8
May = Literal["see", "edit", "own"]


class Desk:
    """The database, the jobs known, and who computes."""

    def __init__(self, database: Database, calculators: Calculators):
        self.database = database
        self.calculators = calculators
        self._known: OrderedDict[str, Kept] = OrderedDict()
        self._lock = threading.Lock()

    def newest(self, job_id: str) -> Kept:
        """Return a job at its newest revision. Raises NoSuchJob."""
        known = self._known.get(job_id)
        with self.database.transaction() as session:
            kept = jobs.load_job(session, job_id) if known is None else jobs.caught_up(session, known)
        return self.keep(kept)

    def keep(self, kept: Kept) -> Kept:
        """Remember a job just read or edited, unless a newer revision of it is known."""
        with self._lock:
            known = self._known.pop(kept.id, None)
            self._known[kept.id] = kept if known is None or known.revision <= kept.revision else known
            while len(self._known) > _KEEP:
                self._known.popitem(last=False)
        return kept

    def known(self, job_id: str) -> Kept | None:
        """Return a job as it was last known, None when it is not."""
        return self._known.get(job_id)


@dataclass(frozen=True)
class Opened:
    """A job opened for a request. Who may do what with it is settled when it is opened."""

    desk: Desk
    id: str

    @property
    def kept(self) -> Kept:
        """The job at its newest revision."""
        return self.desk.newest(self.id)

    @property
    def job(self) -> Job:
        """The job itself at its newest revision."""
        return self.kept.job

    def edit(self, made: Edit) -> Kept:
        """Keep an edit. Raises Conflict, EditError."""
        with self.desk.database.transaction() as session:
            kept = edits.commit_edit(session, self.id, made, self.desk.known(self.id))
        return self.desk.keep(kept)

    def step(self, asked: Asked, way: Way) -> tuple[Kept, str]:
        """Undo or redo an actor's last change; returns the job and the change's label. Raises Conflict."""
        with self.desk.database.transaction() as session:
            kept, label = edits.step_back(session, self.id, asked, way, self.desk.known(self.id))
        return self.desk.keep(kept), label

    def said(self, question: str, asked: Noun) -> Said:
        """Ask a calculator and return its answer."""
        known = self.desk.known(self.id)
        return self.desk.calculators.ask(Message(self.id, question, asked, known.revision if known else 0))

    def ask(self, question: str, asked: Noun) -> Response:
        """Ask a calculator and return its answer as it comes, the job's revision as its ETag."""
        said = self.said(question, asked)
        response = Response(said.body, content_type=said.kind)
        response.set_etag(str(said.revision))
        if said.file_name:
            response.headers["Content-Disposition"] = f'attachment; filename="{said.file_name}"'
        return response


def desk() -> Desk:
    """Return the application's desk."""
    found = current_app.extensions["desk"]
    if not isinstance(found, Desk):
        raise TypeError("the application was made without a desk")
    return found


def opened(job_id: str, may: May, binned: bool = False) -> Opened:
    """Return a job, or one in the bin, for a request that means to see, edit or own it.

    Raises
    ------
    InBin, NoSuchJob
        As their names say.

    Accounts will refuse here what somebody may not; until they come this machine's user may do all.
    """
    del may
    here = desk()
    with here.database.transaction() as session:
        if binned:
            jobs.must_be_binned(session, job_id)
        else:
            jobs.revision_of(session, job_id)
    return Opened(here, job_id)
