"""The list of faults: what was found wrong on site, where, whose it is and how it stands; every turn of it stays on record."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any

from heathrise.core.job import (
    Fault,
    FaultState,
    FaultTurn,
    FoundOtherwise,
    Job,
    LogEntry,
    Point,
    Record,
    Settled,
)
from heathrise.core.sums import Noun

OPEN: frozenset[FaultState] = frozenset({"open", "mended"})


class FaultStep(Noun):
    """How a fault stood from then on, who said so and why."""

    state: FaultState
    by: str
    at: datetime
    text: str


class FaultShown(Noun):
    """A fault as it stands. Mended is not yet closed: somebody looks at it again first."""

    record_id: str
    subject: str
    label: str
    text: str
    state: FaultState
    owner: str
    reason: str
    storey_id: str | None
    at: Point | None
    photos: tuple[str, ...]
    by: str
    said: datetime
    steps: tuple[FaultStep, ...]

    @property
    def is_open(self) -> bool:
        """Whether it stands in the way of signing."""
        return self.state in OPEN


class LogbookLine(Noun):
    """A line of the logbook."""

    record_id: str
    entry: str
    text: str
    by: str
    at: datetime
    due: str
    subject: str
    label: str


def label_of(job: Job, subject: str) -> str:
    """Return what a subject of records is called; one that is gone keeps its key."""
    element_id, _, port = subject.partition("/")
    if subject == "job":
        return job.name
    if element_id not in job.by_id:
        return "what is no more on the drawing"
    label: str = job.by_id[element_id].label
    return f"{label} port {port}" if port else label


def spot_of(job: Job, subject: str, given: Fault) -> tuple[str | None, Point | None]:
    """Return where a fault is: as it was marked, else where its subject stands."""
    if given.storey_id in job.by_id and given.at is not None:
        return given.storey_id, given.at
    element: Any = job.by_id.get(subject)
    if element is not None and element.ABOUT.placed == "point":
        spot = job.spot(subject)
        return spot.storey_id, spot.at
    return None, None


def faults_of(job: Job, records: Iterable[Record]) -> tuple[FaultShown, ...]:
    """Return every fault, the open ones first, the newest first among each."""
    after = _after(records)
    found = [
        _shown(job, one, one.measured, after.get(one.id, ()))
        for one in records
        if isinstance(one.measured, Fault)
    ]
    return tuple(sorted(found, key=lambda fault: (not fault.is_open, -fault.said.timestamp())))


def _after(records: Iterable[Record]) -> Mapping[str, Sequence[Record]]:
    """Return what was said later of each record, oldest first."""
    found: dict[str, list[Record]] = defaultdict(list)
    for one in records:
        if one.about is not None:
            found[one.about].append(one)
    return {key: sorted(some, key=lambda one: (one.when, one.id)) for key, some in found.items()}


def _shown(job: Job, record: Record, fault: Fault, later: Sequence[Record]) -> FaultShown:
    turns = [(one, one.measured) for one in later if isinstance(one.measured, FaultTurn)]
    state: FaultState = turns[-1][1].state if turns else "open"
    owner = next((turn.owner for _, turn in reversed(turns) if turn.owner), fault.owner)
    storey_id, at = spot_of(job, record.subject, fault)
    return FaultShown(
        record_id=record.id,
        subject=record.subject,
        label=label_of(job, record.subject),
        text=record.text,
        state=state,
        owner=owner,
        reason=turns[-1][0].text if turns else "",
        storey_id=storey_id,
        at=at,
        photos=tuple(one.photo for one in (record, *later) if one.photo is not None),
        by=record.by,
        said=record.when,
        steps=tuple(
            FaultStep(state=turn.state, by=one.by, at=one.when, text=one.text) for one, turn in turns
        ),
    )


def unsettled(records: Sequence[Record]) -> tuple[Record, ...]:
    """Return what was found otherwise and nobody has taken or left yet, oldest first."""
    settled = {one.about for one in records if isinstance(one.measured, Settled)}
    return tuple(one for one in records if isinstance(one.measured, FoundOtherwise) and one.id not in settled)


def logbook(job: Job, records: Iterable[Record]) -> tuple[LogbookLine, ...]:
    """Return the logbook, the newest line first."""
    lines = [
        LogbookLine(
            record_id=one.id,
            entry=one.measured.entry,
            text=one.text,
            by=one.by,
            at=one.when,
            due=one.measured.due.isoformat() if one.measured.due else "",
            subject=one.subject,
            label=label_of(job, one.subject),
        )
        for one in records
        if isinstance(one.measured, LogEntry)
    ]
    return tuple(sorted(lines, key=lambda line: line.at, reverse=True))
