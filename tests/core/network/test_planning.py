"""Addresses, renumbering, profiles of ports, hours, the run book, what would stand there."""

import pytest
from demo.load import JOBS

from heathrise.core.edit import EditError, apply
from heathrise.core.findings.assess import settings
from heathrise.core.job import FixedAddress, Network, Site
from heathrise.core.library import library
from heathrise.core.network.addresses import address_map, next_fixed
from heathrise.core.network.defaults import wanted_purposes
from heathrise.core.network.derived import built_as_planned, nets, port_profiles
from heathrise.core.network.hours import open_hours, quiet_hour, update_hour
from heathrise.core.network.renumbering import renumber, renumbering
from heathrise.core.network.runbook import run_book
from heathrise.core.network.telling import all_told
from heathrise.core.radio.air import radio_rows
from heathrise.core.switching.derived import ports
from heathrise.core.switching.kept import kept_cords
from tests.house import House, changed, look_at


def with_main(**more):
    house = House()
    house.add("network", "Main", **({"vlan": 20, "subnet": "10.20.20.0/24"} | more))
    return house


def main_of(job) -> Network:
    return job.of(Network)[0]


@pytest.mark.parametrize("kind", ["home", "school", "clinic", "office", "shop"])
def test_networks_follow_the_kind_of_site(kind):
    job = changed(House().job, "Site", site_kind=kind)
    found = set(wanted_purposes(job))
    assert {"main", "guest", "things", "cameras"} <= found
    assert ("pupils" in found) == (kind == "school")
    assert ("payment" in found) == (kind in ("clinic", "shop"))
    assert "voice" not in found
    counted = changed(job, "Brief", devices=[{"what": "Phones", "count": 3, "purpose": "voice"}])
    assert "voice" in wanted_purposes(counted)


def test_every_setting_of_every_purpose_has_its_reason():
    for info in library().purposes.values():
        assert set(info.because) == {
            "isolated",
            "internet",
            "lease_h",
            "filtering",
            "safe_search",
            "client_mbps",
        }
    for kind in library().name_kinds.values():
        assert {"security", "bands", "isolation", "fast_roaming", "dtim", "hours"} <= set(kind.because)


def test_people_are_counted_where_nothing_else_is():
    job = changed(with_main().job, "Brief", people_peak=100, devices=[{"what": "Laptops", "count": 40}])
    (scope,) = nets(look_at(job)).scopes
    assert scope.wanted == 150
    assert [line.value for line in scope.sum.lines][:2] == [40, 60]


def test_what_is_kept_for_fixed_addresses_gives_way_to_the_count():
    (few,) = nets(look_at(with_main().job)).scopes
    assert (few.fixed, few.first, few.last, few.usable) == (20, "10.20.20.22", "10.20.20.254", 233)
    many = changed(with_main().job, "Brief", devices=[{"what": "Laptops", "count": 166}])
    (scope,) = nets(look_at(many)).scopes
    assert (scope.wanted, scope.fixed, scope.usable, scope.holds) == (249, 4, 249, True)


def test_the_map_shows_what_lies_over_what_and_says_what_follows():
    job = with_main(subnet="192.168.0.0/23").job
    found = address_map(job, nets(look_at(job)))
    (clash,) = found.clashes
    assert "between the two" in clash.words
    assert "translated twice" in found.doubled
    assert {one.label for row in found.rows for one in row.stretches if one.over} == {"The service", "Main"}
    public = changed(with_main().job, "Brief", internet={"subnet": "198.51.100.0/24"})
    assert address_map(public, nets(look_at(public))).clashes == ()


def test_renumbering_takes_fixed_addresses_and_the_number_along():
    house = with_main()
    network = main_of(house.job).id
    house.add("fixed-address", "Printer", network_id=network, address="10.20.20.9")
    house.add("fixed-address", "Scale", network_id=network, address="10.20.20.200", set_on_device=True)
    plan = renumbering(house.job, network, "10.20.60.0/25")
    assert [one.then for one in plan.fixed] == ["10.20.60.9", None]
    assert (plan.vlan_then, plan.wait.value, plan.problem) == (60, 24, "")
    assert "12 h at the least" in plan.before[0]
    moved = apply(house.job, renumber(house.job, network, "10.20.60.0/25")).job
    assert (str(main_of(moved).subnet), main_of(moved).vlan) == ("10.20.60.0/25", 60)
    assert [str(one.address) for one in moved.of(FixedAddress)] == ["10.20.60.9", "10.20.20.200"]


def test_renumbering_finds_a_free_subnet_and_refuses_one_that_lies_over():
    job = with_main().job
    network = main_of(job).id
    assert renumbering(job, network).then == "10.21.20.0/24"
    assert "outside" in renumbering(job, network, "192.168.1.0/24").problem
    for wrong in ("10.20.60.1/24", "nonsense"):
        with pytest.raises(EditError, match="no subnet"):
            renumbering(job, network, wrong)
    with pytest.raises(EditError, match="outside"):
        renumber(job, network, "192.168.1.0/24")


def test_the_next_fixed_address_is_one_that_is_free():
    house = with_main()
    house.add("fixed-address", "Printer", network_id=main_of(house.job).id, address="10.20.20.2")
    assert next_fixed(house.job, main_of(house.job)) == "10.20.20.3"


def test_an_access_points_port_carries_all_its_names_and_an_outlets_its_own(school):
    found = port_profiles(look_at(school)).profiles
    point = next(one for one in found if one.to_label == "Foyer")
    assert (point.role, point.native, point.tagged) == ("point", "School 20", "Guests 30, Things 40")
    camera = next(one for one in found if one.native.startswith("Cameras"))
    assert (camera.role, camera.tagged_ids, camera.edge_protection) == ("edge", (), True)
    assert {one.native for one in found if one.role == "off"} == {""}
    assert [one.port for one in found if one.role == "service"] == ["service"]


def test_a_guests_outlet_is_in_the_guests_network_alone(school):
    outlet = next(e for e in school.elements if e.kind == "equipment" and e.model == "outlet-data")
    guests = next(n for n in school.of(Network) if n.purpose == "guest")
    job = changed(school, outlet.label, network_id=guests.id)
    profile = next(p for p in port_profiles(look_at(job)).profiles if p.to_id == outlet.id)
    assert (profile.native_id, profile.tagged_ids, profile.by) == (guests.id, (), "person")


def test_a_name_taken_off_a_point_leaves_its_port(school):
    name = next(e for e in school.elements if e.kind == "ssid" and e.label == "tern-lane-guest")
    job = changed(school, name.label, everywhere=False)
    foyer = next(p for p in port_profiles(look_at(job)).profiles if p.to_label == "Foyer")
    assert foyer.tagged == "Things 40"


@pytest.mark.parametrize("name", list(JOBS))
def test_cords_of_a_rack_take_free_ports_and_trunk_both_ends(name):
    job = JOBS[name]()
    look = look_at(job)
    found = ports(look).ports
    taken = {(p.switch_id, p.port) for p in found if p.run_id}
    kept = kept_cords(job, found)
    ends = [e for c in kept.cords for e in ((c.middle_id, c.middle_port), (c.other_id, c.other_port))]
    assert ends
    assert len(set(ends)) == len(ends)
    assert not set(ends) & taken
    by_port = port_profiles(look).by_port
    assert {by_port[end].role for end in ends} == {"trunk"}
    built = built_as_planned(look)
    joined = {w.a_id for w in built.wires} | {w.b_id for w in built.wires}
    assert {unit.element_id for unit in built.units if unit.wired} <= joined


@pytest.mark.parametrize(
    ("opens", "closes", "quiet"), [(8, 18, 3), (18, 2, 3), (22, 6, 14), (0, 24, None), (2, 4, 15)]
)
def test_the_quiet_hour_is_when_nobody_is_there(opens, closes, quiet):
    site = Site(id="00000000-0000-7000-8000-000000000001", label="Site", opens_h=opens, closes_h=closes)
    assert quiet_hour(site) == quiet
    assert quiet is None or quiet not in open_hours(site)
    assert update_hour(site.model_copy(update={"updates_at_h": 5})) == 5


@pytest.mark.parametrize(
    ("addressing", "code"),
    [("dhcp", "service-dhcp"), ("pppoe", "service-pppoe"), ("static", "service-static")],
)
def test_the_run_book_follows_how_the_service_is_handed_over(addressing, code):
    job = changed(House().job, "Brief", internet={"addressing": addressing})
    codes = [step.code for step in run_book(job).steps]
    assert codes[0] == code
    assert codes.index("console") < codes.index("adopt") < codes.index("settings")


@pytest.mark.parametrize("name", list(JOBS))
def test_every_setting_of_a_demo_job_is_told_with_its_reason(name):
    job = JOBS[name]()
    look = look_at(job)
    told = all_told(job, radio_rows(look), port_profiles(look)).settings
    assert {one.group for one in told} == {"network", "name", "radio", "port", "house"}
    assert all(one.because for one in told)
    assert all("{" not in step.text for step in run_book(job).steps)
    assert settings(look).model_dump_json().count("passphrase") == 0
