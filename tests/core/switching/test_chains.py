"""The walk from a thing to the core: over what, how fast at its narrowest, and whether it arrives."""

import pytest

from heathrise.core.findings import assess
from tests.house import House


def house(gateway: bool = False, model: str = "switch-16-poe-2g5") -> House:
    made = House(settled=True)
    made.rack()
    made.switch(model=model)
    if gateway:
        made.d.in_rack("GW", "gateway-1g", made.d.id_of("rack", "TR1"))
    return made


def chain_of(made: House, label: str):
    return next(chain for chain in assess(made.job).chains if chain.label == label)


def test_a_point_by_one_run_reaches_the_core_by_it():
    made = house(gateway=True)
    made.run(made.point())
    chain = chain_of(made, "AP 1")
    assert (chain.holds, chain.core) == (True, "GW")
    assert chain.way.startswith("R-01")
    assert chain.links == 2


def test_where_nothing_routes_the_switch_is_the_core():
    made = house()
    made.run(made.point())
    chain = chain_of(made, "AP 1")
    assert (chain.core, chain.links) == ("SW1", 1)


def test_what_no_run_goes_to_reaches_nothing():
    made = house()
    made.point()
    chain = chain_of(made, "AP 1")
    assert (chain.holds, chain.way, chain.speed_mbps, chain.core) == (False, "no link", None, None)


@pytest.mark.parametrize(("model", "mbps"), [("switch-24-poe", 1000), ("switch-16-poe-2g5", 2500)])
def test_the_narrowest_place_is_the_slower_of_port_and_device(model, mbps):
    made = house(model=model)
    made.run(made.point())
    assert chain_of(made, "AP 1").speed_mbps == mbps


def test_a_device_slower_than_its_port_is_its_own_narrowest_place():
    made = house()
    made.run(made.point(model="ap-wall-wifi6-2x2"))
    assert chain_of(made, "AP 1").speed_mbps == 1000


def test_a_second_rack_is_reached_over_the_run_between_them():
    made = house(gateway=True)
    other = made.rack("TR2", x=10, y=6)
    made.switch("SW2", rack="TR2")
    made.run(other, "R-01")
    made.run(made.point(x=9), "R-02", rack="TR2")
    chain = chain_of(made, "AP 1")
    assert (chain.holds, chain.core) == (True, "GW")
    assert chain.way.split(", ")[:2] == ["R-02", "R-01"]


def test_a_rack_that_nothing_joins_to_the_core_leaves_its_things_off():
    made = house(gateway=True)
    made.rack("TR2", x=10, y=6)
    made.switch("SW2", rack="TR2")
    made.run(made.point(x=9), "R-02", rack="TR2")
    assert not chain_of(made, "AP 1").holds
