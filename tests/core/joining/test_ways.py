"""All ways to a thing: each right, and just wrong, on both sides of what it hangs on; and what choosing one does."""

import itertools
import uuid

import pytest
from demo.drawing import at
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.deriving import Memo
from heathrise.core.edit import EditError, apply
from heathrise.core.findings import assess
from heathrise.core.findings.trying import mended_all
from heathrise.core.job import AccessPoint, Equipment, InLine, Job, Link
from heathrise.core.joining.choosing import CHOOSERS, chosen
from heathrise.core.joining.derived import Ways, case_of, ways_to
from heathrise.core.joining.way import WAYS, Way
from heathrise.core.library import library
from tests.house import House, changed


def ids():
    numbers = itertools.count(1)
    return lambda: str(uuid.uuid5(uuid.NAMESPACE_OID, f"made {next(numbers)}"))


def outbuilding(away_m: float = 40) -> Job:
    """The house of the tests and a barn east of it, with an access point in the barn."""
    house = House()
    house.rack()
    house.switch()
    west = 12 + away_m
    corners = ((west, 0), (west + 6, 0), (west + 6, 6), (west, 6), (west, 0))
    house.d.wall(house.ground, "brick-102", *corners, label="Barn outer")
    house.d.space(house.ground, "Barn", (west, 0, west + 6, 6), building="Barn")
    for space in ("Ground west", "Ground east"):
        house.d.elements = [
            e.model_copy(update={"building": "House"}) if e.label == space else e for e in house.d.elements
        ]
    near = house.point("AP house", x=10, y=4)
    house.run(near, "R-01")
    barn = house.point("AP barn", x=west + 3, y=3)
    house.run(barn, "R-02")
    return house.job


def ways(job: Job, label: str = "AP barn") -> Ways:
    thing = next(e for e in job.of(AccessPoint) if e.label == label)
    return ways_to(Memo(job).look, thing.id)


def one(job: Job, code: str, label: str = "AP barn") -> Way:
    return next(way for way in ways(job, label).ways if way.code == code)


def test_every_way_of_the_table_has_its_sum_and_every_sum_its_way():
    assert set(WAYS) == set(library().ways)
    assert set(CHOOSERS) <= set(WAYS)
    for way in ways(outbuilding()).ways:
        assert way.cost.value == pytest.approx(sum(line.value for line in way.cost.lines), abs=0.01)
        assert way.hours.value == pytest.approx(sum(line.value for line in way.hours.lines), abs=0.01)
        assert bool(way.why_not) == (way.throughput is None)
        assert way.depends.endswith(".")
        assert way.risk.endswith(".")


def test_a_part_that_is_a_model_costs_what_the_model_does():
    for info in library().ways.values():
        for part in info.parts:
            assert part.model in library().equipment if part.model else part.label
    lines = {line.label: line.value for line in one(outbuilding(), "fibre").cost.lines}
    assert lines["2 x Media converter 1G"] == 2 * library().equipment["converter-1g"].price


@pytest.mark.parametrize(
    ("away_m", "code", "works", "why"),
    [
        (40, "copper", True, ""),
        (90, "copper", False, "is over the"),
        (40, "extender-chain", False, "One span reaches it"),
        (90, "extender-chain", True, ""),
        (420, "extender-chain", False, "boxes in a row"),
        (40, "fibre", True, ""),
        (900, "fibre", True, ""),
        (40, "fibre-powered", True, ""),
        (6000, "fibre-powered", False, "No pair of the library"),
        (40, "bridge-60", True, ""),
        (400, "bridge-60", True, ""),
        (1800, "bridge-60", False, "Rain passed in"),
        (40, "bridge-5", True, ""),
        (1800, "bridge-5", True, ""),
        (40, "light-beam", True, ""),
        (190, "light-beam", True, ""),
        (210, "light-beam", False, "is over the 200 m"),
        (40, "mesh", False, "too far apart"),
        (40, "powerline", False, "boards of their own"),
        (40, "cellular", True, ""),
        (40, "satellite", True, ""),
    ],
)
def test_a_way_is_in_or_out_by_what_it_hangs_on(away_m, code, works, why):
    way = one(outbuilding(away_m), code)
    assert way.works == works
    assert why in way.why_not


def test_within_one_house_bridges_are_out_and_a_hop_is_judged_by_what_it_hears():
    job = outbuilding()
    for code in ("bridge-60", "bridge-5", "bridge-2", "light-beam"):
        assert "in one house" in one(job, code, "AP house").why_not
        yard = changed(job, "AP house", at=at(20, 4))
        assert "no house of its own" in one(yard, code, "AP house").why_not
    house = House()
    house.rack()
    first = house.point("AP 1", x=2, y=2)
    house.run(first, "R-01")
    house.point("AP 2", x=5, y=6)
    hop = one(house.job, "mesh", "AP 2")
    assert hop.works
    (level,) = hop.checks
    assert level.value >= -65
    # Two transmissions share the channel: a half of the rate, less what is no data.
    rate, on, share = (line.value for line in hop.throughput.lines)
    assert rate == on
    assert hop.throughput.value == pytest.approx(rate / 2 * share, abs=0.1)


@pytest.mark.parametrize(
    ("year", "share"), [(None, 0.1), (1950, 0.1), (1969, 0.1), (1970, 0.2), (1999, 0.2), (2000, 0.3)]
)
def test_mains_wiring_carries_a_share_by_its_age(year, share):
    job = changed(outbuilding(), "Site", built_year=year)
    job = changed(job, "AP house", at=at(11, 7))
    assert one(job, "powerline", "AP house").throughput.value == pytest.approx(1200 * share)


def test_a_house_in_the_path_is_seen_and_said_and_a_low_hedge_is_not_in_the_way():
    house = outbuilding(60)
    d = House().d
    d.elements = list(house.elements)
    ground = house.storeys[0].id
    corners = ((40, -3), (44, -3), (44, 9), (40, 9), (40, -3))
    d.wall(ground, "brick-102", *corners, label="Shed outer")
    d.space(ground, "Shed", (40, -3, 44, 9), building="Shed")
    low = Job(name="shed", elements=tuple(d.elements))
    assert "stands in the path" not in one(low, "bridge-5").why_not or one(low, "bridge-5").checks
    d.add("storey", "Loft", elevation_m=3.0, ceiling_m=9.0, void_m=0.4)
    loft = d.id_of("storey", "Loft")
    d.space(loft, "Shed top", (40, -3, 44, 9), building="Shed")
    high = Job(name="tower", elements=tuple(d.elements))
    tower = one(high, "bridge-5")
    assert not tower.works
    assert "antennas would have to rise" in tower.why_not
    (path,) = tower.checks
    assert not path.holds


def test_no_rack_leaves_the_ways_without_a_cable():
    house = House()
    house.point("AP 1")
    said = {way.code: way for way in ways(house.job, "AP 1").ways}
    for code in ("copper", "fibre", "fibre-powered", "extender-chain"):
        assert "No rack" in said[code].why_not
    assert said["cellular"].works
    with pytest.raises(EditError, match="No rack"):
        chosen(case_of(Memo(house.job).look, house.job.of(AccessPoint)[0].id), "fibre", ids())


def test_what_stands_nowhere_has_no_ways():
    job = outbuilding()
    with pytest.raises(EditError, match="nothing can reach it"):
        ways_to(Memo(job).look, job.site.id)


@given(st.floats(1, 300), st.floats(1, 300))
@settings(max_examples=12, deadline=None)
def test_a_longer_way_never_costs_less_nor_carries_more(one_m, other_m):
    near, far = (
        {way.code: way for way in ways(outbuilding(m)).ways}
        for m in (min(one_m, other_m), max(one_m, other_m))
    )
    for code in ("fibre", "fibre-powered", "bridge-60", "bridge-5", "bridge-2", "light-beam"):
        if far[code].works:
            assert near[code].works
            assert near[code].cost.value <= far[code].cost.value + 0.01
            assert near[code].hours.value <= far[code].hours.value + 0.01
            assert near[code].throughput.value >= far[code].throughput.value


@pytest.mark.parametrize(("build", "label"), [(withy_mill, "Boat store"), (tern_lane, "Portable")])
def test_the_outbuildings_of_the_demo_jobs_are_compared_best_first(build, label):
    found = ways(build(), label)
    assert len(found.houses) == 2
    assert len(found.ways) == len(library().ways)
    order = [(not way.works, not way.meets, way.rank, way.cost.value) for way in found.ways]
    assert order == sorted(order)
    assert found.ways[0].code == ("fibre" if label == "Boat store" else "copper")
    for way in found.ways:
        assert way.why_not or way.throughput.lines


@pytest.mark.parametrize(
    ("build", "label"), [(withy_mill, "Boat store"), (tern_lane, "Portable"), (fern_hollow, "Consulting")]
)
def test_fibre_chosen_brings_all_it_needs_and_no_new_fault_and_one_undo_takes_it_back(build, label):
    job = build()
    thing = next(e for e in job.of(AccessPoint) if e.label == label)
    before = assess(job)
    made = apply(job, chosen(case_of(Memo(job).look, thing.id), "fibre", ids()))
    after = assess(made.job)
    run = next(link for link in made.job.of(Link) if link.b.on == thing.id)
    assert run.medium == "fibre"
    assert not library().cables[run.product].conducts
    on_way = [e for e in made.job.of(Equipment) if isinstance(e.place, InLine) and e.place.link_id == run.id]
    assert sorted(made.job.equipment[e.model].feeds_through for e in on_way) == [False, False, True]
    faults = {f.key for f in after.findings if f.severity == "fault"}
    assert faults <= {f.key for f in before.findings if f.severity == "fault"}
    assert not {f.rule for f in after.findings if run.id in f.subject_ids} & {
        "runs.over-length",
        "links.earths-joined",
        "runs.wrong-rating",
        "power.device-under-fed",
    }
    # What the converters pass is what the chain says, and no port in the rack is asked for power.
    assert next(c for c in after.chains if c.element_id == thing.id).speed_mbps == 1000
    assert next(p for p in after.ports if p.run_id == run.id).needs_class == 0
    assert {line.item for line in after.kit} >= {"fibre-os2", "converter-1g", "ends-fibre"}
    assert ways_to(Memo(made.job).look, thing.id).taken == "fibre"
    back = apply(made.job, made.inverse).job
    assert {e.id: e for e in back.elements} == {e.id: e for e in job.elements}


def test_fibre_in_place_of_a_cable_that_is_there_is_bought():
    job = changed(outbuilding(), "R-02", there=True)
    thing = next(e for e in job.of(AccessPoint) if e.label == "AP barn")
    made = apply(job, chosen(case_of(Memo(job).look, thing.id), "fibre", ids())).job
    assert not next(link for link in made.of(Link) if link.label == "R-02").there
    assert "fibre-os2" in {line.item for line in assess(made).kit}


def test_withy_mill_is_left_without_a_fault_by_two_presses():
    job = withy_mill()
    for rule in ("runs.over-length", "runs.wrong-rating"):
        mended = mended_all(Memo(job), rule)
        assert mended.mended
        assert (mended.left, mended.brings) == (0, ())
        job = apply(job, mended.operations).job
    assert not [f.text for f in assess(job).findings if f.severity == "fault"]


@pytest.mark.parametrize("build", [tern_lane, withy_mill, fern_hollow])
def test_the_demo_jobs_route_whole_and_nothing_of_them_is_left_that_could_be_mended(build):
    job = build()
    assert all(plan.legs for plan in assess(job).runs)
    for _ in range(3):
        mendable = {f.rule for f in assess(job).findings if f.fixes and f.severity == "fault"}
        for rule in sorted(mendable):
            job = apply(job, mended_all(Memo(job), rule).operations).job
    left = [f for f in assess(job).findings if f.severity == "fault"]
    assert not [f.text for f in left if f.fixes]
    assert not [f.text for f in left if f.stage in ("links", "runs", "ports")]


def test_a_sleeve_that_is_not_made_yet_is_made_wider_and_one_that_is_there_is_not():
    job = tern_lane()
    mended = mended_all(Memo(job), "runs.conduit-overfull")
    assert (mended.mended, mended.left, mended.brings) == (1, 0, ())
    after = apply(job, mended.operations).job
    assert not {f.rule for f in assess(after).findings} & {"runs.conduit-overfull", "runs.conduit-tight"}
    there = changed(job, "Comms wall sleeve", there=True)
    assert mended_all(Memo(there), "runs.conduit-overfull").mended == 0


def test_copper_chosen_again_takes_the_boxes_off_and_what_was_never_run_gets_a_run():
    job = withy_mill()
    thing = next(e for e in job.of(AccessPoint) if e.label == "Boat store")
    fibre = apply(job, chosen(case_of(Memo(job).look, thing.id), "fibre", ids())).job
    copper = apply(fibre, chosen(case_of(Memo(fibre).look, thing.id), "copper", ids())).job
    # Copper from house to house takes a guard at both ends, and nothing of what the fibre took.
    new = {t.model for t in copper.of(Equipment)} - {t.model for t in job.of(Equipment)}
    assert new == {"surge-guard"}
    assert len(copper.of(Equipment)) == len(job.of(Equipment)) + 2
    assert all(library().cables[link.product].conducts for link in copper.of(Link) if link.product)
    house = House()
    house.rack()
    house.point("AP new")
    new = apply(
        house.job, chosen(case_of(Memo(house.job).look, house.job.of(AccessPoint)[0].id), "fibre", ids())
    ).job
    (run,) = new.of(Link)
    assert run.medium == "fibre"
    with pytest.raises(EditError, match="two houses"):
        chosen(case_of(Memo(house.job).look, house.job.of(AccessPoint)[0].id), "bridge-5", ids())


def test_fibre_without_a_box_that_feeds_says_that_nothing_comes_over_it():
    job = outbuilding()
    run = next(link for link in job.of(Link) if link.label == "R-02")
    bare = changed(job, "R-02", medium="fibre", product="fibre-os2")
    found = assess(bare)
    feed = next(f for f in found.feeds if f.run_id == run.id)
    assert not feed.holds
    assert feed.worst_pd_v is None
