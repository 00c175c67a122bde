"""A bridge put into the job: what it brings, that everything behind it works, and that it is taken back."""

import uuid

import pytest
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.deriving import Memo
from heathrise.core.edit import Put, Remove, apply
from heathrise.core.findings import assess
from heathrise.core.job import AccessPoint, Equipment, InLine, Job, Link, Rack
from heathrise.core.joining.choosing import chosen
from heathrise.core.joining.derived import case_of, ways_to
from tests.core.joining.test_ways import outbuilding
from tests.house import changed

BRIDGES = ("bridge-60", "bridge-5", "bridge-2", "light-beam")


def taken(job: Job, way: str, label: str = "AP barn"):
    thing = next(e for e in job.of(AccessPoint) if e.label == label)
    return apply(job, chosen(case_of(Memo(job).look, thing.id), way, lambda: str(uuid.uuid4())))


@pytest.mark.parametrize("way", BRIDGES)
@pytest.mark.parametrize(
    ("build", "label"), [(outbuilding, "AP barn"), (withy_mill, "Boat store"), (tern_lane, "Portable")]
)
def test_a_bridge_chosen_brings_all_it_needs_and_no_new_fault_and_one_undo_takes_it_back(way, build, label):
    job = build()
    thing = next(e for e in job.of(AccessPoint) if e.label == label)
    offered = next(w for w in ways_to(Memo(job).look, thing.id).ways if w.code == way)
    before = assess(job)
    made = taken(job, way, label)
    after = assess(made.job)
    (plan,) = after.bridges
    assert plan.holds
    assert plan.mbps == offered.throughput.value
    faults = {f.key for f in after.findings if f.severity == "fault"}
    assert faults <= {f.key for f in before.findings if f.severity == "fault"}
    chain = next(c for c in after.chains if c.element_id == thing.id)
    assert chain.holds
    assert chain.speed_mbps == min(1000, int(plan.mbps))
    assert plan.label in chain.way
    assert {line.item for line in after.kit} >= {
        made.job.get(Equipment, plan.ends[0].unit_id).model,
        "rack-6u",
    }
    assert ways_to(Memo(made.job).look, thing.id).taken == way
    back = apply(made.job, made.inverse).job
    assert {e.id: e for e in back.elements} == {e.id: e for e in job.elements}


def test_everything_in_the_outbuilding_goes_behind_the_bridge():
    job = withy_mill()
    after = assess(taken(job, "bridge-60", "Boat store").job)
    assert not [f.text for f in after.findings if f.rule in ("runs.over-length", "links.earths-joined")]
    behind = [run for run in after.runs if run.from_label != "TR1"]
    assert {run.to_label for run in behind} >= {"Boat store"}
    assert len(behind) >= 3


@pytest.mark.parametrize("way", ["fibre", "copper"])
def test_another_way_chosen_after_a_bridge_leaves_nothing_of_it(way):
    job = withy_mill()
    bridged = taken(job, "bridge-5", "Boat store").job
    other = taken(bridged, way, "Boat store").job
    straight = taken(job, way, "Boat store").job
    assert len(other.of(Rack)) == len(job.of(Rack))
    assert not [link for link in other.of(Link) if link.medium == "bridge"]
    models = sorted(thing.model for thing in other.of(Equipment))
    assert models == sorted(thing.model for thing in straight.of(Equipment))


def test_no_converter_is_left_on_a_run_that_is_copper_behind_the_bridge():
    job = withy_mill()
    camera = next(e for e in job.of(Equipment) if e.label == "Boat store camera")
    fibre = apply(job, chosen(case_of(Memo(job).look, camera.id), "fibre", lambda: str(uuid.uuid4()))).job
    assert [e for e in fibre.of(Equipment) if isinstance(e.place, InLine)]
    after = taken(fibre, "bridge-60", "Boat store").job
    run = next(link for link in after.of(Link) if link.b.on == camera.id)
    assert run.medium == "copper"
    assert not [e for e in after.of(Equipment) if isinstance(e.place, InLine) and e.place.link_id == run.id]


def test_what_somebody_put_in_the_rack_behind_a_bridge_stays_there():
    bridged = taken(outbuilding(), "bridge-60").job
    behind = next(rack for rack in bridged.of(Rack) if rack.label == "TR2")
    place = {"where": "rack", "rack_id": behind.id}
    kept = Equipment(id=str(uuid.uuid4()), label="Recorder", model="recorder-8", place=place)
    with_more = apply(bridged, [Put(element=kept)]).job
    after = taken(with_more, "fibre").job
    assert {rack.label for rack in after.of(Rack)} == {"TR1", "TR2"}
    assert "Recorder" in {thing.label for thing in after.of(Equipment)}
    assert not [link for link in after.of(Link) if link.medium == "bridge"]


def test_ends_look_at_each_other_and_the_channel_is_no_access_points():
    job = taken(outbuilding(60), "bridge-5").job
    found = assess(job)
    (plan,) = found.bridges
    near, far = plan.ends
    assert near.bearing_deg == pytest.approx(90, abs=1)
    assert far.bearing_deg == pytest.approx((near.bearing_deg + 180) % 360)
    assert near.tilt_deg == pytest.approx(-far.tilt_deg, abs=0.01)
    used = {row.channel for row in found.radios if row.band == "5" and row.on}
    assert plan.channel not in used
    assert plan.length_m == pytest.approx(60 - 0.3, abs=0.3)


def test_a_bridge_too_far_carries_nothing_and_says_so():
    made = taken(outbuilding(60), "bridge-60").job
    (plan,) = assess(made).bridges
    far = made.get(Equipment, plan.ends[1].unit_id)
    tall = changed(made, far.label, place=far.place.model_dump() | {"at": {"x_m": 4000, "y_m": 3}})
    found = assess(tall)
    assert not found.bridges[0].holds
    dead = next(f for f in found.findings if f.rule == "links.bridge-dead")
    assert "carries nothing" in dead.text
    assert not next(c for c in found.chains if c.label == "AP barn").holds


def test_ends_that_are_not_alike_hear_nothing():
    made = taken(outbuilding(60), "bridge-60").job
    (plan,) = assess(made).bridges
    mixed = changed(made, made.get(Equipment, plan.ends[1].unit_id).label, model="bridge-5g")
    assert "not alike" in assess(mixed).bridges[0].why_not


@given(st.floats(5, 250), st.floats(5, 250))
@settings(max_examples=10, deadline=None)
def test_a_longer_bridge_never_carries_more(one_m, other_m):
    near, far = (assess(taken(outbuilding(m), "bridge-5").job).bridges[0] for m in sorted((one_m, other_m)))
    assert near.mbps >= far.mbps


def test_a_thing_without_a_run_gets_one_behind_the_bridge():
    job = outbuilding()
    bare = apply(job, [Remove(id=link.id) for link in job.of(Link) if link.label == "R-02"]).job
    after = assess(taken(bare, "bridge-60").job)
    run = next(run for run in after.runs if run.to_label == "AP barn")
    assert run.from_label == "TR2"


def test_a_measured_profile_stands_in_place_of_the_drawing():
    made = taken(outbuilding(60), "bridge-5").job
    link = next(link for link in made.of(Link) if link.medium == "bridge")
    hill = [{"distance_m": 0}, {"distance_m": 900, "ground_m": 3}, {"distance_m": 1800}]
    over = assess(changed(made, link.label, profile=hill)).bridges[0]
    assert over.length_m == 1800
    assert over.holds
    tall = [*hill[:1], {"distance_m": 900, "ground_m": 3, "obstacle_m": 20}, hill[2]]
    blocked = assess(changed(made, link.label, profile=tall)).bridges[0]
    assert "antennas would have to rise" in blocked.why_not
    order = assess(changed(made, link.label, profile=[hill[0], hill[2], hill[1]])).bridges[0]
    assert "out of order" in order.why_not


def test_the_rain_of_the_place_is_taken_where_it_is_known():
    made = taken(outbuilding(250), "bridge-60").job
    link = next(link for link in made.of(Link) if link.medium == "bridge")
    far = changed(made, link.label, profile=[{"distance_m": 0}, {"distance_m": 400}])
    dry, wet = (
        assess(changed(far, "Site", climate={"rain_mm_h": rain})).bridges[0].checks[-1] for rain in (10, 60)
    )
    assert dry.unit == wet.unit == "min"
    assert dry.value < wet.value
