"""Studies of a whole job, in parts that can be worked on side by side and joined.

Every study is a list of parts; each part is worked out alone from the job, and what it found is a
small document. So one machine or many can share the parts, and one lost is only done again.
"""

from collections.abc import Callable

from heathrise.core.edit import Operation, Put, Remove
from heathrise.core.job import AccessPoint, Job
from heathrise.core.library import limit
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.finds import (
    Failure,
    Hour,
    Offer,
    Part,
    Placement,
    Radios,
    StudyAsked,
    StudyFind,
    StudyKind,
    Taught,
)
from heathrise.core.radio.learning import learn, measured_against_predicted
from heathrise.core.radio.mending import mends
from heathrise.core.radio.placing import AIMS, place
from heathrise.core.radio.radioplan import propose
from heathrise.core.radio.scene import scene_of
from heathrise.core.radio.views import with_points, without
from heathrise.core.site.building import building_of


def parts(job: Job, asked: StudyAsked) -> tuple[Part, ...]:
    """Return the parts of a study, those that answer soonest first."""
    if asked.study == "placement":
        return tuple(
            Part(
                name=f"{AIMS[aim]}, {'first answer' if quick else 'bettered'}", key=aim, aim=aim, quick=quick
            )
            for quick in (True, False)
            for aim in AIMS
        )
    if asked.study == "failures":
        return tuple(Part(name=f"{p.label} failed", key=p.id) for p in job.of(AccessPoint))
    if asked.study == "hours":
        return (Part(name="the day", key="day"),)
    return (Part(name=asked.study, key=asked.study),)


def work(job: Job, asked: StudyAsked, part: Part) -> tuple[StudyFind, ...]:
    """Work one part out.

    Raises
    ------
    TooFew
        If a survey is too small to learn from.
    """
    return _WORKS[asked.study](job, asked, part)


def _place(job: Job, asked: StudyAsked, part: Part) -> tuple[StudyFind, ...]:
    assert part.aim is not None
    scene = scene_of(building_of(job))
    found = place(job, scene, part.aim, asked.model, asked.storey_ids, asked.seconds)
    last = next(found)
    if not part.quick:
        for last in found:  # noqa: B007
            pass
    return (offer(job, asked, last),)


def offer(job: Job, asked: StudyAsked, placement: Placement) -> Offer:
    """Return a placement with the edit that makes it the design, and how the job then stands."""
    storeys = asked.storey_ids or tuple(storey.id for storey in job.storeys)
    staying = tuple(p for p in job.of(AccessPoint) if p.storey_id not in storeys)
    points = _reused(job, placement.points)
    scores = assess_air(with_points(job, (*staying, *points))).scores
    kept = {point.id for point in points}
    gone = [p for p in job.of(AccessPoint) if p.storey_id in storeys and p.id not in kept and not p.pinned]
    puts: list[Operation] = [Put(element=p) for p in points if job.by_id.get(p.id) != p]
    return Offer(
        placement=placement.model_copy(update={"points": points}),
        met=sum(score.holds for score in scores),
        spaces=len(scores),
        operations=(*puts, *(Remove(id=p.id) for p in gone)),
    )


def _reused(job: Job, points: tuple[AccessPoint, ...]) -> tuple[AccessPoint, ...]:
    """Return the points, each with the id of the nearest present one of its storey, so that its
    cable and its port stay with it.
    """
    free = {p.id: p for p in job.of(AccessPoint) if not p.pinned}
    found = []
    for point in points:
        near = [
            p
            for p in free.values()
            if p.storey_id == point.storey_id and _outdoor(job, p) == _outdoor(job, point)
        ]
        if point.pinned or not near:
            found.append(point)
            continue
        old = min(near, key=lambda p: (p.at.x_m - point.at.x_m) ** 2 + (p.at.y_m - point.at.y_m) ** 2)
        del free[old.id]
        found.append(point.model_copy(update={"id": old.id}))
    return tuple(found)


def _outdoor(job: Job, point: AccessPoint) -> bool:
    return job.equipment[point.model].outdoor


def _mend(job: Job, asked: StudyAsked, _part: Part) -> tuple[StudyFind, ...]:
    return mends(job, scene_of(building_of(job)), asked.model)


def _fail(job: Job, _asked: StudyAsked, part: Part) -> tuple[StudyFind, ...]:
    point = job.get(AccessPoint, part.key)
    whole = {score.space_id: score for score in assess_air(job).scores}
    left = assess_air(without(job, part.key)).scores
    lost = [s for s in left if not s.holds and whole[s.space_id].holds]
    second_only = bool(lost) and all(s.best_share >= limit("air.pass_share") for s in lost)
    return (
        Failure(
            point_id=point.id,
            label=point.label,
            met=sum(score.holds for score in left),
            lost=tuple(score.label for score in lost),
            second_only=second_only,
            worst_dbm=min((s.worst_second_dbm if second_only else s.worst_dbm for s in lost), default=0.0),
        ),
    )


def _hours(job: Job, _asked: StudyAsked, _part: Part) -> tuple[StudyFind, ...]:
    loads = assess_air(job).loads
    rows = []
    for hour in range(24):
        busiest = max(loads, key=lambda load: load.hours[hour], default=None)
        over = sum(load.hours[hour] > limit("air.airtime_warning") for load in loads)
        label = f"{busiest.label}, {busiest.band} GHz" if busiest else "no radio"
        rows.append(Hour(hour=hour, label=label, airtime=busiest.hours[hour] if busiest else 0.0, over=over))
    return tuple(rows)


def _teach(job: Job, _asked: StudyAsked, _part: Part) -> tuple[StudyFind, ...]:
    taught = learn(job)
    put = Put(element=taught)
    left = tuple(e for e in job.elements if e.kind != "calibration")
    after = Job.model_construct(name=job.name, elements=(*left, taught))
    return (
        Taught(
            before=measured_against_predicted(job, scene_of(building_of(job))),
            after=measured_against_predicted(after, scene_of(building_of(after))),
            operations=(put,),
        ),
    )


def _radios(job: Job, asked: StudyAsked, _part: Part) -> tuple[StudyFind, ...]:
    return (Radios(proposal=propose(job, scene_of(building_of(job)), min(asked.seconds, 5.0))),)


_WORKS: dict[StudyKind, Callable[[Job, StudyAsked, Part], tuple[StudyFind, ...]]] = {
    "placement": _place,
    "mend": _mend,
    "failures": _fail,
    "hours": _hours,
    "learning": _teach,
    "radios": _radios,
}
