"""What stands where in a rack: the heavy below, cords short, decided units never moved."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.edit import Put, Remove, apply
from heathrise.core.job import Equipment, Job, Link, PanelPort, Rack
from heathrise.core.racks.elevation import elevation_of, units_decided, units_mended
from heathrise.core.racks.patching import panels_decided, patches_of
from heathrise.core.switching.derived import ports
from tests.house import House, by_label, look_at

SHELF = (
    "panel-24",
    "panel-48",
    "switch-24-poe",
    "switch-8-plain",
    "gateway-1g",
    "ups-600",
    "ups-900",
    "power-strip",
)


def racked(models, rack="rack-22u", units=()) -> Job:
    house = House(settled=True)
    rack_id = house.rack(model=rack)
    for n, model in enumerate(models):
        unit = units[n] if n < len(units) else None
        place = {"where": "rack", "rack_id": rack_id, "unit": unit}
        house.add("equipment", f"Unit {n}", model=model, place=place)
    return house.job


def rack_of(job: Job) -> str:
    return job.of(Rack)[0].id


def units(job: Job) -> dict[str, int | None]:
    return {one.label: one.unit for one in elevation_of(job, rack_of(job)).items}


def test_the_heavy_stands_at_the_bottom_and_each_switch_under_its_panel():
    job = racked(
        ["switch-24-poe", "ups-600", "panel-24", "switch-24-poe", "panel-24", "gateway-1g", "ups-900"]
    )
    assert units(job) == {
        "Unit 6": 1,  # 27 kg
        "Unit 1": 3,  # 17 kg
        "Unit 5": 18,  # what routes
        "Unit 3": 19,
        "Unit 4": 20,
        "Unit 0": 21,
        "Unit 2": 22,
    }


@given(models=st.lists(st.sampled_from(SHELF), max_size=9), decided=st.lists(st.integers(1, 20), max_size=4))
@settings(max_examples=60, deadline=None)
def test_nothing_proposed_shares_a_unit_and_nothing_decided_moves(models, decided):
    job = racked(models, units=decided)
    items = elevation_of(job, rack_of(job)).items
    spans = {one.element_id: set(range(one.unit, one.unit + one.height_u)) for one in items if one.unit}
    for one in items:
        placed = job.get(Equipment, one.element_id).place
        if placed.unit is not None:
            assert one.unit == placed.unit
        elif one.unit is not None:
            others = [span for key, span in spans.items() if key != one.element_id]
            assert not any(spans[one.element_id] & other for other in others)
            assert max(spans[one.element_id]) <= 22


@given(models=st.lists(st.sampled_from(SHELF), max_size=8), decided=st.lists(st.integers(1, 22), max_size=8))
@settings(max_examples=40, deadline=None)
def test_what_clashes_is_mended_by_moving_nothing_else(models, decided):
    job = racked(models, units=decided)
    before = {one.element_id: one for one in elevation_of(job, rack_of(job)).items}
    after = apply(job, units_mended(job, rack_of(job))).job
    items = elevation_of(after, rack_of(after)).items
    assert not [one.label for one in items if one.clashes]
    for one in items:
        if not before[one.element_id].clashes and before[one.element_id].state == "decided":
            assert one.unit == before[one.element_id].unit


def test_deciding_keeps_what_is_proposed_and_arranging_anew_starts_from_nothing():
    job = racked(["switch-24-poe", "ups-600"], units=[5])
    decided = apply(job, units_decided(job, rack_of(job))).job
    assert units(decided) == units(job) == {"Unit 0": 5, "Unit 1": 1}
    assert units_decided(decided, rack_of(decided)) == ()
    anew = apply(decided, units_decided(decided, rack_of(decided), anew=True)).job
    assert units(anew) == {"Unit 0": 22, "Unit 1": 1}


def test_front_and_rear_of_a_unit_are_two_places_and_a_shelf_takes_none():
    job = racked(["switch-24-poe", "power-strip", "modem-fibre"], units=[9, 9])
    strip = by_label(job, "Unit 1")
    behind = strip.place.model_copy(update={"face": "rear"})
    assert {one.label for one in elevation_of(job, rack_of(job)).items if one.clashes} == {"Unit 0", "Unit 1"}
    job = apply(job, [Put(element=strip.model_copy(update={"place": behind}))]).job
    found = {one.label: one for one in elevation_of(job, rack_of(job)).items}
    assert not found["Unit 1"].clashes
    assert (found["Unit 2"].unit, found["Unit 2"].state) == (None, "on a shelf")


def test_a_label_decides_no_unit():
    one = racked(["switch-24-poe", "panel-24"])
    other = apply(one, [Put(element=by_label(one, "Unit 0").model_copy(update={"label": "Zebra"}))]).job
    assert list(units(one).values()) == list(units(other).values())


# --- patches --------------------------------------------------------------------------------------------------------


def patched(panels: int = 1, runs: int = 3) -> Job:
    house = House(settled=True)
    rack_id = house.rack()
    for n in range(panels):
        place = {"where": "rack", "rack_id": rack_id}
        house.add("equipment", f"PP{n + 1}", model="panel-24", place=place)
    house.switch()
    for n in range(runs):
        house.run(house.point(f"AP {n}", x=1 + n % 10, y=2 + n // 10), f"R-{n + 10}")
    return house.job


def list_of(job: Job):
    return patches_of(job, ports(look_at(job)), elevation_of(job, rack_of(job)))


def test_every_cable_lands_once_in_the_order_of_the_runs_and_its_cord_reaches():
    found = list_of(patched())
    assert [one.panel_port for one in found.patches] == ["1", "2", "3"]
    # Panel and switch stand one unit apart: 44 mm and 0.3 m of slack, and half a metre is on sale.
    assert {one.cord.value for one in found.patches} == {0.5}
    assert found.cords == (("0.5 m blue", 3),)


def test_without_a_panel_cables_are_plugged_straight_in():
    assert {one.state for one in list_of(patched(panels=0)).patches} == {"plugged straight in"}


def test_more_runs_than_panel_ports_are_named():
    assert len(list_of(patched(runs=26)).unlanded) == 2


def test_a_decided_landing_stays_when_runs_come_before_it():
    job = patched()
    job = apply(job, panels_decided(job, [list_of(job)])).job
    gone = next(run for run in job.of(Link) if run.label == "R-10")
    after = apply(job, [Remove(id=gone.id)]).job
    assert [(p.run_label, p.panel_port) for p in list_of(after).patches] == [("R-11", "2"), ("R-12", "3")]


def test_a_panel_taken_out_leaves_the_runs_and_frees_their_landing():
    job = patched()
    job = apply(job, panels_decided(job, [list_of(job)])).job
    panel = by_label(job, "PP1")
    after = apply(job, [Remove(id=panel.id)])
    assert all(run.a.panel is None for run in after.job.of(Link))
    back = apply(after.job, after.inverse).job
    assert {run.a.panel for run in back.of(Link)} == {PanelPort(on=panel.id, port=str(n)) for n in (1, 2, 3)}


def test_two_on_one_panel_port_are_told_apart():
    job = patched()
    panel = PanelPort(on=by_label(job, "PP1").id, port="7")
    puts = [
        Put(element=run.model_copy(update={"a": run.a.model_copy(update={"panel": panel})}))
        for run in job.of(Link)
    ]
    found = list_of(apply(job, puts).job)
    assert [one.panel_port for one in found.patches] == ["7", "", ""]
    assert [job.by_id[run_id].label for run_id in found.unlanded] == ["R-11", "R-12"]


def test_a_port_the_panel_has_not_got_is_refused():
    job = patched()
    run = job.of(Link)[0]
    panel = PanelPort(on=by_label(job, "PP1").id, port="25")
    with pytest.raises(ValueError, match="names port 25 of PP1"):
        apply(job, [Put(element=run.model_copy(update={"a": run.a.model_copy(update={"panel": panel})}))])
