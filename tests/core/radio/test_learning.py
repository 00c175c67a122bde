"""Learning from a survey made from a truth that is known."""

from dataclasses import replace

import numpy as np
import pytest
from demo.drawing import at
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.edit import Put, apply
from heathrise.core.job import AccessPoint, Job, SurveyPoint
from heathrise.core.library import limit
from heathrise.core.radio.account import signal_account
from heathrise.core.radio.coverage import signals
from heathrise.core.radio.learning import TooFew, learn, measured_against_predicted, predicted_dbm, survey_of
from heathrise.core.radio.nearby import near_db
from heathrise.core.radio.scene import Scene, scene_of
from heathrise.core.site.building import building_of
from tests.house import House


def surveyed(offset=0.0, brick=0.0, spread=0.0, count=30, seed=3) -> Job:
    """A house measured: what is predicted, off by an offset and a brick wall that costs more."""
    house = House()
    house.point(x=2, y=4, radios=[{"band": "5", "power_dbm": 17}])
    rng = np.random.default_rng(seed)
    point = house.d.id_of("access-point", "AP 1")
    for n in range(count):
        place = round(float(rng.uniform(0.7, 11.3)), 2), round(float(rng.uniform(0.7, 7.3)), 2)
        house.add(
            "survey-point",
            f"S{n}",
            storey_id=house.ground,
            at=at(*place),
            point_id=point,
            band="5",
            rssi_dbm=-60,
        )
    job = house.job
    survey = survey_of(job)
    level = predicted_dbm(job, scene_of(building_of(job)), survey)
    behind = survey.places[:, 0] > 6
    level += offset - brick * behind + rng.normal(0, spread, count)
    puts = [
        Put(element=row.model_copy(update={"rssi_dbm": round(float(v), 2)}))
        for row, v in zip(survey.rows, level, strict=True)
    ]
    return apply(job, puts).job


def test_an_offset_is_found_and_held_out_points_confirm_it():
    taught = learn(surveyed(offset=-5.0))
    assert taught.before_db == pytest.approx(5, abs=0.1)
    assert taught.after_db < 1.0
    assert taught.held_out_db < 1.5


def test_a_wall_that_costs_more_is_found_behind_it():
    job = surveyed(brick=6.0)
    after = apply(job, [Put(element=learn(job))]).job
    behind = [
        r.off_db
        for r in measured_against_predicted(after, Scene(building_of(after))).residuals
        if r.space == "Ground east"
    ]
    before = [
        r.off_db
        for r in measured_against_predicted(job, Scene(building_of(job))).residuals
        if r.space == "Ground east"
    ]
    assert abs(np.mean(before)) > 5
    assert abs(np.mean(behind)) < 1.0


@given(st.floats(-8, 8), st.floats(0, 6))
@settings(max_examples=8, deadline=None)
def test_the_fit_never_makes_the_survey_worse(offset, brick):
    taught = learn(surveyed(offset=offset, brick=brick, spread=1.0))
    assert taught.after_db <= taught.before_db + 0.05


def test_noise_is_not_learned_as_truth():
    taught = learn(surveyed(spread=3.0, seed=11))
    assert abs(taught.offset_db) < 2.5
    assert all(abs(shift.shift_db) < 3 for shift in taught.shifts)
    assert taught.held_out_db == pytest.approx(3.0, abs=1.5)


def test_what_was_learned_can_be_switched_off():
    job = surveyed(offset=-6.0)
    taught = apply(job, [Put(element=learn(job))]).job
    survey = survey_of(taught)
    on = predicted_dbm(taught, Scene(building_of(taught)), survey)
    model = taught.air_model.model_copy(update={"calibrated": False})
    off_job = apply(taught, [Put(element=model)]).job
    off = predicted_dbm(off_job, Scene(building_of(off_job)), survey)
    assert (on - off).mean() == pytest.approx(-6, abs=0.8)


def test_too_few_points_teach_nothing():
    with pytest.raises(TooFew, match="5 survey points that can be used; 8 are the least"):
        learn(surveyed(count=5))


def test_a_radio_that_is_off_is_left_out_of_the_survey():
    job = surveyed()
    (point,) = job.of(AccessPoint)
    off = point.model_copy(update={"radios": (point.radios[0].model_copy(update={"on": False}),)})
    assert survey_of(apply(job, [Put(element=off)]).job).rows == ()
    assert len(survey_of(job).rows) == len(job.of(SurveyPoint))


def test_the_comparison_names_space_and_wall():
    found = measured_against_predicted(surveyed(brick=6.0), scene_of(building_of(surveyed(brick=6.0))))
    by_space = {group.name: group for group in found.by_space}
    assert by_space["Ground west"].rmse_db < 0.2
    assert by_space["Ground east"].mean_db == pytest.approx(-6, abs=0.2)
    assert {group.name for group in found.by_wall} == {"Brick leaf 102 mm"}


def one_high_reading() -> Job:
    """A house measured as predicted but for three readings beside each other, 8 dB over it."""
    job = surveyed(count=12)
    puts = [
        Put(
            element=row.model_copy(
                update={"at": at(10 + 0.2 * n, 6.5), "rssi_dbm": level_of(job, at(10 + 0.2 * n, 6.5)) + 8.0}
            )
        )
        for n, row in enumerate(survey_of(job).rows[:3])
    ]
    return apply(job, puts).job


def level_of(job: Job, where) -> float:
    one = survey_of(job).rows[0].model_copy(update={"at": where})
    moved = apply(job, [Put(element=one)]).job
    return float(predicted_dbm(moved, Scene(building_of(moved)), survey_of(moved))[0])


def test_what_a_reading_teaches_fades_with_distance_and_goes_when_the_point_moves():
    job = one_high_reading()
    after = apply(job, [Put(element=learn(job))]).job
    scene, point = Scene(building_of(after)), after.of(AccessPoint)[0]
    places = np.array([(10.2, 6.5, 1.2), (9.0, 6.5, 1.2), (7.0, 2.0, 1.2), (2.0, 2.0, 1.2)])
    near, further, across, other_room = near_db(scene, scene.transmitter(point), places)
    assert near > 1.0
    assert near > further > across >= other_room - 0.05
    assert near_db(scene, replace(scene.transmitter(point), x_m=5.0), places) == pytest.approx(0.0)


def test_the_account_of_a_place_that_was_learned_adds_up_to_the_map():
    job = one_high_reading()
    after = apply(job, [Put(element=learn(job))]).job
    scene, point = scene_of(building_of(after)), after.of(AccessPoint)[0]
    account = signal_account(after, scene, point, "5", point.storey_id, at(10.2, 6.5))
    shown = signals(after, scene, "5", np.array([[10.2, 6.5, limit("air.client_height_m")]]))
    assert account.sum.value == pytest.approx(float(shown.way("weaker")[0, 0]), abs=0.05)
    assert sum(line.value for line in account.sum.lines) == pytest.approx(account.sum.value, abs=0.02)
    assert any("learned of this place" in line.label for line in account.sum.lines)
