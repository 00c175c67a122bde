"""Edits: a list of operations on a Job, applied to make a new Job, with their inverse.

This is the only way a job changes; the store keeps what it returns. Removing an element also
removes what cannot stand without it (a wall's doors, a storey's walls), and the inverse brings
all of it back.
"""

from collections.abc import Iterable, Iterator, Sequence
from itertools import count, groupby
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from heathrise.core.job import (
    OWN_SHELVES,
    SINGLETONS,
    AccessPoint,
    Element,
    End,
    Equipment,
    Id,
    InRack,
    Job,
    Link,
    Space,
    Storey,
    Wall,
    references,
)
from heathrise.core.sums import Noun

# Further from the drawing than this a point is a slip of the hand, not a yard or a boat store.
SHEET_EDGE_M = 300.0
# Halls are higher than the storey they stand on.
TALLEST_ROOM_M = 12.0
# What goes with a removal is followed through the whole job each time.
MOST_TURNS = 200


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


Holders = dict[str, list[str]]


def _without(element: Element, gone: set[str], elements: dict[str, Element]) -> Element | None:
    """Return what is left of an element when the ids in `gone` are removed; None if it goes too."""
    for field in element.LOOSE:
        held = getattr(element, field)
        kept: object = None if held in gone else held
        if isinstance(held, tuple):
            kept = tuple(ref for ref in held if ref not in gone)
        element = element.model_copy(update={field: kept})
    if isinstance(element, Link):
        a, b = (_end_without(end, gone, elements) for end in (element.a, element.b))
        # A cord goes with the thing it was for: a rack is no other end for it.
        b = element.b if element.medium == "cord" else b
        pins = tuple(pin for pin in element.pins if pin.storey_id not in gone)
        element = element.model_copy(update={"a": a, "b": b, "pins": pins})
    return None if any(ref in gone for _, ref, _ in references(element)) else element


def _end_without(end: End, gone: set[str], elements: dict[str, Element]) -> End:
    """Return an end moved back to its rack when what it stood on in the rack goes."""
    on = elements[end.on]
    if end.on in gone and isinstance(on, Equipment) and isinstance(on.place, InRack):
        end = End(on=on.place.rack_id, panel=end.panel)
    if end.panel is not None and end.panel.on in gone:
        end = end.model_copy(update={"panel": None})
    return end


def _cascade(elements: dict[str, Element], roots: Sequence[str], holders: Holders) -> list[Operation]:
    """Return the operations that follow from removing `roots`, themselves last. Linear in what goes."""
    gone, changed = set(roots), {}
    pending = list(roots)
    while pending:
        for key in holders.get(pending.pop(), ()):
            element = elements.get(key)
            if element is None or key in gone:
                continue
            left = _without(element, gone, elements)
            if left is None:
                gone.add(key)
                pending.append(key)
            else:
                changed[key] = left
    puts: list[Operation] = [Put(element=e) for key, e in changed.items() if key not in gone]
    own = set(roots)
    follow: list[Operation] = [Remove(id=key) for key in elements if key in gone and key not in own]
    return [*puts, *follow, *(Remove(id=root) for root in roots)]


def goes_with(job: Job, element_id: str) -> frozenset[str]:
    """Return the ids of what cannot stand without an element; none when the job has no such element."""
    elements = dict(job.by_id)
    if element_id not in elements:
        return frozenset()
    steps = _cascade(elements, [element_id], _holders(elements))
    return frozenset(step.id for step in steps if isinstance(step, Remove)) - {element_id}


def _holders(elements: dict[str, Element]) -> Holders:
    """Return, by id, the ids of the elements that name it."""
    found: Holders = {}
    for element in elements.values():
        for _, ref, _ in references(element):
            found.setdefault(ref, []).append(element.id)
    return found


def apply(job: Job, operations: Sequence[Operation]) -> Edited:
    """Apply operations in order.

    Raises
    ------
    EditError
        If an operation removes what is not there, adds a second site, brief or practice, or
        leaves a reference without its target.
    """
    elements = dict(job.by_id)
    orders = count(1 + max((element.order for element in elements.values()), default=0))
    done: list[Operation] = []
    inverse: list[Operation] = []
    for steps in _steps(elements, operations):
        for step in steps:
            given = _with_order(elements, step, orders)
            inverse.append(_step(elements, given))
            done.append(given)
    touched = [elements[s.element.id] for s in done if isinstance(s, Put) and s.element.id in elements]
    everything = any(_kind_of(step, job) in OWN_SHELVES.values() for step in done)
    new = _checked(job, elements, touched, everything or _models_changed(job, done))
    return Edited(new, tuple(done), tuple(reversed(inverse)))


def _steps(elements: dict[str, Element], operations: Sequence[Operation]) -> Iterator[list[Operation]]:
    """Yield what each operation takes; removals one after another are followed up together."""
    turns = 0
    for removals, some in groupby(operations, lambda operation: isinstance(operation, Remove)):
        if not removals:
            yield from ([put] for put in some)
            continue
        turns += 1
        if turns > MOST_TURNS:
            raise EditError(
                f"an edit may turn from adding to removing {MOST_TURNS} times; remove together what goes"
            )
        yield _cascade(elements, _roots(elements, some), _holders(elements))


def _roots(elements: dict[str, Element], removals: Iterable[Operation]) -> list[str]:
    """Return the ids that removals name. Raises EditError for one that is not there, or is named twice."""
    roots: dict[str, None] = {}
    for step in removals:
        if not isinstance(step, Remove) or step.id not in elements:
            raise EditError(f"element {id_of(step)} is not in the job, so it cannot be removed")
        if step.id in roots:
            raise EditError("an element is removed twice in one edit")
        roots[step.id] = None
    return list(roots)


def id_of(step: Operation) -> str:
    """Return the id of the element an operation names."""
    return step.element.id if isinstance(step, Put) else step.id


def _with_order(elements: dict[str, Element], step: Operation, orders: Iterator[int]) -> Operation:
    """Return a put with its element's order: the one it has had, or the next when it is new."""
    if isinstance(step, Remove) or step.element.order:
        return step
    before = elements.get(step.element.id)
    order = before.order if before else next(orders)
    return Put(element=step.element.model_copy(update={"order": order}))


def _kind_of(step: Operation, job: Job) -> str | None:
    if isinstance(step, Put):
        return step.element.kind
    before = job.by_id.get(step.id)
    return None if before is None else before.kind


def _models_changed(job: Job, done: Sequence[Operation]) -> bool:
    """Say whether something with ports became another model: links may name ports it has not got."""
    for step in done:
        if isinstance(step, Put) and isinstance(step.element, Equipment | AccessPoint):
            before = job.by_id.get(step.element.id)
            if isinstance(before, Equipment | AccessPoint) and before.model != step.element.model:
                return True
    return False


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


def _checked(job: Job, elements: dict[str, Element], touched: Sequence[Element], everything: bool) -> Job:
    """Return the new job, checking only what was touched: the rest was checked before.

    When an item of the job's own changed, everything that may name it is checked.
    """
    new = Job.model_construct(
        format=job.format,
        schema_version=job.schema_version,
        name=job.name,
        elements=tuple(elements.values()),
        records=job.records,
    )
    try:
        new.check_references(new.elements if everything else touched)
    except ValueError as error:
        raise EditError(str(error)) from error
    _check_places(new, [element for element in touched if isinstance(element, AccessPoint)])
    return new


def _check_places(job: Job, points: Sequence[AccessPoint]) -> None:
    """Raise EditError for an access point above every storey or far off the sheet."""
    if not points:
        return
    storeys = {storey.id: storey for storey in job.storeys}
    for point in points:
        _check_height(storeys[point.storey_id], point)
    drawn = [p for wall in job.of(Wall) for p in (wall.a, wall.b)]
    drawn += [p for space in job.of(Space) for p in space.outline]
    if not drawn:
        return
    for axis in ("x_m", "y_m"):
        values = [getattr(p, axis) for p in drawn]
        first, last = min(values) - SHEET_EDGE_M, max(values) + SHEET_EDGE_M
        for point in points:
            if not first <= getattr(point.at, axis) <= last:
                raise EditError(
                    f"access point {point.label} at {point.at.x_m:.1f}, {point.at.y_m:.1f} m stands "
                    f"outside every storey, more than {SHEET_EDGE_M:.0f} m from anything drawn"
                )


def _check_height(storey: Storey, point: AccessPoint) -> None:
    top_m = storey.ceiling_m + storey.void_m
    if point.mount != "outdoor" and point.height_m > max(top_m, TALLEST_ROOM_M):
        raise EditError(
            f"access point {point.label} is {point.height_m:.1f} m above the floor of {storey.label}, "
            f"which is {top_m:.1f} m high: it stands outside every storey"
        )
