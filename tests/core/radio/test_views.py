"""What the terrain can show: laws between the layers, and each on a house whose answer is known."""

import numpy as np
import pytest
import shapely
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill

from heathrise.core.job import AccessPoint
from heathrise.core.library import library
from heathrise.core.radio.scene import scene_of
from heathrise.core.radio.views import LAYERS, AirView, need_dbm, see, without
from heathrise.core.site.building import building_of
from tests.house import House

SCHOOL = tern_lane()


def air_view(job, band="5", storey=0):
    scene = scene_of(building_of(job))
    return AirView(job, scene, band, scene.grid(job.storeys[storey].id))


SEEN = air_view(SCHOOL)


def test_every_layer_of_the_library_can_be_seen_and_every_one_seen_is_in_it():
    assert set(LAYERS) | {"difference"} == set(library().layers)


@pytest.mark.parametrize("name", sorted(LAYERS))
@pytest.mark.parametrize("band", ["2.4", "6"])
def test_every_layer_has_a_value_at_every_place(name, band):
    where = air_view(SCHOOL, band, 1)
    values = see(where, name)
    assert values.shape == (where.count,)
    assert np.isfinite(values[~np.isnan(values)]).all()
    assert name == "chance" or not np.isnan(values).any()


@pytest.mark.parametrize("name", sorted(LAYERS))
def test_a_job_without_access_points_can_be_looked_at(name):
    assert len(see(air_view(House().job), name)) > 0


def test_ranks_fall_and_interference_only_takes():
    assert (see(SEEN, "best") >= see(SEEN, "second")).all()
    assert (see(SEEN, "second") >= see(SEEN, "third")).all()
    assert (see(SEEN, "snr") >= see(SEEN, "sinr") - 1e-4).all()
    assert (see(SEEN, "phy") >= see(SEEN, "usable")).all()


def test_the_worst_of_all_failures_is_the_second_signal():
    """Whichever point fails, no place is left with less than its second signal."""
    least = np.min([see(air_view(without(SCHOOL, p.id)), "best") for p in SCHOOL.of(AccessPoint)], axis=0)
    assert np.allclose(least, see(SEEN, "failed"), atol=1e-4)


def test_a_failed_point_leaves_a_hole_where_it_stood():
    point = next(p for p in SCHOOL.of(AccessPoint) if p.label == "Foyer")
    loss = see(SEEN, "best") - see(air_view(without(SCHOOL, point.id)), "best")
    assert (loss >= -1e-4).all()
    assert loss.max() > 10


def test_two_points_on_one_channel_disturb_each_other_and_on_two_do_not():
    house = House()
    for label, x in (("One", 3), ("Two", 9)):
        house.point(label, x=x, radios=[{"band": "5", "power_dbm": 17, "channel": 36, "width_mhz": 20}])
    shared = see(air_view(house.job), "sinr")
    assert (see(air_view(house.job), "overlap") == 2).mean() > 0.9
    two = house.d.id_of("access-point", "Two")
    radio = {"band": "5", "power_dbm": 17, "channel": 100, "width_mhz": 20}
    house.d.elements = [
        AccessPoint.model_validate(e.model_dump() | {"radios": [radio]}) if e.id == two else e
        for e in house.d.elements
    ]
    apart = see(air_view(house.job), "sinr")
    assert (apart - shared).mean() > 5
    assert np.allclose(apart, see(air_view(house.job), "snr"), atol=0.01)


def test_a_neighbour_on_the_channel_costs_snr():
    house = House()
    house.point(radios=[{"band": "5", "power_dbm": 17, "channel": 36, "width_mhz": 20}])
    quiet = see(air_view(house.job), "sinr")
    house.add("neighbour", "Next door", band="5", channel=36, rssi_dbm=-70)
    assert (quiet - see(air_view(house.job), "sinr")).min() > 15


def test_the_chance_is_a_half_at_the_need_and_grows_over_it():
    levels, chance, needs = see(SEEN, "best"), see(SEEN, "chance"), need_dbm(SEEN)
    for need in np.unique(needs[~np.isnan(needs)]):
        here = np.flatnonzero(needs == need)
        by_level = chance[here[np.argsort(levels[here])]]
        assert (np.diff(by_level) >= -1e-3).all()
        near = here[np.abs(levels[here] - need) < 0.2]
        assert not len(near) or 40 < chance[near].mean() < 60
    assert 0 <= np.nanmin(chance) < np.nanmax(chance) <= 100


def test_the_earth_round_a_cellar_has_no_air():
    mill = withy_mill()
    cellar = min(range(len(mill.storeys)), key=lambda n: mill.storeys[n].elevation_m)
    seen = air_view(mill, storey=cellar)
    values, points = see(seen, "best"), seen.grid.points_m()
    building = building_of(mill)
    for space in building.spaces[mill.storeys[cellar].id]:
        inside = shapely.contains_xy(building.polygons[space.id], points[:, 0], points[:, 1])
        assert not np.isnan(values[inside]).any()
    assert np.isnan(values[points[:, 0] > building.bounds.x1_m - 1.0]).all()
