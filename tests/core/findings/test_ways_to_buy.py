"""Good, better, best; and what if a line were another."""

import pytest

from heathrise.core.deriving import Memo
from heathrise.core.edit import EditError, apply
from heathrise.core.findings.instead import line_asked
from heathrise.core.findings.options import options
from heathrise.core.job import AccessPoint, Link
from heathrise.core.library import library
from heathrise.core.ordering.derived import kit
from heathrise.store.jobs import new_id
from tests.house import House, look_at


def house() -> House:
    made = House(settled=True)
    made.rack()
    made.switch()
    for n, x in enumerate((2, 9)):
        point = made.point(f"AP {n}", x, 4)
        made.run(point, f"R-{n}1")
        made.run(point, f"R-{n}2")
    return made


@pytest.fixture
def ways():
    memo = Memo(house().job)
    return memo, {way.code: way for way in options(memo, new_id).options}


def test_better_is_the_job_as_it_stands_and_trying_the_others_leaves_it_so(ways):
    memo, found = ways
    assert found["better"].operations == ()
    assert (
        found["better"].figures.kit
        == kit(memo.look).cost_sum.value
        == kit(look_at(memo.source)).cost_sum.value
    )


def test_good_costs_less_and_best_more(ways):
    _, found = ways
    assert found["good"].whole_sum.value < found["better"].whole_sum.value < found["best"].whole_sum.value


@pytest.mark.parametrize("code", ["good", "best"])
def test_a_way_taken_costs_what_it_said(ways, code):
    memo, found = ways
    after = apply(memo.source, found[code].operations).job
    assert kit(look_at(after)).cost_sum.value == found[code].figures.kit


def test_good_leaves_second_cables_out_and_best_hangs_the_newest_points(ways):
    memo, found = ways
    good = apply(memo.source, found["good"].operations).job
    assert len(good.of(Link)) == 2
    best = apply(memo.source, found["best"].operations).job
    generations = {best.equipment[point.model].generation for point in best.of(AccessPoint)}
    assert generations == {list(library().phys)[-1]}
    assert {library().cables[link.product].category for link in best.of(Link)} == {"6A"}


def test_a_price_in_all_is_kit_work_and_tax(ways):
    _, found = ways
    told = found["better"].whole_sum
    assert told.value == pytest.approx(sum(line.value for line in told.lines), abs=0.02)


def test_another_point_costs_what_taking_it_makes_the_kit_cost():
    memo = Memo(house().job)
    asked = line_asked(memo, "ap-ceiling-wifi6-2x2")
    assert asked.instead
    for other in asked.instead:
        after = apply(memo.source, other.operations).job
        assert kit(look_at(after)).cost_sum.value == other.cost
        assert other.more == pytest.approx(other.cost - asked.cost, abs=0.01)


def test_what_does_the_same_hangs_in_the_same_place_and_serves_the_same_bands():
    memo = Memo(house().job)
    now = memo.source.equipment["ap-ceiling-wifi6-2x2"]
    for other in line_asked(memo, "ap-ceiling-wifi6-2x2").instead:
        model = memo.source.equipment[other.item]
        assert set(now.mounts) <= set(model.mounts)
        assert {radio.band for radio in now.bands} <= {radio.band for radio in model.bands}


def test_a_cable_instead_lies_everywhere_and_carries_no_less():
    memo = Memo(house().job)
    shelf = library().cables
    for other in line_asked(memo, "cat6a-indoor").instead:
        assert shelf["cat6a-indoor"].environments <= shelf[other.item].environments
        assert shelf[other.item].category == "6A"


def test_one_more_of_a_pack_that_is_not_full_costs_nothing():
    memo = Memo(house().job)
    assert line_asked(memo, "jack-6a").one_more == 0.0
    assert line_asked(memo, "switch-16-poe-2g5").one_more == library().equipment["switch-16-poe-2g5"].price


def test_a_line_that_is_gone_is_said():
    with pytest.raises(EditError, match="no such line"):
        line_asked(Memo(house().job), "ap-of-nobody")
