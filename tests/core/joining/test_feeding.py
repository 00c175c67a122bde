"""Power along light: with mains at the far end, and with a pair of copper in the sheath."""

import pytest

from heathrise.core.cabling.derived import runs
from heathrise.core.job import Job
from heathrise.core.joining.feeding import hybrid_path
from heathrise.core.links.fibre import pair_loop_ohm
from heathrise.core.power.along import FeedPath
from heathrise.core.power.outlets import outlets_of
from heathrise.core.racks.derived import path_of_feed
from heathrise.core.site.derived import building
from tests.house import House, by_label, look_at


def far_point(x: float, cable: str, medium: str, *boxes: tuple[str, str, float]) -> Job:
    house = House(settled=True)
    house.rack(model="rack-12u")
    house.switch()
    house.run(house.point("AP far", x=x), "R-01", cable=cable, medium=medium)
    for label, model, at_m in boxes:
        place = {"where": "line", "link_id": house.d.id_of("run", "R-01"), "at_m": at_m}
        house.add("equipment", label, model=model, place=place)
    return house.job


def path(job: Job) -> FeedPath:
    look, run = look_at(job), by_label(job, "R-01").id
    return hybrid_path(job, runs(look).by_id[run], path_of_feed(look, run))


def hybrid(x: float, *boxes: tuple[str, str, float]) -> Job:
    return far_point(x, "hybrid-os2-1-5", "hybrid", *boxes)


def test_mains_at_the_far_end_feeds_behind_the_light():
    found = path(far_point(80, "fibre-os2", "fibre", ("Injector", "injector-30-2g5", 79.0)))
    assert [step.kind for step in found.steps] == ["source", "cable", "source", "device"]
    light, _, injector, _ = found.steps
    assert "no power" in light.says
    assert (injector.label, injector.outlet) == ("Injector", True)
    assert injector.says.endswith("beside AP far")
    assert found.holds


def test_a_pair_is_drawn_from_its_supply_to_the_booster():
    found = path(hybrid(150, ("Supply", "supply-54", 0.0), ("Booster", "boost-60", 149.0)))
    assert found.steps[0].label == "Supply"
    assert [step.kind for step in found.steps] == ["source", "cable", "source", "device"]
    figures = {figure.label: figure for figure in found.steps[1].figures}
    length_m = next(line.value for line in figures["Loop out and back"].lines if line.unit == "m")
    hottest_c = next(line.value for line in figures["Loop out and back"].lines if line.unit == "C")
    assert figures["Loop out and back"].value == pytest.approx(
        pair_loop_ohm(1.5, length_m, hottest_c), abs=1e-3
    )
    volts = figures["Voltage at the far end"]
    lost = figures["Loop out and back"].value * figures["Current"].value
    assert volts.value == pytest.approx(54.0 - lost, abs=0.05)
    assert volts.limit is not None
    assert found.holds
    assert "licensed" in found.steps[0].caution


def test_a_pair_too_thin_for_its_length_fails_the_whole_way():
    found = path(hybrid(1500, ("Supply", "supply-54", 0.0), ("Booster", "boost-60", 1499.0)))
    assert not found.holds
    assert not found.steps[1].holds


def test_a_pair_without_a_supply_says_so():
    found = path(hybrid(100, ("Booster", "boost-60", 99.0)))
    assert (found.steps[0].label, found.steps[0].holds) == ("No supply on the run yet", False)


def test_what_is_plugged_in_says_where():
    job = far_point(80, "fibre-os2", "fibre", ("Injector", "injector-30-2g5", 79.0))
    found = outlets_of(job, building(look_at(job)))
    assert {one.label: one.where for one in found.things} == {
        "SW1": "TR1",
        "Injector": "on R-01, 79 m from its beginning",
    }
    assert found.most.value == pytest.approx(sum(one.most_w for one in found.things))


def test_what_a_cable_feeds_wants_no_outlet():
    job = hybrid(100, ("Supply", "supply-54", 0.0), ("Booster", "boost-60", 99.0))
    labels = [one.label for one in outlets_of(job, building(look_at(job))).things]
    assert labels == ["SW1", "Supply"]
