"""Where cables may run: lines along both axes of every storey, the pathways on them, the risers between them.

Every place of a lattice stands twice in the graph, once for what runs along x and once for what runs along y;
between the two lies the cost of a bend. One search from a place gives the least cost to all of the building,
so that every run from a rack is read off the same search: runs share their trunk without being told.
"""

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, partial
from itertools import chain, pairwise

import numpy as np
import scipy.sparse
from cachetools import LRUCache
from numpy.typing import NDArray
from scipy.sparse.csgraph import dijkstra

from heathrise.core.cabling.ground import Axis, Floats, Ruler, Rulers, StoreyGround
from heathrise.core.cabling.tracks import MEETS_M, Track, with_stations
from heathrise.core.job import Point
from heathrise.core.library import limit

# A sparse graph keeps no edge of no cost.
_LEAST_COST = 1e-12
# Lines that follow from spaces are told apart when they are this far from each other.
_APART_M = 0.25
# Wider gaps between them are cut, but never into more parts.
_WIDEST_M, _MOST_PARTS = 1.0, 40
# Searches kept: from every rack and pin, not from every place a pin was dragged over.
_FIELDS_KEPT = 64
AXES: tuple[Axis, Axis] = ("x", "y")


@dataclass(frozen=True)
class Node:
    """A place a cable may pass: over the storey's floor at `z_m`; `track` and `mark_m` say where on which pathway."""

    storey_id: str
    at: Point
    z_m: float
    track: int | None = None
    mark_m: float = 0.0


Via = Callable[[], tuple[Node, ...]]


@dataclass(frozen=True)
class Stubs:
    """The ways from a place to the nodes beside it: which, their costs, and what says which places each passes."""

    nodes: NDArray[np.intp]
    costs: Floats
    via: tuple[Via, ...]


class Level:
    """One storey's lines and tracks, and where its nodes begin among all."""

    def __init__(
        self,
        ground: StoreyGround,
        void_m: float,
        usual: tuple[Sequence[float], Sequence[float]],
        exact: Iterable[Point],
        tracks: Sequence[Track],
        first: int,
    ):
        self.ground, self.void_m, self.first = ground, void_m, first
        places = [*exact, *(track.at(mark) for track in tracks for mark in track.stations)]
        self.xs = _lines(usual[0], [p.x_m for p in places])
        self.ys = _lines(usual[1], [p.y_m for p in places])
        self.tracks = tuple(with_stations(track, self.xs, self.ys) for track in tracks)
        self.along_x = [ground.ruler("x", float(y)) for y in self.ys]
        self.along_y = [ground.ruler("y", float(x)) for x in self.xs]
        self.plain = self.xs.size * self.ys.size
        starts = np.cumsum([0, *(len(track.stations) for track in self.tracks)])
        self.track_first = [first + 2 * self.plain + int(start) for start in starts]

    @property
    def size(self) -> int:
        """How many nodes it has."""
        return self.track_first[-1] - self.first

    @cached_property
    def _beside(self) -> dict[Axis, Rulers]:
        return {"x": Rulers(self.along_x), "y": Rulers(self.along_y)}

    @cached_property
    def costs(self) -> dict[Axis, Floats]:
        """Cost from a fixed beginning of every line to its nodes: along x (ny, nx), along y (nx, ny)."""
        return {
            "x": np.array([ruler.upto(self.xs) for ruler in self.along_x]).reshape(
                self.ys.size, self.xs.size
            ),
            "y": np.array([ruler.upto(self.ys) for ruler in self.along_y]).reshape(
                self.xs.size, self.ys.size
            ),
        }

    def node(self, axis: Axis, column: int, row: int) -> int:
        """Return the node at xs[column], ys[row] of what runs along an axis."""
        on = self.first if axis == "x" else self.first + self.plain
        return on + row * self.xs.size + column

    def nodes_at(self, at: Point) -> tuple[int, int] | None:
        """Return both nodes of a place that is on a line of either axis, None for any other place."""
        column, row = (
            int(np.searchsorted(self.xs, at.x_m - 1e-6)),
            int(np.searchsorted(self.ys, at.y_m - 1e-6)),
        )
        if column == self.xs.size or row == self.ys.size:
            return None
        if abs(self.xs[column] - at.x_m) > 2e-6 or abs(self.ys[row] - at.y_m) > 2e-6:
            return None
        return self.node("x", column, row), self.node("y", column, row)

    def edges(self) -> "Edges":
        """Return its edges: along its lines, round its bends, along its tracks and on and off them."""
        found = Edges()
        grid = np.arange(self.plain).reshape(self.ys.size, self.xs.size) + self.first
        upright = grid + self.plain
        if self.plain:
            found.add(grid[:, :-1], grid[:, 1:], np.diff(self.costs["x"], axis=1))
            found.add(upright[:-1], upright[1:], np.diff(self.costs["y"], axis=1).T)
            found.add(grid, upright, np.full(grid.shape, limit("cabling.cost_bend")))
        for n, track in enumerate(self.tracks):
            self._track_edges(found, n, track)
        return found

    def _track_edges(self, found: "Edges", n: int, track: Track) -> None:
        first = self.track_first[n]
        for i, (one, other) in enumerate(pairwise(track.stations)):
            found.one(first + i, first + i + 1, (other - one) * track.share)
        rise_m = abs(self.void_m - track.pathway.height_m)
        for i, mark in enumerate(track.stations):
            here = track.at(mark)
            for node in self.nodes_at(here) or ():
                found.one(first + i, node, rise_m)
            for m, other_track in enumerate(self.tracks[:n]):
                for k, other in enumerate(other_track.stations):
                    if _apart(here, other_track.at(other)) < MEETS_M:
                        found.one(first + i, self.track_first[m] + k, 0.0)

    def place(self, node: int) -> Node:
        """Return where a node of it is."""
        local = node - self.first
        if local < 2 * self.plain:
            row, column = divmod(local % self.plain, self.xs.size)
            at = Point(x_m=float(self.xs[column]), y_m=float(self.ys[row]))
            return Node(self.ground.storey_id, at, self.void_m)
        n = int(np.searchsorted(self.track_first, node, side="right")) - 1
        return self.on_track(n, self.tracks[n].stations[node - self.track_first[n]])

    def on_track(self, n: int, mark_m: float) -> Node:
        """Return a place on one of its tracks."""
        track = self.tracks[n]
        return Node(self.ground.storey_id, track.at(mark_m), track.pathway.height_m, n, mark_m)

    def stubs(self, at: Point) -> Stubs:
        """Return the ways from a place in the void to the nodes beside it: along its own line to every line that
        crosses it, and to every track.
        """
        nodes: list[int] = []
        costs: list[float] = []
        via: list[Via] = []
        for axis in AXES:
            own = self.ground.ruler(axis, at.y_m if axis == "x" else at.x_m)
            for node, cost, passed in chain(self._to_lines(at, axis, own), self._to_tracks(at, axis, own)):
                nodes.append(node)
                costs.append(cost)
                via.append(passed)
        return Stubs(np.array(nodes, int), np.array(costs), tuple(via))

    def _to_lines(self, at: Point, axis: Axis, own: Ruler) -> Iterator[tuple[int, float, Via]]:
        """Yield the ways along a place's own line, which lies along an axis, on to the lines across it."""
        across = self.along_y if axis == "x" else self.along_x
        here, there = (at.x_m, at.y_m) if axis == "x" else (at.y_m, at.x_m)
        places = self.ys if axis == "x" else self.xs
        other: Axis = "y" if axis == "x" else "x"
        if not places.size or not across:
            return
        lines = self.xs if axis == "x" else self.ys
        to_line = np.abs(own.upto(lines) - _from(own, here, lines))
        bend = np.where(np.abs(lines - here) < 1e-9, 0.0, limit("cabling.cost_bend"))
        right = int(np.searchsorted(places, there))
        on_line = self._beside[other].upto(there)
        for k in (right - 1, right):
            if 0 <= k < places.size:
                costs = to_line + bend + np.abs(self.costs[other][:, k] - on_line)
                for n, cost in enumerate(costs.tolist()):
                    node = self.node(other, n, k) if axis == "x" else self.node(other, k, n)
                    yield node, cost, partial(self._corner, across[n], there)

    def _corner(self, ruler: Ruler, along_m: float) -> tuple[Node, ...]:
        return (Node(self.ground.storey_id, ruler.point(along_m), self.void_m),)

    def _to_tracks(self, at: Point, axis: Axis, own: Ruler) -> Iterator[tuple[int, float, Via]]:
        for n, mark, cost, via in self.boardings(at, axis, own):
            stations = self.tracks[n].stations
            right = int(np.searchsorted(stations, mark))
            for k in sorted({max(0, right - 1), min(right, len(stations) - 1)}):
                along = abs(stations[k] - mark) * self.tracks[n].share
                yield self.track_first[n] + k, cost + along, partial(tuple, via)

    def boardings(
        self, at: Point, axis: Axis, own: Ruler
    ) -> list[tuple[int, float, float, tuple[Node, ...]]]:
        """Return (track, mark, cost, places passed) of every track a place's own line meets."""
        here, line = (at.x_m, at.y_m) if axis == "x" else (at.y_m, at.x_m)
        found: list[tuple[int, float, float, tuple[Node, ...]]] = []
        for n, track in enumerate(self.tracks):
            for mark in track.met_by(axis, line):
                on = track.at(mark)
                there = on.x_m if axis == "x" else on.y_m
                rise_m = abs(self.void_m - track.pathway.height_m)
                via = (Node(self.ground.storey_id, on, self.void_m), self.on_track(n, mark))
                found.append((n, mark, own.cost(here, there) + rise_m, via))
        return found


class Edges:
    """Edges of a graph as they are gathered, each for both directions."""

    def __init__(self) -> None:
        self.rows: list[NDArray[np.intp]] = []
        self.columns: list[NDArray[np.intp]] = []
        self.costs: list[Floats] = []

    def add(self, one: NDArray[np.intp], other: NDArray[np.intp], costs: Floats) -> None:
        """Add edges between two arrays of nodes."""
        self.rows.append(one.ravel())
        self.columns.append(other.ravel())
        self.costs.append(np.maximum(np.abs(costs).ravel(), _LEAST_COST))

    def one(self, a: int, b: int, cost: float) -> None:
        """Add one edge."""
        self.add(np.array([a]), np.array([b]), np.array([cost]))


class Lattice:
    """All storeys' nodes with the risers between them, and the searches from places in it."""

    def __init__(self, levels: Mapping[str, Level], risen: Iterable[tuple[str, str, Point, float]]):
        self.levels = levels
        self.size = sum(level.size for level in levels.values())
        self._firsts = [level.first for level in levels.values()]
        self._by_number = list(levels.values())
        self._graph = self._joined(risen)
        self._fields: LRUCache[tuple[str, Point], Field] = LRUCache(_FIELDS_KEPT)

    def _joined(self, risen: Iterable[tuple[str, str, Point, float]]) -> "scipy.sparse.csr_matrix":
        every = Edges()
        for level in self.levels.values():
            part = level.edges()
            every.rows += part.rows
            every.columns += part.columns
            every.costs += part.costs
        for low, high, at, rise_m in risen:
            below, above = self.levels[low].nodes_at(at), self.levels[high].nodes_at(at)
            for one, other in zip(below or (), above or (), strict=False):
                every.one(one, other, rise_m)
        if not every.rows:
            return scipy.sparse.csr_matrix((self.size, self.size))
        rows, columns = np.concatenate(every.rows), np.concatenate(every.columns)
        costs = np.concatenate(every.costs)
        both = (
            np.concatenate([costs, costs]),
            (np.concatenate([rows, columns]), np.concatenate([columns, rows])),
        )
        # Of two edges between the same nodes the cheaper: coo sums them, so they are told apart first.
        return _cheapest(*both, self.size)

    def field(self, storey_id: str, at: Point) -> "Field":
        """Return the search from a place in a storey's void; it is made once."""
        key = (storey_id, at)
        if key not in self._fields:
            self._fields[key] = Field(self, storey_id, at)
        return self._fields[key]

    def searched(self, stubs: Stubs) -> tuple[Floats, NDArray[np.int32]]:
        """Return the cost to every node from a place with these stubs, and the node before each."""
        every = np.full(self.size, np.inf)
        np.minimum.at(every, stubs.nodes, np.maximum(stubs.costs, _LEAST_COST))
        nodes = np.flatnonzero(np.isfinite(every))
        costs = every[nodes]
        graph = self._graph
        wide = scipy.sparse.csr_matrix(
            (
                np.concatenate([graph.data, costs]),
                np.concatenate([graph.indices, nodes]),
                np.concatenate([graph.indptr, [graph.indptr[-1] + nodes.size]]),
            ),
            shape=(self.size + 1, self.size + 1),
        )
        dist, before = dijkstra(wide, indices=self.size, return_predecessors=True)
        return dist, before

    def place(self, node: int) -> Node:
        """Return where a node is."""
        n = int(np.searchsorted(self._firsts, node, side="right")) - 1
        # A storey without lines has no nodes and begins where the next does.
        while not self._by_number[n].size:
            n -= 1
        return self._by_number[n].place(node)


class Field:
    """The least cost from one place to every node of a lattice."""

    def __init__(self, lattice: Lattice, storey_id: str, at: Point):
        self.lattice = lattice
        level = lattice.levels[storey_id]
        self.stubs = level.stubs(at)
        self._dist, self._before = lattice.searched(self.stubs)

    def to(self, stubs: Stubs) -> tuple[float, tuple[Node, ...]] | None:
        """Return the cost to a place with these stubs and the places passed, None where no way leads."""
        costs = self._dist[stubs.nodes] + stubs.costs
        if not costs.size or not np.isfinite(costs.min()):
            return None
        best = int(np.argmin(np.round(costs, 9)))
        nodes = [int(stubs.nodes[best])]
        while self._before[nodes[-1]] != self.lattice.size:
            nodes.append(int(self._before[nodes[-1]]))
        mine = np.where(self.stubs.nodes == nodes[-1], self.stubs.costs, np.inf)
        first = int(np.argmin(mine))
        passed = [self.lattice.place(node) for node in reversed(nodes)]
        return float(costs.min()), (*self.stubs.via[first](), *passed, *reversed(stubs.via[best]()))


def _cheapest(
    costs: Floats, ends: tuple[NDArray[np.intp], NDArray[np.intp]], size: int
) -> "scipy.sparse.csr_matrix":
    order = np.lexsort((costs, ends[1], ends[0]))
    rows, columns, costs = ends[0][order], ends[1][order], costs[order]
    first = np.ones(rows.size, bool)
    first[1:] = (rows[1:] != rows[:-1]) | (columns[1:] != columns[:-1])
    return scipy.sparse.csr_matrix((costs[first], (rows[first], columns[first])), shape=(size, size))


def _lines(usual: Sequence[float], exact: Sequence[float]) -> Floats:
    """Return the places of lines in order: all exact ones, and of the usual ones those that stand apart."""
    kept: list[float] = []
    for place in sorted(usual):
        if not kept or place - kept[-1] >= _APART_M:
            kept.append(place)
    filled = [
        place
        for one, other in pairwise(kept)
        for place in np.linspace(one, other, _gaps(other - one) + 1)[:-1]
    ]
    return np.unique(np.round([*filled, *kept[-1:], *exact], 6))


def _gaps(gap_m: float) -> int:
    """Return into how many parts a gap between lines is cut."""
    return max(1, min(_MOST_PARTS, math.ceil(gap_m / _WIDEST_M)))


def _apart(a: Point, b: Point) -> float:
    return float(np.hypot(a.x_m - b.x_m, a.y_m - b.y_m))


def _from(own: Ruler, here: float, to: Floats) -> Floats:
    """Return the cost up to a place as seen from others: what stands on a wall is reached from either side of it."""
    near = np.where(to >= here, here + 1e-6, here - 1e-6)
    return own.upto(near)
