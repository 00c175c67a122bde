"""How far the work is: each task with what was written down at it. Two who ticked the same offline are both named."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import datetime

from heathrise.core.job import Record
from heathrise.core.sums import Noun


class TaskDone(Noun):
    """A task as its records leave it. `by` are all who ticked it since it was last open; `notes`, `numbers` and `photos` what
    else was written down there; `apart` says that numbers of several people do not agree.
    """

    task: str
    done: bool
    by: tuple[str, ...]
    at: datetime | None
    notes: tuple[str, ...]
    numbers: tuple[float, ...]
    photos: tuple[str, ...]
    apart: bool


def tasks_done(records: Iterable[Record]) -> dict[str, TaskDone]:
    """Return how every task stands that anything was written down at."""
    by_task: dict[str, list[Record]] = defaultdict(list)
    for one in records:
        if one.task is not None:
            by_task[one.task].append(one)
    return {
        task: _stands(task, sorted(some, key=lambda one: (one.when, one.id)))
        for task, some in by_task.items()
    }


def _stands(task: str, records: Sequence[Record]) -> TaskDone:
    ticks: list[Record] = []
    for one in records:
        if one.kind == "done":
            ticks.append(one)
        elif one.kind == "undone":
            ticks = []
    numbers = {one.by: one.number for one in records if one.number is not None}
    return TaskDone(
        task=task,
        done=bool(ticks),
        by=tuple(dict.fromkeys(one.by for one in ticks)),
        at=ticks[-1].when if ticks else None,
        notes=tuple(one.text for one in records if one.text),
        numbers=tuple(one.number for one in records if one.number is not None),
        photos=tuple(one.photo for one in records if one.photo is not None),
        apart=len({round(number, 1) for number in numbers.values()}) > 1,
    )
