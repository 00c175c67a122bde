"""The driver of the simulated controller: its terms are in docs/standin.md."""

import json
from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from heathrise.controller.driver import (
    ControllerError,
    Door,
    Garbled,
    LogLine,
    Outcome,
    Person,
    Refused,
    Told,
)
from heathrise.controller.line import Line, part
from heathrise.core.library.items import UNASKED
from heathrise.core.network.held import PushStep
from heathrise.core.network.live import PASSING, Alert, Live, LiveHouse, LivePort, LiveRadio, LiveUnit
from heathrise.core.network.settings import (
    AddressSetting,
    DeviceKind,
    NameSetting,
    NetworkSetting,
    PortSetting,
    RadioSetting,
)

Body = dict[str, Any]
T = TypeVar("T")
_KINDS: dict[str, DeviceKind] = {
    "router": "gateway",
    "switch": "switch",
    "ap": "access-point",
    "console": "controller",
}
KINDS_THERE = {kind: theirs for theirs, kind in _KINDS.items()}
_HOUR_S = 3600
_HANDS = {"window": "hand", "automatic": "night"}
_OURS = {theirs: ours for ours, theirs in _HANDS.items()}


class StandIn:
    """A simulated controller behind a door."""

    def __init__(self, door: Door):
        self._line = Line(door.address)
        found = self._line.send("POST", "session", {"account": door.account, "secret": door.secret})
        self._line.sign(str(_of(found, "token")))

    def read(self) -> Live:
        """Return everything, at one moment."""
        return _read(self._line.get("all"), live_of)

    def act(self, step: PushStep, told: Told) -> Outcome:
        """Do one step, or say that it is under way."""
        try:
            deed = _DEEDS[step.kind]
        except KeyError as error:
            raise Refused(f"this controller cannot be told to {step.kind}") from error
        return deed(self, step, told)

    def backup(self) -> bytes:
        """Return every setting, secrets too."""
        return json.dumps(self._line.get("archive"), sort_keys=True).encode()

    def restore(self, kept: bytes) -> str:
        """Put a backup back."""
        return str(_of(self._line.send("PUT", "archive", json.loads(kept)), "revision"))

    def blink(self, serial: str, on: bool) -> None:
        """Let a unit blink, or stop."""
        self._line.send("POST", f"units/{part(serial)}/{'blink' if on else 'still'}")

    def has_passphrase(self, name: str, passphrase: str) -> bool:
        """Return whether a name has this passphrase."""
        asked = {"name": name, "secret": passphrase}
        return bool(_of(self._line.send("POST", "config/wlans/check", asked), "same"))

    def log(self) -> tuple[LogLine, ...]:
        """Return the newest lines of its log."""
        found = self._line.get("log")
        return _read(found, lambda lines: tuple(_line(one) for one in lines[-200:]))

    def people(self) -> tuple[Person, ...]:
        """Return where phones are."""
        found = self._line.get("people")
        return _read(
            found, lambda rows: tuple(Person(x_m=x, y_m=y, storey=f, serial=s) for x, y, f, s in rows)
        )

    # Steps.

    def _set(self, method: str, path: str, body: Any, told: Told, words: str) -> Outcome:
        found = self._line.send(method, path, body, told.revision)
        return Outcome(state="done", words=words, revision=str(_of(found, "revision")))

    def console(self, step: PushStep, told: Told) -> Outcome:
        """Update the console, round by round."""
        del step, told
        site = self._line.get("")
        if _of(site, "console_updates"):
            return self._under_way("the console updates", site)
        if not _of(site, "console_old"):
            words = f"the console is at {_of(site, 'console_version')}"
            return Outcome(state="done", words=words, revision=str(_of(site, "revision")))
        self._line.send("POST", "console/update")
        return self._under_way("the console updates", site)

    def take(self, step: PushStep, told: Told) -> Outcome:
        """Take a unit over, and wait until it is up."""
        del told
        unit, site = self._unit(step.serial)
        if unit["phase"] in PASSING:
            return self._under_way(f"it is {unit['phase']}", site)
        if unit["phase"] in ("up", "weak", "cut off"):
            return Outcome(state="done", words="it is taken over", revision=str(site["revision"]))
        self._line.send("POST", f"units/{part(step.serial)}/take")
        return self._under_way("it is taken over", site)

    def firmware(self, step: PushStep, told: Told) -> Outcome:
        """Update a unit, round by round, and wait until it is up."""
        del told
        unit, site = self._unit(step.serial)
        if unit["phase"] in PASSING:
            return self._under_way(f"it is {unit['phase']}", site)
        if not unit["old"]:
            return Outcome(state="done", words=f"it is at {unit['version']}", revision=str(site["revision"]))
        self._line.send("POST", f"units/{part(step.serial)}/update")
        return self._under_way(f"it updates from {unit['version']}", site)

    @staticmethod
    def _under_way(words: str, site: Body) -> Outcome:
        return Outcome(state="waiting", words=words, revision=str(_of(site, "revision")))

    def _unit(self, serial: str) -> tuple[Body, Body]:
        found = self._line.get("all")
        for unit in _of(found, "units"):
            if _of(unit, "serial") == serial:
                return unit, _of(found, "site")
        raise Refused(f"{serial} is not there any more")

    def alias(self, step: PushStep, told: Told) -> Outcome:
        """Name a unit as on the drawing."""
        path = f"units/{part(step.serial)}/config"
        return self._set("PUT", path, {"alias": step.item}, told, f"it is called {step.item}")

    def network(self, step: PushStep, told: Told) -> Outcome:
        """Add or change a network."""
        network = _planned(told.plan.networks, step.item)
        return self._set(
            "PUT", "config/nets", _net_there(network), told, f"{network.subnet}, VLAN {network.vlan}"
        )

    def house(self, step: PushStep, told: Told) -> Outcome:
        """Set what holds for all."""
        del step
        house = told.plan.house
        body = {
            "auto_radio": house.automatic_radios,
            "fair": house.airtime_fairness,
            "update": _HANDS[house.updates],
            "update_at": house.update_at,
        }
        return self._set("PUT", "config/whole", body, told, "set")

    def name(self, step: PushStep, told: Told) -> Outcome:
        """Put a name on the air, with its passphrase."""
        name = _planned(told.plan.names, step.item)
        body = _name_there(name, told)
        if name.security not in UNASKED:
            if name.name not in told.passphrases:
                raise Refused(f"{name.name} has no passphrase yet")
            body["secret"] = told.passphrases[name.name]
        return self._set("PUT", "config/wlans", body, told, f"on {', '.join(name.bands)} GHz")

    def radio(self, step: PushStep, told: Told) -> Outcome:
        """Set the radios of a point, and whether it may hang by air."""
        mine = [radio for radio in told.plan.radios if radio.access_point == step.item]
        body = {"mesh": mine[0].mesh, "radios": {radio.band: _radio_there(radio) for radio in mine}}
        said = ", ".join(f"{r.band}: {r.channel}" for r in mine if r.on)
        return self._set("PUT", f"units/{part(step.serial)}/config", body, told, said or "off")

    def ports(self, step: PushStep, told: Told) -> Outcome:
        """Set ports of a switch."""
        keys = set(step.settles)
        mine = [p for p in told.plan.ports if f"port:{p.switch}:{p.port}" in keys]
        body = {"ports": {port.port: _port_there(port) for port in mine}}
        return self._set("PUT", f"units/{part(step.serial)}/config", body, told, f"{len(mine)} ports")

    def address(self, step: PushStep, told: Told) -> Outcome:
        """Keep an address."""
        one = next(a for a in told.plan.addresses if a.name == step.item)
        body = {"name": one.name, "net": one.network, "address": one.address, "mac": one.mac}
        return self._set("PUT", "config/pinned", body, told, one.address)

    def drop(self, step: PushStep, told: Told) -> Outcome:
        """Remove a name, a network or a kept address."""
        where = {"drop-name": "wlans", "drop-network": "nets", "drop-address": "pinned"}[step.kind]
        return self._set("DELETE", f"config/{where}/{part(step.item)}", None, told, "removed")


_DEEDS = {
    "console": StandIn.console,
    "take": StandIn.take,
    "firmware": StandIn.firmware,
    "alias": StandIn.alias,
    "network": StandIn.network,
    "house": StandIn.house,
    "name": StandIn.name,
    "radio": StandIn.radio,
    "edges": StandIn.ports,
    "trunks": StandIn.ports,
    "address": StandIn.address,
    "drop-name": StandIn.drop,
    "drop-network": StandIn.drop,
    "drop-address": StandIn.drop,
}


def _of(found: Any, field: str) -> Any:
    if not isinstance(found, dict) or field not in found:
        raise Garbled(f"its answer has no {field}")
    return found[field]


def _read(found: Any, turn: Callable[[Any], T]) -> T:
    """Return what was told in our terms. Raises Garbled for what cannot be understood."""
    try:
        return turn(found)
    except ControllerError:
        raise
    except (KeyError, TypeError, ValueError, IndexError) as error:
        raise Garbled(f"its answer cannot be understood ({type(error).__name__})") from error


def _planned(items: Iterable[Any], name: str) -> Any:
    found = next((one for one in items if one.name == name), None)
    if found is None:
        raise Refused(f"{name} is not in the plan any more")
    return found


# From ours to theirs.


def _net_there(network: NetworkSetting) -> Body:
    return {
        "name": network.name,
        "vid": network.vlan,
        "cidr": network.subnet,
        "router": network.gateway,
        "pool": [network.first, network.last],
        "lease_s": network.lease_h * _HOUR_S,
        "to": list(network.reaches),
        "wan": network.internet,
        "filter": network.filtering,
        "safe": network.safe_search,
        "cap_mbps": network.client_mbps,
    }


def _name_there(name: NameSetting, told: Told) -> Body:
    serials = [told.serials[label] for label in name.access_points if label in told.serials]
    return {
        "name": name.name,
        "net": name.network,
        "bands": list(name.bands),
        "units": serials,
        "guard": name.security,
        "apart": name.isolation,
        "ft": name.fast_roaming,
        "hints": name.assisted,
        "steer": name.steering,
        "dtim": name.dtim,
        "min24": name.lowest_rate_24_mbps,
        "min5": name.lowest_rate_5_mbps,
        "cap_mbps": name.client_mbps,
        "portal": name.portal,
        "quiet": name.hidden,
        "hours": None if name.from_h is None else [name.from_h, name.to_h],
    }


def _radio_there(radio: RadioSetting) -> Body:
    automatic = radio.channel == "automatic"
    return {
        "on": radio.on,
        "channel": None if automatic else radio.channel,
        "width": radio.width_mhz,
        "dbm": None if radio.power_dbm == "automatic" else radio.power_dbm,
        "min_mbps": radio.lowest_rate_mbps,
        "serves": radio.clients,
    }


def _port_there(port: PortSetting) -> Body:
    return {
        "on": port.role != "off",
        "title": port.name,
        "role": port.role,
        "native": port.native or None,
        "tagged": list(port.tagged),
        "power": port.power,
        "rank": port.priority,
        "mbps": port.speed_mbps,
        "edge": port.edge_protection,
        "loop": port.loop_protection,
        "storm": port.storm_percent,
    }


# From theirs to ours.


def live_of(found: Body) -> Live:
    """Return what it tells of everything in our terms. Raises KeyError, ValueError for what cannot be understood."""
    site, config, units = found["site"], found["config"], found["units"]
    points = tuple(unit["serial"] for unit in units if unit["kind"] == "ap")
    return Live(
        revision=str(site["revision"]),
        clock_s=site["clock"],
        clock_off_s=site["clock_off_s"],
        console_version=site["console_version"],
        console_old=site["console_old"],
        console_updates=site["console_updates"],
        wan=site["wan"],
        people=site["people"],
        units=tuple(_unit(unit) for unit in units),
        networks=tuple(_net(net) for net in config["nets"]),
        names=tuple(_name(wlan, points) for wlan in config["wlans"]),
        other_passphrase=(),
        radios=tuple(_radio(u, band, r) for u in units for band, r in u["radios"].items()),
        ports=tuple(
            _port(u["serial"], name, s) for u in units for name, s in u["sockets"].items() if _is_set(u)
        ),
        addresses=tuple(
            AddressSetting(name=p["name"], network=p["net"], address=p["address"], mac=p["mac"])
            for p in config["pinned"]
        ),
        house=LiveHouse(
            automatic_radios=config["whole"]["auto_radio"],
            airtime_fairness=config["whole"]["fair"],
            updates=_OURS[config["whole"]["update"]],
            update_at=config["whole"]["update_at"],
        ),
        alerts=tuple(
            Alert(kind=a["kind"], serial=a["who"], port=a["port"], words=a["words"]) for a in found["alerts"]
        ),
    )


def _is_set(unit: Body) -> bool:
    """Return whether a unit is set port by port."""
    return unit["kind"] in ("switch", "router")


def _unit(unit: Body) -> LiveUnit:
    return LiveUnit(
        serial=unit["serial"],
        mac=unit["mac"],
        model=unit["model"],
        kind=_KINDS[unit["kind"]],
        name=unit["alias"],
        phase=unit["phase"],
        owner=unit["owner"],
        version=unit["version"],
        old=unit["old"],
        blinks=unit["blinks"],
        wired=unit["wired"],
        on_bench=unit["spot"] == "bench",
        people=unit["people"],
        draws_w=unit["draws_w"],
        gives_w=unit["gives_w"],
        budget_w=unit["budget_w"],
        ports=tuple(
            LivePort(
                name=name,
                up=s["up"],
                mbps=s["link_mbps"],
                watts=s["watts"],
                beside=s["beside"],
                shut=s["shut"],
            )
            for name, s in unit["sockets"].items()
        ),
        radios=tuple(
            LiveRadio(band=band, channel=r["channel"] if r["on"] else None, busy=r["busy"])
            for band, r in unit["radios"].items()
        ),
        seconds=unit["until"],
    )


def _net(net: Body) -> NetworkSetting:
    return NetworkSetting(
        name=net["name"],
        purpose="",
        vlan=net["vid"],
        subnet=net["cidr"],
        gateway=net["router"],
        first=net["pool"][0],
        last=net["pool"][1],
        lease_h=net["lease_s"] / _HOUR_S,
        reaches=tuple(net["to"]),
        internet=net["wan"],
        filtering=net["filter"],
        safe_search=net["safe"],
        client_mbps=net["cap_mbps"],
    )


def _name(wlan: Body, points: tuple[str, ...]) -> NameSetting:
    hours = wlan["hours"] or (None, None)
    return NameSetting(
        name=wlan["name"],
        network=wlan["net"],
        bands=tuple(wlan["bands"]),
        access_points=points if wlan["units"] is None else tuple(wlan["units"]),
        security=wlan["guard"],
        isolation=wlan["apart"],
        fast_roaming=wlan["ft"],
        assisted=wlan["hints"],
        steering=wlan["steer"],
        dtim=wlan["dtim"],
        lowest_rate_24_mbps=wlan["min24"],
        lowest_rate_5_mbps=wlan["min5"],
        client_mbps=wlan["cap_mbps"],
        portal=wlan["portal"],
        hidden=wlan["quiet"],
        from_h=hours[0],
        to_h=hours[1],
    )


def _radio(unit: Body, band: str, radio: Body) -> RadioSetting:
    return RadioSetting(
        access_point=unit["serial"],
        band=band,
        on=radio["on"],
        clients=radio["serves"],
        channel="automatic" if radio["channel"] is None else radio["channel"],
        width_mhz=radio["width"],
        power_dbm="automatic" if radio["dbm"] is None else radio["dbm"],
        lowest_rate_mbps=radio["min_mbps"],
        mesh=unit["mesh"],
    )


def _port(serial: str, name: str, port: Body) -> PortSetting:
    return PortSetting(
        switch=serial,
        port=name,
        name=port["title"],
        to=port["beside"],
        role=port["role"] if port["on"] else "off",
        native=port["native"] or "",
        tagged=tuple(port["tagged"]),
        power=port["power"],
        priority=port["rank"],
        speed_mbps=port["mbps"],
        edge_protection=port["edge"],
        loop_protection=port["loop"],
        storm_percent=port["storm"],
    )


def _line(line: Body) -> LogLine:
    return LogLine(at_s=line["at"], serial=line["who"], words=line["words"], grave=line["grave"])
