"""What is derived from a job, what it read, and what an edit makes stale. Knows nothing of the trade.

A derived value is a function of a `Look` and of its arguments, marked with `@derived`. What it reads of
the source it notes by key; what it asks of other derived values is noted as well. After an edit only
values that read a key that changed are looked at again, and of those only they run whose readings really
changed: where a value comes out equal, nothing above it runs (early cut-off). A value that raises keeps
its exception as its outcome, so that what stands beside it is not lost.

Source of the scheme: A. Mokhov, N. Mitchell, S. Peyton Jones, "Build systems a la carte", 2018: a
suspending scheduler with verifying traces.
"""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Callable, Collection, Hashable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, fields, is_dataclass
from functools import update_wrapper
from traceback import format_exception
from typing import Any, Concatenate, NamedTuple, ParamSpec, TypeVar

import numpy as np
import structlog

P = ParamSpec("P")
R = TypeVar("R")
Key = Hashable
log = structlog.get_logger(__name__)


class Superseded(Exception):
    """A newer revision is waiting; what was begun on the old one stopped between two values."""


@dataclass(frozen=True)
class Derived:
    """A function whose values a memo keeps. Two are the same when their functions are.

    `bulky` values are arrays: they leave when room is short and are worked out again when asked for.
    """

    name: str
    work: Callable[..., Any]
    bulky: bool = False

    def __call__(self, look: Look, *args: Any) -> Any:
        """Return the value, from the memo the look belongs to."""
        return look.ask(self, args)


def derived(work: Callable[Concatenate[Look, P], R]) -> Callable[Concatenate[Look, P], R]:
    """Mark a function of a look as derived; calling it asks the memo."""
    return _marked(work, bulky=False)


def bulky(work: Callable[Concatenate[Look, P], R]) -> Callable[Concatenate[Look, P], R]:
    """Mark a function as derived whose values are arrays, kept only while there is room."""
    return _marked(work, bulky=True)


def _marked(work: Callable[Concatenate[Look, P], R], bulky: bool) -> Callable[Concatenate[Look, P], R]:
    # Named by package and function: "cabling.run_plan".
    made = Derived(f"{work.__module__.split('.')[-2]}.{work.__name__}", work, bulky)

    def ask(look: Look, /, *args: P.args, **_: P.kwargs) -> R:
        found: R = look.ask(made, args)
        return found

    update_wrapper(ask, work)
    return ask


@dataclass(eq=False)
class Entry:
    """One value with what it read. `suspect` says that something under it may have changed."""

    fn: Derived
    args: tuple[Any, ...]
    value: Any = None
    error: Exception | None = None
    reads: tuple[tuple[Key, int], ...] = ()
    asked: tuple[tuple[Entry, int], ...] = ()
    changed_at: int = -1
    known: bool = False
    absent: bool = False
    suspect: bool = False
    readers: set[Entry] = field(default_factory=set)


@dataclass
class _Trace:
    """What one run noted so far."""

    entry: Entry
    reads: dict[Key, int] = field(default_factory=dict)
    asked: dict[Entry, int] = field(default_factory=dict)


class Broken(NamedTuple):
    """A value of many that could not be worked out: of what, and why."""

    fn: str
    subject: str
    error: Exception


class Look:
    """The only way from a derived value to its source and to other derived values; both are noted."""

    def __init__(self, memo: Memo, trace: _Trace | None):
        self._memo = memo
        self._trace = trace

    @property
    def source(self) -> Any:
        """What everything is derived from. Whoever reads it says so by `note`."""
        return self._memo.source

    def note(self, key: Key) -> None:
        """Say that something of the source was read: the value is stale when this key changes."""
        if self._trace is not None:
            self._trace.reads.setdefault(key, self._memo.revision)

    def ask(self, fn: Derived, args: tuple[Any, ...]) -> Any:
        """Return another derived value, noted as asked for. Raises what it raised."""
        entry = self._memo.fresh(fn, args)
        if self._trace is not None:
            self._trace.asked.setdefault(entry, entry.changed_at)
        return self._memo.value(entry)


def gathered(
    look: Look, fn: Callable[[Look, str], R], subjects: Iterable[str]
) -> tuple[list[R], list[Broken]]:
    """Return the value of each subject, and those that broke: one that breaks leaves the rest standing."""
    found: list[R] = []
    broken: list[Broken] = []
    for subject in subjects:
        try:
            found.append(fn(look, subject))
        except Superseded:
            raise
        except Exception as error:
            broken.append(Broken(fn.__name__, subject, error))
    return found, broken


class Memo:
    """What is known of one source at its newest revision. One thread at a time; see `lock`.

    `worked` counts how often each derived function ran, by name, for budgets that tests state.
    """

    def __init__(self, source: Any, revision: int = 0, room_bytes: int = 64 * 2**20):
        self.source = source
        self.room_bytes = room_bytes
        self.revision = revision
        self.lock = threading.RLock()
        self.worked: Counter[str] = Counter()
        self._turn = 0
        self._wanted = revision
        self._entries: dict[tuple[Derived, tuple[Any, ...]], Entry] = {}
        self._readers: dict[Key, set[Entry]] = {}
        self._bulky: dict[Entry, None] = {}
        self._changed: dict[Key, int] = {}

    def __len__(self) -> int:
        return len(self._entries)

    @property
    def look(self) -> Look:
        """A look from outside: nothing is noted."""
        return Look(self, None)

    def want(self, revision: int) -> None:
        """Say that a newer revision waits: work on the older one stops between two values."""
        self._wanted = max(self._wanted, revision)

    def advance(self, source: Any, revision: int, changed: Iterable[Key]) -> None:
        """Take the next revision; `changed` are the keys of the source that differ from the last one."""
        self.source, self.revision = source, revision
        self._turn += 1
        self.want(revision)
        for key in changed:
            self._changed[key] = self._turn
            for entry in self._readers.get(key, ()):
                _suspect(entry)

    @contextmanager
    def tried(self, source: Any, changed: Collection[Key]) -> Iterator[Look]:
        """Look at another source for a while, as an edit would leave it; what both share is not worked out anew."""
        before = self.source
        self.advance(source, self.revision, changed)
        try:
            yield self.look
        finally:
            self.advance(before, self.revision, changed)

    def fresh(self, fn: Derived, args: tuple[Any, ...]) -> Entry:
        """Return an entry that is good at this revision, run only if something it read changed."""
        key = (fn, args)
        entry = self._entries.get(key)
        if entry is None:
            entry = self._entries[key] = Entry(fn, args)
        if not entry.known or (entry.suspect and self._is_stale(entry)):
            self._run(entry)
        entry.suspect = False
        return entry

    def value(self, entry: Entry) -> Any:
        """Return the value of a fresh entry, worked out again when it had to leave. Raises what it raised."""
        if entry.absent:
            entry.value = entry.fn.work(Look(self, None), *entry.args)
            entry.absent = False
        if entry.fn.bulky:
            self._bulky.pop(entry, None)
            self._bulky[entry] = None
        if entry.error is not None:
            # Without the ways it was raised by before: it is kept, and they would grow without end.
            raise entry.error.with_traceback(None)
        return entry.value

    def trim(self, size_of: Callable[[Any], int]) -> None:
        """Let arrays go, the longest unasked first, until the rest has room. [bytes]"""
        total = 0
        for entry in reversed(list(self._bulky)):
            total += 0 if entry.absent else size_of(entry.value)
            if total > self.room_bytes:
                entry.value, entry.absent = None, True
                del self._bulky[entry]

    def _is_stale(self, entry: Entry) -> bool:
        """Say whether anything an entry read has changed since; asks below it first."""
        changed = self._changed
        if any(changed.get(key, 0) > turn for key, turn in entry.reads):
            return True
        return any(self.fresh(below.fn, below.args).changed_at > turn for below, turn in entry.asked)

    def _run(self, entry: Entry) -> None:
        if self._wanted > self.revision:
            raise Superseded(f"revision {self._wanted} is newer than {self.revision}")
        trace = _Trace(entry)
        self.worked[entry.fn.name] += 1
        value, error = None, None
        try:
            value = entry.fn.work(Look(self, trace), *entry.args)
        except Superseded:
            raise
        except Exception as raised:
            error = raised
            if not any(below.error is raised for below in trace.asked):
                _say(entry, raised)
        self._forget_reads(entry)
        entry.reads = tuple((key, self._turn) for key in trace.reads)
        entry.asked = tuple((below, self._turn) for below in trace.asked)
        for key in trace.reads:
            self._readers.setdefault(key, set()).add(entry)
        for below in trace.asked:
            below.readers.add(entry)
        both = entry.known and not entry.absent and entry.error is None and error is None
        if not (both and alike(entry.value, value)):
            entry.value, entry.error, entry.changed_at = value, error, self._turn
        entry.known, entry.absent = True, False

    def _forget_reads(self, entry: Entry) -> None:
        for key, _ in entry.reads:
            self._readers[key].discard(entry)
        for below, _ in entry.asked:
            below.readers.discard(entry)

    def sweep(self) -> None:
        """Drop what nothing asked for any more: values of elements that are gone."""
        gone = [key for key, entry in self._entries.items() if entry.suspect and not entry.readers]
        for key in gone:
            self._forget_reads(self._entries.pop(key))


def _say(entry: Entry, error: Exception) -> None:
    """Log what broke, once and where it did; a plain text, since what the frames hold is large."""
    log.error("value_broke", value=entry.fn.name, of=entry.args, trace="".join(format_exception(error)))


def _suspect(entry: Entry) -> None:
    """Mark an entry and all that asked for it; what is marked already has marked its readers."""
    pending = [entry]
    while pending:
        one = pending.pop()
        if not one.suspect:
            one.suspect = True
            pending += one.readers


def alike(one: Any, other: Any) -> bool:
    """Say whether two values are equal, arrays to the bit."""
    if one is other:
        return True
    if type(one) is not type(other):
        return False
    if isinstance(one, np.ndarray):
        return one.dtype == other.dtype and bool(np.array_equal(one, other, equal_nan=one.dtype.kind == "f"))
    parts = _parts(one)
    return bool(one == other) if parts is None else _all_alike(parts, _parts(other) or ())


def _parts(value: Any) -> tuple[Any, ...] | None:
    """Return what a value is made of, None for one that is compared whole."""
    if isinstance(value, tuple | list):
        return tuple(value)
    if isinstance(value, dict):
        return (*value, *value.values())
    if is_dataclass(value) and type(value).__eq__ is not object.__eq__:
        return tuple(getattr(value, f.name) for f in fields(value))
    return None


def _all_alike(one: tuple[Any, ...], other: tuple[Any, ...]) -> bool:
    return len(one) == len(other) and all(map(alike, one, other))
