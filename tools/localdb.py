"""A MariaDB of our own in a private folder, on loopback, from Debian's package."""

import contextlib
import os
import shutil
import socket
import subprocess
from pathlib import Path
from types import TracebackType

import pymysql

_TRIES = 600
_READY_S = 60


class LocalDatabase:
    """Starts the server in a folder on entering, stops it on leaving. Needs no account of the system."""

    def __init__(self, folder: Path, port: int):
        self.folder = folder
        self.port = port
        self._server: subprocess.Popen[bytes] | None = None

    def url(self, name: str) -> str:
        """Return the URL of a database on this server."""
        return f"mysql+pymysql://root@127.0.0.1:{self.port}/{name}?charset=utf8mb4"

    def __enter__(self) -> "LocalDatabase":
        self.start()
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.stop()

    def start(self) -> None:
        """Make the data folder when it is new, and start the server."""
        if answers(self.port):
            raise RuntimeError(f"port {self.port} is taken: is another demo running?")
        data = self.folder / "data"
        # Two servers that share a folder for temporary tables take each other's away.
        scratch = self.folder / "tmp"
        scratch.mkdir(parents=True, exist_ok=True)
        user = ["--user=root"] if os.geteuid() == 0 else []
        if not (data / "mysql").is_dir():
            data.mkdir(parents=True, exist_ok=True)
            command = [_find("mariadb-install-db"), "--no-defaults", "--skip-test-db"]
            command += [
                "--auth-root-authentication-method=normal",
                f"--datadir={data}",
                f"--tmpdir={scratch}",
                *user,
            ]
            subprocess.run(command, check=True, stdout=subprocess.DEVNULL)
        command = [_find("mariadbd"), "--no-defaults", f"--datadir={data}", "--bind-address=127.0.0.1"]
        command += [f"--port={self.port}", f"--socket={self._socket()}", "--max-connections=400"]
        command += [f"--tmpdir={scratch}", "--innodb-buffer-pool-size=64M", "--performance-schema=OFF", *user]
        # Uploads of up to 60 MB are kept whole.
        command += ["--max-allowed-packet=128M"]
        with (self.folder / "mariadb.log").open("ab") as log:
            self._server = subprocess.Popen(command, stdout=log, stderr=log, start_new_session=True)
        self._wait()

    def _socket(self) -> Path:
        """Return a socket path short enough for the kernel, whatever the folder."""
        return Path("/tmp") / f"heathrise-{os.getuid()}-{self.port}.sock"  # noqa: S108

    def _wait(self) -> None:
        for _ in range(_TRIES):
            if self._server is None or self._server.poll() is not None:
                raise RuntimeError(f"MariaDB did not start; see {self.folder / 'mariadb.log'}")
            with contextlib.suppress(pymysql.err.OperationalError):
                self.execute("select 1")
                return
            with contextlib.suppress(subprocess.TimeoutExpired):
                self._server.wait(_READY_S / _TRIES)
        raise RuntimeError("MariaDB did not answer within a minute")

    def execute(self, statement: str) -> None:
        """Run one statement as the server's root."""
        connection = pymysql.connect(host="127.0.0.1", port=self.port, user="root", connect_timeout=2)
        with connection, connection.cursor() as cursor:
            cursor.execute(statement)

    def create(self, name: str) -> str:
        """Make an empty database unless it is there, and return its URL."""
        self.execute(f"create database if not exists `{name}` character set utf8mb4")
        return self.url(name)

    def stop(self) -> None:
        """Stop the server and wait for it."""
        if self._server is not None and self._server.poll() is None:
            self._server.terminate()
            self._server.wait(30)


def _find(name: str) -> str:
    path = shutil.which(name, path=f"{os.environ.get('PATH', '')}:/usr/sbin:/usr/bin")
    if path is None:
        raise RuntimeError(f"{name} is missing; run: make setup")
    return path


def answers(port: int) -> bool:
    """Return whether something listens on a loopback port."""
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) == 0


def free_port() -> int:
    """Return a loopback port that is free now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
