"""What was measured of the air, space by space: against what was predicted there, and against what the space needs."""

from collections import defaultdict
from collections.abc import Mapping, Sequence

from heathrise.core.job import Job, Space, SurveyPoint
from heathrise.core.library import library, limit
from heathrise.core.radio.finds import Compared
from heathrise.core.site.building import Building, space_at
from heathrise.core.sums import Noun


class SpaceAir(Noun):
    """A space as it was measured. `off_db` is how far readings lie from their prediction on average, `places` where somebody
    measured, `met` at how many of them the loudest point reaches the space's need.
    """

    space_id: str
    label: str
    readings: int
    off_db: float
    places: int
    met: int
    need_label: str
    need_dbm: float | None
    weak: bool

    @property
    def holds(self) -> bool:
        """Whether the need is met wherever somebody measured."""
        return self.met == self.places


def measured_spaces(job: Job, building: Building, compared: Compared) -> tuple[SpaceAir, ...]:
    """Return every space somebody measured in, in its own order."""
    off = {one.survey_id: one.off_db for one in compared.residuals}
    by_space: dict[str, list[SurveyPoint]] = defaultdict(list)
    for row in job.of(SurveyPoint):
        space = space_at(job, building, row.storey_id, row.at)
        if space is not None and row.id in off:
            by_space[space.id].append(row)
    return tuple(_space(space, by_space[space.id], off) for space in job.of(Space) if space.id in by_space)


def _space(space: Space, rows: Sequence[SurveyPoint], off: Mapping[str, float]) -> SpaceAir:
    need = library().needs[space.need]
    loudest: dict[tuple[str, float, float], float] = {}
    for row in rows:
        if need.band not in (None, row.band):
            continue
        place = (row.storey_id, round(row.at.x_m, 1), round(row.at.y_m, 1))
        loudest[place] = max(loudest.get(place, -200.0), row.rssi_dbm)
    mean = sum(off[row.id] for row in rows) / len(rows)
    enough = len(rows) >= limit("proving.air_points")
    return SpaceAir(
        space_id=space.id,
        label=space.label,
        readings=len(rows),
        off_db=round(mean, 1),
        places=len(loudest),
        met=sum(need.best_dbm is None or level >= need.best_dbm for level in loudest.values()),
        need_label=need.label,
        need_dbm=need.best_dbm,
        weak=enough and mean < -limit("proving.air_under_db"),
    )
