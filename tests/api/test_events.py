"""The event stream: a window hears of the revision, and of every growth of it."""

import json
from itertools import islice

from heathrise.core.job import AccessPoint
from heathrise.store.jobs import new_id
from tests.api.test_api import edit, put


def revisions(response):
    for chunk in response.response:
        text = chunk if isinstance(chunk, str) else chunk.decode()
        if text.startswith("event: revision"):
            yield json.loads(text.split("data: ")[1])["revision"]


def test_a_window_hears_the_revision_and_each_edit(client, at, school):
    stream = client.get(f"{at}/events")
    assert stream.mimetype == "text/event-stream"
    heard = revisions(stream)
    assert next(heard) == 0
    for n, point in enumerate(islice(school.of(AccessPoint), 2)):
        edit(client, at, put(point, label=f"Renamed {n}"), base=n, actor=new_id())
        assert next(heard) == n + 1
    stream.close()


def test_the_stream_of_a_job_that_is_gone_ends(client):
    assert list(revisions(client.get(f"/api/jobs/{new_id()}/events"))) == []
