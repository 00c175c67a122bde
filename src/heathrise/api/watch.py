"""Tells every open window of its job's newest revision: one question to the database for all of them."""

import asyncio
from collections import defaultdict
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager

import structlog

log = structlog.get_logger(__name__)
_POLL_S = 0.3
# Said of a job that is no longer there.
GONE = -1


# Returns the revisions of those of some jobs that are there. Raises when the database does not answer.
Look = Callable[[frozenset[str]], dict[str, int]]


class Watch:
    """Asks for the revisions of the jobs that somebody listens to, and tells who listens when one changes."""

    def __init__(self, look: Look):
        self._look = look
        self._ears: dict[str, set[asyncio.Queue[int]]] = defaultdict(set)
        self._last: dict[str, int] = {}
        self._asking: asyncio.Task[None] | None = None

    @asynccontextmanager
    async def listen(self, job_id: str) -> AsyncIterator["asyncio.Queue[int]"]:
        """Yield a queue that is given the job's revision now and whenever it changes."""
        ear: asyncio.Queue[int] = asyncio.Queue()
        if job_id in self._last:
            ear.put_nowait(self._last[job_id])
        self._ears[job_id].add(ear)
        if self._asking is None or self._asking.done():
            self._asking = asyncio.create_task(self._ask())
        try:
            yield ear
        finally:
            self._ears[job_id].discard(ear)
            if not self._ears[job_id]:
                del self._ears[job_id]
                self._last.pop(job_id, None)

    async def _ask(self) -> None:
        """Ask until nobody listens. A database that is away is asked again: windows stay open meanwhile."""
        while self._ears:
            wanted = frozenset(self._ears)
            try:
                found = await asyncio.to_thread(self._look, wanted)
            except Exception as error:
                log.warning("watch_waits", kind=type(error).__name__)
            else:
                for job_id in wanted:
                    self._tell(job_id, found.get(job_id, GONE))
            await asyncio.sleep(_POLL_S)

    def _tell(self, job_id: str, revision: int) -> None:
        if job_id not in self._ears or self._last.get(job_id) == revision:
            return
        self._last[job_id] = revision
        for ear in self._ears[job_id]:
            ear.put_nowait(revision)
