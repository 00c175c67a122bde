"""Serve the application: `python -m tools.serve` with the demo jobs, on 127.0.0.1:8420.

Brings up the private MariaDB, the tables, the demo jobs when there are none, then runs the web server, which
starts its calculators when a job is opened, until it is interrupted.
"""

import argparse
import contextlib
import os
import signal
import subprocess
import sys
from pathlib import Path
from urllib.request import urlopen

from demo.load import load_demo_jobs

from heathrise.store.database import migrate
from tools.localdb import LocalDatabase

ROOT = Path(__file__).resolve().parents[1]


def web_command(port: int) -> list[str]:
    """Return the command of the web server: one process that answers."""
    return [
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


def environment(url: str) -> dict[str, str]:
    """Return the environment of the web server."""
    return {
        **os.environ,
        "HEATHRISE_DATABASE_URL": url,
        "HEATHRISE_CALCULATORS": str(os.cpu_count() or 1),
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


def interrupted(*_: object) -> None:
    """Let a polite kill end like Ctrl+C, so that the database is stopped too."""
    raise KeyboardInterrupt


def main() -> None:
    """Run until interrupted."""
    signal.signal(signal.SIGTERM, interrupted)
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--database-port", type=int, default=8421)
    parser.add_argument("--folder", type=Path, default=ROOT / ".var" / "demo")
    given = parser.parse_args()
    print("Starting the database ...", flush=True)
    with LocalDatabase(given.folder, given.database_port) as database:
        url = database.create("heathrise")
        migrate(url)
        print("Putting the demo jobs in where they are missing ...", flush=True)
        load_demo_jobs(url)
        print("Starting the web server ...", flush=True)
        server = subprocess.Popen(web_command(given.port), env=environment(url), cwd=ROOT)
        try:
            wait_until_up(server, given.port)
            print(
                f"\n  Heathrise is ready: http://127.0.0.1:{given.port}\n  Stop it with Ctrl+C.\n", flush=True
            )
            server.wait()
        except KeyboardInterrupt:
            pass
        finally:
            server.terminate()
            server.wait(10)


if __name__ == "__main__":
    main()
