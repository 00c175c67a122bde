"""Networks of a job: scopes against counts, overlaps, and the default set for a new job."""

import ipaddress
import math
from dataclasses import dataclass

from heathrise.core.job import BANDS, Job, Network, Ssid
from heathrise.core.library import limit
from heathrise.core.radio.beacons import beacon_share
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.sums import Noun, Sum, SumLine

Subnet = ipaddress.IPv4Network | ipaddress.IPv6Network


class ScopePlan(Noun):
    """A network's addresses against the count that will ask for them."""

    network_id: str
    label: str
    purpose: str
    isolated: bool
    internet: bool
    vlan: int
    subnet: str
    gateway: str
    usable: int
    wanted: int
    holds: bool
    sum: Sum


class NamePlan(Noun):
    """A name on the air and what it costs where most points hear each other."""

    ssid_id: str
    label: str
    network_label: str
    bands: tuple[str, ...]
    security: str


@dataclass(frozen=True)
class Nets:
    """What the later stages and the rules read of the networks."""

    scopes: tuple[ScopePlan, ...]
    names: tuple[NamePlan, ...]
    beacons: Sum | None


def usable_addresses(prefix: int) -> int:
    """Return 2^(32-p) - 3: network, broadcast and gateway are not given out."""
    return max(0, int(2 ** (32 - prefix)) - 3)


def prefix_for(devices: int) -> int:
    """Return the longest IPv4 prefix whose usable addresses hold a count.

    >>> prefix_for(150), prefix_for(254)
    (24, 23)
    """
    return next(p for p in range(30, 7, -1) if usable_addresses(p) >= devices)


def wanted_addresses(job: Job, purpose: str) -> tuple[int, list[SumLine]]:
    """Return the addresses a purpose asks for, and how they were counted."""
    if purpose == "guest":
        guests = job.brief.guests_peak
        per, growth = limit("network.guest_devices"), limit("network.guest_growth")
        lines = [
            SumLine(label="guests at the peak", value=guests, unit=""),
            SumLine(label="devices per guest", value=per, unit=""),
            SumLine(label="margin", value=growth, unit=""),
        ]
        return math.ceil(guests * per * growth), lines
    count = sum(d.count for d in job.brief.devices if d.purpose == purpose)
    growth = limit("network.scope_growth")
    lines = [
        SumLine(label="devices counted in the brief", value=count, unit=""),
        SumLine(label="growth", value=growth, unit=""),
    ]
    return math.ceil(count * growth), lines


def plan_networks(job: Job, radios: tuple[RadioPlan, ...]) -> Nets:
    """Return scopes, names and beacon airtime of a job."""
    scopes = tuple(_scope(job, network) for network in job.of(Network))
    names = tuple(
        NamePlan(
            ssid_id=ssid.id,
            label=ssid.label,
            network_label=job.get(Network, ssid.network_id).label,
            bands=ssid.bands,
            security=ssid.security,
        )
        for ssid in job.of(Ssid)
    )
    return Nets(scopes, names, _beacons(job, radios))


def _scope(job: Job, network: Network) -> ScopePlan:
    wanted, lines = wanted_addresses(job, network.purpose)
    usable = usable_addresses(network.subnet.prefixlen) if network.subnet.version == 4 else 2**31
    return ScopePlan(
        network_id=network.id,
        label=network.label,
        purpose=network.purpose,
        isolated=network.isolated,
        internet=network.internet,
        vlan=network.vlan,
        subnet=str(network.subnet),
        gateway=str(network.subnet.network_address + 1),
        usable=usable,
        wanted=wanted,
        holds=wanted <= usable,
        sum=Sum(
            label=f"{network.label}: addresses wanted",
            value=wanted,
            unit="addresses",
            limit=usable,
            holds=wanted <= usable,
            lines=tuple(lines),
            formula="count x growth; usable = 2^(32 - prefix) - 3",
            source="limits: network (design values)",
        ),
    )


def _beacons(job: Job, radios: tuple[RadioPlan, ...]) -> Sum | None:
    """Return beacon airtime where most of it is heard: over the names of a band and every point a radio hears
    on its channel, itself counted.
    """
    each = {
        band: {s.label: beacon_share(band, s.lowest_rate_24_mbps) for s in job.of(Ssid) if band in s.bands}
        for band in BANDS
    }
    rows = [row for row in radios if row.channel is not None and each[row.band]]
    if not rows:
        return None
    row = max(rows, key=lambda one: one.heard_on_channel * sum(each[one.band].values()))
    total = row.heard_on_channel * sum(each[row.band].values())
    lines = [
        SumLine(label=f"{name} on one radio", value=round(100 * share, 3), unit="%")
        for name, share in each[row.band].items()
    ]
    lines.append(
        SumLine(label="points it hears on the channel, itself counted", value=row.heard_on_channel, unit="")
    )
    most = limit("network.beacon_warning")
    return Sum(
        label=f"Beacon airtime at {row.label}, {row.band} GHz channel {row.channel}",
        value=round(100 * total, 2),
        unit="%",
        limit=100 * most,
        holds=total <= most,
        lines=tuple(lines),
        formula="points heard x sum over names of (preamble + bytes x 8 / rate + contention) / 102.4 ms",
        source="IEEE 802.11 beacon interval of 100 TU; limits: network.beacon",
    )


def free_subnet(job: Job, prefix: int, vlan: int, besides: str = "") -> Subnet | None:
    """Return 10.x.vlan.0/prefix that overlaps neither the service nor another network."""
    taken: list[Subnet] = [n.subnet for n in job.of(Network) if n.id != besides]
    taken += job.brief.internet.outside
    for second in range(20, 255):
        third = min(vlan, 254) & ~((1 << max(0, 24 - prefix)) - 1)
        subnet = ipaddress.ip_network(f"10.{second}.{third}.0/{prefix}", strict=False)
        if not any(overlap(subnet, other) for other in taken):
            return subnet
    return None


def overlap(one: Subnet, other: Subnet) -> bool:
    """Return whether two subnets share an address; different families never do."""
    return one.version == other.version and one.overlaps(other)
