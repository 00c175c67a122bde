"""Score what the readers make of a set of files, by their own guess and with two answers."""

import sys
import time
from collections import Counter
from functools import partial
from uuid import uuid4

import numpy as np

from benchmarks.hands.truth import NOTHING, Score, scored
from benchmarks.hands.tuned import Sent
from heathrise.exchange.reading import read_file
from heathrise.exchange.readings import ReadingChoices
from heathrise.exchange.unreadable import Refused


def read(sent: Sent, **asked):
    return read_file(sent.body, ReadingChoices(**asked), lambda: str(uuid4()), "bench").reading


def guessed(sent: Sent) -> tuple[Score, str]:
    try:
        reading = read(sent)
    except Refused as error:
        return NOTHING, str(error)
    return scored(reading, sent.plans, sent.named), reading.unit


def answered(sent: Sent) -> Score:
    """Return the score with two answers: the length of one thing, and which lines are walls where that was wrong."""
    try:
        reading = read(sent)
        true = [w for w, _ in sent.plans[0].walls]
        long = max(float(np.hypot(x2 - x1, y2 - y1)) for x1, y1, x2, y2 in true)
        found = [w for s in reading.proposal.storeys for w in s.walls]
        # A person measures the longest wall on the sheet and says how long it is.
        seen = max((float(np.hypot(w.b.x_m - w.a.x_m, w.b.y_m - w.a.y_m)) for w in found), default=0.0)
        if not seen or reading.metres_per_unit is None:
            return NOTHING
        asked = {"metres_per_unit": reading.metres_per_unit * long / seen} if not reading.scale_known else {}
        roles = {row.name: row.role for row in reading.layers}
        return max(
            (scored(read(sent, **asked, roles=said), sent.plans) for said in _ways(reading, roles)),
            key=lambda s: s.walls - s.false,
        )
    except Refused:
        return NOTHING


def _ways(reading, roles):
    """Yield the roles as guessed, then each doubtful layer taken for walls or left out."""
    yield {}
    for row in reading.layers:
        if row.certainty < 0.9 and row.lines:
            for role in ("wall", "ignore"):
                if role != row.role:
                    yield roles | {row.name: role}


def main() -> None:
    """Print the scores of a set: `tuned`, `unseen`, `lots` or `new`, of the kinds or names that are given."""
    from benchmarks.hands import lots, tuned, unseen  # noqa: PLC0415

    sets = {
        "tuned": tuned.files,
        "unseen": unseen.files,
        "lots": lots.files,
        "photographs": lots.photographs,
        "new": partial(lots.files, 9600, 10),
    }
    name = next((a for a in sys.argv[1:] if a in sets), "tuned")
    only = [a for a in sys.argv[1:] if a not in (*sets, "answers")]
    chosen = [s for s in sets[name]() if not only or s.kind in only or any(o in s.name for o in only)]
    usable: Counter[str] = Counter()
    helped: Counter[str] = Counter()
    for one in chosen:
        start = time.perf_counter()
        score, unit = guessed(one)
        took = time.perf_counter() - start
        ok = score.usable(one.kind)
        usable[one.kind] += ok
        more = ""
        if "answers" in sys.argv:
            better = score if ok else answered(one)
            helped[one.kind] += better.usable(one.kind)
            more = "" if ok else f" with answers {'ok' if better.usable(one.kind) else better.told()}"
        print(
            f"{'ok ' if ok else '-- '}{one.kind:8}{one.name:58}{took:5.1f} s  {score.told()}  [{unit[:60]}]{more}"
        )
    for kind, count in Counter(s.kind for s in chosen).items():
        print(
            f"{name} {kind}: {usable[kind]} of {count} by own guess"
            + (f", {helped[kind]} with two answers" if helped else "")
        )


if __name__ == "__main__":
    main()
