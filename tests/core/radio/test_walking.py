"""Walks on houses whose answer is known by hand."""

import pytest
from demo.drawing import at

from heathrise.core.edit import apply
from heathrise.core.job import Walk
from heathrise.core.radio.scene import scene_of
from heathrise.core.radio.walking import gap_of, play, steps_of
from heathrise.core.site.building import building_of
from tests.house import House, changed


def walked(house, *stops, **body):
    """Play a walk through (storey index, x, y) corners."""
    given = [{"storey_id": house.storeys[s], "at": at(x, y)} for s, x, y in stops]
    house.add("walk", "Walk 1", stops=given, **body)
    job = house.job
    (walk,) = job.of(Walk)
    return play(job, scene_of(building_of(job)), walk)


def two_points(**radio) -> House:
    house = House()
    for label, x in (("West", 1.0), ("East", 11.0)):
        house.point(label, x=x, radios=[{"band": "5", "power_dbm": 17, **radio}])
    return house


def test_a_walk_is_sampled_every_quarter_metre_at_its_pace():
    house = two_points()
    found = walked(house, (0, 1, 4), (0, 11, 4))
    assert found.length_m == 10
    assert found.duration_s == pytest.approx(10 / 1.2, abs=0.1)
    assert [s.along_m for s in found.samples[:3]] == [0, 0.25, 0.5]
    assert len(found.samples) == 41


def test_over_a_stair_the_height_changes_evenly():
    house = House(2)
    house.point()
    house.add("walk", "Walk 1", stops=[{"storey_id": s, "at": at(3, 4)} for s in house.storeys])
    places, along = steps_of(house.job, house.job.of(Walk)[0])
    assert places[0, 2] == 1.0
    assert places[-1, 2] == 4.0
    assert along[-1] == pytest.approx(3.0)


def test_ranks_fall_and_the_one_in_use_is_among_them():
    found = walked(two_points(), (0, 1, 4), (0, 11, 4))
    for sample in found.samples:
        assert sample.best_dbm >= sample.second_dbm >= sample.third_dbm
        assert sample.used_dbm <= sample.best_dbm


def test_near_two_strong_points_the_client_stays():
    """The library's phone looks for another below -70 dBm only."""
    found = walked(two_points(), (0, 1, 4), (0, 11, 4))
    assert found.handovers == ()
    assert {sample.used for sample in found.samples} == {"West"}


def test_it_moves_when_the_old_point_is_weak_and_another_8_db_better():
    house = two_points(power_dbm=0)
    for n in range(3):
        house.d.wall(house.ground, "concrete-150", (5 + n / 2, 0), (5 + n / 2, 8), label=f"Thick {n}")
    found = walked(house, (0, 1, 4), (0, 11, 4))
    (move,) = found.handovers
    assert (move.left, move.joined) == ("West", "East")
    assert move.left_dbm < -70
    assert move.joined_dbm >= move.left_dbm + 8
    assert move.gap_ms == 50
    assert found.samples[-1].used == "East"


def test_a_walk_into_the_field_drops_and_a_point_there_mends_it():
    house = two_points()
    found = walked(house, (0, 9, 4), (0, 75, 4))
    (drop,) = found.drops
    assert drop.to_s - drop.from_s > 1
    assert drop.to_s == pytest.approx(found.duration_s, abs=0.3)
    mended = apply(house.job, drop.fixes[0].operations).job
    again = play(mended, scene_of(building_of(mended)), mended.of(Walk)[0])
    assert sum(d.to_s - d.from_s for d in again.drops) < drop.to_s - drop.from_s


def test_no_access_point_is_one_long_drop():
    found = walked(House(), (0, 1, 4), (0, 11, 4))
    (drop,) = found.drops
    assert (drop.from_s, found.samples[0].used) == (0, None)


def test_a_loud_point_holds_on_to_a_phone_it_cannot_hear():
    house = House()
    house.point("Loud", x=14, radios=[{"band": "5", "power_dbm": 23}])
    house.point("Far", x=80, radios=[{"band": "5", "power_dbm": 17}])
    found = walked(house, (0, 16, 4), (0, 80, 4))
    assert found.sticky
    assert "Lower the power of Loud" in found.sticky[0].text


@pytest.mark.parametrize(("practice", "gap"), [("main", 50), ("on", 50), ("off", 150)])
def test_the_gap_follows_the_practice_until_names_are_there(practice, gap):
    job = changed(House().job, "House practice", fast_roaming=practice)
    assert gap_of(job)[0] == gap


def test_names_without_fast_roaming_ask_for_the_passphrase():
    house = House()
    network = house.add("network", "Main", vlan=10, subnet="10.0.10.0/24")
    house.add("ssid", "Main", network_id=network, fast_roaming=False)
    assert gap_of(house.job) == (150, "passphrase asked for again")
