"""Subnets, scopes, beacons, the default networks, the settings document."""

import ipaddress
from itertools import combinations, count

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.edit import apply
from heathrise.core.findings.assess import settings
from heathrise.core.job import AccessPoint, Network, Ssid
from heathrise.core.network.counting import overlap, prefix_for, usable_addresses
from heathrise.core.network.defaults import default_networks
from heathrise.core.network.derived import nets
from heathrise.core.network.subnets import free_subnet
from heathrise.core.radio.beacons import beacon_airtime, name_airtime, preamble_us
from tests.house import House, changed, look_at


def ids():
    numbers = count(1)
    return lambda: f"00000000-0000-7000-8000-{next(numbers):012d}"


@pytest.mark.parametrize(("prefix", "usable"), [(24, 253), (23, 509), (30, 1), (31, 0)])
def test_usable_addresses(prefix, usable):
    assert usable_addresses(prefix) == usable


@given(st.integers(1, 60_000))
def test_the_prefix_holds_the_count_and_the_next_longer_would_not(devices):
    prefix = prefix_for(devices)
    assert usable_addresses(prefix) >= devices
    assert prefix == 30 or usable_addresses(prefix + 1) < devices


@given(st.integers(16, 28), st.integers(2, 4094))
def test_a_free_subnet_is_clear_of_the_service_and_of_the_rest(prefix, vlan):
    house = House()
    house.add("network", "Main", vlan=20, subnet="10.20.0.0/16")
    subnet = free_subnet(house.job, prefix, vlan)
    assert subnet.prefixlen == prefix
    assert not overlap(subnet, ipaddress.ip_network("10.20.0.0/16"))
    assert not overlap(subnet, ipaddress.ip_network("192.168.1.0/24"))


def test_two_families_never_overlap():
    assert not overlap(ipaddress.ip_network("10.0.0.0/8"), ipaddress.ip_network("fd00::/8"))


@pytest.mark.parametrize("outside", ["192.168.1.0/24", "10.20.0.0/16", "10.0.0.0/8"])
def test_default_networks_are_clear_of_the_service_and_of_each_other(outside):
    job = changed(House().job, "Brief", internet={"subnet": outside}, guests_peak=400)
    made = apply(job, default_networks(job, ids())).job
    networks = made.of(Network)
    if outside == "10.0.0.0/8":
        assert networks == ()
        return
    assert {n.purpose for n in networks} == {"main", "guest", "things", "cameras", "management"}
    (guest,) = [n for n in networks if n.purpose == "guest"]
    subnets = [n.subnet for n in networks] + [ipaddress.ip_network(outside)]
    assert not any(overlap(a, b) for a, b in combinations(subnets, 2))
    assert guest.isolated
    assert guest.subnet.prefixlen == 22
    assert {s.bands for s in made.of(Ssid)} == {("2.4", "5"), ("2.4",)}


def test_asking_again_adds_nothing():
    job = House().job
    made = apply(job, default_networks(job, ids())).job
    assert default_networks(made, ids()) == ()


@pytest.mark.parametrize(("rate", "preamble"), [(1, 192), (5.5, 192), (11, 192), (6, 20), (12, 20)])
def test_old_rates_have_the_long_preamble(rate, preamble):
    assert preamble_us(rate) == preamble


@given(st.sampled_from([1, 2, 6, 12, 24]), st.integers(1, 500))
def test_a_larger_beacon_takes_more_air(rate, size):
    assert beacon_airtime(size + 1, rate, 20) > beacon_airtime(size, rate, 20)


def test_a_name_costs_its_contention_too():
    assert name_airtime(12) == pytest.approx((20 + 200 + 100) / 102_400)


def test_a_scope_is_held_against_its_count():
    house = House()
    house.add("network", "Guests", purpose="guest", vlan=30, subnet="10.0.30.0/24", isolated=True)
    for guests, holds in ((140, True), (141, False)):
        job = changed(house.job, "Brief", guests_peak=guests)
        (scope,) = nets(look_at(job)).scopes
        assert scope.holds is holds, scope.wanted
    assert scope.gateway == "10.0.30.1"


def test_settings_say_all_and_hold_no_secret(school):
    document = settings(look_at(school))
    assert {n.name for n in document.networks} == {"School", "Guests", "Things", "Cameras"}
    assert len(document.radios) == sum(len(point.radios) for point in school.of(AccessPoint))
    assert all(radio.channel for radio in document.radios)
    fed = [port for port in document.ports if port.name and not port.name.startswith("to ")]
    assert len(fed) == 28
    assert "passphrase" not in document.model_dump_json()
