"""Renumbering a network that people use: what to do before, during and after, and what moves."""

import ipaddress

from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import FixedAddress, Job, Network
from heathrise.core.library import limit
from heathrise.core.network.counting import Subnet, overlap
from heathrise.core.network.ruled import network_ruled
from heathrise.core.network.subnets import free_subnet
from heathrise.core.sums import Noun, Sum, SumLine


class Moved(Noun):
    """One fixed address: what it is now, and what it becomes; None where the new subnet has no room for it."""

    element_id: str
    label: str
    now: str
    then: str | None
    on_device: bool


class Renumbering(Noun):
    """How a network is renumbered. `wait` is how long ahead leases are shortened, `problem` says why it cannot be."""

    network_id: str
    label: str
    now: str
    then: str
    vlan_then: int
    problem: str
    wait: Sum
    fixed: tuple[Moved, ...]
    clings: tuple[str, ...]
    before: tuple[str, ...]
    during: tuple[str, ...]
    after: tuple[str, ...]


def renumbering(job: Job, network_id: str, to: str | None = None) -> Renumbering:
    """Return how one network is moved to another subnet: the one asked for, else the next that is free.

    Raises
    ------
    EditError
        If the network is gone, no subnet is free, or what was asked for is no subnet.
    """
    network = _network(job, network_id)
    subnet = _wanted(job, network, to)
    lease_h = float(network_ruled(job, network)["lease_h"].value)
    fixed = tuple(
        _moved(one, network, subnet) for one in job.of(FixedAddress) if one.network_id == network_id
    )
    return Renumbering(
        network_id=network_id,
        label=network.label,
        now=str(network.subnet),
        then=str(subnet),
        vlan_then=_vlan(job, network, subnet),
        problem=_problem(job, network, subnet),
        wait=_wait(network, lease_h),
        fixed=fixed,
        clings=_clings(job, network),
        before=_before(network, lease_h, fixed),
        during=_during(network, subnet),
        after=_after(network, lease_h, fixed),
    )


def _network(job: Job, network_id: str) -> Network:
    found = next((n for n in job.of(Network) if n.id == network_id), None)
    if found is None:
        raise EditError("that network is not there any more")
    return found


def _wanted(job: Job, network: Network, to: str | None) -> Subnet:
    if to:
        try:
            return ipaddress.ip_network(to.strip())
        except ValueError as error:
            raise EditError(f"{to.strip()} is no subnet; write one like 10.20.60.0/24") from error
    found = free_subnet(
        job, network.subnet.prefixlen, network.vlan, besides=network.id, other_than=network.subnet
    )
    if found is None:
        raise EditError(f"no subnet of the size of {network.subnet} is free")
    return found


def _vlan(job: Job, network: Network, subnet: Subnet) -> int:
    """Return the VLAN number afterwards: it follows the octet where it did before."""
    now, then = (s.network_address.packed[2] for s in (network.subnet, subnet))
    taken = {n.vlan for n in job.of(Network) if n.id != network.id}
    follows = network.vlan == now and then > 1 and then not in taken and subnet.version == 4
    return then if follows else network.vlan


def _problem(job: Job, network: Network, subnet: Subnet) -> str:
    for outside in job.brief.internet.outside:
        if overlap(subnet, outside):
            return f"{subnet} lies over {outside}, which is outside."
    for other in job.of(Network):
        if other.id != network.id and overlap(subnet, other.subnet):
            return f"{subnet} lies over {other.label}, {other.subnet}."
    return ""


def _moved(one: FixedAddress, network: Network, subnet: Subnet) -> Moved:
    host = int(one.address) - int(network.subnet.network_address)
    fits = subnet.version == one.address.version and 0 < host < subnet.num_addresses - 1
    then = str(subnet.network_address + host) if fits else None
    return Moved(
        element_id=one.id, label=one.label, now=str(one.address), then=then, on_device=one.set_on_device
    )


def _wait(network: Network, lease_h: float) -> Sum:
    return Sum(
        label=f"{network.label}: leases are shortened ahead by",
        value=lease_h,
        unit="h",
        lines=(
            SumLine(label="present lease", value=lease_h, unit="h"),
            SumLine(label="at the least, half of it (when clients ask again)", value=lease_h / 2, unit="h"),
        ),
        formula="as long as the present lease: by then every client has asked again",
        source="RFC 2131 section 4.4.5: clients renew at half of the lease",
    )


def _clings(job: Job, network: Network) -> tuple[str, ...]:
    """Return what holds on to old addresses until it is started again."""
    kinds = [d.what for d in job.brief.devices if d.purpose == network.purpose and not d.moves]
    return tuple(dict.fromkeys(kinds))


def _before(network: Network, lease_h: float, fixed: tuple[Moved, ...]) -> tuple[str, ...]:
    short = limit("network.short_lease_min")
    steps = [
        f"Shorten the lease of {network.label} from {lease_h:g} h to {short:g} min, {lease_h:g} h ahead "
        f"({lease_h / 2:g} h at the least).",
        "Say when it will be, outside opening hours, and keep a way back: the backup of the controller.",
    ]
    if fixed:
        steps.append(
            f"Take the {len(fixed)} fixed addresses along as listed; those set on the device need a hand."
        )
    return tuple(steps)


def _during(network: Network, subnet: Subnet) -> tuple[str, ...]:
    return (
        f"Set the gateway of {network.label} to {subnet.network_address + 1}, subnet {subnet}, with its scope.",
        "Change fixed addresses on the controller, then those set on devices, one by one.",
        "Change what names an address: port forwards, the recorder of cameras, printers' queues, tunnels.",
        "Switch ports off and on, so that clients ask anew; start again what clings to the old address.",
    )


def _after(network: Network, lease_h: float, fixed: tuple[Moved, ...]) -> tuple[str, ...]:
    words = [
        f"Look for clients that still have an address of {network.subnet}; none is left after half an hour.",
        "Try each thing with a fixed address once.",
        f"Set the lease back to {lease_h:g} h.",
    ]
    if any(one.then is None for one in fixed):
        words.insert(1, "Give those a new address that the new subnet had no room for.")
    return tuple(words)


def renumber(job: Job, network_id: str, to: str | None) -> tuple[Operation, ...]:
    """Return what renumbers a network in the plan: its subnet, its number, its fixed addresses. Raises EditError."""
    plan, network = renumbering(job, network_id, to), _network(job, network_id)
    if plan.problem:
        raise EditError(plan.problem)
    operations: list[Operation] = [
        Put(
            element=network.model_copy(
                update={"subnet": ipaddress.ip_network(plan.then), "vlan": plan.vlan_then}
            )
        )
    ]
    for one in plan.fixed:
        if one.then is not None:
            held = job.get(FixedAddress, one.element_id)
            operations.append(
                Put(element=held.model_copy(update={"address": ipaddress.ip_address(one.then)}))
            )
    return tuple(operations)
