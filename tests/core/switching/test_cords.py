"""What stands in a rack and is no switch: its port, what happens to it, and that nothing else moves for it."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.derived import runs
from heathrise.core.edit import Put, Remove, apply
from heathrise.core.findings import assess
from heathrise.core.job import Equipment, InRack, Job, Link, PanelPort
from heathrise.core.racks.derived import patches
from heathrise.core.switching.derived import ports
from heathrise.core.switching.ports import settled
from heathrise.core.switching.replanning import replanned
from heathrise.core.switching.topology import topology
from tests.house import House, by_label, look_at


def house_with(*models: str, switch: str = "switch-24-poe", points: int = 2, corded: bool = True) -> House:
    house = House(settled=True)
    rack = house.rack(model="rack-22u")
    house.switch("GW1", "gateway-1g")
    house.switch(model=switch)
    for n in range(points):
        house.run(house.point(f"AP {n}", x=1 + n), f"R-{n:02d}")
    for n, model in enumerate(models):
        house.d.in_rack(f"Box {n}", model, rack)
        if corded:
            house.cord(f"Box {n}")
    return house


def port_of(job: Job, label: str) -> tuple[str, str] | None:
    found = ports(look_at(job)).by_run.get(by_label(job, label).id)
    return (found.switch_label, found.port) if found else None


@pytest.mark.parametrize(
    ("model", "switch", "port"),
    [
        ("recorder-8", "SW1", {str(n) for n in range(1, 25)}),
        ("controller-100", "SW1", {str(n) for n in range(1, 25)}),
        ("storage-6bay-10g", "SW1", {"25", "26"}),
    ],
)
def test_a_box_in_a_rack_takes_a_port_of_its_own_kind(model, switch, port):
    where = port_of(house_with(model).job, "Cord of Box 0")
    assert where is not None
    assert where[0] == switch
    assert where[1] in port


def test_a_box_never_takes_the_port_of_the_service():
    job = house_with(*["recorder-8"] * 14, switch="switch-8-plain", points=0).job
    taken = [(p.switch_label, p.port) for p in ports(look_at(job)).ports if p.run_id]
    # Eight of the switch and four of the gateway; two find none, and the port to the service stays free.
    assert len(taken) == 12
    assert ("GW1", "service") not in taken
    assert [one.why for one in ports(look_at(job)).unplaced] == ["every port of its rack is taken"] * 2


def test_where_no_cage_is_free_it_is_said():
    job = house_with("storage-6bay-10g", switch="switch-8-plain").job
    assert [one.why for one in ports(look_at(job)).unplaced] == ["no cage of its rack is free"]


def test_a_cord_is_no_run():
    job = house_with("recorder-8").job
    assert [plan.label for plan in runs(look_at(job)).plans] == ["R-00", "R-01"]


def test_a_box_that_a_run_goes_to_asks_by_it_and_for_no_uplink():
    """As drawn before there were cords: a cable of the rack to what stands in it."""
    house = house_with("recorder-8", corded=False)
    house.run(next(e.id for e in house.d.elements if e.label == "Box 0"), "R-09")
    assert port_of(house.job, "R-09") == ("SW1", "3")
    found = ports(look_at(house.job))
    assert not found.unplaced
    assert "ports.no-cord" not in {one.rule for one in assess(house.job).findings}


def test_a_cord_is_bought_and_patched():
    job = house_with("recorder-8").job
    (rack,) = patches(look_at(job)).racks
    patch = next(one for one in rack.patches if one.run_label == "Cord of Box 0")
    assert (patch.panel_id, patch.switch, patch.state) == (None, "SW1", "in the rack")
    assert patch.cord is not None
    assert any(name.startswith(f"{patch.cord.value:g} m {patch.colour}") for name, _ in rack.cords)


def test_the_network_reaches_it():
    job = house_with("recorder-8").job
    assert by_label(job, "Box 0").id in {thing.id for thing in topology(look_at(job)).things}


def test_the_cord_goes_with_its_box_and_comes_back_with_it():
    job = house_with("recorder-8").job
    gone = apply(job, [Remove(id=by_label(job, "Box 0").id)])
    assert all(link.medium != "cord" for link in gone.job.of(Link))
    assert apply(gone.job, gone.inverse).job == job


def test_a_box_moved_to_another_rack_takes_its_cord_along():
    house = house_with("recorder-8")
    second = house.rack("TR2", x=9, y=6)
    house.switch("SW9", "switch-8-plain", rack="TR2")
    job = house.job
    box = by_label(job, "Box 0")
    moved = apply(job, [Put(element=box.model_copy(update={"place": InRack(rack_id=second)}))]).job
    assert port_of(moved, "Cord of Box 0") is None
    (finding,) = [one for one in assess(moved).findings if one.rule == "ports.no-cord"]
    mended = apply(moved, finding.fixes[0].operations).job
    assert port_of(mended, "Cord of Box 0") == ("SW9", "1")
    assert sum(link.medium == "cord" for link in mended.of(Link)) == 1


def test_the_cord_stays_when_its_switch_goes():
    job = house_with("recorder-8").job
    job = apply(job, settled(job, ports(look_at(job)).ports)).job
    after = apply(job, [Remove(id=by_label(job, "SW1").id)]).job
    cord = by_label(after, "Cord of Box 0")
    assert isinstance(cord, Link)
    assert cord.a.on == by_label(after, "TR1").id
    assert port_of(after, "Cord of Box 0") == ("GW1", "3")


@given(st.lists(st.sampled_from(["recorder-8", "controller-100", "storage-2bay"]), min_size=1, max_size=5))
@settings(max_examples=15, deadline=None)
def test_what_comes_later_moves_no_decided_port(models):
    job = house_with(*models[:-1]).job
    job = apply(job, settled(job, ports(look_at(job)).ports)).job
    before = {p.run_id: (p.switch_id, p.port) for p in ports(look_at(job)).ports if p.run_id}
    house = house_with(*models)
    late = [
        e for e in house.d.elements if e.label in (f"Box {len(models) - 1}", f"Cord of Box {len(models) - 1}")
    ]
    after = apply(job, [Put(element=e) for e in late]).job
    now = {p.run_id: (p.switch_id, p.port) for p in ports(look_at(after)).ports if p.run_id}
    assert {run: now[run] for run in before} == before
    assert len(now) == len(before) + 1


def test_giving_ports_out_anew_leaves_cables_on_their_panel():
    """A person decided where the cable lands; which port its cord goes to is another question."""
    house = house_with(points=3)
    panel = house.d.in_rack("PP1", "panel-24", house.d.id_of("rack", "TR1"))
    job = house.job
    for n, run in enumerate(job.of(Link)):
        end = run.a.model_copy(update={"panel": PanelPort(on=panel, port=str(20 - n))})
        job = apply(job, [Put(element=run.model_copy(update={"a": end}))]).job
    landed = [run.a.panel for run in job.of(Link)]
    decided = apply(job, settled(job, ports(look_at(job)).ports)).job
    assert [run.a.panel for run in decided.of(Link)] == landed
    # On the ports of the plain switch nothing is fed: given out anew, all three move.
    plain = house.switch("SW2", "switch-8-plain")
    ends = {"SW2": plain}
    moved = apply(decided, [Put(element=e) for e in house.d.elements if e.label in ends]).job
    for n, run in enumerate(moved.of(Link)):
        moved = apply(moved, [Put(element=run.model_copy(update={"a": run.a.at(plain, str(n + 1))}))]).job
    operations = replanned(look_at(moved))
    assert len(operations) == 3
    again = apply(moved, operations).job
    assert [run.a.panel for run in again.of(Link)] == landed
    assert {again.get(Equipment, run.a.on).label for run in again.of(Link)} == {"SW1"}
