"""Networks of a job: scopes against counts, overlaps, and the default set for a new job."""

import ipaddress
from dataclasses import dataclass

from heathrise.core.job import AccessPoint, Job, Network, Ssid
from heathrise.core.network.counting import Subnet, overlap, usable_addresses, wanted_addresses
from heathrise.core.network.onair import airtime_of, points_of
from heathrise.core.network.ruled import name_ruled, network_ruled
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.sums import Noun, Sum, SumLine


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
    first: str
    last: str
    fixed: int
    lease_h: float
    usable: int
    wanted: int
    holds: bool
    sum: Sum


class NamePlan(Noun):
    """A name on the air: its network, where it is, and what it was given."""

    ssid_id: str
    label: str
    network_label: str
    bands: tuple[str, ...]
    security: str
    points: int
    everywhere: bool
    isolation: bool
    fast_roaming: bool
    steering: bool
    dtim: int
    client_mbps: int | None
    portal: bool
    hours: str


@dataclass(frozen=True)
class Nets:
    """What the later stages and the rules read of the networks."""

    scopes: tuple[ScopePlan, ...]
    names: tuple[NamePlan, ...]
    beacons: Sum | None


def plan_networks(job: Job, radios: tuple[RadioPlan, ...]) -> Nets:
    """Return scopes, names and beacon airtime of a job."""
    scopes = tuple(_scope(job, network) for network in job.of(Network))
    names = tuple(_name(job, ssid) for ssid in job.of(Ssid))
    airtimes = _airtimes(job, radios)
    return Nets(scopes, names, airtimes[0] if airtimes else None)


def _name(job: Job, ssid: Ssid) -> NamePlan:
    ruled = {field: one.value for field, one in name_ruled(job, ssid).items()}
    return NamePlan(
        ssid_id=ssid.id,
        label=ssid.label,
        network_label=job.get(Network, ssid.network_id).label,
        points=len(points_of(job, ssid)),
        everywhere=ssid.everywhere,
        hours="always" if ruled["from_h"] is None else f"{ruled['from_h']:02d}:00 to {ruled['to_h']:02d}:00",
        **{field: ruled[field] for field in _AS_RULED},
    )


_AS_RULED = ("bands", "security", "isolation", "fast_roaming", "steering", "dtim", "client_mbps", "portal")


def _scope(job: Job, network: Network) -> ScopePlan:
    wanted, lines = wanted_addresses(job, network.purpose)
    ruled = network_ruled(job, network)
    fixed = int(ruled["fixed_addresses"].value)
    every = usable_addresses(network.subnet.prefixlen) if network.subnet.version == 4 else 2**31
    usable = max(0, every - fixed)
    first, last = pool_of(network.subnet, fixed)
    lines.append(SumLine(label="addresses of the subnet, without gateway", value=every, unit=""))
    lines.append(SumLine(label="kept for fixed ones", value=fixed, unit=""))
    return ScopePlan(
        network_id=network.id,
        label=network.label,
        purpose=network.purpose,
        isolated=network.isolated,
        internet=network.internet,
        vlan=network.vlan,
        subnet=str(network.subnet),
        gateway=str(network.subnet.network_address + 1),
        first=first,
        last=last,
        fixed=fixed,
        lease_h=float(ruled["lease_h"].value),
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
            formula="count x growth; usable = 2^(32 - prefix) - 3, less what is kept",
            source="limits: network (design values)",
        ),
    )


def _airtimes(job: Job, radios: tuple[RadioPlan, ...]) -> tuple[Sum, ...]:
    """Return the beacon airtime of every radio that is on the air, the worst first."""
    labels = {point.id: point.label for point in job.of(AccessPoint)}
    found = (airtime_of(job, row, labels) for row in radios if row.on)
    return tuple(sorted((one for one in found if one is not None), key=lambda one: -one.value))


def pool_of(subnet: Subnet, fixed: int) -> tuple[str, str]:
    """Return the first and the last address that is given out: above what is kept for fixed ones."""
    count = subnet.num_addresses
    first, last = min(2 + fixed, count - 2), max(0, count - 2)
    return str(subnet.network_address + max(0, first)), str(subnet.network_address + last)


def free_subnet(
    job: Job, prefix: int, vlan: int, besides: str = "", other_than: Subnet | None = None
) -> Subnet | None:
    """Return 10.x.vlan.0/prefix that overlaps neither the service nor another network, nor what it shall not be."""
    taken: list[Subnet] = [n.subnet for n in job.of(Network) if n.id != besides]
    taken += job.brief.internet.outside
    taken += [other_than] if other_than is not None else []
    for second in range(20, 255):
        third = min(vlan, 254) & ~((1 << max(0, 24 - prefix)) - 1)
        subnet = ipaddress.ip_network(f"10.{second}.{third}.0/{prefix}", strict=False)
        if not any(overlap(subnet, other) for other in taken):
            return subnet
    return None
