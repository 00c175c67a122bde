"""One name or many, one network or one a point: what walking costs either way, over the walks of a job."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from heathrise.core.deriving import Look
from heathrise.core.job import Walk
from heathrise.core.job.view import ids_of, job_of
from heathrise.core.library import library, limit
from heathrise.core.radio.air import sending, walked, ways_along
from heathrise.core.radio.coverage import Float32s, powered
from heathrise.core.sums import Noun, Sum, SumLine


class Naming(Noun):
    """One way to name what points send, and what it costs over all walks: moves, seconds without a link, sessions that
    break, and the share of the way under the need. [s, 1]
    """

    code: str
    label: str
    moves: int
    silent: Sum
    breaks: int
    under_need_share: float
    says: str


class Namings(Noun):
    """The ways compared, the gentlest first; and how many walks they were played on."""

    ways: tuple[Naming, ...]
    walks: int
    length_m: float


class _Trip(NamedTuple):
    """What a client went through on one walk: moves, and how loud the point in use was at every step. [dBm]"""

    moves: int
    used_dbm: Float32s
    need_dbm: float


class _Way(NamedTuple):
    """A way to name points: its limit for the gap of a move, and what it means to people."""

    code: str
    label: str
    gap: str
    says: str


_WAYS = (
    _Way("fast", "One name, fast roaming", "air.gap_fast_ms", "Phones move by themselves, and calls go on."),
    _Way(
        "one",
        "One name, without fast roaming",
        "air.gap_passphrase_ms",
        "Phones move by themselves; a call stutters.",
    ),
    _Way(
        "name",
        "A name for each point, one network",
        "air.gap_name_ms",
        "A phone holds on until nothing is left, then looks for the next name it knows: people carry bad links about.",
    ),
    _Way(
        "network",
        "A name and a network for each point",
        "air.gap_network_ms",
        "The same, and each move is a new address: calls, films and games end, and each room finds other devices.",
    ),
)


def namings(look: Look) -> Namings:
    """Return what walking costs by how points are named, over the walks drawn in a job."""
    ids = ids_of(look, Walk)
    roams, stays = [_roaming(look, walk) for walk in ids], [_staying(look, walk) for walk in ids]
    found = tuple(_naming(way, roams if way.code in ("fast", "one") else stays) for way in _WAYS)
    length_m = sum(walked(look, walk).length_m for walk in ids)
    return Namings(ways=found, walks=len(ids), length_m=round(length_m, 1))


def _roaming(look: Look, walk_id: str) -> _Trip:
    """Return a walk of a client that moves by itself."""
    played = walked(look, walk_id)
    used = np.array([sample.used_dbm for sample in played.samples], np.float32)
    return _Trip(len(played.handovers), used, played.need_dbm)


def _staying(look: Look, walk_id: str) -> _Trip:
    """Return a walk of a client that stays on a name until nothing of it is left."""
    walk = job_of(look).get(Walk, walk_id)
    client = library().clients[walk.client_class]
    heard = powered(sending(look, walk.band), ways_along(look, walk_id), walk.band, client)
    need = walked(look, walk_id).need_dbm
    return _Trip(*stay(heard.down_dbm, heard.way("weaker")), need)


def stay(down: Float32s, levels: Float32s) -> tuple[int, Float32s]:
    """Return (moves, level in use at every step) of a client that leaves a point only when it is lost.

    Parameters
    ----------
    down
        What it hears and decides by, (points, steps). [dBm]
    levels
        The weaker way, (points, steps). [dBm]
    """
    steps = levels.shape[1]
    if not len(levels):
        return 0, np.full(steps, -150.0, np.float32)
    used, moves, found = int(down[:, 0].argmax()), 0, np.empty(steps, np.float32)
    lost = limit("air.drop_dbm")
    for k in range(steps):
        best = int(down[:, k].argmax())
        if down[used, k] < lost <= down[best, k] and best != used:
            used, moves = best, moves + 1
        found[k] = levels[used, k]
    return moves, found


def _naming(way: _Way, trips: Sequence[_Trip]) -> Naming:
    moves = sum(trip.moves for trip in trips)
    each_s = limit(way.gap) / 1000
    steps = sum(len(trip.used_dbm) for trip in trips)
    under = sum(int((trip.used_dbm < trip.need_dbm).sum()) for trip in trips)
    lost = sum(int((trip.used_dbm < limit("air.drop_dbm")).sum()) for trip in trips)
    step_s = limit("air.walk_step_m") / limit("air.walk_m_s")
    silent_s = moves * each_s + lost * step_s
    return Naming(
        code=way.code,
        label=way.label,
        moves=moves,
        silent=Sum(
            label=f"{way.label}: without a link",
            value=round(silent_s, 1),
            unit="s",
            lines=(
                SumLine(label="moves from point to point", value=moves, unit=""),
                SumLine(label="each takes", value=each_s, unit="s"),
                SumLine(
                    label=f"steps under {limit('air.drop_dbm'):g} dBm",
                    value=round(lost * step_s, 1),
                    unit="s",
                ),
            ),
            formula="moves x gap + time in which nothing is heard",
            source="the walks of this job; gaps are design values",
        ),
        breaks=moves if way.code == "network" else 0,
        under_need_share=round(under / steps, 4) if steps else 0.0,
        says=way.says,
    )
