"""An afternoon's use of one server: 500 edits over ten jobs, and what its memory grows by."""

import json
from collections.abc import Iterator
from itertools import count
from urllib.request import Request, urlopen
from uuid import uuid4

from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane

from heathrise.core.job import AccessPoint, Job, Space
from heathrise.store.database import Database
from heathrise.store.jobs import create_job

JOBS, EDITS = 10, 50


def worked(address: str, database_url: str) -> None:
    """Make the edits as browsers do: each sent, and what changed since the last one read."""
    makers = (tern_lane, fern_hollow)
    with Database(database_url).transaction() as session:
        kept = [create_job(session, makers[n % 2]()) for n in range(JOBS)]
    for job_id, job in ((one.id, makers[n % 2]()) for n, one in enumerate(kept)):
        _get(f"{address}/api/jobs/{job_id}/assessment")
        edits = _edits(job)
        revision = _get(f"{address}/api/jobs/{job_id}")["revision"]
        for _ in range(EDITS):
            body = {
                "edit_id": str(uuid4()),
                "actor": str(uuid4()),
                "label": "Work on",
                "base_revision": revision,
                "operations": [next(edits)],
            }
            since = revision
            revision = _post(f"{address}/api/jobs/{job_id}/edits", body)["revision"]
            _get(f"{address}/api/jobs/{job_id}/assessment?since={since}")


def _edits(job: Job) -> Iterator[dict[str, object]]:
    """Yield edits in turn: people come and go, access points are moved about."""
    spaces, points = job.of(Space), job.of(AccessPoint)
    for turn in count():
        space = spaces[turn % len(spaces)].model_copy(update={"people": 1 + turn % 30})
        yield {"op": "put", "element": json.loads(space.model_dump_json())}
        point = points[turn % len(points)]
        at = point.at.model_copy(update={"x_m": round(point.at.x_m + 0.1 * (1 + turn % 5), 3)})
        yield {"op": "put", "element": json.loads(point.model_copy(update={"at": at}).model_dump_json())}


def _get(address: str) -> dict[str, object]:
    with urlopen(address, timeout=120) as answer:
        return dict(json.loads(answer.read()))


def _post(address: str, body: dict[str, object]) -> dict[str, object]:
    request = Request(address, json.dumps(body).encode(), {"Content-Type": "application/json"})
    with urlopen(request, timeout=120) as answer:
        return dict(json.loads(answer.read()))
