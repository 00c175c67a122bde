"""Mend: the one move or the one addition that helps a design most.

Every candidate spot is tried as one more point, and as the new place of each point near it, by how
many places then still lack their need; the few best are then scored with all that is known of the air.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heathrise.core.edit import Put
from heathrise.core.job import AccessPoint, Job
from heathrise.core.library import limit
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.candidates import Spot
from heathrise.core.radio.finds import Mend
from heathrise.core.radio.ground import Follower, Ground, ground_of
from heathrise.core.radio.scene import Scene
from heathrise.core.radio.views import with_points

Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Change:
    """A spot taken, and the point it takes from its place, if any."""

    spot: Spot
    moved: AccessPoint | None

    @property
    def point(self) -> AccessPoint:
        """The point as it would stand."""
        if self.moved is None:
            return self.spot.point.model_copy(update={"label": self.spot.space[:80]})
        there = self.spot.point
        return self.moved.model_copy(update={"at": there.at, "height_m": there.height_m})

    @property
    def words(self) -> str:
        """The change in words."""
        if self.moved is None:
            return f"Add a point in {self.spot.space}"
        return f"Move {self.moved.label} {_apart_m(self.moved, self.spot.point):.1f} m into {self.spot.space}"


def mends(job: Job, scene: Scene, model: str) -> tuple[Mend, ...]:
    """Return the changes that help most, the best first; none when every space meets its need."""
    scores = assess_air(job).scores
    before = sum(score.holds for score in scores)
    if before == len(scores):
        return ()
    found = []
    for change in _promising(job, scene, model):
        kept = tuple(p for p in job.of(AccessPoint) if change.moved is None or p.id != change.moved.id)
        met = sum(
            score.holds for score in assess_air(with_points(job, (*kept, _last(job, change.point)))).scores
        )
        if met > before:
            found.append(_mend(change, before, met, len(scores)))
    return tuple(sorted(found, key=lambda mend: (-mend.met, mend.cost)))


def _last(job: Job, point: AccessPoint) -> AccessPoint:
    """Return a point as an edit would put it: a new one after all others."""
    last = max((element.order for element in job.elements), default=0)
    return point if point.order else point.model_copy(update={"order": last + 1})


def _mend(change: Change, before: int, met: int, spaces: int) -> Mend:
    return Mend(
        label=change.words,
        how="add" if change.moved is None else "move",
        before=before,
        met=met,
        spaces=spaces,
        cost=change.spot.cost if change.moved is None else round(limit("place.point_cost"), 2),
        points=(change.point,),
        operations=(Put(element=change.point),),
    )


def _promising(job: Job, scene: Scene, model: str) -> list[Change]:
    """Return the few additions and the few moves that leave the fewest places lacking."""
    points = job.of(AccessPoint)
    pinned = tuple(p.model_copy(update={"pinned": True}) for p in points)
    storeys = tuple(storey.id for storey in scene.building.storeys)
    ground = ground_of(with_points(job, pinned), scene, "fewest", model, storeys)
    design = np.flatnonzero([spot.kept for spot in ground.spots])
    ground = Follower(job, scene).followed(ground, list(map(int, design)))
    most = int(limit("place.mends"))
    ranked = (_ranked(ground, design, changes) for changes in (_additions(ground), _moves(ground, points)))
    return [change for changes in ranked for change in changes[:most]]


def _additions(ground: Ground) -> Iterator[tuple[Change, int, int]]:
    """Yield (change, spot taken, spot left or -1) of each addition."""
    for i, spot in enumerate(ground.spots):
        if not spot.kept:
            yield Change(spot, None), i, -1


def _moves(ground: Ground, points: tuple[AccessPoint, ...]) -> Iterator[tuple[Change, int, int]]:
    """Yield the same of each move: a point goes to a spot near it, mounted as it is; pinned ones stay."""
    kept = [i for i, spot in enumerate(ground.spots) if spot.kept]
    for j, point in zip(kept, points, strict=True):
        if point.pinned:
            continue
        for i, spot in enumerate(ground.spots):
            same = spot.point.storey_id == point.storey_id and spot.point.mount == point.mount
            if not spot.kept and same and 0.5 < _apart_m(point, spot.point) <= limit("place.move_m"):
                yield Change(spot, point), i, j


def _ranked(ground: Ground, design: Ints, changes: Iterator[tuple[Change, int, int]]) -> list[Change]:
    """Return changes by how few places lack their need after them; one a space and a point moved."""
    worth = []
    for number, (change, taken, left) in enumerate(changes):
        after = np.append(design[design != left], taken)
        worth.append((ground.lacking(after), change.spot.cost, number, change))
    best: dict[tuple[str, str], Change] = {}
    for *_, change in sorted(worth, key=lambda row: row[:3]):
        best.setdefault((change.spot.space, change.moved.id if change.moved else ""), change)
    return list(best.values())


def _apart_m(one: AccessPoint, other: AccessPoint) -> float:
    return float(np.hypot(one.at.x_m - other.at.x_m, one.at.y_m - other.at.y_m))
