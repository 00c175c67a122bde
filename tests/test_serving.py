"""The service that `make demo` starts: what dies is back, a second start says who is there, nothing is left behind."""

import contextlib
import os
import signal
import subprocess
import sys
import threading
import time
from urllib.error import URLError
from urllib.request import urlopen

import psutil
import pytest
from benchmarks.served import served
from tools.localdb import free_port, holder
from tools.serve import ROOT

from heathrise.store.database import Database, DatabaseGone
from heathrise.store.jobs import list_jobs

BACK_S = 15


@pytest.fixture(scope="module")
def service():
    with served() as made:
        yield made


def answers(service) -> bool:
    with contextlib.suppress(URLError, OSError):
        return urlopen(f"http://127.0.0.1:{service.port}/api/jobs", timeout=5).status == 200
    return False


def simulates(service) -> bool:
    """Whether the simulated controller answers."""
    with (
        contextlib.suppress(OSError),
        urlopen(f"http://127.0.0.1:{service.stand_in_port}/sim/alive", timeout=5),
    ):
        return True
    return False


@pytest.mark.parametrize("what", ["database", "web", "stand_in"])
def test_a_killed_process_is_back_within_fifteen_seconds(service, what):
    pid = service.database.pid if what == "database" else getattr(service, what).pid
    os.kill(pid, signal.SIGKILL)
    psutil.wait_procs([psutil.Process(pid)] if psutil.pid_exists(pid) else [], timeout=5)
    begun = time.monotonic()
    while time.monotonic() - begun < BACK_S:
        service.look()
        if answers(service) and simulates(service):
            break
        threading.Event().wait(0.1)
    else:
        pytest.fail(f"the {what} was not back in time")


def test_the_web_process_loads_nothing_that_computes():
    """It hands on what calculators wrote; what they need would make its start slow and its memory large."""
    heavy = ("numba", "ortools", "pandas", "scipy", "shapely", "networkx", "ezdxf")
    told = f"import sys, heathrise.api.front; print([n for n in {heavy} if n in sys.modules])"
    said = subprocess.run([sys.executable, "-c", told], check=True, capture_output=True, text=True)
    assert said.stdout.strip() == "[]"


def test_a_backup_is_written_when_the_newest_is_a_day_old(service):
    folder = service.database.folder
    service.look()
    assert not (folder / "backups").exists(), "a database made just now wants none"
    old = time.time() - 25 * 3600
    os.utime(folder / "password", (old, old))
    service.look()
    begun = time.monotonic()
    while not list((folder / "backups").glob("*.sql.gz")):
        assert time.monotonic() - begun < 60
        threading.Event().wait(0.1)
    service.look()
    service.look()
    assert len(list((folder / "backups").iterdir())) == 1, "one a day"


def test_the_database_listens_on_a_socket_only_and_wants_a_password(service):
    mine = psutil.Process(service.database.pid)
    assert [c for c in mine.net_connections("inet") if c.status == psutil.CONN_LISTEN] == []
    assert oct(service.database.socket.parent.stat().st_mode)[-3:] == "700"
    for name in ("password", "accounts.sql"):
        assert oct((service.database.folder / name).stat().st_mode)[-3:] == "600"
    without = service.url.replace(service.url.split("://")[1].split("@")[0], "heathrise")
    with pytest.raises(DatabaseGone), Database(without).transaction() as session:
        list_jobs(session)
    processes = [service.web.pid, *(p.pid for p in psutil.Process(service.web.pid).children(recursive=True))]
    password = (service.database.folder / "password").read_text()
    for pid in processes:
        assert password not in " ".join(psutil.Process(pid).cmdline())


def test_a_frozen_database_is_said_to_be_gone_in_time(service, monkeypatch):
    monkeypatch.setattr("heathrise.store.database._ANSWER_S", 1)
    database = Database(service.url)
    os.kill(service.database.pid, signal.SIGSTOP)
    try:
        begun = time.monotonic()
        with pytest.raises(DatabaseGone), database.transaction() as session:
            list_jobs(session)
        assert time.monotonic() - begun < 10
    finally:
        os.kill(service.database.pid, signal.SIGCONT)
        database.engine.dispose()


def test_a_pool_without_a_free_connection_is_a_database_that_is_gone(service, monkeypatch):
    monkeypatch.setattr("heathrise.store.database._POOL_S", 0.05)
    database = Database(service.url)
    held = [database.engine.connect() for _ in range(40)]
    try:
        with pytest.raises(DatabaseGone), database.transaction() as session:
            list_jobs(session)
    finally:
        for connection in held:
            connection.close()
        database.engine.dispose()


def test_a_second_start_says_who_holds_the_port(service, tmp_path):
    assert str(service.web.pid) in (holder(service.port) or "")
    command = [sys.executable, "-m", "tools.serve", "--port", str(service.port), "--folder", str(tmp_path)]
    said = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, timeout=60, check=False)
    assert said.returncode == 1
    assert f"held by process {service.web.pid}" in said.stderr
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize("name", [signal.SIGTERM, signal.SIGKILL])
def test_nothing_is_left_behind_however_it_ends(tmp_path, name):
    port = free_port()
    command = [sys.executable, "-m", "tools.serve", "--port", str(port), "--folder", str(tmp_path)]
    started = subprocess.Popen(command, cwd=ROOT, stdout=subprocess.PIPE, text=True)
    for line in started.stdout:
        if "is ready" in line:
            break
    below = psutil.Process(started.pid).children(recursive=True)
    names = [process.name() for process in below]
    assert any(n == "mariadbd" for n in names) and any(n.startswith("python") for n in names)
    started.send_signal(name)
    started.wait(30)
    started.stdout.close()
    _, left = psutil.wait_procs(below, timeout=20)
    assert left == []
