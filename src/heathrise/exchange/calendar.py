"""The days of a job as iCalendar: an entry a day and trade, with what is done in it."""

from collections import defaultdict
from datetime import datetime, time, timedelta

from icalendar import Calendar, Event

from heathrise.core.fitting.scheduling import FitPlan, Planned
from heathrise.core.fitting.tasks import Task
from heathrise.core.job import Job
from heathrise.core.units import plain


def calendar_of(job: Job, plan: FitPlan, stamp: datetime) -> bytes:
    """Return the days as iCalendar; times are of the place, whatever its zone is.

    References
    ----------
    RFC 5545.
    """
    by_key = {task.key: task for task in plan.tasks}
    entries: dict[tuple[int, str, bool], list[tuple[Planned, Task]]] = defaultdict(list)
    for one in plan.planned:
        task = by_key[one.key]
        entries[one.day, task.trade, task.loud].append((one, task))
    calendar = Calendar()
    calendar.add("prodid", "-//Heathrise//fitting//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", job.name)
    for (day, trade, loud), some in sorted(entries.items()):
        calendar.add_component(_entry(job, plan, (day, trade, loud), some, stamp))
    written: bytes = calendar.to_ical()
    return written


def _entry(
    job: Job,
    plan: FitPlan,
    what: tuple[int, str, bool],
    some: list[tuple[Planned, Task]],
    stamp: datetime,
) -> Event:
    day, trade, loud = what
    midnight = datetime.combine(plan.begins + timedelta(days=day), time())
    begin = min(one.from_h for one, _ in some)
    stops = plan.evening_ends_h if loud and begin >= plan.day_ends_h else plan.day_ends_h
    end = max(one.to_h if one.to_day == day else stops for one, _ in some)
    event = Event()
    event.add("uid", f"{some[0][1].key.replace(':', '-')}-{day}@heathrise.invalid")
    event.add("dtstamp", stamp)
    event.add("dtstart", midnight + timedelta(minutes=round(begin * 60)))
    event.add("dtend", midnight + timedelta(minutes=round(max(end, begin + 0.25) * 60)))
    event.add("summary", f"{job.name}: {trade}{', loud, nobody there' if loud else ''}")
    event.add("location", job.site.address)
    people = sorted({name for one, _ in some for name in one.who})
    dry = (
        ["Needs dry, calm weather: " + ", ".join(t.label for _, t in some if t.outdoors)]
        if any(t.outdoors for _, t in some)
        else []
    )
    lines = [f"- {task.label}: {plain(task.text)}" for _, task in some]
    event.add("description", "\n".join([", ".join(people), *dry, *lines]))
    return event
