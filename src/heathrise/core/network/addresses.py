"""The addresses in use: every subnet inside and outside on one line, and where two lie over each other."""

from itertools import combinations

from heathrise.core.job import FixedAddress, Job, Network
from heathrise.core.network.counting import Subnet, overlap
from heathrise.core.network.ruled import network_ruled
from heathrise.core.network.subnets import Nets, ScopePlan
from heathrise.core.sums import Noun

# What is drawn as one row of the map.
_ROW_PREFIX = 16


class Stretch(Noun):
    """One subnet on its row of the map, from and to as shares of it; `kind` says whose it is."""

    subject_id: str
    label: str
    subnet: str
    kind: str
    from_share: float
    to_share: float
    used_share: float
    over: tuple[str, ...]


class MapRow(Noun):
    """One row of the map: a /16, or what is wider."""

    label: str
    stretches: tuple[Stretch, ...]


class Overlap(Noun):
    """Two subnets that lie over each other, and what follows."""

    one: str
    other: str
    words: str


class FixedRow(Noun):
    """One fixed address."""

    element_id: str
    label: str
    network: str
    address: str
    on_device: bool


class NextFixed(Noun):
    """The next address of a network that is free for a thing that shall keep it; None where none is left."""

    network_id: str
    label: str
    address: str | None


class AddressMap(Noun):
    """The address space in use; fixed addresses, and the next free one of each network."""

    rows: tuple[MapRow, ...]
    clashes: tuple[Overlap, ...]
    doubled: str
    fixed: tuple[FixedRow, ...]
    free: tuple[NextFixed, ...]


_DOUBLED = (
    "Another router stands before the gateway and hands it a private address: what comes in is translated twice. "
    "Browsing works; calls and doors opened from outside may not. Ask for that router to be set as a bridge, or "
    "forward everything to the gateway. Its subnet must not be used inside."
)
_FREE = "The gateway gets a public address: nothing is translated twice."
_UNKNOWN = "The service's own subnet is not known yet: nobody can say whether it is translated twice."


def address_map(job: Job, nets: Nets) -> AddressMap:
    """Return every subnet in use with what lies over it."""
    scopes = {scope.network_id: scope for scope in nets.scopes}
    all_ = _subnets(job)
    rows: dict[Subnet, list[Stretch]] = {}
    for key, label, kind, subnet in all_:
        row = _row_of(subnet)
        over = tuple(other for k, other, _, theirs in all_ if k != key and overlap(subnet, theirs))
        rows.setdefault(row, []).append(_stretch(row, (key, label, kind, subnet), over, scopes.get(key)))
    ordered = sorted(rows, key=lambda row: (row.version, int(row.network_address)))
    return AddressMap(
        rows=tuple(
            MapRow(label=str(row), stretches=tuple(sorted(rows[row], key=lambda one: one.from_share)))
            for row in ordered
        ),
        clashes=tuple(_clash(a, b) for a, b in combinations(all_, 2) if overlap(a[3], b[3])),
        doubled=_doubled(job),
        fixed=tuple(
            FixedRow(
                element_id=one.id,
                label=one.label,
                network=job.get(Network, one.network_id).label,
                address=str(one.address),
                on_device=one.set_on_device,
            )
            for one in job.of(FixedAddress)
        ),
        free=tuple(
            NextFixed(network_id=n.id, label=n.label, address=next_fixed(job, n)) for n in job.of(Network)
        ),
    )


_Named = tuple[str, str, str, Subnet]


def _subnets(job: Job) -> list[_Named]:
    internet = job.brief.internet
    found: list[_Named] = []
    if internet.subnet is not None:
        found.append(("service", "The service", "service", internet.subnet))
    found += [(f"tunnel-{n}", f"Beyond tunnel {n + 1}", "tunnel", s) for n, s in enumerate(internet.beyond)]
    return found + [(n.id, n.label, "network", n.subnet) for n in job.of(Network)]


def _row_of(subnet: Subnet) -> Subnet:
    if subnet.version == 6:
        return subnet.supernet(new_prefix=min(48, subnet.prefixlen))
    return subnet.supernet(new_prefix=min(_ROW_PREFIX, subnet.prefixlen))


def _stretch(row: Subnet, named: _Named, over: tuple[str, ...], scope: ScopePlan | None) -> Stretch:
    key, label, kind, subnet = named
    first = int(subnet.network_address) - int(row.network_address)
    return Stretch(
        subject_id=key,
        label=label,
        subnet=str(subnet),
        kind=kind,
        from_share=first / row.num_addresses,
        to_share=(first + subnet.num_addresses) / row.num_addresses,
        used_share=min(1.0, scope.wanted / max(1, scope.usable)) if scope else 0.0,
        over=over,
    )


def _clash(one: _Named, other: _Named) -> Overlap:
    outside = {one[2], other[2]} - {"network"}
    words = "A router cannot tell two subnets apart that share addresses; renumber one of them."
    if outside:
        words = (
            "The gateway stands between the two and cannot have the same addresses on both sides: it gets none from "
            "the service, or sends inside what was meant for outside. Renumber the inside."
        )
    return Overlap(one=f"{one[1]} {one[3]}", other=f"{other[1]} {other[3]}", words=words)


def _doubled(job: Job) -> str:
    outside = job.brief.internet.subnet
    if outside is None:
        return _UNKNOWN
    return _DOUBLED if outside.is_private else _FREE


def next_fixed(job: Job, network: Network) -> str | None:
    """Return the next address that is free among those kept for fixed ones."""
    keep = int(network_ruled(job, network)["fixed_addresses"].value)
    taken = {str(one.address) for one in job.of(FixedAddress)}
    base = network.subnet.network_address
    return next((str(base + n) for n in range(2, 2 + keep) if str(base + n) not in taken), None)
