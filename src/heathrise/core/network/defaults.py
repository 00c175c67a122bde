"""The first set of networks for a job: main, guest, things, and cameras where there are some."""

from collections.abc import Callable

from heathrise.core.edit import Operation, Put
from heathrise.core.job import Job, Network, Ssid
from heathrise.core.network.subnets import free_subnet, prefix_for, wanted_addresses

_SETS = (
    ("Main", "main", 20, False, True),
    ("Guest", "guest", 30, True, True),
    ("Things", "things", 40, False, True),
    ("Cameras", "cameras", 50, False, False),
)
# No scope is made smaller than this: room for a home's worth of devices.
_LEAST_PREFIX = 24


def default_networks(job: Job, new_id: Callable[[], str]) -> tuple[Operation, ...]:
    """Return operations that add the networks a job has not got, clear of the service's subnet."""
    operations: list[Operation] = []
    have = {network.purpose for network in job.of(Network)}
    used = {network.vlan for network in job.of(Network)}
    for label, purpose, number, isolated, internet in _SETS:
        if purpose in have:
            continue
        vlan = next(v for v in range(number, 255) if v not in used)
        wanted, _ = wanted_addresses(job, purpose)
        subnet = free_subnet(job, min(_LEAST_PREFIX, prefix_for(wanted)), vlan)
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
            operations.append(Put(element=_ssid(job, network, new_id())))
    return tuple(operations)


def _ssid(job: Job, network: Network, ssid_id: str) -> Ssid:
    things = network.purpose == "things"
    return Ssid(
        id=ssid_id,
        label=f"{job.name[:20].strip()} {network.label.lower()}"[:32],
        network_id=network.id,
        bands=("2.4",) if things else ("2.4", "5"),
        security="wpa2" if things else "transition",
        isolation=network.purpose == "guest",
        fast_roaming=network.purpose == "main",
    )
