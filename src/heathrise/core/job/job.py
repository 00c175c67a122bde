"""The Job: a name and its elements, immutable. Edits make a new Job (see `edit`).

Each element has an id, a kind, a readable label and an order; references are by id and checked. The same
models are the job file, the API's schema, what the database keeps and what the rules read. Lengths are
metres; x to the right and y down the sheet as on the drawing, z up; heights are above the storey's floor.
"""

from collections.abc import Iterable, Iterator
from datetime import datetime
from functools import cached_property
from itertools import count
from typing import Annotated, Any, Literal, TypeVar, cast, get_args

from pydantic import AfterValidator, Field, TypeAdapter, model_validator

from heathrise.core.job.air import (
    AccessPoint,
    AirModel,
    Antenna,
    Calibration,
    Neighbour,
    SurveyPoint,
    Variant,
    Walk,
)
from heathrise.core.job.brief import Brief, Practice, Site
from heathrise.core.job.buying import Ordering
from heathrise.core.job.drawing import (
    Opening,
    OwnBuildUp,
    Space,
    Storey,
    Underlay,
    Wall,
)
from heathrise.core.job.element import BrokenReference, ElementBase, Label
from heathrise.core.job.fitting import Fitting
from heathrise.core.job.marks import Fixture, Line, NoGo, Planting, Shaft
from heathrise.core.job.network import FixedAddress, Flow, Network, Ssid
from heathrise.core.job.onsite import Photo, Record
from heathrise.core.job.reading import JobReading
from heathrise.core.job.records import Acceptance, Attachment
from heathrise.core.job.wiring import Equipment, Link, OwnModel, Pathway, Rack, Riser, ServiceEntry
from heathrise.core.library import library
from heathrise.core.sums import Noun

JOB_FORMAT: Literal["heathrise-job"] = "heathrise-job"
SCHEMA_VERSION: Literal[2] = 2

Element = Annotated[
    Site
    | Brief
    | Practice
    | Ordering
    | Fitting
    | Storey
    | Underlay
    | Wall
    | Opening
    | Space
    | NoGo
    | Planting
    | Shaft
    | Fixture
    | Line
    | OwnBuildUp
    | Riser
    | ServiceEntry
    | Rack
    | AccessPoint
    | Antenna
    | AirModel
    | Calibration
    | SurveyPoint
    | Neighbour
    | Walk
    | Variant
    | Equipment
    | OwnModel
    | Link
    | Pathway
    | Network
    | Ssid
    | Flow
    | FixedAddress
    | Acceptance,
    Field(discriminator="kind"),
]
ELEMENT: TypeAdapter[Element] = TypeAdapter(Element)
CLASSES: tuple[type[ElementBase], ...] = get_args(get_args(Element)[0])
BY_KIND: dict[str, type[ElementBase]] = {cls.model_fields["kind"].default: cls for cls in CLASSES}
SINGLETONS: tuple[str, ...] = tuple(kind for kind, cls in BY_KIND.items() if cls.ABOUT.single)
# Kinds that lay an item of the job's own over a shelf of the library.
OWN_SHELVES: dict[str, str] = {"build_ups": "build-up", "patterns": "antenna", "equipment": "model"}
E = TypeVar("E", bound=ElementBase)


def _said(record: Record) -> tuple[datetime, str]:
    return record.when, record.id


def references(element: ElementBase) -> Iterator[tuple[str, str, tuple[str, ...]]]:
    """Yield (field, id, kinds allowed) for every reference an element holds."""
    for path, kinds in element.REFS.items():
        for ref in _values(element, path.split(".")):
            yield path, ref, kinds


def _values(value: Any, path: list[str]) -> Iterator[str]:
    """Yield what stands at a path of fields: nothing where one is missing, each where one holds many."""
    if value is None:
        return
    if isinstance(value, tuple):
        for one in value:
            yield from _values(one, path)
    elif path:
        yield from _values(getattr(value, path[0], None), path[1:])
    else:
        yield value


def numbered(elements: tuple[Element, ...]) -> tuple[Element, ...]:
    """Return elements with an order for those that have none yet: after the last, as they stand."""
    if all(element.order for element in elements):
        return elements
    last = max((element.order for element in elements), default=0)
    orders = count(last + 1)
    return tuple(e if e.order else e.model_copy(update={"order": next(orders)}) for e in elements)


class Job(JobReading, Noun):
    """One job. `of` gives the elements of a kind, `get` one by id."""

    format: Literal["heathrise-job"] = JOB_FORMAT
    schema_version: Literal[2] = SCHEMA_VERSION
    name: Label
    elements: Annotated[tuple[Element, ...], AfterValidator(numbered)] = Field((), max_length=200_000)
    attachments: tuple[Attachment, ...] = Field((), max_length=200)
    records: tuple[Record, ...] = Field((), max_length=500_000)
    photos: tuple[Photo, ...] = Field((), max_length=5_000)

    @model_validator(mode="after")
    def _consistent(self) -> "Job":
        if len(self.by_id) != len(self.elements):
            raise ValueError("two elements of the job have the same id")
        for kind in SINGLETONS:
            if sum(element.kind == kind for element in self.elements) > 1:
                raise ValueError(f"the job has more than one {kind}")
        self.check_references(self.elements)
        return self

    @cached_property
    def by_id(self) -> dict[str, Element]:
        """Every element by its id."""
        return {element.id: element for element in self.elements}

    @cached_property
    def _by_subject(self) -> dict[str, tuple[Record, ...]]:
        found: dict[str, list[Record]] = {}
        for record in self.records:
            found.setdefault(record.subject, []).append(record)
        return {subject: tuple(sorted(some, key=_said)) for subject, some in found.items()}

    def with_records(self, records: tuple[Record, ...]) -> "Job":
        """Return the job with other records; what is known of its elements goes along."""
        found = self.model_copy(update={"records": records})
        for known in ("_by_subject", "subjects"):
            found.__dict__.pop(known, None)
        return found

    def recorded(self, subject: str) -> tuple[Record, ...]:
        """Return what was written down about something, the oldest first."""
        return self._by_subject.get(subject, ())

    @cached_property
    def subjects(self) -> frozenset[str]:
        """What anything was written down about."""
        return frozenset(self._by_subject)

    def check_references(self, elements: Iterable[Element]) -> None:
        """Raise BrokenReference unless every id, port and library item named by `elements` exists."""
        for element in elements:
            for field, ref, kinds in references(element):
                target = self.by_id.get(ref)
                if target is None or target.kind not in kinds:
                    wanted = " or ".join(BY_KIND[kind].ABOUT.noun for kind in kinds)
                    raise BrokenReference(
                        f"{element.ABOUT.noun} {element.label}: {field} names {ref}, "
                        f"but the job has no such {wanted}"
                    )
            for field, shelf in element.SHELVES.items():
                code = getattr(element, field)
                items = getattr(self if shelf in OWN_SHELVES else library(), shelf)
                if code is not None and code not in items:
                    raise BrokenReference(
                        f"{element.ABOUT.noun} {element.label}: {field} is {code}, "
                        f"but the library has no such item among its {shelf.replace('_', ' ')}"
                    )
            if isinstance(element, Link):
                self._check_ports(element)

    def _check_ports(self, link: Link) -> None:
        """Raise BrokenReference for an end at a port its equipment has not got."""
        for side, end in (("a", link.a), ("b", link.b)):
            panel = end.panel
            named = [(end.on, end.port), *([(panel.on, panel.port)] if panel is not None else [])]
            for on, port in named:
                if port is None:
                    continue
                model = self.model_of(on)
                if model is None or model.port(port) is None:
                    there = "none" if model is None else ", ".join(p.name for p in model.port_list)
                    raise BrokenReference(
                        f"{link.ABOUT.noun} {link.label}: end {side} names port {port} of "
                        f"{self.by_id[on].label}, whose ports are: {there}"
                    )

    def of(self, cls: type[E]) -> tuple[E, ...]:
        """Return the elements of one class in their own order.

        Not by label and not as they stand in the job: neither a new name nor an undo may move what is
        computed after it.
        """
        kept = self._by_class.get(cls)
        if kept is None:
            found = (element for element in self.elements if isinstance(element, cls))
            kept = self._by_class[cls] = tuple(sorted(found, key=lambda e: (e.order, e.id)))
        return cast(tuple[E, ...], kept)

    @cached_property
    def _by_class(self) -> dict[type[ElementBase], tuple[ElementBase, ...]]:
        return {}
