"""Why is it so: every setting of the job with who says so and why, by what it is a setting of."""

from heathrise.core.job import AccessPoint, Job, Network, Ssid
from heathrise.core.library import library
from heathrise.core.library.items import PracticeQuestion
from heathrise.core.network.composing import may_mesh
from heathrise.core.network.profiles import Carrying, PortProfile
from heathrise.core.network.ruled import Ruled, Told, name_ruled, network_ruled, told_of
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.sums import Noun

_NETWORK = {field.path: field.label for field in Network.ABOUT.fields}
_NAME = {field.path: field.label for field in Ssid.ABOUT.fields} | {"bands": "GHz"}
_RADIO = {"channel": "Channel", "width_mhz": "Width, MHz", "power_dbm": "Power, dBm", "mesh": "Mesh"}
_PORT = {"role": "Role", "native": "Untagged", "tagged": "Tagged", "power": "Power", "edge": "Edge guard"}
# Questions of the house practice that are settings of the whole.
_HOUSE = ("radio-settings", "airtime-fairness", "updates", "account", "point-names")


class AllTold(Noun):
    """Every setting, told."""

    settings: tuple[Told, ...]


def all_told(job: Job, radios: tuple[RadioPlan, ...], carrying: Carrying) -> AllTold:
    """Return every setting of networks, names, radios, ports and the whole, with its reason."""
    found: list[Told] = []
    for network in job.of(Network):
        found += told_of(network.id, network.label, "network", network_ruled(job, network), _NETWORK)
    for ssid in job.of(Ssid):
        found += told_of(ssid.id, ssid.label, "name", name_ruled(job, ssid), _NAME)
    for row in radios:
        subject = f"{row.label}, {row.band} GHz"
        found += told_of(row.point_id, subject, "radio", _radio(job, row), _RADIO)
    for port in carrying.profiles:
        subject = f"{port.switch_label} port {port.port}"
        found += told_of(port.run_id or port.switch_id, subject, "port", _port(port), _PORT)
    for code in _HOUSE:
        found += told_of(code, "House", "house", {code: _practice(job, code)}, {code: _asked(code).question})
    return AllTold(settings=tuple(found))


def _radio(job: Job, row: RadioPlan) -> dict[str, Ruled]:
    point = job.get(AccessPoint, row.point_id)
    if not row.on:
        return {"channel": Ruled("off", "person", "This radio was switched off.")}
    mesh_why = (
        "Some point hangs on it, or it on one."
        if may_mesh(job, point)
        else "It has a cable, or nothing hangs on it."
    )
    automatic = job.practice.radio_settings == "automatic"
    moving = Ruled("automatic", "practice", "House practice: the controller chooses, and may move it.")
    radio = next((one for one in point.radios if one.band == row.band), None)
    by_hand = "Set by hand" + (" and locked." if radio is not None and radio.locked else ".")
    wide = radio.width_mhz if radio is not None else None
    as_made = Ruled(row.power_dbm, "default", "As its model starts by the house practice.")
    return {
        "channel": moving if automatic else Ruled(row.channel, "person" if row.fixed else "need", row.reason),
        "width_mhz": Ruled(
            row.width_mhz,
            "practice" if wide is None else "person",
            "House practice." if wide is None else by_hand,
        ),
        "power_dbm": moving
        if automatic
        else as_made
        if radio is None
        else Ruled(row.power_dbm, "person", "As it stands in Air."),
        "mesh": Ruled(may_mesh(job, point), "need" if point.mesh is None else "person", mesh_why),
    }


def _port(port: PortProfile) -> dict[str, Ruled]:
    why = port.because
    fed = "What is on it asks for power." if port.power else "Nothing on it asks for power."
    guard = (
        "It ends at a device: a switch plugged in there shuts it." if port.edge_protection else "Not an edge."
    )
    return {
        "role": Ruled(port.role, "need", why),
        "native": Ruled(port.native or "none", port.by, why),
        "tagged": Ruled(port.tagged or "none", port.by, why),
        "power": Ruled(port.power, "need", fed),
        "edge": Ruled(port.edge_protection, "default", guard),
    }


def _asked(code: str) -> PracticeQuestion:
    return library().practice[code]


def _practice(job: Job, code: str) -> Ruled:
    asked, now = _asked(code), job.practice.model_dump()
    taken = next(
        (
            n
            for n, c in enumerate(asked.choices)
            if all(now[field] == value for field, value in c.sets.items())
        ),
        0,
    )
    return Ruled(asked.choices[taken].label, "practice" if taken else "default", asked.why)
