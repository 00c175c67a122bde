"""The front door: an event loop that holds slow lines and listening windows, so that they hold no thread.

A request's body is taken in whole, within bounds of size and time, before a thread is asked to answer it.
An answer that is an event stream is carried on here after the thread is done with it.
"""

import asyncio
import json
import re
import resource
import tempfile
from collections.abc import Awaitable, Callable, Iterable, MutableMapping
from contextlib import suppress
from http import HTTPStatus
from typing import IO, Any

import structlog
from a2wsgi import WSGIMiddleware
from flask import Flask

from heathrise.api.app import create_app
from heathrise.api.desk import Desk
from heathrise.api.watch import Watch
from heathrise.store import jobs
from heathrise.store.database import Database

Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
log = structlog.get_logger(__name__)
# A thread waits while a calculator works out its question, so there are as many as windows that ask at once.
_THREADS = 320
# The longest answer of many pieces that leaves its thread before the line has taken it.
_PIECES = 4096
_IN_MEMORY = 1_000_000
_BEAT_S = 15.0
_EVENTS = re.compile(r"^/api/jobs/([0-9a-f-]{36})/events$")
_STREAM = b"text/event-stream"
_SLOW = "The upload took too long: the line is too slow for it, or stood still. Nothing was changed. Send it again."
_LARGE = "The upload is larger than is read at once. Send a smaller one."
_FULL = "The server has no room to take the upload in. Nothing was changed. Tell whoever looks after it."


class Refused(Exception):
    """A request that no thread is asked to answer."""

    def __init__(self, status: int, detail: str):
        self.status = status
        self.detail = detail


class Front:
    """The ASGI application. `most_bytes` and the times bound what a request may send."""

    def __init__(
        self,
        pages: Flask,
        watch: Watch,
        most_bytes: int,
        whole_s: float = 300.0,
        idle_s: float = 20.0,
    ):
        self._answer = WSGIMiddleware(_with_body(pages), _THREADS, _PIECES)
        self._watch = watch
        self._most_bytes = most_bytes
        self._whole_s = whole_s
        self._idle_s = idle_s

    async def __call__(self, scope: Message, receive: Receive, send: Send) -> None:
        """Answer one request, or what the server says of its own life."""
        if scope["type"] != "http":
            await self._answer(scope, receive, send)  # type: ignore[arg-type]
            return
        try:
            await self._respond(scope, receive, send)
        except Refused as refused:
            await _refuse(refused, send)

    async def _respond(self, scope: Message, receive: Receive, send: Send) -> None:
        _check_ascii(scope)
        with tempfile.SpooledTemporaryFile(_IN_MEMORY) as body:
            if not await self._take_in(scope, receive, body):
                return
            carried = _Carried(send)
            await self._answer(_whole(scope, body), receive, carried)  # type: ignore[arg-type]
        if carried.streams:
            await self._carry_on(scope, receive, send)

    async def _take_in(self, scope: Message, receive: Receive, body: IO[bytes]) -> bool:
        """Take a request's body in; False when whoever sent it hung up. Raises Refused."""
        headers = dict(scope["headers"])
        length = headers.get(b"content-length", b"0")
        if length.isdigit() and int(length) > self._most_bytes:
            raise Refused(413, _LARGE)
        try:
            async with asyncio.timeout(self._whole_s):
                while True:
                    async with asyncio.timeout(self._idle_s):
                        message = await receive()
                    if message["type"] == "http.disconnect":
                        return False
                    body.write(message.get("body", b""))
                    if body.tell() > self._most_bytes:
                        raise Refused(413, _LARGE)
                    if not message.get("more_body", False):
                        return True
        except TimeoutError as error:
            raise Refused(408, _SLOW) from error
        except OSError as error:
            log.error("no_room_for_upload", kind=type(error).__name__)
            raise Refused(507, _FULL) from error

    async def _carry_on(self, scope: Message, receive: Receive, send: Send) -> None:
        """Go on with an event stream until the window is closed."""
        found = _EVENTS.match(scope["path"])
        assert found is not None
        async with self._watch.listen(found[1]) as ear:
            telling = asyncio.create_task(_tell(ear, send))
            try:
                while (await receive())["type"] != "http.disconnect":
                    pass
            finally:
                telling.cancel()


async def _tell(ear: "asyncio.Queue[int]", send: Send) -> None:
    while True:
        try:
            revision = await asyncio.wait_for(ear.get(), _BEAT_S)
            text = f"event: revision\ndata: {json.dumps({'revision': revision})}\n\n"
        except TimeoutError:
            text = ": still here\n\n"
        with suppress(OSError):
            await send({"type": "http.response.body", "body": text.encode(), "more_body": True})


class _Carried:
    """Sends an answer on; an event stream is left open at its end."""

    def __init__(self, send: Send):
        self._send = send
        self.streams = False

    async def __call__(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            headers = list(message["headers"])
            kind = dict(headers).get(b"content-type", b"")
            self.streams = message["status"] == HTTPStatus.OK and kind.startswith(_STREAM)
            if self.streams:
                headers = [(name, value) for name, value in headers if name != b"content-length"]
                message = {**message, "headers": headers}
        elif self.streams:
            message = {**message, "more_body": True}
        await self._send(message)


def _check_ascii(scope: Message) -> None:
    if not scope["query_string"].isascii():
        raise Refused(400, "The address has characters that no address has.")


def _whole(scope: Message, body: IO[bytes]) -> Message:
    """Return the scope of a request whose body lies ready in a file."""
    length = body.tell()
    body.seek(0)
    dropped = (b"content-length", b"transfer-encoding")
    headers = [(name, value) for name, value in scope["headers"] if name not in dropped]
    if length or b"content-length" in dict(scope["headers"]):
        headers.append((b"content-length", str(length).encode()))
    return {**scope, "headers": headers, "body": body}


def _with_body(pages: Flask) -> Any:
    """Return the WSGI application that reads a request's body from the file it lies in."""

    def application(environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        environ["wsgi.input"] = environ["asgi.scope"]["body"]
        return pages(environ, start_response)

    return application


async def _refuse(refused: Refused, send: Send) -> None:
    title = HTTPStatus(refused.status).phrase
    body = {"type": "about:blank", "title": title, "status": refused.status, "detail": refused.detail}
    headers = [(b"content-type", b"application/problem+json; charset=utf-8"), (b"connection", b"close")]
    with suppress(OSError):
        await send({"type": "http.response.start", "status": refused.status, "headers": headers})
        await send({"type": "http.response.body", "body": json.dumps(body).encode()})


def revisions_in(database: Database) -> Callable[[frozenset[str]], dict[str, int]]:
    """Return the question a watch asks of the database."""

    def look(job_ids: frozenset[str]) -> dict[str, int]:
        with database.transaction() as session:
            return jobs.revisions_of(session, job_ids)

    return look


def create() -> Front:
    """Return the front door of an application made by the environment's settings."""
    # A window is a socket: as many as the system lets one process have.
    _, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))
    pages = create_app()
    desk = pages.extensions["desk"]
    assert isinstance(desk, Desk)
    return Front(pages, Watch(revisions_in(desk.database)), pages.config["MAX_CONTENT_LENGTH"])
