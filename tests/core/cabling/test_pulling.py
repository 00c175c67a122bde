"""Pathways: how they are pulled through, which are worth making, and how far cables keep from mains."""

import itertools
import math
import uuid

import pytest
from demo.drawing import at
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.cabling.conduit import conduit_fill
from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.proposing import least_bore, made, proposals, tray_width_mm
from heathrise.core.cabling.pulling import cut_at_boxes, mass_kg_m, pull_of
from heathrise.core.cabling.separation import too_near
from heathrise.core.edit import EditError, apply
from heathrise.core.findings import assess
from heathrise.core.job import Pathway, Point
from heathrise.core.library import library, limit
from tests.house import House, look_at

CAT6A = library().cables["cat6a-indoor"]


def way(*places, kind="conduit"):
    path = tuple(Point(x_m=x, y_m=y) for x, y in places)
    return Pathway(id=str(uuid.uuid4()), label="Way", pathway_kind=kind, bore="metric-32", path=path)


def length(path) -> float:
    return sum(math.dist((a.x_m, a.y_m), (b.x_m, b.y_m)) for a, b in itertools.pairwise(path))


def fits(bore, ods) -> bool:
    fill = conduit_fill(bore.bore_mm, ods)
    return fill.fill <= fill.limit * limit("cabling.fill_choice")


def test_a_straight_pull_is_friction_times_weight_and_a_right_angle_is_the_capstan():
    straight = pull_of(way((0, 0), (20, 0)), [CAT6A])
    weight = 0.35 * mass_kg_m(CAT6A) * 9.81 * 20
    assert straight.force.value == pytest.approx(weight, abs=0.05)
    assert straight.bends == 0
    bent = pull_of(way((0, 0), (10, 0), (10, 10)), [CAT6A])
    assert bent.bends == 1
    first = weight / 2
    assert bent.force.value == pytest.approx(first * math.exp(0.35 * math.pi / 2) + first, abs=0.05)


@pytest.mark.parametrize(
    ("places", "boxes"),
    [
        (((0, 0), (30, 0)), 0),
        (((0, 0), (31, 0)), 1),
        (((0, 0), (95, 0)), 3),
        (((0, 0), (5, 0), (5, 5), (10, 5)), 0),
        (((0, 0), (5, 0), (5, 5), (10, 5), (10, 10)), 1),
    ],
)
def test_a_box_is_wanted_every_thirty_metres_or_after_two_right_angles(places, boxes):
    assert len(pull_of(way(*places), [CAT6A]).boxes) == boxes


def test_a_bend_near_one_end_is_pulled_from_the_other():
    late, early = way((0, 0), (25, 0), (25, 2)), way((0, 0), (2, 0), (2, 25))
    assert pull_of(late, [CAT6A]).from_far_end
    assert not pull_of(early, [CAT6A]).from_far_end
    assert pull_of(late, [CAT6A]).force.value == pytest.approx(pull_of(early, [CAT6A]).force.value, abs=0.1)


def test_what_cables_are_laid_in_is_not_pulled_through():
    assert pull_of(way((0, 0), (90, 0), kind="tray"), [CAT6A]) is None
    assert pull_of(way((0, 0)), [CAT6A]) is None


PLACES = st.lists(st.tuples(st.integers(0, 120), st.integers(0, 120)), min_size=2, max_size=8).filter(
    lambda found: all(a != b for a, b in itertools.pairwise(found))
)


@given(places=PLACES)
def test_the_pieces_between_boxes_are_the_whole_path_and_none_is_too_long(places):
    path = [Point(x_m=x, y_m=y) for x, y in places]
    pieces = cut_at_boxes(path)
    assert sum(map(length, pieces)) == pytest.approx(length(path), abs=0.05)
    assert all(length(piece) <= limit("cabling.pull_point_m") + 0.02 for piece in pieces)
    assert all(a[-1] == b[0] for a, b in itertools.pairwise(pieces))


@given(first=st.integers(1, 29), more=st.integers(1, 29))
def test_a_longer_way_is_never_easier_to_pull(first, more):
    one, both = way((0, 0), (first, 0)), way((0, 0), (first, 0), (first, more))
    assert pull_of(both, [CAT6A]).force.value >= pull_of(one, [CAT6A]).force.value


# --- what is worth making -------------------------------------------------------------------------------------------


def test_runs_that_lie_together_are_worth_a_tray_and_the_tray_takes_them():
    house = House(settled=True)
    house.rack(x=1, y=4)
    house.switch()
    for n in range(9):
        house.run(house.point(f"AP {n}", x=7 + n * 0.5, y=1 + 0.7 * n), f"R-{n + 10}")
    job = house.job
    (tray, *_) = [p for p in proposals(look_at(job)).pathways if p.pathway_kind == "tray"]
    assert len(tray.run_labels) >= 8
    assert tray.width_mm >= 50
    new = apply(job, made(look_at(job), tray.key, lambda: str(uuid.uuid4()))).job
    (plan,) = runs(look_at(new)).pathways
    assert len(plan.run_ids) >= 8
    metres = next(line for line in assess(new).kit if line.item == "tray-m")
    assert metres.order == math.ceil(tray.length_m)
    with pytest.raises(EditError, match="not proposed any more"):
        made(look_at(new), tray.key, lambda: str(uuid.uuid4()))


def test_few_runs_are_worth_none():
    house = House(settled=True)
    house.rack()
    for n in range(7):
        house.run(house.point(f"AP {n}", x=9, y=1 + n), f"R-{n + 10}")
    assert proposals(look_at(house.job)).pathways == ()


def test_what_crosses_open_ground_is_worth_a_duct_that_is_pulled_through():
    house = House(settled=True)
    house.rack()
    house.switch()
    house.d.space(house.ground, "Shed", (60, 0, 64, 8), building="Shed")
    house.run(house.point("AP shed", x=62, y=4), "R-10", cable="fibre-os2", medium="fibre")
    job = house.job
    (duct,) = [p for p in proposals(look_at(job)).pathways if p.pathway_kind == "duct"]
    assert duct.height_m == -0.6
    assert duct.surroundings == "ground"
    new = apply(job, made(look_at(job), duct.key, lambda: str(uuid.uuid4()))).job
    (plan,) = runs(look_at(new)).pathways
    assert plan.run_ids
    assert len(plan.pull.boxes) == 1
    kit = {line.item: line for line in assess(new).kit}
    assert kit["draw-cord"].order == 1
    assert kit["pull-box"].order == 1


@pytest.mark.parametrize("build", [tern_lane, withy_mill, fern_hollow])
def test_every_proposal_of_a_demo_job_can_be_made_and_leaves_no_new_fault(build):
    job = build()
    before = {f.key for f in assess(job).findings if f.severity == "fault"}
    while found := proposals(look_at(job)).pathways:
        job = apply(job, made(look_at(job), found[0].key, lambda: str(uuid.uuid4()))).job
        assert len(job.of(Pathway)) < 12
    assert {f.key for f in assess(job).findings if f.severity == "fault"} <= before


@given(ods=st.lists(st.floats(4, 13), min_size=1, max_size=12))
def test_a_bore_that_is_chosen_has_a_quarter_to_spare_and_the_next_below_has_not(ods):
    code = least_bore(ods)
    if code is None:
        assert not any(fits(bore, ods) for bore in library().bores.values())
        return
    chosen = library().bores[code]
    assert fits(chosen, ods)
    assert not any(fits(bore, ods) for bore in library().bores.values() if bore.bore_mm < chosen.bore_mm)


@given(ods=st.lists(st.floats(4, 13), min_size=1, max_size=60))
def test_a_tray_is_wide_enough_with_a_quarter_to_spare(ods):
    area = sum(math.pi / 4 * od * od for od in ods)
    assert area / (tray_width_mm(ods) * limit("cabling.tray_depth_mm")) <= 0.4 * 0.75 + 1e-9


# --- apart from mains -----------------------------------------------------------------------------------------------


def beside(height_m=2.8, load_kva=2.0):
    house = House(settled=True)
    house.rack(x=1, y=1)
    house.switch()
    path = [at(1, 1), at(11, 1)]
    house.add("line", "Mains ring", storey_id=house.ground, path=path, height_m=height_m, load_kva=load_kva)
    house.run(house.point(x=11, y=1.02), "R-10")
    return house.job


def near(job):
    return list(too_near(job, runs(look_at(job)).plans[0]))


@pytest.mark.parametrize(("load_kva", "apart"), [(2.0, 0.13), (2.1, 0.3), (5.0, 0.3), (5.1, 0.6)])
def test_a_run_keeps_away_from_mains_by_their_load(load_kva, apart):
    job = beside(load_kva=load_kva)
    assert near(job) == []
    level = [leg for leg in runs(look_at(job)).plans[0].legs if leg.a.x_m != leg.b.x_m]
    assert all(abs(leg.a.y_m - 1.0) >= apart for leg in level)


def test_a_run_in_a_pathway_along_mains_is_told_how_near_and_how_far():
    house = House(settled=True)
    house.rack(x=1, y=1)
    house.add("line", "Mains ring", storey_id=house.ground, path=[at(1, 1), at(11, 1)], height_m=2.8)
    conduit = [at(1, 1.05), at(11, 1.05)]
    house.add("pathway", "Old conduit", storey_id=house.ground, path=conduit, height_m=2.8)
    house.run(house.point(x=11, y=1.05), "R-10")
    (found,) = near(house.job)
    assert found.apart_m == pytest.approx(0.05, abs=0.01)
    assert found.length_m == pytest.approx(10, abs=0.3)
    (finding,) = [f for f in assess(house.job).findings if f.rule == "runs.beside-mains"]
    assert "0.05" in finding.text
    assert "0.13" in finding.text


def test_mains_below_the_void_and_mains_that_are_crossed_square_are_far_enough():
    assert near(beside(height_m=2.4)) == []
    house = House(settled=True)
    house.rack(x=1, y=1)
    house.add("line", "Mains", storey_id=house.ground, path=[at(5, 0.2), at(5, 7.8)], height_m=2.8)
    house.run(house.point(x=5.6, y=1.0), "R-10")
    assert near(house.job) == []


def test_light_beside_mains_takes_no_noise():
    house = House(settled=True)
    house.rack(x=1, y=1)
    house.add("line", "Mains", storey_id=house.ground, path=[at(1, 1), at(11, 1)], height_m=2.8)
    house.add("pathway", "Old", storey_id=house.ground, path=[at(1, 1.05), at(11, 1.05)], height_m=2.8)
    house.run(house.point(x=11, y=1.05), "R-10", cable="fibre-os2", medium="fibre")
    assert [f for f in assess(house.job).findings if f.rule == "runs.beside-mains"] == []
