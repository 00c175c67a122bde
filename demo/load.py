"""Puts the demo jobs into a database that has none of them yet."""

from demo import fern_hollow, tern_lane, withy_mill
from demo.onsite import written_down
from heathrise.store.database import Database
from heathrise.store.jobs import create_job, list_jobs
from heathrise.store.onsite import bring_records

# The last is on top of the list.
JOBS = {
    fern_hollow.NAME: fern_hollow.fern_hollow,
    withy_mill.NAME: withy_mill.withy_mill,
    tern_lane.NAME: tern_lane.tern_lane,
}


def load_demo_jobs(url: str) -> list[str]:
    """Keep each demo job unless a job of its name is there; return the ids of those kept."""
    database = Database(url)
    kept = []
    for name, make in JOBS.items():
        with database.transaction() as session:
            if name not in {listed.name for listed in list_jobs(session)}:
                job = create_job(session, make())
                if name == fern_hollow.NAME:
                    bring_records(session, job.id, written_down(job.job))
                kept.append(job.id)
    database.engine.dispose()
    return kept
