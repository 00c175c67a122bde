"""Ports: every run gets one that fits where there is one; budgets by three methods."""

import pytest

from heathrise.core.findings.assess import compute
from tests.house import House, changed


def school_of(points, switch="switch-16-poe-2g5", model="ap-ceiling-wifi6-2x2", **run):
    house = House()
    rack = house.rack()
    if switch:
        house.add("switch", "SW1", rack_id=rack, model=switch)
    for n in range(points):
        point = house.point(f"AP {n}", x=1 + n % 10, y=1 + n // 10, model=model)
        house.run(point, f"R-{n:02d}", **run)
    return house


def ports_of(house):
    return compute(house.job).ports


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
    phone = house.add("device", "Phone", storey_id=house.ground, at={"x_m": 5, "y_m": 5}, model="desk-phone")
    house.run(phone, "R-phone", cable="cat6-indoor")
    by_label = {port.run_label: port for port in ports_of(house).by_run.values()}
    assert by_label["R-phone"].speed_mbps == 1000
    assert {by_label[f"R-0{n}"].speed_mbps for n in range(3)} == {2500}


def test_a_pinned_run_keeps_its_port_even_a_poor_one():
    house = school_of(3)
    job = changed(house.job, "R-01", pin={"switch_id": house.d.id_of("switch", "SW1"), "port": 16})
    port = compute(job).ports.by_run[house.d.id_of("run", "R-01")]
    assert (port.port, port.pinned, port.speed_mbps) == (16, True, 1000)


def test_two_runs_pinned_to_one_port_both_end_up_somewhere():
    house = school_of(2)
    pin = {"switch_id": house.d.id_of("switch", "SW1"), "port": 1}
    job = changed(changed(house.job, "R-00", pin=pin), "R-01", pin=pin)
    assert len({port.port for port in compute(job).ports.by_run.values()}) == 2


def test_a_class_above_every_port_is_placed_but_does_not_hold():
    ports = ports_of(school_of(1, switch="switch-24-poe", model="ap-ceiling-wifi6e-4x4"))
    (port,) = ports.by_run.values()
    assert not port.holds
    assert (port.needs_class, port.poe_class) == (5, 4)


def test_an_injector_takes_the_load_off_the_switch():
    ports = ports_of(school_of(1, switch="switch-8-plain", injector="injector-30-2g5"))
    (port,) = ports.by_run.values()
    assert port.holds
    assert port.watts == 0


def test_the_three_budgets_are_in_order_and_add_up():
    (budget,) = ports_of(school_of(6)).budgets
    assert budget.by_typical_w < budget.by_maximum_w < budget.by_class_w == 180
    assert budget.method == "maximum"
    assert sum(line.value for line in budget.sum.lines) == pytest.approx(budget.used_w, abs=0.2)


def test_a_switch_that_cannot_allocate_is_judged_by_class():
    (budget,) = ports_of(school_of(3, switch="switch-8-poe")).budgets
    assert budget.method == "class"
    assert budget.used_w == 90
    assert not budget.holds


def test_practice_by_class_judges_every_switch_so():
    job = changed(school_of(2).job, "House practice", budget_method="class")
    assert compute(job).ports.budgets[0].used_w == 60
