"""How long a rack runs alone, what it draws, heats and sounds like: the sums by hand, and what must always hold."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.job import Job, Rack
from heathrise.core.racks.care import fixings_of
from heathrise.core.racks.derived import loads, path_of_feed, racks, standbys
from heathrise.core.racks.standby import Battery, hours_of, usable_share
from heathrise.core.racks.surroundings import noise_sum
from tests.house import House, changed, look_at


def rack_with(*models, points=4, **rack) -> Job:
    house = House(settled=True)
    rack_id = house.rack(model="rack-22u", **rack)
    house.switch("SW1", "switch-24-poe")
    for n, model in enumerate(models):
        house.add("equipment", f"Unit {n}", model=model, place={"where": "rack", "rack_id": rack_id})
    for n in range(points):
        house.run(house.point(f"AP {n}", x=2 + n, y=4), f"R-{n + 10}", on=("SW1", str(n + 1)))
    camera = house.thing("Camera", x=3, y=6, model="camera-dome")
    phone = house.thing("Phone", x=4, y=6, model="desk-phone")
    house.run(camera, "R-50", on=("SW1", "20"))
    house.run(phone, "R-51", on=("SW1", "21"))
    return house.job


@pytest.mark.parametrize(
    ("chemistry", "hours", "share"),
    [
        ("lithium", 0.1, 0.85),
        ("lithium", 8.0, 0.85),
        ("lead-acid", 0.2, 0.5),
        ("lead-acid", 0.5, 0.5),
        ("lead-acid", 2.0, 0.65),
        ("lead-acid", 5.0, 0.8),
        ("lead-acid", 9.0, 0.8),
    ],
)
def test_what_a_battery_gives_depends_on_how_fast_it_is_emptied(chemistry, hours, share):
    assert usable_share(chemistry, hours) == pytest.approx(share)


def test_lithium_by_hand():
    # 960 Wh x 0.85 x 0.8 at the end of its life, over 120 W.
    hours = hours_of(Battery(960, 1000, "lithium", cold=False), ((1.0, 120.0),))
    assert hours == pytest.approx(960 * 0.85 * 0.8 / 120)


@given(load=st.floats(60, 900), energy=st.floats(100, 3000), cold=st.booleans())
def test_lead_acid_lasts_as_long_as_what_it_gives_in_that_time(load, energy, cold):
    battery = Battery(energy, 5000, "lead-acid", cold)
    hours = hours_of(battery, ((1.0, load),))
    assert hours == pytest.approx(battery.usable_wh(hours) / load)


@given(load=st.floats(20, 900), more=st.floats(1, 500))
def test_more_load_never_lasts_longer_and_shedding_never_shorter(load, more):
    battery = Battery(800, 5000, "lead-acid", cold=False)
    full, less = hours_of(battery, ((1.0, load + more),)), hours_of(battery, ((1.0, load),))
    staged = hours_of(battery, ((0.5, load + more), (0.25, load), (0.25, load)))
    assert full <= staged <= less


def test_phones_are_kept_longest_then_points_and_cameras():
    ways = {way.code: way for way in standbys(look_at(rack_with("ups-600"))).racks[0].rack.ways}
    assert ways["critical"].kept == ("Phone",)
    assert set(ways["high"].lost) == set()
    assert ways["all"].minutes.value < ways["staged"].minutes.value < ways["critical"].minutes.value


def test_points_that_go_dark_take_their_spaces_with_them():
    found = standbys(look_at(rack_with("ups-600"))).racks[0]
    lost = {one.code: one.spaces_lost for one in found.air}
    assert lost["all"] == ()
    assert lost["critical"] == ("Ground west", "Ground east")


def test_a_battery_asked_for_more_than_it_gives_keeps_nothing():
    many = rack_with("ups-600", *["switch-24-poe-2g5"] * 14)
    way = standbys(look_at(many)).racks[0].rack.ways[0]
    assert (way.load.holds, way.minutes.value, way.holds) == (False, 0, False)


def test_heat_is_what_does_not_leave_over_cables():
    plan = racks(look_at(rack_with("gateway-1g"))).racks[0]
    sent = -plan.heat.lines[1].value
    own = 28 + 18
    assert plan.mains.value == pytest.approx(own + sent / 0.88, abs=0.2)
    assert plan.heat.value == pytest.approx(plan.mains.value - sent, abs=0.2)
    assert plan.year.value == pytest.approx(plan.usual.value * 8.76 * 0.3, abs=1)


def test_what_a_rack_costs_is_said_in_the_currency_of_the_house():
    job = changed(rack_with(), "House practice", currency="SEK")
    year = racks(look_at(job)).racks[0].year
    assert {year.unit, year.lines[-1].unit} == {"SEK"}


def test_a_fan_cools_and_a_larger_room_too():
    job = rack_with("gateway-1g")
    warm = racks(look_at(job)).racks[0].rise
    fanned = racks(look_at(changed(job, "TR1", air_m3_h=3000))).racks[0].rise
    assert warm.value > fanned.value >= job.site.climate.indoors_c


@pytest.mark.parametrize(
    ("levels", "total"), [([], 0.0), ([40.0], 40.0), ([40.0, 40.0], 43.0), ([40.0, 30.0], 40.4)]
)
def test_noise_adds_as_power(levels, total):
    assert noise_sum("TR1", [(str(n), db) for n, db in enumerate(levels)]).value == pytest.approx(
        total, abs=0.05
    )


@pytest.mark.parametrize(
    ("studs", "board", "meet"),
    [
        (None, False, None),
        (None, True, True),
        (440, False, True),
        (220, False, True),
        (400, False, False),
        (610, False, False),
    ],
)
def test_the_holes_of_a_wall_rack_meet_the_studs_or_a_board(studs, board, meet):
    rack = rack_with(studs_mm=studs, backing_board=board).of(Rack)[0]
    assert fixings_of(rack.model_copy(update={"model": "rack-12u"})).meet is meet


def test_a_floor_rack_hangs_on_nothing():
    assert fixings_of(rack_with().of(Rack)[0]).meet is True


# --- loads ----------------------------------------------------------------------------------------------------------


def test_the_three_limits_stand_side_by_side():
    (one,) = loads(look_at(rack_with())).switches
    assert (one.cap.value, one.cap.limit) == (4, 4)
    assert (one.number.value, one.number.limit) == (6, 24)
    assert one.total.limit == 250


def test_lamps_at_night_and_heaters_in_the_cold_are_asked_for_on_top_and_never_more_than_most():
    cases = {case.code: case.watts.value for case in loads(look_at(rack_with())).switches[0].cases}
    assert cases["usual"] < cases["night"] <= cases["cold"] <= cases["planned"] < cases["one-more"]
    assert cases["night"] - cases["usual"] == pytest.approx(3.0, abs=0.2)


def test_everything_at_its_most_is_the_budget_by_maximum_also_past_a_point_that_passes_power_on():
    house = House(settled=True)
    house.rack()
    house.switch("SW1", "switch-24-poe")
    point = house.point("AP wall", x=5, y=4, model="ap-wall-wifi6-pass")
    house.run(point, "R-20", on=("SW1", "5"))
    house.d.run("R-21", point, house.thing("Camera", x=5, y=6, model="camera-dome"), "cat6-indoor", "powered")
    (one,) = loads(look_at(house.job)).switches
    planned = next(case for case in one.cases if case.code == "planned")
    assert planned.watts.value == pytest.approx(one.by_maximum.value, abs=0.1)
    assert planned.watts.value > 11.5 + 9


def test_a_panel_drawn_in_its_wall_keeps_both_sides_free():
    house = House(settled=True)
    house.rack(x=6.5, y=4)
    job = house.job
    for x in (5.95, 6.0, 6.05):
        house.d.elements = list(job.elements)
        house.add(
            "fixture",
            f"Board {x}",
            fixture_kind="electrical-panel",
            storey_id=house.ground,
            at={"x_m": x, "y_m": 4},
        )
        assert [near.holds for near in racks(look_at(house.job)).racks[0].near] == [False], x


def test_a_switch_that_does_not_negotiate_reserves_by_class_whatever_is_drawn():
    house = House(settled=True)
    house.rack()
    house.switch("SW1", "switch-8-poe")
    for n in range(3):
        house.run(house.point(f"AP {n}", x=2 + n, y=4), f"R-{n + 10}", on=("SW1", str(n + 1)))
    (one,) = loads(look_at(house.job)).switches
    assert one.forced
    assert {case.watts.value for case in one.cases} == {90.0, 120.0}
    # Three times 30 W of 60: the last port goes first, then the one before it.
    planned = next(case for case in one.cases if case.code == "planned")
    assert [gone.label for gone in planned.shed] == ["AP 2"]


def test_who_is_to_be_kept_longest_is_let_go_last():
    house = House(settled=True)
    house.rack()
    house.switch("SW1", "switch-8-poe")
    for n, priority in enumerate(("critical", "low", "high")):
        point = house.point(f"AP {n}", x=2 + n, y=4)
        house.run(point, f"R-{n + 10}", on=("SW1", str(n + 1)), priority=priority)
    (one,) = loads(look_at(house.job)).switches
    more = next(case for case in one.cases if case.code == "one-more")
    assert [gone.label for gone in more.shed] == ["AP 1", "AP 2"]


def test_another_switch_takes_over_what_it_has_ports_and_watts_for():
    house = House(settled=True)
    house.rack()
    house.switch("SW1", "switch-24-poe")
    house.switch("SW2", "switch-8-poe")
    for n in range(6):
        house.run(house.point(f"AP {n}", x=2 + n, y=4), f"R-{n + 10}", on=("SW1", str(n + 1)))
    by = {one.label: one for one in loads(look_at(house.job)).switches}
    (other,) = by["SW1"].over
    # Four powered ports, 60 W: three points of some 15 W fit and the fourth does not by a watt.
    watts = by["SW1"].cases[0].watts.lines[0].value
    assert len(other.takes) == min(4, math.floor(60 / watts))
    assert len(other.takes) + len(other.left) == 6


def test_power_along_a_run_agrees_with_its_verdict_and_each_figure_has_its_sum():
    job = rack_with()
    look = look_at(job)
    run = next(e for e in job.elements if e.label == "R-10")
    path = path_of_feed(look, run.id)
    assert [step.kind for step in path.steps] == ["source", "cable", "device"]
    source, cable, device = path.steps
    assert source.label == "SW1/1"
    volts = {figure.label: figure.value for figure in (*cable.figures, *device.figures)}
    assert volts["Volts at its far end"] == pytest.approx(volts["Volts at full load"], abs=0.01)
    assert volts["At its near end"] == pytest.approx(14.5 + volts["Lost in it"], abs=0.02)
    assert all(figure.formula and figure.source for step in path.steps for figure in step.figures)


def test_an_injector_on_the_way_is_drawn_with_its_outlet_and_its_caution():
    house = House(settled=True)
    house.rack()
    house.switch("SW1", "switch-8-plain")
    house.run(house.point("AP 1", x=3, y=4), "R-10", on=("SW1", "1"))
    house.injector("R-10")
    job = house.job
    run = next(e for e in job.elements if e.label == "R-10")
    path = path_of_feed(look_at(job), run.id)
    source = path.steps[0]
    assert source.outlet
    assert path.gives_up == ""
    assert "mains last" in source.caution
