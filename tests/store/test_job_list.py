"""The list of jobs: another name, a copy, the archive, and what is open in each."""

import pytest
from demo.tern_lane import tern_lane

from heathrise.core.edit import Put
from heathrise.core.job import Space
from heathrise.exchange.smallplan import small_plan
from heathrise.store import jobs
from heathrise.store.attachments import attachments, keep_attachment
from heathrise.store.edits import Asked, Edit, commit_edit, step_back
from heathrise.store.tables import AttachmentRow


def listed(database):
    with database.transaction() as session:
        return {job.name: job for job in jobs.list_jobs(session)}


@pytest.fixture
def school(database):
    with database.transaction() as session:
        return jobs.create_job(session, tern_lane())


def test_a_new_name_is_a_revision_so_that_everybody_reads_it(database, school):
    with database.transaction() as session:
        jobs.rename_job(session, school.id, "Heron Lane")
    with database.transaction() as session:
        again = jobs.caught_up(session, school)
    assert (again.job.name, again.revision) == ("Heron Lane", school.revision + 1)
    assert len(again.job.elements) == len(school.job.elements)


def test_an_edit_begun_under_the_old_name_goes_in_and_is_undone(database, school):
    space = school.job.of(Space)[0]
    with database.transaction() as session:
        jobs.rename_job(session, school.id, "Heron Lane")
    put = Put(element=space.model_copy(update={"people": 77}))
    edit = Edit(jobs.new_id(), jobs.new_id(), "People", school.revision, (put,), {space.id: space})
    with database.transaction() as session:
        kept = commit_edit(session, school.id, edit, school)
    assert (kept.job.get(Space, space.id).people, kept.job.name) == (77, "Heron Lane")
    with database.transaction() as session:
        kept, _ = step_back(session, school.id, Asked(jobs.new_id(), edit.actor), "undo")
    assert kept.job.get(Space, space.id).people == space.people


def test_a_copy_is_a_job_of_its_own_with_its_pictures(database, school):
    with database.transaction() as session:
        row = AttachmentRow(
            job_id=school.id,
            id=jobs.new_id(),
            name="plan.png",
            sha256="0" * 64,
            width_px=1,
            height_px=1,
            body=b"picture",
        )
        keep_attachment(session, row)
    with database.transaction() as session:
        made = jobs.copy_job(session, school.id)
    assert made.id != school.id
    with database.transaction() as session:
        again = jobs.load_job(session, made.id)
        (picture,) = attachments(session, made.id)
    assert again.job.name == f"{school.job.name} (copy)"
    assert {e.id for e in again.job.elements} == {e.id for e in school.job.elements}
    assert picture.body == b"picture"


def test_an_archived_job_keeps_its_day_and_comes_back(database, school):
    before = listed(database)[school.job.name]
    for archived in (True, False):
        with database.transaction() as session:
            jobs.archive_job(session, school.id, archived)
        now = listed(database)[school.job.name]
        assert (now.archived, now.changed) == (archived, before.changed)


def test_open_findings_are_unknown_until_they_were_worked_out(database, school):
    assert listed(database)[school.job.name].faults is None
    with database.transaction() as session:
        jobs.note_findings(session, school.id, 4, 7)
    now = listed(database)[school.job.name]
    assert (now.faults, now.warnings) == (4, 7)


@pytest.mark.parametrize("act", [jobs.copy_job, lambda s, i: jobs.rename_job(s, i, "x")])
def test_a_job_in_the_bin_is_neither_copied_nor_renamed(database, school, act):
    with database.transaction() as session:
        jobs.bin_job(session, school.id)
    with pytest.raises(jobs.InBin), database.transaction() as session:
        act(session, school.id)


def test_a_plan_the_size_of_a_stamp_shows_the_storey_people_enter():
    bodies = [e.model_dump(mode="json") for e in tern_lane().elements]
    storeys, walls = ([b for b in bodies if b["kind"] == kind] for kind in ("storey", "wall"))
    ground = min(storeys, key=lambda body: abs(body["elevation_m"]))["id"]
    svg = small_plan(storeys, walls).decode()
    assert svg.count("M") == sum(body["storey_id"] == ground for body in walls)
    assert "viewBox" in small_plan(storeys, []).decode()
