"""`python -m benchmarks.kills 1000`: the database and the web process killed at random while people edit.

Every edit is sent as a window sends it: again and again, under its own id, until it is acknowledged. At the end
each acknowledged edit has to be in the change log once, and the job has to be what the log says.
"""

import os
import random
import signal
import sys
import threading
import time
from collections import Counter
from typing import Any

from demo.tern_lane import tern_lane
from sqlalchemy import select
from tools.serve import Service

from benchmarks.served import asked, served
from heathrise.core.job import Space
from heathrise.store.database import Database
from heathrise.store.doctor import examine
from heathrise.store.jobs import create_job, load_job, new_id
from heathrise.store.tables import ChangeRow

_EDITORS = 4
_AGAIN_S = 0.05
_BACK_S = 60.0


class Editor(threading.Thread):
    """Renames spaces of its own, one edit after another, each until it is acknowledged."""

    def __init__(self, service: Service, job_id: str, spaces: list[dict[str, Any]], over: threading.Event):
        super().__init__(daemon=True)
        self._service, self._job_id, self._spaces, self._over = service, job_id, spaces, over
        self._actor = new_id()
        self.acknowledged: list[str] = []
        self.last: dict[str, str] = {}
        self.sent = 0
        self._known = 0

    def run(self) -> None:
        number = 0
        while not self._over.is_set():
            number += 1
            space = self._spaces[number % len(self._spaces)]
            label = f"{self._actor[-4:]} {number}"
            if self._kept(space | {"label": label}, space):
                space["label"] = self.last[space["id"]] = label

    def _kept(self, after: dict[str, Any], before: dict[str, Any]) -> bool:
        body = {
            "edit_id": new_id(),
            "actor": self._actor,
            "label": "Rename",
            "base_revision": self._known,
            "known_revision": self._known,
            "operations": [{"op": "put", "element": after}],
            "seen": [dict(before)],
        }
        while True:
            self.sent += 1
            try:
                status, said = asked(self._service.port, f"/api/jobs/{self._job_id}/edits", body, 15)
            except OSError:
                status, said = 0, b""
            if status == 200:
                self.acknowledged.append(body["edit_id"])
                self._known = said["revision"]
                return True
            if status not in (0, 503, 500):
                raise RuntimeError(f"an edit was refused: {status} {said!r}")
            if self._over.wait(_AGAIN_S):
                return False


def kill_one(service: Service, chance: random.Random) -> str:
    """Kill the database or the web process, and start again what is missing; returns which it was."""
    what = chance.choice(("database", "web"))
    os.kill(service.database.pid if what == "database" else service.web.pid, signal.SIGKILL)
    until = time.monotonic() + _BACK_S
    while time.monotonic() < until:
        service.look()
        try:
            if asked(service.port, "/api/jobs", timeout_s=5)[0] == 200:
                return what
        except OSError:
            pass
        time.sleep(0.05)
    raise RuntimeError(f"after the {what} was killed nothing answered for {_BACK_S:.0f} s")


def main() -> None:
    """Kill so many times as the first argument says, and say what was lost."""
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    chance = random.Random(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    with served() as service:
        database = Database(service.url)
        with database.transaction() as session:
            kept = create_job(session, tern_lane())
        spaces = [space.model_dump(mode="json") for space in kept.job.of(Space)]
        over = threading.Event()
        editors = [Editor(service, kept.id, spaces[n::_EDITORS], over) for n in range(_EDITORS)]
        for editor in editors:
            editor.start()
        killed: Counter[str] = Counter()
        back_s = []
        for _ in range(kills):
            time.sleep(chance.uniform(0.05, 0.8))
            begun = time.monotonic()
            killed[kill_one(service, chance)] += 1
            back_s.append(time.monotonic() - begun)
        over.set()
        for editor in editors:
            editor.join()
        report(database, kept.id, editors, killed, sorted(back_s))
        database.engine.dispose()


def report(
    database: Database, job_id: str, editors: list[Editor], killed: Counter[str], back_s: list[float]
) -> None:
    """Print what was killed, sent, kept and lost; exit with 1 when anything was lost or doubled."""
    with database.transaction() as session:
        logged = Counter(session.scalars(select(ChangeRow.edit_id).where(ChangeRow.job_id == job_id)))
        job = load_job(session, job_id)
        wrong = examine(session, job_id)
    acknowledged = [edit_id for editor in editors for edit_id in editor.acknowledged]
    lost = [edit_id for edit_id in acknowledged if edit_id not in logged]
    doubled = [edit_id for edit_id, times in logged.items() if times > 1]
    stale = [
        key for editor in editors for key, label in editor.last.items() if job.job.by_id[key].label != label
    ]
    print(f"killed: {dict(killed)}; back after {back_s[len(back_s) // 2]:.1f} s, at most {back_s[-1]:.1f} s")
    print(f"edits sent {sum(e.sent for e in editors)} times, acknowledged {len(acknowledged)}")
    print(f"lost {len(lost)}, doubled {len(doubled)}, elements that are not as acknowledged {len(stale)}")
    print(f"revision {job.revision}, changes {sum(logged.values())}; the doctor says: {wrong or 'sound'}")
    if lost or doubled or wrong or job.revision != sum(logged.values()) or len(stale) > len(editors):
        sys.exit(1)


if __name__ == "__main__":
    main()
