"""Edits: a list of operations on a Job, applied to make a new Job, with their inverse.

This is the only way a job changes; the store keeps what it returns. Removing an element also
removes what cannot stand without it (a wall's doors, a storey's walls), and the inverse brings
all of it back.
"""

from collections.abc import Sequence
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from heathrise.core.job import (
    SINGLETONS,
    AccessPoint,
    Conduit,
    Element,
    Id,
    Job,
    Run,
    Space,
    Wall,
    references,
)
from heathrise.core.sums import Noun

# Further from the drawing than this a point is a slip of the hand, not a yard or a boat store.
SHEET_EDGE_M = 300.0
# Halls are higher than the storey they stand on.
TALLEST_ROOM_M = 12.0


class EditError(ValueError):
    """An edit that would leave the job broken; nothing of it is applied."""


class Put(Noun):
    """Add an element or replace the one with its id."""

    op: Literal["put"] = "put"
    element: Element


class Remove(Noun):
    """Take an element away, and what cannot stand without it."""

    op: Literal["remove"] = "remove"
    id: Id


Operation = Annotated[Put | Remove, Field(discriminator="op")]


class Edited(NamedTuple):
    """The new job, every operation that was really done, and the operations that undo them."""

    job: Job
    done: tuple[Operation, ...]
    inverse: tuple[Operation, ...]


def _without(element: Element, gone: set[str]) -> Element | None:
    """Return what is left of an element when the ids in `gone` are removed; None if it goes too."""
    if isinstance(element, Conduit):
        kept = tuple(ref for ref in element.run_ids if ref not in gone)
        return element.model_copy(update={"run_ids": kept})
    if isinstance(element, Run) and element.pin is not None and element.pin.switch_id in gone:
        element = element.model_copy(update={"pin": None})
    return None if any(ref in gone for _, ref, _ in references(element)) else element


def _cascade(elements: dict[str, Element], root: str) -> list[Operation]:
    """Return the operations that follow from removing `root`, itself last."""
    gone, changed = {root}, {}
    pending = True
    while pending:
        pending = False
        for element in elements.values():
            if element.id in gone or not any(ref in gone for _, ref, _ in references(element)):
                continue
            left = _without(element, gone)
            if left is None:
                gone.add(element.id)
                pending = True
            else:
                changed[element.id] = left
    puts: list[Operation] = [Put(element=e) for key, e in changed.items() if key not in gone]
    removes: list[Operation] = [Remove(id=key) for key in gone if key != root]
    return [*puts, *removes, Remove(id=root)]


def apply(job: Job, operations: Sequence[Operation]) -> Edited:
    """Apply operations in order.

    Raises
    ------
    EditError
        If an operation removes what is not there, adds a second site, brief or practice, or
        leaves a reference without its target.
    """
    elements = dict(job.by_id)
    done: list[Operation] = []
    inverse: list[Operation] = []
    for operation in operations:
        steps = [operation]
        if isinstance(operation, Remove):
            if operation.id not in elements:
                raise EditError(f"element {operation.id} is not in the job, so it cannot be removed")
            steps = _cascade(elements, operation.id)
        for step in steps:
            inverse.append(_step(elements, step))
            done.append(step)
    touched = [elements[s.element.id] for s in done if isinstance(s, Put) and s.element.id in elements]
    build_ups = any(_kind_of(step, job) in ("build-up", "antenna") for step in done)
    new = _checked(job, elements, touched, build_ups)
    return Edited(new, tuple(done), tuple(reversed(inverse)))


def _kind_of(step: Operation, job: Job) -> str | None:
    if isinstance(step, Put):
        return step.element.kind
    before = job.by_id.get(step.id)
    return None if before is None else before.kind


def _step(elements: dict[str, Element], step: Operation) -> Operation:
    if isinstance(step, Remove):
        return Put(element=elements.pop(step.id))
    before = elements.get(step.element.id)
    if before is None:
        kind = step.element.kind
        if kind in SINGLETONS and any(e.kind == kind for e in elements.values()):
            raise EditError(f"the job already has its {kind}; change that one")
    elif before.kind != step.element.kind:
        raise EditError(f"{before.label} is a {before.kind}; it cannot become a {step.element.kind}")
    elements[step.element.id] = step.element
    return Remove(id=step.element.id) if before is None else Put(element=before)


def _checked(job: Job, elements: dict[str, Element], touched: Sequence[Element], build_ups: bool) -> Job:
    """Return the new job, checking only what was touched: the rest was checked before.

    When a build-up of the job changed, everything that may name it is checked.
    """
    new = Job.model_construct(
        format=job.format,
        schema_version=job.schema_version,
        name=job.name,
        elements=tuple(elements.values()),
    )
    try:
        new.check_references(new.elements if build_ups else touched)
    except ValueError as error:
        raise EditError(str(error)) from error
    for element in touched:
        if isinstance(element, AccessPoint):
            _check_place(new, element)
    return new


def _check_place(job: Job, point: AccessPoint) -> None:
    """Raise EditError for an access point above every storey or far off the sheet."""
    storey = next(s for s in job.storeys if s.id == point.storey_id)
    top_m = storey.ceiling_m + storey.void_m
    if point.mount != "outdoor" and point.height_m > max(top_m, TALLEST_ROOM_M):
        raise EditError(
            f"access point {point.label} is {point.height_m:.1f} m above the floor of {storey.label}, "
            f"which is {top_m:.1f} m high: it stands outside every storey"
        )
    drawn = [p for wall in job.of(Wall) for p in (wall.a, wall.b)]
    drawn += [p for space in job.of(Space) for p in space.outline]
    if not drawn:
        return
    for axis in ("x_m", "y_m"):
        values = [getattr(p, axis) for p in drawn]
        value = getattr(point.at, axis)
        if not min(values) - SHEET_EDGE_M <= value <= max(values) + SHEET_EDGE_M:
            raise EditError(
                f"access point {point.label} at {point.at.x_m:.1f}, {point.at.y_m:.1f} m stands "
                f"outside every storey, more than {SHEET_EDGE_M:.0f} m from anything drawn"
            )
