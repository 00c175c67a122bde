"""When each task is done and by whom: the critical path, and the days of a crew that does one thing after another.

Days count from the one the work begins on; loud work waits for the hours when nobody is there to hear it.

References
----------
Critical path: J. Kelley and M. Walker, 1959. The days: a serial schedule (J. Kelley, 1963) - tasks in the order of the
steps, each as soon as what it waits for is done and enough people are free.
"""

from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import count

from heathrise.core.fitting.tasks import Task
from heathrise.core.job import Fitting, Ordering, Site
from heathrise.core.library import Caution, library
from heathrise.core.sums import Noun, Sum, SumLine

_H = 24.0
_DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
# Nothing is planned further ahead than this; what would be is said to have no day. [days]
_HORIZON = 400
_SLACK_H = 1e-6


class Planned(Noun):
    """When a task is done: `day` counts from the first, hours of that day; by whom; how long it may wait.

    `held` says that a person put it there; `late` that what it waits for is done after the day it is held on.
    """

    key: str
    day: int
    on: date
    from_h: float
    to_day: int
    to_h: float
    who: tuple[str, ...]
    slack_h: float
    critical: bool
    held: bool
    late: bool


class FitPlan(Noun):
    """The tasks with their days. `critical_sum` is the longest chain of tasks, however many people come; `astray` are keys
    of tasks that a person held and the job has no more.
    """

    tasks: tuple[Task, ...]
    planned: tuple[Planned, ...]
    begins: date
    ends: date
    days: int
    day_ends_h: float
    evening_ends_h: float
    crew: tuple[str, ...]
    critical_sum: Sum
    cautions: dict[str, Caution]
    astray: tuple[str, ...]


@dataclass(frozen=True)
class Calendar:
    """When work is done: windows of hours since midnight before the first day."""

    begins: date
    site: Site
    starts_h: float
    day_h: float
    loud_h: float

    def windows(self, loud: bool) -> Iterator[tuple[float, float]]:
        """Yield windows of work, for loud work those in which nobody is there."""
        for day in range(_HORIZON):
            weekday = _DAYS[(self.begins + timedelta(days=day)).weekday()]
            if weekday in ("sat", "sun"):
                continue
            usual = (self.starts_h, self.starts_h + self.day_h)
            is_open = weekday in self.site.open_days
            evening = (float(self.site.closes_h), self.site.closes_h + self.loud_h)
            start, end = evening if loud and is_open and self.loud_h else usual
            yield day * _H + start, day * _H + end

    def day_of(self, at_h: float) -> int:
        """Return on which day an hour is."""
        return int(at_h // _H)


class _Windows:
    """The windows of a calendar, looked up from an hour on."""

    def __init__(self, calendar: Calendar, loud: bool):
        some = tuple(calendar.windows(loud))
        self._begins, self._ends = [begin for begin, _ in some], [end for _, end in some]

    def place(self, from_h: float, hours: float) -> tuple[float, float] | None:
        """Return (begin, end) of so many hours of work from an hour on; it rests outside the windows."""
        n = bisect_right(self._ends, from_h + 1e-9)
        if n == len(self._ends):
            return None
        begin = at = max(self._begins[n], from_h)
        while hours > self._ends[n] - at + 1e-9:
            hours -= self._ends[n] - at
            n += 1
            if n == len(self._ends):
                return None
            at = self._begins[n]
        return begin, at + hours


def fit_plan(tasks: Sequence[Task], ordering: Ordering, fitting: Fitting, site: Site, today: date) -> FitPlan:
    """Return when each task is done. The work begins on the order's day, else on the next Monday after `today`."""
    begins = ordering.begins or today + timedelta(days=7 - today.weekday())
    crew = crew_of(ordering, fitting)
    calendar = Calendar(begins, site, fitting.starts_h, ordering.day_h, fitting.loud_h)
    early, late = _chained(tasks)
    longest = max((early[task.key] + task.lasts_h for task in tasks), default=0.0)
    slack = {task.key: max(0.0, late[task.key] - early[task.key]) for task in tasks}
    planned = tuple(_scheduled(tasks, calendar, crew, fitting, slack))
    last = max((one.to_day for one in planned), default=0)
    return FitPlan(
        tasks=tuple(tasks),
        planned=planned,
        begins=begins,
        ends=begins + timedelta(days=last),
        days=len({one.day for one in planned}),
        day_ends_h=fitting.starts_h + ordering.day_h,
        evening_ends_h=site.closes_h + fitting.loud_h,
        crew=crew,
        critical_sum=_critical(tasks, early, slack, longest),
        cautions=dict(library().cautions),
        astray=tuple(one.task for one in fitting.held if one.task not in early),
    )


def crew_of(ordering: Ordering, fitting: Fitting) -> tuple[str, ...]:
    """Return the names of the crew; those nobody named yet by a number."""
    named = fitting.crew[: ordering.crew]
    free = (f"Person {n}" for n in count(1))
    others = (name for name in free if name not in named)
    return (*named, *(next(others) for _ in range(ordering.crew - len(named))))


def _chained(tasks: Sequence[Task]) -> tuple[dict[str, float], dict[str, float]]:
    """Return (earliest, latest) begin of each task with people without number; no task stands before one it waits for. [h]"""
    lasts = {task.key: task.lasts_h for task in tasks}
    early: dict[str, float] = {}
    ends: dict[str, float] = {}
    for task in tasks:
        early[task.key] = max((ends[key] for key in task.after), default=0.0)
        ends[task.key] = early[task.key] + lasts[task.key]
    late = dict.fromkeys(early, max(ends.values(), default=0.0))
    for task in reversed(tasks):
        begin = late[task.key] = late[task.key] - lasts[task.key]
        for key in task.after:
            late[key] = min(late[key], begin)
    return early, late


def _scheduled(
    tasks: Sequence[Task],
    calendar: Calendar,
    crew: Sequence[str],
    fitting: Fitting,
    slack: Mapping[str, float],
) -> Iterator[Planned]:
    """Yield each task with its day, in the order of the steps: soonest for what it waits for and for who is free."""
    windows = {loud: _Windows(calendar, loud) for loud in (True, False)}
    held = {one.task: one for one in fitting.held}
    busy = {name: _Busy() for name in crew}
    done: dict[str, float] = {}
    for task in tasks:
        hold = held.get(task.key)
        ready = max((done[key] for key in task.after), default=0.0)
        on = hold.on if hold is not None else None
        wanted = max(ready, (on - calendar.begins).days * _H if on is not None else 0.0)
        who, (begin, end) = _people(
            task, busy, windows[task.loud], wanted, hold.who if hold is not None else None
        )
        done[task.key] = end
        for name in who:
            busy[name].take(begin, end)
        day = calendar.day_of(begin)
        yield Planned(
            key=task.key,
            day=day,
            on=calendar.begins + timedelta(days=day),
            from_h=round(begin - day * _H, 2),
            to_day=calendar.day_of(end),
            to_h=round(end - calendar.day_of(end) * _H, 2),
            who=tuple(who),
            slack_h=round(slack[task.key], 2),
            critical=slack[task.key] <= _SLACK_H and task.hours > 0,
            held=hold is not None,
            late=on is not None and day > (on - calendar.begins).days,
        )


class _Busy:
    """When somebody is at work, in spans that do not touch; what is held far ahead leaves the time before it free."""

    def __init__(self) -> None:
        self._begins: list[float] = []
        self._ends: list[float] = []

    def in_the_way(self, begin: float, end: float) -> float | None:
        """Return when somebody is free again who is not for all of a span, None for who is."""
        at = bisect_right(self._ends, begin + _SLACK_H)
        taken = at < len(self._begins) and self._begins[at] < end - _SLACK_H
        return self._ends[at] if taken else None

    def take(self, begin: float, end: float) -> None:
        """Be at work for a span; spans that touch become one."""
        if end - begin <= _SLACK_H:
            return
        at = bisect_right(self._begins, begin)
        self._begins.insert(at, begin)
        self._ends.insert(at, end)
        for n in (at, at - 1):
            if 0 <= n < len(self._begins) - 1 and self._begins[n + 1] <= self._ends[n] + _SLACK_H:
                self._ends[n] = max(self._ends[n], self._ends[n + 1])
                del self._begins[n + 1], self._ends[n + 1]


def _soonest(
    people: Sequence[_Busy], windows: _Windows, from_h: float, lasts_h: float
) -> tuple[float, float]:
    """Return (begin, end) of the first span in which all are free; past the horizon where there is none."""
    while (at := windows.place(from_h, lasts_h)) is not None:
        later = [free for one in people if (free := one.in_the_way(*at)) is not None]
        if not later:
            return at
        from_h = max(later)
    return _HORIZON * _H, _HORIZON * _H


def _people(
    task: Task, busy: Mapping[str, _Busy], windows: _Windows, from_h: float, who: str | None
) -> tuple[list[str], tuple[float, float]]:
    """Return who does a task and when: whoever it is given to, and those who could begin it the soonest."""
    count = min(task.people, len(busy))
    lasts = task.hours / count
    people = list(busy)
    if who is not None or count < len(busy):
        spans = {name: _soonest([one], windows, from_h, lasts) for name, one in busy.items()}
        people = sorted(busy, key=lambda name: (name != who, spans[name][0]))[:count]
        if count == 1:
            return people, spans[people[0]]
    return people, _soonest([busy[name] for name in people], windows, from_h, lasts)


def _critical(
    tasks: Sequence[Task], early: Mapping[str, float], slack: Mapping[str, float], longest: float
) -> Sum:
    """Return the longest chain, one task after another."""
    chain: list[Task] = []
    at = max(tasks, key=lambda task: early[task.key] + task.lasts_h, default=None)
    by_key = {task.key: task for task in tasks}
    while at is not None:
        chain.append(at)
        before = [by_key[key] for key in at.after if slack[key] <= _SLACK_H]
        reach = early[at.key]
        at = next((one for one in before if abs(early[one.key] + one.lasts_h - reach) < 1e-6), None)
    lines = (
        SumLine(
            label=task.label,
            value=round(task.lasts_h, 2),
            unit="h",
            note=f"{task.people} people" if task.people > 1 else "",
        )
        for task in reversed(chain)
        if task.hours
    )
    return Sum(
        label="The longest chain",
        value=round(longest, 1),
        unit="h",
        lines=tuple(lines),
        formula="hours of tasks that wait for each other; more people do not shorten it",
        source="library: tasks, labour; critical path (Kelley and Walker, 1959)",
    )
