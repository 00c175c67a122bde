"""Everything failed one by one: what loses its way to the core, which spaces lose their air, who takes over, and what
would take the single failure away.
"""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import networkx as nx
import numpy as np
from numpy.typing import NDArray

from heathrise.core.cabling.defaults import wanting
from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look
from heathrise.core.job import AccessPoint, Equipment, InLine, InRack, Job, Link, Rack, Space
from heathrise.core.job.view import job_of
from heathrise.core.library import library, limit
from heathrise.core.links.carried import carried
from heathrise.core.radio.air import heard, scene, scored
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.coverage import NOTHING_DBM
from heathrise.core.radio.rates import phy_rates_mbps, usable_share
from heathrise.core.radio.scoring import SpaceScore, cells_of
from heathrise.core.site.building import Building
from heathrise.core.site.derived import building
from heathrise.core.sums import Noun
from heathrise.core.switching.chains import Hop, cores_of, wired_graph
from heathrise.core.switching.derived import ports

# What kind of failure a link without a cable is.
_KINDS = {"bridge": "bridge", "mesh": "hop", "powerline": "mains"}
# What a client that re-homes is taken to have: antennas of a phone on a channel of 20 MHz.
_STREAMS, _WIDTH_MHZ = 2, 20


class SpaceWithout(Noun):
    """A space when its points have failed: what share of it is still served and how fast at its edge, by which points.

    `lost` says that it met its need before and does not now. [0 to 1; Mb/s]
    """

    space_id: str
    label: str
    share: float
    edge_mbps: float
    by: tuple[str, ...]
    lost: bool


class FailureOf(Noun):
    """One thing failed. `erased` is what is gone with it, `cut` what stands and reaches the core no more."""

    code: str
    kind: str
    kind_label: str
    label: str
    erased: tuple[str, ...]
    cut: tuple[str, ...]
    cut_labels: tuple[str, ...]
    spaces: tuple[SpaceWithout, ...]
    harm: int
    mend: str


class Failures(Noun):
    """Every single failure, the worst first."""

    all: tuple[FailureOf, ...]


@dataclass(frozen=True)
class Broken:
    """What is taken away at once: things by their ids, links by theirs."""

    kind: str
    key: str
    label: str
    things: frozenset[str] = frozenset()
    links: frozenset[str] = field(default_factory=frozenset)


def failures(look: Look) -> Failures:
    """Return what every single failure costs."""
    job = job_of(look)
    graph = wired_graph(job, runs(look), ports(look), carried(look))
    cores = cores_of(job)
    things = wanting(job)
    around = _around(graph)
    before = _reached(around, cores, frozenset(), frozenset())
    air = AirLeft(look)
    found = []
    for broken in _every(job, building(look), graph):
        after = _reached(around, cores, broken.things, broken.links)
        gone = [t for t in things if t.id in before and t.id not in after]
        dead = frozenset(t.id for t in gone if isinstance(t, AccessPoint))
        cut = [t for t in gone if t.id != broken.key]
        found.append(_failure(broken, cut, air.without(dead)))
    return Failures(all=tuple(sorted(found, key=lambda one: -one.harm)))


def _failure(
    broken: Broken, cut: Sequence[AccessPoint | Equipment], spaces: tuple[SpaceWithout, ...]
) -> FailureOf:
    info = library().failures[broken.kind]
    return FailureOf(
        code=f"{broken.kind}:{broken.key}",
        kind=broken.kind,
        kind_label=info.label,
        label=broken.label,
        erased=tuple(sorted(broken.things | broken.links)),
        cut=tuple(thing.id for thing in cut),
        cut_labels=tuple(thing.label for thing in cut),
        spaces=spaces,
        harm=len(cut) + 2 * sum(space.lost for space in spaces),
        mend=info.mend,
    )


# What lies beside each thing, and over which link; no link's id for a cord in a rack.
Around = dict[str, list[tuple[str, str | None]]]


def _around(graph: "nx.Graph[str]") -> Around:
    return {
        node: [(other, graph.edges[node, other]["hop"].link_id) for other in graph[node]] for node in graph
    }


def _reached(
    around: Around, cores: Collection[str], things: frozenset[str], links: frozenset[str]
) -> set[str]:
    """Return what still reaches the core without some things and links.

    Walked by hand: hundreds of failures ask it, and a filtered view of the graph is ten times as slow.
    """
    waiting = [core for core in cores if core in around and core not in things]
    found = set(waiting)
    while waiting:
        for other, link_id in around[waiting.pop()]:
            if other not in found and other not in things and link_id not in links:
                found.add(other)
                waiting.append(other)
    return found


def _every(job: Job, of: Building, graph: "nx.Graph[str]") -> Iterator[Broken]:
    """Yield everything that may fail by itself."""
    hops: list[Hop] = [graph.edges[edge]["hop"] for edge in graph.edges]
    on_way = {hop.link_id for hop in hops if hop.link_id}
    for link in job.of(Link):
        if link.id in on_way:
            kind = _KINDS.get(link.medium, "link")
            yield Broken(kind, link.id, link.label, links=frozenset({link.id}))
    for thing in job.of(Equipment):
        model = job.equipment[thing.model]
        if isinstance(thing.place, InLine):
            yield Broken(
                "unit", thing.id, thing.label, frozenset({thing.id}), frozenset({thing.place.link_id})
            )
        elif model.joins or model.air is not None or model.mains is not None:
            kind = "switch" if model.joins else "unit"
            yield Broken(kind, thing.id, thing.label, frozenset({thing.id}))
    for point in job.of(AccessPoint):
        yield Broken("point", point.id, point.label, frozenset({point.id}))
    for rack in job.of(Rack):
        yield Broken("power", rack.id, rack.label, _in_rack(job, rack.id))
    for house in of.houses:
        yield Broken("house", house, house, _in_house(job, of, house))
    yield Broken("service", "service", "Service from outside")


def _in_rack(job: Job, rack_id: str) -> frozenset[str]:
    """Return what hangs on the mains of a rack: all that stands in it. What it feeds over cables goes with it."""
    return frozenset(
        thing.id
        for thing in job.of(Equipment)
        if isinstance(thing.place, InRack) and thing.place.rack_id == rack_id
    )


def _in_house(job: Job, of: Building, house: str) -> frozenset[str]:
    """Return what hangs on the mains of a house: its racks, and what stands in it without power from its cable."""
    racks = [rack.id for rack in job.of(Rack) if of.house_at(rack.at) == house]
    found = {thing for rack in racks for thing in _in_rack(job, rack)}
    for thing in wanting(job):
        fed = job.equipment[thing.model].takes_class > 0
        if not fed and of.house_at(job.spot(thing.id).at) == house:
            found.add(thing.id)
    return frozenset(found)


class _Served(NamedTuple):
    """The signals over a space: points by id, (points, cells) [dBm], the best of each cell and which point that is."""

    ids: tuple[str, ...]
    levels: NDArray[np.float32]
    best: NDArray[np.float32]
    server: NDArray[np.intp]


class AirLeft:
    """The air of a job as it is left when points fail: each set of points is worked out once."""

    def __init__(self, look: Look):
        self._look = look
        job = job_of(look)
        self._labels = {point.id: point.label for point in job.of(AccessPoint)}
        self._models = {point.id: job.equipment[point.model].generation for point in job.of(AccessPoint)}
        scores = ((space, scored(look, space.id)) for space in job.of(Space))
        self._spaces = [(space, score) for space, score in scores if score is not None]
        self._up: dict[str, _Served] = {}
        self._known: dict[frozenset[str], tuple[SpaceWithout, ...]] = {frozenset(): ()}

    def without(self, dead: frozenset[str]) -> tuple[SpaceWithout, ...]:
        """Return the spaces that were served by these points, as they are without them."""
        if dead not in self._known:
            left = (self._space(space, score, dead) for space, score in self._spaces)
            self._known[dead] = tuple(one for one in left if one is not None)
        return self._known[dead]

    def _space(self, space: Space, score: SpaceScore, dead: frozenset[str]) -> SpaceWithout | None:
        """Return one space without some points; None where they served none of it."""
        served = self._served(space, score)
        gone = np.array([one in dead for one in served.ids], bool)
        hit = gone[served.server] if served.ids else np.zeros(0, bool)
        if not hit.any():
            return None
        # Only where a failed point served does anything change.
        left = served.levels[:, hit]
        left[gone] = NOTHING_DBM
        best, server, ids = served.best.copy(), served.server.copy(), served.ids
        best[hit], server[hit] = left.max(axis=0), left.argmax(axis=0)
        least_dbm = library().needs[score.need].best_dbm or 0.0
        share = float((best >= least_dbm).mean())
        takers = [n for n in np.unique(server[best >= limit("air.heard_dbm")]) if not gone[n]]
        passes = limit("air.pass_share")
        return SpaceWithout(
            space_id=space.id,
            label=space.label,
            share=round(share, 3),
            edge_mbps=self._edge_mbps(best, [ids[n] for n in takers]),
            by=tuple(self._labels[ids[n]] for n in takers),
            lost=share < passes <= score.best_share,
        )

    def _served(self, space: Space, score: SpaceScore) -> "_Served":
        """Return the signals over a space with every point up, worked out once."""
        if space.id not in self._up:
            here = scene(self._look)
            inside = cells_of(here.building, here.grid(space.storey_id), space.storey_id)[space.id]
            signals = heard(self._look, space.storey_id, score.band)
            levels = np.array(list(signals.rows("weaker", inside)), np.float32).reshape(-1, len(inside))
            ids = tuple(point.id for point in signals.points)
            best = levels.max(axis=0) if ids else np.zeros(0, np.float32)
            server = levels.argmax(axis=0) if ids else np.zeros(0, int)
            self._up[space.id] = _Served(ids, levels, best, server)
        return self._up[space.id]

    def _edge_mbps(self, best: NDArray[np.float32], takers: Sequence[str]) -> float:
        """Return what one client has at the edge of what is left, where nine in ten have more. [Mb/s]"""
        if not takers:
            return 0.0
        edge_dbm = float(np.quantile(best, 1 - limit("air.pass_share"), method="lower"))
        snr = edge_dbm - noise_floor_dbm(20, limit("air.noise_figure_client_db"))
        generation = self._models[takers[0]] or "5"
        rate = phy_rates_mbps(np.array([snr]), generation, _WIDTH_MHZ, _STREAMS)
        return round(float(rate[0]) * usable_share(1), 1)
