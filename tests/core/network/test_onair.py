"""Names on the air: where each is, what a press narrows, and what beacons cost where they are heard."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.edit import EditError, apply
from heathrise.core.findings.assess import settings
from heathrise.core.job import AccessPoint, Job, Network, Ssid
from heathrise.core.network.derived import nets
from heathrise.core.network.onair import announced, points_of, put_on_air
from heathrise.core.network.ruled import name_ruled, network_ruled
from heathrise.core.network.splitting import choose_practice, splittings
from heathrise.core.radio.air import radio_rows
from heathrise.core.radio.beacons import name_airtime
from heathrise.core.radio.onair import radio_share, share_of
from tests.house import House, by_label, changed, look_at


def two_storeys() -> House:
    house = House(2)
    for n, storey in enumerate(house.storeys):
        for k in range(2):
            house.point(f"AP {n}{k}", x=2 + 6 * k, storey_id=storey)
    main = house.add("network", "Main", vlan=20, subnet="10.20.20.0/24")
    house.add("ssid", "air", network_id=main)
    return house


def the_name(job: Job) -> Ssid:
    return job.of(Ssid)[0]


def test_everywhere_means_points_that_are_still_to_come():
    house = two_storeys()
    house.point("AP new", x=5)
    assert len(points_of(house.job, the_name(house.job))) == 5


@given(st.lists(st.tuples(st.integers(0, 5), st.booleans()), max_size=10))
def test_any_presses_leave_exactly_the_points_that_were_pressed_on(presses):
    house = two_storeys()
    job = house.job
    points = [point.id for point in job.of(AccessPoint)]
    places = [*points, *house.storeys]
    wanted = set(points)
    for number, on in presses:
        where = places[number]
        mine = {p.id for p in job.of(AccessPoint) if where in (p.id, p.storey_id)}
        wanted = wanted | mine if on else wanted - mine
        job = apply(job, put_on_air(job, the_name(job).id, where, on)).job
        assert points_of(job, the_name(job)) == wanted
    if wanted == set(points) and presses:
        assert the_name(job).everywhere


def test_a_whole_storey_is_kept_as_a_storey():
    house = two_storeys()
    job = apply(house.job, put_on_air(house.job, the_name(house.job).id, house.storeys[1], on=False)).job
    assert the_name(job).storey_ids == (house.storeys[0],)
    assert the_name(job).point_ids == ()


def test_a_band_is_put_on_and_taken_off_and_what_is_gone_is_refused():
    job = two_storeys().job
    job = apply(job, put_on_air(job, the_name(job).id, "5", on=False)).job
    assert the_name(job).bands == ("2.4",)
    job = apply(job, put_on_air(job, the_name(job).id, "6", on=True)).job
    assert the_name(job).bands == ("2.4", "6")
    with pytest.raises(EditError):
        put_on_air(job, the_name(job).id, "00000000-0000-7000-8000-00000000ffff", on=True)


def test_a_point_carries_only_the_airtime_of_its_own_names():
    house = two_storeys()
    job = house.job
    first, *_ = (point.id for point in job.of(AccessPoint))
    whole = radio_share(job, first, "5")
    assert whole == pytest.approx(share_of(the_name(job), "5"))
    off = apply(job, put_on_air(job, the_name(job).id, first, on=False)).job
    assert radio_share(off, first, "5") == 0


def test_newer_security_makes_the_beacon_larger():
    house = two_storeys()
    job = house.job
    plain = changed(job, "air", security="wpa2")
    assert share_of(the_name(plain), "5") == pytest.approx(name_airtime(6, 300))
    assert share_of(the_name(job), "5") == pytest.approx(name_airtime(6, 400))


def test_beacons_are_summed_over_the_points_that_are_really_heard(school):
    look = look_at(school)
    worst, rows = nets(look).beacons, radio_rows(look)
    assert worst is not None
    sums = [
        sum(radio_share(school, i, row.band) for i in (row.point_id, *row.heard_ids))
        for row in rows
        if row.channel is not None and row.on
    ]
    assert worst.value == pytest.approx(100 * max(sums), abs=0.006)
    assert all(len(row.heard_ids) + 1 == row.heard_on_channel for row in rows if row.channel is not None)


def test_one_name_a_point_is_announced_with_the_points_name():
    job = changed(two_storeys().job, "House practice", point_names="per-point")
    point = by_label(job, "AP 01")
    assert isinstance(point, AccessPoint)
    assert announced(job, the_name(job), point) == "air AP 01"
    names = settings(look_at(job)).names
    assert [name.access_points for name in names] == [("AP 00",), ("AP 01",), ("AP 10",), ("AP 11",)]


def test_split_names_cost_more_names_and_choosing_them_changes_the_practice_alone():
    job = two_storeys().job
    look = look_at(job)
    one, split = splittings(job, radio_rows(look), ()).ways
    assert (one.names.value, split.names.value) == (1, 2)
    assert one.chosen
    assert not split.chosen
    chosen = apply(job, choose_practice(job, "band-names", 1)).job
    assert chosen.practice.band_names == "split"
    assert chosen.of(Ssid) == job.of(Ssid)
    with pytest.raises(EditError):
        choose_practice(job, "band-names", 7)


@pytest.mark.parametrize(
    ("purpose", "dtim", "roams", "mbps"),
    [("main", 3, True, None), ("guest", 3, False, 20), ("things", 1, False, None)],
)
def test_what_nobody_set_follows_purpose_and_practice(purpose, dtim, roams, mbps):
    house = House()
    network = house.add("network", "Net", purpose=purpose, vlan=20, subnet="10.20.20.0/24")
    house.add("ssid", "air", network_id=network, fast_roaming=roams)
    ruled = name_ruled(house.job, the_name(house.job))
    assert (ruled["dtim"].value, ruled["client_mbps"].value) == (dtim, mbps)
    assert ruled["fast_roaming"].by == "practice"
    changed_by_hand = name_ruled(
        changed(house.job, "air", fast_roaming=not roams, dtim=7), the_name(house.job)
    )
    assert changed_by_hand["dtim"].value == dtim


def test_what_a_person_set_says_so_and_what_it_would_be():
    house = House()
    house.add("network", "Net", purpose="guest", vlan=33, subnet="10.20.20.0/24", lease_h=2.0, isolated=False)
    ruled = network_ruled(house.job, house.job.of(Network)[0])
    assert (ruled["lease_h"].value, ruled["lease_h"].by) == (2.0, "person")
    assert "Otherwise: 4" in ruled["lease_h"].because
    assert (ruled["isolated"].by, ruled["vlan"].by) == ("person", "person")
    assert ruled["filtering"].by == "default"
