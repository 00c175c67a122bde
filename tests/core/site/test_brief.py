"""What the brief means: split of the inventory, demand by hour, questions, drops."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.job import DeviceCount, Job, Practice, Space
from heathrise.core.library import library
from heathrise.core.site.brief import advised_way, cabled, demand, inventory, profile_of
from tests.house import House, changed

PRACTICE = Practice(id="00000000-0000-7000-8000-000000000001", label="x")


def house(**brief) -> Job:
    return changed(House().job, "Brief", **brief)


def count(what="x", **body) -> dict:
    return {"what": what, "count": 10, **body}


@pytest.mark.parametrize(
    ("device", "moves", "cable_for", "way"),
    [
        ("laptop", True, "fixed", "air"),
        ("desktop", True, "fixed", "cable"),
        ("sensor", True, "fixed", "cable"),
        ("sensor", True, "high-rate", "air"),
        ("camera", True, "high-rate", "cable"),
        ("camera", True, "points", "air"),
        (None, False, "fixed", "cable"),
        (None, False, "high-rate", "air"),
        (None, True, "fixed", "air"),
    ],
)
def test_what_moves_gets_air_and_the_practice_says_of_the_rest(device, moves, cable_for, way):
    row = DeviceCount(what="x", count=1, device=device, moves=moves)
    found, why = advised_way(row, PRACTICE.model_copy(update={"cable_for": cable_for}))
    assert found == way
    assert why


def test_an_overruled_row_says_both_reasons_and_needs_one():
    job = house(devices=[count(device="desktop", way="air", reason="glass desks")])
    (line,) = inventory(job)
    assert (line.way, line.advised, line.overruled) == ("air", "cable", True)
    assert "glass desks (practice says cable)" in line.why
    assert cabled(job) == 0
    with pytest.raises(ValueError, match="say why"):
        DeviceCount(what="x", count=1, way="air")


def test_demand_is_people_by_hour_times_what_one_asks():
    job = house(devices=[count("Laptops", device="laptop")], people_peak=20)
    room = next(s for s in job.of(Space) if s.label == "Ground west")
    job = changed(job, "Ground west", people=20, profile="office-day")
    assert room.people == 0
    (found,) = demand(job).spaces
    # 10 laptops x 3 Mb/s x 0.4 busy over 20 people, all 20 there at nine.
    assert found.peak.value == pytest.approx(12.0)
    assert found.hours[9].people == 20
    assert found.hours[3].demand_mbps == 0
    assert [line.label for line in found.peak.lines][:2] == ["people", "share there by office day"]


def test_a_space_takes_its_own_profile_then_its_kinds_then_its_sites():
    job = changed(House().job, "Site", site_kind="clinic")
    west = next(s for s in job.of(Space) if s.label == "Ground west")
    assert profile_of(west, job.site).label == "Clinic day"
    assert profile_of(west.model_copy(update={"space_kind": "corridor"}), job.site).label == "Passing through"
    assert profile_of(west.model_copy(update={"profile": "always"}), job.site).label == "All day and night"


def test_every_profile_is_a_day_of_shares():
    for row in library().profiles.values():
        assert len(row.share) == 24
        assert all(0 <= share <= 1 for share in row.share)


@pytest.mark.parametrize(
    ("kind", "asked", "not_asked"),
    [
        ("home", {"television", "work-at-home"}, {"imaging", "filter"}),
        ("clinic", {"imaging", "infection"}, {"television"}),
        ("school", {"filter", "crowd"}, {"payment"}),
    ],
)
def test_questions_and_drops_go_by_the_kind_of_site(kind, asked, not_asked):
    found = demand(changed(House().job, "Site", site_kind=kind))
    codes = {q.code for q in found.questions}
    assert asked <= codes
    assert not codes & not_asked
    assert ("stage" in {d.code for d in found.drops}) == (kind == "school")


def test_the_log_in_is_asked_only_where_the_service_has_one():
    def asks(**internet) -> bool:
        job = house(internet={"service": "vdsl", **internet})
        return "service-login" in {q.code for q in demand(job).questions}

    assert asks(addressing="pppoe")
    assert not asks(addressing="dhcp")


def test_an_answer_closes_its_question_and_carries_its_day():
    job = house(answers=[{"question": "budget", "text": "Nine thousand", "on": date(2026, 10, 2)}])
    (found,) = [q for q in demand(job).questions if q.code == "budget"]
    assert (found.answer, found.on) == ("Nine thousand", "2026-10-02")


@given(st.integers(0, 500), st.integers(0, 500))
def test_more_people_never_ask_for_less(few, more):
    low, high = sorted((few, more))
    totals = []
    for people in (low, high):
        job = changed(house(devices=[count(device="phone")], people_peak=100), "Ground west", people=people)
        totals.append(max(hour.demand_mbps for hour in demand(job).total))
    assert totals[0] <= totals[1]


def test_every_drop_and_kind_names_what_the_library_has():
    for drop in library().drops.values():
        assert drop.device is None or drop.device in library().equipment
    for code in library().material_words:
        assert code.partition("@")[0] in library().build_ups
