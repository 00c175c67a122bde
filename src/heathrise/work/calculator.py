"""A calculator: a process that computes for open jobs and answers web processes over a socket of its own.

It ends when whoever started it ends (its standard input closes). One that dies costs warmth and nothing
else: the next reads the job from the database.
"""

import contextlib
import os
import sys
import threading
from multiprocessing.connection import Connection, Listener

import structlog

from heathrise import logs
from heathrise.core.sums import Noun
from heathrise.settings import settings
from heathrise.store.database import Database
from heathrise.work.calculators import Broke, Message, Said

log = structlog.get_logger(__name__)


def main() -> None:
    """Answer until standard input closes. Argument: the socket's path; the settings name the database."""
    logs.configure()
    database_url, path = settings().database_url, sys.argv[1]
    # Loaded after the socket is there, so that whoever waits for it waits for the work, not for a file.
    with Listener(path, "AF_UNIX", backlog=64) as listener:
        threading.Thread(target=_end_with_parent, daemon=True).start()
        from heathrise.work.bench import Bench  # noqa: PLC0415
        from heathrise.work.warming import warm  # noqa: PLC0415

        warm()
        bench = Bench(Database(database_url))
        while True:
            with contextlib.suppress(OSError, EOFError):
                connection = listener.accept()
                threading.Thread(target=_serve, args=(connection, bench), daemon=True).start()


def _end_with_parent() -> None:
    sys.stdin.read()
    # Nothing here is the truth, so no goodbye is owed.
    os._exit(0)


def _serve(connection: Connection, bench: object) -> None:
    """Answer one web thread until it hangs up."""
    with connection, contextlib.suppress(OSError, EOFError):
        while True:
            message: Message = connection.recv()
            connection.send(_said(bench, message))


def _said(bench: object, message: Message) -> Said:
    try:
        asked = message.asked
        assert isinstance(asked, Noun)
        answer = bench.answer(message.job_id, message.name, asked, message.revision)  # type: ignore[attr-defined]
        return Said(answer.body, answer.revision, answer.kind, answer.file_name, None)
    except Exception as error:
        if type(error).__module__.startswith("heathrise."):
            return Said(b"", 0, "", "", error)
        log.error("question_broke", question=message.name, job_id=message.job_id, **logs.where(error))
        return Said(b"", 0, "", "", Broke(f"{type(error).__name__} in {message.name}"))


if __name__ == "__main__":
    main()
