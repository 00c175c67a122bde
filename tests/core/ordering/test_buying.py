"""What is needed is covered at least cost: packs, suppliers, deliveries, stock."""

from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.job import Supplier, SupplierOffer
from heathrise.core.ordering.buying import fewest_cost, purchases


def offer(number, pack, price, supplier="North", stock=None, item="jack"):
    return SupplierOffer(number=number, item=item, supplier=supplier, pack=pack, price=price, stock=stock)


SINGLES = offer("one", 1, 10.0)
FIVES = offer("five", 5, 42.0)


@pytest.mark.parametrize(
    ("need", "counts", "cost"),
    [
        (0, {}, 0),
        (4, {"one": 4}, 40),
        (5, {"five": 1}, 42),
        (7, {"five": 1, "one": 2}, 62),
        (9, {"five": 1, "one": 4}, 82),
        (10, {"five": 2}, 84),
    ],
)
def test_the_mix_of_packs_that_costs_least(need, counts, cost):
    found = fewest_cost(need, (SINGLES, FIVES))
    assert {one.number: count for one, count in found.items()} == counts
    assert sum(one.price * count for one, count in found.items()) == cost


@given(
    st.integers(0, 40),
    st.lists(st.tuples(st.integers(1, 9), st.integers(1, 60)), min_size=1, max_size=3),
)
def test_no_mix_that_covers_it_costs_less(need, sizes):
    offers = [offer(f"n{n}", pack, price) for n, (pack, price) in enumerate(sizes)]
    found = fewest_cost(need, offers)
    cost = sum(one.price * count for one, count in found.items())
    assert sum(one.pack * count for one, count in found.items()) >= need
    tried = product(*(range(-(-need // one.pack) + 1) for one in offers))
    covering = (
        counts for counts in tried if sum(c * o.pack for c, o in zip(counts, offers, strict=True)) >= need
    )
    assert cost == min(sum(c * o.price for c, o in zip(counts, offers, strict=True)) for counts in covering)


def test_a_delivery_is_paid_where_it_is_worth_it():
    """Dearer pieces from one house cost less than a second delivery."""
    shelf = {
        "jack": (offer("n-jack", 1, 3.0, "North"), offer("s-jack", 1, 2.8, "South")),
        "plug": (offer("n-plug", 1, 5.0, "North", item="plug"),),
    }
    houses = (Supplier(name="North", delivery=15.0), Supplier(name="South", delivery=15.0))
    few = purchases({"jack": 10, "plug": 4}, shelf, houses)
    assert {buy.supplier for buys in few.buys.values() for buy in buys} == {"North"}
    assert (few.cost, few.proven) == (10 * 3.0 + 4 * 5.0 + 15.0, True)
    many = purchases({"jack": 100, "plug": 4}, shelf, houses)
    assert {buy.supplier for buy in many.buys["jack"]} == {"South"}
    assert many.cost == 100 * 2.8 + 4 * 5.0 + 30.0 == many.bound


def test_a_delivery_is_free_from_its_sum_on():
    shelf = {"jack": (offer("n", 1, 3.0),)}
    house = (Supplier(name="North", delivery=15.0, free_from=60.0),)
    # Nineteen and a delivery are 72; a twentieth makes it 60.
    assert purchases({"jack": 19}, shelf, house).cost == 60.0
    assert purchases({"jack": 20}, shelf, house).cost == 60.0
    assert [one.cost for one in purchases({"jack": 20}, shelf, house).deliveries] == [0.0]


def test_what_is_bought_where_no_delivery_is_paid_counts_towards_the_free_one():
    shelf = {"jack": (offer("n", 1, 3.0),), "plug": (offer("p", 1, 50.0, item="plug"),)}
    house = (Supplier(name="North", delivery=15.0, free_from=60.0),)
    found = purchases({"jack": 4, "plug": 1}, shelf, house)
    assert (found.cost, found.deliveries[0].bought) == (62.0, 62.0)


def test_stock_is_taken_before_what_has_to_be_waited_for():
    here, there = offer("here", 1, 2.0, stock=6), offer("there", 1, 2.5, "South", stock=50)
    found = purchases({"jack": 10}, {"jack": (here, there)}, ())
    assert {buy.number: (buy.count, buy.stocked) for buy in found.buys["jack"]} == {
        "here": (6, True),
        "there": (4, True),
    }


def test_what_nobody_has_enough_of_is_ordered_all_the_same_and_said():
    found = purchases({"jack": 10}, {"jack": (offer("here", 1, 2.0, stock=6),)}, ())
    (buy,) = found.buys["jack"]
    assert (buy.count, buy.stocked) == (10, False)


def test_what_nobody_offers_is_left_out():
    assert purchases({"jack": 3, "plug": 2}, {"jack": (SINGLES,), "plug": ()}, ()).buys.keys() == {"jack"}


@given(st.integers(1, 30), st.integers(0, 30), st.integers(0, 20), st.integers(0, 60))
def test_a_purchase_covers_the_need_and_stays_over_its_bound(need, stock, delivery, free_from):
    shelf = {
        "jack": (offer("n", 1, 3.0, stock=stock), offer("s", 5, 13.0, "South"), offer("n5", 4, 11.0)),
        "plug": (offer("p", 1, 4.0, item="plug"), offer("q", 2, 7.0, "South", item="plug")),
    }
    houses = (
        Supplier(name="North", delivery=delivery, free_from=free_from),
        Supplier(name="South", delivery=7.0),
    )
    found = purchases({"jack": need, "plug": 3}, shelf, houses)
    for item, count in (("jack", need), ("plug", 3)):
        assert sum(buy.count * buy.pack for buy in found.buys[item]) >= count
    assert found.bound <= found.cost
