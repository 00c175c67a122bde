"""A stand-in set up from a job: its units, cables and people as planned, fresh out of their boxes."""

from typing import Any

from heathrise.controller.line import Line, part
from heathrise.controller.standin import KINDS_THERE
from heathrise.core.network.built import AsBuilt, BuiltUnit, likely_mac, likely_serial

_SCHEME = "simulated:"


def site_of(
    built: AsBuilt, account: str, secret: str, serials: dict[str, str], service: str | None
) -> dict[str, Any]:
    """Return a site in the stand-in's terms; units that have a serial on the drawing have that one."""
    real = {
        unit.element_id: serials.get(unit.element_id) or likely_serial(unit.element_id)
        for unit in built.units
    }
    return {
        "seed": 7,
        "account": account,
        "secret": secret,
        "units": [_unit(unit, real[unit.element_id]) for unit in built.units],
        "wires": [
            {"near": real[w.a_id], "near_port": w.a_port, "far": real[w.b_id], "far_port": w.b_port}
            for w in built.wires
        ],
        "things": [
            {
                "label": thing.label,
                "mac": likely_mac(thing.element_id),
                "serial": real[thing.unit_id],
                "port": thing.port,
                "draws_w": thing.draws_w,
                "net": thing.network,
            }
            for thing in built.things
        ],
        "people": built.people,
        "corners": built.corners_m,
        "service": {"cidr": service or "192.0.2.0/24"},
    }


def _unit(unit: BuiltUnit, serial: str) -> dict[str, Any]:
    return {
        "serial": serial,
        "mac": likely_mac(unit.element_id),
        "model": unit.model,
        "kind": KINDS_THERE[unit.kind],
        "sockets": [{"name": p.name, "mbps": p.mbps, "gives_w": p.gives_w} for p in unit.ports],
        "bands": list(unit.bands),
        "budget_w": unit.budget_w,
        "draws_w": unit.draws_w,
        "floor": unit.storey,
        "x": unit.x_m,
        "y": unit.y_m,
        "wired": unit.wired,
    }


def begin(stand_in: str, name: str, site: dict[str, Any]) -> str:
    """Begin a site on the stand-in anew and return its address, which names no port: that may be another tomorrow.

    Raises ControllerError.
    """
    Line(stand_in).send("PUT", f"sim/{part(name)}", site)
    return f"{_SCHEME}{name}"


def is_simulated(address: str) -> bool:
    """Return whether an address is a simulated controller's."""
    return address.startswith(_SCHEME)


def real_address(stand_in: str, address: str) -> str:
    """Return where an address leads: a simulated one to the stand-in of this machine, any other where it says."""
    if not is_simulated(address):
        return address
    return f"{stand_in.rstrip('/')}/sites/{part(address.removeprefix(_SCHEME))}"
