"""`python -m benchmarks.windows 300`: so many open windows and sixty slow uploads, while somebody works."""

import asyncio
import statistics
import sys
import threading
import time

import psutil
from demo.tern_lane import tern_lane

from benchmarks.kills import Editor
from benchmarks.served import asked, served
from heathrise.core.job import Space
from heathrise.store.database import Database
from heathrise.store.jobs import create_job

_UPLOADS = 60
_ASKED = 400
_WANTED_MS = 100


class Crowd:
    """Windows that listen and uploads that dribble, in a loop of their own thread."""

    def __init__(self, port: int, jobs: list[str], windows: int):
        self._port, self._jobs, self._windows = port, jobs, windows
        self.heard = 0
        self.listening = threading.Barrier(2)
        self._over = threading.Event()
        self._thread = threading.Thread(target=lambda: asyncio.run(self._run()), daemon=True)

    def __enter__(self) -> "Crowd":
        self._thread.start()
        self.listening.wait(60)
        return self

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join(30)

    async def _run(self) -> None:
        ready = asyncio.Semaphore(0)
        work = [self._window(self._jobs[n % len(self._jobs)], ready) for n in range(self._windows)]
        work += [self._upload(self._jobs[0]) for _ in range(_UPLOADS)]
        tasks = [asyncio.create_task(one) for one in work]
        for _ in range(self._windows):
            await ready.acquire()
        self.listening.wait(60)
        while not self._over.is_set():
            await asyncio.sleep(0.1)
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)

    async def _window(self, job_id: str, ready: asyncio.Semaphore) -> None:
        reader, writer = await asyncio.open_connection("127.0.0.1", self._port)
        writer.write(f"GET /api/jobs/{job_id}/events HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n".encode())
        first = True
        while True:
            line = await reader.readline()
            if line.startswith(b"data:"):
                self.heard += 1
                if first:
                    ready.release()
                first = False

    async def _upload(self, job_id: str) -> None:
        _, writer = await asyncio.open_connection("127.0.0.1", self._port)
        head = (
            f"POST /api/jobs/{job_id}/pictures HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 9000000\r\n\r\n"
        )
        writer.write(head.encode())
        while True:
            writer.write(b"x" * 100)
            await writer.drain()
            await asyncio.sleep(1)


def main() -> None:
    """Measure plain requests beside the crowd, and beside nobody."""
    windows = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    with served() as service:
        database = Database(service.url)
        with database.transaction() as session:
            kept = [create_job(session, tern_lane()) for _ in range(5)]
        database.engine.dispose()
        alone = plain_ms(service.port, kept[0].id)
        over = threading.Event()
        spaces = [space.model_dump(mode="json") for space in kept[0].job.of(Space)]
        person = Editor(service, kept[0].id, spaces, over)
        with Crowd(service.port, [job.id for job in kept], windows) as crowd:
            quiet = plain_ms(service.port, kept[0].id)
            pace = threading.Thread(target=_paced, args=(person, over))
            pace.start()
            busy = plain_ms(service.port, kept[0].id)
            over.set()
            pace.join()
            process = psutil.Process(service.web.pid)
            threads, memory_mb = process.num_threads(), process.memory_info().rss / 1e6
            heard = crowd.heard
    p95 = {
        name: statistics.quantiles(took, n=20)[18]
        for name, took in (("alone", alone), ("beside", quiet), ("busy", busy))
    }
    print(
        f"{windows} windows and {_UPLOADS} slow uploads: {threads} threads, {memory_mb:.0f} MB, {heard} revisions heard"
    )
    print(
        f"a plain request, p95: alone {p95['alone']:.0f} ms, beside them {p95['beside']:.0f} ms, while one edits {p95['busy']:.0f} ms"
    )
    print(f"edits acknowledged meanwhile: {len(person.acknowledged)}")
    if p95["busy"] > _WANTED_MS or heard < windows * (1 + len(person.acknowledged) // 5):
        sys.exit(1)


def _paced(person: Editor, over: threading.Event) -> None:
    number = 0
    while not over.wait(0.5):
        number += 1
        space = person._spaces[number % len(person._spaces)]
        after = space | {"label": f"Name {number}"}
        if person._kept(after, space):
            space["label"] = after["label"]


def plain_ms(port: int, job_id: str) -> list[float]:
    """Return how long each of many plain requests took. [ms]"""
    took = []
    actor = "00000000-0000-7000-8000-000000000001"
    for _ in range(_ASKED):
        begun = time.perf_counter()
        status, _ = asked(port, f"/api/jobs/{job_id}/history?actor={actor}")
        assert status == 200
        took.append((time.perf_counter() - begun) * 1000)
    return took


if __name__ == "__main__":
    main()
