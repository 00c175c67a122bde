"""The tasks follow from the model, in the order good installers work; hours add up to those of the order."""

import pytest
from demo.load import JOBS

from heathrise.core.deriving import Memo
from heathrise.core.fitting.derived import tasks
from heathrise.core.fitting.making import MAKERS
from heathrise.core.library import library
from heathrise.core.ordering.derived import kit
from tests.house import House, by_label, changed, look_at


def house() -> House:
    made = House(storeys=2, settled=True)
    made.rack()
    made.switch()
    made.run(made.point("AP low", 9, 4), "R-01")
    made.run(made.point("AP high", 9, 4, storey_id=made.storeys[1], height_m=2.6), "R-02")
    made.run(made.thing("Desk", 4, 2), "R-03")
    made.add("network", "Main", vlan=20, subnet="10.20.20.0/24")
    return made


def by_step(job):
    found = {}
    for task in tasks(look_at(job)):
        found.setdefault(task.step, []).append(task)
    return found


def test_every_step_is_made_by_a_maker_and_waits_for_steps_before_it():
    seen = []
    for step, row in library().tasks.items():
        assert row.per in MAKERS
        assert {*row.after, *row.same} <= set(seen)
        assert set(row.labour) <= set(library().labour)
        seen.append(step)


def test_every_caution_a_step_names_is_in_the_library():
    for row in library().tasks.values():
        assert {name for name in row.cautions if not name.startswith("{")} <= set(library().cautions)
    for found in by_step(house().job).values():
        for task in found:
            assert set(task.cautions) <= set(library().cautions)


@pytest.mark.parametrize("make", JOBS.values(), ids=list(JOBS))
def test_the_hours_of_the_tasks_are_the_hours_of_the_order(make):
    memo = Memo(make())
    assert sum(task.hours for task in tasks(memo.look)) == pytest.approx(
        kit(memo.look).hours_sum.value, abs=0.1
    )


@pytest.mark.parametrize("make", JOBS.values(), ids=list(JOBS))
def test_what_comes_first_comes_first(make):
    """No task waits for one that stands after it; every word in braces is filled in."""
    known = set()
    for task in tasks(Memo(make()).look):
        assert set(task.after) <= known
        assert task.key not in known
        assert "{" not in task.text + task.label
        known.add(task.key)


def test_a_run_waits_for_its_own_holes_and_for_no_others():
    found = by_step(house().job)
    holes = {task.key: task for task in found["drill"]}
    for pull in found["pull"]:
        mine = {key for key in pull.after if key in holes}
        assert mine == {key for key, hole in holes.items() if pull.subjects[0] in hole.subjects}
        assert "make-safe:job" in pull.after


def test_a_thing_is_mounted_after_its_own_run_is_tested():
    job = house().job
    found = by_step(job)
    low = next(task for task in found["mount-point"] if task.subjects[0] == by_label(job, "AP low").id)
    tests = [key for key in low.after if key.startswith("test:")]
    assert tests == [f"test:{by_label(job, 'R-01').id}"]
    assert f"bench:{low.subjects[0]}" in low.after


def test_device_ends_come_before_rack_ends_and_power_comes_last():
    job = house().job
    found = by_step(job)
    run = by_label(job, "R-01").id
    rack_end = next(task for task in found["terminate-rack"] if task.subjects[0] == run)
    assert f"terminate-device:{run}" in rack_end.after
    (power,) = found["power-up"]
    assert {task.key for task in (*found["mount-point"], *found["mount-device"])} <= set(power.after)


def test_the_longest_is_pulled_first():
    look = look_at(house().job)
    pulls = [task for task in tasks(look) if task.step == "pull"]
    lengths = [
        float(next(f.value for f in task.facts if f.label == "Length")[2:].split("|")[0]) for task in pulls
    ]
    assert lengths == sorted(lengths, reverse=True)


def test_what_hangs_high_minds_height_and_a_school_minds_noise():
    high = house()
    found = by_step(high.job)
    assert all("height" in task.cautions for task in found["mount-point"])
    assert all("height" not in task.cautions for task in found["mount-device"])
    school = by_step(changed(high.job, "Site", site_kind="school"))
    assert all("children" in task.cautions for task in school["drill"])
    assert all("children" not in task.cautions for task in school["pull"])


@pytest.mark.parametrize(
    ("built", "said"),
    [
        (None, ("asbestos", "lead paint", "not known")),
        (1974, ("asbestos", "lead paint")),
        (1990, ("asbestos",)),
        (2012, ()),
    ],
)
def test_old_buildings_ask_about_what_is_in_their_walls(built, said):
    (task,) = by_step(changed(House().job, "Site", built_year=built))["permissions"]
    for words in ("asbestos", "lead paint"):
        assert (words in task.text) is (words in said)


def test_a_rated_wall_is_closed_after_everything_went_through():
    made = house()
    job = changed(made.job, "Ground middle", fire_minutes=60)
    found = by_step(job)
    assert found["firestop"]
    for close in found["firestop"]:
        assert set(close.after) == {f"pull:{run}" for run in close.subjects[1:]}
        assert "fire" in close.cautions


def test_an_empty_job_has_nothing_to_do():
    bare = House().job.model_copy(update={"elements": ()})
    assert tasks(look_at(bare)) == ()


def test_a_hole_keeps_its_task_when_another_comes_before_it():
    made = house()
    before = {task.key: task.label for task in by_step(made.job)["drill"]}
    made.d.wall(made.ground, "brick-102", (3, 0), (3, 8), label="Extra")
    after = {task.key: task.label for task in by_step(made.job)["drill"]}
    assert set(before) < set(after)
    # It is another number in the list now, and the same hole.
    assert any(before[key] != after[key] for key in before)
