"""Placement: better than by hand, within its bound, and honest about what cannot be met."""

from collections import Counter

import numpy as np
import pytest
from demo.tern_lane import tern_lane

from heathrise.core.job import AccessPoint, Job
from heathrise.core.radio import placing
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.finds import StudyAsked
from heathrise.core.radio.ground import ground_of
from heathrise.core.radio.placing import AIMS, place
from heathrise.core.radio.scene import scene_of
from heathrise.core.radio.studies import offer
from heathrise.core.radio.views import with_points
from heathrise.core.site.building import building_of
from tests.house import House, changed

MODEL = "ap-ceiling-wifi6-2x2"
SCHOOL = tern_lane()


def placed(job, aim="fewest", seconds=20.0):
    return list(place(job, scene_of(building_of(job)), aim, MODEL, seconds=seconds))


def met(job, points):
    return sum(score.holds for score in assess_air(with_points(job, points)).scores)


@pytest.fixture(scope="module")
def plans():
    return {aim: placed(SCHOOL, aim, seconds=6.0) for aim in AIMS}


def test_no_plan_of_the_school_is_worse_than_its_points_placed_by_hand(plans):
    by_hand = sum(score.holds for score in assess_air(SCHOOL).scores)
    for aim, steps in plans.items():
        assert met(SCHOOL, steps[-1].points) >= by_hand, aim


@pytest.mark.parametrize("aim", AIMS)
def test_each_step_is_no_dearer_and_never_under_its_bound(plans, aim):
    steps = plans[aim]
    counts = [step.count for step in steps]
    assert counts == sorted(counts, reverse=True)
    assert all(0 <= step.gap <= 1 for step in steps)
    assert steps[-1].bound > 0
    assert not steps[-1].unmet


def test_best_roaming_has_more_points_and_least_cable_no_more_cable_than_the_others(plans):
    last = {aim: steps[-1] for aim, steps in plans.items()}
    assert last["roaming"].count >= last["fewest"].count
    assert last["cable"].cable_m <= last["roaming"].cable_m


def test_a_pinned_point_stays_where_it_is():
    house = House()
    house.point("Kept", x=0.6, y=0.6, pinned=True)
    house.point("Free", x=11, y=7)
    points = placed(house.job)[-1].points
    assert [p.at.x_m for p in points if p.label == "Kept"] == [0.6]
    assert "Free" not in {p.label for p in points}


def test_nothing_is_placed_in_a_no_go():
    job = changed(House().job, "Ground west", no_go="heat")
    for step in placed(job):
        assert all(point.at.x_m > 6 for point in step.points)


def test_a_need_no_placement_can_meet_is_named_with_the_best_found():
    house = House()
    for x in (0.0, 6.0, 12.0):
        house.d.wall(house.ground, "lead-lined", (x, 0), (x, 8), label=f"Lead {x}")
    job = changed(house.job, "Ground west", no_go="listed")
    last = placed(job)[-1]
    (unmet,) = [u for u in last.unmet if u.label == "Ground west"]
    assert unmet.share < 0.97
    assert "no spot allowed reaches more than" in unmet.why


def test_a_storey_without_spaces_gets_nothing_and_says_nothing_wrong():
    empty = Job(name="Empty", elements=tuple(e for e in House().job.elements if e.kind != "space"))
    assert placed(empty)[-1].count == 0


def test_a_crowd_asks_for_more_points():
    few = placed(House().job)[-1].count
    crowd = changed(House().job, "Ground west", people=200)
    assert placed(crowd)[-1].count >= 5 > few


def test_the_plan_used_keeps_cables_with_the_points_near_by():
    last = placed(SCHOOL, seconds=1.0)[-1]
    made = offer(SCHOOL, StudyAsked(study="placement"), last)
    had = {point.id for point in SCHOOL.of(AccessPoint)}
    reused = {point.id for point in made.placement.points} & had
    # A cable stays on its storey: of each storey's points as many as it had can keep theirs.
    storeys = [Counter(p.storey_id for p in points) for points in (SCHOOL.of(AccessPoint), last.points)]
    assert len(reused) >= (storeys[0] & storeys[1]).total() - 2
    assert made.met >= sum(score.holds for score in assess_air(SCHOOL).scores)


def test_where_only_the_spots_of_plans_are_followed_nothing_unfollowed_is_offered_as_proven(monkeypatch):
    """With too many spots to follow them all, a plan is proven only on the ground it was made of."""
    real = placing.limit
    monkeypatch.setattr(placing, "limit", lambda key: 0 if key == "place.follow_all" else real(key))
    job = House().job
    steps = placed(job)
    monkeypatch.undo()
    every = placed(job)[-1]
    assert not steps[-1].unmet
    assert all(step.bound <= step.count * 1000 + step.cable_m + 0.1 for step in steps)
    assert not steps[-1].proven or steps[-1].count >= every.count


def test_what_a_spot_reaches_grows_with_power():
    job = House().job
    scene = scene_of(building_of(job))
    storeys = tuple(s.id for s in job.storeys)
    usual = ground_of(job, scene, "fewest", MODEL, storeys)
    loud = changed(job, "House practice", points_power="more-power", design_on="down")
    louder = ground_of(loud, scene_of(building_of(loud)), "fewest", MODEL, storeys)
    assert (louder.best >= usual.best).all()
    assert np.shape(louder.best) == np.shape(usual.best)
