"""What a careful colleague says of the networks."""

from collections import defaultdict
from collections.abc import Iterator
from itertools import combinations

from heathrise.core.edit import Put
from heathrise.core.job import Job, Network, Ssid
from heathrise.core.library import limit
from heathrise.core.network.subnets import Nets, free_subnet, overlap, prefix_for
from heathrise.core.rule import Fix, Observation, rule
from heathrise.core.units import quantity


def _change(network: Network, label: str, **changes: object) -> Fix:
    return Fix(label=label, operations=(Put(element=network.model_copy(update=changes)),))


def _renumber(job: Job, network: Network, prefix: int) -> tuple[Fix, ...]:
    subnet = free_subnet(job, prefix, network.vlan, besides=network.id)
    if subnet is None:
        return ()
    return (_change(network, f"Renumber to {subnet}", subnet=subnet),)


@rule("network.overlaps-outside")
def overlaps_outside(job: Job) -> Iterator[Observation]:
    """A network overlaps the service's subnet."""
    internet = job.brief.internet
    for network in job.of(Network):
        for outside in (subnet for subnet in internet.outside if overlap(network.subnet, subnet)):
            whose = "the service's own subnet" if outside == internet.subnet else "a subnet beyond a tunnel"
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                text=f"{network.label} is {network.subnet}; {outside} is {whose}.",
                advice="Renumber the inside before the gateway is plugged in.",
                fixes=_renumber(job, network, network.subnet.prefixlen),
            )


@rule("network.overlap")
def networks_overlap(job: Job) -> Iterator[Observation]:
    """Two networks of the job overlap."""
    for one, other in combinations(job.of(Network), 2):
        if overlap(one.subnet, other.subnet):
            yield Observation(
                subject_ids=(one.id, other.id),
                subject=f"{one.label}, {other.label}",
                text=f"{one.label} is {one.subnet} and {other.label} is {other.subnet}.",
                advice="Renumber one of them.",
                fixes=_renumber(job, other, other.subnet.prefixlen),
            )


@rule("network.vlan-twice")
def vlan_twice(job: Job) -> Iterator[Observation]:
    """Two networks have one VLAN number."""
    by_vlan: dict[int, list[Network]] = defaultdict(list)
    for network in job.of(Network):
        by_vlan[network.vlan].append(network)
    for vlan, networks in by_vlan.items():
        if len(networks) > 1:
            free = next(v for v in range(2, 4095) if v not in by_vlan)
            names = " and ".join(network.label for network in networks)
            yield Observation(
                subject_ids=tuple(network.id for network in networks),
                subject=names,
                text=f"{names} both have VLAN {vlan}.",
                advice="Give each its own number.",
                fixes=(_change(networks[-1], f"Give {networks[-1].label} VLAN {free}", vlan=free),),
            )


@rule("network.scope-small")
def scope_small(job: Job, nets: Nets) -> Iterator[Observation]:
    """A scope holds fewer addresses than will be asked for."""
    for scope in nets.scopes:
        if not scope.holds:
            network = job.get(Network, scope.network_id)
            yield Observation(
                subject_ids=(scope.network_id,),
                subject=scope.label,
                value=scope.wanted,
                limit=scope.usable,
                unit="addresses",
                text=f"{scope.label} has {scope.usable} addresses; {scope.wanted} are wanted.",
                advice="Widen the subnet and reserve the numbers it takes.",
                fixes=_renumber(job, network, prefix_for(scope.wanted)),
                sum=scope.sum,
            )


@rule("network.guest-not-isolated")
def guest_not_isolated(job: Job) -> Iterator[Observation]:
    """A guest network, or a guest name, is not isolated."""
    for network in job.of(Network):
        if network.purpose == "guest" and not network.isolated:
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                text=f"{network.label} can reach the inside networks.",
                advice="Isolate it.",
                fixes=(_change(network, "Isolate it", isolated=True),),
            )
    for ssid in job.of(Ssid):
        if job.get(Network, ssid.network_id).purpose == "guest" and not ssid.isolation:
            fixed = ssid.model_copy(update={"isolation": True})
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                text=f"Guests on {ssid.label} can reach each other on the air.",
                advice="Isolate clients on this name.",
                fixes=(Fix(label="Isolate its clients", operations=(Put(element=fixed),)),),
            )


@rule("network.things-reach-in")
def things_reach_in(job: Job) -> Iterator[Observation]:
    """Things may start connections to the inside."""
    for network in job.of(Network):
        if network.purpose == "things" and network.reaches_in:
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                text=f"{network.label} may start connections to the inside.",
                advice="Let the inside reach the things, not the reverse.",
                fixes=(_change(network, "Stop it", reaches_in=False),),
            )


@rule("network.cameras-internet")
def cameras_internet(job: Job) -> Iterator[Observation]:
    """The cameras' network has internet."""
    for network in job.of(Network):
        if network.purpose == "cameras" and network.internet:
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                text=f"{network.label} can reach the internet.",
                advice="Close it; let the recorder alone be reached.",
                fixes=(_change(network, "Close its way out", internet=False),),
            )


@rule("network.beacon-airtime")
def beacon_airtime_high(nets: Nets) -> Iterator[Observation]:
    """Beacons take too much of the busiest channel."""
    found = nets.beacons
    if found is None or found.holds or found.limit is None:
        return
    over = found.value > 100 * limit("network.beacon_fault")
    most = 100 * limit("network.beacon_fault") if over else found.limit
    yield Observation(
        subject_ids=("beacons",),
        subject="Names on the air",
        value=found.value,
        limit=most,
        unit="%",
        severity="fault" if over else None,
        text=f"{found.label} is {quantity(found.value, '%')}; {quantity(most, '%', 0)} is the most.",
        advice="Fewer names, fewer 2.4 GHz radios, or a higher lowest rate.",
        sum=found,
    )


@rule("network.things-fast-roaming")
def things_fast_roaming(job: Job) -> Iterator[Observation]:
    """Fast roaming is on for the things' name."""
    for ssid in job.of(Ssid):
        if job.get(Network, ssid.network_id).purpose == "things" and ssid.fast_roaming:
            fixed = ssid.model_copy(update={"fast_roaming": False})
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                text=f"Fast roaming is on for {ssid.label}.",
                advice="Switch it off there.",
                fixes=(Fix(label="Switch fast roaming off", operations=(Put(element=fixed),)),),
            )
