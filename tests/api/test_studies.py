"""Studies through the API on local processes and on a real cluster of two workers on loopback."""

import subprocess
import sys
import threading
import time

import pytest
from tools.localdb import free_port

from heathrise.api.app import create_app
from heathrise.core.job import AccessPoint, SurveyPoint
from heathrise.settings import Settings
from heathrise.store import studies
from heathrise.store.jobs import create_job
from heathrise.work.pools import ClusterGone, pool
from tests.api.conftest import rows
from tests.house import House

SECONDS = 240


def until(client, at, study, wanted, seconds=SECONDS):
    """Ask until a study is as wanted; its own time runs out, not the test's."""
    end = time.monotonic() + seconds
    pause = threading.Event()
    while time.monotonic() < end:
        pause.wait(0.1)  # asked without a pause, the asking takes the time of what is asked for
        found = client.get(f"{at}/studies/{study['id']}").json
        if wanted(found):
            return found
    raise AssertionError(f"still {found['state']}: {found['doing']}")


def ended(found):
    return found["state"] != "running"


def begin(client, at, **asked):
    response = client.post(f"{at}/studies", json=asked)
    assert response.status_code == 202, response.json
    return response.json


def test_every_point_fails_and_the_result_is_kept(client, at, school):
    done = until(client, at, begin(client, at, study="failures"), ended)
    assert done["state"] == "done"
    assert done["share"] == 1
    assert {row["label"] for row in done["found"]} == {p.label for p in school.of(AccessPoint)}
    (kept,) = client.get(f"{at}/studies").json["studies"]
    assert kept == done


def test_stopping_keeps_what_was_found_and_harms_nothing(client, at, kept):
    study = begin(client, at, study="placement", seconds=120)
    until(client, at, study, lambda found: len(found["found"]) >= 1)
    stopped = client.delete(f"{at}/studies/{study['id']}").json
    assert stopped["state"] == "stopped"
    assert stopped["found"][0]["placement"]["count"] > 0
    assert client.get(f"{at}/assessment").json["revision"] == kept.revision


def test_what_is_asked_is_checked(client, at):
    assert client.post(f"{at}/studies", json={"study": "placement", "model": "none"}).status_code == 422
    wrong = {"study": "placement", "storey_ids": ["00000000-0000-7000-8000-000000000000"]}
    assert "no such storey" in client.post(f"{at}/studies", json=wrong).json["detail"]
    assert client.get(f"{at}/studies/00000000-0000-7000-8000-000000000000").status_code == 404


def test_what_another_version_found_in_another_shape_is_said_and_the_rest_still_shown(
    client, at, monkeypatch
):
    until(client, at, begin(client, at, study="learning"), ended)
    until(client, at, begin(client, at, study="failures"), ended)
    read = studies.found_json
    monkeypatch.setattr(
        studies, "found_json", lambda row: '[{"found": "nothing"}]' if row.kind == "failures" else read(row)
    )
    listed = {row["asked"]["study"]: row for row in client.get(f"{at}/studies").json["studies"]}
    assert listed["failures"]["state"] == "failed"
    assert "another version" in listed["failures"]["doing"]
    assert "8 are the least" in listed["learning"]["doing"]


def test_too_small_a_survey_is_said_in_words(client, at):
    failed = until(client, at, begin(client, at, study="learning"), ended)
    assert failed["state"] == "failed"
    assert "survey points that can be used; 8 are the least" in failed["doing"]


def test_a_placement_taken_as_an_edit_is_the_design(client, at):
    study = begin(client, at, study="placement", seconds=1)
    done = until(client, at, study, ended)
    best = max(done["found"], key=lambda offer: offer["met"])
    body = {
        "edit_id": "01890000-0000-7000-8000-000000000011",
        "actor": "01890000-0000-7000-8000-000000000012",
        "base_revision": client.get(f"{at}/assessment").json["revision"],
        "label": "Place points",
        "operations": best["operations"],
    }
    assert client.post(f"{at}/edits", json=body).status_code == 200
    spaces = rows(client.get(f"{at}/assessment").json, "spaces")
    assert sum(space["holds"] for space in spaces) == best["met"]


def test_a_survey_sent_as_a_table_can_be_taken_in_and_compared(client, at, school):
    import io  # noqa: PLC0415

    rows = "".join(f"Ground,{17 + n / 4},{4 + n / 5},Foyer,5,-{50 + n}\n" for n in range(10))
    body = {
        "file": (io.BytesIO(f"storey,x,y,point,band,dbm\n{rows}Ground,1,1,Nobody,5,-60\n".encode()), "s.csv")
    }
    found = client.post(f"{at}/air/survey", data=body).json
    assert found["taken"] == 10
    assert "no access point" in found["skipped"][0]["why"]
    assert {put["element"]["kind"] for put in found["operations"]} == {"survey-point"}
    assert client.get(f"{at}/air/compared").json["residuals"] == []
    assert school.of(SurveyPoint) == ()


@pytest.mark.parametrize(
    "signal",
    ["snr", "sinr", "phy", "usable", "server", "overlap", "margin", "failed", "chance", "interference"],
)
def test_every_layer_comes_as_a_grid(client, at, school, signal):
    ask = {"storey_id": school.storeys[0].id, "band": "5", "signal": signal}
    response = client.post(f"{at}/air/terrain", json=ask)
    assert response.status_code == 200
    assert len(response.data) == 24 + 2 * 72 * 84


def test_a_layer_that_is_none_is_refused(client, at, school):
    ask = {"storey_id": school.storeys[0].id, "band": "5", "signal": "glow"}
    assert "no layer of the air named glow" in client.post(f"{at}/air/terrain", json=ask).json["detail"]


class Cluster:
    """A scheduler and two workers as a firm would start them."""

    def __init__(self, folder):
        self.address = f"tcp://127.0.0.1:{free_port()}"
        self.folder = folder
        self.processes = []

    def __enter__(self):
        port = self.address.rsplit(":", 1)[1]
        self._start("scheduler", "--host", "127.0.0.1", "--port", port, "--no-dashboard", "--no-show")
        for _ in range(2):
            self._start(
                "worker", self.address, "--nthreads", "1", "--nworkers", "1", "--no-dashboard", "--no-nanny"
            )
        return self

    def _start(self, what, *words):
        command = [sys.executable, "-m", f"distributed.cli.dask_{what}", *words]
        quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL}
        self.processes.append(subprocess.Popen(command, cwd=self.folder, **quiet))

    def __exit__(self, *_):
        for process in self.processes:
            process.kill()
            process.wait(20)


@pytest.fixture
def cluster(tmp_path):
    with Cluster(tmp_path) as made:
        end = time.monotonic() + 40
        while time.monotonic() < end:
            try:
                with pool(made.address, 2) as executor:
                    if len(executor._client.scheduler_info()["workers"]) == 2:
                        break
            except ClusterGone:
                continue
        yield made


@pytest.fixture
def clustered(url, tmp_path, cluster):
    """The application on the cluster, with a job of ten points."""
    (tmp_path / "index.html").write_text("<meta content='__NONCE__'>", "utf-8")
    app = create_app(Settings(database_url=url, web_root=tmp_path, cluster=cluster.address))
    house = House()
    for n in range(10):
        house.point(f"AP {n}", x=1 + n)
    database = app.extensions["desk"].database
    with database.transaction() as session:
        job_id = create_job(session, house.job).id
    yield app.test_client(), f"/api/jobs/{job_id}"
    database.engine.dispose()


def test_a_cluster_works_a_study_out_and_a_worker_killed_in_the_middle_loses_nothing(cluster, clustered):
    client, at = clustered
    study = begin(client, at, study="failures")
    until(client, at, study, lambda found: found["share"] > 0 or ended(found))
    cluster.processes[-1].kill()
    done = until(client, at, study, ended)
    assert (done["state"], len(done["found"])) == ("done", 10), done["doing"]


def test_a_scheduler_that_is_gone_is_said_clearly_and_the_job_is_unharmed(cluster, clustered):
    client, at = clustered
    for process in cluster.processes:
        process.kill()
        process.wait(20)
    failed = until(client, at, begin(client, at, study="failures"), ended)
    assert failed["state"] == "failed"
    assert "does not answer. The job is as it was." in failed["doing"]
    assert client.get(f"{at}/assessment").status_code == 200


def test_only_the_last_few_studies_of_a_kind_are_kept(database, school):
    with database.transaction() as session:
        job_id = create_job(session, school).id
        ids = [studies.begin(session, job_id, "failures", {"study": "failures"}, 1).id for _ in range(8)]
        left = [row.id for row in studies.latest(session, job_id)]
    assert left == [ids[-1]]
    with database.transaction() as session:
        assert studies.find(session, job_id, ids[-5]).state == "running"
        assert session.get(studies.StudyRow, ids[0]) is None


@pytest.mark.parametrize(("ending", "begins"), [("svg", b"<?xml"), ("png", b"\x89PNG"), ("pdf", b"%PDF")])
def test_a_layer_of_the_air_is_printed(client, at, school, ending, begins):
    query = {"storey_id": school.storeys[0].id, "band": "5", "signal": "second"}
    response = client.get(f"{at}/air/print.{ending}", query_string=query)
    assert response.status_code == 200
    assert response.data.startswith(begins)
    assert f"second-5GHz.{ending}" in response.headers["Content-Disposition"]


@pytest.mark.parametrize("signal", ["glow", "difference"])
def test_a_layer_that_is_none_of_one_design_is_not_printed(client, at, school, signal):
    query = {"storey_id": school.storeys[0].id, "signal": signal}
    refused = client.get(f"{at}/air/print.svg", query_string=query)
    assert refused.status_code == 422
    assert f"no layer of the air named {signal}" in refused.json["detail"]
