"""Puts the demo jobs into a database that has none of them yet."""

from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from heathrise.core.findings import assess
from heathrise.store.database import Database
from heathrise.store.jobs import create_job, list_jobs

# The last is on top of the list.
JOBS = (fern_hollow, withy_mill, tern_lane)


def load_demo_jobs(url: str) -> list[str]:
    """Keep each demo job unless a job of its name is there; return the ids of those kept.

    Assesses each once, which compiles the kernels to disk: the first drag is then as quick as
    the rest.
    """
    database = Database(url)
    kept = []
    for make in JOBS:
        job = make()
        assess(job)
        with database.transaction() as session:
            if job.name not in {listed.name for listed in list_jobs(session)}:
                kept.append(create_job(session, job).id)
    database.engine.dispose()
    return kept
