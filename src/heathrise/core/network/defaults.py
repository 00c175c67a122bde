"""The networks a job begins with: by the kind of its site and what its brief counts."""

from collections.abc import Callable

from heathrise.core.edit import Operation, Put, apply
from heathrise.core.job import Band, Equipment, Job, Network, Ssid
from heathrise.core.library import library
from heathrise.core.library.items import PurposeInfo
from heathrise.core.network.counting import prefix_for, wanted_addresses
from heathrise.core.network.ruled import name_starts
from heathrise.core.network.subnets import free_subnet

# No scope is made smaller than this: room for a home's worth of devices.
_LEAST_PREFIX = 24
_LAST_OCTET = 254
_LAST_VLAN = 4094


def wanted_purposes(job: Job) -> list[str]:
    """Return what networks a job of this kind begins with."""
    counted = {d.purpose for d in job.brief.devices if d.count}
    counted |= {job.equipment[thing.model].purpose for thing in job.of(Equipment)}
    found = []
    for purpose, info in library().purposes.items():
        usual = job.site.site_kind in info.sites and not info.if_counted
        barred = purpose == "guest" and job.practice.guests == "none"
        if (usual or purpose in counted) and not barred:
            found.append(purpose)
    return found


def default_networks(job: Job, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return operations that add the networks a job has not got, clear of the service's subnet."""
    operations: list[Operation] = []
    have = {network.purpose for network in job.of(Network)}
    for purpose in wanted_purposes(job):
        if purpose in have:
            continue
        network = _network(job, purpose, new_id)
        if network is None:
            continue
        added: list[Network | Ssid] = [network]
        added += _names(job, network, library().purposes[purpose], new_id)
        puts: list[Operation] = [Put(element=one) for one in added]
        job = apply(job, puts).job
        operations += puts
    return tuple(operations)


def _network(job: Job, purpose: str, new_id: Callable[[], str]) -> Network | None:
    info, used = library().purposes[purpose], taken_numbers(job)
    octet = next((v for v in range(info.number, _LAST_OCTET + 1) if v not in used), None)
    if octet is None:
        return None
    wanted, _ = wanted_addresses(job, purpose)
    subnet = free_subnet(job, min(_LEAST_PREFIX, prefix_for(wanted)), octet)
    if subnet is None:
        return None
    by_role = job.practice.vlan_numbers == "role"
    vlan = next(v for v in range(info.role, _LAST_VLAN) if v not in used) if by_role else octet
    body = {
        "id": new_id(),
        "label": info.label,
        "purpose": purpose,
        "vlan": vlan,
        "subnet": str(subnet),
        "isolated": info.isolated,
        "internet": info.internet,
    }
    return Network.model_validate(body)


def taken_numbers(job: Job) -> set[int]:
    """Return the numbers no new network may have: VLANs in use, and the octets that wider subnets take with them."""
    used = {network.vlan for network in job.of(Network)}
    for network in job.of(Network):
        used |= set(octets_of(network))
    return used


def octets_of(network: Network) -> range:
    """Return the third octets a subnet takes; none where it is wider than /16 or of the newer family."""
    subnet = network.subnet
    if subnet.version != 4 or subnet.prefixlen < 16:
        return range(0)
    first = subnet.network_address.packed[2]
    return range(first, first + max(1, 2 ** (24 - subnet.prefixlen) if subnet.prefixlen < 24 else 1))


def _names(job: Job, network: Network, info: PurposeInfo, new_id: Callable[[], str]) -> list[Ssid]:
    """Return the names of a network: one, or one a band where the practice splits them."""
    if info.name not in library().name_kinds:
        return []
    bands: tuple[Band, ...] = library().name_kinds[info.name].bands  # type: ignore[assignment]
    name = f"{job.name[:20].strip()} {network.label.lower()}"
    if job.practice.band_names == "split" and len(bands) > 1:
        return [_name(job, network, new_id(), f"{name[:28]} {band}", (band,)) for band in reversed(bands)]
    return [_name(job, network, new_id(), name[:32], bands)]


def _name(job: Job, network: Network, ssid_id: str, name: str, bands: tuple[Band, ...]) -> Ssid:
    bare = Ssid(id=ssid_id, label=name, network_id=network.id, bands=bands)
    return bare.model_copy(update=name_starts(job, network))
