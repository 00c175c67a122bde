"""Settings as files, for whoever has no controller here or another one: JSON and YAML of one schema, a sheet a device.

The schema is published as docs/settings.schema.json. Passphrases are in none of them.
"""

import io
import zipfile

import yaml

from heathrise.core.network.built import AsBuilt
from heathrise.core.network.settings import PortSetting, RadioSetting, Settings
from heathrise.exchange.tables import Cell, to_csv
from heathrise.exchange.topology import topology_json

_PORTS = (
    "port",
    "name",
    "to",
    "role",
    "native",
    "tagged",
    "power",
    "priority",
    "speed_mbps",
    "edge_protection",
)
_RADIOS = ("band", "on", "channel", "width_mhz", "power_dbm", "lowest_rate_mbps", "mesh", "names")
# Every entry has one date: the same settings give the same file, to the bit.
_WHEN = (1980, 1, 1, 0, 0, 0)


def settings_json(settings: Settings) -> str:
    """Return settings as JSON."""
    return settings.model_dump_json(indent=1) + "\n"


def settings_yaml(settings: Settings) -> str:
    """Return the same as YAML."""
    return str(yaml.safe_dump(settings.model_dump(mode="json"), sort_keys=False, allow_unicode=True))


def device_sheets(settings: Settings) -> dict[str, str]:
    """Return a sheet of each device as CSV, by its name: ports of what has some, radios of access points."""
    found = {}
    for device in settings.devices:
        if device.kind == "access-point":
            rows = [_radio(settings, r) for r in settings.radios if r.access_point == device.name]
            found[device.name] = to_csv(_RADIOS, rows)
        else:
            ports = [_port(port) for port in settings.ports if port.switch == device.name]
            found[device.name] = to_csv(_PORTS, ports)
    return found


def _port(port: PortSetting) -> list[Cell]:
    body = port.model_dump() | {"tagged": " ".join(port.tagged)}
    return [body[name] for name in _PORTS]


def _radio(settings: Settings, radio: RadioSetting) -> list[Cell]:
    on = [n.name for n in settings.names if radio.band in n.bands and radio.access_point in n.access_points]
    body = radio.model_dump() | {"names": ", ".join(on)}
    return [body[name] for name in _RADIOS]


def bundle(settings: Settings, built: AsBuilt) -> bytes:
    """Return everything as one archive."""
    files = {
        "settings.json": settings_json(settings),
        "settings.yaml": settings_yaml(settings),
        "topology.json": topology_json(settings.job, built),
    }
    for name, text in device_sheets(settings).items():
        plain = "".join(c if c.isalnum() or c in " -_" else "_" for c in name).strip() or "device"
        files[f"devices/{plain}.csv"] = text
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, text in files.items():
            archive.writestr(zipfile.ZipInfo(path, _WHEN), text.encode())
    return buffer.getvalue()
