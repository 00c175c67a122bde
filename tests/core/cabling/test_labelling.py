"""Labels by a scheme: unique, in the order of the runs, and nothing but labels changes."""

import pytest
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill

from heathrise.core.cabling.ends import runs_of
from heathrise.core.cabling.labelling import labels_by, relabelled
from heathrise.core.edit import Put, apply
from heathrise.core.findings import assess
from heathrise.core.job import Job, Link
from heathrise.core.library import UnknownItem, library
from tests.house import House, changed

JOBS = [tern_lane, withy_mill, fern_hollow]


@pytest.mark.parametrize("scheme", library().labels)
@pytest.mark.parametrize("build", JOBS)
def test_a_scheme_names_every_run_once_and_changes_nothing_else(build, scheme):
    job = build()
    found = labels_by(job, scheme)
    assert [run.run_id for run in found.runs] == [link.id for link in runs_of(job)]
    assert len({run.new for run in found.runs}) == len(found.runs)
    made = apply(job, relabelled(job, scheme))
    assert nameless(made.job) == nameless(job)
    assert [link.label for link in runs_of(made.job)] == [run.new for run in found.runs]
    assert labels_by(made.job, scheme).changes == 0
    assert relabelled(made.job, scheme) == ()
    back = apply(made.job, made.inverse).job
    assert {e.id: e for e in back.elements} == {e.id: e for e in job.elements}
    before, after = assess(job), assess(made.job)
    assert [(p.switch_id, p.port, p.run_id) for p in after.ports] == [
        (p.switch_id, p.port, p.run_id) for p in before.ports
    ]
    assert after.cost_sum.value == before.cost_sum.value


def nameless(job: Job) -> list[Link]:
    return [link.model_copy(update={"label": ""}) for link in job.of(Link)]


def many_runs(n: int) -> Job:
    house = House(2)
    house.rack()
    for number in range(n):
        thing = house.thing(f"Outlet {number}", x=2 + number % 8, y=2)
        house.run(thing, f"old {number}")
    return house.job


def test_the_panel_has_twenty_four_places_and_the_next_letter_follows():
    new = [run.new for run in labels_by(many_runs(26), "panel").runs]
    assert (new[0], new[23], new[24], new[25]) == ("TR1-A-01", "TR1-A-24", "TR1-B-01", "TR1-B-02")
    full = [run.new for run in labels_by(many_runs(2), "panel-and-place").runs]
    assert full == ["TR1-A-01 / R-0.01", "TR1-A-02 / R-0.02"]


def test_racks_of_one_name_do_not_give_two_runs_one_label():
    house = House()
    house.rack("TR1")
    house.rack("TR9", x=9)
    first = house.thing("Outlet 1")
    second = house.thing("Outlet 2", x=9)
    house.run(first, "one")
    far = next(e for e in house.job.elements if e.label == "TR9")
    house.run(second, "two")
    two = next(link for link in house.job.of(Link) if link.label == "two")
    moved = changed(house.job, "two", a=two.a.model_copy(update={"on": far.id, "port": None}))
    twin = apply(moved, [Put(element=far.model_copy(update={"label": "TR1"}))]).job
    assert [run.new for run in labels_by(twin, "panel").runs] == ["TR1-A-01", "TR1-A-01 (2)"]


def test_a_scheme_nobody_knows_is_said():
    with pytest.raises(UnknownItem, match="no scheme of labels named roman"):
        labels_by(many_runs(1), "roman")
