"""One door for edits in a real MariaDB: kept whole, undone, merged, or refused with both versions."""

import threading

import pytest
from sqlalchemy import inspect, select, text

from heathrise.core.edit import EditError, Put, Remove
from heathrise.core.job import AccessPoint, Job, Point, Wall
from heathrise.store.database import Database, DatabaseGone, migrate
from heathrise.store.edits import Asked, Conflict, Edit, NothingToUndo, commit_edit, history, step_back
from heathrise.store.jobs import (
    InBin,
    NoSuchJob,
    bin_job,
    changes_since,
    create_job,
    forget_job,
    list_jobs,
    load_job,
    new_id,
    put_back,
    revision_of,
)
from heathrise.store.tables import Base, ChangeRow
from tests.house import House, by_label

ANNA, BEN = new_id(), new_id()


@pytest.fixture
def kept(database):
    house = House()
    house.point()
    with database.transaction() as session:
        return create_job(session, house.job)


def edit(database, kept, *operations, actor=ANNA, base=0, edit_id=None):
    with database.transaction() as session:
        return commit_edit(session, kept.id, Edit(edit_id or new_id(), actor, "test", base, operations))


def moved(job: Job, x: float):
    point = job.of(AccessPoint)[0]
    return Put(element=point.model_copy(update={"at": Point(x_m=x, y_m=4)}))


def load(database, kept):
    with database.transaction() as session:
        return load_job(session, kept.id)


def test_a_job_comes_back_as_it_was_kept(database, school):
    with database.transaction() as session:
        kept = create_job(session, school)
    assert load(database, kept).job == school


def test_the_migrations_make_just_the_tables_of_the_models(database):
    found = inspect(database.engine)
    for table in Base.metadata.sorted_tables:
        assert {c["name"] for c in found.get_columns(table.name)} == {c.name for c in table.columns}
    migrate(database.engine.url.render_as_string(hide_password=False))


def test_an_edit_counts_the_revision_up_and_is_kept(database, kept):
    assert edit(database, kept, moved(kept.job, 5)).revision == 1
    again = load(database, kept)
    assert again.revision == 1
    assert again.job.of(AccessPoint)[0].at.x_m == 5


def test_the_same_edit_sent_twice_counts_once(database, kept):
    edit_id = new_id()
    for _ in range(2):
        assert edit(database, kept, moved(kept.job, 5), edit_id=edit_id).revision == 1


def test_a_refused_edit_leaves_nothing_behind(database, kept):
    with pytest.raises(EditError):
        edit(database, kept, moved(kept.job, 5), Remove(id=new_id()))
    assert load(database, kept).revision == 0
    assert load(database, kept).job == kept.job


def test_undo_and_redo_walk_the_whole_history(database, kept):
    states = [kept.job.by_id]
    for n, x in enumerate((5.0, 6.0, 7.0)):
        states.append(edit(database, kept, moved(kept.job, x), base=n).job.by_id)

    def step(way):
        with database.transaction() as session:
            return step_back(session, kept.id, Asked(new_id(), ANNA), way)[0].job.by_id

    assert [step("undo") for _ in range(3)] == states[2::-1]
    with pytest.raises(NothingToUndo):
        step("undo")
    assert [step("redo") for _ in range(3)] == states[1:]
    with pytest.raises(NothingToUndo):
        step("redo")


def test_a_new_edit_ends_what_could_be_redone(database, kept):
    edit(database, kept, moved(kept.job, 5))
    with database.transaction() as session:
        step_back(session, kept.id, Asked(new_id(), ANNA), "undo")
    edit(database, kept, moved(kept.job, 6), base=2)
    with database.transaction() as session:
        past = history(session, kept.id, ANNA)
    assert past.undo is not None
    assert past.redo is None


def test_removing_a_storey_can_be_undone_whole(database, kept):
    edit(database, kept, Remove(id=by_label(kept.job, "Ground").id))
    assert load(database, kept).job.of(Wall) == ()
    with database.transaction() as session:
        step_back(session, kept.id, Asked(new_id(), ANNA), "undo")
    assert load(database, kept).job.by_id == kept.job.by_id


def test_edits_of_different_elements_are_merged(database, kept):
    wall = kept.job.of(Wall)[0].model_copy(update={"label": "Renamed"})
    edit(database, kept, moved(kept.job, 5), actor=ANNA, base=0)
    both = edit(database, kept, Put(element=wall), actor=BEN, base=0).job
    assert both.of(AccessPoint)[0].at.x_m == 5
    assert by_label(both, "Renamed")


@pytest.mark.parametrize("theirs", ["moved", "removed"])
def test_edits_of_the_same_element_are_a_conflict_with_both_versions(database, kept, theirs):
    point = kept.job.of(AccessPoint)[0]
    first = moved(kept.job, 5) if theirs == "moved" else Remove(id=point.id)
    edit(database, kept, first, actor=ANNA)
    with pytest.raises(Conflict) as caught:
        edit(database, kept, moved(kept.job, 9), actor=BEN, base=0)
    (clash,) = caught.value.clashes
    assert clash.path == (("at",) if theirs == "moved" else ())
    assert (clash.mine if theirs == "moved" else clash.mine["at"])["x_m"] == 9
    assert (clash.theirs or {}).get("x_m") == (5 if theirs == "moved" else None)
    assert load(database, kept).revision == 1


def test_undo_belongs_to_who_did_it_and_never_runs_over_a_colleague(database, kept):
    edit(database, kept, moved(kept.job, 5), actor=ANNA)
    with database.transaction() as session, pytest.raises(NothingToUndo):
        step_back(session, kept.id, Asked(new_id(), BEN), "undo")
    edit(database, kept, moved(kept.job, 6), actor=BEN, base=1)
    with pytest.raises(Conflict), database.transaction() as session:
        step_back(session, kept.id, Asked(new_id(), ANNA), "undo")
    assert load(database, kept).job.of(AccessPoint)[0].at.x_m == 6


def test_many_hands_at_once_lose_nothing(database, kept):
    walls = kept.job.of(Wall)
    errors = []

    def rename(wall):
        try:
            edit(
                database,
                kept,
                Put(element=wall.model_copy(update={"label": f"by {wall.id}"})),
                actor=new_id(),
            )
        except Exception as error:
            errors.append(error)

    threads = [threading.Thread(target=rename, args=(wall,)) for wall in walls]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert errors == []
    final = load(database, kept)
    assert final.revision == len(walls)
    assert all(wall.label == f"by {wall.id}" for wall in final.job.of(Wall))


def test_the_change_log_says_who_and_what(database, kept):
    edit(database, kept, moved(kept.job, 5), actor=BEN)
    with database.transaction() as session:
        change = session.scalars(select(ChangeRow).where(ChangeRow.job_id == kept.id)).one()
        assert [number for number, _ in changes_since(session, kept.id, 0)] == [1]
    assert (change.actor, change.way, change.revision, change.label) == (BEN, "edit", 1, "test")


def test_jobs_are_listed_latest_first_and_lie_in_the_bin_whole_until_they_are_forgotten(database, kept):
    with database.transaction() as session:
        other = create_job(session, Job(name="Other"))
    edit(database, kept, moved(kept.job, 5))
    with database.transaction() as session:
        assert {job.name: job.elements for job in list_jobs(session)} == {
            "Test house": len(kept.job.elements),
            "Other": 0,
        }
        bin_job(session, kept.id)
    with database.transaction() as session:
        assert [job.id for job in list_jobs(session)] == [other.id]
        (lies,) = list_jobs(session, binned=True)
        assert (lies.id, (lies.until - lies.binned).days) == (kept.id, 30)
        for look in (revision_of, load_job, bin_job):
            with pytest.raises(InBin):
                look(session, kept.id)
        with pytest.raises(NoSuchJob):
            forget_job(session, other.id)
        put_back(session, kept.id)
        assert load_job(session, kept.id).revision == 1
    with database.transaction() as session:
        assert step_back(session, kept.id, Asked(new_id(), ANNA), "undo")[0].job.by_id == kept.job.by_id
        bin_job(session, kept.id)
        forget_job(session, kept.id)
    with database.transaction() as session:
        assert session.scalar(text("select count(*) from element")) == 0
        with pytest.raises(NoSuchJob):
            put_back(session, kept.id)


def test_the_bin_keeps_a_job_for_thirty_days(database, kept):
    with database.transaction() as session:
        others = [create_job(session, Job(name=name)).id for name in ("Old", "New", "Now")]
        for job_id, days in zip(others, (31, 29, 0), strict=True):
            bin_job(session, job_id)
            session.execute(
                text("update job set binned = now() - interval :days day where id = :id"),
                {"days": days, "id": job_id},
            )
        bin_job(session, kept.id)
        assert {job.name for job in list_jobs(session, binned=True)} == {"New", "Now", "Test house"}


def test_a_database_that_is_gone_says_so():
    lost = Database("mysql+pymysql://root@127.0.0.1:1/none")
    with pytest.raises(DatabaseGone), lost.transaction() as session:
        list_jobs(session)
