"""Star, chain and mixed; one name or many; one cable for several services: each right, and just wrong."""

import uuid

import numpy as np
import pytest
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.edit import EditError, apply
from heathrise.core.findings import assess
from heathrise.core.job import Job
from heathrise.core.joining.derived import ways_to
from heathrise.core.joining.strands import strands, tagged
from heathrise.core.joining.wirings import wirings
from heathrise.core.radio.naming import namings, stay
from tests.house import House, changed, look_at


def home(places=((3, 4), (9, 4), (11, 7))) -> Job:
    house = House(settled=True)
    house.rack()
    house.switch()
    for n, (x, y) in enumerate(places, 1):
        house.run(house.point(f"AP {n}", x=x, y=y), f"R-{n:02d}")
    return house.job


def by_code(found):
    return {way.code: way for way in found.ways}


def test_a_star_fails_one_by_one_and_a_chain_from_the_break_on():
    ways = by_code(wirings(look_at(home())))
    assert (ways["star"].deepest, ways["star"].cut_worst, ways["star"].cut_mean) == (1, 1, 1.0)
    assert (ways["chain"].deepest, ways["chain"].cut_worst, ways["chain"].cut_mean) == (3, 3, 2.0)


PLACES = st.lists(st.tuples(st.floats(0.5, 11.5), st.floats(0.5, 7.5)), min_size=1, max_size=7, unique=True)


@given(places=PLACES)
@settings(max_examples=25, deadline=None)
def test_the_mixed_wiring_is_never_longer_than_either_and_the_star_never_deeper(places):
    ways = by_code(wirings(look_at(home(places))))
    assert ways["mixed"].length.value <= min(ways["star"].length.value, ways["chain"].length.value) + 0.15
    assert ways["star"].deepest <= ways["mixed"].deepest <= ways["chain"].deepest
    assert ways["star"].cut_mean <= ways["mixed"].cut_mean <= ways["chain"].cut_mean
    for way in ways.values():
        assert way.length.value == pytest.approx(sum(line.value for line in way.length.lines), abs=0.5)


def test_without_a_rack_there_is_nothing_to_compare():
    house = House(settled=True)
    house.point("AP 1")
    assert wirings(look_at(house.job)).ways == ()
    assert wirings(look_at(House().job)).points == 0


# --- names ----------------------------------------------------------------------------------------------------------


def test_a_client_that_stays_leaves_a_point_only_when_it_is_lost():
    far, near = np.full(5, -60, np.float32), np.array([-50, -70, -81, -83, -90], np.float32)
    levels = np.stack([near, far])
    moves, used = stay(levels, levels)
    assert moves == 1
    assert used.tolist() == [-50, -70, -81, -60, -60]


def test_with_nothing_to_hear_it_hears_nothing():
    moves, used = stay(np.zeros((0, 3), np.float32), np.zeros((0, 3), np.float32))
    assert moves == 0
    assert (used == -150).all()


def walked_house(far: float = 40.0) -> Job:
    house = House(settled=True)
    house.rack()
    house.d.space(house.ground, "Long hall", (12, 0, 112, 8))
    for n, x in enumerate((3.0, far, 2 * far), 1):
        house.point(f"AP {n}", x=x, y=4)
    stops = [{"storey_id": house.ground, "at": {"x_m": x, "y_m": 4.0}} for x in (2.0, 2 * far + 10)]
    house.add("walk", "Through the hall", stops=stops)
    return house.job


def test_each_step_from_one_name_to_many_costs_more_silence_and_only_networks_break_sessions():
    found = namings(look_at(walked_house()))
    assert found.walks == 1
    ways = by_code(found)
    assert ways["fast"].moves == ways["one"].moves >= 1
    assert ways["fast"].silent.value <= ways["one"].silent.value
    assert ways["name"].silent.value <= ways["network"].silent.value
    assert [ways[code].breaks for code in ("fast", "one", "name")] == [0, 0, 0]
    assert ways["network"].breaks == ways["network"].moves
    # What is lost on the way is the moves' gaps and where nothing is heard, and nothing else.
    for way in found.ways:
        moves, each, lost = (line.value for line in way.silent.lines)
        assert way.silent.value == pytest.approx(moves * each + lost, abs=0.11)


def test_a_job_without_a_walk_says_so():
    assert namings(look_at(home())).walks == 0


# --- one cable ------------------------------------------------------------------------------------------------------


def mill_run(job: Job, to: str = "Television"):
    return next(run for run in assess(job).runs if run.to_label == to)


@pytest.mark.parametrize(
    ("screens", "service", "bridges", "holds"),
    [
        (0, False, False, {"each": True, "tagged": True, "plain": True}),
        (2, False, False, {"each": False, "tagged": True, "plain": True}),
        (0, True, False, {"each": False, "tagged": True, "plain": False}),
        (0, True, True, {"each": False, "tagged": True, "plain": True}),
        (1, True, True, {"each": False, "tagged": True, "plain": False}),
    ],
)
def test_services_share_a_cable_by_vlan_and_a_plain_switch_where_the_modem_bridges(
    screens, service, bridges, holds
):
    job = withy_mill()
    found = strands(look_at(job), mill_run(job).run_id, screens, service, bridges)
    assert {way.code: way.holds for way in found.ways} == holds
    assert all(way.holds or way.why for way in found.ways)
    vlans = {service.label.split(" ")[0]: service.vlan for service in found.services}
    assert len(set(vlans.values())) == len(vlans)


def test_what_comes_back_does_not_stand_in_the_way_of_what_goes():
    job = changed(withy_mill(), "Brief", internet={"down_mbps": 700, "up_mbps": 50})
    run = mill_run(job)
    both = strands(look_at(job), run.run_id, 0, True, False)
    assert both.carried.value == 700
    assert both.carried.holds
    more = strands(look_at(job), run.run_id, 21, True, False)
    assert more.carried.value == pytest.approx(700 + 21 * 15)
    assert not more.carried.holds
    assert not next(way for way in more.ways if way.code == "tagged").holds


def test_the_managed_switch_stands_at_the_far_end_and_breaks_nothing():
    job = tern_lane()
    run = mill_run(job, "Staff outlet")
    shared = apply(job, tagged(look_at(job), run.run_id, lambda: str(uuid.uuid4()))).job
    found = assess(shared)
    assert next(c for c in found.chains if c.label == "Staff outlet").holds
    (box,) = next(r for r in found.runs if r.run_id == run.run_id).boxes
    assert box.at_m == pytest.approx(run.length_m)
    assert [f for f in found.findings if f.rule == "findings.could-not-run"] == []
    with pytest.raises(EditError, match="not there any more"):
        strands(look_at(job), str(uuid.uuid4()), 0, False, False)


def test_a_cable_is_shared_once_and_stays_the_copper_it_is():
    job = tern_lane()
    run = mill_run(job, "Staff outlet")
    shared = apply(job, tagged(look_at(job), run.run_id, lambda: str(uuid.uuid4()))).job
    again = strands(look_at(shared), run.run_id, 0, False, False)
    (way,) = [way for way in again.ways if way.code == "tagged"]
    assert not way.holds
    assert "stands on its way already" in way.why
    with pytest.raises(EditError, match="already"):
        tagged(look_at(shared), run.run_id, lambda: str(uuid.uuid4()))
    assert ways_to(look_at(shared), run.to_id).taken == "copper"
