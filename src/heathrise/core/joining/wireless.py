"""Over the air of the access points: a mesh hop, and a repeater."""

import math

import numpy as np

from heathrise.core.joining.case import Case, Heard
from heathrise.core.joining.way import Found, out, speed_sum, way
from heathrise.core.library import limit
from heathrise.core.library.items import WayInfo
from heathrise.core.links.hops import shared_hops_mbps
from heathrise.core.radio.rates import phy_rates_mbps, usable_share
from heathrise.core.sums import Sum, SumLine

_NOISE_DBM = -174.0 + 10 * math.log10(20e6) + 7.0


def _strong(heard: Heard) -> Sum:
    return heard.sum.model_copy(
        update={"limit": limit("links.mesh_dbm"), "holds": heard.rssi_dbm >= limit("links.mesh_dbm")}
    )


def _by_hop(case: Case, info: WayInfo) -> Found:
    """What is left of the rate to the point before it, as client and node share its channel."""
    if not case.radiates:
        return out("It serves nobody by radio: a bridge for one thing is a bridge, not a hop.")
    if case.heard is None:
        return out("No wired access point is there to be heard.")
    level = _strong(case.heard)
    if not level.holds:
        return out(
            f"It hears {case.heard.label} at {case.heard.rssi_dbm:.0f} dBm; {limit('links.mesh_dbm'):g} dBm is the least.",
            level,
        )
    rates = phy_rates_mbps(
        np.array([case.heard.rssi_dbm - _NOISE_DBM]), "5", int(info.figures["width_mhz"]), 2
    )
    hop, share = float(rates[0]), usable_share(1)
    both = shared_hops_mbps([hop, hop])
    carries = speed_sum(
        f"{info.label}: what it carries",
        (
            SumLine(label=f"rate to {case.heard.label}", value=round(hop, 1), unit="Mb/s"),
            SumLine(label="to it and on, one channel", value=both, unit="Mb/s"),
            SumLine(label="share left for data", value=share, unit=""),
        ),
        both * share,
        "1 / (1/r + 1/r) x share",
        "airtime of consecutive transmissions",
    )
    return Found(throughput=carries, checks=(level,))


@way("mesh")
def mesh(case: Case, info: WayInfo) -> Found:
    """One hop of a mesh; out in the open, from house to house, it is the wrong tool."""
    if case.is_apart:
        level = (_strong(case.heard),) if case.heard else ()
        return out(
            "From house to house nodes stand too far apart: fibre or a bridge, and one network name.", *level
        )
    return _by_hop(case, info)


@way("repeater")
def repeater(case: Case, info: WayInfo) -> Found:
    """A repeater, on the narrow channel of the band that reaches it."""
    return _by_hop(case, info)
