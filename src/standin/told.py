"""What the stand-in tells of a site: units, settings, people, alerts. Secrets are never among it."""

from typing import Any

from standin.world import World, mbps_of

_BUSY_PER_CLIENT = 0.012


def unit_told(world: World, serial: str, counts: dict[int, int]) -> dict[str, Any]:
    """Return one unit as it is now."""
    unit, state, phase = world.units[serial], world.states[serial], world.phase_of(serial)
    told_serial = next((str(f["as"]) for f in world.having("twin-serial") if f["serial"] == serial), serial)
    return {
        "serial": told_serial,
        "mac": unit.mac,
        "model": unit.model,
        "kind": unit.kind,
        "phase": phase,
        "owner": unit.owner if phase == "owned" else "",
        "version": world.version_of(state.version),
        "newest": world.version_of(unit.rounds),
        "old": state.version < unit.rounds,
        "alias": state.alias,
        "blinks": state.blinks,
        "wired": unit.wired,
        "spot": state.spot,
        "mesh": state.mesh,
        "draws_w": unit.draws_w if phase != "dark" else 0.0,
        "gives_w": sum(watts for _, _, watts, _ in world._asks(serial)),
        "budget_w": world.budget_of(serial),
        "people": counts.get(world._numbers[serial], 0),
        "radios": {band: _radio(world, serial, band, counts) for band in unit.bands},
        "sockets": {socket.name: _socket(world, serial, socket.name) for socket in unit.sockets},
        "until": max(0.0, state.until - world.now) if state.until else 0.0,
    }


def _radio(world: World, serial: str, band: str, counts: dict[int, int]) -> dict[str, Any]:
    radio = world.states[serial].radios[band]
    people = counts.get(world._numbers[serial], 0)
    shared = sum(
        1
        for other, state in world.states.items()
        if other != serial and band in state.radios and state.radios[band]["channel"] == radio["channel"]
    )
    busy = min(1.0, 0.02 * shared + _BUSY_PER_CLIENT * people)
    return {**radio, "busy": round(busy, 3)}


def _socket(world: World, serial: str, name: str) -> dict[str, Any]:
    """Return one port: its settings, its speed now, its watts, who is at the other end."""
    port = world.port(serial, name)
    found: dict[str, Any] = {
        **port,
        "up": False,
        "link_mbps": 0,
        "watts": 0.0,
        "beside": "",
        "beside_mac": "",
    }
    for wire in world.wires:
        ends = ((wire.near, wire.near_port, wire.far), (wire.far, wire.far_port, wire.near))
        for here, at, other in ends:
            if (here, at) == (serial, name):
                alive = port["on"] and world.phase_of(other) != "dark"
                fed = here == wire.near and world._gives(wire) and port["power"] and alive
                found |= {
                    "up": alive,
                    "link_mbps": mbps_of(world, wire) if alive else 0,
                    "watts": world.units[wire.far].draws_w if fed else 0.0,
                    "beside": other,
                    "beside_mac": world.units[other].mac,
                }
    thing = world.thing_at(serial, name)
    if thing is not None:
        found |= {
            "up": port["on"],
            "link_mbps": 1000 if port["on"] else 0,
            "beside": thing.label,
            "beside_mac": thing.mac,
        }
        found["watts"] = thing.draws_w if port["on"] and port["power"] else 0.0
    return {**found, "shut": name in world.states[serial].blocked}


def units_told(world: World) -> list[dict[str, Any]]:
    """Return every unit."""
    counts = world.crowd.counts()
    return [unit_told(world, serial, counts) for serial in world.units]


def config_told(world: World) -> dict[str, Any]:
    """Return every setting but secrets, of which it says whether there is one."""
    return {
        "revision": world.revision,
        "nets": [net.model_dump() for net in world.nets.values()],
        "wlans": [
            {**wlan.model_dump(exclude={"secret"}), "has_secret": wlan.secret is not None}
            for wlan in world.wlans.values()
        ],
        "pinned": [pinned.model_dump() for pinned in world.pinned.values()],
        "whole": world.whole.model_dump(),
    }


def site_told(world: World) -> dict[str, Any]:
    """Return the site as a whole: clock, console, the way out."""
    return {
        "clock": world.stamp(),
        "clock_off_s": world.skew(),
        "revision": world.revision,
        "console_version": world.version_of(world.console_version),
        "console_old": world.console_version < world.site.console_rounds,
        "console_updates": bool(world.console_until),
        "wan": world.wan(),
        "people": len(world.crowd),
        "moves": world.crowd.moves,
        "drops": world.crowd.drops,
    }


def alerts_told(world: World) -> list[dict[str, Any]]:
    """Return what is wrong by the stand-in's own lights."""
    found: list[dict[str, Any]] = []
    if world.wan() != "up":
        found.append({"kind": "wan", "who": "", "port": "", "words": world.wan()})
    for serial in world.units:
        found += _unit_alerts(world, serial)
    for wire in world.wires:
        if wire.pairs < 4:
            words = f"{wire.pairs} of 4 pairs are sound"
            found.append({"kind": "pairs", "who": wire.near, "port": wire.near_port, "words": words})
    for thing in world.site.things:
        native = world.port(thing.serial, thing.port)["native"]
        if thing.net and native is not None and native != thing.net:
            words = f"{thing.label} is in {native} and cannot be reached where it belongs"
            found.append({"kind": "lost", "who": thing.serial, "port": thing.port, "words": words})
    for net, (cidr, until) in world.old_leases.items():
        words = f"some still have addresses of {cidr}, for {round(until - world.now)} s"
        found.append({"kind": "old-lease", "who": net, "port": "", "words": words})
    return found


def _unit_alerts(world: World, serial: str) -> list[dict[str, Any]]:
    phase, state = world.phase_of(serial), world.states[serial]
    made = []
    if phase in ("dark", "cut off"):
        made.append({"kind": phase, "who": serial, "port": "", "words": f"it is {phase}"})
    if world.stormy(serial):
        made.append(
            {"kind": "loop", "who": serial, "port": "", "words": "a loop goes round: nothing else passes"}
        )
    made += [{"kind": "loop", "who": serial, "port": port, "words": "shut: a loop"} for port in state.blocked]
    asked = sum(watts for _, _, watts, _ in world._asks(serial))
    if asked > world.budget_of(serial):
        words = f"asked for {asked:.0f} W, has {world.budget_of(serial):.0f} W"
        made.append({"kind": "budget", "who": serial, "port": "", "words": words})
    return made


def people_told(world: World) -> list[list[Any]]:
    """Return where everybody is: x, y, floor, the serial of their point or nothing."""
    serials = {n: serial for serial, n in world._numbers.items()}
    crowd = world.crowd
    return [
        [round(float(x), 1), round(float(y), 1), int(f), serials.get(int(a), "")]
        for (x, y), f, a in zip(crowd.xy.tolist(), crowd.floor.tolist(), crowd.at.tolist(), strict=True)
    ]


def all_told(world: World) -> dict[str, Any]:
    """Return everything at one moment."""
    return {
        "site": site_told(world),
        "units": units_told(world),
        "config": config_told(world),
        "alerts": alerts_told(world),
    }
