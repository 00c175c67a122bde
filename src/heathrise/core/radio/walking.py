"""A walk with a client in hand: what it hears, when it moves to another point, and where it drops.

The client decides on what it hears (the way down); a drop is judged on the weaker way. That is how
a loud point holds on to a phone it can no longer hear.
"""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from heathrise.core.edit import Put
from heathrise.core.job import AccessPoint, Job, Point, Ssid, Storey, Walk, derived_id
from heathrise.core.library import Client, library, limit
from heathrise.core.radio.candidates import usual_model
from heathrise.core.radio.coverage import NOTHING_DBM, Signals, signals
from heathrise.core.radio.scene import Scene
from heathrise.core.rule import Fix
from heathrise.core.site.building import space_at
from heathrise.core.sums import Noun

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]


class Sample(Noun):
    """One step: where, when, the three best points by the weaker way, and the one in use."""

    at_s: float
    along_m: float
    storey_id: str
    at: Point
    best_dbm: float
    second_dbm: float
    third_dbm: float
    used: str | None
    used_dbm: float


class Handover(Noun):
    """The client moved from one point to another. [s, ms]"""

    at_s: float
    storey_id: str
    at: Point
    left: str | None
    joined: str
    left_dbm: float
    joined_dbm: float
    gap_ms: float
    why: str


class Spell(Noun):
    """A stretch of the walk where something is wrong, and what would mend it."""

    what: str
    from_s: float
    to_s: float
    storey_id: str
    at: Point
    text: str
    fixes: tuple[Fix, ...] = ()


class Walked(Noun):
    """A walk played."""

    walk_id: str
    label: str
    client: str
    band: str
    length_m: float
    duration_s: float
    need_dbm: float
    under_need_share: float
    samples: tuple[Sample, ...]
    handovers: tuple[Handover, ...]
    drops: tuple[Spell, ...]
    sticky: tuple[Spell, ...]


@dataclass
class _Hand:
    """The client as it walks: the point in use, and since when it looks for another."""

    used: int = -1
    looking_since_s: float | None = None


def steps_of(job: Job, walk: Walk) -> tuple[Floats, Floats]:
    """Return (places (n, 3), metres along (n,)) every walk step, client height included."""
    height = limit("air.client_height_m")
    floors = {storey.id: storey.elevation_m for storey in job.storeys}
    corners = np.array([(s.at.x_m, s.at.y_m, floors[s.storey_id] + height) for s in walk.stops])
    lengths = np.array([np.linalg.norm(b - a) for a, b in pairwise(corners)])
    ends = np.concatenate([[0.0], np.cumsum(lengths)])
    along = np.append(np.arange(0.0, ends[-1], limit("air.walk_step_m")), ends[-1])
    places = np.column_stack([np.interp(along, ends, corners[:, axis]) for axis in range(3)])
    return places, along


def gap_of(job: Job) -> tuple[float, str]:
    """Return how long a handover of this job's main name takes, and why. [ms]"""
    names = job.of(Ssid)
    fast = any(name.fast_roaming for name in names) if names else job.practice.fast_roaming != "off"
    if fast:
        return limit("air.gap_fast_ms"), "fast roaming"
    return limit("air.gap_passphrase_ms"), "passphrase asked for again"


def play(
    job: Job, scene: Scene, walk: Walk, need_dbm: float | None = None, heard: Signals | None = None
) -> Walked:
    """Return a walk as the client lives it; `heard` are the signals along it when they are known."""
    client = library().clients[walk.client_class]
    need = library().needs["calls"].best_dbm if need_dbm is None else need_dbm
    assert need is not None
    places, along = steps_of(job, walk)
    if heard is None:
        heard = signals(job, scene, walk.band, places, client)
    weaker = heard.way("weaker")
    times = along / limit("air.walk_m_s")
    used, handovers = _decide(job, heard, client, places, times)
    samples = _samples(job, heard, weaker, places, along, times, used)
    levels = np.array([sample.used_dbm for sample in samples])
    drops = tuple(_drop(job, scene, samples, a, b) for a, b in _spells(times, levels, limit("air.drop_s")))
    sticky = _sticky(weaker, times, used, client, samples)
    return Walked(
        walk_id=walk.id,
        label=walk.label,
        client=client.label,
        band=walk.band,
        length_m=round(float(along[-1]), 2),
        duration_s=round(float(times[-1]), 1),
        need_dbm=need,
        under_need_share=round(float((levels < need).mean()), 4),
        samples=samples,
        handovers=handovers,
        drops=drops,
        sticky=sticky,
    )


def _decide(
    job: Job, heard: Signals, client: Client, places: Floats, times: Floats
) -> tuple[list[int], tuple[Handover, ...]]:
    """Return the point in use at every step, and the moves."""
    gap_ms, why = gap_of(job)
    hand, used, moves = _Hand(), [], []
    down = heard.down_dbm
    for k in range(len(places)):
        best = int(down[:, k].argmax()) if len(down) else -1
        now = float(down[hand.used, k]) if hand.used >= 0 else float(NOTHING_DBM)
        then = float(down[best, k]) if best >= 0 else float(NOTHING_DBM)
        if hand.used < 0 or now < limit("air.drop_dbm") - 10:
            joins = then >= limit("air.drop_dbm")
            reason = "nothing else was left" if hand.used >= 0 else "first heard"
        else:
            joins = _settled(hand, client, now, then, float(times[k])) and best != hand.used
            reason = f"{then - now:.0f} dB better, {why}"
        if joins and best != hand.used:
            if k:
                moves.append(
                    _handover(job, heard, hand.used, best, places[k], times[k], now, then, gap_ms, reason)
                )
            hand = _Hand(used=best)
        used.append(hand.used)
    return used, tuple(moves)


def _settled(hand: _Hand, client: Client, now: float, then: float, at_s: float) -> bool:
    """Say whether a client has looked long enough and found one better enough to move."""
    if now >= client.look_dbm:
        hand.looking_since_s = None
        return False
    if hand.looking_since_s is None:
        hand.looking_since_s = at_s
    looked = at_s - hand.looking_since_s >= limit("air.scan_s")
    return looked and then >= now + client.better_db


def _place(job: Job, place: Floats) -> tuple[str, Point]:
    storeys = [s for s in job.storeys if s.elevation_m <= place[2] + 1e-6] or list(job.storeys[:1])
    return storeys[-1].id, Point(x_m=round(float(place[0]), 3), y_m=round(float(place[1]), 3))


def _handover(  # noqa: PLR0913, PLR0917
    job: Job,
    heard: Signals,
    left: int,
    joined: int,
    place: Floats,
    at_s: float,
    now: float,
    then: float,
    gap_ms: float,
    why: str,
) -> Handover:
    storey_id, at = _place(job, place)
    return Handover(
        at_s=round(float(at_s), 2),
        storey_id=storey_id,
        at=at,
        left=heard.points[left].label if left >= 0 else None,
        joined=heard.points[joined].label,
        left_dbm=round(now, 1),
        joined_dbm=round(then, 1),
        gap_ms=gap_ms,
        why=why,
    )


def _samples(
    job: Job, heard: Signals, weaker: Float32s, places: Floats, along: Floats, times: Floats, used: list[int]
) -> tuple[Sample, ...]:
    found = []
    for k, place in enumerate(places):
        storey_id, at = _place(job, place)
        order = np.sort(weaker[:, k])[::-1] if len(weaker) else np.empty(0)
        ranks = [round(float(order[r]), 1) if r < len(order) else float(NOTHING_DBM) for r in range(3)]
        here = used[k]
        found.append(
            Sample(
                at_s=round(float(times[k]), 2),
                along_m=round(float(along[k]), 2),
                storey_id=storey_id,
                at=at,
                best_dbm=ranks[0],
                second_dbm=ranks[1],
                third_dbm=ranks[2],
                used=heard.points[here].label if here >= 0 else None,
                used_dbm=round(float(weaker[here, k]), 1) if here >= 0 else float(NOTHING_DBM),
            )
        )
    return tuple(found)


def _spells(times: Floats, levels: Floats, least_s: float) -> list[tuple[int, int]]:
    """Return (first, last) of the stretches under the drop level that last longer than `least_s`."""
    return _stretches(times, levels < limit("air.drop_dbm"), least_s)


def _stretches(times: Floats, bad: NDArray[np.bool_], least_s: float) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], bad, [False]]).astype(int)))
    return [
        (int(a), int(b) - 1)
        for a, b in zip(edges[::2], edges[1::2], strict=True)
        if times[b - 1] - times[a] > least_s
    ]


def _drop(job: Job, scene: Scene, samples: tuple[Sample, ...], first: int, last: int) -> Spell:
    middle = samples[(first + last) // 2]
    seconds = samples[last].at_s - samples[first].at_s
    return Spell(
        what="drop",
        from_s=samples[first].at_s,
        to_s=samples[last].at_s,
        storey_id=middle.storey_id,
        at=middle.at,
        text=f"For {seconds:.1f} s nothing reaches {limit('air.drop_dbm'):.0f} dBm; a call ends here.",
        fixes=mend(job, scene, middle.storey_id, middle.at),
    )


def _sticky(
    weaker: Float32s, times: Floats, used: list[int], client: Client, samples: tuple[Sample, ...]
) -> tuple[Spell, ...]:
    """Return where the client stays on a weak point although a better one is there."""
    if not len(weaker):
        return ()
    columns = np.arange(len(used))
    mine = np.where(np.array(used) >= 0, weaker[np.array(used), columns], NOTHING_DBM)
    bad = (mine < limit("air.look_for_another_dbm")) & (weaker.max(axis=0) >= mine + client.better_db)
    found = []
    for first, last in _stretches(times, bad & (np.array(used) >= 0), limit("air.sticky_s")):
        middle = samples[(first + last) // 2]
        text = (
            f"It stays on {middle.used} at {middle.used_dbm:.0f} dBm while another reaches "
            f"{middle.best_dbm:.0f} dBm. Lower the power of {middle.used}, so that the phone lets go."
        )
        found.append(
            Spell(
                what="sticky",
                from_s=samples[first].at_s,
                to_s=samples[last].at_s,
                storey_id=middle.storey_id,
                at=middle.at,
                text=text,
            )
        )
    return tuple(found)


def mend(job: Job, scene: Scene, storey_id: str, at: Point) -> tuple[Fix, ...]:
    """Return the access point that would mend a drop at a place, of the model the job has most of."""
    points, model = job.of(AccessPoint), usual_model(job)
    storey = job.get(Storey, storey_id)
    space = space_at(job, scene.building, storey_id, at)
    if space is not None and space.no_go:
        return ()
    number = 1 + len(points)
    label = f"AP {number}"
    new = AccessPoint(
        id=derived_id(storey_id, f"mend {at.x_m} {at.y_m}"),
        label=label,
        storey_id=storey_id,
        at=at,
        model=model,
        height_m=storey.ceiling_m,
    )
    where = space.label if space else storey.label
    return (Fix(label=f"Add {label} in {where}", operations=(Put(element=new),)),)
