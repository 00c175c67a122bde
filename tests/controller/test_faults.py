"""Faults put into a site that was as planned: each is found, and called by its name."""

import pytest

from heathrise.core.network.watching import WATCHES
from tests.controller.somebody import changes


def found(bench) -> dict[str, str]:
    """Rules that speak, with what they say."""
    return {f["rule"]: f["text"] for f in bench.get("controller/live")["findings"]}


@pytest.fixture
def on(bench):
    """The clinic, brought on, every unit settled on the drawing."""
    bench.settle_units()
    bench.brought_on()
    assert found(bench) == {}
    return bench


def serial_of(bench, label: str) -> str:
    matches = bench.get("controller/live")["matched"]["matches"]
    return next(match["serial"] for match in matches if match["label"] == label)


def port_to(bench, label: str) -> tuple[str, str]:
    """Return switch and port that lead to a device of the drawing."""
    serial = serial_of(bench, label)
    for unit in bench.get("controller/live")["live"]["units"]:
        for port in unit["ports"]:
            if port["beside"] == serial and unit["kind"] == "switch":
                return unit["serial"], port["name"]
    raise AssertionError(label)


def test_a_wrong_vlan_on_a_port_cuts_its_point_off_and_is_told(on):
    switch, port = port_to(on, "Kennels")
    on.fault("wrong-vlan", serial=switch, port=port, net="Waiting room")
    said = found(on)
    assert (
        f"Port {port} of SW1 carries Waiting room untagged; Clinic is planned for Kennels"
        in said["live.port-network"]
    )
    assert said["live.cut-off"] == "Kennels has power and does not answer."


def test_a_dead_pair_is_told_from_the_speed(on):
    switch, port = port_to(on, "Yard")
    on.fault("dead-pair", serial=switch, port=port)
    text = found(on)["live.dead-pair"]
    assert f"Port {port} of SW1 to Yard runs at [[100|Mb/s]]" in text
    assert "a pair of the cable is dead" in text


def test_a_budget_that_is_exceeded_sheds_the_least_and_is_told(on):
    on.fault("budget", serial=serial_of(on, "SW1"), watts=60)
    said = found(on)
    assert "and has [[60|W]]" in said["live.over-budget"]
    dark = {u["name"] for u in on.get("controller/live")["live"]["units"] if u["phase"] == "dark"}
    assert dark
    assert "live.dark" in said


def test_old_firmware_is_told(on):
    on.fault("old-firmware", serial=serial_of(on, "Reception"))
    assert found(on)["live.old-firmware"].startswith("Reception runs firmware")


def test_an_overlap_with_the_service_takes_the_gateways_address(on):
    on.fault("overlap", cidr="10.40.20.0/24")
    assert "no address: Clinic lies over 10.40.20.0/24" in found(on)["live.no-service"]


def test_a_loop_is_shut_where_it_is_guarded_and_told_with_its_port(on):
    switch, port = port_to(on, "Corridor")
    on.fault("loop", serial=switch, port=port)
    assert f"A loop at port {port} of SW1: shut: a loop" in found(on)["live.loop"]


def test_a_channel_that_was_changed_is_told(on):
    on.fault("wrong-channel", serial=serial_of(on, "Imaging"), band="5", channel=140)
    assert "Imaging is on channel 140 at 5 GHz" in found(on)["live.channel"]
    keys = [d["key"] for d in on.get("controller/live")["compared"]["differences"]]
    assert keys == ["radio:Imaging:5"]


def test_an_exchanged_unit_is_told_by_the_port_it_hangs_on(on):
    on.fault("swapped", serial=serial_of(on, "Recovery"), new="OTHER-1")
    said = found(on)
    assert "OTHER-1 hangs on its port" in said["live.wrong-unit"]
    assert "live.stranger" not in said
    assert "live.missing" not in said


def test_a_serial_twice_is_told_with_both_macs(on):
    on.fault("twin-serial", serial=serial_of(on, "Recovery"), **{"as": serial_of(on, "Yard")})
    text = found(on)["live.twin"]
    assert text.count("02:") == 2


def test_a_clock_that_is_off_is_told(on):
    on.fault("skew", seconds=3600)
    assert "3600|s" in found(on)["live.clock"]


def test_automatic_optimisation_put_on_by_somebody_is_told(on):
    held = on.get("controller/live")
    assert held["live"]["house"]["automatic_radios"] is False
    changes(on, lambda kept: kept["whole"].update(auto_radio=True))
    assert "live.automatic" in found(on)


def test_mesh_left_on_at_a_wired_point_is_told(on):
    serial = serial_of(on, "Kennels")
    changes(on, lambda kept: kept["units"][serial].update(mesh=True))
    assert found(on)["live.mesh"].startswith("Kennels may hang on others by air")


def test_a_new_subnet_leaves_clients_clinging_to_the_old(on):
    job = on.client.get(on.at).get_json()
    guest = next(e for e in job["elements"] if e["kind"] == "network" and e["purpose"] == "guest")
    on.edit([{"op": "put", "element": guest | {"subnet": "10.40.32.0/24", "vlan": 32}}])
    on.brought_on()
    assert "addresses of 10.40.30.0/24" in found(on)["live.old-leases"]
    on.wait(5 * 3600)
    assert "live.old-leases" not in found(on)


def test_a_unit_gone_and_a_stranger_are_told(on):
    job = on.client.get(on.at).get_json()
    yard = next(e for e in job["elements"] if e["label"] == "Yard" and e["kind"] == "access-point")
    on.edit([{"op": "put", "element": yard | {"serial": "NEVER-SEEN"}}])
    said = found(on)
    assert "NEVER-SEEN" in said.get("live.missing", said.get("live.wrong-unit", ""))


def test_a_slow_port_and_a_unit_owned_elsewhere_have_watches_too():
    assert {"live.slow-link", "live.owned"} <= set(WATCHES)
