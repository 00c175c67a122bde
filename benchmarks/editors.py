"""`python -m benchmarks.editors 60`: twenty people on one job, an edit a second each, for so many seconds."""

import statistics
import sys
import threading
import time

from demo.tern_lane import tern_lane

from benchmarks.kills import Editor
from benchmarks.served import served
from heathrise.core.job import Space
from heathrise.store.database import Database
from heathrise.store.doctor import examine
from heathrise.store.jobs import create_job, revision_of

_PEOPLE = 20
_BETWEEN_S = 1.0
_WANTED_MS = 300


class Person(Editor):
    """An editor who thinks between two edits; notes how long each took to be acknowledged."""

    def __init__(self, *given: object):
        super().__init__(*given)  # type: ignore[arg-type]
        self.took_ms: list[float] = []

    def _kept(self, after: dict, before: dict) -> bool:  # type: ignore[type-arg]
        begun = time.perf_counter()
        kept = super()._kept(after, before)
        if kept:
            self.took_ms.append((time.perf_counter() - begun) * 1000)
        self._over.wait(_BETWEEN_S)
        return kept


def main() -> None:
    """Edit for so long as the first argument says, and print how long an edit took and whether any was lost."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60
    with served() as service:
        database = Database(service.url)
        with database.transaction() as session:
            kept = create_job(session, tern_lane())
        spaces = [space.model_dump(mode="json") for space in kept.job.of(Space)]
        over = threading.Event()
        # More people than spaces: some share one, and their edits of its label meet.
        people = [Person(service, kept.id, [dict(spaces[n % len(spaces)])], over) for n in range(_PEOPLE)]
        for n, person in enumerate(people):
            if n >= len(spaces):
                person._spaces[0] |= {"people": n}
            person.start()
            time.sleep(_BETWEEN_S / _PEOPLE)
        time.sleep(seconds)
        over.set()
        for person in people:
            person.join()
        with database.transaction() as session:
            revision, wrong = revision_of(session, kept.id), examine(session, kept.id)
        database.engine.dispose()
    took = sorted(ms for person in people for ms in person.took_ms)
    acknowledged = sum(len(person.acknowledged) for person in people)
    p95 = statistics.quantiles(took, n=20)[18]
    print(
        f"{_PEOPLE} people, {acknowledged} edits acknowledged, revision {revision}; the doctor says: {wrong or 'sound'}"
    )
    print(f"an edit: median {statistics.median(took):.0f} ms, p95 {p95:.0f} ms, worst {took[-1]:.0f} ms")
    if wrong or acknowledged != revision or p95 > _WANTED_MS:
        sys.exit(1)


if __name__ == "__main__":
    main()
