"""Price lists as suppliers send them: other columns, commas, currencies, doubles, nonsense; and out again."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.ordering.derived import kit
from heathrise.core.ordering.pricing import seen_prices
from heathrise.exchange.pricelist import COLUMNS, money_of, price_rows, read_prices, whole_of
from heathrise.exchange.rows import table_rows
from heathrise.exchange.tables import to_csv
from heathrise.exchange.unreadable import Unreadable
from tests.house import House, look_at


def job():
    house = House(settled=True)
    house.rack()
    house.run(house.point("AP 1"), "R-01")
    known = {"number": "MT-9", "item": "jack-6a", "supplier": "Marsh", "pack": 10, "price": 50.0}
    house.add("ordering", "Order", offers=[known])
    return house.job


def seen(text: str, supplier="Marsh", chosen=None):
    rows, skipped = read_prices(table_rows(text.encode()))
    return seen_prices(job(), rows, supplier, chosen or {}, skipped)


@pytest.mark.parametrize(
    ("text", "amount", "currency"),
    [
        ("12.50", 12.5, ""),
        ("12,50", 12.5, ""),
        ("€ 1.234,50", 1234.5, "EUR"),
        ("1,234.50 USD", 1234.5, "USD"),
        ("CHF 3.-", 3.0, "CHF"),
        ("£3.20", 3.2, "GBP"),
        ("-4,00", -4.0, ""),
        ("auf Anfrage", None, ""),
        ("", None, ""),
    ],
)
def test_amounts_as_people_write_them(text, amount, currency):
    assert money_of(text) == (amount, currency)


@pytest.mark.parametrize(
    ("text", "whole"), [("305", 305), ("box of 305", 305), ("> 50", 50), ("1 000 m", 1000), ("none", None)]
)
def test_whole_numbers_in_words(text, whole):
    assert whole_of(text) == whole


def test_a_list_from_elsewhere_is_understood():
    """Names in another language, a title above the heads, commas, semicolons."""
    found = seen(
        "Handelshaus am Deich;;;;\n;;;;\nArtikelnummer;Bezeichnung;VE;Nettopreis;Bestand\n"
        "HD-1;Ceiling AP, Wi-Fi 6, 2x2;1;139,50 €;12\n"
    )
    (row,) = found.rows
    assert (row.item, row.how, row.price, row.pack, row.stock, row.problem) == (
        "ap-ceiling-wifi6-2x2", "name", 139.5, 1, 12, ""
    )  # fmt: skip
    assert (found.offers[-1].supplier, found.offers[-1].number) == ("Marsh", "HD-1")


def test_a_known_number_changes_its_price_and_stays_where_it_was():
    found = seen("number,description,pack,price\nMT-9,whatever,10,54.00\n")
    assert [(row.how, row.was, row.change) for row in found.rows] == [("number", 50.0, "dearer")]
    assert [(offer.number, offer.price) for offer in found.offers] == [("MT-9", 54.0)]


@pytest.mark.parametrize(
    ("row", "problem"),
    [
        ("X1,Jack Cat 6A,10,-3", "below nothing"),
        ("X1,Jack Cat 6A,10,ask", "no price"),
        ("X1,Jack Cat 6A,10,$ 30", "in USD; this job is in EUR"),
        ("X1,Widget of another trade,10,30", "nobody knows"),
        ("X1,Cat 6 indoor,500,130", "boxes of 500 m; the cut list is made for 305 m"),
    ],
)
def test_what_cannot_be_taken_is_said_and_leaves_the_order_alone(row, problem):
    found = seen(f"number,description,pack,price\n{row}\n")
    assert problem in found.rows[0].problem
    assert (found.taken, [offer.number for offer in found.offers]) == (0, ["MT-9"])


def test_one_number_at_two_prices_is_taken_at_neither():
    found = seen(
        "number,description,pack,price\nX1,Jack Cat 6,10,30\nX1,Jack Cat 6,10,31\nX2,Jack Cat 6,10,29\nX2,Jack Cat 6,10,29\n"
    )
    assert ["rows 2, 3" in row.problem for row in found.rows] == [True, True, False, False]
    assert [offer.number for offer in found.offers] == ["MT-9", "X2"]


def test_a_person_says_what_a_row_stands_for():
    text = "number,description,price\nX7,Moduleinsatz,4.10\n"
    assert seen(text).taken == 0
    found = seen(text, chosen={"X7": "jack-6a"})
    assert (found.rows[0].how, found.offers[-1].item, found.offers[-1].pack) == ("chosen", "jack-6a", 10)


@pytest.mark.parametrize("text", ["a,b,c\n1,2,3\n", "price\n3\n", "", "number,description\nX1,Jack\n"])
def test_a_table_without_prices_is_no_price_list(text):
    with pytest.raises(Unreadable):
        read_prices(table_rows(text.encode()))


def test_the_list_to_be_filled_in_is_read_back_and_changes_nothing():
    given_job = job()
    rows = price_rows(given_job, kit(look_at(given_job)).lines)
    text = to_csv(COLUMNS, rows)
    assert next(csv.reader(io.StringIO(text))) == list(COLUMNS)
    read, _ = read_prices(table_rows(text.encode()))
    found = seen_prices(given_job, read, "Marsh", {})
    assert [row.problem for row in found.rows if row.price is not None] == [""] * sum(
        r.price is not None for r in found.rows
    )
    assert {row.change for row in found.rows} <= {"new", "same", "none"}


@given(st.lists(st.lists(st.text(max_size=12), max_size=6), max_size=12))
def test_no_table_breaks_the_reader(rows):
    try:
        read, skipped = read_prices(rows)
    except Unreadable:
        return
    assert len(read) + skipped <= len(rows)
