"""Puts the demo jobs into a database that has none of them yet."""

from demo import fern_hollow, tern_lane, withy_mill
from heathrise.store.database import Database
from heathrise.store.jobs import create_job, list_jobs

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
                kept.append(create_job(session, make()).id)
    database.engine.dispose()
    return kept
