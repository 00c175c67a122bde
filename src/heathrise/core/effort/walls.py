"""What things hang on."""

from collections import defaultdict

import numpy as np
from numpy.typing import NDArray

from heathrise.core.job import AccessPoint, Equipment, Job, Wall

Floats = NDArray[np.float64]
# What a wall's face says of what holds in it.
_HARD = ("brick", "concrete", "marble")
# So far from a wall's middle a thing on it stands at most. [m]
_ON_WALL_M = 0.6


class Walls:
    """The walls of a job, by storey, to be asked what is near a place."""

    def __init__(self, job: Job):
        self.by_storey: dict[str, list[Wall]] = defaultdict(list)
        for wall in job.of(Wall):
            self.by_storey[wall.storey_id].append(wall)
        self._ends = {
            storey: np.array([(w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m) for w in walls])
            for storey, walls in self.by_storey.items()
        }

    def away_m(self, storey_id: str, x_m: float, y_m: float) -> Floats:
        """Return how far a place is from the middle of each wall of a storey. [m]"""
        if storey_id not in self._ends:
            return np.empty(0)
        ax, ay, bx, by = self._ends[storey_id].T
        dx, dy = bx - ax, by - ay
        long2 = np.maximum(dx * dx + dy * dy, 1e-12)
        along = np.clip(((x_m - ax) * dx + (y_m - ay) * dy) / long2, 0.0, 1.0)
        away: Floats = np.hypot(x_m - ax - along * dx, y_m - ay - along * dy)
        return away

    def near(self, storey_id: str, x_m: float, y_m: float) -> list[tuple[float, Wall]]:
        """Return the walls of a storey with how far each is, the nearest first. [m]"""
        away = self.away_m(storey_id, x_m, y_m)
        walls = self.by_storey.get(storey_id, [])
        return [(float(away[n]), walls[n]) for n in np.argsort(away, kind="stable")]

    def nearest(self, storey_id: str, x_m: float, y_m: float) -> tuple[float, Wall] | None:
        """Return the nearest wall of a storey with how far it is, None where there is none. [m]"""
        away = self.away_m(storey_id, x_m, y_m)
        if not len(away):
            return None
        at = int(np.argmin(away))
        return float(away[at]), self.by_storey[storey_id][at]


def on_hard_walls(job: Job) -> frozenset[str]:
    """Return the ids of what would be fixed to stone, brick or concrete; far from any wall nobody knows: taken so."""
    walls = Walls(job)
    things: tuple[AccessPoint | Equipment, ...] = (*job.of(AccessPoint), *job.of(Equipment))
    return frozenset(thing.id for thing in things if _is_hard(job, walls, thing))


def _is_hard(job: Job, walls: Walls, thing: AccessPoint | Equipment) -> bool:
    spot = job.spot(thing.id)
    near = walls.nearest(spot.storey_id, spot.at.x_m, spot.at.y_m)
    if near is None or near[0] > _ON_WALL_M:
        return True
    build_up = near[1].build_up
    return build_up is None or job.build_ups[build_up].face in _HARD
