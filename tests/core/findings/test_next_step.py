"""What next: the steps a job still wants, in the order of the work."""

import pytest
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill

from heathrise.core.deriving import Memo
from heathrise.core.edit import apply
from heathrise.core.findings import assess
from heathrise.core.findings.next_step import STEPS, next_steps
from heathrise.core.findings.trying import mended_all
from heathrise.core.job import Job
from heathrise.core.library import library
from tests.core.findings.test_rules import plain_switch, sound
from tests.house import House, changed


def code_of(job: Job) -> str:
    return assess(job).next[0].code


def bare() -> House:
    house = House()
    house.d.elements = [e for e in house.d.elements if e.kind in {"site", "brief", "practice", "storey"}]
    return house


def test_every_step_has_its_words_and_its_condition():
    steps = library().next_steps
    assert set(STEPS) == {code for code, row in steps.items() if row.while_open is None}
    assert {row.while_open for row in steps.values()} - {None} <= set(library().rules)
    for row in steps.values():
        assert row.stage in library().stages or row.stage == "findings"


def test_a_job_is_led_from_nothing_to_cables():
    house = bare()
    assert code_of(house.job) == "draw"
    picture = {"storey_id": house.ground, "attachment_id": house.ground, "width_px": 10, "height_px": 10}
    house.add("underlay", "Plan", **picture)
    assert code_of(house.job) == "scale"
    house = bare()
    house.d.wall(house.ground, "brick-102", (0, 0), (8, 0), (8, 6), (0, 6), (0, 0), label="Outer")
    assert code_of(house.job) == "spaces"
    house.d.space(house.ground, "Classroom", (0, 0, 8, 6))
    assert code_of(house.job) == "rack"
    house.rack()
    assert code_of(house.job) == "entry"
    house.add("service-entry", "Entry", storey_id=house.ground, at={"x_m": 1, "y_m": 0.2})
    assert code_of(house.job) == "needs"
    job = changed(house.job, "Classroom", need="lessons", people=20)
    assert code_of(job) == "points"
    house.d.elements = list(job.elements)
    point = house.point(x=4, y=3)
    assert code_of(house.job) == "runs"
    house.run(point, "R-01")
    assert code_of(house.job) == "switch"
    house.switch()
    assert code_of(house.job) == "networks"


@pytest.mark.parametrize("build", [tern_lane, withy_mill, fern_hollow])
def test_a_job_with_faults_is_led_to_all_of_them_what_a_press_mends_first(build):
    found = assess(build())
    faults = [f for f in found.findings if f.severity == "fault" and f.accepted is None]
    led = [step for step in found.next if step.code == "faults"]
    assert [set(step.findings) for step in led] == ([{f.key for f in faults}] if faults else [])
    by_key = {f.key: f for f in faults}
    for step in led:
        mendable = [bool(by_key[key].fixes) for key in step.findings]
        assert mendable == sorted(mendable, reverse=True)
        assert step.stage == by_key[step.findings[0]].stage


def test_who_cannot_take_a_step_now_sees_the_one_after_and_the_kit_at_last():
    codes = [step.code for step in assess(bare().job).next]
    assert codes[0] == "draw"
    assert codes[-1] == "order"
    assert len(codes) == len(set(codes)) > 2
    order = list(library().next_steps)
    assert codes == sorted(codes, key=order.index)


def test_a_stage_that_breaks_does_not_take_the_next_step_with_it():
    memo = Memo(sound().job)
    assert all(step.text for step in next_steps(memo.look))


def loud(n: int) -> Job:
    """A house with points far louder than any client answers."""
    house = sound()
    job = house.job
    for label in ("AP west", "AP east")[:n]:
        job = changed(job, label, radios=[{"band": "5", "power_dbm": 24, "channel": 100}])
    return job


def test_all_findings_of_a_rule_are_mended_by_one_edit():
    job = loud(2)
    memo = Memo(job)
    found = mended_all(memo, "air.up-down-apart")
    assert (found.mended, found.left, found.brings) == (2, 0, ())
    after = apply(job, found.operations)
    assert "air.up-down-apart" not in {f.rule for f in assess(after.job).findings}
    back = apply(after.job, after.inverse).job
    assert {e.id: e for e in back.elements} == {e.id: e for e in job.elements}
    assert memo.source is job


def test_what_cannot_be_mended_is_left_and_said():
    found = mended_all(Memo(plain_switch()), "runs.wrong-rating")
    assert (found.mended, found.operations) == (0, ())
