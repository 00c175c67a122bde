"""What a careful colleague says of the networks."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from ipaddress import ip_address
from itertools import combinations

from heathrise.core.cabling.ends import runs_of
from heathrise.core.edit import Put, Remove
from heathrise.core.job import BANDS, AccessPoint, Element, Equipment, FixedAddress, Flow, Job, Network, Ssid
from heathrise.core.library import limit
from heathrise.core.network.addresses import next_fixed
from heathrise.core.network.composing import managed_devices
from heathrise.core.network.counting import overlap, prefix_for
from heathrise.core.network.defaults import octets_of, taken_numbers
from heathrise.core.network.flows import reached_by
from heathrise.core.network.hours import clock, open_hours, quiet_hour
from heathrise.core.network.onair import points_of
from heathrise.core.network.profiles import Carrying
from heathrise.core.network.ruled import name_ruled, network_ruled
from heathrise.core.network.subnets import Nets, free_subnet
from heathrise.core.radio.onair import names_on
from heathrise.core.rule import Fix, Observation, rule
from heathrise.core.units import quantity

# IEEE 802.11-2020, 9.4.2.2.
MOST_NAME_BYTES = 32


def _change(element: Element, label: str, **changes: object) -> Fix:
    return Fix(label=label, operations=(Put(element=element.model_copy(update=changes)),))


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
        reached = reached_by(job, network) if network.purpose == "guest" else ()
        if reached or (network.purpose == "guest" and not network.isolated):
            names = ", ".join(other.label for other in reached) or "the inside networks"
            pressed = tuple(
                Remove(id=flow.id) for flow in job.of(Flow) if flow.from_id == network.id and flow.allowed
            )
            shut = Put(element=network.model_copy(update={"isolated": True}))
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                text=f"{network.label} can reach {names}.",
                advice="Isolate it.",
                fixes=(Fix(label="Isolate it", operations=(*pressed, shut)),),
            )
    for ssid in job.of(Ssid):
        if job.get(Network, ssid.network_id).purpose == "guest" and not ssid.isolation:
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                text=f"Guests on {ssid.label} can reach each other on the air.",
                advice="Isolate clients on this name.",
                fixes=(_change(ssid, "Isolate its clients", isolation=True),),
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
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                text=f"Fast roaming is on for {ssid.label}.",
                advice="Switch it off there.",
                fixes=(_change(ssid, "Switch fast roaming off", fast_roaming=False),),
            )


def _named(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


@rule("network.vlan-one")
def vlan_one(job: Job) -> Iterator[Observation]:
    """A network has VLAN 1, where everything lands that nobody set."""
    for network in job.of(Network):
        if network.vlan == 1:
            free = next(v for v in range(2, 4095) if v not in taken_numbers(job))
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                text=f"{network.label} has VLAN 1, where every port lands that nobody has set.",
                advice="Give it a number of its own; leave 1 empty.",
                fixes=(_change(network, f"Give it VLAN {free}", vlan=free),),
            )


@rule("network.octets-taken")
def octets_taken(job: Job) -> Iterator[Observation]:
    """A wide subnet takes the number of another network with it."""
    if job.practice.vlan_numbers != "octet":
        return
    for wide in job.of(Network):
        octets = octets_of(wide)
        for other in job.of(Network):
            if other.id != wide.id and other.vlan != wide.vlan and other.vlan in octets:
                free = next((v for v in range(2, 255) if v not in taken_numbers(job)), None)
                yield Observation(
                    subject_ids=(wide.id, other.id),
                    subject=other.label,
                    text=f"{wide.label} is {wide.subnet} and takes octets {octets[0]} to {octets[-1]}; "
                    f"{other.label} has VLAN {other.vlan} among them.",
                    advice="Reserve those numbers; give the other network one that is free.",
                    fixes=(_change(other, f"Give {other.label} VLAN {free}", vlan=free),) if free else (),
                )


@rule("network.payment-not-alone")
def payment_not_alone(job: Job) -> Iterator[Observation]:
    """What takes cards reaches others, or is reached."""
    for network in job.of(Network):
        if network.purpose != "payment":
            continue
        out = reached_by(job, network)
        inward = [
            other
            for other in job.of(Network)
            if other.purpose != "management" and network in reached_by(job, other)
        ]
        if not out and not inward:
            continue
        names = _named([other.label for other in (*out, *inward)])
        pressed = [
            Remove(id=flow.id)
            for flow in job.of(Flow)
            if flow.allowed and network.id in (flow.from_id, flow.to_id)
        ]
        shut = Put(element=network.model_copy(update={"reaches_in": False}))
        yield Observation(
            subject_ids=(network.id,),
            subject=network.label,
            text=f"{network.label} and {names} can open connections to each other.",
            advice="Let nothing reach it and let it reach nothing inside.",
            fixes=(Fix(label="Set it alone", operations=(*pressed, shut)),),
        )


@rule("network.unfiltered")
def unfiltered(job: Job) -> Iterator[Observation]:
    """Children's network is not filtered."""
    for network in job.of(Network):
        ruled = network_ruled(job, network)
        open_to_all = ruled["filtering"].value != "children" or not ruled["safe_search"].value
        if network.purpose == "pupils" and network.internet and open_to_all:
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                text=f"{network.label} is not filtered for children, or searches are not kept safe.",
                advice="Filter it for children and force safe search, or write down who decided otherwise.",
                fixes=(_change(network, "Filter for children", filtering="children", safe_search=True),),
            )


@rule("network.lease-long")
def lease_long(job: Job) -> Iterator[Observation]:
    """Guests keep their addresses long after they left."""
    most = limit("network.guest_lease_h")
    for network in job.of(Network):
        lease_h = float(network_ruled(job, network)["lease_h"].value)
        if network.purpose == "guest" and lease_h > most:
            yield Observation(
                subject_ids=(network.id,),
                subject=network.label,
                value=lease_h,
                limit=most,
                unit="h",
                text=f"Guests keep an address of {network.label} for {quantity(lease_h, 'h', 0)}; "
                f"{quantity(most, 'h', 0)} is the most.",
                advice="Shorten the lease, or the scope fills with guests who have gone.",
                fixes=(_change(network, "Take the usual lease", lease_h=None),),
            )


@rule("network.fixed-astray")
def fixed_astray(job: Job) -> Iterator[Observation]:
    """A fixed address is outside its subnet, the gateway's, given out to others, or somebody else's too."""
    seen: dict[str, FixedAddress] = {}
    for one in job.of(FixedAddress):
        network = job.get(Network, one.network_id)
        keep = int(network_ruled(job, network)["fixed_addresses"].value)
        said = _astray(one, network, keep)
        if str(one.address) in seen:
            said = f"{seen[str(one.address)].label} has it too"
        seen.setdefault(str(one.address), one)
        if said:
            free = next_fixed(job, network)
            yield Observation(
                subject_ids=(one.id,),
                subject=one.label,
                text=f"{one.label} is to have {one.address} in {network.label}: {said}.",
                advice="Give it one of those kept for fixed addresses.",
                fixes=(_change(one, f"Give it {free}", address=ip_address(free)),) if free else (),
            )


def _astray(one: FixedAddress, network: Network, keep: int) -> str:
    host = int(one.address) - int(network.subnet.network_address)
    if one.address.version != network.subnet.version or not 0 < host < network.subnet.num_addresses - 1:
        return f"{network.subnet} has no such address for a device"
    if host == 1:
        return "it is the gateway's"
    return "it is given out to whoever asks" if host >= 2 + keep and one.set_on_device else ""


@rule("network.no-network")
def no_network(job: Job) -> Iterator[Observation]:
    """Things stand on the drawing for which there is no network."""
    have = {network.purpose for network in job.of(Network)}
    if not have:
        return
    astray: dict[str, list[str]] = defaultdict(list)
    for thing in job.of(Equipment):
        model = job.equipment[thing.model]
        if thing.network_id is None and model.links_up and not model.joins and model.purpose not in have:
            astray[model.purpose].append(thing.label)
    for purpose, labels in astray.items():
        yield Observation(
            subject_ids=(f"purpose-{purpose}",),
            subject=labels[0],
            text=f"{_named(labels[:3])}{f' and {len(labels) - 3} more' if len(labels) > 3 else ''} "
            f"{'has' if len(labels) == 1 else 'have'} no network for {purpose} and "
            f"{'lands' if len(labels) == 1 else 'land'} in the main one.",
            advice="Propose networks, or put them into one by hand.",
        )


@rule("network.too-many-names")
def too_many_names(job: Job) -> Iterator[Observation]:
    """A radio carries more names than serve."""
    most = int(limit("network.names"))
    worst: dict[str, tuple[int, AccessPoint]] = {}
    for point in job.of(AccessPoint):
        for band in BANDS:
            count = len(names_on(job, point.id, band))
            if count > most and count > worst.get(band, (0, point))[0]:
                worst[band] = (count, point)
    for name, (count, point) in worst.items():
        yield Observation(
            subject_ids=(f"names-{name}",),
            subject=point.label,
            value=count,
            limit=most,
            unit="names",
            text=f"{point.label} has {count} names on {name} GHz; {most} are the most.",
            advice="Fewer names; take off this band, storey or point what is not needed there.",
        )


@rule("network.name-nowhere")
def name_nowhere(job: Job) -> Iterator[Observation]:
    """A name is on the air nowhere."""
    if not job.of(AccessPoint):
        return
    for ssid in job.of(Ssid):
        if not ssid.bands or not points_of(job, ssid):
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                text=f"{ssid.label} is on the air {'on no band' if not ssid.bands else 'at no access point'}.",
                advice="Put it on the air where it is needed, or remove it.",
                fixes=(
                    _change(
                        ssid,
                        "Put it on the air everywhere",
                        everywhere=True,
                        bands=ssid.bands or ("2.4", "5"),
                    ),
                ),
            )


@rule("network.name-twice")
def name_twice(job: Job) -> Iterator[Observation]:
    """Two networks have the same name on the air."""
    by_name: dict[str, list[Ssid]] = defaultdict(list)
    for ssid in job.of(Ssid):
        by_name[ssid.label].append(ssid)
    for name, same in by_name.items():
        if len({ssid.network_id for ssid in same}) > 1:
            yield Observation(
                subject_ids=tuple(ssid.id for ssid in same),
                subject=name,
                text=f"{name} stands for {len(same)} networks: a phone cannot tell which it joins.",
                advice="Rename one of them.",
            )


@rule("network.name-long")
def name_long(job: Job) -> Iterator[Observation]:
    """A name is longer than goes on the air."""
    for ssid in job.of(Ssid):
        size = len(ssid.label.encode())
        if size > MOST_NAME_BYTES:
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                value=size,
                limit=MOST_NAME_BYTES,
                unit="bytes",
                text=f"{ssid.label} takes {size} bytes; a name on the air has {MOST_NAME_BYTES} at the most.",
                advice="Shorten it; letters with marks count two or more.",
            )


@rule("network.open-air")
def open_air(job: Job) -> Iterator[Observation]:
    """A name is open: everybody in the street is on it, and everybody hears everybody."""
    for ssid in job.of(Ssid):
        if ssid.security != "open":
            continue
        portal, guest = (
            name_ruled(job, ssid)["portal"].value,
            job.get(Network, ssid.network_id).purpose == "guest",
        )
        if portal and guest:
            continue
        yield Observation(
            subject_ids=(ssid.id,),
            subject=ssid.label,
            severity=None if guest else "fault",
            text=f"{ssid.label} is open{'' if portal else ' and asks for nothing'}: whoever hears it is in "
            f"{job.get(Network, ssid.network_id).label}.",
            advice="Give it a passphrase and a card; or a portal, for guests alone.",
            fixes=(_change(ssid, "Give it a passphrase", security="transition"),),
        )


@rule("network.things-stumble")
def things_stumble(job: Job) -> Iterator[Observation]:
    """The things' name asks what old radios do not know."""
    for ssid in job.of(Ssid):
        if job.get(Network, ssid.network_id).purpose != "things":
            continue
        ruled = name_ruled(job, ssid)
        odd = [
            *(["newer security"] if ssid.security in ("wpa3", "transition", "enterprise") else []),
            *(["no 2.4 GHz"] if "2.4" not in ssid.bands else []),
            *([f"DTIM {ruled['dtim'].value}"] if ruled["dtim"].value > 1 else []),
        ]
        if odd:
            bands = tuple(dict.fromkeys(("2.4", *ssid.bands)))
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                text=f"{ssid.label} is for things and has {_named(odd)}.",
                advice="Plain settings: WPA2, 2.4 GHz, DTIM 1.",
                fixes=(_change(ssid, "Set it plain", security="wpa2", bands=bands, dtim=1),),
            )


@rule("network.hidden")
def hidden(job: Job) -> Iterator[Observation]:
    """A name is not announced."""
    for ssid in job.of(Ssid):
        if ssid.hidden:
            yield Observation(
                subject_ids=(ssid.id,),
                subject=ssid.label,
                text=f"{ssid.label} is not announced: its phones ask for it aloud wherever they are.",
                advice="Announce it; a name is no secret.",
                fixes=(_change(ssid, "Announce it", hidden=False),),
            )


@rule("network.automatic")
def automatic_under_plan(job: Job) -> Iterator[Observation]:
    """Radios are left to choose for themselves though channels were set by hand."""
    locked = [
        point.label
        for point in job.of(AccessPoint)
        if any(radio.locked or radio.channel is not None for radio in point.radios)
    ]
    if job.practice.radio_settings == "automatic" and locked:
        yield Observation(
            subject_ids=("automatic",),
            subject="Radios",
            text=f"Channels of {_named(locked[:3])}{f' and {len(locked) - 3} more' if len(locked) > 3 else ''} were set "
            "by hand; automatic optimisation moves them.",
            advice="Switch it off, or let go of what was set.",
            fixes=(_change(job.practice, "Switch automatic off", radio_settings="planned"),),
        )


@rule("network.mesh-on-wired")
def mesh_on_wired(job: Job) -> Iterator[Observation]:
    """A point with a cable may still hang on others by air."""
    cabled = {run.b.on for run in runs_of(job)}
    for point in job.of(AccessPoint):
        if point.mesh and point.id in cabled:
            yield Observation(
                subject_ids=(point.id,),
                subject=point.label,
                text=f"{point.label} has a cable and may still hang on another point by air.",
                advice="Switch mesh off there: a dead cable would go unseen, and a loop may form.",
                fixes=(_change(point, "Switch mesh off", mesh=None),),
            )


@rule("network.update-in-hours")
def update_in_hours(job: Job) -> Iterator[Observation]:
    """Updates are made while people are there."""
    site = job.site
    if site.updates_at_h is None or site.updates_at_h not in open_hours(site):
        return
    quiet = quiet_hour(site)
    yield Observation(
        subject_ids=("updates",),
        subject=site.label,
        text=f"Updates are made at {clock(site.updates_at_h)}; the place is open {clock(site.opens_h)} to "
        f"{site.closes_h % 24:02d}:00.",
        advice=f"Move them to {clock(quiet)}."
        if quiet is not None
        else "Agree on an hour with the people there.",
        fixes=(_change(site, f"Move them to {clock(quiet)}", updates_at_h=None),)
        if quiet is not None
        else (),
    )


@rule("network.squeezed")
def squeezed(carrying: Carrying) -> Iterator[Observation]:
    """What cannot tell networks apart stands on the way of several."""
    for box in carrying.squeezed:
        yield Observation(
            subject_ids=(box.box_id,),
            subject=box.label,
            value=len(box.networks),
            limit=1,
            unit="networks",
            text=f"{box.label} cannot tell networks apart and stands on the way of {_named(box.networks)} "
            f"(for {_named(box.things[:3])}{f' and {len(box.things) - 3} more' if len(box.things) > 3 else ''}).",
            advice="Put a managed switch there, give each network its own cable, or put all behind it into one.",
        )


@rule("network.apart")
def apart(job: Job, carrying: Carrying) -> Iterator[Observation]:
    """Two things of a rack find no free ports for the cord between them."""
    for other_id, middle_id in carrying.apart:
        other, middle = job.by_id[other_id], job.by_id[middle_id]
        yield Observation(
            subject_ids=(other_id,),
            subject=other.label,
            text=f"{other.label} and {middle.label} have no two free ports left for the cord between them.",
            advice="Free a port of each, or take a larger switch: without that cord what hangs there is cut off.",
        )


@rule("network.named-alike")
def named_alike(job: Job) -> Iterator[Observation]:
    """Two devices, or two networks, are called alike: a controller tells them apart by their names."""
    for things in (managed_devices(job), job.of(Network), job.of(FixedAddress)):
        by_name: dict[str, list[str]] = defaultdict(list)
        for thing in things:
            by_name[thing.label].append(thing.id)
        for name, ids in by_name.items():
            if len(ids) > 1:
                yield Observation(
                    subject_ids=tuple(ids),
                    subject=name,
                    value=len(ids),
                    limit=1,
                    unit="",
                    text=f"{len(ids)} are called {name}; a controller tells them apart by their names.",
                    advice="Give each a name of its own; until then nothing is sent.",
                )
