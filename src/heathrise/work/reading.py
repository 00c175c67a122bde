"""Reads one imported file in a process of its own.

A process can be stopped at any point and may take no more memory and time than it is given, so
a file made to do harm takes only its own reader down. Readers are forked from a server that has
loaded the formats but has run nothing, so one starts in a moment.
"""

import multiprocessing
import multiprocessing.forkserver
import os
import resource
import threading
from dataclasses import dataclass, field
from multiprocessing.process import BaseProcess

import structlog

from heathrise import logs
from heathrise.store import imports
from heathrise.store.database import Database, DatabaseGone
from heathrise.store.jobs import new_id
from heathrise.store.tables import ImportRow

_BEAT_S = 0.4
# Imported, not run: compiled code and its threads start only in the process that computes.
_PRELOADED = [
    "heathrise.exchange.reading",
    "heathrise.work.reading",
    "heathrise.work.studies",
    "heathrise.core.radio.studies",
]
_MOST_MEMORY = 6 * 1024**3
_MOST_CPU_S = 300
_OURS = (
    "something about this file could not be read; it is in the log. Save it in another format and try that."
)
log = structlog.get_logger(__name__)


def prepare() -> None:
    """Start the server that readers and studies are forked from, unless it runs; it loads the formats meanwhile."""
    multiprocessing.set_forkserver_preload(_PRELOADED)
    multiprocessing.forkserver.ensure_running()


def start(database_url: str, import_id: str, turn: int) -> None:
    """Start a reader for an import; its state is in the database."""
    prepare()
    context = multiprocessing.get_context("forkserver")
    process = context.Process(target=read_bounded, args=(database_url, import_id, turn), daemon=True)
    process.start()
    threading.Thread(target=_see_off, args=(process, database_url, import_id, turn), daemon=True).start()


def _see_off(process: BaseProcess, database_url: str, import_id: str, turn: int) -> None:
    """Wait for a reader; one that died without a word failed."""
    process.join()
    code = process.exitcode
    process.close()
    if code == 0:
        return
    database = Database(database_url)
    try:
        with database.transaction() as session:
            words = "the file needs more memory or time than a drawing should. Save a smaller part of it."
            imports.fail(session, import_id, turn, words)
    except DatabaseGone:
        log.warning("reader_lost", import_id=import_id)
    finally:
        database.engine.dispose()


@dataclass
class _Told:
    """How far the reader is, told by its own thread so that a long step does not silence it."""

    database: Database
    import_id: str
    turn: int
    share: float = 0.0
    doing: str = "starting"
    done: threading.Event = field(default_factory=threading.Event)

    def __call__(self, share: float, doing: str) -> None:
        self.share, self.doing = share, doing

    def run(self) -> None:
        while not self.done.wait(_BEAT_S):
            try:
                with self.database.transaction() as session:
                    wanted = imports.beat(session, self.import_id, self.turn, self.share, self.doing)
            except DatabaseGone:
                continue
            if not wanted and not self.done.is_set():
                os._exit(0)


def read_bounded(database_url: str, import_id: str, turn: int) -> None:
    """Read one import with no more memory and time than a drawing needs."""
    resource.setrlimit(resource.RLIMIT_AS, (_MOST_MEMORY, _MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (_MOST_CPU_S, _MOST_CPU_S))
    logs.configure()
    read(database_url, import_id, turn)


def read(database_url: str, import_id: str, turn: int) -> None:
    """Read one import and keep what it shows."""
    database = Database(database_url)
    with database.transaction() as session:
        row = session.get(ImportRow, import_id)
        if row is None or row.turn != turn:
            return
        body, name, asked_body = row.body, row.name, row.asked
    told = _Told(database, import_id, turn)
    threading.Thread(target=told.run, daemon=True).start()
    failed = ""
    try:
        # Loaded here, not above: the web process starts readers and needs none of this itself.
        from heathrise.exchange.pictures import NotAPicture  # noqa: PLC0415
        from heathrise.exchange.reading import read_file  # noqa: PLC0415
        from heathrise.exchange.readings import Asked  # noqa: PLC0415
        from heathrise.exchange.unreadable import Unreadable  # noqa: PLC0415

        try:
            found = read_file(body, Asked.model_validate(asked_body), new_id, name.rsplit(".", 1)[0], told)
        except (Unreadable, NotAPicture) as error:
            failed = str(error)
        except MemoryError:
            failed = "the file needs more memory than a drawing should. Save a smaller part of it."
        except Exception:
            log.exception("import_broke", import_id=import_id)
            failed = _OURS
    finally:
        told.done.set()
    with database.transaction() as session:
        if failed:
            imports.fail(session, import_id, turn, failed)
        else:
            imports.finish(session, import_id, turn, found.reading.model_dump_json(), found.png)
    database.engine.dispose()
