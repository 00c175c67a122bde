"""Price lists of suppliers: CSV and XLSX in, whatever their columns are called; and out, as a list to be filled in.

Written out: number, item, description, supplier, pack, price, currency, stock - one row an offer, or an item nobody offers.
"""

import re
from collections.abc import Iterable, Mapping

from heathrise.core.job import Job
from heathrise.core.ordering.kit import KitLine
from heathrise.core.ordering.pricing import PriceRow
from heathrise.exchange.rows import Rows, columns_by, number_of
from heathrise.exchange.tables import Cell
from heathrise.exchange.unreadable import Unreadable

COLUMNS = ("number", "item", "description", "supplier", "pack", "price", "currency", "stock")
_MOST_ROWS = 20_000
# What columns are called, in the languages lists come in; the longer word is looked for first.
# fmt: off
_HEADS: Mapping[str, tuple[str, ...]] = {
    "number": ("article number", "article no", "part number", "part no", "order number", "artikelnummer", "artikel-nr",
               "bestellnummer", "référence", "reference", "codice", "sku", "number", "article", "artikel", "ref"),
    "item": ("item code", "item", "code"),
    "description": ("description", "bezeichnung", "désignation", "designation", "product", "produkt", "name", "descrizione"),
    "supplier": ("supplier", "lieferant", "fournisseur", "vendor", "fornitore"),
    "pack": ("pack size", "pack", "packung", "ve", "conditionnement", "qty per pack", "confezione", "unit quantity"),
    "price": ("net price", "unit price", "price", "nettopreis", "einzelpreis", "preis", "prix", "prezzo", "cost"),
    "currency": ("currency", "währung", "devise", "valuta"),
    "stock": ("in stock", "stock", "available", "lager", "bestand", "quantité", "disponibile"),
}
_SIGNS = {"€": "EUR", "$": "USD", "£": "GBP", "¥": "JPY", "CHF": "CHF", "EUR": "EUR", "USD": "USD", "GBP": "GBP"}
# fmt: on


def read_prices(rows: Rows) -> tuple[list[PriceRow], int]:
    """Return (the rows of a price list, how many were left out as empty).

    Raises
    ------
    Unreadable
        If it has no column of prices, or too many rows.
    """
    if len(rows) > _MOST_ROWS:
        raise Unreadable(
            f"the list has {len(rows)} rows; {_MOST_ROWS} is the most", "Send the part you buy from"
        )
    head_at, columns = _head(rows)
    found, skipped = [], 0
    for number, row in enumerate(rows[head_at + 1 :], start=head_at + 2):
        read = _row(number, {name: row[at].strip() if at < len(row) else "" for name, at in columns.items()})
        if read is None:
            skipped += 1
        else:
            found.append(read)
    return found, skipped


def _head(rows: Rows) -> tuple[int, dict[str, int]]:
    """Return where the headings stand, among the first rows, and which column is which."""
    for at, row in enumerate(rows[:20]):
        columns = columns_by(_HEADS, row)
        if "price" in columns and {"number", "item", "description"} & set(columns):
            return at, columns
    raise Unreadable(
        "no row names a price beside a number or a description",
        "Give the columns headings such as: number, description, pack, price",
    )


def _row(number: int, cells: Mapping[str, str]) -> PriceRow | None:
    """Return one row as it was read, None for one that says nothing."""
    article = cells.get("number") or cells.get("item") or cells.get("description", "")
    if not article and not cells.get("price"):
        return None
    price, currency = money_of(cells.get("price", ""))
    pack, stock = whole_of(cells.get("pack", "")), whole_of(cells.get("stock", ""))
    return PriceRow(
        row=number,
        number=article[:60] or f"row {number}",
        item=cells.get("item", ""),
        words=cells.get("description", "")[:200],
        supplier=cells.get("supplier", "")[:80],
        price=price,
        pack=pack if pack and 0 < pack <= 100_000 else None,
        stock=stock if stock is not None and 0 <= stock <= 10_000_000 else None,
        currency=(cells.get("currency", "") and _currency(cells["currency"])) or currency,
    )


def money_of(text: str) -> tuple[float | None, str]:
    """Return (the amount, its currency or nothing) of a price as people write it.

    >>> money_of("€ 1.234,50"), money_of("12.30 USD"), money_of("-3,5"), money_of("on request")
    ((1234.5, 'EUR'), (12.3, 'USD'), (-3.5, ''), (None, ''))
    """
    plain = re.sub(r"[A-Za-z€$£¥]+|[.,]-+$", "", text.strip()).strip()
    return number_of(plain), _currency(text)


def _currency(text: str) -> str:
    return next((code for sign, code in _SIGNS.items() if sign in text.upper()), "")


def whole_of(text: str) -> int | None:
    """Return the first whole number of a cell: "box of 305", "10 pcs", "> 50"; None where there is none."""
    found = re.search(r"-?\d[\d\s.,']*", text)
    value = number_of(found[0].strip(" .,")) if found else None
    return round(value) if value is not None else None


def price_rows(job: Job, lines: Iterable[KitLine]) -> list[tuple[Cell, ...]]:
    """Return the rows of a price list: the job's offers, and a row to fill in for each item nobody offers."""
    currency = job.practice.currency
    wanted = {line.item: line for line in lines if line.sources or line.cost is None}
    offered = {offer.item for offer in job.ordering.offers}
    rows: list[tuple[Cell, ...]] = [
        (
            offer.number,
            offer.item,
            wanted[offer.item].label if offer.item in wanted else "",
            offer.supplier,
            offer.pack,
            offer.price,
            currency,
            offer.stock,
        )
        for offer in job.ordering.offers
    ]
    for item, line in wanted.items():
        if item not in offered:
            rows.append(("", item, line.label, "", int(line.pack), line.each, currency, None))
    return rows
