"""Everything failed one by one: who is cut off, who takes over, and that the air agrees with the points taken away."""

import pytest
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill

from heathrise.core.deriving import Memo
from heathrise.core.job import AccessPoint, Job, Link, Rack
from heathrise.core.library import library, limit
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.views import without
from heathrise.core.switching.failing import FailureOf, failures
from tests.core.joining.test_bridged import taken
from tests.core.joining.test_ways import outbuilding
from tests.house import House


def failed(job: Job, kind: str, label: str) -> FailureOf:
    found = [one for one in failures(Memo(job).look).all if one.kind == kind and one.label == label]
    assert len(found) == 1, [one.label for one in failures(Memo(job).look).all if one.kind == kind]
    return found[0]


def two_rooms() -> House:
    """A point in either room on one switch, and an outlet on another."""
    house = House(settled=True)
    house.rack()
    house.switch("SW1")
    house.switch("SW2", "switch-8-poe")
    house.run(house.point("AP west", x=3, y=4), "R-01", on=("SW1", "1"))
    house.run(house.point("AP east", x=9, y=4), "R-02", on=("SW1", "2"))
    house.run(house.thing("Outlet", 4, 7), "R-03", on=("SW2", "5"))
    return house


def test_a_cable_cuts_off_what_hangs_on_it_and_nothing_else():
    job = two_rooms().job
    assert failed(job, "link", "R-01").cut_labels == ("AP west",)
    assert failed(job, "link", "R-03").cut_labels == ("Outlet",)
    assert failed(job, "link", "R-03").spaces == ()


def test_a_switch_cuts_off_all_that_hangs_on_it_and_the_mains_of_its_rack_everything():
    job = two_rooms().job
    assert set(failed(job, "switch", "SW1").cut_labels) == {"AP west", "AP east"}
    assert set(failed(job, "power", "TR1").cut_labels) == {"AP west", "AP east", "Outlet"}


def test_what_a_failed_point_leaves_is_what_the_air_without_it_says():
    job = two_rooms().job
    for point in job.of(AccessPoint):
        left = {s.space_id: s for s in assess_air(without(job, point.id)).scores}
        for space in failed(job, "point", point.label).spaces:
            assert space.share == pytest.approx(left[space.space_id].best_share, abs=0.0011)
            assert space.lost == (left[space.space_id].best_share < limit("air.pass_share"))
            assert space.by == tuple(p.label for p in job.of(AccessPoint) if p.id != point.id)
            assert space.edge_mbps > 0


def test_a_second_cable_to_another_switch_takes_the_single_failure_away():
    house = two_rooms()
    house.run(house.d.id_of("access-point", "AP west"), "R-04", on=("SW2", "1"))
    once = failed(house.job, "switch", "SW1")
    assert "AP west" in once.cut_labels
    # A model with two ports for data is reached over the other one.
    both = two_rooms()
    both.d.elements = [
        e.model_copy(update={"model": "ap-ceiling-wifi7-2x2"}) if e.label == "AP west" else e
        for e in both.d.elements
    ]
    ports = len(library().equipment["ap-ceiling-wifi7-2x2"].links_up)
    both.run(both.d.id_of("access-point", "AP west"), "R-04", on=("SW2", "1"))
    assert ("AP west" not in failed(both.job, "link", "R-01").cut_labels) == (ports > 1)


def test_a_bridge_cuts_off_the_house_behind_it():
    job = taken(outbuilding(), "bridge-60").job
    assert set(failed(job, "bridge", "Bridge to AP barn").cut_labels) >= {"AP barn"}
    assert set(failed(job, "unit", "Bridge to AP barn, near end").cut_labels) >= {"AP barn"}
    behind = next(rack for rack in job.of(Rack) if rack.label == "TR2")
    assert set(failed(job, "power", behind.label).cut_labels) >= {"AP barn"}
    assert "AP house" not in failed(job, "house", "Barn").cut_labels


def test_the_service_from_outside_cuts_nothing_inside():
    found = failed(two_rooms().job, "service", "Service from outside")
    assert (found.cut, found.spaces, found.harm) == ((), (), 0)


@pytest.mark.parametrize("build", [tern_lane, withy_mill])
def test_every_thing_that_can_fail_is_failed_once_the_worst_first(build):
    job = build()
    found = failures(Memo(job).look).all
    assert len({one.code for one in found}) == len(found)
    assert [one.harm for one in found] == sorted((one.harm for one in found), reverse=True)
    assert {one.kind for one in found} <= set(library().failures)
    points = {one.label for one in found if one.kind == "point"}
    assert points == {point.label for point in job.of(AccessPoint)}
    carried = {one.label for one in found if one.kind == "link"}
    assert carried <= {link.label for link in job.of(Link)}
    for one in found:
        for space in one.spaces:
            assert 0 <= space.share <= 1
