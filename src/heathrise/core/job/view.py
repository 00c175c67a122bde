"""A job as a derived value sees it: what is read of it is noted by key, so that an edit reruns only its readers.

Keys: ("all", kind) any change of a kind; ("is", id) any change of one element; ("of", id, field) one field;
("slice", name) the fields of kinds that a slice names; ("whole",) any element at all; ("record", subject) what was
written down about something; ("records",) anything written down.
"""

from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, NamedTuple, TypeVar, cast

from heathrise.core.deriving import Key, Look
from heathrise.core.job.element import ElementBase
from heathrise.core.job.job import BY_KIND, Element, Job
from heathrise.core.job.onsite import Record
from heathrise.core.job.reading import JobReading

E = TypeVar("E", bound=ElementBase)
WHOLE: Key = ("whole",)
RECORDS: Key = ("records",)


class Slice(NamedTuple):
    """Named fields of kinds, read as one: what a computation looks at, and nothing a person writes beside it."""

    name: str
    fields: Mapping[str, frozenset[str]]

    def of(self, job: Job) -> tuple[Element, ...]:
        """Return the elements of a job that it reads, bare, in their own order."""
        read = sorted((e for e in job.elements if e.kind in self.fields), key=lambda e: (e.order, e.id))
        return tuple(map(self.bare, read))

    def bare(self, element: Element) -> Element:
        """Return an element with the slice's fields only; its label is its id, the rest as it starts."""
        cls = type(element)
        kept = {name: getattr(element, name) for name in self.fields[element.kind]}
        return cls.model_construct(id=element.id, label=element.id, order=element.order, **kept)


class JobView(JobReading):
    """Looks like a job; notes what is read of it."""

    def __init__(self, look: Look):
        self._look = look
        self._job: Job = look.source

    @property
    def name(self) -> str:
        """The job's name; jobs are not renamed by edits."""
        return self._job.name

    def of(self, cls: type[E]) -> tuple[E, ...]:
        """Return the elements of one class; noted as any change of their kind, of one-off kinds by field."""
        if cls.ABOUT.single:
            self._look.note(("here", cls.model_fields["kind"].default))
            return tuple(cast(E, _Fields(self._look, element)) for element in self._job.of(cls))
        self._look.note(("all", cls.model_fields["kind"].default))
        return self._job.of(cls)

    @cached_property
    def by_id(self) -> "_ById":
        """Every element by its id; each one looked up is noted."""
        return _ById(self._look, self._job)

    @property
    def elements(self) -> tuple[Element, ...]:
        """Every element; noted as reading the whole job."""
        return self.whole.elements

    def recorded(self, subject: str) -> tuple[Record, ...]:
        """Return what was written down about something; noted as that alone."""
        self._look.note(("record", subject))
        return self._job.recorded(subject)

    @property
    def subjects(self) -> frozenset[str]:
        """What anything was written down about; noted as any record."""
        self._look.note(RECORDS)
        return self._job.subjects

    @property
    def records(self) -> tuple[Record, ...]:
        """Everything that was written down; noted as any record."""
        self._look.note(RECORDS)
        return self._job.records

    @property
    def whole(self) -> Job:
        """The job itself, for what has to change it to judge it; noted as reading all of it."""
        self._look.note(WHOLE)
        return self._job

    def slice(self, part: Slice) -> tuple[Element, ...]:
        """Return the elements of a slice, bare, in their own order."""
        self._look.note(("slice", part.name))
        return part.of(self._job)


class _ById(Mapping[str, Element]):
    """Elements by id, each noted as it is looked up."""

    def __init__(self, look: Look, job: Job):
        self._look = look
        self._job = job

    def __getitem__(self, key: str) -> Element:
        self._look.note(("is", key))
        return self._job.by_id[key]

    def __iter__(self) -> Iterator[str]:
        self._look.note(WHOLE)
        return iter(self._job.by_id)

    def __len__(self) -> int:
        self._look.note(WHOLE)
        return len(self._job.by_id)


class _Fields:
    """One element of which each field read is noted by itself; anything else notes all of it."""

    def __init__(self, look: Look, element: ElementBase):
        object.__setattr__(self, "_look", look)
        object.__setattr__(self, "_element", element)

    def __getattr__(self, name: str) -> Any:
        look, element = self._look, self._element
        look.note(("of", element.id, name) if name in type(element).model_fields else ("is", element.id))
        return getattr(element, name)


def field_of(look: Look, element_id: str, name: str) -> Any:
    """Return one field of an element, noted as that field alone. Raises KeyError."""
    look.note(("of", element_id, name))
    return getattr(look.source.by_id[element_id], name)


def fields_of(look: Look, cls: type[E], element_id: str) -> E:
    """Return an element of which each field read is noted by itself. Raises KeyError."""
    look.note(("here", cls.model_fields["kind"].default))
    return cast(E, _Fields(look, look.source.by_id[element_id]))


def ids_of(look: Look, cls: type[ElementBase]) -> tuple[str, ...]:
    """Return the ids of a class in their own order, noted as what is there and in which order."""
    look.note(("here", cls.model_fields["kind"].default))
    return tuple(element.id for element in look.source.of(cls))


def slice_of(look: Look, part: Slice) -> tuple[Element, ...]:
    """Return the elements of a slice, bare, in their own order."""
    return JobView(look).slice(part)


def job_of(look: Look) -> Job:
    """Return the job as a derived value may read it. It has a job's readings, not its methods of change."""
    return cast(Job, JobView(look))


def changed_keys(before: Job, after: Job, slices: Sequence[Slice]) -> set[Key]:
    """Return the keys that differ between two revisions of a job; elements they share cost nothing."""
    keys = _recorded_since(before, after)
    old_by, new_by = before.by_id, after.by_id
    touched = [key for key, element in new_by.items() if old_by.get(key) is not element]
    touched += [key for key in old_by if key not in new_by]
    for element_id in touched:
        old, new = old_by.get(element_id), new_by.get(element_id)
        one = new if new is not None else old
        if one is None or old == new:
            continue
        fields = _differing(old, new) if old is not None and new is not None else None
        keys |= {WHOLE, ("all", one.kind), ("is", element_id)}
        if fields is None or "order" in fields:
            keys.add(("here", one.kind))
        if fields is None:
            fields = set(BY_KIND[one.kind].model_fields)
        keys |= {("of", element_id, field) for field in fields}
        read = ((part.name, part.fields.get(one.kind)) for part in slices)
        keys |= {("slice", name) for name, kept in read if kept is not None and fields & (kept | _ORDER)}
    return keys


def _recorded_since(before: Job, after: Job) -> set[Key]:
    """Return the keys of what was written down between two revisions; records only ever come."""
    if before.records is after.records:
        return set()
    known = {record.id for record in before.records}
    new = [record for record in after.records if record.id not in known]
    return {RECORDS, *(("record", record.subject) for record in new)} if new else set()


_ORDER = frozenset({"order"})


def _differing(old: Element, new: Element) -> set[str]:
    return {name for name in type(old).model_fields if getattr(old, name) != getattr(new, name)}
