"""Score what the readers make of a set of files, by their own guess and with two answers."""

import sys
import time
from collections.abc import Sequence
from uuid import uuid4

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


def main() -> None:
    from benchmarks.hands import tuned  # noqa: PLC0415

    sets: dict[str, Sequence[Sent]] = {"tuned": tuned.files()}
    if "unseen" in sys.argv:
        from benchmarks.hands import unseen  # noqa: PLC0415

        sets = {"unseen": unseen.files()}
    only = [a for a in sys.argv[1:] if a != "unseen"]
    for name, sent in sets.items():
        usable = 0
        chosen = [s for s in sent if not only or s.kind in only or any(o in s.name for o in only)]
        for one in chosen:
            start = time.perf_counter()
            score, unit = guessed(one)
            ok = score.usable(one.kind)
            usable += ok
            print(
                f"{'ok ' if ok else '-- '}{one.kind:8}{one.name:52}{time.perf_counter() - start:5.1f} s  {score.told()}  [{unit[:60]}]"
            )
        print(f"{name}: {usable} of {len(chosen)} usable by own guess")


if __name__ == "__main__":
    main()
