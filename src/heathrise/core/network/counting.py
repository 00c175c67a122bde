"""How many addresses a network is asked for, and how many a subnet gives out."""

import ipaddress
import math

from heathrise.core.job import Job
from heathrise.core.library import limit
from heathrise.core.sums import SumLine

Subnet = ipaddress.IPv4Network | ipaddress.IPv6Network


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
    mine = [d for d in job.brief.devices if d.purpose == purpose]
    count, moving = sum(d.count for d in mine), sum(d.count for d in mine if d.moves)
    more = max(0, job.brief.people_peak - moving) if purpose == "main" else 0
    growth = limit("network.scope_growth")
    lines = [SumLine(label="devices counted in the brief", value=count, unit="")]
    if more:
        note = f"{job.brief.people_peak} people at the peak, {moving} devices that move are counted"
        lines.append(
            SumLine(label="people with nothing counted for them yet", value=more, unit="", note=note)
        )
    lines.append(SumLine(label="growth", value=growth, unit=""))
    return math.ceil((count + more) * growth), lines


def overlap(one: Subnet, other: Subnet) -> bool:
    """Return whether two subnets share an address; different families never do."""
    return one.version == other.version and one.overlaps(other)
