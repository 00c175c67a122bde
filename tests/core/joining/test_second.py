"""A second comms space: proposed where runs are too long, never where one run is, and what it takes."""

import itertools
import uuid

import pytest

from heathrise.core.edit import apply
from heathrise.core.findings import assess
from heathrise.core.job import Job, Rack
from tests.house import House


def ids():
    numbers = itertools.count(1)
    return lambda: str(uuid.uuid5(uuid.NAMESPACE_OID, f"second {next(numbers)}"))


def long_hall(far: int = 4, store_at: float = 60.0, kind: str = "plant") -> Job:
    house = House(settled=True)
    house.rack()
    house.switch()
    house.d.space(house.ground, "Long hall", (12, 0, 112, 8))
    house.d.space(house.ground, "Store", (store_at, 8, store_at + 4, 12), space_kind=kind)
    for n in range(far):
        house.run(house.point(f"AP {n}", x=85 + 6 * n, y=4), f"R-{n + 1:02d}")
    return house.job


def of_rule(job: Job, rule: str):
    return [f for f in assess(job).findings if f.rule == rule]


def test_it_is_proposed_from_three_long_runs_on_and_takes_all_of_them():
    assert of_rule(long_hall(2), "runs.second-space") == []
    job = long_hall(4)
    (finding,) = of_rule(job, "runs.second-space")
    assert "4 runs are too long" in finding.text
    assert "electrician" in finding.advice
    new = apply(job, finding.fixes[0].operations).job
    found = assess(new)
    assert all(run.holds for run in found.runs)
    assert len(new.of(Rack)) == 2
    between = next(run for run in found.runs if run.category == "OS2")
    assert {between.from_label, between.to_label} == {"TR1", "TR2"}
    ports = {(p.switch_label, p.run_label) for p in found.ports if p.run_label == between.label}
    assert ports == {("SW1", between.label), ("SW2", between.label)}
    assert all(chain.holds for chain in found.chains)
    assert not [
        f for f in found.findings if f.rule in ("runs.over-length", "runs.between-racks", "ports.no-port")
    ]


def test_of_two_rooms_the_one_with_less_cable_is_named_and_one_that_is_made_for_it_comes_first():
    (near,) = of_rule(long_hall(4, store_at=90), "runs.second-space")
    assert near.subject == "Store"
    # With no room made for it, a room that people use is named.
    (hall,) = of_rule(long_hall(4, kind="outdoor"), "runs.second-space")
    assert hall.subject in ("Long hall", "Ground east")


def test_copper_alone_between_two_comms_spaces_is_given_fibre_and_then_is_spare():
    house = House(settled=True)
    house.rack()
    house.switch()
    house.rack("TR2", x=11, y=7)
    house.switch("SW2", rack="TR2")
    house.run(house.d.id_of("rack", "TR2"), "R-01")
    job = house.job
    (finding,) = of_rule(job, "runs.between-racks")
    both = apply(job, finding.fixes[0].operations).job
    assert of_rule(both, "runs.between-racks") == []
    uplinks = [p.run_label for p in assess(both).ports if p.uplink and p.run_id]
    assert uplinks == ["R-02", "R-02"]


@pytest.mark.parametrize(("away_m", "said"), [(1.0, 0), (2.4, 0), (3.0, 2)])
def test_an_outlet_is_alone_when_no_other_is_at_its_place(away_m, said):
    house = House(settled=True)
    house.rack()
    house.thing("Desk 1", x=3, y=4)
    house.thing("Desk 2", x=3 + away_m, y=4)
    found = of_rule(house.job, "runs.one-outlet")
    assert len(found) == said
    if found:
        mended = apply(house.job, found[0].fixes[0].operations).job
        assert len(of_rule(mended, "runs.one-outlet")) == said - 1
