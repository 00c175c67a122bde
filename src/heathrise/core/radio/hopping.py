"""Access points that talk to each other: on which band, how loud, at what rate; and which take turns on one channel."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

import networkx as nx
import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import BANDS, AccessPoint, Band, Job, Link
from heathrise.core.library import library, limit
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.coverage import radio_on
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.rates import phy_rates_mbps
from heathrise.core.radio.scene import Scene

Floats = NDArray[np.float64]
USUAL: Band = "5"
# What hears nothing at all. [dBm]
SILENCE_DBM = -150.0


class MeshHop(NamedTuple):
    """One point heard by another: on which band, how loud the weaker way is, and what goes through. [dBm, Mb/s]"""

    parent_id: str
    band: Band
    aside: bool
    level_dbm: float
    mbps: float


@dataclass(frozen=True)
class Nodes:
    """All access points of a job with how loud each is at each other, (n, n), by band. [dBm]"""

    job: Job
    scene: Scene
    points: Mapping[str, AccessPoint]
    levels: Mapping[Band, tuple[dict[str, int], Floats]]
    rows: Mapping[tuple[str, Band], RadioPlan]

    def level_dbm(self, one: str, other: str, band: Band) -> float:
        """Return the weaker way between two points. [dBm]"""
        at, heard = self.levels[band]
        if one not in at or other not in at:
            return SILENCE_DBM
        return float(min(heard[at[one], at[other]], heard[at[other], at[one]]))

    def hop(self, parent_id: str, child_id: str) -> MeshHop | None:
        """Return how a point would hang on another; None where they share no band."""
        band, aside = self._band(parent_id, child_id)
        if band is None:
            return None
        level = self.level_dbm(parent_id, child_id, band)
        return MeshHop(parent_id, band, aside, level, self._rate_mbps(parent_id, child_id, band, level))

    def _band(self, parent_id: str, child_id: str) -> tuple[Band | None, bool]:
        """Return the band two points talk on: one that both set aside for it, else 5 GHz, else what both have."""
        ends = [self.points[parent_id], self.points[child_id]]
        both = [band for band in BANDS if all(radio_on(self.job, point, band) for point in ends)]
        for band in reversed(both):
            if all((radio := radio_on(self.job, p, band)) is not None and radio.aside for p in ends):
                return band, True
        return (USUAL if USUAL in both else next(iter(both), None)), False

    def _rate_mbps(self, parent_id: str, child_id: str, band: Band, level_dbm: float) -> float:
        """Return the PHY rate of the hop: the older generation, the fewer chains, the narrower channel of both."""
        phys = list(library().phys)
        models = [self.job.equipment[self.points[end].model] for end in (parent_id, child_id)]
        older = min(phys.index(model.generation or phys[0]) for model in models)
        chains = min(radio.chains for m in models if (radio := m.band(band)) is not None)
        widths = [row.width_mhz for end in (parent_id, child_id) if (row := self.rows.get((end, band)))]
        snr = level_dbm - noise_floor_dbm(20, limit("air.noise_figure_point_db"))
        rates = phy_rates_mbps(np.array([snr]), phys[older], min(widths, default=20), chains)
        return float(rates[0])

    def same_channel(self, one: str, other: str, band: Band) -> bool:
        """Say whether two points stand on one channel of a band."""
        a, b = self.rows.get((one, band)), self.rows.get((other, band))
        return a is not None and b is not None and a.channel is not None and a.channel == b.channel


def mesh_links(job: Job) -> dict[str, Link]:
    """Return the link by which each point hangs on another, by the point's id."""
    return {link.b.on: link for link in job.of(Link) if link.medium == "mesh"}


class Hop(NamedTuple):
    """A decided hop over a band, and the rate it has. [Mb/s]"""

    parent_id: str
    child_id: str
    mbps: float


def turns(hops: Iterable[Hop]) -> tuple[frozenset[str], ...]:
    """Return the points that hang together over a band: they hear each other, and send in turns."""
    graph: nx.Graph[str] = nx.Graph()
    graph.add_edges_from((hop.parent_id, hop.child_id) for hop in hops)
    return tuple(frozenset(group) for group in nx.connected_components(graph))


def behind(hops: Iterable[Hop], child_id: str) -> frozenset[str]:
    """Return a point and all that hang on it, over one hop or more."""
    graph: nx.DiGraph[str] = nx.DiGraph()
    graph.add_edges_from((hop.parent_id, hop.child_id) for hop in hops)
    return (
        frozenset({child_id} | nx.descendants(graph, child_id))
        if child_id in graph
        else frozenset({child_id})
    )
