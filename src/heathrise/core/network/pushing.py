"""From what differs to steps in a safe order: taken over first, then networks before names, edges before trunks.

Trunks are set from the far end inwards, so that no step cuts off what a later one has to reach. What is there and not
planned goes last, unless it stands in the way.
"""

import ipaddress
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator

from heathrise.core.network.built import AsBuilt
from heathrise.core.network.held import Difference, Differences, Matched, PushPlan, PushStep, StepKind
from heathrise.core.network.live import Live, LiveUnit
from heathrise.core.network.settings import Settings

_TAKEN = ("up", "weak", "listening", "readying", "updating", "starting", "joining")


def push_plan(
    plan: Settings, compared: Differences, live: Live, matched: Matched, built: AsBuilt
) -> PushPlan:
    """Return the steps that make a controller as planned; none while two things of the plan are called alike, as a
    controller tells them apart by their names.
    """
    if alike := tuple(_alike(plan)):
        return PushPlan(steps=(), blocked=alike)
    units = {unit.serial: unit for unit in live.units}
    at = {match.label: units[match.serial] for match in matched.matches if match.serial}
    blocked = tuple(_blocked(matched, at))
    barred = {label for label, unit in at.items() if unit.phase in ("owned", "dark")}
    by_section: dict[str, list[Difference]] = defaultdict(list)
    for one in compared.differences:
        if not (one.device and (one.device in barred or one.device not in at)):
            by_section[one.section].append(one)
    ways = _depths(built)
    steps = [
        *_taking(live, at, by_section["device"], barred),
        *_networks(plan, live, by_section),
        *_whole(by_section["house"]),
        *_names(by_section["name"]),
        *_radios(at, by_section["radio"]),
        *_ports(plan, at, by_section["port"], ways),
        *_rest(plan, live, by_section),
    ]
    if steps:
        steps = [
            _step("backup", "", "Take a backup of the controller, to go back to", ""),
            *steps,
            _step("verify", "", "Read everything again and hold it against the plan", ""),
        ]
    return PushPlan(steps=tuple(steps), blocked=blocked)


def _alike(plan: Settings) -> Iterator[str]:
    named = (("devices", plan.devices), ("networks", plan.networks), ("fixed addresses", plan.addresses))
    for what, things in named:
        for name, count in Counter(thing.name for thing in things).items():
            if count > 1:
                yield f"{count} {what} are called {name}: give each a name of its own first."


def _step(
    kind: StepKind, item: str, words: str, costs: str, settles: Iterable[str] = (), serial: str = ""
) -> PushStep:
    return PushStep(kind=kind, item=item, serial=serial, words=words, costs=costs, settles=tuple(settles))


def _blocked(matched: Matched, at: dict[str, LiveUnit]) -> Iterator[str]:
    for match in matched.matches:
        unit = at.get(match.label)
        if unit is None:
            yield f"{match.label}: {match.problem or 'no unit is matched to it; let one blink and say which it is'}."
        elif unit.phase == "owned":
            yield f"{match.label} ({unit.serial}) belongs to {unit.owner}: release it there, or reset it with a pin."
        elif unit.phase == "dark":
            yield f"{match.label} ({unit.serial}) has no power."


def _depths(built: AsBuilt) -> dict[str, int]:
    """Return how far each unit is from the core, by label: cables between."""
    labels = {unit.element_id: unit.label for unit in built.units}
    roots = [u.element_id for u in built.units if u.kind == "gateway"] or [u.element_id for u in built.units][
        :1
    ]
    beside: dict[str, list[str]] = defaultdict(list)
    for wire in built.wires:
        beside[wire.a_id].append(wire.b_id)
        beside[wire.b_id].append(wire.a_id)
    depth, pending = dict.fromkeys(roots, 0), list(roots)
    for here in pending:
        for other in beside[here]:
            if other not in depth:
                depth[other] = depth[here] + 1
                pending.append(other)
    return {labels[key]: far for key, far in depth.items()}


_ORDER = {"controller": 0, "gateway": 1, "switch": 2, "access-point": 3}


def _taking(
    live: Live, at: dict[str, LiveUnit], devices: list[Difference], barred: set[str]
) -> Iterator[PushStep]:
    """Yield the console's updates, then units taken over, their firmware, their names: gateways, switches, points."""
    if live.console_old:
        yield _step("console", "", "Update the console until nothing newer is there", "nobody is cut off")
    ordered = sorted(
        ((label, unit) for label, unit in at.items() if label not in barred),
        key=lambda pair: _ORDER[pair[1].kind],
    )
    for label, unit in ordered:
        if unit.phase not in _TAKEN:
            yield _step("take", label, f"Take {label} over", "", (), unit.serial)
    for label, unit in ordered:
        if unit.old:
            costs = "its people are sent away while it starts again"
            yield _step(
                "firmware", label, f"Update {label} until nothing newer is there", costs, (), unit.serial
            )
    wrong = {one.device: one.key for one in devices if any(f.field == "name" for f in one.fields)}
    for label, unit in ordered:
        if label in wrong:
            yield _step("alias", label, f"Name {unit.serial} {label}", "", (wrong[label],), unit.serial)


def _networks(plan: Settings, live: Live, by_section: dict[str, list[Difference]]) -> Iterator[PushStep]:
    """Yield networks: those in the way are dropped first, with their names."""
    for name in _in_the_way(plan, live, by_section["network"]):
        for ssid in live.names:
            if ssid.network == name:
                yield _step("drop-name", ssid.name, f"Take {ssid.name} off the air", "its people are cut off")
        yield _step(
            "drop-network", name, f"Remove network {name}: it stands in the way", "its people are cut off"
        )
    for one in by_section["network"]:
        if one.state != "extra":
            words = f"{'Add' if one.state == 'missing' else 'Change'} network {one.item}"
            costs = "" if one.state == "missing" else "its people ask for new addresses"
            yield _step("network", one.item, words, costs, (one.key,))


def _in_the_way(plan: Settings, live: Live, networks: list[Difference]) -> list[str]:
    extra = {one.item for one in networks if one.state == "extra"}
    wanted = [(network.vlan, ipaddress.ip_network(network.subnet)) for network in plan.networks]
    return [
        network.name
        for network in live.networks
        if network.name in extra
        and any(
            network.vlan == vlan or ipaddress.ip_network(network.subnet).overlaps(subnet)
            for vlan, subnet in wanted
        )
    ]


def _whole(house: list[Difference]) -> Iterator[PushStep]:
    for one in house:
        said = ", ".join(f.field.replace("_", " ") for f in one.fields)
        yield _step("house", one.item, f"Set what holds for all: {said}", "", (one.key,))


def _names(names: list[Difference]) -> Iterator[PushStep]:
    for one in names:
        if one.state != "extra":
            words = f"{'Put' if one.state == 'missing' else 'Change'} {one.item} on the air"
            costs = "" if one.state == "missing" else "its people join anew"
            yield _step("name", one.item, words, costs, (one.key,))


def _radios(at: dict[str, LiveUnit], radios: list[Difference]) -> Iterator[PushStep]:
    by_point: dict[str, list[str]] = defaultdict(list)
    for one in radios:
        by_point[one.device].append(one.key)
    for label, keys in by_point.items():
        costs = "its people move to others for a moment"
        yield _step("radio", label, f"Set the radios of {label}", costs, keys, at[label].serial)


def _ports(
    plan: Settings, at: dict[str, LiveUnit], ports: list[Difference], depths: dict[str, int]
) -> Iterator[PushStep]:
    """Yield edges switch by switch, then trunks from the far end inwards."""
    trunks = {(port.switch, port.port) for port in plan.ports if port.role == "trunk"}
    by_switch: dict[tuple[str, bool], list[str]] = defaultdict(list)
    for one in ports:
        port = one.item.removeprefix("port ")
        by_switch[one.device, (one.device, port) in trunks].append(one.key)
    outwards = sorted(by_switch, key=lambda pair: (pair[1], -depths.get(pair[0], 0)))
    for label, trunk in outwards:
        keys, serial = by_switch[label, trunk], at[label].serial
        if trunk:
            words = f"Set {_counted(len(keys), 'trunk')} of {label}"
            yield _step("trunks", label, words, "what hangs behind it is away for a moment", keys, serial)
        else:
            words = f"Set {_counted(len(keys), 'port')} of {label}; what is not used goes off"
            yield _step("edges", label, words, "what hangs on them asks anew", keys, serial)


def _counted(count: int, what: str) -> str:
    return f"{count} {what}{'' if count == 1 else 's'}"


def _rest(plan: Settings, live: Live, by_section: dict[str, list[Difference]]) -> Iterator[PushStep]:
    """Yield fixed addresses, and what is there without being planned."""
    for one in by_section["address"]:
        if one.state != "extra":
            yield _step("address", one.item, f"Keep an address for {one.item}", "", (one.key,))
    going = set(_in_the_way(plan, live, by_section["network"]))
    gone = {ssid.name for ssid in live.names if ssid.network in going}
    for one in by_section["name"]:
        if one.state == "extra" and one.item not in gone:
            yield _step(
                "drop-name", one.item, f"Take {one.item} off the air", "its people are cut off", (one.key,)
            )
    for one in by_section["network"]:
        if one.state == "extra" and one.item not in going:
            yield _step(
                "drop-network", one.item, f"Remove network {one.item}", "its people are cut off", (one.key,)
            )
    for one in by_section["address"]:
        if one.state == "extra":
            yield _step("drop-address", one.item, f"Keep no address for {one.item} any more", "", (one.key,))
