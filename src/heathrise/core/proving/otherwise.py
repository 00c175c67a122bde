"""What was found otherwise than drawn, as an edit a person may take: the field by its form, the value as it was typed."""

from typing import Any

from pydantic import ValidationError

from heathrise.core.edit import EditError, Operation, Put, apply
from heathrise.core.job import Element, FoundOtherwise, Job, Record
from heathrise.core.sums import Noun


class FieldProposal(Noun):
    """A field that is otherwise: as drawn, as found, and the edit that takes it; `problem` where it cannot be taken as typed."""

    record_id: str
    subject: str
    label: str
    field: str
    name: str
    drawn: str
    found: str
    by: str
    text: str
    photo: str | None
    operations: tuple[Operation, ...]
    problem: str


def proposal_of(job: Job, record: Record) -> FieldProposal:
    """Return what was found otherwise with the edit that would take it."""
    found = record.measured
    assert isinstance(found, FoundOtherwise)
    element = job.by_id.get(record.subject)
    given: dict[str, Any] = {
        "record_id": record.id,
        "subject": record.subject,
        "field": found.field,
        "found": found.value,
        "by": record.by,
        "text": record.text,
        "photo": record.photo,
    }
    if element is None:
        return FieldProposal(
            **given,
            label="what is no more on the drawing",
            name=found.field,
            drawn=found.shown,
            operations=(),
            problem="It is no more on the drawing; what was found stays on record.",
        )
    form = next((one for one in element.ABOUT.fields if one.path == found.field), None)
    if form is None:
        words = "It has no such field; read the note and draw it by hand."
        return FieldProposal(
            **given, label=element.label, name=found.field, drawn=found.shown, operations=(), problem=words
        )
    drawn = str(_value(element, found.field))
    operations, problem = _taken(job, element, found)
    return FieldProposal(
        **given, label=element.label, name=form.label, drawn=drawn, operations=operations, problem=problem
    )


def _value(element: Element, path: str) -> object:
    value: object = element
    for name in path.split("."):
        value = getattr(value, name, None)
    return "" if value is None else value


def _taken(job: Job, element: Element, found: FoundOtherwise) -> tuple[tuple[Operation, ...], str]:
    """Return (the edit, nothing), or (nothing, why it cannot be taken)."""
    body = element.model_dump(mode="json")
    part = body
    *outer, last = found.field.split(".")
    for name in outer:
        part = part[name]
    part[last] = _typed(part.get(last), found.value)
    try:
        changed = type(element).model_validate(body)
        operation = Put(element=changed)
        apply(job, [operation])
    except (ValidationError, EditError, KeyError, TypeError) as error:
        first = error.errors()[0]["msg"] if isinstance(error, ValidationError) else str(error)
        return (), f"It cannot be taken as typed: {first}. Change it by hand in the margin."
    return (operation,), ""


def _typed(before: object, text: str) -> object:
    """Return what was typed as what stood there: a number with either mark, yes or no, else words."""
    if isinstance(before, bool):
        return text.strip().casefold() in ("yes", "true", "1")
    if isinstance(before, int | float):
        return text.strip().replace(",", ".")
    return text.strip() or None if before is None else text.strip()
