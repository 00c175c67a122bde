"""What a thing hangs on."""

import math

from heathrise.core.job import AccessPoint, Equipment, Job, Wall

# What a wall's face says of what holds in it.
_HARD = ("brick", "concrete", "marble")
# So far from a wall's middle a thing on it stands at most. [m]
_ON_WALL_M = 0.6


def on_hard_wall(job: Job, one: Equipment | AccessPoint) -> bool:
    """Say whether a thing hangs on stone, brick or concrete; far from any wall nobody knows, and it is taken so."""
    spot = job.spot(one.id)
    walls = (wall for wall in job.of(Wall) if wall.storey_id == spot.storey_id)
    near = min(((away_m(spot.at.x_m, spot.at.y_m, wall), wall.id, wall) for wall in walls), default=None)
    if near is None or near[0] > _ON_WALL_M:
        return True
    build_up = near[2].build_up
    return build_up is None or job.build_ups[build_up].face in _HARD


def away_m(x_m: float, y_m: float, wall: Wall) -> float:
    """Return how far a place is from the middle of a wall. [m]"""
    ax, ay, bx, by = wall.a.x_m, wall.a.y_m, wall.b.x_m, wall.b.y_m
    long2 = (bx - ax) ** 2 + (by - ay) ** 2
    t = 0.0 if not long2 else max(0.0, min(1.0, ((x_m - ax) * (bx - ax) + (y_m - ay) * (by - ay)) / long2))
    return math.hypot(x_m - ax - t * (bx - ax), y_m - ay - t * (by - ay))
