"""Airtime by hand on a small house, and recital night on the school."""

import numpy as np
import pytest
from demo.tern_lane import tern_lane
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.radio.air import assess_air
from heathrise.core.radio.capacity import Part, Served, parts_by_radio
from heathrise.core.radio.capacity import load_of as load_part
from heathrise.core.radio.rates import usable_share, usable_shares
from heathrise.core.site.brief import HourDemand, SpaceDemand, demand
from heathrise.core.sums import Sum
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
    share = 100 * hour.demand_mbps / rate / usable_share(hour.clients)
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


def demand_of(space_id, mbps, people):
    hours = tuple(HourDemand(hour=h, people=people, clients=people, demand_mbps=mbps) for h in range(24))
    peak = Sum(label="Peak", value=mbps, unit="Mb/s", source="test")
    return SpaceDemand(space_id=space_id, label=space_id, profile="always", hours=hours, peak=peak)


def row_of(job, point="AP 1"):
    return next(row for row in assess_air(job).radio_plan if row.label == point)


def test_parts_are_gathered_by_the_radio_that_serves_them():
    served = {
        "hall": (Served("a", "5", 0.75, 400.0), Served("b", "5", 0.25, 100.0)),
        "office": (Served("a", "5", 1.0, 200.0),),
        "store": (),
    }
    assert parts_by_radio(served) == {
        ("a", "5"): (Part("hall", 0.75, 400.0), Part("office", 1.0, 200.0)),
        ("b", "5"): (Part("hall", 0.25, 100.0),),
    }


ROW = row_of(one_room().job)


@given(
    st.lists(
        st.tuples(st.floats(0.1, 50), st.integers(1, 30), st.floats(0.05, 1), st.floats(20, 800)), max_size=5
    )
)
def test_the_airtime_of_a_radio_is_the_sum_of_its_parts(parts):
    given_parts = [
        (Part(f"s{n}", share, rate), demand_of(f"s{n}", mbps, people))
        for n, (mbps, people, share, rate) in enumerate(parts)
    ]
    load = load_part(ROW, 0.03, given_parts)
    usable = usable_share(max(1.0, sum(people * share for _, people, share, _ in parts)))
    wanted = sum(mbps * share / rate for mbps, _, share, rate in parts) / usable + 0.03
    assert load.peak == pytest.approx(wanted, rel=1e-3, abs=1e-4)
    assert load.sum.lines[-1].value == pytest.approx(3.0)


def test_usable_shares_of_many_are_those_of_each():
    clients = np.array([0.0, 1.0, 3.0, 15.0, 80.0])
    assert list(usable_shares(clients)) == [usable_share(n) for n in clients]
