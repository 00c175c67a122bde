"""Plan against live: what differs, item by item and field by field, ready to be reviewed.

Settings of both sides are the same nouns. The controller's name devices by serial; they are turned into the
drawing's labels first, by what was matched.
"""

from collections.abc import Iterable, Mapping
from typing import Any

from heathrise.core.network.held import Difference, Differences, FieldDifference, Matched, Section, State
from heathrise.core.network.live import ALIVE, Live, LiveUnit
from heathrise.core.network.ruled import in_words
from heathrise.core.network.settings import Settings
from heathrise.core.sums import Noun

# What a section's items are told apart by, the devices first.
_KEYS: dict[Section, tuple[str, ...]] = {
    "network": ("name",),
    "name": ("name",),
    "radio": ("access_point", "band"),
    "port": ("switch", "port"),
    "address": ("name",),
}
# Fields that only people read, or that follow from others.
_LEFT_OUT: dict[Section, frozenset[str]] = {
    "network": frozenset({"purpose"}),
    "port": frozenset({"to", "speed_mbps"}),
    "radio": frozenset({"access_point", "band"}),
}
# On these a radio or port that is off is like any other.
_OFF: dict[Section, tuple[str, Any]] = {"radio": ("on", False), "port": ("role", "off")}


def compare(plan: Settings, live: Live, matched: Matched) -> Differences:
    """Return what differs between the plan and what a controller says of itself."""
    labels = {match.serial: match.label for match in matched.matches if match.serial}
    units = {unit.serial: unit for unit in live.units}
    found: list[Difference] = [*_devices(plan, matched, units), *_house(plan, live)]
    looked_at = len(plan.devices) + 1
    for section, planned, told in _sections(plan, live):
        there = {_key(section, one): one for one in (_labelled(one, labels) for one in told)}
        wanted = {_key(section, one): one for one in planned}
        looked_at += len(wanted)
        found += _items(section, wanted, there)
    found = _with_passphrases(found, plan, live)
    silent = [m.label for m in matched.matches if m.serial and units[m.serial].phase not in ALIVE]
    return Differences(
        differences=tuple(found),
        looked_at=looked_at,
        silent=tuple(silent),
        as_planned=not found and not silent and all(match.serial for match in matched.matches),
    )


Body = dict[str, Any]


def _sections(plan: Settings, live: Live) -> Iterable[tuple[Section, list[Body], list[Body]]]:
    pairs: tuple[tuple[Section, Iterable[Noun], Iterable[Noun]], ...] = (
        ("network", plan.networks, live.networks),
        ("name", plan.names, live.names),
        ("radio", plan.radios, live.radios),
        ("port", plan.ports, live.ports),
        ("address", plan.addresses, live.addresses),
    )
    for section, planned, told in pairs:
        yield section, [one.model_dump() for one in planned], [one.model_dump() for one in told]


def _labelled(body: Body, labels: Mapping[str, str]) -> Body:
    """Return an item with its devices by label; a unit that is nobody's keeps its serial."""
    turned = dict(body)
    for field in ("access_point", "switch"):
        if field in turned:
            turned[field] = labels.get(turned[field], turned[field])
    if "access_points" in turned:
        turned["access_points"] = tuple(labels.get(one, one) for one in turned["access_points"])
    return turned


def _key(section: Section, body: Body) -> tuple[str, ...]:
    return tuple(str(body[field]) for field in _KEYS[section])


Keyed = Mapping[tuple[str, ...], Body]


def _items(section: Section, wanted: Keyed, there: Keyed) -> Iterable[Difference]:
    for key, body in wanted.items():
        if key not in there:
            if not _is_off(section, body):
                yield _difference(section, key, "missing", ())
            continue
        fields = tuple(_fields(section, body, there[key]))
        if fields:
            yield _difference(section, key, "differs", fields)
    for key in there:
        # A radio or port that is there and in no plan belongs to a unit that is in none: said with the units.
        if key not in wanted and section not in _OFF:
            yield _difference(section, key, "extra", ())


def _is_off(section: Section, body: Body) -> bool:
    field, off = _OFF.get(section, ("", None))
    return bool(field) and body[field] == off


def _difference(
    section: Section, key: tuple[str, ...], state: State, fields: tuple[FieldDifference, ...]
) -> Difference:
    device = key[0] if section in _OFF else ""
    item = {"radio": f"{key[-1]} GHz", "port": f"port {key[-1]}"}.get(section, key[0])
    joined = ":".join((section, *key))
    return Difference(key=joined, section=section, item=item, device=device, state=state, fields=fields)


def _fields(section: Section, planned: Body, found: Body) -> Iterable[FieldDifference]:
    left_out = _LEFT_OUT.get(section, frozenset()) | set(_KEYS[section])
    if _is_off(section, planned) and _is_off(section, found):
        return
    # Of what is to be off only that it is off matters.
    only = _OFF[section][0] if _is_off(section, planned) else None
    for field, value in planned.items():
        if field in left_out or only not in (None, field):
            continue
        if _plain(value) != _plain(found[field]):
            yield _differs(field, in_words(value), in_words(found[field]))


def _with_passphrases(found: list[Difference], plan: Settings, live: Live) -> list[Difference]:
    """Return the differences with names added whose passphrase there is another: which, nobody is told."""
    known = {one.key for one in found}
    fields = (_differs("passphrase", "the one kept here", "another"),)
    for name in plan.names:
        one = _difference("name", (name.name,), "differs", fields)
        if name.name in live.other_passphrase and one.key not in known:
            found.append(one)
    return found


# How the unit at the end of a field's name is written.
_UNITS = {"mbps": "Mb/s", "dbm": "dBm", "mhz": "MHz", "h": "h", "percent": "%"}


def _differs(field: str, planned: str, found: str) -> FieldDifference:
    stem, _, unit = field.rpartition("_")
    label = f"{stem}, {_UNITS[unit]}" if stem and unit in _UNITS else field
    return FieldDifference(field=field, label=label.replace("_", " "), planned=planned, found=found)


def _plain(value: Any) -> Any:
    """Return a value as it is compared: lists as sets, numbers to a tenth."""
    if isinstance(value, tuple | list):
        return frozenset(value)
    return round(value, 1) if isinstance(value, float) else value


def _devices(plan: Settings, matched: Matched, units: Mapping[str, LiveUnit]) -> Iterable[Difference]:
    by_label = {match.label: match for match in matched.matches}
    for device in plan.devices:
        match = by_label.get(device.name)
        unit = units.get(match.serial) if match is not None else None
        if unit is None:
            yield _device(device.name, "missing", ())
            continue
        fields = []
        if unit.name != device.name:
            fields.append(_differs("name", device.name, unit.name or "none"))
        if unit.model != device.model:
            fields.append(_differs("model", device.model, unit.model))
        if unit.phase not in ALIVE:
            fields.append(_differs("state", "up", unit.phase))
        if unit.old:
            fields.append(_differs("firmware", "newest", unit.version))
        if fields:
            yield _device(device.name, "differs", tuple(fields))
    for serial in matched.strangers:
        yield _device(serial, "extra", ())


def _device(name: str, state: State, fields: tuple[FieldDifference, ...]) -> Difference:
    return Difference(
        key=f"device:{name}", section="device", item=name, device=name, state=state, fields=fields
    )


def _house(plan: Settings, live: Live) -> Iterable[Difference]:
    planned, found = plan.house.model_dump(), live.house.model_dump()
    fields = tuple(
        _differs(field, in_words(planned[field]), in_words(value))
        for field, value in found.items()
        if planned[field] != value
    )
    if fields:
        yield Difference(
            key="house:", section="house", item="The whole", device="", state="differs", fields=fields
        )
