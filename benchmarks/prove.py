"""Proving at the reference school: 500 records sent at once, every run tested by curves, a hand-over made file by file."""

import time
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from demo.onsite import tested
from tools.localdb import LocalDatabase

from benchmarks.core import Row
from benchmarks.school import wired_school
from heathrise.api.app import create_app
from heathrise.api.desk import Desk
from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Memo
from heathrise.core.job import Record
from heathrise.core.proving.derived import proofs
from heathrise.settings import Settings
from heathrise.store.database import migrate
from heathrise.store.jobs import create_job, new_id

_MANY = 500
_SYNC_S, _SET_S = 5.0, 20.0
_WAIVED = dict.fromkeys(("runs", "ports", "points", "walks", "air"), "measured next week")


def rows() -> list[Row]:
    """Return the table's lines, over a database of its own."""
    with TemporaryDirectory() as folder:
        return _rows(Path(folder))


def _rows(folder: Path) -> list[Row]:
    job = wired_school()
    plans = runs(Memo(job).look).plans
    now = datetime.now(tz=UTC)
    records = tuple(
        Record(
            id=new_id(),
            kind="measured",
            subject=plan.run_id,
            said_at=now,
            by="Ana",
            measured=tested(job, plan),
        )
        for plan in plans
    )
    memo = Memo(job)
    began = time.perf_counter()
    proofs(memo.look)
    bare = time.perf_counter() - began
    memo = Memo(job.with_records(records))
    began = time.perf_counter()
    proofs(memo.look)
    judging = time.perf_counter() - began
    with LocalDatabase(folder) as local:
        url = local.create("bench")
        migrate(url)
        app = create_app(Settings(database_url=url, web_root=folder))
        desk: Desk = app.extensions["desk"]
        with desk.database.transaction() as session:
            job_id = create_job(session, job).id
        client, door = app.test_client(), f"/api/jobs/{job_id}"
        ticks = [
            {
                "id": new_id(),
                "kind": "done",
                "subject": plans[n % len(plans)].run_id,
                "task": f"pull:{n}",
                "by": "Ana",
                "said_at": now.isoformat(),
            }
            for n in range(_MANY)
        ]
        began = time.perf_counter()
        client.post(f"{door}/records", json={"device": new_id(), "records": ticks})
        syncing = time.perf_counter() - began
        accepted = _accept_all(client, door)
        client.get(f"{door}/prove")
        signing = {"signed_by": "Ana", "client": "The head", "waived": _WAIVED}
        edition = client.post(f"{door}/hand-overs", json=signing).json
        began = time.perf_counter()
        while edition["state"] == "making":
            edition = client.post(f"{door}/hand-overs/{edition['id']}/next").json
        making = time.perf_counter() - began
        desk.database.engine.dispose()
    return [
        Row(
            f"{_MANY} records from a phone kept",
            f"{1000 * syncing:.0f} ms",
            "",
            "",
            "5 s",
            syncing <= _SYNC_S,
        ),
        Row(
            f"{len(plans)} runs with nine curves each judged",
            f"{judging:.2f} s",
            f"{bare:.2f} s (all of it with no record)",
            f"{judging / bare:.1f} x",
            "",
            True,
        ),
        Row(
            f"hand-over of 60 access points, {edition['of']} files, {accepted} findings accepted",
            f"{making:.1f} s",
            "",
            "",
            "20 s",
            making <= _SET_S,
        ),
    ]


def _accept_all(client, door: str) -> int:  # type: ignore[no-untyped-def]
    """Accept every open fault, as a person would one by one; returns how many."""
    total = 0
    while faults := client.get(f"{door}/prove").json["ready"]["findings"]:
        puts = [
            {
                "op": "put",
                "element": {
                    "kind": "acceptance",
                    "id": new_id(),
                    "label": one["title"],
                    "finding_key": one["key"],
                    "reason": "known",
                },
            }
            for one in faults
        ]
        body = {
            "edit_id": new_id(),
            "actor": new_id(),
            "label": "Accept",
            "base_revision": 0,
            "known_revision": 0,
            "operations": puts,
            "seen": [],
            "absent": [put["element"]["id"] for put in puts],
            "choices": [],
        }
        client.post(f"{door}/edits", json=body)
        total += len(faults)
    return total
