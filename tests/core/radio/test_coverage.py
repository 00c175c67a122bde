"""The kernel against the plain account, and the laws of coverage."""

import numpy as np
import pytest
from demo.drawing import at
from demo.tern_lane import tern_lane
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.job import AccessPoint, Job, Point
from heathrise.core.library import library
from heathrise.core.radio.account import loudest_accounts, signal_account
from heathrise.core.radio.air import assess_air
from heathrise.core.radio.antenna import pattern
from heathrise.core.radio.coverage import NOTHING_DBM, ranked, signals
from heathrise.core.radio.scene import Grid, scene_of
from heathrise.core.site.building import building_of
from tests.house import House, changed, straight

SCHOOL = tern_lane()
# Off the drawing's own lines: a ray that ends on a wall or grazes a jamb may count it either way.
INSIDE = st.tuples(st.integers(3, 357), st.integers(3, 337)).map(
    lambda n: (n[0] / 10 + 0.0317, n[1] / 10 + 0.0273)
)


def level(job, x, y, z, band="5"):
    """The direct signal: what goes round is tested in test_balance."""
    job = straight(job)
    scene = scene_of(building_of(job))
    heard = signals(job, scene, band, np.array([[x, y, z]]))
    return float(heard.way("weaker").max())


def test_through_free_air_the_budget_is_the_formula():
    house = House()
    house.point(x=3, y=4, radios=[{"band": "5", "power_dbm": 17}])
    # 1.6 m straight down: 17 + 4 - (47.255 + 20 log 1.6) - 3 down, a phone's 14 dBm up.
    assert level(house.job, 3, 4, 1.0) == pytest.approx(14 + 4 - 47.255 - 4.082 - 3, abs=0.01)


def test_a_wall_costs_its_design_value():
    house = House()
    house.point(x=3, y=4, height_m=1.0)
    open_house = changed(house.job, "Ground middle", build_up=None)
    gap = level(open_house, 9, 4, 1.0) - level(house.job, 9, 4, 1.0)
    assert gap == pytest.approx(9, abs=1e-3)


@pytest.mark.parametrize(("band", "loss"), [("2.4", 16), ("5", 24)])
def test_a_floor_costs_its_design_value(band, loss):
    house = House(2)
    house.point(x=3, y=4)
    solid = level(house.job, 3, 4, 4.0, band)
    house.d.space(house.ground, "Atrium", (2, 3, 4, 6), space_kind="atrium")
    assert level(house.job, 3, 4, 4.0, band) - solid == pytest.approx(loss, abs=1e-3)


def test_a_dozen_walls_cost_what_they_cost():
    house = House()
    for n in range(12):
        house.d.wall(house.ground, "stone-500", (6.2 + n / 4, 0), (6.2 + n / 4, 8), label=f"Stone {n}")
    house.point(x=3, y=4, height_m=1.0)
    bare = without_walls(house)
    assert level(bare, 11, 4, 1.0) - level(house.job, 11, 4, 1.0) == pytest.approx(12 * 38 + 9, abs=0.01)


def without_walls(house):
    job = house.job
    return Job(name=job.name, elements=tuple(e for e in job.elements if e.kind != "wall"))


@given(INSIDE, st.sampled_from(["2.4", "5", "6"]), st.booleans(), st.integers(0, 4))
@settings(max_examples=120, deadline=None)
def test_the_kernel_and_the_account_agree(place, band, upstairs, first):
    """Two independent ways: angular sectors in compiled code, Shapely line by line. Every fifth point, from any on."""
    x, y = place
    school = SCHOOL
    storey = school.storeys[int(upstairs)]
    scene = scene_of(building_of(school))
    where = np.array([[x, y, storey.elevation_m + 1.0]])
    heard = signals(school, scene, band, where)
    for i, point in list(enumerate(heard.points))[first::5]:
        account = signal_account(school, scene, point, band, storey.id, at(x, y))
        assert account.sum.value == pytest.approx(float(heard.way("weaker")[i, 0]), abs=0.05)


@given(st.tuples(st.floats(1, 11), st.floats(1, 7)), st.tuples(st.floats(1, 11), st.floats(1, 7)))
@settings(max_examples=40, deadline=None)
def test_more_wall_never_means_more_signal(ap, client):
    house = House()
    house.point(x=round(ap[0], 2), y=round(ap[1], 2))
    before = house.job
    house.d.wall(house.ground, "block-dense-100", (2.02, 0.51), (9.93, 7.49), label="Slanted")
    assert level(house.job, *client, 1.0) <= level(before, *client, 1.0) + 1e-4


@pytest.mark.parametrize("facing", [0, 90, 180, 270])
def test_a_wall_disc_looks_where_it_faces(facing):
    house = House()
    house.point(mount="wall", facing_deg=facing, height_m=1.0, x=3, y=4)
    ahead = {0: (3, 2), 90: (5, 4), 180: (3, 6), 270: (1, 4)}[facing]
    behind = (6 - ahead[0], 8 - ahead[1])
    assert level(house.job, *ahead, 1.0) - level(house.job, *behind, 1.0) == pytest.approx(8, abs=0.01)


def test_a_radio_that_is_off_is_not_on_the_air():
    house = House()
    house.point(radios=[{"band": "5", "power_dbm": 17, "on": False}])
    heard = signals(house.job, scene_of(building_of(house.job)), "5", np.array([[3.0, 4, 1]]))
    assert heard.points == ()
    assert ranked(heard.way("weaker"), 0) == NOTHING_DBM


@pytest.mark.parametrize("name", ["disc", "omni-4"])
def test_a_pattern_is_read_as_the_library_has_it(name):
    angles, levels = zip(*library().patterns[name], strict=True)
    read = pattern(SCHOOL, name)
    for angle in range(0, 181, 3):
        way = (np.cos(np.radians(angle)), np.sin(np.radians(angle)), 0.0)
        told = read.relative_db(way, (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
        assert told == pytest.approx(np.interp(angle, angles, levels), abs=0.01)


def test_ranks_are_in_order():
    levels = np.array([[-60, -80], [-70, -50], [-65, -90]], np.float32)
    assert [list(ranked(levels, k)) for k in range(3)] == [[-60, -50], [-65, -80], [-70, -90]]
    assert list(ranked(levels, 3)) == [NOTHING_DBM, NOTHING_DBM]


def test_a_grid_has_cell_centres_row_by_row():
    points = Grid(-1, 2, 0.5, 3, 2, 1.0).points_m()
    assert points.tolist()[:2] == [[-0.75, 2.25, 1.0], [-0.25, 2.25, 1.0]]
    assert points.tolist()[-1] == [0.25, 2.75, 1.0]


def test_a_space_scores_by_share_and_names_its_worst_place():
    house = House()
    house.point(x=3, y=4, radios=[{"band": "5", "power_dbm": 17}])
    scores = {s.label: s for s in assess_air(house.job).scores}
    assert scores["Ground west"].share == 1.0
    assert scores["Ground west"].holds
    far = scores["Ground east"]
    assert far.worst_dbm < scores["Ground west"].worst_dbm
    assert far.worst_at.x_m > 11
    assert far.worst_point_id == house.job.of(AccessPoint)[0].id


def test_the_need_none_is_not_scored_and_presence_is_judged_at_2_4():
    house = House()
    house.d.space(house.ground, "Shower", (0, 0, 2, 2), need="none")
    house.d.space(house.ground, "Meter", (2, 0, 4, 2), need="presence")
    scores = {s.label: s for s in assess_air(house.job).scores}
    assert "Shower" not in scores
    assert scores["Meter"].band == "2.4"
    assert scores["Meter"].share == 0


def test_the_account_adds_up_and_names_what_is_in_the_way(school):
    scene = scene_of(building_of(school))
    ground = school.storeys[0]
    found = loudest_accounts(school, scene, "5", ground.id, Point(x_m=19.5, y_m=16.5))
    sums = [account.sum for account in found]
    assert len(sums) == 2
    assert sums[0].value >= sums[1].value
    for account in sums:
        assert sum(line.value for line in account.lines) == pytest.approx(account.value, abs=0.02)
    assert any("Percussion" in line.label for account in sums for line in account.lines)
