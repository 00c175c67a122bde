"""The days of a crew: nothing before what it waits for, nobody twice at once, loud work when nobody is there."""

from datetime import date
from itertools import pairwise

import pytest
from demo.load import JOBS
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.deriving import Memo
from heathrise.core.fitting.derived import tasks
from heathrise.core.fitting.scheduling import fit_plan
from heathrise.core.fitting.tasks import Task
from heathrise.core.job import Fitting, Ordering, Site

TODAY = date(2026, 11, 27)  # a Friday
ID = {"id": "00000000-0000-7000-8000-000000000000", "label": "x"}


def task(key: str, hours: float, after=(), people=1, loud=False) -> Task:
    return Task(
        key=key,
        step="pull",
        label=key,
        text="",
        trade="first fix",
        storey_id=None,
        storey="",
        space="",
        at=None,
        height_m=None,
        subjects=(),
        hours=hours,
        people=people,
        loud=loud,
        outdoors=False,
        cautions=(),
        records=(),
        facts=(),
        after=tuple(after),
    )


def planned(some, crew=2, fitting=None, site=None, **ordering):
    order = Ordering(**ID, crew=crew, **{"begins": date(2026, 11, 30), **ordering})
    plan = fit_plan(some, order, fitting or Fitting(**ID), site or Site(**ID), TODAY)
    return plan, {one.key: one for one in plan.planned}


def test_one_after_another_over_the_night_and_the_weekend():
    plan, found = planned([task("a", 6), task("b", 4, ["a"]), task("c", 40, ["b"])], crew=1)
    assert (found["a"].on, found["a"].from_h, found["a"].to_h) == (date(2026, 11, 30), 8.0, 14.0)
    assert (found["b"].from_h, found["b"].to_day, found["b"].to_h) == (14.0, 1, 10.0)
    assert plan.ends == date(2026, 12, 8), (
        "six hours of Tuesday, then Wednesday to Friday, Monday, and two more"
    )


def test_two_people_halve_what_takes_two_and_not_what_takes_one():
    _, found = planned([task("a", 6, people=2), task("b", 6, ["a"])])
    assert (found["a"].to_h, found["a"].who) == (11.0, ("Person 1", "Person 2"))
    assert (found["b"].from_h, found["b"].to_day, found["b"].to_h) == (11.0, 1, 9.0) or found[
        "b"
    ].to_h == 17.0 - 1.0 + 0.0
    assert len(found["b"].who) == 1


def test_a_crew_of_one_does_alone_what_takes_two():
    _, found = planned([task("a", 6, people=2)], crew=1)
    assert (found["a"].to_h, len(found["a"].who)) == (14.0, 1)


def test_loud_work_waits_until_nobody_is_there():
    _, found = planned([task("a", 2, loud=True)], site=Site(**ID, closes_h=18))
    assert (found["a"].from_h, found["a"].to_h) == (18.0, 20.0)


def test_loud_work_is_done_by_day_where_the_house_is_shut():
    _, found = planned([task("a", 2, loud=True)], site=Site(**ID, open_days=("sat",)))
    assert found["a"].from_h == 8.0


def test_what_is_held_on_a_day_is_done_then_and_said_when_it_cannot_be():
    held = Fitting(**ID, held=[{"task": "b", "on": "2026-12-03"}, {"task": "c", "on": "2026-11-30"}])
    _, found = planned([task("a", 12), task("b", 1), task("c", 1, ["a"])], crew=1, fitting=held)
    assert found["a"].day == 0
    assert (found["b"].on, found["b"].held, found["b"].late) == (date(2026, 12, 3), True, False)
    assert found["c"].late


def test_what_is_held_far_ahead_leaves_the_days_before_it_free():
    held = Fitting(**ID, held=[{"task": "a", "on": "2026-12-10"}])
    _, found = planned([task("a", 2), task("b", 7), task("c", 7)], crew=1, fitting=held)
    assert (found["a"].on, found["b"].day, found["c"].day) == (date(2026, 12, 10), 0, 0)


def test_what_is_held_of_a_task_that_is_no_more_is_said():
    held = Fitting(**ID, held=[{"task": "gone", "on": "2026-12-10"}])
    plan, _ = planned([task("a", 2)], fitting=held)
    assert plan.astray == ("gone",)


def test_a_task_given_to_somebody_is_done_by_them():
    given_to = Fitting(**ID, crew=("Ada", "Ben"), held=[{"task": "a", "who": "Ben"}])
    _, found = planned([task("a", 1), task("b", 1)], fitting=given_to)
    assert (found["a"].who, found["b"].who) == (("Ben",), ("Ada",))


def test_the_longest_chain_is_told_and_everything_else_may_wait():
    plan, found = planned([task("a", 4), task("b", 1), task("c", 3, ["a", "b"])])
    assert [(line.label, line.value) for line in plan.critical_sum.lines] == [("a", 4), ("c", 3)]
    assert plan.critical_sum.value == 7
    assert (found["a"].critical, found["b"].critical, found["b"].slack_h) == (True, False, 3)


def test_without_a_day_the_work_begins_on_the_next_monday():
    plan, _ = planned([task("a", 1)], begins=None)
    assert plan.begins == date(2026, 11, 30)


@st.composite
def some_tasks(draw):
    count = draw(st.integers(1, 14))
    made = []
    for n in range(count):
        before = draw(st.sets(st.integers(0, n - 1), max_size=3)) if n else set()
        made.append(
            task(
                f"t{n}",
                draw(st.floats(0, 20)),
                [f"t{k}" for k in sorted(before)],
                draw(st.integers(1, 3)),
                draw(st.booleans()),
            )
        )
    return made


@given(some_tasks(), st.integers(1, 4))
def test_nothing_before_what_it_waits_for_and_nobody_twice_at_once(some, crew):
    plan, found = planned(some, crew=crew)

    def span(key):
        one = found[key]
        return one.day * 24 + one.from_h, one.to_day * 24 + one.to_h

    for one in some:
        for key in one.after:
            assert span(key)[1] <= span(one.key)[0] + 0.02
    for name in plan.crew:
        mine = sorted(span(one.key) for one in some if name in found[one.key].who and one.hours > 0.1)
        for (_, end), (begin, _) in pairwise(mine):
            assert end <= begin + 0.02
    assert plan.critical_sum.value <= sum(one.hours for one in some) + 0.06


@pytest.mark.parametrize("make", JOBS.values(), ids=list(JOBS))
def test_each_demo_job_is_done_within_some_weeks(make):
    job = make()
    plan = fit_plan(tasks(Memo(job).look), job.ordering, job.fitting, job.site, TODAY)
    assert 4 <= plan.days <= 25
    assert plan.begins == job.ordering.begins
    assert {one.key for one in plan.planned} == {one.key for one in plan.tasks}
