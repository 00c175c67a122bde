"""Who computes: calculators, a process for each core, started when the first job needs one.

One waits loaded from the start, so that the first job opened is not answered by a process that still loads.
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
from collections.abc import Callable
from multiprocessing.connection import Client, Connection
from pathlib import Path
from typing import NamedTuple, Protocol

import structlog

from heathrise.core.sums import Noun
from heathrise.settings import PREFIX
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
        self._spare: _Process | None = _Process(database_url, self._folder / "spare.sock")
        self._taking = threading.Lock()

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
        if (spare := self._take_spare()) is not None:
            spare.end()
        shutil.rmtree(self._folder, ignore_errors=True)

    def _connected(self, number: int) -> Connection:
        """Return this thread's connection to a calculator, started when there is none."""
        known: dict[int, Connection] = self._here.__dict__.setdefault("connections", {})
        if number not in known:
            known[number] = self._seats[number].connect(self._url, self._take_spare)
        return known[number]

    def _take_spare(self) -> "_Process | None":
        """Return the calculator that waits, once."""
        with self._taking:
            spare, self._spare = self._spare, None
            return spare

    def _hang_up(self, number: int) -> None:
        connection = self._here.__dict__.get("connections", {}).pop(number, None)
        if connection is not None:
            connection.close()


class _Process:
    """A calculator's process and its socket."""

    def __init__(self, database_url: str, path: Path):
        path.unlink(missing_ok=True)
        self.path = path
        command = [sys.executable, "-m", "heathrise.work.calculator", str(path)]
        # The address has a password in it: it goes by the environment, which other users cannot read.
        environment = os.environ | {f"{PREFIX}DATABASE_URL": database_url}
        self._running = subprocess.Popen(command, stdin=subprocess.PIPE, env=environment)
        self.pid = self._running.pid
        log.info("calculator_started", pid=self.pid)

    @property
    def lives(self) -> bool:
        """Whether it has not ended."""
        return self._running.poll() is None

    def end(self) -> None:
        """End it by closing its standard input."""
        if self._running.stdin is not None:
            self._running.stdin.close()
            self._running.wait(10)


class _Seat:
    """One calculator's place, and its process when one runs."""

    def __init__(self, path: Path):
        self._path = path
        self._process: _Process | None = None
        self._lock = threading.Lock()

    def connect(self, database_url: str, take_spare: Callable[[], _Process | None]) -> Connection:
        """Return a connection; takes the process that waits, or starts one. Raises OSError."""
        with self._lock:
            if self._process is None or not self._process.lives:
                self._process = self._started(database_url, take_spare())
            pause = threading.Event()
            for _ in range(int(_START_S / _TRY_S)):
                with contextlib.suppress(FileNotFoundError, ConnectionRefusedError):
                    return Client(str(self._process.path), "AF_UNIX")
                if not self._process.lives:
                    break
                pause.wait(_TRY_S)
        raise OSError("the calculator did not start")

    def _started(self, database_url: str, spare: _Process | None) -> _Process:
        if self._process is not None:
            self._process.end()
        return spare if spare is not None and spare.lives else _Process(database_url, self._path)

    def end(self) -> None:
        """End the process, if there is one."""
        if self._process is not None:
            self._process.end()
