"""Who computes: calculators, a process for each core, started when the first job needs one.

Web processes answer and never compute. An open job goes to the same calculator while that lives; one that
died is started again and the question asked once more. Without processes (tests, scripts) the same questions
are answered in place.
"""

import contextlib
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import zlib
from multiprocessing.connection import Client, Connection
from pathlib import Path
from typing import NamedTuple, Protocol

import structlog

from heathrise.core.sums import Noun
from heathrise.store.database import Database

log = structlog.get_logger(__name__)
_START_S = 60.0
_TRY_S = 0.02


class Message(NamedTuple):
    """A question on its way to a calculator."""

    job_id: str
    name: str
    asked: Noun
    revision: int


class Said(NamedTuple):
    """What a calculator says: an answer, or the error to raise."""

    body: bytes
    revision: int
    kind: str
    file_name: str
    error: Exception | None


class Broke(RuntimeError):
    """A calculator met an error of ours; its log has the particulars."""


class CalculatorGone(RuntimeError):
    """No calculator could be started or reached."""


class Calculators(Protocol):
    """Whoever answers questions about open jobs."""

    def ask(self, message: Message) -> Said:
        """Return the answer to a question. Raises what the core raises, Broke, or CalculatorGone."""

    def close(self) -> None:
        """End what was started."""


class InPlace:
    """Answers in this process."""

    def __init__(self, database: Database):
        # Loaded here: a web process with calculators never needs it.
        from heathrise.work.bench import Bench  # noqa: PLC0415

        self._bench = Bench(database)

    def ask(self, message: Message) -> Said:
        """Return the answer to a question."""
        found = self._bench.answer(message.job_id, message.name, message.asked, message.revision)
        return Said(found.body, found.revision, found.kind, found.file_name, None)

    def close(self) -> None:
        """Nothing was started."""


class Apart:
    """Answers in processes of their own; a job stays with one."""

    def __init__(self, database_url: str, count: int):
        self._url = database_url
        self._folder = Path(tempfile.mkdtemp(prefix="heathrise-"))
        self._here = threading.local()
        self._seats = [_Seat(self._folder / f"{number}.sock") for number in range(count)]

    def ask(self, message: Message) -> Said:
        """Return the answer to a question; a calculator that died meanwhile is asked once more when it is back."""
        number = zlib.crc32(message.job_id.encode()) % len(self._seats)
        for last in (False, True):
            try:
                connection = self._connected(number)
                connection.send(message)
                said: Said = connection.recv()
            except (OSError, EOFError) as error:
                self._hang_up(number)
                if last:
                    raise CalculatorGone("the process that computes does not answer") from error
                continue
            if said.error is not None:
                raise said.error
            return said
        raise CalculatorGone("the process that computes does not answer")

    def close(self) -> None:
        """End every calculator."""
        for seat in self._seats:
            seat.end()
        shutil.rmtree(self._folder, ignore_errors=True)

    def _connected(self, number: int) -> Connection:
        """Return this thread's connection to a calculator, started when there is none."""
        known: dict[int, Connection] = self._here.__dict__.setdefault("connections", {})
        if number not in known:
            known[number] = self._seats[number].connect(self._url)
        return known[number]

    def _hang_up(self, number: int) -> None:
        connection = self._here.__dict__.get("connections", {}).pop(number, None)
        if connection is not None:
            connection.close()


class _Seat:
    """One calculator's place: its socket, and its process when one runs."""

    def __init__(self, path: Path):
        self.path = path
        self._process: subprocess.Popen[bytes] | None = None
        self._lock = threading.Lock()

    def connect(self, database_url: str) -> Connection:
        """Return a connection; starts the process when it is not there. Raises OSError."""
        with self._lock:
            if self._process is None or self._process.poll() is not None:
                self._start(database_url)
            assert self._process is not None
            pause = threading.Event()
            for _ in range(int(_START_S / _TRY_S)):
                with contextlib.suppress(FileNotFoundError, ConnectionRefusedError):
                    return Client(str(self.path), "AF_UNIX")
                if self._process.poll() is not None:
                    break
                pause.wait(_TRY_S)
        raise OSError("the calculator did not start")

    def _start(self, database_url: str) -> None:
        self.path.unlink(missing_ok=True)
        if self._process is not None and self._process.stdin is not None:
            self._process.stdin.close()
        command = [sys.executable, "-m", "heathrise.work.calculator", database_url, str(self.path)]
        # Our own interpreter and module; the address comes from the settings.
        self._process = subprocess.Popen(command, stdin=subprocess.PIPE, env=os.environ)
        log.info("calculator_started", pid=self._process.pid)

    def end(self) -> None:
        """End the process by closing its standard input."""
        if self._process is not None and self._process.stdin is not None:
            self._process.stdin.close()
            self._process.wait(10)
