"""Airtime by hand on a small house, and recital night on the school."""

import pytest
from demo.tern_lane import tern_lane

from heathrise.core.radio.air import assess_air
from heathrise.core.radio.rates import usable_share
from heathrise.core.site.brief import demand
from tests.house import House, changed


def one_room(people=20) -> House:
    house = House()
    house.point(radios=[{"band": "5", "power_dbm": 17, "channel": 36, "width_mhz": 20}])
    west = house.d.id_of("space", "Ground west")
    house.d.elements = [
        e.model_copy(update={"people": people}) if e.id == west else e for e in house.d.elements
    ]
    return house


def load_of(job, label="AP 1"):
    return max((load for load in assess_air(job).loads if load.label == label), key=lambda load: load.peak)


def test_airtime_is_demand_over_usable_rate():
    job = one_room().job
    load = load_of(job)
    hour = demand(job).spaces[0].hours[load.peak_hour]
    part = load.sum.lines[0]
    rate = float(part.label.split(" at ")[1].split()[0])
    share = 100 * hour.demand_mbps / rate / usable_share(hour.people)
    assert part.value == pytest.approx(share, rel=0.02)
    assert sum(line.value for line in load.sum.lines) == pytest.approx(load.sum.value, abs=0.2)


def test_nobody_there_leaves_the_beacons():
    job = one_room(people=0).job
    load = load_of(job)
    assert load.peak == 0
    house = one_room(people=0)
    network = house.add("network", "Main", vlan=10, subnet="10.0.10.0/24")
    house.add("ssid", "Main", network_id=network)
    assert 0 < load_of(house.job).peak < 0.02


def test_more_people_never_need_less_air():
    peaks = [load_of(one_room(people).job).peak for people in (1, 5, 20, 100)]
    assert peaks == sorted(peaks)
    assert peaks[-1] > 10 * peaks[1]


def test_a_neighbour_on_the_channel_takes_air():
    house = one_room()
    alone = load_of(house.job).peak
    house.add("neighbour", "Next door", band="5", channel=36, rssi_dbm=-60)
    assert load_of(house.job).peak > alone + 0.25
    house.add("neighbour", "Faint", band="5", channel=36, rssi_dbm=-95)
    assert load_of(house.job).peak == pytest.approx(load_of(house.job).peak)


def test_recital_night_fills_the_hall():
    school = tern_lane()
    crowd = changed(school, "Recital hall", people=400)
    hall = {label: load_of(crowd, label) for label in ("Hall west", "Hall east")}
    assert all(load.peak > 0.5 for load in hall.values())
    usual = {label: load_of(school, label).peak for label in hall}
    assert all(hall[label].peak > usual[label] for label in hall)
