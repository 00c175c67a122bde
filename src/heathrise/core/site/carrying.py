"""A file that is read again by another scale, layer or page turn: what was proposed before keeps its id.

What a person said of single walls, openings and spaces then stands.
"""

from collections.abc import Callable, Sequence
from typing import Any, Protocol

import numpy as np
from scipy.spatial import cKDTree

from heathrise.core.site.drawing import Floats
from heathrise.core.site.proposal import Proposal, ProposedStorey

# What lies as near and is as large within this is the same. [m of the reading before]
_SAME_M = 0.06


class _Known(Protocol):
    @property
    def id(self) -> str: ...


def carried(before: Proposal, after: Proposal, factor: float) -> Proposal:
    """Return a proposal whose elements have the ids they had before, storey by storey.

    `factor` is how many metres before one metre now is: the old scale over the new.
    """
    if len(before.storeys) != len(after.storeys):
        return after
    storeys = tuple(_storey(old, new, factor) for old, new in zip(before.storeys, after.storeys, strict=True))
    return after.model_copy(update={"storeys": storeys})


def _storey(before: ProposedStorey, after: ProposedStorey, factor: float) -> ProposedStorey:
    ids = (
        _same(before.walls, _walls(before), after.walls, _walls(after) * factor)
        | _same(before.openings, _openings(before), after.openings, _openings(after) * factor)
        | _same(before.spaces, _spaces(before), after.spaces, _spaces(after) * factor)
    )

    def known(rows: Sequence[Any], **also: Callable[[Any], object]) -> tuple[Any, ...]:
        return tuple(
            row.model_copy(
                update={"id": ids.get(row.id, row.id)} | {name: of(row) for name, of in also.items()}
            )
            for row in rows
        )

    return after.model_copy(
        update={
            "walls": known(after.walls),
            "openings": known(after.openings, wall_id=lambda o: ids.get(o.wall_id, o.wall_id)),
            "spaces": known(after.spaces, wall_ids=lambda s: tuple(ids.get(i, i) for i in s.wall_ids)),
        }
    )


def _same(
    old: Sequence[_Known], old_places: Floats, new: Sequence[_Known], new_places: Floats
) -> dict[str, str]:
    """Return the old id by the new one of what lies in the same place; none is given twice."""
    if not len(old) or not len(new):
        return {}
    apart, nearest = cKDTree(old_places).query(new_places, distance_upper_bound=_SAME_M)
    out: dict[str, str] = {}
    taken: set[int] = set()
    for i in np.argsort(apart).tolist():
        if np.isfinite(apart[i]) and int(nearest[i]) not in taken:
            taken.add(int(nearest[i]))
            out[new[i].id] = old[int(nearest[i])].id
    return out


def _walls(storey: ProposedStorey) -> Floats:
    """Return middles and spans of walls, whichever way they run, shape (n, 4)."""
    ends = np.array([(w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m) for w in storey.walls]).reshape(-1, 4)
    return np.hstack([(ends[:, :2] + ends[:, 2:]) / 2, np.abs(ends[:, 2:] - ends[:, :2])])


def _openings(storey: ProposedStorey) -> Floats:
    """Return middles and widths of openings, shape (n, 4), the last 0."""
    walls = {w.id: w for w in storey.walls}
    out = []
    for o in storey.openings:
        wall = walls[o.wall_id]
        a, b = np.array([wall.a.x_m, wall.a.y_m]), np.array([wall.b.x_m, wall.b.y_m])
        x, y = a + (b - a) / max(float(np.hypot(*(b - a))), 1e-9) * (o.at_m + o.width_m / 2)
        out.append((x, y, o.width_m, 0.0))
    return np.array(out, float).reshape(-1, 4)


def _spaces(storey: ProposedStorey) -> Floats:
    """Return middles and spans of spaces, shape (n, 4)."""
    rings = [np.array([(p.x_m, p.y_m) for p in s.outline]) for s in storey.spaces]
    return np.array(
        [[*((r.min(axis=0) + r.max(axis=0)) / 2), *(r.max(axis=0) - r.min(axis=0))] for r in rings], float
    ).reshape(-1, 4)
