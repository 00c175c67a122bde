"""Serve the application: `python -m tools.serve` with the demo jobs, on 127.0.0.1:8420.

Brings up the private MariaDB, the tables, the demo jobs when there are none, the simulated controller, then the web
server, which starts its calculators when a job is opened. Each of them that ends by itself is started again, every
night a backup is written, and all of it ends with this process, however that ends.
"""

import argparse
import contextlib
import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path
from urllib.request import urlopen

from demo.load import load_demo_jobs

from heathrise.store.database import migrate
from tools.localdb import WITH_PARENT, LocalDatabase, free_port, holder, write_private

ROOT = Path(__file__).resolve().parents[1]
_LOOK_S = 0.5
_BACKUP_AFTER_S = 24 * 3600
_BACKUPS_KEPT = 14
# Simulated time runs so much faster: what takes a device two minutes takes a person two seconds.
_SIM_SPEED = 60


def web_command(port: int) -> list[str]:
    """Return the command of the web server: one process that answers."""
    return [
        *WITH_PARENT,
        sys.executable,
        "-m",
        "uvicorn",
        "--factory",
        "--host=127.0.0.1",
        f"--port={port}",
        "--no-access-log",
        "--no-server-header",
        "--timeout-graceful-shutdown=2",
        "--log-level=warning",
        "heathrise.api.front:create",
    ]


def stand_in_command(folder: Path, port: int, speed: float = _SIM_SPEED) -> list[str]:
    """Return the command of the simulated controller."""
    command = [*WITH_PARENT, sys.executable, "-m", "standin"]
    return [*command, f"--folder={folder / 'stand-in'}", f"--port={port}", f"--speed={speed}"]


def environment(url: str, folder: Path, stand_in: int) -> dict[str, str]:
    """Return the environment of the web server."""
    return {
        "HEATHRISE_CALCULATORS": str(os.cpu_count() or 1),
        # Beside the database, not in it: whoever has only a copy of the one opens nothing.
        "HEATHRISE_KEY_FILE": str(folder / "secret.key"),
        "HEATHRISE_STAND_IN": f"http://127.0.0.1:{stand_in}",
        **os.environ,
        "HEATHRISE_DATABASE_URL": url,
        "NUMBA_THREADING_LAYER": "omp",
        "NUMBA_CACHE_DIR": str(ROOT / ".var" / "numba"),
    }


def wait_until_up(server: subprocess.Popen[bytes], port: int) -> None:
    """Wait until the web server answers. Raises RuntimeError when it ends instead."""
    while True:
        with contextlib.suppress(OSError), urlopen(f"http://127.0.0.1:{port}/api/jobs", timeout=30):
            return
        with contextlib.suppress(subprocess.TimeoutExpired):
            server.wait(0.2)
            raise RuntimeError(f"the web server did not start; is port {port} taken?")


class Serving:
    """The web server and the simulated controller over a database that runs, for as long as a block takes."""

    def __init__(self, database: LocalDatabase, url: str, speed: float = _SIM_SPEED):
        self.port, self.stand_in_port = free_port(), free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self.stand_in_address = f"http://127.0.0.1:{self.stand_in_port}"
        self._environment = environment(url, database.folder, self.stand_in_port)
        self.stand_in = subprocess.Popen(
            stand_in_command(database.folder, self.stand_in_port, speed), cwd=ROOT
        )
        self.web = subprocess.Popen(web_command(self.port), env=self._environment, cwd=ROOT)

    def start_again(self) -> None:
        """Start the web server once more, where it ended."""
        self.web = subprocess.Popen(web_command(self.port), env=self._environment, cwd=ROOT)
        wait_until_up(self.web, self.port)

    def __enter__(self) -> "Serving":
        wait_until_up(self.web, self.port)
        return self

    def __exit__(self, *_: object) -> None:
        end(self.web, self.stand_in)


def end(*processes: subprocess.Popen[bytes]) -> None:
    """End processes, those that do not listen by force."""
    for process in processes:
        process.terminate()
    for process in processes:
        try:
            process.wait(10)
        except subprocess.TimeoutExpired:
            process.kill()


class Service:
    """The web server over a database that runs: both are started again when they end by themselves."""

    def __init__(self, database: LocalDatabase, url: str, port: int, say: Callable[[str], None] = print):
        self.database = database
        self.url = url
        self.port = port
        self._say = say
        self.stand_in_port = free_port()
        self.stand_in = self._start_stand_in()
        self.web = self._start_web()
        self._backup: subprocess.Popen[bytes] | None = None

    def _start_web(self) -> subprocess.Popen[bytes]:
        return subprocess.Popen(web_command(self.port), env=self._environment(), cwd=ROOT)

    def _start_stand_in(self) -> subprocess.Popen[bytes]:
        return subprocess.Popen(stand_in_command(self.database.folder, self.stand_in_port), cwd=ROOT)

    def _environment(self) -> dict[str, str]:
        return environment(self.url, self.database.folder, self.stand_in_port)

    def look(self) -> None:
        """Start again what has ended, and a backup when one is due."""
        if not self.database.lives:
            self._say("The database ended by itself; it is started again.")
            self.database.start()
        if self.web.poll() is not None:
            self._say(f"The web server ended by itself ({self.web.returncode}); it is started again.")
            self.web = self._start_web()
        if self.stand_in.poll() is not None:
            self._say("The simulated controller ended by itself; it is started again.")
            self.stand_in = self._start_stand_in()
        if self._backup is not None and self._backup.poll() is not None:
            self._backup = None
        if self._backup is None and self._backup_due():
            self._backup = self._start_backup()

    @property
    def _backups(self) -> Path:
        return self.database.folder / "backups"

    def _backup_due(self) -> bool:
        """Whether the newest backup, or else the database, is a day old."""
        kept = list(self._backups.glob("*.sql.gz")) or [self.database.folder / "password"]
        newest = max(path.stat().st_mtime for path in kept)
        return time.time() - newest > _BACKUP_AFTER_S

    def _start_backup(self) -> subprocess.Popen[bytes]:
        self._backups.mkdir(mode=0o700, exist_ok=True)
        command = [sys.executable, "-m", "heathrise.cli", "backup", str(self._backups)]
        command += ["--keep", str(_BACKUPS_KEPT)]
        return subprocess.Popen(WITH_PARENT + command, env=self._environment(), cwd=ROOT)

    def stop(self) -> None:
        """End the web server, and a backup that is under way."""
        if self._backup is not None:
            self._backup.terminate()
            self._backup.wait(10)
        end(self.web, self.stand_in)


def main() -> None:
    """Run until interrupted."""
    ended = threading.Event()
    for name in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(name, lambda *_: ended.set())
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--folder", type=Path, default=ROOT / ".var" / "demo")
    given = parser.parse_args()
    if (other := holder(given.port)) is not None:
        sys.exit(
            f"Port {given.port} is held by {other}.\n"
            "Is Heathrise running already? Stop that one, or start this one with --port and --folder of its own."
        )
    print("Starting the database ...", flush=True)
    with LocalDatabase(given.folder) as database:
        url = database.create("heathrise")
        migrate(url)
        _note(given.folder, url)
        print("Putting the demo jobs in where they are missing ...", flush=True)
        load_demo_jobs(url)
        print("Starting the web server ...", flush=True)
        service = Service(database, url, given.port)
        try:
            wait_until_up(service.web, given.port)
            print(
                f"\n  Heathrise is ready: http://127.0.0.1:{given.port}\n  Stop it with Ctrl+C.\n", flush=True
            )
            while not ended.wait(_LOOK_S):
                service.look()
        finally:
            service.stop()


def _note(folder: Path, url: str) -> None:
    """Write down, for this user alone, how commands find the database."""
    write_private(folder / "settings.env", f"HEATHRISE_DATABASE_URL='{url}'\n")


if __name__ == "__main__":
    main()
