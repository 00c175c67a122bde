"""Reads one imported file in a process of its own.

A process can be stopped at any point and may take no more memory and time than it is given, so
a file made to do harm takes only its own reader down.
"""

import os
import threading
from dataclasses import dataclass

import structlog
from sqlalchemy.orm import Session, undefer

from heathrise import logs
from heathrise.store import imports
from heathrise.store.database import Database, DatabaseGone
from heathrise.store.jobs import new_id
from heathrise.store.tables import ImportRow
from heathrise.work import background
from heathrise.work.bounded import MOST_MEMORY, bound

_MOST_CPU_S = 120
_GIVEN = f"{MOST_MEMORY / 1e9:.1f} GB and {_MOST_CPU_S} s are the most"
_OURS = (
    "something about this file could not be read; it is in the log. Save it in another format and try that."
)
# As many drawings are read at once; the others wait their turn.
_readers = threading.BoundedSemaphore(max(2, os.cpu_count() or 1))
log = structlog.get_logger(__name__)


def start(database_url: str, import_id: str, turn: int) -> None:
    """Start a reader for an import; its state is in the database."""

    def lost(session: Session) -> None:
        words = f"the file needs more memory or time than a drawing is given: {_GIVEN}. Save a smaller part of it."
        imports.fail(session, import_id, turn, words)

    def waits() -> bool:
        database = Database(database_url)
        try:
            return _Progress(database, import_id, turn, doing="waiting for other files to be read").tell()
        finally:
            database.engine.dispose()

    given = (database_url, import_id, turn)
    background.start(read_bounded, given, database_url, lost, turn=background.Turn(_readers, waits))


@dataclass
class _Progress:
    """How far the reader is."""

    database: Database
    import_id: str
    turn: int
    share: float = 0.0
    doing: str = "starting"

    def __call__(self, share: float, doing: str) -> None:
        self.share, self.doing = share, doing

    def tell(self) -> bool:
        """Say how far it is; False when nobody waits."""
        try:
            with self.database.transaction() as session:
                return imports.beat(session, self.import_id, self.turn, self.share, self.doing)
        except DatabaseGone:
            return True


def read_bounded(database_url: str, import_id: str, turn: int) -> None:
    """Read one import with no more memory and time than a drawing needs."""
    bound(_MOST_CPU_S)
    logs.configure()
    read(database_url, import_id, turn)


def read(database_url: str, import_id: str, turn: int) -> None:
    """Read one import and keep what it shows."""
    database = Database(database_url)
    with database.transaction() as session:
        row = session.get(ImportRow, import_id, options=(undefer(ImportRow.result),))
        if row is None or row.turn != turn:
            return
        body, name, asked_body, before = row.body, row.name, row.asked, imports.reading_json(row)
        # A password is kept no longer than until it is used.
        row.asked = {**asked_body, "password": ""}
    progress = _Progress(database, import_id, turn)
    failed = ""
    with background.Beat(progress.tell, lambda: os._exit(0)):
        # Loaded here, not above: the web process starts readers and needs none of this itself.
        from heathrise.exchange.reading import known_again, read_file  # noqa: PLC0415
        from heathrise.exchange.readings import Reading, ReadingChoices  # noqa: PLC0415
        from heathrise.exchange.unreadable import Refused  # noqa: PLC0415

        try:
            found = read_file(
                body, ReadingChoices.model_validate(asked_body), new_id, name.rsplit(".", 1)[0], progress
            )
            reading = (
                found.reading
                if before is None
                else known_again(Reading.model_validate_json(before), found.reading)
            )
        except Refused as error:
            failed = str(error)
        except MemoryError:
            failed = (
                f"the file needs more memory than a drawing is given: {_GIVEN}. Save a smaller part of it."
            )
        except Exception as error:
            log.error("import_broke", import_id=import_id, **logs.where(error))
            failed = _OURS
    with database.transaction() as session:
        if failed:
            imports.fail(session, import_id, turn, failed)
        else:
            imports.finish(session, import_id, turn, reading.model_dump_json(), found.png)
    database.engine.dispose()
