"""The radio plan of a whole job and the studies that run over all of it."""

import pytest
from demo.tern_lane import tern_lane

from heathrise.core.edit import apply
from heathrise.core.job import AccessPoint
from heathrise.core.library import library
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.finds import StudyAsked
from heathrise.core.radio.radioplan import propose
from heathrise.core.radio.scene import scene_of
from heathrise.core.radio.studies import parts, work
from heathrise.core.site.building import building_of
from tests.house import House

SCHOOL = tern_lane()


def proposal(job):
    return propose(job, scene_of(building_of(job)), 1.0)


@pytest.fixture(scope="module")
def plan():
    return proposal(SCHOOL)


def test_the_plan_leaves_no_more_overlap_and_says_why_of_each_change(plan):
    before = {band.band: band.overlap for band in plan.before}
    for band in plan.after:
        assert band.overlap <= before[band.band] + 1e-6
        assert band.bound <= band.overlap <= band.greedy + 1e-6
    assert plan.changes
    assert all(change.why for change in plan.changes)


def test_after_the_plan_nothing_is_too_loud_and_nothing_over_the_domain(plan):
    after = apply(SCHOOL, plan.operations).job
    client = library().clients[after.brief.client_class]
    for row in assess_air(after).radio_plan:
        if row.fixed:
            continue
        assert row.eirp_limit_dbm is None or row.eirp_dbm <= row.eirp_limit_dbm
        assert row.power_dbm <= client.power_dbm(row.band) + 6


def test_switching_24_off_takes_no_place_under_what_it_must_keep(plan):
    after = apply(SCHOOL, plan.operations).job
    off = [change for change in plan.changes if not change.after.on]
    assert off
    assert all(change.band == "2.4" for change in off)
    scores = {s.space_id: s for s in assess_air(SCHOOL).scores if s.band == "2.4"}
    for score in assess_air(after).scores:
        if score.space_id in scores and scores[score.space_id].holds:
            assert score.holds


def test_a_second_plan_changes_nothing(plan):
    again = proposal(apply(SCHOOL, plan.operations).job)
    assert [c for c in again.changes if c.before.on] == []


def test_locked_radios_stay():
    house = House()
    house.point("One", x=2, radios=[{"band": "5", "power_dbm": 22, "locked": True}])
    house.point("Two", x=10, radios=[{"band": "5", "power_dbm": 22}])
    changed_labels = {change.label for change in proposal(house.job).changes}
    assert changed_labels == {"Two"}


def test_with_many_points_in_earshot_channels_get_narrower():
    house = House()
    for n in range(8):
        house.point(f"AP {n}", x=1 + n * 1.3, radios=[{"band": "5", "power_dbm": 16, "width_mhz": 80}])
    widths = {c.after.width_mhz for c in proposal(house.job).changes if c.band == "5"}
    assert widths == {40}


def test_every_point_fails_once():
    asked = StudyAsked(study="failures")
    pieces = parts(SCHOOL, asked)
    assert {piece.key for piece in pieces} == {point.id for point in SCHOOL.of(AccessPoint)}
    (found,) = work(SCHOOL, asked, pieces[0])
    assert found.met <= sum(score.holds for score in assess_air(SCHOOL).scores)
    assert found.lost


def test_the_day_has_its_busiest_radio_at_every_hour():
    hours = work(SCHOOL, StudyAsked(study="hours"), parts(SCHOOL, StudyAsked(study="hours"))[0])
    assert [row.hour for row in hours] == list(range(24))
    assert max(hours, key=lambda row: row.airtime).airtime == max(
        load.peak for load in assess_air(SCHOOL).loads
    )


def test_first_answers_come_before_better_ones():
    quick = [part.quick for part in parts(SCHOOL, StudyAsked(study="placement"))]
    assert quick == sorted(quick, reverse=True)
