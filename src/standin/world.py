"""One site as it lives: units that are taken over, update, start, go dark or are cut off; settings; a log.

Time is the site's own and goes in whole seconds. What a unit does next stands in its `until` and `then`; what it is
follows from power, wires and settings each time something changes.
"""

import ipaddress
from collections import deque
from collections.abc import Callable, Iterator
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from standin.people import Crowd, Points
from standin.shapes import Net, Pinned, PortSet, RadioSet, Site, SiteSet, Thing, Unit, UnitSet, Wire, Wlan

JOIN_S, READY_S, UPDATE_S, START_S, LISTEN_S, CONSOLE_S = 30, 20, 90, 60, 180, 120
_LOG_LINES = 2000
_FULL_MBPS, _TWO_PAIRS_MBPS = 1000, 100
_RANKS = {"critical": 0, "high": 1, "low": 2}
# What is on at once and answers.
_ALIVE = ("up", "readying", "listening", "weak")
# What of a unit's state is settings.
_SET = ("alias", "mesh", "radios", "ports")
_EPOCH_S = 1_772_438_400


class Refused(Exception):
    """A wish that is not granted, and why; `status` is what HTTP calls it."""

    def __init__(self, why: str, status: int = 409):
        super().__init__(why)
        self.why = why
        self.status = status


@dataclass
class State:
    """What a unit is like now."""

    phase: str = "new"
    until: float = 0.0
    then: str = ""
    version: int = 0
    blinks: bool = False
    spot: str = "place"
    alias: str = ""
    mesh: bool = True
    radios: dict[str, dict[str, Any]] = field(default_factory=dict)
    ports: dict[str, dict[str, Any]] = field(default_factory=dict)
    heard: list[dict[str, Any]] = field(default_factory=list)
    blocked: list[str] = field(default_factory=list)


class World:
    """A site. `revision` grows with every change of settings, whoever makes it."""

    def __init__(self, site: Site):
        self.site = site
        self.units: dict[str, Unit] = {unit.serial: unit for unit in site.units}
        self.states: dict[str, State] = {serial: self._fresh(unit) for serial, unit in self.units.items()}
        self.wires: list[Wire] = list(site.wires)
        self.nets: dict[str, Net] = {}
        self.wlans: dict[str, Wlan] = {}
        self.pinned: dict[str, Pinned] = {}
        self.whole = SiteSet()
        self.service = site.service.cidr
        self.revision = 1
        self.now = 0.0
        self.console_version = 0
        self.console_until = 0.0
        self.faults: list[dict[str, Any]] = []
        self.log: deque[dict[str, Any]] = deque(maxlen=_LOG_LINES)
        self.old_leases: dict[str, tuple[str, float]] = {}
        floors = sorted({unit.floor for unit in site.units})
        self.crowd = Crowd(site.people, floors, site.corners, site.seed)
        self._numbers = {serial: n for n, serial in enumerate(self.units)}
        self._dark: set[str] = set()
        self._cut: set[str] = set()
        self._far: dict[tuple[str, str], Wire] = {}
        self.say("console", "The site begins.")
        self.settle()

    def _fresh(self, unit: Unit) -> State:
        state = State(spot="place" if unit.wired else "bench")
        state.phase = "owned" if unit.owner else "new"
        state.radios = {band: RadioSet(width=20).model_dump() for band in unit.bands}
        state.ports = {socket.name: PortSet().model_dump() for socket in unit.sockets}
        return state

    # Time.

    def advance(self, seconds: int) -> None:
        """Let so many seconds pass."""
        for _ in range(seconds):
            self.now += 1
            changed = self._due()
            if changed:
                self.settle()
            if len(self.crowd):
                self.crowd.step(self._points())

    def _due(self) -> bool:
        changed = False
        if self.console_until and self.now >= self.console_until:
            self.console_until, changed = 0.0, True
            self.console_version += 1
            self.say("console", f"Software {self.version_of(self.console_version)} is on.")
        for serial, state in self.states.items():
            if state.until and self.now >= state.until:
                self._next(serial, state)
                changed = True
        expired = [net for net, (_, until) in self.old_leases.items() if self.now >= until]
        for net in expired:
            del self.old_leases[net]
        return changed

    def _next(self, serial: str, state: State) -> None:
        """Go on to what comes next for a unit."""
        steps: dict[str, tuple[str, float, str]] = {
            "joining": ("readying", READY_S, "ready"),
            "ready": ("up", 0, ""),
            "updated": ("starting", START_S, "started"),
            "started": ("up", 0, ""),
            "listened": ("up", 0, ""),
        }
        if state.then == "updated":
            state.version += 1
            self.say(serial, f"Firmware {self.version_of(state.version)} is on; it starts again.")
        if state.then == "listened":
            state.heard = self._heard(serial)
        phase, lasts, then = steps[state.then]
        state.phase, state.then = phase, then
        state.until = self.now + lasts if lasts else 0.0

    def stamp(self) -> float:
        """Return what the site's clock says, in seconds since 1970; a skewed one says something else."""
        return _EPOCH_S + self.now + self.skew()

    def skew(self) -> float:
        """Return by how much its clock is off what its time server says. [s]"""
        return sum(float(fault.get("seconds", 3600)) for fault in self.having("skew"))

    @staticmethod
    def version_of(number: int) -> str:
        """Return a version as it is written."""
        return f"{number // 3 + 1}.{number % 3}"

    # What is said.

    def say(self, who: str, words: str, grave: bool = False) -> None:
        """Write a line of the log."""
        self.log.append(
            {"at": self.stamp() if hasattr(self, "faults") else 0, "who": who, "words": words, "grave": grave}
        )

    def having(self, kind: str) -> Iterator[dict[str, Any]]:
        """Yield the faults of a kind that are put in."""
        return (fault for fault in self.faults if fault["kind"] == kind)

    # Power, wires, reach.

    def settle(self) -> None:
        """Work out what is dark and what is cut off, after anything changed."""
        self._far = {(w.near, w.near_port): w for w in self.wires}
        dark, cut = self._powerless(), set(self.states)
        self._block_loops()
        for serial in self._reached(dark):
            cut.discard(serial)
        for serial in sorted(dark - self._dark):
            self.say(serial, "It has gone dark: no power.", grave=True)
        for serial in sorted((cut - dark) - self._cut):
            if self.states[serial].phase in _ALIVE:
                self.say(
                    serial,
                    "It does not answer: its port does not carry where it is looked after.",
                    grave=True,
                )
        self._dark, self._cut = dark, cut

    def _powerless(self) -> set[str]:
        """Return the units without power: their port is off or gives none, or their switch had too little."""
        dark: set[str] = set()
        for serial in self.units:
            asks = sorted(self._asks(serial), key=lambda ask: (_RANKS[ask[0]], ask[1]))
            left = self.budget_of(serial)
            for _, _, watts, fed in asks:
                if watts > left:
                    dark |= {fed} if fed else set()
                else:
                    left -= watts
        for wire in self.wires:
            port = self.port(wire.near, wire.near_port)
            if self._gives(wire) and not (port["on"] and port["power"]):
                dark.add(wire.far)
        return dark

    def budget_of(self, serial: str) -> float:
        """Return what a switch can give; less while that fault is put in. [W]"""
        less = [float(fault.get("watts", 0)) for fault in self.having("budget") if fault["serial"] == serial]
        return min([self.units[serial].budget_w, *less])

    def _asks(self, serial: str) -> Iterator[tuple[str, str, float, str | None]]:
        """Yield what is asked of a switch's power: rank, port, watts and the unit fed, if it is one."""
        for wire in self.wires:
            if wire.near == serial and self._gives(wire):
                port = self.port(serial, wire.near_port)
                if port["on"] and port["power"]:
                    yield port["rank"], wire.near_port, self.units[wire.far].draws_w, wire.far
        for thing in self.site.things:
            port = self.port(thing.serial, thing.port)
            if thing.serial == serial and thing.draws_w and port["on"] and port["power"]:
                yield port["rank"], thing.port, thing.draws_w, None

    def _gives(self, wire: Wire) -> bool:
        socket = self.socket(wire.near, wire.near_port)
        return socket is not None and socket.gives_w > 0 and self.units[wire.far].draws_w > 0

    def socket(self, serial: str, port: str) -> Any:
        """Return a port of a unit as it was made, None for one it has not got."""
        return next((one for one in self.units[serial].sockets if one.name == port), None)

    def port(self, serial: str, name: str) -> dict[str, Any]:
        """Return the settings of a port; one nobody set is open. A wrong network put in there shows."""
        found = dict(self.states[serial].ports.get(name) or PortSet().model_dump())
        for fault in self.having("wrong-vlan"):
            if (fault["serial"], fault["port"]) == (serial, name):
                found["native"] = fault.get("net") or next(
                    (n for n in self.nets if n != found["native"]), None
                )
        return found

    def home(self) -> str | None:
        """Return the network units are looked after in: what most trunks and points carry untagged."""
        natives = [
            p["native"]
            for s in self.states.values()
            for p in s.ports.values()
            if p["role"] in ("trunk", "point")
        ]
        # Of two that as many carry it is the one that was there first.
        return max((net for net in self.nets if net in natives), key=natives.count, default=None)

    def _block_loops(self) -> None:
        for serial, state in self.states.items():
            looped = [f["port"] for f in self.having("loop") if f["serial"] == serial]
            guarded = [port for port in looped if self.port(serial, port)["loop"]]
            for port in guarded:
                if port not in state.blocked:
                    self.say(serial, f"Port {port} is shut: what it sends comes back, a loop.", grave=True)
            state.blocked = guarded

    def stormy(self, serial: str) -> bool:
        """Whether a loop without protection goes round on a switch."""
        return any(
            f["serial"] == serial and f["port"] not in self.states[serial].blocked
            for f in self.having("loop")
        )

    def _reached(self, dark: set[str]) -> set[str]:
        """Return the units that the console reaches: over wires whose ports carry its network, then by air."""
        roots = [s for s, unit in self.units.items() if unit.kind in ("router", "console")] or list(
            self.units
        )[:1]
        seen, pending, home = set(roots), list(roots), self.home()
        while pending:
            here = pending.pop()
            if here in dark or self.stormy(here):
                continue
            for wire in self.wires:
                if here in (wire.near, wire.far) and self._carries(wire, home):
                    other = wire.far if wire.near == here else wire.near
                    if other not in seen:
                        seen.add(other)
                        pending.append(other)
        return self._by_air(seen, dark)

    def _by_air(self, seen: set[str], dark: set[str]) -> set[str]:
        masts = [s for s in seen - dark if self.units[s].kind == "ap"]
        for serial, unit in self.units.items():
            hangs = not unit.wired and self.states[serial].mesh and bool(masts)
            if not unit.wired and (self.states[serial].spot == "bench" or hangs):
                seen.add(serial)
        return seen

    def _carries(self, wire: Wire, home: str | None) -> bool:
        near, far = self.port(wire.near, wire.near_port), self.port(wire.far, wire.far_port)
        open_ = near["on"] and far["on"] and wire.pairs >= 2
        blocked = wire.near_port in self.states[wire.near].blocked
        set_ = [p["native"] for p in (near, far) if p["native"] is not None]
        return open_ and not blocked and (home is None or all(native == home for native in set_))

    def phase_of(self, serial: str) -> str:
        """Return what a unit is like in one word."""
        state = self.states[serial]
        if any(f["serial"] == serial for f in self.having("offline")) or serial in self._dark:
            return "dark"
        if state.phase in _ALIVE and serial in self._cut:
            return "cut off"
        return state.phase

    # People.

    def _points(self) -> Points:
        on = [s for s in self.units if self._on_air(s)]
        numbers = np.array([self._numbers[s] for s in on], np.int32)
        xy = np.array([(self.units[s].x, self.units[s].y) for s in on], np.float32).reshape(-1, 2)
        return Points(numbers, xy, np.array([self.units[s].floor for s in on], np.float32))

    def _on_air(self, serial: str) -> bool:
        if self.units[serial].kind != "ap" or self.phase_of(serial) not in ("up", "weak"):
            return False
        radios = self.states[serial].radios.values()
        return any(radio["on"] for radio in radios) and any(
            wlan.units is None or serial in wlan.units for wlan in self.wlans.values()
        )

    def clients_at(self, serial: str) -> int:
        """Return how many people are on a point."""
        return self.crowd.counts().get(self._numbers[serial], 0)

    def _heard(self, serial: str) -> list[dict[str, Any]]:
        """Return what a point hears when it listens: the others on their channels, and strangers from the seed."""
        me, found = self.units[serial], []
        for other, unit in self.units.items():
            if unit.kind == "ap" and other != serial and self.phase_of(other) == "up":
                apart = max(1.0, float(np.hypot(me.x - unit.x, me.y - unit.y)))
                level = -38 - 22 * float(np.log10(apart)) - 15 * abs(me.floor - unit.floor)
                found += [
                    {"who": unit.mac, "band": band, "channel": radio["channel"], "dbm": round(level)}
                    for band, radio in self.states[other].radios.items()
                    if radio["on"] and radio["channel"]
                ]
        rng = np.random.default_rng(self.site.seed + self._numbers[serial])
        strangers = [
            {
                "who": "",
                "band": "2.4",
                "channel": int(rng.choice([1, 6, 11])),
                "dbm": int(rng.integers(-88, -70)),
            }
        ]
        return found + strangers

    # Settings.

    def change(self, who: str, words: str) -> None:
        """Note that settings changed."""
        self.revision += 1
        self.say(who, words)
        self.settle()

    def archive(self) -> dict[str, Any]:
        """Return every setting, secrets too: what a backup holds."""
        units = {
            serial: {name: deepcopy(getattr(state, name)) for name in _SET}
            for serial, state in self.states.items()
        }
        return {
            "nets": [n.model_dump() for n in self.nets.values()],
            "wlans": [w.model_dump() for w in self.wlans.values()],
            "pinned": [p.model_dump() for p in self.pinned.values()],
            "whole": self.whole.model_dump(),
            "units": units,
        }

    def restore(self, kept: dict[str, Any]) -> None:
        """Take every setting from a backup. Units stay taken over, and their firmware as it is."""
        self.nets = {n["name"]: Net.model_validate(n) for n in kept["nets"]}
        self.wlans = {w["name"]: Wlan.model_validate(w) for w in kept["wlans"]}
        self.pinned = {p["name"]: Pinned.model_validate(p) for p in kept["pinned"]}
        self.whole = SiteSet.model_validate(kept["whole"])
        for serial, settings in kept["units"].items():
            if serial in self.states:
                for name, value in settings.items():
                    setattr(self.states[serial], name, value)
        self.change("console", "A backup was put back.")

    def set_unit(self, serial: str, given: UnitSet) -> None:
        """Set a unit. Raises Refused for one that is not taken over or does not answer."""
        unit, state = self.known(serial), self.states[serial]
        if self.phase_of(serial) not in ("up", "weak"):
            raise Refused(f"{serial} is {self.phase_of(serial)}; it takes no settings", 409)
        unknown = set(given.ports) - {s.name for s in unit.sockets} | (set(given.radios) - set(unit.bands))
        if unknown:
            raise Refused(f"{serial} has no {', '.join(sorted(unknown))}", 422)
        for port in given.ports.values():
            for net in (port.native, *port.tagged):
                if net is not None and net not in self.nets:
                    raise Refused(f"there is no network {net}", 422)
        for refused in self.having("refuses"):
            if refused.get("serial") in (serial, None):
                raise Refused(refused.get("why", "this setting is not taken"), 422)
        state.alias = state.alias if given.alias is None else given.alias
        state.mesh = state.mesh if given.mesh is None else given.mesh
        state.radios |= {band: radio.model_dump() for band, radio in given.radios.items()}
        state.ports |= {name: port.model_dump() for name, port in given.ports.items()}
        self.change(serial, "It was given settings.")

    def known(self, serial: str) -> Unit:
        """Return a unit. Raises Refused."""
        if serial not in self.units:
            raise Refused(f"there is no unit {serial}", 404)
        return self.units[serial]

    def put_net(self, net: Net) -> None:
        """Add or change a network; who has an address of the old subnet keeps it until its lease ends."""
        for other in self.nets.values():
            if other.name != net.name and other.vid == net.vid:
                raise Refused(f"{other.name} has number {net.vid} already", 422)
            if other.name != net.name and _overlap(other.cidr, net.cidr):
                raise Refused(f"{net.cidr} lies over {other.name}, {other.cidr}", 422)
        old = self.nets.get(net.name)
        if old is not None and old.cidr != net.cidr:
            self.old_leases[net.name] = (old.cidr, self.now + old.lease_s)
        self.nets[net.name] = net
        self.change(net.name, f"Network {net.name} is {net.cidr}, number {net.vid}.")

    def drop_net(self, name: str) -> None:
        """Take a network away. Raises Refused while something uses it."""
        users = [w.name for w in self.wlans.values() if w.net == name]
        if users:
            raise Refused(f"{', '.join(users)} is on {name}", 409)
        if self.nets.pop(name, None) is None:
            raise Refused(f"there is no network {name}", 404)
        self.change(name, f"Network {name} is gone.")

    def wan(self) -> str:
        """Return whether the service gives an address: not while a network lies over it."""
        over = [net.name for net in self.nets.values() if _overlap(net.cidr, self.service_now())]
        return f"no address: {over[0]} lies over {self.service_now()}" if over else "up"

    def service_now(self) -> str:
        """Return the subnet the service hands out of."""
        return next((str(f["cidr"]) for f in self.having("overlap")), self.service)

    # Wishes.

    def take(self, serial: str) -> None:
        """Take a unit over. Raises Refused out of order, or for one that is owned elsewhere or out of reach."""
        unit, state, phase = self.known(serial), self.states[serial], self.phase_of(serial)
        if self.console_version < self.site.console_rounds or self.console_until:
            raise Refused("the console is not up to date: update it first, then take units over")
        if state.phase == "owned":
            raise Refused(f"{serial} belongs to {unit.owner}: release it there or reset it")
        if phase == "dark":
            raise Refused(f"{serial} has no power")
        if not unit.wired and state.spot != "bench":
            raise Refused(f"{serial} has no cable here: take it over beside a wired one, then carry it")
        if state.phase != "new":
            raise Refused(f"{serial} is {phase} already")
        state.phase, state.until, state.then = "joining", self.now + JOIN_S, "joining"
        self.say(serial, "It is taken over.")

    def update(self, serial: str) -> None:
        """Update a unit by one round. Raises Refused."""
        unit, state = self.known(serial), self.states[serial]
        if self.phase_of(serial) not in ("up", "weak"):
            raise Refused(f"{serial} is {self.phase_of(serial)}; it cannot update")
        if state.version >= unit.rounds:
            raise Refused(f"{serial} is up to date")
        state.phase, state.until, state.then = "updating", self.now + UPDATE_S, "updated"
        self.say(serial, "It updates; its people are sent away.")

    def update_console(self) -> None:
        """Update the console by one round. Raises Refused."""
        if self.console_until:
            raise Refused("the console updates already")
        if self.console_version >= self.site.console_rounds:
            raise Refused("the console is up to date")
        self.console_until = self.now + CONSOLE_S
        self.say("console", "It updates.")

    def listen(self, serial: str) -> None:
        """Let a point look for quiet channels: it sends its people away meanwhile. Raises Refused."""
        state = self.states[self.known(serial).serial]
        if self.phase_of(serial) != "up":
            raise Refused(f"{serial} is {self.phase_of(serial)}")
        state.phase, state.until, state.then = "listening", self.now + LISTEN_S, "listened"
        self.say(serial, "It listens; its people are sent away.")

    def restart(self, serial: str) -> None:
        """Start a unit again. Raises Refused."""
        state = self.states[self.known(serial).serial]
        if self.phase_of(serial) not in ("up", "weak"):
            raise Refused(f"{serial} is {self.phase_of(serial)}")
        state.phase, state.until, state.then = "starting", self.now + START_S, "started"

    def release(self, serial: str) -> None:
        """Reset a unit that is owned elsewhere, as with a pin in its hole."""
        state = self.states[self.known(serial).serial]
        state.phase = "new"
        self.say(serial, "It was reset.")

    def carry(self, serial: str, spot: str) -> None:
        """Carry a unit that hangs by air between bench and place."""
        self.states[self.known(serial).serial].spot = spot
        self.say(serial, f"It was carried to its {spot}.")
        self.settle()

    # Faults.

    def put_fault(self, fault: dict[str, Any]) -> None:
        """Put a fault in."""
        act = _AT_ONCE.get(fault["kind"])
        if act is not None:
            act(self, fault)
        self.faults.append(fault)
        self.settle()

    def clear_faults(self) -> None:
        """Take all faults out; what they did to units at once stays done."""
        for fault in self.having("dead-pair"):
            self._pairs(fault, 4)
        self.faults.clear()
        self.settle()

    def _pairs(self, fault: dict[str, Any], pairs: int) -> None:
        self.wires = [
            wire.model_copy(update={"pairs": pairs})
            if (wire.near, wire.near_port) == (fault["serial"], fault["port"])
            else wire
            for wire in self.wires
        ]

    def thing_at(self, serial: str, port: str) -> Thing | None:
        """Return the thing on a port."""
        return next((t for t in self.site.things if (t.serial, t.port) == (serial, port)), None)


def _dead_pair(world: World, fault: dict[str, Any]) -> None:
    world._pairs(fault, 2)


def _old_firmware(world: World, fault: dict[str, Any]) -> None:
    world.states[fault["serial"]].version = 0


def _swapped(world: World, fault: dict[str, Any]) -> None:
    """Another unit of the kind hangs in a unit's place, new."""
    old, new = fault["serial"], fault["new"]
    unit = world.units.pop(old).model_copy(
        update={"serial": new, "mac": fault.get("mac", "02:00:00:ff:ff:01")}
    )
    world.units[new] = unit
    world.states.pop(old)
    world.states[new] = world._fresh(unit)
    world._numbers[new] = world._numbers.pop(old)
    ends = {old: new}
    world.wires = [
        w.model_copy(update={"far": ends.get(w.far, w.far), "near": ends.get(w.near, w.near)})
        for w in world.wires
    ]


def _owned(world: World, fault: dict[str, Any]) -> None:
    """A unit turns out to belong to somebody else."""
    serial = fault["serial"]
    world.units[serial] = world.units[serial].model_copy(update={"owner": fault["owner"]})
    world.states[serial].phase = "owned"


def _wrong_channel(world: World, fault: dict[str, Any]) -> None:
    world.states[fault["serial"]].radios[fault["band"]]["channel"] = fault["channel"]
    world.revision += 1


_AT_ONCE: dict[str, Callable[[World, dict[str, Any]], None]] = {
    "dead-pair": _dead_pair,
    "old-firmware": _old_firmware,
    "owned": _owned,
    "swapped": _swapped,
    "wrong-channel": _wrong_channel,
}


def _overlap(one: str, other: str) -> bool:
    a, b = ipaddress.ip_network(one), ipaddress.ip_network(other)
    return a.version == b.version and a.overlaps(b)


def mbps_of(world: World, wire: Wire) -> int:
    """Return the speed of a wire: of the slower port, and of two pairs where two are dead."""
    ports = [world.socket(wire.near, wire.near_port), world.socket(wire.far, wire.far_port)]
    speeds = [socket.mbps for socket in ports if socket is not None] or [_FULL_MBPS]
    return 0 if wire.pairs < 2 else min(speeds) if wire.pairs == 4 else min(_TWO_PAIRS_MBPS, *speeds)
