"""The application beside a simulated controller whose clock stands until a test lets it run."""

import threading
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import pytest
import requests
from demo.load import JOBS
from flask.testing import FlaskClient
from tools.localdb import free_port
from werkzeug.serving import make_server

from heathrise.api.app import create_app
from heathrise.core.job import Job
from heathrise.settings import Settings
from heathrise.store.database import Database
from heathrise.store.jobs import create_job, new_id
from standin.app import create as create_stand_in

# Longer than anything a unit does at once.
A_WHILE_S = 400


@dataclass
class Bench:
    """A job, its pages' addresses, and the simulated site beside it."""

    client: FlaskClient
    at: str
    job_id: str
    stand_in: str

    def get(self, path: str) -> Any:
        """Return what is at a path of the job."""
        return self.client.get(f"{self.at}/{path}").get_json()

    def post(self, path: str, body: Any = None, method: str = "post") -> Any:
        """Ask for something at a path of the job."""
        return getattr(self.client, method)(
            f"{self.at}/{path}", json=body if body is not None else {}
        ).get_json()

    def sim(self, method: str, path: str, body: Any = None) -> Any:
        """Do what only a simulation can: clock, faults, a hand."""
        return requests.request(
            method, f"{self.stand_in}/sim/{self.job_id}/{path}", json=body, timeout=20
        ).json()

    def wait(self, seconds: int = A_WHILE_S) -> None:
        """Let simulated time pass."""
        self.sim("post", "clock", {"advance_s": seconds})

    def fault(self, kind: str, **more: Any) -> None:
        """Put a fault in."""
        self.sim("post", "faults", {"kind": kind, **more})

    def settle_units(self) -> None:
        """Write every matched serial on the drawing, as a person presses it."""
        matches = self.get("controller/live")["matched"]["matches"]
        units = [{k: m[k] for k in ("element_id", "serial", "mac")} for m in matches if m["serial"]]
        operations = self.post("controller/units", {"units": units})["operations"]
        self.edit(operations)

    def edit(self, operations: list[Any]) -> None:
        """Send an edit as the pages do."""
        revision = self.client.get(self.at).get_json()["revision"]
        body = {
            "edit_id": new_id(),
            "actor": new_id(),
            "base_revision": revision,
            "label": "Test",
            "operations": operations,
        }
        found = self.client.post(f"{self.at}/edits", json=body)
        assert found.status_code < 300, found.get_json()

    def go(self, push: dict[str, Any], path: str = "next", most: int = 400) -> dict[str, Any]:
        """Go on with a push until it is done or stopped, letting time pass where something is under way."""
        for _ in range(most):
            push = self.post(f"controller/pushes/{push['id']}/{path}")
            path = "next"
            assert "state" in push, push
            if push["state"] != "ready":
                return push
            if any(step["state"] == "under way" for step in push["steps"]):
                self.wait()
        raise AssertionError("it never ends")

    def brought_on(self) -> dict[str, Any]:
        """Bring a fresh site to what is planned, and return the push that did it."""
        push = self.go(self.post("controller/pushes"))
        assert push["state"] == "done", push["said"]
        return push


@pytest.fixture(scope="session")
def stand_in(tmp_path_factory) -> Iterator[str]:
    port = free_port()
    server = make_server(
        "127.0.0.1", port, create_stand_in(tmp_path_factory.mktemp("sites"), 0.0), threaded=True
    )
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{port}"
    server.shutdown()
    server.server_close()


@pytest.fixture
def key_file(tmp_path):
    return tmp_path / "secret.key"


@pytest.fixture
def app(url: str, tmp_path, stand_in: str, key_file) -> Iterator:
    settings = Settings(database_url=url, web_root=tmp_path, stand_in=stand_in, key_file=key_file)
    made = create_app(settings)
    yield made
    made.extensions["desk"].database.engine.dispose()


@pytest.fixture
def bench_of(app, stand_in):
    """Keep a job, set its simulated controller up, and return both."""

    def make(job: Job) -> Bench:
        database: Database = app.extensions["desk"].database
        with database.transaction() as session:
            kept = create_job(session, job)
        bench = Bench(app.test_client(), f"/api/jobs/{kept.id}", kept.id, stand_in)
        assert bench.post("controller/stand-in")["connected"]
        return bench

    return make


@pytest.fixture
def bench(bench_of) -> Bench:
    """The clinic beside its simulated controller."""
    return bench_of(JOBS["Fern Hollow Veterinary Clinic"]())
