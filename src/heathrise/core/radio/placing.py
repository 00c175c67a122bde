"""Access points that place themselves: facility location with double cover and capacity.

Every place of every space is covered once at its need's best signal and, where the practice wants
it, twice at its second; a space holds when the share of the need (95 %) is met. A greedy plan comes
first, is thinned and swapped, and then given to a solver that betters it and says how far any plan
could still be cheaper.
"""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import ceil
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy import sparse
from scipy.optimize import Bounds, LinearConstraint, milp

from heathrise.core.job import AccessPoint, Band, Job, Space
from heathrise.core.library import library, limit
from heathrise.core.library.packs import packed_price
from heathrise.core.radio.balance import balance_of
from heathrise.core.radio.budget import noise_floor_dbm
from heathrise.core.radio.candidates import Spot, spots
from heathrise.core.radio.coverage import client_power_dbm, radios
from heathrise.core.radio.reach import NOTHING_DB, direct_db, gain_db, point_cells
from heathrise.core.radio.scene import Scene, grid_losses
from heathrise.core.sums import Noun

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.int64]
Aim = Literal["fewest", "roaming", "cable"]
# So often a plan is solved for again when the spots it takes turn out other than they were judged.
_ROUNDS = 2
AIMS: dict[Aim, str] = {
    "fewest": "Fewest points",
    "roaming": "Best roaming",
    "cable": "Least cable",
}


class Unmet(Noun):
    """A space no placement found meets, how far it came and why."""

    space_id: str
    label: str
    share: float
    why: str


class Placement(Noun):
    """One plan: points, what they cost, what they leave unmet, and how far a better one could be."""

    aim: Aim
    label: str
    points: tuple[AccessPoint, ...]
    count: int
    cost: float
    cable_m: float
    unmet: tuple[Unmet, ...]
    bound: float
    gap: float
    proven: bool
    step: str


@dataclass(frozen=True)
class Wanted:
    """The places of one space: their rows among all places, and what the space asks."""

    space: Space
    rows: Ints
    needs_second: bool


@dataclass(frozen=True)
class Ground:
    """What the solver reads: which spot serves which place at best and at second, and the prices."""

    spots: tuple[Spot, ...]
    spaces: tuple[Wanted, ...]
    best: Bools
    second: Bools
    prices: Floats
    least_points: int
    places: Floats
    asks: Floats
    bands: dict[Band, Ints]

    def worth(self, chosen: Ints) -> tuple[float, float]:
        """Return (places lacking, price) of a plan: the less the better."""
        return self.lacking(chosen), float(self.prices[chosen].sum())

    def share(self, wanted: Wanted, chosen: Ints) -> float:
        """Return the share of a space's places that meets its need with some spots."""
        return float(self._met(wanted, chosen).mean()) if len(wanted.rows) else 1.0

    def _met(self, wanted: Wanted, chosen: Ints) -> Bools:
        met: Bools = np.asarray(self.best[np.ix_(chosen, wanted.rows)].any(axis=0), bool)
        if wanted.needs_second:
            met = met & np.asarray(self.second[np.ix_(chosen, wanted.rows)].sum(axis=0) >= 2)
        return met

    def lacking(self, chosen: Ints) -> float:
        """Return how many places short of their share all spaces are together."""
        return sum(
            max(0.0, ceil(limit("place.pass_share") * len(w.rows)) - float(self._met(w, chosen).sum()))
            for w in self.spaces
        )


class Follower:
    """Follows the spots that plans take with mirrors, each once."""

    def __init__(self, job: Job, scene: Scene):
        self.job, self.scene = job, scene
        self.known: set[int] = set()
        # Whether the last plan stood as it came: nothing had to be added to it.
        self.settled = True

    def made_good(self, ground: Ground, chosen: Ints) -> tuple[Ground, Ints]:
        """Return the ground with what was followed, and the plan with what it then still needs."""
        asked = chosen
        while not self.known.issuperset(map(int, chosen)):
            ground = self.followed(ground, [int(i) for i in chosen if int(i) not in self.known])
            chosen = thinned(ground, greedy(ground, chosen))
        self.settled = np.array_equal(asked, chosen)
        return ground, chosen

    def followed(self, ground: Ground, rows: list[int]) -> Ground:
        """Return the ground with some spots judged by all that is known of the air."""
        self.known.update(rows)
        best, second = ground.best.copy(), ground.second.copy()
        for band, places in ground.bands.items():
            for i in rows:
                level = level_dbm(self.job, self.scene, ground.spots[i], ground.places[places], band)
                best[i, places] = level >= ground.asks[0, places]
                second[i, places] = level >= ground.asks[1, places]
        return replace(ground, best=best, second=second)


def place(
    job: Job,
    scene: Scene,
    aim: Aim,
    model: str,
    storey_ids: tuple[str, ...] = (),
    seconds: float | None = None,
) -> Iterator[Placement]:
    """Yield placements, each better than the one before, the last with its bound.

    Spots are first judged without mirrors, all at once. Those a plan takes are then followed with
    all that is known of the air, and the plan is made good again, until it takes only such spots.
    """
    storeys = storey_ids or tuple(storey.id for storey in scene.building.storeys)
    ground = ground_of(job, scene, aim, model, storeys)
    chosen = np.array([i for i, spot in enumerate(ground.spots) if spot.kept], np.int64)
    chosen = greedy(ground, chosen)
    yield placement(ground, chosen, aim, 0.0, False, "first answer")
    follower = Follower(job, scene)
    ground, chosen = follower.made_good(ground, swapped(ground, thinned(ground, chosen)))
    bound = lower_bound(program(ground, chosen)) if len(ground.spots) and ground.spaces else 0.0
    yield placement(ground, chosen, aim, bound, False, "thinned and swapped")
    # Short first, so that somebody who waits sees the better plan early.
    whole_s, short_s = seconds or limit("place.exact_s"), limit("place.short_s")
    for time_s in (short_s, *[max(whole_s - short_s, short_s)] * _ROUNDS):
        better, found_bound, solved = solve(ground, chosen, time_s)
        ground, better = follower.made_good(ground, better)
        if ground.worth(better) < ground.worth(chosen):
            chosen = better
        # The bound is of the spots as they were judged; a plan made good since may lie under it.
        bound = min(found_bound, float(ground.prices[chosen].sum()))
        proven = solved and follower.settled
        yield placement(ground, chosen, aim, bound, proven, "solved" if proven else "bettered")
        if proven or (not solved and time_s != short_s):
            return


def ground_of(job: Job, scene: Scene, aim: Aim, model: str, storeys: tuple[str, ...]) -> Ground:
    """Return spots, places, and who serves what."""
    found = spots(job, scene.building, model, storeys)
    points, wanted = _places(job, scene, storeys, aim)
    asks, bands = _asks(wanted, aim, len(points))
    best, second = _served(job, scene, found, points, asks, bands)
    people = sum(space.people for space in job.of(Space) if space.storey_id in storeys)
    least = ceil(people / limit("place.clients_per_radio"))
    prices, least = _prices(found, aim), min(least, len(found))
    return Ground(found, wanted, best, second, prices, least, points, asks, bands)


def _prices(found: tuple[Spot, ...], aim: Aim) -> Floats:
    """Return what each spot costs by what is aimed at: a point, its price, or its cable."""
    if aim == "cable":
        return np.array([20.0 + spot.cable_m for spot in found])
    if aim == "fewest":
        return np.array([1000.0 + spot.cable_m for spot in found])
    return np.array([spot.cost for spot in found])


def _places(job: Job, scene: Scene, storeys: tuple[str, ...], aim: Aim) -> tuple[Floats, tuple[Wanted, ...]]:
    """Return the places (n, 3) of all spaces with a need, and each space's rows among them."""
    points: list[Floats] = []
    wanted, count = [], 0
    for storey_id in storeys:
        wide = scene.grid(storey_id, limit("place.cell_m")).points_m()
        close = scene.grid(storey_id, limit("place.cell_m") / 2).points_m()
        for space in scene.building.spaces[storey_id]:
            need = library().needs[space.need]
            if need.best_dbm is None:
                continue
            shape = scene.building.polygons[space.id]
            lattice = close if shape.area < limit("place.small_m2") else wide
            here = lattice[shapely.contains_xy(shape, lattice[:, 0], lattice[:, 1])]
            if not len(here):
                middle = shape.representative_point()
                here = np.array([[middle.x, middle.y, lattice[0, 2]]])
            twice = need.second_dbm is not None and (
                job.practice.second_signal == "required" or aim == "roaming"
            )
            wanted.append(Wanted(space, count + np.arange(len(here)), twice))
            points.append(here)
            count += len(here)
    return np.concatenate(points) if points else np.empty((0, 3)), tuple(wanted)


def _asks(wanted: tuple[Wanted, ...], aim: Aim, count: int) -> tuple[Floats, dict[Band, Ints]]:
    """Return the best and second signal each place asks for, (2, places), and the places of each band."""
    asks = np.full((2, count), np.inf)
    bands: dict[Band, Ints] = {}
    floor = noise_floor_dbm(20, limit("air.noise_figure_client_db"))
    extra = limit("place.roaming_extra_db") if aim == "roaming" else 0.0
    for w in wanted:
        need = library().needs[w.space.need]
        assert need.best_dbm is not None and need.band is not None and need.snr_db is not None
        asks[0, w.rows] = max(need.best_dbm, floor + need.snr_db)
        if need.second_dbm is not None:
            asks[1, w.rows] = need.second_dbm + extra
        bands[need.band] = np.concatenate([bands.get(need.band, np.empty(0, np.int64)), w.rows])
    return asks, bands


def _served(
    job: Job, scene: Scene, found: tuple[Spot, ...], points: Floats, asks: Floats, bands: dict[Band, Ints]
) -> tuple[Bools, Bools]:
    """Return which spot reaches which place at best and at second signal, (spots, places)."""
    best = np.zeros((len(found), len(points)), bool)
    second = np.zeros_like(best)
    for band, rows in bands.items():
        level = levels_dbm(job, scene, found, points[rows], band)
        best[:, rows] = level >= asks[0, rows]
        second[:, rows] = level >= asks[1, rows]
    return best, second


def level_dbm(job: Job, scene: Scene, spot: Spot, points: Floats, band: Band) -> Floats:
    """Return the weaker way's signal of one spot at every place, mirrors followed. [dBm]"""
    sends = _sends_dbm(job, spot, band)
    if sends is None:
        return np.full(len(points), float(NOTHING_DB))
    return np.asarray(gain_db(scene, scene.stand(spot.point), band, points) + sends, float)


def _sends_dbm(job: Job, spot: Spot, band: Band) -> float | None:
    """Return the weaker way's power with both antennas, None without a radio of the band. [dBm]"""
    client = library().clients[job.brief.client_class]
    radio = next((r for r in radios(spot.point, job.practice) if r.band == band and r.on), None)
    has = library().access_points[spot.point.model].band(band)
    if radio is None or has is None:
        return None
    down = job.practice.design_on == "down"
    sends = radio.power_dbm if down else min(radio.power_dbm, client_power_dbm(client, band))
    return sends + has.gain_dbi + client.gain_dbi


def levels_dbm(job: Job, scene: Scene, found: tuple[Spot, ...], points: Floats, band: Band) -> Floats:
    """Return the weaker way's signal of every spot at every place, without mirrors, (spots, places). [dBm]

    All spots are solved for at once; each one's rays are followed on its own storey only.
    """
    direct = np.full((len(found), len(points)), float(NOTHING_DB))
    balance = balance_of(scene)
    source = np.zeros((balance.count, len(found)))
    powers = np.full(len(found), -200.0)
    for i, spot in enumerate(found):
        sends = _sends_dbm(job, spot, band)
        if sends is None:
            continue
        stand, powers[i] = scene.stand(spot.point), sends
        direct[i] = direct_db(scene.losses(stand, points), band)
        numbers = balance.numbers[spot.point.storey_id].ravel()
        grid = balance.grids[spot.point.storey_id]
        gain = direct_db(grid_losses(scene, stand, grid), band)[numbers >= 0]
        source[numbers[numbers >= 0], i] = 10.0 ** (gain / 10)
    if not scene.model.round or not len(found):
        straight: Floats = direct + powers[:, None]
        return straight
    indirect = balance.solver(band).around(source)
    cells = point_cells(balance, points)
    extra = np.where(cells[:, None] >= 0, indirect[cells], 0.0).T
    whole: Floats = np.asarray(10 * np.log10(10 ** (direct / 10) + extra) + powers[:, None], float)
    return whole


def greedy(ground: Ground, start: Ints) -> Ints:
    """Return spots taken one by one, each the most newly met per price, until nothing gains."""
    chosen = list(map(int, start))
    lacking = ground.lacking(np.array(chosen, np.int64))
    once, twice = ground.best.astype(np.int16), ground.second.astype(np.int16)
    while lacking > 0 or len(chosen) < ground.least_points:
        gains = _gains(ground, chosen, once, twice)
        gains[chosen] = -1
        pick = int(np.argmax(gains / ground.prices)) if len(gains) else -1
        if pick >= 0 and gains[pick] <= 0 and len(chosen) < ground.least_points:
            # Nothing is gained in signal any more; the crowd still wants radios, the cheapest first.
            pick = int(np.argmin(np.where(gains < 0, np.inf, ground.prices)))
        elif pick < 0 or gains[pick] <= 0:
            break
        chosen.append(pick)
        lacking = ground.lacking(np.array(chosen, np.int64))
    return np.array(sorted(chosen), np.int64)


def _gains(ground: Ground, chosen: list[int], once: NDArray[np.int16], twice: NDArray[np.int16]) -> Floats:
    """Return what each spot would add: places first covered, and first or second of two signals.

    A space that already has its share gains nothing more.
    """
    had_best = once[chosen].sum(axis=0) if chosen else np.zeros(once.shape[1], np.int16)
    had_second = twice[chosen].sum(axis=0) if chosen else np.zeros(once.shape[1], np.int16)
    gains = np.zeros(len(ground.spots))
    for w in ground.spaces:
        if ground.share(w, np.array(chosen, np.int64)) >= limit("place.pass_share"):
            continue
        rows = w.rows
        gains += once[:, rows] @ (had_best[rows] == 0).astype(float)
        if w.needs_second:
            gains += 0.5 * (twice[:, rows] @ (had_second[rows] < 2).astype(float))
    return gains


def thinned(ground: Ground, chosen: Ints) -> Ints:
    """Return the spots less those nothing is lost without, the dearest tried first."""
    left = list(map(int, chosen))
    allowed = ground.lacking(np.array(left, np.int64))
    for spot in sorted(left, key=lambda i: -ground.prices[i]):
        if ground.spots[spot].kept or len(left) <= ground.least_points:
            continue
        without = np.array([i for i in left if i != spot], np.int64)
        if ground.lacking(without) <= allowed:
            left.remove(spot)
    return np.array(left, np.int64)


def swapped(ground: Ground, chosen: Ints, rounds: int = 1) -> Ints:
    """Return the spots after moves that make them cheaper with no more lacking."""
    now = thinned(ground, chosen)
    for _ in range(rounds):
        before = float(ground.prices[now].sum()), ground.lacking(now)
        for spot in list(now):
            if ground.spots[spot].kept:
                continue
            rest = now[now != spot]
            now = thinned(ground, greedy(ground, rest)) if _betters(ground, rest, before) else now
        if (float(ground.prices[now].sum()), ground.lacking(now)) == before:
            break
    return now


def _betters(ground: Ground, rest: Ints, before: tuple[float, float]) -> bool:
    """Say whether filling up again without one spot is cheaper or leaves less lacking."""
    filled = thinned(ground, greedy(ground, rest))
    after = ground.lacking(filled), float(ground.prices[filled].sum())
    return after < (before[1], before[0])


@dataclass(frozen=True)
class Program:
    """The placement as rows of a mixed-integer program: spots first, then one column a kind of place."""

    prices: Floats
    rows: sparse.csr_matrix
    least: Floats
    lower: Floats


def program(ground: Ground, start: Ints) -> Program:
    """Return the program of a ground.

    Places that the same spots serve are one column with a weight. A place counts when one spot
    reaches it at best and two at second; each space gets its share, or as much as `start` gives:
    the solver may leave lacking what nothing found could reach.
    """
    count = len(ground.spots)
    blocks, least = [], []
    columns = 0
    for w in ground.spaces:
        kinds, weights = _kinds(ground, w)
        n = len(kinds)
        eye = sparse.eye(n, format="csr")
        best = ground.best[:, kinds].T.astype(float)
        blocks.append((columns, n, sparse.csr_matrix(best), -eye))
        least += [0.0] * n
        if w.needs_second:
            second = ground.second[:, kinds].T.astype(float)
            blocks.append((columns, n, sparse.csr_matrix(second), -2 * eye))
            least += [0.0] * n
        share = min(limit("place.pass_share"), ground.share(w, start))
        blocks.append((columns, n, sparse.csr_matrix((1, count)), sparse.csr_matrix(weights)))
        least.append(float(ceil(share * len(w.rows) - 1e-9)))
        columns += n
    parts = [
        sparse.hstack(
            [
                spots_part,
                sparse.csr_matrix((spots_part.shape[0], first)),
                own,
                sparse.csr_matrix((spots_part.shape[0], columns - first - n)),
            ]
        )
        for first, n, spots_part, own in blocks
    ]
    parts.append(sparse.hstack([sparse.csr_matrix(np.ones((1, count))), sparse.csr_matrix((1, columns))]))
    least.append(float(ground.least_points))
    lower = np.zeros(count + columns)
    lower[[i for i, spot in enumerate(ground.spots) if spot.kept]] = 1.0
    prices = np.concatenate([ground.prices, np.zeros(columns)])
    return Program(prices, sparse.vstack(parts).tocsr(), np.array(least), lower)


def _kinds(ground: Ground, wanted: Wanted) -> tuple[Ints, Floats]:
    """Return one place of each kind of a space, and how many places are of that kind."""
    seen: dict[bytes, list[int]] = {}
    for row in wanted.rows:
        second = ground.second[:, row] if wanted.needs_second else ground.best[:0, row]
        seen.setdefault(ground.best[:, row].tobytes() + second.tobytes(), []).append(int(row))
    kinds = np.array([rows[0] for rows in seen.values()], np.int64)
    return kinds, np.array([[float(len(rows)) for rows in seen.values()]])


def solve(ground: Ground, start: Ints, seconds: float) -> tuple[Ints, float, bool]:
    """Return (spots, bound of the price, proven) after a time of solving, never worse than the start.

    References
    ----------
    Branch and bound of HiGHS (Huangfu and Hall, Math. Prog. Comp. 10, 2018).
    """
    if not len(ground.spots) or not ground.spaces:
        return start, 0.0, True
    p = program(ground, start)
    count = len(ground.spots)
    # A place with one of two signals must not count for half.
    whole = np.ones(len(p.prices))
    asked = {
        "constraints": LinearConstraint(p.rows, p.least, np.inf),
        "bounds": Bounds(p.lower, 1.0),
    }
    found = milp(p.prices, integrality=whole, options={"time_limit": seconds}, **asked)
    bound = float(found.mip_dual_bound) if found.mip_dual_bound is not None else 0.0
    if found.x is None:
        return start, max(bound, lower_bound(p)), False
    taken = np.flatnonzero(found.x[:count] > 0.5)
    better = ground.prices[taken].sum() < ground.prices[start].sum() - 1e-6
    return (taken if better else start), bound, found.status == 0


def lower_bound(p: Program) -> float:
    """Return the price of the relaxed program, which no placement is under."""
    relaxed = milp(
        p.prices,
        integrality=np.zeros(len(p.prices)),
        constraints=LinearConstraint(p.rows, p.least, np.inf),
        bounds=Bounds(p.lower, 1.0),
    )
    return float(relaxed.fun) if relaxed.fun is not None else 0.0


def placement(ground: Ground, chosen: Ints, aim: Aim, bound: float, proven: bool, step: str) -> Placement:
    """Return a plan as people read it, its points labelled by their spaces."""
    taken = [ground.spots[i] for i in chosen]
    price = float(ground.prices[chosen].sum())
    return Placement(
        aim=aim,
        label=AIMS[aim],
        points=_labelled(taken),
        count=len(taken),
        cost=_cost(taken),
        cable_m=round(sum(spot.cable_m for spot in taken), 1),
        unmet=tuple(_unmet(ground, chosen)),
        bound=round(bound, 1),
        gap=round(1 - bound / price, 4) if price > 0 and bound > 0 else (0.0 if proven else 1.0),
        proven=proven,
        step=step,
    )


def _cost(taken: list[Spot]) -> float:
    """Return what spots cost with their points bought in the packs they come in."""
    models = Counter(spot.point.model for spot in taken)
    total = sum(spot.cost for spot in taken)
    for code, count in models.items():
        model = library().access_points[code]
        each = model.price or 0.0
        total += packed_price(count, each, model.packs) - count * each
    return round(total, 2)


def _labelled(taken: list[Spot]) -> tuple[AccessPoint, ...]:
    counts: dict[str, int] = {}
    found = []
    for spot in taken:
        if spot.kept:
            found.append(spot.point)
            continue
        counts[spot.space] = counts.get(spot.space, 0) + 1
        number = f" {counts[spot.space]}" if counts[spot.space] > 1 else ""
        found.append(spot.point.model_copy(update={"label": f"{spot.space}{number}"[:80]}))
    return tuple(found)


def _unmet(ground: Ground, chosen: Ints) -> Iterator[Unmet]:
    everything = np.arange(len(ground.spots))
    for w in ground.spaces:
        share = ground.share(w, chosen)
        if share >= limit("place.pass_share"):
            continue
        could = ground.share(w, everything) if len(everything) else 0.0
        if could < limit("place.pass_share"):
            why = f"no spot allowed reaches more than {100 * could:.0f} % of it"
            why += ": walls, a no-go, or a model without this band"
        else:
            why = "a plan without it is cheaper than any found that serves it"
        yield Unmet(space_id=w.space.id, label=w.space.label, share=round(share, 4), why=why)
