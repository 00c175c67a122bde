"""The application as it is served, over a database of its own, for benchmarks that need all of it."""

import json
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.error import HTTPError
from urllib.request import Request, urlopen

from tools.localdb import LocalDatabase, free_port
from tools.serve import Service, wait_until_up

from heathrise.store.database import migrate


@contextmanager
def served() -> Iterator[Service]:
    """Yield a service that answers; nothing but its tables is in its database."""
    with tempfile.TemporaryDirectory() as folder, LocalDatabase(Path(folder)) as database:
        url = database.create("bench")
        migrate(url)
        service = Service(database, url, free_port(), say=lambda _: None)
        try:
            wait_until_up(service.web, service.port)
            yield service
        finally:
            service.stop()


def asked(port: int, path: str, body: Any = None, timeout_s: float = 30) -> tuple[int, Any]:
    """Return (status, answer) of a call; raises OSError when nobody answers."""
    data = None if body is None else json.dumps(body).encode()
    request = Request(f"http://127.0.0.1:{port}{path}", data, {"Content-Type": "application/json"})
    try:
        with urlopen(request, timeout=timeout_s) as said:
            return said.status, json.loads(said.read() or b"null")
    except HTTPError as error:
        with error:
            return error.code, error.read()
