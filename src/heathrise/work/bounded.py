"""Reading what somebody sent, in a process with bounds on memory and time: a file made to do harm ends its own reader.

Few read at once, so that many such files together take no more of the machine than a few.
"""

import multiprocessing
import os
import resource
import signal
import threading
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any, NamedTuple, TypeVar

import structlog

from heathrise import logs
from heathrise.exchange.unreadable import Unreadable
from heathrise.work import background

T = TypeVar("T")
log = structlog.get_logger(__name__)
# Private memory of a reader; with the libraries it shares with others it stays under 2 GB.
MOST_MEMORY = 1_800_000_000
# A reader that waits (for a disk, for a lock) uses no processor, so the clock on the wall ends it too.
_WALL_FOR_CPU = 2
# Whoever cannot be read for within this is told to come again.
_QUEUE_S = 60.0
_slots = threading.BoundedSemaphore(max(2, os.cpu_count() or 1))


class Busy(RuntimeError):
    """Too many files are being read already."""


class _Said(NamedTuple):
    value: Any
    error: Exception | None


def bound(cpu_s: int, memory: int = MOST_MEMORY) -> None:
    """Bound this process for good."""
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (cpu_s, cpu_s + 1))


def bounded(what: str, cpu_s: int, work: Callable[..., T], *args: Any) -> T:
    """Return what `work` returns, done in a process of its own that may use so much time.

    `what` names the file in the words of a refusal.

    Raises
    ------
    Unreadable
        If it needs more memory or time.
    Busy
        If too many files are being read already.
    Exception
        What `work` raises, when it is of ours.
    """
    if not _slots.acquire(timeout=_QUEUE_S):
        raise Busy("many files are being read just now. Send this one again in a minute.")
    try:
        said = _done_apart(cpu_s, work, args)
    finally:
        _slots.release()
    if said is None:
        raise Unreadable(
            f"{what} needs more memory or time than it is given: {MOST_MEMORY / 1e9:.1f} GB and {cpu_s} s are the most",
            "Send a smaller one, or a part of it",
        )
    if said.error is not None:
        raise said.error
    found: T = said.value
    return found


def _done_apart(cpu_s: int, work: Callable[..., Any], args: tuple[Any, ...]) -> _Said | None:
    """Return what a process said; None when it said nothing."""
    background.prepare()
    context = multiprocessing.get_context("forkserver")
    here, there = context.Pipe(duplex=False)
    process = context.Process(target=_work, args=(there, cpu_s, work, args), daemon=True)
    process.start()
    there.close()
    try:
        if not here.poll(cpu_s * _WALL_FOR_CPU):
            return None
        said = here.recv()
        return said if isinstance(said, _Said) else None
    except (EOFError, OSError):
        return None
    finally:
        here.close()
        process.kill()
        process.join()
        process.close()


def _work(answer: Connection, cpu_s: int, work: Callable[..., Any], args: tuple[Any, ...]) -> None:
    logs.configure()
    bound(cpu_s)
    signal.signal(signal.SIGXCPU, signal.SIG_DFL)
    try:
        said: _Said | None = _Said(work(*args), None)
    except (MemoryError, RecursionError):
        said = None
    except Exception as error:
        if not type(error).__module__.startswith("heathrise."):
            log.error("reader_broke", work=getattr(work, "__name__", ""), **logs.where(error))
            error = Unreadable("something about this file could not be read", "Save it again and send that")
        said = _Said(None, error)
    answer.send(said)
