"""Engine and sessions, and the one place where a lost database becomes our own error."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from pydantic_core import from_json, to_json
from sqlalchemy import Engine, create_engine
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError, TimeoutError
from sqlalchemy.orm import Session, sessionmaker

# A database that hangs is as good as one that is gone: nobody waits longer for a connection or an answer.
_POOL_S = 5
_CONNECT_S = 5
_ANSWER_S = 10


class DatabaseGone(RuntimeError):
    """The database did not answer; nothing of the transaction was kept."""


def make_engine(url: str) -> Engine:
    """Return an engine that checks a connection before it is used."""
    return create_engine(
        url,
        pool_pre_ping=True,
        pool_recycle=1800,
        pool_size=10,
        max_overflow=30,
        pool_timeout=_POOL_S,
        connect_args={
            # One clock for all, whatever the machine's.
            "init_command": "set time_zone = '+00:00'",
            "connect_timeout": _CONNECT_S,
            "read_timeout": _ANSWER_S,
            "write_timeout": _ANSWER_S,
        },
        # The reader and writer of JSON that come with the models: several times as quick on a large edit.
        json_serializer=lambda value: to_json(value).decode(),
        json_deserializer=from_json,
        # What a statement was asked with is somebody's work; it belongs in no log.
        hide_parameters=True,
        isolation_level="READ COMMITTED",
    )


def migrate(url: str, to: str = "head") -> None:
    """Bring the database's tables to this release, or to one on the way to it."""
    # Loaded here: only whoever migrates needs it.
    from alembic import command  # noqa: PLC0415
    from alembic.config import Config  # noqa: PLC0415

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["url"] = url
    command.upgrade(config, to)


class Database:
    """Hands out transactions."""

    def __init__(self, url: str):
        self.engine = make_engine(url)
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """Yield a session that commits once at the end, or rolls back.

        Raises
        ------
        DatabaseGone
            If the connection is lost at any point.
        """
        try:
            with self._sessions.begin() as session:
                yield session
        except TimeoutError as error:
            raise DatabaseGone("no connection was free in time") from error
        except (OperationalError, InterfaceError) as error:
            raise DatabaseGone(str(error.orig)) from error
        except DBAPIError as error:
            if error.connection_invalidated:
                raise DatabaseGone(str(error.orig)) from error
            raise
