"""The one device too many: every way out is tried, priced, and mends what it says it mends."""

import pytest

from heathrise.core.edit import EditError, apply
from heathrise.core.job import Job
from heathrise.core.racks.derived import unfed
from heathrise.core.switching.derived import ports
from heathrise.core.switching.too_many import way_out
from tests.house import House, look_at


def one_too_many() -> Job:
    """A 4x4 point, class 5, on a switch that gives class 4."""
    house = House(settled=True)
    house.rack(model="rack-22u")
    house.switch("SW1", "switch-24-poe")
    house.run(house.point("AP 1", x=3, y=4), "R-10", on=("SW1", "1"))
    house.run(house.point("AP 4x4", x=8, y=4, model="ap-ceiling-wifi6e-4x4"), "R-11", on=("SW1", "2"))
    return house.job


def test_the_ways_out_are_compared_what_mends_it_first_and_what_does_less_last():
    (device,) = unfed(look_at(one_too_many())).devices
    assert (device.label, device.asks_class, device.gives_class) == ("AP 4x4", 5, 4)
    assert "6 GHz radio off" in device.gives_up
    kinds = [way.code.partition(":")[0] for way in device.ways]
    assert {"injector", "beside", "larger", "device"} <= set(kinds)
    mends = [way for way in device.ways if way.holds and not way.faults]
    assert next(way.code for way in mends) == "injector"
    assert mends[-1].does_less
    costs = [way.cost.value for way in mends if not way.does_less]
    assert costs == sorted(costs)


def test_every_way_that_says_so_feeds_the_device_and_one_undo_takes_it_back():
    job = one_too_many()
    (device,) = unfed(look_at(job)).devices
    for way in device.ways:
        if not way.holds or way.faults:
            continue
        made = apply(job, way.operations)
        assert unfed(look_at(made.job)).devices == (), way.label
        assert all(budget.holds for budget in ports(look_at(made.job)).budgets)
        assert {e.id: e for e in apply(made.job, made.inverse).job.elements} == {
            e.id: e for e in job.elements
        }


def test_nobody_is_named_where_all_are_fed():
    house = House(settled=True)
    house.rack()
    house.switch()
    house.run(house.point("AP 1"), "R-10")
    assert unfed(look_at(house.job)).devices == ()


def test_a_device_on_a_rack_without_any_switch_has_no_way_that_pretends():
    house = House(settled=True)
    house.rack()
    house.run(house.point("AP 1"), "R-10")
    (device,) = unfed(look_at(house.job)).devices
    assert device.gives_class == 0
    assert [way.code for way in device.ways if way.holds] == ["beside"]


def test_a_way_that_is_gone_says_so():
    (device,) = unfed(look_at(one_too_many())).devices
    with pytest.raises(EditError, match="none of the ways out any more"):
        way_out(device, "larger:nothing")
