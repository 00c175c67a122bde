"""The one door for edits: identity after undo, cascades, refusals that change nothing."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.edit import MOST_TURNS, EditError, Put, Remove, apply
from heathrise.core.findings import assess
from heathrise.core.job import AccessPoint, End, Job, Link, Pathway, Point, Wall
from tests.house import House, by_label


def built() -> Job:
    house = House()
    house.rack()
    point = house.point()
    house.add("opening", "Door 1", wall_id=house.d.id_of("wall", "Ground middle"), at_m=3, width_m=0.9)
    house.switch(model="switch-8-poe")
    run = house.run(point, on=("SW1", "2"))
    house.add("pathway", "Sleeve", bore="metric-32", link_ids=[run])
    return house.job


JOB = built()


@given(st.data())
@settings(max_examples=60, deadline=None)
def test_undo_after_any_edit_is_identity(data):
    operations = []
    for element in data.draw(st.lists(st.sampled_from(JOB.elements), max_size=4, unique_by=lambda e: e.id)):
        if data.draw(st.booleans()):
            operations.append(
                Put(element=element.model_copy(update={"label": data.draw(st.sampled_from("abc"))}))
            )
        else:
            operations.append(Remove(id=element.id))
    try:
        edited = apply(JOB, operations)
    except EditError:
        return
    assert apply(edited.job, edited.inverse).job.by_id == JOB.by_id


@given(st.sampled_from(JOB.elements))
def test_whatever_is_removed_the_rest_stays_whole(element):
    left = apply(JOB, [Remove(id=element.id)]).job
    assert Job(name=left.name, elements=left.elements).by_id == left.by_id


def test_what_is_computed_does_not_hang_on_the_order_elements_were_made_in():
    turned = Job(name=JOB.name, elements=JOB.elements[::-1])
    assert assess(turned) == assess(JOB)


def test_removing_a_wall_takes_its_door_and_brings_both_back():
    wall = by_label(JOB, "Ground middle")
    edited = apply(JOB, [Remove(id=wall.id)])
    assert {s.id for s in edited.done} == {wall.id, by_label(JOB, "Door 1").id}
    assert apply(edited.job, edited.inverse).job.by_id == JOB.by_id


def test_removing_a_switch_unpins_its_run_and_keeps_it():
    edited = apply(JOB, [Remove(id=by_label(JOB, "SW1").id)])
    run = edited.job.of(Link)[0]
    assert run.a == End(on=by_label(JOB, "TR1").id)
    assert run.b.on == JOB.of(AccessPoint)[0].id


def test_removing_an_access_point_takes_its_run_out_of_the_conduit():
    edited = apply(JOB, [Remove(id=JOB.of(AccessPoint)[0].id)])
    assert edited.job.of(Link) == ()
    assert edited.job.of(Pathway)[0].link_ids == ()


def test_removing_a_storey_takes_all_that_stands_on_it():
    edited = apply(JOB, [Remove(id=by_label(JOB, "Ground").id)])
    assert {e.kind for e in edited.job.elements} <= {"site", "brief", "practice", "pathway"}


AP = JOB.of(AccessPoint)[0]
REFUSED = [
    (Remove(id="00000000-0000-7000-8000-000000000099"), "not in the job"),
    (
        Put(element=AP.model_copy(update={"storey_id": "00000000-0000-7000-8000-000000000099"})),
        "no such storey",
    ),
    (Put(element=AP.model_copy(update={"height_m": 40.0})), "outside every storey"),
    (Put(element=AP.model_copy(update={"at": Point(x_m=5000, y_m=0)})), "outside every storey"),
    (
        Put(element=JOB.site.model_copy(update={"id": "00000000-0000-7000-8000-000000000098"})),
        "already has its site",
    ),
    (Put(element=by_label(JOB, "TR1").model_copy(update={"id": AP.id})), "cannot become a rack"),
    (Put(element=JOB.of(Wall)[0].model_copy(update={"build_up": "cheese"})), "the library has no such item"),
]


@pytest.mark.parametrize(("operation", "words"), REFUSED, ids=[words for _, words in REFUSED])
def test_an_edit_that_would_break_the_job_is_refused_whole(operation, words):
    before = dict(JOB.by_id)
    fine = Put(element=AP.model_copy(update={"label": "Renamed"}))
    with pytest.raises(EditError, match=words):
        apply(JOB, [fine, operation])
    assert JOB.by_id == before


def test_an_edit_turns_from_adding_to_removing_only_so_often():
    point = JOB.of(AccessPoint)[0]
    turns = [Put(element=point), Remove(id=point.id)] * (MOST_TURNS + 1)
    with pytest.raises(EditError, match="remove together"):
        apply(JOB, turns)
    assert apply(JOB, turns[: 2 * MOST_TURNS]).job.of(AccessPoint) == JOB.of(AccessPoint)[1:]
