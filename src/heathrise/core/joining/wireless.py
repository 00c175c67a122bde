"""Over the air of the access points: a mesh hop, and a repeater."""

import numpy as np

from heathrise.core.joining.case import Case
from heathrise.core.joining.way import Found, fed_there, out, speed_sum, way
from heathrise.core.library import limit
from heathrise.core.library.items import WayInfo
from heathrise.core.links.hops import shared_hops_mbps
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.rates import phy_rates_mbps, usable_share
from heathrise.core.sums import Sum, SumLine

_NOBODY = "It serves nobody by radio: a bridge for one thing is a bridge, not a hop."


def _level(case: Case) -> tuple[Sum, ...]:
    return (case.node.level,) if case.node and case.node.level else ()


@way("mesh")
def mesh(case: Case, _: WayInfo) -> Found:
    """A hop onto the point it hears best; out in the open, from house to house, it is the wrong tool."""
    if not case.radiates or case.node is None:
        return out(_NOBODY)
    if case.is_apart:
        return out(
            "From house to house nodes stand too far apart: fibre or a bridge, and one network name.",
            *_level(case),
        )
    if case.node.why_not:
        return out(case.node.why_not, *_level(case))
    heard = case.node.second_label
    second = f"It hears {heard} as well, should {case.node.parent_label} fail." if heard else _ALONE
    return Found(
        throughput=case.node.throughput, pieces=fed_there(case), checks=_level(case), cautions=(second,)
    )


_ALONE = "It hears no other point well enough: should the one it hangs on fail, all behind it is cut off."


@way("repeater")
def repeater(case: Case, info: WayInfo) -> Found:
    """A repeater in its place: what is left of the channel that it shares with everybody."""
    if not case.radiates or case.node is None:
        return out(_NOBODY)
    if case.node.why_not or case.node.level is None:
        return out(case.node.why_not, *_level(case))
    model = next(case.job.equipment[part.model] for part in info.parts if part.model)
    radio = model.band(case.node.band)
    snr = np.array([case.node.level.value - noise_floor_dbm(20, limit("air.noise_figure_point_db"))])
    chains = radio.chains if radio else 1
    hop = float(phy_rates_mbps(snr, model.generation or "4", case.node.width_mhz, chains)[0])
    if hop <= 0:
        return out("No rate holds over what it hears.", *_level(case))
    share, both = usable_share(1), shared_hops_mbps([hop, hop])
    carries = speed_sum(
        f"{info.label}: what it carries",
        (
            SumLine(label=f"rate to {case.node.parent_label}", value=round(hop, 1), unit="Mb/s"),
            SumLine(label="to it and on, one channel", value=round(both, 1), unit="Mb/s"),
            SumLine(label="share left for data", value=share, unit=""),
        ),
        both * share,
        "1 / (1/r + 1/r) x share",
        "airtime of consecutive transmissions",
    )
    return Found(throughput=carries, checks=_level(case))
