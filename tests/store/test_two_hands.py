"""Two people on one job: what each changed is kept, what both changed is shown, nothing goes unseen."""

import pytest

from heathrise.core.edit import Put, Remove
from heathrise.core.job import AccessPoint, Brief, Opening, Point, Wall
from heathrise.core.merging import Settlement
from heathrise.store.edits import Asked, Conflict, Edit, commit_edit, step_back
from heathrise.store.jobs import create_job, load_job, new_id, told_since
from tests.house import House

ANNA, BEN = new_id(), new_id()


@pytest.fixture
def kept(database):
    house = House()
    house.point()
    with database.transaction() as session:
        return create_job(session, house.job)


@pytest.fixture
def job(database, kept):
    """The job as it is now."""

    def now():
        with database.transaction() as session:
            return load_job(session, kept.id).job

    return now


@pytest.fixture
def edit(database, kept):
    def send(actor, *operations, base=0, seen=(), absent=(), choices=(), edit_id=None):
        known = {element.id: element for element in seen} | dict.fromkeys(absent)
        made = Edit(edit_id or new_id(), actor, "test", base, operations, known, tuple(choices))
        with database.transaction() as session:
            return commit_edit(session, kept.id, made)

    return send


@pytest.fixture
def undo(database, kept):
    def send(actor, **more):
        with database.transaction() as session:
            return step_back(session, kept.id, Asked(new_id(), actor, **more), "undo")[0].job

    return send


def changed(element, **fields):
    return Put(element=element.model_copy(update=fields))


def door_in(wall, label):
    return Opening(id=new_id(), label=label, wall_id=wall.id, at_m=1, width_m=0.9)


def chosen(clashes, take):
    return [Settlement(element_id=c.element_id, path=c.path, take=take, theirs=c.theirs) for c in clashes]


def test_two_fields_of_one_element_are_both_kept(kept, job, edit):
    point = kept.job.of(AccessPoint)[0]
    edit(ANNA, changed(point, label="Hall"), seen=[point])
    edit(BEN, changed(point, height_m=2.2), seen=[point])
    now = job().of(AccessPoint)[0]
    assert (now.label, now.height_m) == ("Hall", 2.2)


def test_every_clash_is_told_of_and_what_does_not_clash_is_kept(kept, job, edit):
    point, wall = kept.job.of(AccessPoint)[0], kept.job.of(Wall)[0]
    edit(ANNA, changed(point, label="Hall", height_m=2.2), changed(wall, label="North"))
    mine = (changed(point, label="Porch", height_m=2.4, facing_deg=90), changed(wall, label="South"))
    with pytest.raises(Conflict) as caught:
        edit(BEN, *mine, seen=[point, wall])
    clashes = caught.value.clashes
    assert [(c.path, c.mine, c.theirs) for c in clashes] == [
        (("label",), "Porch", "Hall"),
        (("height_m",), 2.4, 2.2),
        (("label",), "South", "North"),
    ]
    choices = chosen(clashes[:1], "mine") + chosen(clashes[1:], "theirs")
    edit(BEN, *mine, seen=[point, wall], choices=choices)
    now = job()
    point = now.of(AccessPoint)[0]
    assert (point.label, point.height_m, point.facing_deg, now.by_id[wall.id].label) == (
        "Porch",
        2.2,
        90,
        "North",
    )


def test_a_choice_counts_for_the_value_that_was_shown(kept, edit):
    point = kept.job.of(AccessPoint)[0]
    edit(ANNA, changed(point, label="Hall"))
    with pytest.raises(Conflict) as caught:
        edit(BEN, changed(point, label="Porch"), seen=[point])
    choices = chosen(caught.value.clashes, "mine")
    edit(ANNA, changed(point, label="Landing"), base=1)
    with pytest.raises(Conflict) as again:
        edit(BEN, changed(point, label="Porch"), seen=[point], choices=choices)
    assert again.value.clashes[0].theirs == "Landing"


def test_places_are_taken_whole(kept, edit):
    point = kept.job.of(AccessPoint)[0]
    edit(ANNA, changed(point, at=Point(x_m=5, y_m=point.at.y_m)))
    with pytest.raises(Conflict) as caught:
        edit(BEN, changed(point, at=Point(x_m=point.at.x_m, y_m=6)), seen=[point])
    assert caught.value.clashes[0].path == ("at",)


def test_answers_and_devices_of_the_brief_meet_row_by_row(kept, job, edit):
    brief = kept.job.of(Brief)[0]

    def with_(answers, devices):
        rows = {
            "answers": [{"question": q, "text": t, "on": "2026-01-02"} for q, t in answers],
            "devices": [{"what": w, "count": n} for w, n in devices],
        }
        return Put(element=Brief.model_validate(brief.model_dump(mode="json") | rows))

    edit(ANNA, with_([("age", "Old")], [("Phones", 30)]), seen=[brief])
    edit(BEN, with_([("roof", "Yes")], [("Tills", 2)]), seen=[brief])
    now = job().of(Brief)[0]
    assert [(a.question, a.text) for a in now.answers] == [("age", "Old"), ("roof", "Yes")]
    assert [(d.what, d.count) for d in now.devices] == [("Phones", 30), ("Tills", 2)]
    with pytest.raises(Conflict) as caught:
        edit(BEN, with_([("age", "New")], [("Phones", 30)]), seen=[brief])
    assert [c.path for c in caught.value.clashes] == [("answers", "age")] or [
        c.path for c in caught.value.clashes
    ] == [("answers", "age", "text")]


def test_a_wall_takes_no_door_of_a_colleague_along_unseen(kept, job, edit):
    wall = kept.job.of(Wall)[0]
    door = door_in(wall, "Ben's door")
    edit(BEN, Put(element=door), absent=[door.id])
    with pytest.raises(Conflict) as caught:
        edit(ANNA, Remove(id=wall.id), seen=[wall])
    (clash,) = caught.value.clashes
    assert (clash.label, clash.via, clash.mine) == ("Ben's door", wall.id, None)
    edit(ANNA, Remove(id=wall.id), seen=[wall], choices=chosen([clash], "theirs"))
    assert {wall.id, door.id} <= set(job().by_id)
    edit(ANNA, Remove(id=wall.id), seen=[wall], choices=chosen([clash], "mine"))
    assert not {wall.id, door.id} & set(job().by_id)


def test_what_one_drew_oneself_goes_along_without_a_question(kept, job, edit):
    wall = kept.job.of(Wall)[0]
    door = door_in(wall, "My door")
    edit(ANNA, Put(element=door), absent=[door.id])
    edit(ANNA, Remove(id=wall.id), seen=[wall])
    assert not {wall.id, door.id} & set(job().by_id)


def test_an_undo_takes_no_door_of_a_colleague_along_unseen(kept, job, edit, undo):
    wall = kept.job.of(Wall)[0].model_copy(update={"id": new_id(), "label": "New wall", "order": 0})
    edit(ANNA, Put(element=wall), absent=[wall.id])
    door = door_in(wall, "Ben's door")
    edit(BEN, Put(element=door), absent=[door.id], base=1)
    with pytest.raises(Conflict) as caught:
        undo(ANNA)
    assert caught.value.clashes[0].label == "Ben's door"
    assert door.id in job().by_id
    undo(ANNA, choices=tuple(chosen(caught.value.clashes, "mine")), target=caught.value.target)
    assert door.id not in job().by_id


def test_an_undo_leaves_what_a_colleague_changed_beside_it(kept, edit, undo):
    point = kept.job.of(AccessPoint)[0]
    edit(ANNA, changed(point, label="Hall"))
    edit(BEN, changed(point, height_m=2.2), seen=[point])
    now = undo(ANNA).of(AccessPoint)[0]
    assert (now.label, now.height_m) == (point.label, 2.2)


def test_an_undo_all_of_which_stays_as_others_left_it_is_passed_over(kept, job, edit, undo):
    wall, point = kept.job.of(Wall)[0], kept.job.of(AccessPoint)[0]
    edit(ANNA, changed(point, height_m=2.2))
    new = wall.model_copy(update={"id": new_id(), "label": "New wall", "order": 0})
    edit(ANNA, Put(element=new), absent=[new.id], base=1)
    edit(BEN, changed(job().by_id[new.id], label="Ben's wall"), base=2)
    with pytest.raises(Conflict) as caught:
        undo(ANNA)
    undo(ANNA, choices=tuple(chosen(caught.value.clashes, "theirs")), target=caught.value.target)
    assert job().by_id[new.id].label == "Ben's wall"
    assert undo(ANNA).of(AccessPoint)[0] == point


def test_an_undo_asked_twice_by_one_press_undoes_once(database, kept, job, edit):
    point = kept.job.of(AccessPoint)[0]
    for number in range(2):
        edit(ANNA, changed(point, height_m=2.0 + number / 10), base=number)
    press = Asked(new_id(), ANNA)
    for _ in range(2):
        with database.transaction() as session:
            step_back(session, kept.id, press, "undo")
    assert job().of(AccessPoint)[0].height_m == 2.0


def test_an_edit_made_on_a_revision_that_was_lost_overwrites_nothing(kept, job, edit):
    """A backup was put back: the window's revision is ahead of the job's."""
    point = kept.job.of(AccessPoint)[0]
    edit(ANNA, changed(point, label="Hall"))
    with pytest.raises(Conflict) as caught:
        edit(BEN, changed(point, label="Porch"), base=40)
    assert caught.value.clashes[0].theirs == "Hall"
    assert job().of(AccessPoint)[0].label == "Hall"


def test_a_window_away_for_long_overwrites_nothing(kept, job, edit):
    point, wall = kept.job.of(AccessPoint)[0], kept.job.of(Wall)[0]
    edit(ANNA, changed(point, label="Hall"))
    for number in range(1, 30):
        edit(ANNA, changed(wall, label=f"Wall {number}"), base=number)
    with pytest.raises(Conflict):
        edit(BEN, changed(point, label="Porch"), base=0)
    assert job().of(AccessPoint)[0].label == "Hall"


def test_what_is_gone_already_is_no_complaint(kept, job, edit):
    wall = kept.job.of(Wall)[0]
    edit(ANNA, Remove(id=wall.id))
    edit(BEN, Remove(id=wall.id), seen=[wall])
    assert wall.id not in job().by_id


def test_changes_are_told_whole_or_not_at_all(database, kept, edit):
    wall = kept.job.of(Wall)[0]
    for number in range(4):
        edit(ANNA, changed(wall, label=f"Wall {number}"), base=number)
    with database.transaction() as session:
        assert len(told_since(session, kept.id, 1, 4, 10)) == 3
        assert told_since(session, kept.id, 0, 4, 3) is None, "too much to tell"
        assert told_since(session, kept.id, 9, 4, 10) is None, "ahead of the job"
        assert told_since(session, kept.id, -1, 4, 10) is None, "before its history"


def test_what_an_edit_adds_and_removes_itself_is_gone(kept, job, edit):
    wall = kept.job.of(Wall)[0].model_copy(update={"id": new_id(), "label": "Passing", "order": 0})
    point = changed(kept.job.of(AccessPoint)[0], label="Hall")
    edit(ANNA, Put(element=wall), Remove(id=wall.id), point, absent=[wall.id])
    assert wall.id not in job().by_id
    assert job().of(AccessPoint)[0].label == "Hall"


def test_what_several_removals_would_take_along_is_asked_about_once(kept, job, edit):
    wall, storey = kept.job.of(Wall)[0], kept.job.storeys[0]
    door = door_in(wall, "Ben's door")
    edit(BEN, Put(element=door), absent=[door.id])
    with pytest.raises(Conflict) as caught:
        edit(ANNA, Remove(id=wall.id), Remove(id=storey.id), seen=[wall, storey])
    assert [clash.element_id for clash in caught.value.clashes] == [door.id]
    edit(
        ANNA,
        Remove(id=wall.id),
        Remove(id=storey.id),
        seen=[wall, storey],
        choices=chosen(caught.value.clashes, "mine"),
    )
    assert job().storeys == ()
