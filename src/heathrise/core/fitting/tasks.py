"""The tasks of a job: what is done, where, after what, how long, with what care; made from the library's steps."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from heathrise.core.effort.work import Work, hours_h
from heathrise.core.job import Job, Ordering, Point
from heathrise.core.library import TaskStep, library
from heathrise.core.sums import Noun

# Higher than this a person stands on something. [m]
ON_A_LADDER_M = 2.0


class Fact(Noun):
    """One thing to know on the spot."""

    label: str
    value: str


def fact(label: str, value: str) -> Fact:
    """Return a fact."""
    return Fact(label=label, value=value)


class Task(Noun):
    """One thing to do. `after` are keys of tasks that come first; `subjects` what it is about, the first one mainly; `hours` are
    of all people together, `cautions` names of the library's.
    """

    key: str
    step: str
    label: str
    text: str
    trade: str
    storey_id: str | None
    storey: str
    space: str
    at: Point | None
    height_m: float | None
    subjects: tuple[str, ...]
    hours: float
    people: int
    loud: bool
    outdoors: bool
    cautions: tuple[str, ...]
    records: tuple[str, ...]
    facts: tuple[Fact, ...]
    after: tuple[str, ...]

    @property
    def lasts_h(self) -> float:
        """How long it lasts with as many people as it takes. [h]"""
        return self.hours / self.people


class Made(NamedTuple):
    """What a step is made for: a task in the making. `work` names the pieces of work its hours come from (task, subject)."""

    subject: str
    label: str
    words: Mapping[str, str]
    subjects: tuple[str, ...] = ()
    work: tuple[tuple[str, str], ...] = ()
    storey_id: str | None = None
    storey: str = ""
    space: str = ""
    at: Point | None = None
    height_m: float | None = None
    outdoors: bool = False
    facts: tuple[Fact, ...] = ()
    share: float = 1.0


@dataclass(frozen=True)
class Hours:
    """How long each piece of work takes, by task and what it is on. [h]"""

    by_work: Mapping[tuple[str, str], float]

    @classmethod
    def of(cls, ordering: Ordering, work: Iterable[Work]) -> "Hours":
        """Return the hours of every piece of work; what is split over storeys is one."""
        found: dict[tuple[str, str], float] = defaultdict(float)
        for one in work:
            found[one.task, one.subject] += hours_h(ordering, one)
        return cls(dict(found))


def task_of(
    step: str, row: TaskStep, made: Made, hours: Hours, always: Sequence[str], after: tuple[str, ...]
) -> Task:
    """Return a task with what it waits for."""
    names = [_filled(name, made.words) for name in (*row.cautions, *always)]
    worked = sum(hours.by_work.get(one, 0.0) for one in made.work if one[0] in row.labour) * made.share
    return Task(
        key=f"{step}:{made.subject}",
        step=step,
        label=f"{row.name}: {made.label}" if made.label else row.name,
        text=_filled(row.text, made.words),
        trade=row.trade,
        storey_id=made.storey_id,
        storey=made.storey,
        space=made.space,
        at=made.at,
        height_m=made.height_m,
        subjects=made.subjects,
        hours=round(worked, 3),
        people=row.people,
        loud=row.loud,
        outdoors=made.outdoors,
        cautions=tuple(dict.fromkeys(name for name in names if name)),
        records=row.records,
        facts=made.facts,
        after=after,
    )


def _filled(text: str, words: Mapping[str, str]) -> str:
    """Return a text with its words in braces filled in; what nothing is said of is left out."""
    return text.format_map(defaultdict(str, words)) if "{" in text else text


def in_order(job: Job, made: Mapping[str, Sequence[Made]], hours: Hours) -> tuple[Task, ...]:
    """Return all tasks in the order of the steps, each with what it waits for."""
    always = _ALWAYS.get(job.site.site_kind, ())
    tasks: dict[str, tuple[Task, ...]] = {}
    for step, row in library().tasks.items():
        waits, always_of = _Waits(row, tasks), always if row.loud else ()
        tasks[step] = tuple(
            task_of(step, row, one, hours, always_of, waits.of(one.subjects)) for one in made[step]
        )
    return tuple(task for some in tasks.values() for task in some)


_ALWAYS = {"school": ("children",), "clinic": ("infection",)}


class _Waits:
    """What tasks of a step wait for: all tasks of the steps `after`, and of the steps `same` those about one thing with
    them - the one is about what the other is mainly about.
    """

    def __init__(self, row: TaskStep, before: Mapping[str, Sequence[Task]]):
        self._all = [task.key for step in row.after for task in _handed_on(step, before)]
        self._mainly: dict[str, list[str]] = defaultdict(list)
        self._about: dict[str, list[str]] = defaultdict(list)
        for task in (task for step in row.same for task in before[step]):
            for n, subject in enumerate(task.subjects):
                self._about[subject].append(task.key)
                if not n:
                    self._mainly[subject].append(task.key)

    def of(self, subjects: Sequence[str]) -> tuple[str, ...]:
        """Return the keys of what a task about these waits for."""
        found = [*self._all]
        if subjects:
            found += self._about[subjects[0]]
        for subject in subjects:
            found += self._mainly[subject]
        return tuple(dict.fromkeys(found))


def _handed_on(step: str, before: Mapping[str, Sequence[Task]]) -> list[Task]:
    """Return the tasks of a step; where a job has none of it, what these would have waited for."""
    if before[step]:
        return list(before[step])
    return [task for earlier in library().tasks[step].after for task in _handed_on(earlier, before)]
