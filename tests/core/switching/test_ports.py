"""Ports: every run gets one that fits where there is one; budgets by three methods."""

import pytest

from heathrise.core.edit import Put, Remove, apply
from heathrise.core.findings import assess
from heathrise.core.switching.derived import ports as ports_in
from heathrise.core.switching.ports import settled
from tests.house import House, by_label, changed, look_at


def school_of(points, switch="switch-16-poe-2g5", model="ap-ceiling-wifi6-2x2", **run):
    house = House()
    house.rack()
    if switch:
        house.switch(model=switch)
    for n in range(points):
        point = house.point(f"AP {n}", x=1 + n % 10, y=1 + n // 10, model=model)
        house.run(point, f"R-{n:02d}", **run)
    return house


def ports_of(house):
    return ports_in(look_at(house.job))


@pytest.mark.parametrize(("runs", "missing"), [(1, 0), (16, 0), (17, 1), (20, 4)])
def test_as_many_runs_as_ports_are_placed(runs, missing):
    ports = ports_of(school_of(runs))
    assert len(ports.by_run) == runs - missing
    assert len(ports.unplaced) == missing
    assert len({(p.switch_id, p.port) for p in ports.by_run.values()}) == runs - missing


def test_a_rack_without_a_switch_says_so():
    (first, *_) = ports_of(school_of(2, switch=None)).unplaced
    assert first.why == "its rack has no switch"


def test_uplinks_are_left_for_racks():
    house = school_of(2)
    other = house.rack("TR2", x=10, y=6)
    house.run(other, "Trunk")
    ports = ports_of(house)
    assert all(port.uplink == (port.run_label == "Trunk") for port in ports.by_run.values())


def test_fast_points_get_fast_ports_and_slow_things_the_slow_ones():
    house = school_of(3)
    phone = house.thing("Phone", 5, 5, "desk-phone")
    house.run(phone, "R-phone", cable="cat6-indoor")
    by_label = {port.run_label: port for port in ports_of(house).by_run.values()}
    assert by_label["R-phone"].speed_mbps == 1000
    assert {by_label[f"R-0{n}"].speed_mbps for n in range(3)} == {2500}


def decided(house, run, port, job=None):
    return changed(job or house.job, run, a={"on": house.d.id_of("switch", "SW1"), "port": port})


def test_a_decided_end_keeps_its_port_even_a_poor_one():
    house = school_of(3)
    port = ports_in(look_at(decided(house, "R-01", "16"))).by_run[house.d.id_of("run", "R-01")]
    assert (port.port, port.decided, port.speed_mbps) == ("16", True, 1000)


def test_of_two_runs_given_one_port_the_first_has_it_and_the_other_is_said_to_have_none():
    house = school_of(2)
    job = decided(house, "R-01", "1", decided(house, "R-00", "1"))
    ports = ports_in(look_at(job))
    assert ports.by_run[house.d.id_of("run", "R-00")].port == "1"
    (missing,) = ports.unplaced
    assert missing.why == "port 1 was given to it, and R-00 has it too"


def test_a_class_above_every_port_is_placed_but_does_not_hold():
    ports = ports_of(school_of(1, switch="switch-24-poe", model="ap-ceiling-wifi6e-4x4"))
    (port,) = ports.by_run.values()
    assert not port.holds
    assert (port.needs_class, port.poe_class) == (5, 4)


def test_an_injector_takes_the_load_off_the_switch():
    house = school_of(1, switch="switch-8-plain")
    house.injector("R-00")
    ports = ports_of(house)
    (port,) = ports.by_run.values()
    assert port.holds
    assert port.watts == 0


def test_the_three_budgets_are_in_order_and_add_up():
    (budget,) = ports_of(school_of(6)).budgets
    assert budget.by_typical.value < budget.by_maximum.value < budget.by_class.value == 180
    assert budget.method == "maximum"
    assert sum(line.value for line in budget.sum.lines) == pytest.approx(budget.used_w, abs=0.2)


def test_a_switch_that_cannot_allocate_is_judged_by_class():
    (budget,) = ports_of(school_of(3, switch="switch-8-poe")).budgets
    assert budget.method == "class"
    assert budget.used_w == 90
    assert not budget.holds


def test_practice_by_class_judges_every_switch_so():
    job = changed(school_of(2).job, "House practice", budget_method="class")
    assert ports_in(look_at(job)).budgets[0].used_w == 60


def test_a_run_between_racks_takes_a_port_at_both():
    house = school_of(1)
    house.run(house.rack("TR2", x=10, y=6), "Trunk")
    house.switch("SW2", rack="TR2")
    taken = [(p.switch_label, p.side) for p in ports_of(house).ports if p.run_label == "Trunk"]
    assert taken == [("SW1", "a"), ("SW2", "b")]


def test_a_new_name_moves_no_port_and_a_decided_one_moves_by_nothing():
    job = school_of(4).job
    before = {p.run_id: p.port for p in ports_in(look_at(job)).by_run.values()}
    renamed = apply(job, [Put(element=by_label(job, "R-00").model_copy(update={"label": "R-99"}))]).job
    assert {p.run_id: p.port for p in ports_in(look_at(renamed)).by_run.values()} == before
    settled_job = apply(job, settled(job, ports_in(look_at(job)).ports)).job
    fewer = apply(settled_job, [Remove(id=by_label(settled_job, "R-01").id)]).job
    kept = {p.run_id: p.port for p in ports_in(look_at(fewer)).by_run.values()}
    assert kept == {run_id: port for run_id, port in before.items() if run_id in kept}
    assert all(p.decided for p in ports_in(look_at(fewer)).by_run.values())


def test_an_outlet_of_two_ports_takes_two_runs_and_the_third_is_a_spare():
    house = school_of(0)
    double = {"label": "Double outlet", "mounts": ["outlet"], "ports": [{"count": 2, "uplink": True}]}
    house.add("model", "Double", code="outlet-double", model=double)
    outlet = house.thing("Outlet", model="outlet-double")
    for n in range(3):
        house.run(outlet, f"R-{n}", cable="cat6-indoor")
    assert sorted(p.run_label for p in ports_of(house).by_run.values()) == ["R-0", "R-1"]


def test_an_underfed_run_may_trade_its_decided_port_with_one_that_needs_less():
    house = House()
    house.rack()
    house.switch("SW1", "switch-24-poe")
    house.switch("SW2", "switch-16-poe-2g5")
    hungry = house.point("AP hungry", model="ap-ceiling-wifi6e-4x4")
    house.run(hungry, "R-01", on=("SW1", "1"))
    house.run(house.thing(), "R-02", on=("SW2", "3"))
    (underfed,) = [f for f in assess(house.job).findings if f.rule == "power.device-under-fed"]
    trade = next(fix for fix in underfed.fixes if "Trade" in fix.label)
    assert trade.label == "Trade ports with R-02: SW2/3, which fits"
    after = apply(house.job, trade.operations).job
    assert [by_label(after, label).a.port for label in ("R-01", "R-02")] == ["3", "1"]
    assert not [f for f in assess(after).findings if f.rule == "power.device-under-fed"]
