"""Which unit hangs where: units of a controller matched to the drawing by serial, label, the port they hang on, model.

The last that is left of its kind is matched by that; what is not sure is for a person to settle, by letting it blink.
"""

from collections import Counter
from collections.abc import Iterable

from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import AccessPoint, Equipment, Job
from heathrise.core.network.built import AsBuilt
from heathrise.core.network.composing import managed_devices
from heathrise.core.network.held import How, Matched, UnitMatch
from heathrise.core.network.live import Live, LiveUnit

_WHY: dict[How, str] = {
    "serial": "its serial stands on the drawing",
    "label": "it is named as on the drawing",
    "port": "it hangs on the port that is planned",
    "kind": "it is the only one left of its kind",
    "none": "nothing says which it is: let it blink and look",
}


def match_units(job: Job, built: AsBuilt, live: Live) -> Matched:
    """Return which unit is taken for which device."""
    matching = _Matching(job, built, live)
    matching.run()
    units = {unit.serial: unit for unit in live.units}
    return Matched(
        matches=tuple(
            _match(job, t, matching.found.get(t.id), units, matching.twins) for t in matching.things
        ),
        strangers=tuple(matching.left),
        twins=tuple(sorted(matching.twins)),
    )


Pairs = list[tuple[str, str]]


class _Matching:
    """What is matched so far: `found` by element, `left` the units that are nobody's yet."""

    def __init__(self, job: Job, built: AsBuilt, live: Live):
        self.job = job
        self.things = managed_devices(job)
        self.twins = {serial for serial, n in Counter(u.serial for u in live.units).items() if n > 1}
        self.left = {unit.serial: unit for unit in live.units if unit.serial not in self.twins}
        self.found: dict[str, tuple[str, How]] = {}
        self._wires = built.wires
        self._beside = {
            (u.serial, port.name): port.beside for u in live.units for port in u.ports if port.beside
        }

    def run(self) -> None:
        """Match by what is surest first; ports and kinds go on as long as they find more."""
        self._take(self._by_serial(), "serial")
        self._take(self._by_label(), "label")
        while self._take(self._by_port(), "port") or self._take(self._by_kind(), "kind"):
            pass

    def _take(self, pairs: Pairs, how: How) -> bool:
        before = len(self.found)
        for element_id, serial in pairs:
            if element_id not in self.found and serial in self.left:
                self.found[element_id] = (serial, how)
                del self.left[serial]
        return len(self.found) > before

    def _open(self) -> list[AccessPoint | Equipment]:
        """Return what is matched to nothing yet and has no serial that says otherwise."""
        return [thing for thing in self.things if thing.id not in self.found and not thing.serial]

    def _by_serial(self) -> Pairs:
        return [(thing.id, thing.serial) for thing in self.things if thing.serial in self.left]

    def _by_label(self) -> Pairs:
        named = Counter(unit.name for unit in self.left.values())
        by_name = {u.name: u.serial for u in self.left.values() if u.name and named[u.name] == 1}
        return [(t.id, by_name[t.label]) for t in self._open() if t.label in by_name]

    def _by_port(self) -> Pairs:
        """Return what hangs on a planned port of a unit that is known."""
        found, open_ = [], {thing.id for thing in self._open()}
        for wire in self._wires:
            ends = ((wire.a_id, wire.a_port, wire.b_id), (wire.b_id, wire.b_port, wire.a_id))
            for here, port, other in ends:
                known = self.found.get(here)
                beside = self._beside.get((known[0], port)) if known else None
                if beside and other in open_:
                    found.append((other, beside))
        return found

    def _by_kind(self) -> Pairs:
        """Return what is the only one left of its model on both sides."""
        open_ = self._open()
        wanted = Counter(self.job.equipment[t.model].label for t in open_)
        there = Counter(unit.model for unit in self.left.values())
        by_model = {unit.model: unit.serial for unit in self.left.values() if there[unit.model] == 1}
        labels = [(thing.id, self.job.equipment[thing.model].label) for thing in open_]
        return [(key, by_model[label]) for key, label in labels if wanted[label] == 1 and label in by_model]


def _match(
    job: Job,
    thing: AccessPoint | Equipment,
    found: tuple[str, How] | None,
    units: dict[str, LiveUnit],
    twins: set[str],
) -> UnitMatch:
    serial, how = found or ("", "none")
    unit, model = units.get(serial), job.equipment[thing.model].label
    return UnitMatch(
        element_id=thing.id,
        label=thing.label,
        model=model,
        serial=serial,
        mac=unit.mac if unit is not None else "",
        how=how,
        why=_WHY[how],
        settled=how == "serial",
        problem=_problem(thing, model, unit, twins),
    )


def _problem(thing: AccessPoint | Equipment, model: str, unit: LiveUnit | None, twins: set[str]) -> str:
    if thing.serial in twins and thing.serial:
        return f"two units say they are {thing.serial}: one of them is mislabelled, or copied"
    if unit is None and thing.serial:
        return f"{thing.serial} stands on the drawing and is not there: taken away, exchanged, or never plugged in"
    if unit is not None and unit.model != model:
        return f"{model} is planned; this is {unit.model}"
    return ""


def settle(job: Job, pairs: Iterable[tuple[str, str, str]]) -> tuple[Operation, ...]:
    """Return what writes serials and MACs on the drawing: (element, serial, MAC) for each.

    Raises
    ------
    EditError
        If an element is gone, or a serial is given twice.
    """
    things = {thing.id: thing for thing in managed_devices(job)}
    others = {thing.serial: thing.id for thing in things.values() if thing.serial}
    operations: list[Operation] = []
    for element_id, serial, mac in pairs:
        thing = things.get(element_id)
        if thing is None:
            raise EditError("the device is not on the drawing any more")
        if serial and others.get(serial, element_id) != element_id:
            raise EditError(f"{serial} stands on {job.by_id[others[serial]].label} already")
        others[serial] = element_id
        changed = type(thing).model_validate(thing.model_dump() | {"serial": serial, "mac": mac})
        operations.append(Put(element=changed))
    return tuple(operations)
