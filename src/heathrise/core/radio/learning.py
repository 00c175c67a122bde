"""Measured against predicted, and what the difference teaches: offset, wall classes, spaces.

Symbols: r residual, measured less predicted [dB]; J how r changes with each unknown; K what the errors of
two readings have in common (`nearby`), C = K + sigma^2. The fit is generalised least squares with priors,
min (r - J u)' C^-1 (r - J u) + sum (u / prior)^2, repeated about its result because what goes round is not
linear in the losses of walls. What is then left, C^-1 r, is kept with each reading.
"""

import uuid
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.job import AccessPoint, Calibration, ClassShift, Job, NearShift, SpaceShift, SurveyPoint
from heathrise.core.library import limit
from heathrise.core.radio.coverage import radio_on
from heathrise.core.radio.finds import Compared, Grouped, Residual
from heathrise.core.radio.nearby import common_db2, heard_of
from heathrise.core.radio.reach import gain_db
from heathrise.core.radio.scene import Scene, Transmitter
from heathrise.core.site.building import Building, building_of, space_at

Floats = NDArray[np.float64]
Tell = Callable[[float, str], None]
# A step to see how a level changes with one wall class. [dB]
_STEP_DB = 1.0


class TooFew(ValueError):
    """Too few survey points to learn from; the message says how many there are and are needed."""


@dataclass(frozen=True)
class Survey:
    """The survey points that can be used, with what each was sent from."""

    rows: tuple[SurveyPoint, ...]
    places: Floats
    measured: Floats


def survey_of(job: Job) -> Survey:
    """Return the survey points whose access point and radio are there."""
    rows = []
    for row in job.of(SurveyPoint):
        point = job.get(AccessPoint, row.point_id)
        if radio_on(job, point, row.band) is not None:
            rows.append(row)
    floors = {storey.id: storey.elevation_m for storey in job.storeys}
    height = limit("air.client_height_m")
    places = np.array([(r.at.x_m, r.at.y_m, floors[r.storey_id] + height) for r in rows]).reshape(-1, 3)
    return Survey(tuple(rows), places, np.array([r.rssi_dbm for r in rows], float))


def predicted_dbm(job: Job, scene: Scene, survey: Survey) -> Floats:
    """Return the level each survey point should have read: down, into an antenna of 0 dBi."""
    found = np.empty(len(survey.rows))
    senders = {(row.point_id, row.band) for row in survey.rows}
    for point_id, band in senders:
        point = job.get(AccessPoint, point_id)
        radio = radio_on(job, point, band)
        has = job.equipment[point.model].band(band)
        mine = np.array([i for i, r in enumerate(survey.rows) if (r.point_id, r.band) == (point_id, band)])
        gain = gain_db(scene, scene.transmitter(point), band, survey.places[mine])
        found[mine] = gain + (radio.power_dbm if radio else 0.0) + (has.gain_dbi if has else 0.0)
    return found


def measured_against_predicted(job: Job, scene: Scene) -> Compared:
    """Return measured beside predicted, point by point, by space and by wall crossed."""
    survey = survey_of(job)
    predicted = predicted_dbm(job, scene, survey) if survey.rows else np.empty(0)
    off = survey.measured - predicted
    spaces = [_space_label(job, scene.building, row) for row in survey.rows]
    crossed = _crossed(job, scene, survey)
    walls = {code: np.flatnonzero(crossed[:, n] > 0) for n, code in enumerate(_codes(scene))}
    residuals = tuple(
        Residual(
            survey_id=row.id,
            label=row.label,
            point=job.get(AccessPoint, row.point_id).label,
            space=spaces[i],
            measured_dbm=row.rssi_dbm,
            predicted_dbm=round(float(predicted[i]), 1),
            off_db=round(float(off[i]), 1),
        )
        for i, row in enumerate(survey.rows)
    )
    by_space = {
        name: np.array([i for i, s in enumerate(spaces) if s == name]) for name in sorted(set(spaces))
    }
    ups = job.build_ups
    return Compared(
        residuals=residuals,
        by_space=tuple(_grouped(name, off[rows]) for name, rows in by_space.items()),
        by_wall=tuple(_grouped(ups[code].label, off[rows]) for code, rows in walls.items() if len(rows)),
        mean_db=round(float(off.mean()), 2) if len(off) else 0.0,
        rmse_db=round(_rmse(off), 2),
    )


def _grouped(name: str, off: Floats) -> Grouped:
    return Grouped(
        name=name, count=len(off), mean_db=round(float(off.mean()), 1), rmse_db=round(_rmse(off), 1)
    )


def _rmse(off: NDArray[np.floating[Any]]) -> float:
    return float(np.sqrt(np.mean(off**2))) if len(off) else 0.0


def _space_label(job: Job, building: Building, row: SurveyPoint) -> str:
    found = space_at(job, building, row.storey_id, row.at)
    return found.label if found else "outside every space"


def _codes(scene: Scene) -> list[str]:
    """Return the build-ups that stand in the air of a building."""
    slabs = {slab.build_up for slab in scene.building.slabs}
    return sorted({code for code in scene.building.obstacles.build_ups if code} | slabs)


def _crossed(job: Job, scene: Scene, survey: Survey) -> Floats:
    """Return how many walls (in plan) and slabs of each build-up the straight ray to each point crosses."""
    codes = _codes(scene)
    obstacles = scene.building.obstacles
    lines = shapely.linestrings(obstacles.ends_m.reshape(-1, 2, 2)) if len(obstacles.ends_m) else []
    found = np.zeros((len(survey.rows), len(codes)))
    for i, row in enumerate(survey.rows):
        point = job.get(AccessPoint, row.point_id)
        ray = shapely.LineString([(point.at.x_m, point.at.y_m), (row.at.x_m, row.at.y_m)])
        for n in np.flatnonzero(shapely.intersects(lines, ray)) if len(obstacles.ends_m) else []:
            code = obstacles.build_ups[n]
            if code in codes:
                found[i, codes.index(code)] += 1
        for code in _slabs_crossed(scene, scene.transmitter(point), survey.places[i]):
            found[i, codes.index(code)] += 1
    return found


def _slabs_crossed(scene: Scene, transmitter: Transmitter, place: Floats) -> list[str]:
    """Return the build-ups of the slabs a straight ray crosses."""
    start, found = np.array([transmitter.x_m, transmitter.y_m, transmitter.z_m]), []
    for slab in scene.building.slabs:
        share = (slab.z_m - start[2]) / (place[2] - start[2]) if place[2] != start[2] else 0.0
        if 0 < share < 1 and slab.area.covers(shapely.Point(start[:2] + share * (place - start)[:2])):
            found.append(slab.build_up)
    return found


@dataclass(frozen=True)
class Unknowns:
    """What is fitted: the offset, then build-ups, then spaces; and how far each may go. [dB]"""

    codes: tuple[str, ...]
    space_ids: tuple[str, ...]
    prior: Floats

    def element(self, values: Floats, **errors: float) -> Calibration:
        """Return the values as the job keeps them."""
        walls = values[1 : 1 + len(self.codes)]
        spaces = values[1 + len(self.codes) :]
        return Calibration(
            id=str(uuid.uuid5(uuid.NAMESPACE_OID, "calibration")),
            label="What the survey taught",
            offset_db=float(np.clip(round(float(values[0]), 2), -40, 40)),
            shifts=tuple(
                ClassShift(build_up=c, shift_db=round(float(v), 2))
                for c, v in zip(self.codes, walls, strict=True)
            ),
            spaces=tuple(
                SpaceShift(space_id=s, shift_db=round(float(v), 2))
                for s, v in zip(self.space_ids, spaces, strict=True)
            ),
            **{"points": 1, "before_db": 0.0, "after_db": 0.0, "held_out_db": 0.0, **errors},
        )


def learn(job: Job, tell: Tell = lambda *_: None) -> Calibration:
    """Return what the survey points of a job teach.

    Raises
    ------
    TooFew
        If there are fewer points than can teach anything.
    """
    survey = survey_of(job)
    least = int(limit("learn.least_points"))
    if len(survey.rows) < least:
        raise TooFew(f"the job has {len(survey.rows)} survey points that can be used; {least} are the least.")
    unknowns = _unknowns(job, survey)
    values = np.zeros(len(unknowns.prior))
    before = survey.measured - _with(job, survey, unknowns, values)
    common = _common(job, survey)
    spread = common + limit("learn.measured_db") ** 2 * np.eye(len(common))
    rounds = int(limit("learn.rounds"))
    change = np.zeros((len(survey.rows), len(values)))
    for number in range(rounds):
        tell(number / (rounds + 1), f"fitting, round {number + 1} of {rounds}")
        predicted = _with(job, survey, unknowns, values)
        change = _change(job, survey, unknowns, values, predicted)
        values = values + _solve(survey.measured - predicted, change, spread, unknowns.prior, values)
    tell(rounds / (rounds + 1), "holding points out")
    after: Floats = survey.measured - _with(job, survey, unknowns, values)
    weights = np.asarray(np.linalg.solve(spread, after), np.float64)
    held = _held_out(after, change, common, unknowns.prior, values)
    errors = {
        "points": len(survey.rows),
        "before_db": round(_rmse(before), 2),
        "after_db": round(_rmse(after - common @ weights), 2),
        "held_out_db": round(held, 2),
    }
    return unknowns.element(values, **errors).model_copy(update={"near": _near(job, survey, weights)})


def _common(job: Job, survey: Survey) -> Floats:
    """Return what the errors of any two readings have in common, (points, points). [dB2]"""
    senders, storeys = [row.point_id for row in survey.rows], [row.storey_id for row in survey.rows]
    heard = heard_of(building_of(_bare(job)), senders, storeys, survey.places)
    return common_db2(heard, heard)


def _near(job: Job, survey: Survey, weights: Floats) -> tuple[NearShift, ...]:
    """Return what is kept with each reading."""
    building, found = building_of(_bare(job)), []
    for row, weight in zip(survey.rows, weights, strict=True):
        sender, space = job.get(AccessPoint, row.point_id), building.space_at(row.storey_id, row.at)
        found.append(
            NearShift(
                storey_id=row.storey_id,
                at=row.at,
                space_id=space.id if space else None,
                from_storey_id=sender.storey_id,
                from_at=sender.at,
                weight=round(float(weight), 5),
            )
        )
    return tuple(found)


def _unknowns(job: Job, survey: Survey) -> Unknowns:
    building = building_of(_bare(job))
    scene = Scene(building)
    crossed = _crossed(job, scene, survey).sum(axis=0)
    codes = tuple(code for code, count in zip(_codes(scene), crossed, strict=True) if count >= 2)
    spaces = {building.space_at(row.storey_id, row.at) for row in survey.rows}
    ids = tuple(sorted(space.id for space in spaces if space is not None))
    prior = [limit("learn.offset_db")] + [limit("learn.wall_db")] * len(codes)
    return Unknowns(codes, ids, np.array(prior + [limit("learn.space_db")] * len(ids)))


def _bare(job: Job) -> Job:
    """Return the job without what was learned before."""
    left = tuple(e for e in job.elements if not isinstance(e, Calibration))
    return Job.model_construct(name=job.name, elements=left)


def _with(job: Job, survey: Survey, unknowns: Unknowns, values: Floats) -> Floats:
    """Return the prediction as it is with some values learned."""
    model = job.air_model.model_copy(update={"calibrated": True})
    left = [e for e in _bare(job).elements if e.kind != "air-model"]
    taught = Job.model_construct(name=job.name, elements=(*left, model, unknowns.element(values)))
    return predicted_dbm(taught, Scene(building_of(taught)), survey)


def _change(job: Job, survey: Survey, unknowns: Unknowns, values: Floats, predicted: Floats) -> Floats:
    """Return how each prediction changes with each unknown, (points, unknowns)."""
    found = np.zeros((len(survey.rows), len(values)))
    found[:, 0] = 1.0
    for n in range(len(unknowns.codes)):
        stepped = values.copy()
        stepped[1 + n] += _STEP_DB
        found[:, 1 + n] = (_with(job, survey, unknowns, stepped) - predicted) / _STEP_DB
    building = building_of(_bare(job))
    for i, row in enumerate(survey.rows):
        space = building.space_at(row.storey_id, row.at)
        if space is not None:
            found[i, 1 + len(unknowns.codes) + unknowns.space_ids.index(space.id)] = 1.0
    return found


def _solve(residual: Floats, change: Floats, spread: Floats, prior: Floats, values: Floats) -> Floats:
    """Return the step of the fit from some values."""
    weighed = np.linalg.solve(spread, np.column_stack([change, residual]))
    normal = change.T @ weighed[:, :-1] + np.diag(prior**-2.0)
    pull = change.T @ weighed[:, -1] - values * prior**-2.0
    return np.asarray(np.linalg.solve(normal, pull), np.float64)


def _held_out(after: Floats, change: Floats, common: Floats, prior: Floats, values: Floats) -> float:
    """Return the error on points held out, each part of the survey once, about the fitted values."""
    folds = int(limit("learn.folds"))
    spread = common + limit("learn.measured_db") ** 2 * np.eye(len(common))
    # Residuals about the fit, as if nothing were known: what each fold must find again.
    residual = np.asarray(after + change @ values, float)
    errors = []
    for fold in range(folds):
        out = np.arange(len(residual)) % folds == fold
        told = spread[np.ix_(~out, ~out)]
        found = _solve(residual[~out], change[~out], told, prior, np.zeros(len(values)))
        left = np.linalg.solve(told, residual[~out] - change[~out] @ found)
        errors.append(residual[out] - change[out] @ found - common[np.ix_(out, ~out)] @ left)
    return _rmse(np.concatenate(errors))
