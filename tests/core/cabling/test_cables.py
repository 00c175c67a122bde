"""What a cable is held against beside its length: how it burns, how it bends, what comes after."""

import pytest

from heathrise.core.cabling.runs import bend_mm, next_speed
from heathrise.core.findings import assess
from heathrise.core.library import library
from tests.house import House, changed


def told(cable: str, kind: str = "room", domain: str = "etsi-like") -> list[str]:
    """Return what is said of the class of a cable to a point in a room of a kind."""
    house = House(settled=True)
    house.rack()
    house.switch()
    house.d.elements = [
        e.model_copy(update={"space_kind": kind}) if e.kind == "space" else e for e in house.d.elements
    ]
    house.run(house.point(x=9, y=4), "R-01", cable=cable)
    job = changed(house.job, "Site", domain=domain)
    return [f.text for f in assess(job).findings if f.rule == "runs.fire-class"]


@pytest.mark.parametrize(
    ("cable", "kind", "said"),
    [
        ("cat5e-indoor", "room", "Dca is the least indoors"),
        ("cat5e-indoor", "corridor", "Cca is the least on the escape route"),
        ("cat6-indoor", "room", ""),
        ("cat6-indoor", "corridor", ""),
        ("cat6a-plenum", "stair", ""),
    ],
)
def test_a_cable_is_of_a_class_that_may_lie_there(cable, kind, said):
    found = told(cable, kind)
    assert bool(found) == bool(said)
    assert not said or said in found[0]


def test_where_rules_ask_by_rating_no_class_is_asked():
    other = next(code for code, domain in library().domains.items() if not domain.fire_classes)
    assert told("cat5e-indoor", "corridor", other) == []


def test_every_class_on_the_shelf_is_one_of_the_domain():
    known = set(library().domains["etsi-like"].fire_classes)
    assert {cable.fire_class for cable in library().cables.values() if cable.fire_class} <= known


@pytest.mark.parametrize(
    ("cable", "rest", "pulled"),
    [("cat6a-indoor", 30.0, 60.0), ("fibre-os2", 60.0, 120.0), ("hybrid-os2-1-5", 125, 250)],
)
def test_copper_bends_to_four_and_eight_times_its_diameter_and_fibre_to_ten_and_twenty(cable, rest, pulled):
    row = library().cables[cable]
    assert bend_mm(row, "rest") == pytest.approx(rest)
    assert bend_mm(row, "pulled") == pytest.approx(pulled)


@pytest.mark.parametrize(
    ("now", "then"), [(100, 1000), (1000, 2500), (2500, 5000), (5000, 10_000), (10_000, 10_000)]
)
def test_the_next_generation_asks_the_next_speed(now, then):
    assert next_speed(now) == then


def test_a_run_says_whether_it_carries_what_comes_next():
    house = House(settled=True)
    house.rack()
    house.d.space(house.ground, "Hall", (12, 0, 80, 8))
    house.run(house.point("near", x=9, y=4, model="ap-ceiling-wifi6e-4x4"), "R-01", cable="cat6-indoor")
    house.run(house.point("far", x=60, y=4, model="ap-ceiling-wifi6e-4x4"), "R-02", cable="cat6-indoor")
    house.run(house.point("best", x=60, y=6, model="ap-ceiling-wifi6e-4x4"), "R-03", cable="cat6a-indoor")
    found = {run.label: run for run in assess(house.job).runs}
    assert [found[label].next_mbps for label in ("R-01", "R-02", "R-03")] == [10_000] * 3
    assert [found[label].carries_next for label in ("R-01", "R-02", "R-03")] == [True, False, True]


def test_a_switch_on_the_way_without_power_of_its_own_feeds_nothing_and_breaks_nothing():
    house = House(settled=True)
    house.rack()
    house.switch()
    house.run(house.point(x=9, y=4), "R-01")
    place = {"where": "line", "link_id": house.d.id_of("run", "R-01"), "at_m": 5.0}
    house.add("equipment", "Mini", model="switch-8-plain", place=place)
    found = assess(house.job)
    assert [f.rule for f in found.findings if f.rule == "findings.could-not-run"] == []
    (feed,) = found.feeds
    assert not feed.holds
    (run,) = found.runs
    assert run.asks_class == 0
    assert len(run.boxes) == 1
