"""The event stream: a window hears of the revision, of every growth of it, and of the job's end."""

import asyncio

from heathrise.api.front import revisions_in
from heathrise.api.watch import GONE, Watch
from heathrise.core.job import AccessPoint
from heathrise.store.jobs import new_id
from tests.api.test_api import edit, put


def test_a_window_is_told_the_revision_at_once(client, at):
    stream = client.get(f"{at}/events")
    assert stream.mimetype == "text/event-stream"
    assert 'event: revision\ndata: {"revision": 0}\n\n' in stream.text


def test_the_stream_of_a_job_that_is_not_there_is_refused(client):
    assert client.get(f"/api/jobs/{new_id()}/events").status_code == 404


def test_every_window_hears_of_each_edit_and_of_the_end_by_one_question_for_all(
    app, client, at, kept, school
):
    look = revisions_in(app.extensions["desk"].database)
    asked = []

    def counted(job_ids):
        asked.append(job_ids)
        return look(job_ids)

    async def windows():
        watch = Watch(counted)
        async with (
            watch.listen(kept.id) as one,
            watch.listen(kept.id) as other,
            watch.listen(new_id()) as none,
        ):
            heard = [await ear.get() for ear in (one, other, none)]
            point = school.of(AccessPoint)[0]
            await asyncio.to_thread(edit, client, at, put(point, label="Renamed"), actor=new_id())
            heard += [await one.get(), await other.get()]
            await asyncio.to_thread(client.delete, at)
            heard += [await one.get(), await other.get()]
            async with watch.listen(kept.id) as late:
                heard.append(await late.get())
            return heard

    assert asyncio.run(windows()) == [0, 0, GONE, 1, 1, GONE, GONE, GONE]
    assert all(len(job_ids) <= 2 for job_ids in asked), "one question names every job once"


def test_windows_stay_open_while_the_database_is_away():
    answers = [ConnectionError("away"), {"job": 3}]

    def look(_):
        found = answers.pop(0)
        if isinstance(found, Exception):
            raise found
        return found

    async def window():
        async with Watch(look).listen("job") as ear:
            return await ear.get()

    assert asyncio.run(window()) == 3
