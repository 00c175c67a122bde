"""The first set of networks for a job: main, guest, things, and cameras where there are some."""

from collections.abc import Callable

from heathrise.core.edit import Operation, Put
from heathrise.core.job import Band, Job, Network, Ssid
from heathrise.core.network.subnets import free_subnet, prefix_for, wanted_addresses

_SETS = (
    ("Main", "main", 20, False, True),
    ("Guest", "guest", 30, True, True),
    ("Things", "things", 40, False, True),
    ("Cameras", "cameras", 50, False, False),
)
# House practice "by role": numbers that say what a network is for, in every job of the firm.
_BY_ROLE = {"main": 100, "guest": 200, "things": 300, "cameras": 400}
# No scope is made smaller than this: room for a home's worth of devices.
_LEAST_PREFIX = 24


def default_networks(job: Job, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return operations that add the networks a job has not got, clear of the service's subnet."""
    operations: list[Operation] = []
    have = {network.purpose for network in job.of(Network)}
    used = {network.vlan for network in job.of(Network)}
    for label, purpose, number, isolated, internet in _SETS:
        if purpose in have or (purpose == "guest" and job.practice.guests == "none"):
            continue
        octet = next(v for v in range(number, 255) if v not in used)
        by_role = job.practice.vlan_numbers == "role"
        vlan = next(v for v in range(_BY_ROLE[purpose], 4000) if v not in used) if by_role else octet
        wanted, _ = wanted_addresses(job, purpose)
        subnet = free_subnet(job, min(_LEAST_PREFIX, prefix_for(wanted)), octet)
        if subnet is None:
            continue
        body = {
            "kind": "network",
            "id": new_id(),
            "label": label,
            "purpose": purpose,
            "vlan": vlan,
            "subnet": str(subnet),
            "isolated": isolated,
            "internet": internet,
        }
        network = Network.model_validate(body)
        operations.append(Put(element=network))
        job = job.model_copy(update={"elements": (*job.elements, network)})
        if purpose != "cameras":
            operations += [Put(element=ssid) for ssid in _ssids(job, network, new_id)]
    return tuple(operations)


def _ssids(job: Job, network: Network, new_id: Callable[[], str]) -> list[Ssid]:
    """Return the names of a network: one, or one a band where the practice splits them."""
    name = f"{job.name[:20].strip()} {network.label.lower()}"
    if network.purpose == "things":
        return [_ssid(job, network, new_id(), name, ("2.4",))]
    if job.practice.band_names == "split":
        return [
            _ssid(job, network, new_id(), f"{name[:28]} 5", ("5",)),
            _ssid(job, network, new_id(), f"{name[:28]} 2.4", ("2.4",)),
        ]
    return [_ssid(job, network, new_id(), name, ("2.4", "5"))]


def _ssid(job: Job, network: Network, ssid_id: str, name: str, bands: tuple[Band, ...]) -> Ssid:
    things = network.purpose == "things"
    roams = {"main": network.purpose == "main", "on": True, "off": False}[job.practice.fast_roaming]
    return Ssid(
        id=ssid_id,
        label=name[:32],
        network_id=network.id,
        bands=bands,
        security="wpa2" if things else "transition",
        isolation=network.purpose == "guest",
        fast_roaming=roams,
    )
