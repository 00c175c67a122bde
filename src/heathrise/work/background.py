"""Work in a process of its own: forked from a prepared server, beating while it works, waited for to its end.

The server has loaded what readers and studies need but has run nothing, so a process starts in a moment.
What a process is to do, and how far it is, stands in the database; its beat sees there that nobody waits any more.
"""

import multiprocessing
import multiprocessing.forkserver
import threading
from collections.abc import Callable
from multiprocessing.process import BaseProcess
from types import TracebackType
from typing import Any, NamedTuple

import structlog
from sqlalchemy.orm import Session

from heathrise.store.database import Database, DatabaseGone

_BEAT_S = 0.4
# Imported, not run: compiled code and its threads start only in the process that computes.
_PRELOADED = [
    "heathrise.exchange.reading",
    "heathrise.exchange.rows",
    "heathrise.work.bounded",
    "heathrise.work.bringing",
    "heathrise.work.reading",
    "heathrise.work.studies",
    "heathrise.core.radio.studies",
]
_TELL_S = 4.0
log = structlog.get_logger(__name__)


class Turn(NamedTuple):
    """What work waits for before it starts: `waits` notes that it still does; False when nobody minds any more."""

    free: threading.Semaphore
    waits: Callable[[], bool]


def prepare() -> None:
    """Start the server that work is forked from, unless it runs; it loads what the work needs meanwhile."""
    multiprocessing.set_forkserver_preload(_PRELOADED)
    multiprocessing.forkserver.ensure_running()


def start(
    work: Callable[..., None],
    args: tuple[Any, ...],
    database_url: str,
    lost: Callable[[Session], None],
    daemon: bool = True,
    turn: Turn | None = None,
) -> None:
    """Start work in a process of its own; `lost` says in the database that it died without a word.

    A daemon may have no children; work that starts some is none. With a `turn` it starts when one is free.
    """
    prepare()
    process = multiprocessing.get_context("forkserver").Process(target=work, args=args, daemon=daemon)
    if turn is None:
        process.start()
    threading.Thread(target=_see_through, args=(process, database_url, lost, turn), daemon=True).start()


def _see_through(
    process: BaseProcess, database_url: str, lost: Callable[[Session], None], turn: Turn | None
) -> None:
    """Wait for a process to end, and before that for its turn when it has one."""
    if turn is None:
        _await_end(process, database_url, lost)
        return
    while not turn.free.acquire(timeout=_TELL_S):
        if not turn.waits():
            return
    try:
        process.start()
        _await_end(process, database_url, lost)
    finally:
        turn.free.release()


def _await_end(process: BaseProcess, database_url: str, lost: Callable[[Session], None]) -> None:
    process.join()
    code = process.exitcode
    process.close()
    if code == 0:
        return
    database = Database(database_url)
    try:
        with database.transaction() as session:
            lost(session)
    except DatabaseGone:
        log.warning("work_lost", code=code)
    finally:
        database.engine.dispose()


class Beat:
    """Says how far work is from a thread of its own, so that a long step does not silence it.

    `tell` writes it down and returns whether anybody still waits; when nobody does, `end` ends the process.
    """

    def __init__(self, tell: Callable[[], bool], end: Callable[[], None]):
        self._tell = tell
        self._end = end
        self._done = threading.Event()

    def __enter__(self) -> None:
        threading.Thread(target=self._run, daemon=True).start()

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._done.set()

    def _run(self) -> None:
        while not self._done.wait(_BEAT_S):
            if not self._tell() and not self._done.is_set():
                self._end()
