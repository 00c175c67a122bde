"""The list reaches to the last screw, says what each line is counted from, and takes off what the client keeps."""

import pytest

from heathrise.core.deriving import Memo
from heathrise.core.edit import Put, apply
from heathrise.core.findings.slices import SLICES
from heathrise.core.job.view import changed_keys
from heathrise.core.library import library
from heathrise.core.ordering.counting import COUNTERS
from heathrise.core.ordering.derived import kit
from tests.house import House, by_label, changed, look_at


def lines(job):
    return {line.item: line for line in kit(look_at(job)).lines}


def hung(x=5.9, **body) -> House:
    """One point on the brick wall in the middle, one on the ceiling, both run to the rack."""
    house = House(settled=True)
    house.rack()
    house.switch()
    house.run(house.point("AP wall", x, 4, mount="wall", **body), "R-01")
    house.run(house.point("AP ceiling", 3, 2), "R-02")
    return house


def test_every_counter_that_a_consumable_names_is_there_and_every_part():
    for row in library().consumables.values():
        assert row.per in COUNTERS
        assert row.part in library().parts


def test_fixings_go_by_what_a_thing_hangs_on():
    found = lines(hung().job)
    assert (found["anchor-hard"].need, found["anchor-board"].need) == (4, 4)
    light = changed(hung().job, "Ground middle", build_up="stud-plasterboard")
    assert lines(light)["anchor-board"].need == 8
    assert "anchor-hard" not in lines(light)


def test_a_line_opens_to_what_it_is_counted_from():
    told = lines(hung().job)["jack-6a"].need_sum
    assert [(line.label, line.value) for line in told.lines] == [("R-01", 2), ("R-02", 2), ("spares", 10)]
    assert told.value == sum(line.value for line in told.lines)


def test_a_cable_into_a_housing_outdoors_takes_a_gland():
    house = hung()
    assert "gland" not in lines(house.job)
    house.run(house.point("AP yard", 11.9, 7, mount="outdoor", model="ap-outdoor-wifi6-2x2"), "R-03")
    assert lines(house.job)["gland"].need == 1


def test_supports_go_by_the_way_not_by_the_cables_in_it():
    one = House(settled=True)
    one.rack()
    one.run(one.point("AP 1", 11, 1), "R-01")
    way = lines(one.job)["cable-support"].need
    one.run(by_label(one.job, "AP 1").id, "R-02")
    assert lines(one.job)["cable-support"].need == pytest.approx(way, abs=2)


@pytest.mark.parametrize(
    ("keeps", "serves", "practice", "order"),
    [(1, True, "keep", 1), (1, False, "keep", 2), (1, True, "replace", 2), (9, True, "keep", 0)],
)
def test_what_the_client_keeps_is_not_bought_again(keeps, serves, practice, order):
    house = hung(model="ap-ceiling-wifi6-2x2")
    kept = [{"what": "Old points", "count": keeps, "item": "ap-ceiling-wifi6-2x2", "serves": serves}]
    job = changed(changed(house.job, "Brief", kept=kept), "House practice", old_kit=practice)
    assert lines(job)["ap-ceiling-wifi6-2x2"].order == order


def test_a_new_label_leaves_what_is_bought_as_it_is():
    job = hung().job
    memo = Memo(job)
    kit(memo.look)
    memo.worked.clear()
    after = apply(job, [Put(element=by_label(job, "AP wall").model_copy(update={"label": "Wall"}))]).job
    memo.advance(after, 1, changed_keys(job, after, SLICES))
    assert "Wall" in {line.label for line in kit(memo.look).lines[0].need_sum.lines}
    assert memo.worked["ordering.bought"] == 0


def test_own_offers_stand_before_the_list_price_and_are_said():
    house = hung()
    offers = [{"number": "N1", "item": "jack-6a", "supplier": "North", "pack": 24, "price": 96.0}]
    house.add("ordering", "Order", offers=offers)
    line = lines(house.job)["jack-6a"]
    assert (line.supplier, line.ordered, line.cost) == ("North", "1 × 24", 96.0)
    assert "N1, North" in line.cost_sum.lines[0].note


def test_cable_in_boxes_of_another_size_than_the_cut_list_is_made_for_is_not_taken():
    house = hung()
    offers = [{"number": "N1", "item": "cat6a-indoor", "supplier": "North", "pack": 500, "price": 1.0}]
    house.add("ordering", "Order", offers=offers)
    assert lines(house.job)["cat6a-indoor"].supplier == ""


def test_a_delivery_and_lines_by_hand_are_lines_of_the_list():
    house = hung()
    house.add(
        "ordering",
        "Order",
        suppliers=[{"name": "North", "delivery": 9.5}],
        offers=[{"number": "N1", "item": "jack-6a", "supplier": "North", "pack": 10, "price": 50.0}],
        extras=[{"what": "A day of a lift", "count": 2, "price": 120.0}],
    )
    found = kit(look_at(house.job))
    by_group = {line.group: line for line in found.lines}
    assert (by_group["Delivery"].cost, by_group["By hand"].cost) == (9.5, 240.0)
    assert found.cost_sum.value == pytest.approx(sum(line.cost for line in found.lines))


def test_an_order_that_names_a_number_twice_is_refused():
    row = {"number": "N1", "item": "jack-6a", "supplier": "North", "price": 1.0}
    with pytest.raises(ValueError, match="N1 stands twice"):
        House().add("ordering", "Order", offers=[row, row])
