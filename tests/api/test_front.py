"""The front door: slow lines and open windows hold no thread; bodies have bounds of size and time."""

import asyncio
import json
import threading

import pytest

from heathrise.api.front import Front
from heathrise.api.watch import Watch

JOB = "00000000-0000-7000-8000-000000000001"


class Line:
    """A connection as the server hands it over: pieces of a body, then silence until it hangs up."""

    def __init__(self, *pieces, ends=True):
        self._left = [
            {"type": "http.request", "body": piece, "more_body": not ends or n < len(pieces) - 1}
            for n, piece in enumerate(pieces)
        ]
        self.hung_up = asyncio.Event()
        self.sent = []
        self.heard = asyncio.Event()

    async def receive(self):
        if self._left:
            return self._left.pop(0)
        await self.hung_up.wait()
        return {"type": "http.disconnect"}

    async def send(self, message):
        self.sent.append(message)
        self.heard.set()

    @property
    def status(self):
        return self.sent[0]["status"]

    @property
    def body(self):
        return b"".join(message.get("body", b"") for message in self.sent)


def asked(path="/", method="POST", query=b"", headers=((b"host", b"localhost"),)):
    return {
        "type": "http",
        "method": method,
        "path": path,
        "query_string": query,
        "headers": list(headers),
        "http_version": "1.1",
    }


def echo(environ, start_response):
    """Answer with the body, its length, and the thread that was asked."""
    body = environ["wsgi.input"].read()
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [json.dumps([body.decode(), environ.get("CONTENT_LENGTH")]).encode()]


def stream(_, start_response):
    start_response("200 OK", [("Content-Type", "text/event-stream"), ("Content-Length", "7")])
    return [b"first\n\n"]


def front(pages=echo, look=lambda ids: dict.fromkeys(ids, 1), **bounds):
    return Front(pages, Watch(look), **{"most_bytes": 100, "whole_s": 5, "idle_s": 5} | bounds)


def test_a_body_is_handed_on_whole_however_it_came():
    async def run():
        line = Line(b"one ", b"and ", b"two")
        await front()(asked(), line.receive, line.send)
        return line

    line = asyncio.run(run())
    assert json.loads(line.body) == ["one and two", "11"]


@pytest.mark.parametrize(
    ("pieces", "ends", "bounds", "headers", "status"),
    [
        ([b"x" * 60, b"x" * 60], True, {}, [], 413),
        ([b"x"], False, {}, [(b"content-length", b"101")], 413),
        ([b"x"], False, {"idle_s": 0.02}, [], 408),
        ([b"x"], False, {"whole_s": 0.02}, [], 408),
    ],
    ids=["too large", "says it is too large", "stands still", "too slow"],
)
def test_a_body_has_bounds_of_size_and_time(pieces, ends, bounds, headers, status):
    called = []

    def pages(*_):
        called.append(1)
        return []

    async def run():
        line = Line(*pieces, ends=ends)
        await front(pages, **bounds)(asked(headers=headers), line.receive, line.send)
        return line

    line = asyncio.run(run())
    assert (line.status, called) == (status, [])
    assert json.loads(line.body)["status"] == status


def test_slow_uploads_hold_no_thread_that_answers_others():
    async def run():
        door = front()
        slow = [Line(b"x", ends=False) for _ in range(400)]
        waiting = [asyncio.create_task(door(asked(), one.receive, one.send)) for one in slow]
        line = Line(b"")
        await door(asked(method="GET"), line.receive, line.send)
        threads = threading.active_count()
        for one in slow:
            one.hung_up.set()
        await asyncio.gather(*waiting)
        return line, threads, slow

    line, threads, slow = asyncio.run(run())
    assert line.status == 200
    assert threads < 20
    assert all(one.sent == [] for one in slow)


def test_open_windows_hold_no_thread_and_hear_of_every_revision():
    revision = {"now": 1}

    async def run():
        door = front(stream, lambda ids: dict.fromkeys(ids, revision["now"]))
        windows = [Line(b"") for _ in range(400)]
        path = f"/api/jobs/{JOB}/events"
        open_ = [asyncio.create_task(door(asked(path, "GET"), w.receive, w.send)) for w in windows]

        async def told(text):
            for window in windows:
                while text not in window.body:
                    window.heard.clear()
                    await window.heard.wait()

        await told(b'{"revision": 1}')
        revision["now"] = 2
        await told(b'{"revision": 2}')
        for window in windows:
            window.hung_up.set()
        await asyncio.gather(*open_)
        return windows

    windows = asyncio.run(run())
    assert all(w.body.startswith(b"first\n\n") for w in windows)
    assert all(b"content-length" not in dict(w.sent[0]["headers"]) for w in windows)
    assert all(message["more_body"] for w in windows for message in w.sent[1:])


def test_an_address_with_foreign_bytes_is_refused():
    async def run():
        line = Line(b"")
        await front()(asked(query=b"a=\xff"), line.receive, line.send)
        return line

    assert asyncio.run(run()).status == 400


def test_a_full_disk_refuses_the_upload_in_words(monkeypatch):
    class Full:
        def __init__(self, *_):
            pass

        def __enter__(self):
            return self

        def __exit__(self, *_):
            return None

        def write(self, _):
            raise OSError(28, "No space left on device")

    monkeypatch.setattr("heathrise.api.front.tempfile.SpooledTemporaryFile", Full)

    async def run():
        line = Line(b"x")
        await front()(asked(), line.receive, line.send)
        return line

    line = asyncio.run(run())
    assert line.status == 507
    assert "no room" in json.loads(line.body)["detail"]
