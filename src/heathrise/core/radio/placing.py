"""Access points that place themselves: facility location with double cover and capacity.

Every place of every space is covered once at its need's best signal and, where the practice wants
it, twice at its second; a space holds when its share (limits: place.pass_share) is met. A greedy plan
comes first, is thinned and searched from, and then given to a solver that betters it and says how far
any plan could still be cheaper.
"""

from collections import Counter
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import AccessPoint, Job
from heathrise.core.library import limit
from heathrise.core.library.packs import packed_price
from heathrise.core.radio.candidates import Spot
from heathrise.core.radio.finds import Aim, Placement, Unmet
from heathrise.core.radio.ground import Follower, Ground, ground_of
from heathrise.core.radio.program import solve
from heathrise.core.radio.scene import Scene
from heathrise.core.radio.searching import searched

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
AIMS: dict[Aim, str] = {
    "fewest": "Fewest points",
    "roaming": "Best roaming",
    "cable": "Least cable",
}


def place(
    job: Job,
    scene: Scene,
    aim: Aim,
    model: str,
    storey_ids: tuple[str, ...] = (),
    seconds: float | None = None,
) -> Iterator[Placement]:
    """Yield placements, each better than the one before, the last with its bound.

    Spots are first judged without mirrors, all at once, half of them in large spaces. Then they are
    followed with all that is known of the air: all of them, or where they are very many only those that
    plans take, as long as a plan takes one that was not followed yet.
    """
    storeys = storey_ids or tuple(storey.id for storey in scene.building.storeys)
    ground = ground_of(job, scene, aim, model, storeys, rough=True)
    kept = np.array([i for i, spot in enumerate(ground.spots) if spot.kept], np.int64)
    chosen = greedy(ground, kept)
    yield placement(ground, chosen, aim, 0.0, False, "first answer")
    follower, bound = Follower(job, scene), 0.0
    if len(ground.spots) <= limit("place.follow_all"):
        ground = follower.followed(ground, list(range(len(ground.spots))))
    else:
        ground = ground_of(job, scene, aim, model, storeys)
    ground, chosen = _made_good(follower, ground, thinned(ground, greedy(ground, kept)))
    yield placement(ground, chosen, aim, bound, False, "searched")
    for turn, time_s in enumerate(_times(seconds or limit("place.exact_s")), 1):
        judged = ground
        tried = solve(judged, chosen, time_s)
        bound = max(bound, tried.bound)
        ground, better = _made_good(follower, judged, tried.spots, turn)
        if ground.worth(better) < ground.worth(chosen):
            chosen = better
        # Where spots were followed since, the ground is another: the bound is not of it, and nothing is proven.
        settled = ground is judged
        proven = tried.proven and settled
        shown = min(bound, float(ground.prices[chosen].sum()))
        ended = "solved" if proven else "stopped by the clock" if tried.cut_short else "bettered"
        yield placement(ground, chosen, aim, shown, proven, ended)
        if proven:
            return
        bound = bound if settled else 0.0


def _times(whole_s: float) -> list[float]:
    """Return how long each try of the solver may take: a short one first, for somebody who waits. [s]"""
    short_s = min(limit("place.short_s"), whole_s)
    return [time_s for time_s in (short_s, whole_s - short_s) if time_s > 0]


def _made_good(follower: Follower, ground: Ground, chosen: Ints, turn: int = 0) -> tuple[Ground, Ints]:
    """Return the ground with the spots a plan takes followed, and the plan made good and searched from."""
    while missing := follower.missing(chosen):
        ground = follower.followed(ground, missing)
        chosen = thinned(ground, greedy(ground, chosen))
    better = searched(ground, chosen, int(limit("place.search_steps")), turn)
    return (ground, better) if not follower.missing(better) else _made_good(follower, ground, better, turn)


def greedy(ground: Ground, start: Ints) -> Ints:
    """Return spots taken one by one, each the most newly met per price, until nothing gains."""
    chosen = list(map(int, start))
    lacking = ground.lacking(np.array(chosen, np.int64))
    once, twice = ground.best.astype(np.float32), ground.second.astype(np.float32)
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


def _gains(ground: Ground, chosen: list[int], once: Float32s, twice: Float32s) -> Floats:
    """Return what each spot would add: places first covered, and first or second of two signals.

    A space that already has its share gains nothing more.
    """
    had_best = once[chosen].sum(axis=0) if chosen else np.zeros(once.shape[1], np.float32)
    had_second = twice[chosen].sum(axis=0) if chosen else np.zeros(once.shape[1], np.float32)
    gains = np.zeros(len(ground.spots))
    for w in ground.spaces:
        if ground.share(w, np.array(chosen, np.int64)) >= limit("place.pass_share"):
            continue
        rows = w.rows
        gains += once[:, rows] @ (had_best[rows] == 0).astype(np.float32)
        if w.needs_second:
            gains += 0.5 * (twice[:, rows] @ (had_second[rows] < 2).astype(np.float32))
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
    sold = {spot.point.model: spot for spot in taken}
    total = sum(spot.cost for spot in taken)
    for code, count in models.items():
        each = sold[code].each
        total += packed_price(count, each, sold[code].packs) - count * each
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
