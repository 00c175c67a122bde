"""What stands at which unit of a rack: as it was decided, else as it is best arranged.

Arranged: the heavy at the bottom, what cables land on at the top with what they are patched to beneath it (cords stay
short), the rest between. What was decided keeps its unit; nothing moves by itself.
"""

from collections.abc import Iterable, Sequence

from heathrise.core.edit import Operation, Put
from heathrise.core.job import Equipment, InRack, Job, Rack
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.sums import Noun

# Something in a rack, and its model.
Racked = tuple[Equipment, EquipmentModel]


class Standing(Noun):
    """One thing in a rack: the lowest unit it takes counted from below (None: no room), and how it came there."""

    element_id: str
    label: str
    what: str
    sign: str
    unit: int | None
    height_u: int
    face: str
    depth_mm: float | None
    weight_kg: float | None
    state: str
    clashes: bool


class Elevation(Noun):
    """One rack with what stands in it, from the bottom up; what is on a shelf or in no unit comes last."""

    rack_id: str
    label: str
    model_label: str
    stands: str
    height_u: int
    wide_mm: float
    depth_mm: float
    items: tuple[Standing, ...]
    used_u: int


def in_rack(job: Job, rack_id: str) -> list[Racked]:
    """Return everything that stands in a rack, in its own order."""
    return [
        (thing, job.equipment[thing.model])
        for thing in job.of(Equipment)
        if isinstance(thing.place, InRack) and thing.place.rack_id == rack_id
    ]


def elevation_of(job: Job, rack_id: str) -> Elevation:
    """Return a rack as it stands: decided units kept, the others proposed."""
    rack = job.get(Rack, rack_id)
    model = library().racks[rack.model]
    things = in_rack(job, rack_id)
    units = arranged(things, model.height_u)
    clashing = _clashes(things, units, model.height_u)
    items = [_standing(thing, kind, units.get(thing.id), thing.id in clashing) for thing, kind in things]
    items.sort(key=lambda one: (one.unit is None, one.unit or 0))
    return Elevation(
        rack_id=rack_id,
        label=rack.label,
        model_label=model.label,
        stands=model.stands,
        height_u=model.height_u,
        wide_mm=model.wide_mm,
        depth_mm=model.depth_mm,
        items=tuple(items),
        used_u=sum(one.height_u for one in items if one.face == "front"),
    )


def arranged(things: Sequence[Racked], height_u: int) -> dict[str, int]:
    """Return the lowest unit of each thing by its id: the decided as they are, the others where they go best.

    Front and rear of a unit are two places. What is laid on a shelf takes none, what finds no room is absent.
    """
    things = [pair for pair in things if pair[1].height_u and _face(pair[0]) != "shelf"]
    units = {thing.id: unit for thing, _ in things if (unit := _decided(thing)) is not None}
    taken = {
        place for thing, kind in things if thing.id in units for place in _span(thing, kind, units[thing.id])
    }
    heavy = sorted(
        (pair for pair in things if _is_heavy(pair[1])), key=lambda pair: -(pair[1].weight_kg or 0.0)
    )
    light = [pair for pair in _from_above(things) if not _is_heavy(pair[1])]
    for order, downwards in ((heavy, False), (light, True)):
        for thing, kind in order:
            unit = None if thing.id in units else _free(taken, thing, kind, height_u, downwards)
            if unit is not None:
                units[thing.id] = unit
                taken |= _span(thing, kind, unit)
    return units


def _decided(thing: Equipment) -> int | None:
    return thing.place.unit if isinstance(thing.place, InRack) else None


def _face(thing: Equipment) -> str:
    return thing.place.face if isinstance(thing.place, InRack) else "front"


def _span(thing: Equipment, kind: EquipmentModel, unit: int) -> set[tuple[str, int]]:
    """Return the places something takes from a unit on: (face, unit)."""
    return {(_face(thing), u) for u in range(unit, unit + kind.height_u)}


def _is_heavy(kind: EquipmentModel) -> bool:
    return (kind.weight_kg or 0.0) >= limit("rack.heavy_kg")


def _free(
    taken: set[tuple[str, int]], thing: Equipment, kind: EquipmentModel, rack_u: int, downwards: bool
) -> int | None:
    """Return the first unit with room for something: from the top down or from the bottom up."""
    units: Iterable[int] = range(1, rack_u - kind.height_u + 2)
    units = reversed(list(units)) if downwards else units
    return next((unit for unit in units if not taken & _span(thing, kind, unit)), None)


def _from_above(things: Sequence[Racked]) -> list[Racked]:
    """Return what is light as it is read from the top: panels and switches in turn, what routes, then the rest."""
    panels = [pair for pair in things if pair[1].lands_cables]
    switches = [pair for pair in things if pair[1].forwards == "switch"]
    turns: list[Racked] = []
    for n in range(max(len(panels), len(switches))):
        turns += panels[n : n + 1] + switches[n : n + 1]
    rest = [pair for pair in things if pair not in turns]
    return turns + sorted(rest, key=lambda pair: not pair[1].joins)


def _clashes(things: Sequence[Racked], units: dict[str, int], height_u: int) -> set[str]:
    """Return what shares a unit with another, or stands out of its rack."""
    found: set[str] = set()
    at: dict[tuple[str, int], str] = {}
    for thing, kind in things:
        if thing.id not in units:
            continue
        for place in _span(thing, kind, units[thing.id]):
            if place[1] > height_u:
                found.add(thing.id)
            if place in at:
                found |= {thing.id, at[place]}
            at.setdefault(place, thing.id)
    return found


def _standing(thing: Equipment, kind: EquipmentModel, unit: int | None, clashes: bool) -> Standing:
    shelf = not kind.height_u or _face(thing) == "shelf"
    decided = _decided(thing) is not None
    return Standing(
        element_id=thing.id,
        label=thing.label,
        what=kind.label,
        sign=kind.sign,
        unit=unit,
        height_u=0 if shelf else kind.height_u,
        face=_face(thing),
        depth_mm=kind.depth_mm,
        weight_kg=kind.weight_kg,
        state="on a shelf" if shelf else "decided" if decided else "no room" if unit is None else "proposed",
        clashes=clashes,
    )


def units_decided(job: Job, rack_id: str, anew: bool = False) -> tuple[Operation, ...]:
    """Return operations that decide the unit of everything in a rack as proposed; `anew`: arranged from nothing."""
    things = in_rack(job, rack_id)
    height_u = library().racks[job.get(Rack, rack_id).model].height_u
    loose = [(_at(thing, None), kind) for thing, kind in things] if anew else things
    units = arranged(loose, height_u)
    return tuple(
        Put(element=_at(thing, units[thing.id]))
        for thing, _ in things
        if thing.id in units and units[thing.id] != _decided(thing)
    )


def units_mended(job: Job, rack_id: str) -> tuple[Operation, ...]:
    """Return operations that move what clashes and nothing else: the first at a unit keeps it."""
    things = in_rack(job, rack_id)
    height_u = library().racks[job.get(Rack, rack_id).model].height_u
    taken: set[tuple[str, int]] = set()
    loose: list[Racked] = []
    for thing, kind in things:
        unit = _decided(thing)
        span = _span(thing, kind, unit) if unit is not None else set()
        wrong = bool(span & taken) or any(u > height_u for _, u in span)
        taken |= set() if wrong else span
        loose.append((_at(thing, None) if wrong else thing, kind))
    units = arranged(loose, height_u)
    return tuple(
        Put(element=_at(thing, units.get(thing.id)))
        for (thing, _), (freed, _) in zip(things, loose, strict=True)
        if thing is not freed
    )


def _at(thing: Equipment, unit: int | None) -> Equipment:
    return thing.model_copy(update={"place": thing.place.model_copy(update={"unit": unit})})
