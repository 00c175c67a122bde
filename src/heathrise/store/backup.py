"""Backups: the whole database as one packed file, and putting one back.

Written and read by the database's own tools. A backup is put back beside the database and takes its place
only when all of it is there; what was there before stays, under another name, until somebody drops it.
"""

import gzip
import os
import shutil
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import URL, Engine, create_engine, inspect, make_url, text, update

from heathrise.store.database import migrate
from heathrise.store.tables import JobRow

ENDING = ".sql.gz"
# No browser was ever so far ahead: every open window sees that its history is gone and opens its job anew.
_LEAP = 1_000_000
# No backup takes as long; a half of one that is older was left by a process that was killed.
_KILLED_S = 6 * 3600
_DUMP = (
    "--single-transaction",
    "--quick",
    "--hex-blob",
    "--no-tablespaces",
    "--skip-comments",
    "--skip-lock-tables",
)


class BackupFailed(RuntimeError):
    """A backup could not be written or put back; the message says why. Nothing was changed."""


def write_backup(url: str, folder: Path, keep: int | None = None) -> Path:
    """Write a backup of a database into a folder and return its path; of older ones only the newest `keep` stay.

    Raises
    ------
    BackupFailed
        If the tool or the folder's disk refuses; a half of a backup is not left behind.
    """
    found = make_url(url)
    name = datetime.now(UTC).strftime(f"{found.database}-%Y-%m-%dT%H-%M-%SZ{ENDING}")
    half = folder / f"{name}.part"
    _clear_halves(folder)
    try:
        with _asked(found, "mariadb-dump", *_DUMP) as command, gzip.open(half, "wb", 6) as out:
            _run([*command, found.database or ""], out)
        with half.open("rb") as written:
            os.fsync(written.fileno())
        half.rename(folder / name)
    except OSError as error:
        raise BackupFailed(f"the backup could not be written: {error.strerror or error}") from error
    finally:
        half.unlink(missing_ok=True)
    kept = sorted(folder.glob(f"{found.database}-*{ENDING}"))
    for old in kept[: len(kept) - keep if keep else 0]:
        old.unlink()
    return folder / name


def _clear_halves(folder: Path) -> None:
    """Remove what backups that were killed have left."""
    for half in folder.glob(f"*{ENDING}.part"):
        if time.time() - half.stat().st_mtime > _KILLED_S:
            half.unlink(missing_ok=True)


def put_back(url: str, path: Path) -> str:
    """Put a backup in the place of a database; returns the name what was there before now has.

    Raises
    ------
    BackupFailed
        If the file is no backup or is cut short: the database is then as it was.
    """
    target = make_url(url)
    stamp = datetime.now(UTC).strftime("%Y%m%d%H%M%S")
    fresh, before = (f"{target.database}_{word}_{stamp}" for word in ("restoring", "before"))
    engine = create_engine(target)
    try:
        _make(engine, fresh)
        try:
            _read(target.set(database=fresh), path)
            migrate(target.set(database=fresh).render_as_string(hide_password=False))
            _leap(engine, fresh)
        except BaseException:
            _drop(engine, fresh)
            raise
        _make(engine, before)
        _swap(engine, str(target.database), fresh, before)
        _drop(engine, fresh)
    finally:
        engine.dispose()
    return before


def _read(url: URL, path: Path) -> None:
    with tempfile.TemporaryFile() as plain:
        try:
            with gzip.open(path) as packed:
                shutil.copyfileobj(packed, plain)
        except (OSError, EOFError) as error:
            raise BackupFailed(f"{path.name} is no whole backup: {error}") from error
        plain.seek(0)
        if b"create table" not in plain.read(100_000).lower():
            raise BackupFailed(f"{path.name} is no backup of a database")
        plain.seek(0)
        with _asked(url, "mariadb") as command:
            done = subprocess.run(
                [*command, str(url.database)], stdin=plain, capture_output=True, check=False
            )
    if done.returncode:
        raise BackupFailed(f"{path.name} could not be read: {done.stderr.decode(errors='replace')[:300]}")


def _run(command: list[str], out: gzip.GzipFile) -> None:
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as tool:
        assert tool.stdout is not None
        assert tool.stderr is not None
        shutil.copyfileobj(tool.stdout, out)
        complaint = tool.stderr.read().decode(errors="replace")
    if tool.returncode:
        raise BackupFailed(f"the backup could not be written: {complaint[:300].strip()}")


@contextmanager
def _asked(url: URL, tool: str, *options: str) -> Iterator[list[str]]:
    """Yield the command of a database tool; its password stands in a file only this user may read."""
    path = shutil.which(tool)
    if path is None:
        raise BackupFailed(f"{tool} is not installed; it comes with Debian's package mariadb-client")
    socket = url.query.get("unix_socket")
    where = f"socket={socket}" if socket else f"host={url.host}\nport={url.port or 3306}\nprotocol=tcp"
    with tempfile.NamedTemporaryFile("w", suffix=".cnf") as file:
        file.write(f"[client]\nuser={url.username}\npassword={url.password or ''}\n{where}\n")
        file.flush()
        yield [path, f"--defaults-file={file.name}", "--default-character-set=utf8mb4", *options]


def _make(engine: Engine, name: str) -> None:
    _say(engine, f"create database `{name}` character set utf8mb4")


def _drop(engine: Engine, name: str) -> None:
    _say(engine, f"drop database `{name}`")


def _say(engine: Engine, *statements: str) -> None:
    with engine.connect() as connection:
        for statement in statements:
            connection.execute(text(statement))


def _leap(engine: Engine, name: str) -> None:
    """Move every job's revision ahead, so that no window takes what was lost for what is there."""
    with engine.begin() as connection:
        connection.execute(text(f"use `{name}`"))
        connection.execute(update(JobRow).values(revision=JobRow.revision + _LEAP, changed=JobRow.changed))


def _swap(engine: Engine, target: str, fresh: str, before: str) -> None:
    """Move the tables in one statement: it happens whole or not at all."""
    look = inspect(engine)
    moves = [f"`{target}`.`{table}` to `{before}`.`{table}`" for table in look.get_table_names(target)]
    moves += [f"`{fresh}`.`{table}` to `{target}`.`{table}`" for table in look.get_table_names(fresh)]
    _say(engine, "set foreign_key_checks = 0", f"rename table {', '.join(moves)}")
