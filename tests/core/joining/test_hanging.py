"""Ways that are no cable to a rack, put into the job and taken out again; chains of boxes; power in a fibre's sheath."""

import itertools
import uuid

import pytest
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.boxes import Box, spans_m
from heathrise.core.deriving import Memo
from heathrise.core.edit import EditError, Put, apply
from heathrise.core.findings import assess
from heathrise.core.job import AccessPoint, Equipment, InLine, Job, Link
from heathrise.core.joining.choosing import CHOOSERS, chosen
from heathrise.core.joining.derived import case_of, ways_to
from heathrise.core.joining.hanging import mesh_of, mesh_of_all
from heathrise.core.joining.way import WAYS
from heathrise.core.library import library
from heathrise.core.links.meshing import mesh_study, meshes
from tests.core.joining.test_ways import outbuilding
from tests.house import House, by_label, changed


def ids():
    numbers = itertools.count(1)
    return lambda: str(uuid.uuid5(uuid.NAMESPACE_OID, f"hung {next(numbers)}"))


def home(second=(9.0, 4.0), third=(11.0, 7.0)) -> Job:
    """A house with one point on a cable and two without."""
    house = House(settled=True)
    house.rack()
    house.switch()
    house.add("service-entry", "Entry", storey_id=house.ground, at={"x_m": 1, "y_m": 0.2})
    house.run(house.point("AP 1", x=3, y=4), "R-01")
    house.point("AP 2", x=second[0], y=second[1])
    house.point("AP 3", x=third[0], y=third[1])
    return house.job


def take(job: Job, code: str, label: str = "AP 2", new_id=None) -> Job:
    return apply(job, chosen(case_of(Memo(job).look, by_label(job, label).id), code, new_id or ids())).job


def taken(job: Job, label: str = "AP 2") -> str | None:
    return ways_to(Memo(job).look, by_label(job, label).id).taken


def chain(job: Job, label: str = "AP 2"):
    return next(c for c in assess(job).chains if c.label == label)


def test_every_way_can_be_put_into_the_job():
    assert set(CHOOSERS) == set(WAYS)


INSIDE = (
    "copper",
    "fibre",
    "fibre-powered",
    "mesh",
    "repeater",
    "powerline",
    "powerline-point",
    "cellular",
    "satellite",
)


@pytest.mark.parametrize("code", INSIDE)
def test_a_way_taken_reaches_the_core_is_known_for_what_it_is_and_leaves_no_new_fault(code):
    job = home()
    before = {f.key for f in assess(job).findings if f.severity == "fault"}
    after = take(job, code)
    assert taken(after) == code
    assert chain(after).holds
    new = [f.text for f in assess(after).findings if f.severity == "fault" and f.key not in before]
    assert new == []


@pytest.mark.parametrize(("first", "then"), list(itertools.permutations(INSIDE, 2)))
def test_one_way_after_another_leaves_nothing_of_the_first(first, then):
    made = ids()
    job = home()
    no_port = first in ("repeater", "powerline-point")
    if no_port and library().ways[then].wired:
        with pytest.raises(EditError, match="no port"):
            take(take(job, first, new_id=made), then, new_id=made)
        return
    both = take(take(job, first, new_id=made), then, new_id=made)
    # A repeater that hangs on another point is one, whatever it is asked to be.
    assert taken(both) == ("repeater" if first == "repeater" and then == "mesh" else then)
    alone = take(job, then)
    # A repeater or a point on the mains is another model, which no later way takes back: a person chose that.
    if not no_port:
        assert len(both.of(Link)) == len(alone.of(Link))
        assert sorted(t.model for t in both.of(Equipment)) == sorted(t.model for t in alone.of(Equipment))


def test_a_point_that_a_plug_feeds_has_no_port_for_a_cable_and_the_cable_ways_say_so():
    job = take(home(), "repeater")
    for way in ways_to(Memo(job).look, by_label(job, "AP 2").id).ways:
        if way.code in ("copper", "fibre", "extender-chain"):
            assert "no port" in way.why_not


# --- mesh -----------------------------------------------------------------------------------------------------------


def test_the_tree_takes_the_least_airtime_and_says_what_each_hop_leaves():
    nodes = {n.label: n for n in mesh_study(Memo(home()).look)}
    assert nodes["AP 2"].parent_label == nodes["AP 3"].parent_label == "AP 1"
    assert nodes["AP 2"].second_label == "AP 3"
    # A hop and its clients wait for each other: half the rate, less the share that is no data.
    rate, on, share = (line.value for line in nodes["AP 2"].throughput.lines)
    assert nodes["AP 2"].mbps == pytest.approx(rate * on / (rate + on) * share, abs=0.1)


def test_two_shared_hops_leave_a_third_and_a_radio_set_aside_nine_tenths_a_hop():
    job = home((9, 4), (11, 7))
    links = [("AP 1", "AP 2"), ("AP 2", "AP 3")]
    puts = [
        Put(element=Link(id=new, label=f"{a} {b}", medium="mesh", a=end(job, a), b=end(job, b)))
        for (a, b), new in zip(links, (ids()(), str(uuid.uuid4())), strict=True)
    ]
    far = next(n for n in meshes(Memo(apply(job, puts).job).look) if n.label == "AP 3")
    assert far.hops == 2
    rates = [line.value for line in far.throughput.lines[:-1]]
    assert len(rates) == 3
    share = far.throughput.lines[-1].value
    assert far.mbps == pytest.approx(share / sum(1 / rate for rate in rates), abs=0.2)
    aside = apply(job, puts).job
    for label in ("AP 1", "AP 2", "AP 3"):
        radios = [{"band": "2.4", "power_dbm": 14}, {"band": "5", "power_dbm": 17, "aside": True}]
        aside = changed(aside, label, radios=radios)
    own = next(n for n in meshes(Memo(aside).look) if n.label == "AP 3")
    assert own.aside
    rates = [line.value for line in own.throughput.lines if line.unit == "Mb/s"]
    assert own.mbps == pytest.approx(min(rates) * 0.81 * share, abs=0.2)
    assert own.mbps > far.mbps


def end(job: Job, label: str):
    return {"on": by_label(job, label).id}


def test_a_radio_set_aside_serves_nobody_and_keeps_its_channel():
    job = changed(home(), "AP 1", radios=[{"band": "5", "power_dbm": 17, "aside": True}])
    job = apply(
        job, [Put(element=by_label(job, f"AP {n}").model_copy(update={"pinned": True})) for n in (2, 3)]
    ).job
    found = assess(job)
    row = next(r for r in found.radios if r.label == "AP 1" and r.band == "5")
    assert row.channel is not None
    west = next(s for s in found.spaces if s.label == "Ground west")
    served = next(s for s in assess(home()).spaces if s.label == "Ground west")
    assert west.worst_dbm < served.worst_dbm


def test_all_that_hang_together_stand_on_the_channel_of_the_one_with_the_cable():
    job = apply(home(), mesh_of_all(Memo(home()).look, ids())).job
    found = assess(job)
    on = {row.label: row.channel for row in found.radios if row.band == "5"}
    assert len({on["AP 1"], on["AP 2"], on["AP 3"]}) == 1
    assert not [f for f in found.findings if f.rule.startswith("links.mesh") and f.severity == "fault"]
    assert not [f for f in found.findings if f.rule == "runs.no-run"]
    # Each is fed where it stands, and each is on the list.
    assert sum(isinstance(t.place, InLine) for t in job.of(Equipment)) == 2
    assert next(line.order for line in found.kit if line.label == "Injector 30 W") == 2
    with pytest.raises(EditError, match="no access point without a cable"):
        mesh_of_all(Memo(job).look, ids())


def test_a_node_that_hears_nobody_is_told_what_it_hears_and_is_hung_on_nothing():
    job = home((9, 4), (90, 4))
    nodes = {n.label: n for n in mesh_of(Memo(job).look).nodes}
    assert not nodes["AP 3"].holds
    assert "-65 dBm is the least" in nodes["AP 3"].why_not
    made = apply(job, mesh_of_all(Memo(job).look, ids())).job
    hung = {link.b.on for link in made.of(Link) if link.medium == "mesh"}
    assert hung == {by_label(job, "AP 2").id}
    alone = House(settled=True)
    alone.point("AP only")
    (node,) = mesh_of(Memo(alone.job).look).nodes
    assert node.why_not == "It hears no other access point."


def test_points_that_hang_on_each_other_reach_no_cable_and_are_told_so():
    job = home()
    pairs = (("AP 2", "AP 3"), ("AP 3", "AP 2"))
    new = ids()
    puts = [
        Put(element=Link(id=new(), label=f"{a} {b}", medium="mesh", a=end(job, a), b=end(job, b)))
        for a, b in pairs
    ]
    ring = apply(job, puts).job
    found = assess(ring)
    weak = [f for f in found.findings if f.rule == "links.mesh-weak"]
    assert len(weak) == 2
    assert all("No way leads" in f.text for f in weak)
    assert not chain(ring).holds


@given(x=st.floats(1, 11), y=st.floats(0.5, 7.5))
@settings(max_examples=15, deadline=None)
def test_what_a_hop_carries_never_exceeds_what_its_slowest_part_does(x, y):
    for node in mesh_study(Memo(home((x, y))).look):
        if node.throughput is not None:
            rates = [line.value for line in node.throughput.lines if line.unit == "Mb/s"]
            assert node.mbps <= min(rates) + 0.1


@pytest.mark.parametrize("build", [tern_lane, fern_hollow])
def test_a_demo_job_without_one_cable_can_be_hung_where_it_hears(build):
    job = build()
    for point in job.of(AccessPoint):
        look = Memo(job).look
        way = next(w for w in ways_to(look, point.id).ways if w.code == "mesh")
        node = case_of(look, point.id).node
        assert way.works == (node.holds and not case_of(look, point.id).is_apart)


# --- chains of boxes ------------------------------------------------------------------------------------------------


@given(
    length=st.floats(1, 500),
    places=st.lists(st.one_of(st.none(), st.floats(0, 600)), max_size=4),
)
def test_the_spans_of_a_chain_add_up_to_its_length(length, places):
    boxes = tuple(
        Box(box_id=str(n), label="", at_m=at_m, takes_class=6, gives_class=4, max_w=3, typical_w=2)
        for n, at_m in enumerate(places)
    )
    spans = spans_m(boxes, length)
    assert len(spans) == len(places) + 1
    assert sum(spans) == pytest.approx(length)
    assert min(spans) >= 0


@pytest.mark.parametrize(("away_m", "boxes"), [(110, 1), (200, 2), (280, 3)])
def test_a_chain_has_as_many_boxes_as_spans_ask_for_and_watts_left_at_each(away_m, boxes):
    job = take(outbuilding(away_m), "extender-chain", "AP barn")
    found = assess(job)
    run = next(r for r in found.runs if r.to_label == "AP barn")
    assert len(run.boxes) == boxes
    assert run.holds
    assert run.span_m == pytest.approx(run.length_m / (boxes + 1), abs=0.02)
    assert run.asks_class == 6
    feed = next(f for f in found.feeds if f.run_id == run.run_id)
    assert feed.holds
    # What is drawn at the port is what the thing draws, the boxes' own, and what the cable takes.
    assert feed.sum.lines[-1].value > 14.5 + boxes * 3.5
    assert next(p for p in found.ports if p.run_id == run.run_id).needs_class == 6
    assert chain(job, "AP barn").speed_mbps == 1000
    one_less = next(t for t in job.of(Equipment) if t.label == "Extender 1 of R-02")
    short = changed(job, one_less.label, place={"where": "line", "link_id": run.run_id, "at_m": 2.0})
    assert not next(r for r in assess(short).runs if r.run_id == run.run_id).holds
    over = next(f for f in assess(short).findings if f.rule == "runs.over-length")
    assert "has a span of" in over.text


def test_a_boxs_second_outlet_feeds_a_second_thing_from_where_it_stands():
    job = take(outbuilding(110), "extender-chain", "AP barn")
    extender = by_label(job, "Extender 1 of R-02")
    camera = Equipment.model_validate(
        {
            "id": str(uuid.uuid4()),
            "label": "Camera on the way",
            "kind": "equipment",
            "model": "camera-dome",
            "place": {"where": "sheet", "storey_id": job.storeys[0].id, "at": {"x_m": 70, "y_m": 4}},
        }
    )
    second = Link(
        id=str(uuid.uuid4()),
        label="R-50",
        product="cat6a-outdoor-lszh",
        a={"on": extender.id},
        b={"on": camera.id},
    )
    both = apply(job, [Put(element=camera), Put(element=second)]).job
    found = assess(both)
    branch = next(r for r in found.runs if r.label == "R-50")
    assert branch.length_m < 40
    feeds = {f.label: f for f in found.feeds}
    assert feeds["R-50"].holds
    alone = next(f for f in assess(job).feeds if f.label == "R-02")
    assert feeds["R-02"].max_source_w > alone.max_source_w + 4
    assert chain(both, "Camera on the way").holds


# --- power in a fibre's sheath --------------------------------------------------------------------------------------


def test_fibre_with_power_takes_the_thinnest_pair_that_feeds_it_and_says_when_another_is_too_thin():
    job = take(outbuilding(200), "fibre-powered", "AP barn")
    run = next(link for link in job.of(Link) if link.label == "R-02")
    assert run.medium == "hybrid"
    assert run.product == "hybrid-os2-0-75"
    on_way = [t.model for t in job.of(Equipment) if isinstance(t.place, InLine)]
    assert sorted(on_way) == [
        "boost-30",
        "converter-1g",
        "converter-1g",
        "supply-54",
        "surge-guard",
        "surge-guard",
    ]
    far = take(outbuilding(900), "fibre-powered", "AP barn")
    thicker = next(link for link in far.of(Link) if link.label == "R-02")
    assert thicker.product == "hybrid-os2-1-5"
    thin = changed(far, "R-02", product="hybrid-os2-0-75")
    assert [f.rule for f in assess(thin).findings if f.rule == "links.dc-low"]
    assert not [f.rule for f in assess(far).findings if f.rule == "links.dc-low"]


# --- what is taken away, and what is not ----------------------------------------------------------------------------


def test_a_switch_on_a_wall_that_somebody_put_there_stays_when_what_hangs_on_it_goes_another_way():
    house = House(settled=True)
    house.rack()
    house.switch()
    first, second = house.point("AP 1", x=9, y=4), house.point("AP 2", x=11, y=7)
    wall = house.add(
        "equipment",
        "On the wall",
        model="switch-8-poe",
        place={"where": "sheet", "storey_id": house.ground, "at": {"x_m": 8, "y_m": 6}},
    )
    house.run(wall, "R-01")
    for n, point in enumerate((first, second), 2):
        house.d.run(f"R-0{n}", wall, point, "cat6a-indoor", None)
    job = take(house.job, "fibre", "AP 1")
    assert by_label(job, "On the wall").id == wall
    assert {link.label for link in job.of(Link)} == {"R-01", "R-02", "R-03"}


def test_a_router_that_serves_two_stays_with_the_other():
    job = take(home(), "cellular")
    router = by_label(job, "Router of AP 2")
    second = Link(
        id=str(uuid.uuid4()), label="R-60", product="cat6a-indoor", a={"on": router.id}, b=end(job, "AP 3")
    )
    both = apply(job, [Put(element=second)]).job
    after = take(both, "copper", "AP 2", new_id=ids())
    assert by_label(after, "Router of AP 2").id == router.id
    assert taken(after, "AP 3") == "cellular"
    assert taken(after, "AP 2") == "copper"
