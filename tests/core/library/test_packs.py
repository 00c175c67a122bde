"""Packs: the least price is found, whatever the sizes."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.library.equipment import Pack
from heathrise.core.library.packs import packed_price

FIVE = [Pack(count=5, price=420.0)]


@pytest.mark.parametrize(
    ("count", "price"),
    # The fourth alone is cheaper singly, the fifth makes the pack; a pack may hold more than is needed.
    [(0, 0.0), (1, 100.0), (4, 400.0), (5, 420.0), (6, 520.0), (9, 820.0), (10, 840.0)],
)
def test_pieces_and_packs_are_mixed_for_the_least(count, price):
    assert packed_price(count, 100.0, FIVE) == price


def test_a_pack_is_taken_for_fewer_than_it_holds_when_that_is_cheaper():
    assert packed_price(4, 150.0, FIVE) == 420.0


@given(st.integers(0, 60), st.floats(1, 500), st.integers(2, 12), st.floats(1, 3000))
def test_packs_never_make_it_dearer(count, each, size, price):
    found = packed_price(count, each, [Pack(count=size, price=price)])
    assert found <= round(count * each, 2) + 0.01


def test_less_than_none_is_refused():
    with pytest.raises(ValueError, match="zero is the least"):
        packed_price(-1, 1.0, [])
