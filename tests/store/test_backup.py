"""A backup comes back whole, a broken one changes nothing, and the doctor finds what does not fit the log."""

import gzip
import json
import os

import pytest
from click.testing import CliRunner
from sqlalchemy import text

from heathrise.cli import main
from heathrise.core.edit import Put, Remove
from heathrise.core.job import AccessPoint, Wall
from heathrise.store.backup import BackupFailed, put_back, write_backup
from heathrise.store.database import Database
from heathrise.store.doctor import examine
from heathrise.store.edits import Asked, Edit, commit_edit, step_back
from heathrise.store.jobs import create_job, load_job, new_id, told_since
from heathrise.store.tables import ElementRow

ANNA = new_id()


@pytest.fixture
def kept(database, school):
    """A job with a history: renamed, a wall removed and brought back."""
    with database.transaction() as session:
        kept = create_job(session, school)
    point, wall = school.of(AccessPoint)[0], school.of(Wall)[0]
    for revision, step in enumerate(
        [Put(element=point.model_copy(update={"label": "Hall"})), Remove(id=wall.id)]
    ):
        with database.transaction() as session:
            commit_edit(session, kept.id, Edit(new_id(), ANNA, "test", revision, (step,)))
    with database.transaction() as session:
        return step_back(session, kept.id, Asked(new_id(), ANNA), "undo")[0]


def now(database, kept):
    with database.transaction() as session:
        return load_job(session, kept.id)


def rename(database, kept, label):
    point = kept.job.of(AccessPoint)[0].model_copy(update={"label": label})
    with database.transaction() as session:
        return commit_edit(
            session, kept.id, Edit(new_id(), ANNA, "test", kept.revision, (Put(element=point),))
        )


def test_a_backup_comes_back_whole_with_its_history(database, url, kept, tmp_path):
    path = write_backup(url, tmp_path)
    rename(database, kept, "Lost again")
    database.engine.dispose()
    before = put_back(url, path)
    back = now(database, kept)
    assert back.job.by_id == kept.job.by_id
    with database.transaction() as session:
        assert examine(session, kept.id) == []
        assert told_since(session, kept.id, kept.revision + 1, back.revision, 500) is None, (
            "a window that saw what is lost opens the job anew"
        )
        session.execute(text(f"use `{before}`"))
        label = session.get_one(ElementRow, (kept.id, kept.job.of(AccessPoint)[0].id)).body["label"]
        assert label == "Lost again", "what was there is kept beside it"
    database.engine.dispose()
    with database.transaction() as session:
        assert step_back(session, kept.id, Asked(new_id(), ANNA), "undo")[0].revision == back.revision + 1
    rename(database, now(database, kept), "Goes on")
    assert now(database, kept).job.of(AccessPoint)[0].label == "Goes on"


@pytest.mark.parametrize(
    "spoiled",
    [lambda b: b[: len(b) // 2], lambda _: b"no backup", lambda _: gzip.compress(b"select 1;\n")],
    ids=["cut short", "not packed", "something else"],
)
def test_a_broken_backup_changes_nothing(database, url, kept, tmp_path, spoiled):
    path = write_backup(url, tmp_path)
    path.write_bytes(spoiled(path.read_bytes()))
    with pytest.raises(BackupFailed):
        put_back(url, path)
    assert now(database, kept).job.by_id == kept.job.by_id
    with database.transaction() as session:
        left = session.scalars(text("show databases like '%restoring%'")).all()
    assert left == []


def test_only_the_newest_backups_are_kept_and_never_a_half(url, tmp_path):
    old = [
        tmp_path / f"{Database(url).engine.url.database}-2026-01-0{n}T00-00-00Z.sql.gz" for n in range(1, 5)
    ]
    killed = tmp_path / "heathrise-2026-01-01T00-00-00Z.sql.gz.part"
    for path in [*old, killed]:
        path.write_bytes(b"old")
    os.utime(killed, (0, 0))
    newest = write_backup(url, tmp_path, keep=2)
    assert sorted(tmp_path.iterdir()) == [old[-1], newest]


def test_a_full_disk_leaves_no_half_of_a_backup(url, tmp_path, monkeypatch):
    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("heathrise.store.backup.os.fsync", full)
    with pytest.raises(BackupFailed, match="No space left"):
        write_backup(url, tmp_path)
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(
    ("harm", "words"),
    [
        ("update element set body = json_set(body, '$.label', 'By hand') where id = :point", "left it"),
        ("delete from element where id = :point", "left it"),
        ("delete from element where kind = 'storey'", "names"),
        ("update element set body = json_set(body, '$.height_m', -5) where id = :point", "is broken"),
        ("update job set revision = 1", "goes on to revision 3"),
        ("update `change` set inverse = '[]' where revision = 1", "cannot be undone"),
    ],
)
def test_the_doctor_finds_what_does_not_fit(database, kept, harm, words):
    with database.transaction() as session:
        assert examine(session, kept.id) == []
        session.execute(text(harm), {"point": kept.job.of(AccessPoint)[0].id} if ":point" in harm else {})
        session.expire_all()
        assert any(words in complaint for complaint in examine(session, kept.id))


def test_the_commands_do_the_same(database, url, kept, tmp_path, monkeypatch):
    monkeypatch.setenv("HEATHRISE_DATABASE_URL", url)

    def said(*arguments, code=0):
        done = CliRunner().invoke(main, list(arguments))
        assert done.exit_code == code, done.output
        return done.output

    assert "MB" in said("backup", str(tmp_path))
    (path,) = tmp_path.iterdir()
    assert "1 of 1 jobs are sound" in said("doctor")
    with database.transaction() as session:
        session.execute(text("delete from element where kind = 'access-point'"))
    assert "NOT SOUND" in said("doctor", code=1)
    database.engine.dispose()
    assert "is in place" in said("restore", str(path), "--yes")
    assert "1 of 1 jobs are sound" in said("doctor")
    path.write_bytes(b"spoiled")
    assert "The database is as it was" in said("restore", str(path), "--yes", code=1)
    assert json.loads(json.dumps(now(database, kept).job.name)) == kept.job.name
