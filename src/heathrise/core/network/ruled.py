"""Every setting of networks and names on the air: its value, who says so, and why.

What a person set stands in the job; the rest follows from the purpose of a network, the house practice, or a need.
"""

from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

from heathrise.core.job import FixedAddress, Job, Network, Ssid
from heathrise.core.library import library
from heathrise.core.library.items import NameKind, PurposeInfo
from heathrise.core.network.counting import overlap, wanted_addresses
from heathrise.core.sums import Noun

By = Literal["default", "practice", "need", "person"]


class Ruled(NamedTuple):
    """A value, who says so, and why."""

    value: Any
    by: By
    because: str


class Told(Noun):
    """One setting as a person reads it: of what, which, its value in words, who says so and why."""

    subject_id: str
    subject: str
    group: str
    field: str
    label: str
    value: str
    by: By
    because: str


_SET = "Set by hand."


def chosen(own: Any, other: Ruled) -> Ruled:
    """Return what a person set, or what stands where they set nothing."""
    return other if own is None else Ruled(own, "person", f"{_SET} Otherwise: {in_words(other.value)}.")


def kept(value: Any, start: Ruled) -> Ruled:
    """Return a value that always stands: as it began, or as a person left it."""
    return (
        start
        if value == start.value
        else Ruled(value, "person", f"{_SET} Begins as {in_words(start.value)}.")
    )


def in_words(value: Any) -> str:
    """Return a setting's value as it is written."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None:
        return "none"
    if isinstance(value, tuple):
        return ", ".join(str(one) for one in value)
    return f"{value:g}" if isinstance(value, float) else str(value)


def purpose_of(network: Network) -> PurposeInfo:
    """Return what a network of this purpose begins with."""
    return library().purposes[network.purpose]


def network_ruled(job: Job, network: Network) -> dict[str, Ruled]:
    """Return the settings of a network by field."""
    info = purpose_of(network)

    def start(field: str, value: Any) -> Ruled:
        return Ruled(value, "default", info.because[field])

    guest_mbps = Ruled(job.practice.guest_mbps, "practice", info.because["client_mbps"])
    return {
        "vlan": _vlan(job, network, info),
        "subnet": _subnet(job, network),
        "isolated": kept(network.isolated, start("isolated", info.isolated)),
        "internet": kept(network.internet, start("internet", info.internet)),
        "lease_h": chosen(network.lease_h, start("lease_h", info.lease_h)),
        "fixed_addresses": chosen(network.fixed_addresses, _fixed(job, network, info)),
        "filtering": chosen(network.filtering, start("filtering", info.filtering)),
        "safe_search": chosen(network.safe_search, start("safe_search", info.safe_search)),
        "client_mbps": chosen(
            network.client_mbps,
            guest_mbps if network.purpose == "guest" else start("client_mbps", None),
        ),
    }


def _fixed(job: Job, network: Network, info: PurposeInfo) -> Ruled:
    """Return how many addresses are kept below the scope: as usual, less where the count needs them."""
    wanted, _ = wanted_addresses(job, network.purpose)
    there = sum(one.network_id == network.id for one in job.of(FixedAddress))
    left = max(there, _room(network) - wanted)
    if left < info.fixed:
        return Ruled(left, "need", f"{info.fixed} are usual; the scope needs the others for those counted.")
    return Ruled(info.fixed, "default", "So many are kept below the scope for what must always be found.")


def _room(network: Network) -> int:
    return max(0, network.subnet.num_addresses - 3)


def _subnet(job: Job, network: Network) -> Ruled:
    inside = [other.subnet for other in job.of(Network) if other.id != network.id]
    over = [other for other in (*job.brief.internet.outside, *inside) if overlap(network.subnet, other)]
    if over:
        return Ruled(str(network.subnet), "person", f"{_SET} It lies over {over[0]}: renumber it.")
    outside = ", ".join(str(one) for one in job.brief.internet.outside) or "what is known of the outside"
    why = f"Clear of {outside} and of the other networks; {_room(network):,} addresses for those who ask."
    return Ruled(str(network.subnet), "need", why)


def octet_of(network: Network) -> int | None:
    """Return the third octet of a network's subnet, None where it has none."""
    return network.subnet.network_address.packed[2] if network.subnet.version == 4 else None


def _vlan(job: Job, network: Network, info: PurposeInfo) -> Ruled:
    if network.vlan == octet_of(network):
        return Ruled(network.vlan, "practice", "The same as the third octet: one number to remember.")
    if network.vlan == info.role and job.practice.vlan_numbers == "role":
        return Ruled(network.vlan, "practice", "The number says what the network is for, in every job.")
    return Ruled(network.vlan, "person", _SET)


def name_kind(network: Network) -> NameKind:
    """Return what a name on a network begins with; where a network usually has none it begins like the main one."""
    kinds, kind = library().name_kinds, purpose_of(network).name
    return kinds[kind if kind in kinds else "plain"]


def name_starts(job: Job, network: Network) -> dict[str, Any]:
    """Return what a new name on a network begins with: security, isolation, fast roaming."""
    kind = name_kind(network)
    roams = {"main": kind.assisted, "on": True, "off": False}[job.practice.fast_roaming]
    return {"security": kind.security, "isolation": kind.isolates, "fast_roaming": roams}


def name_ruled(job: Job, ssid: Ssid) -> dict[str, Ruled]:
    """Return the settings of a name on the air by field."""
    network, practice = job.get(Network, ssid.network_id), job.practice
    kind, starts = name_kind(network), name_starts(job, network)
    guest, things = network.purpose == "guest", kind.dtim == 1

    def start(field: str, value: Any) -> Ruled:
        return Ruled(value, "default", kind.because[field])

    def by_practice(field: str, value: Any) -> Ruled:
        return Ruled(value, "practice", kind.because[field])

    dtim = kind.dtim if practice.dtim == "3-main-1-things" else 1
    mbps = network_ruled(job, network)["client_mbps"]
    return {
        "bands": kept(ssid.bands, start("bands", kind.bands)),
        "security": kept(ssid.security, start("security", starts["security"])),
        "isolation": kept(ssid.isolation, start("isolation", starts["isolation"])),
        "fast_roaming": kept(ssid.fast_roaming, by_practice("fast_roaming", starts["fast_roaming"])),
        "assisted": chosen(ssid.assisted, start("assisted", kind.assisted)),
        "steering": chosen(
            ssid.steering,
            by_practice("steering", kind.steering and practice.band_names == "one" and len(ssid.bands) > 1),
        ),
        "dtim": chosen(ssid.dtim, start("dtim", 1) if things else by_practice("dtim", dtim)),
        "lowest_rate_24_mbps": kept(
            ssid.lowest_rate_24_mbps, start("lowest_rate_24_mbps", _starts("lowest_rate_24_mbps"))
        ),
        "lowest_rate_5_mbps": kept(
            ssid.lowest_rate_5_mbps,
            Ruled(_starts("lowest_rate_5_mbps"), "default", "The lowest there is; every client knows it."),
        ),
        "client_mbps": chosen(ssid.client_mbps, mbps),
        "portal": chosen(ssid.portal, by_practice("portal", guest and practice.guests == "portal")),
        "hidden": kept(
            ssid.hidden,
            Ruled(False, "default", "A name that is not announced is asked for aloud by every phone."),
        ),
        "from_h": chosen(ssid.from_h, start("hours", None)),
        "to_h": chosen(ssid.to_h, start("hours", None)),
    }


def _starts(field: str) -> Any:
    return Ssid.model_fields[field].default


def told_of(
    subject_id: str, subject: str, group: str, ruled: Mapping[str, Ruled], labels: Mapping[str, str]
) -> tuple[Told, ...]:
    """Return settings as a person reads them; what has no label is left out."""
    return tuple(
        Told(
            subject_id=subject_id,
            subject=subject,
            group=group,
            field=field,
            label=labels[field],
            value=in_words(one.value),
            by=one.by,
            because=one.because,
        )
        for field, one in ruled.items()
        if field in labels
    )
