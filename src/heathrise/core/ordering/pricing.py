"""Price lists of suppliers held against the order: which rows are meant by what, what would change, what cannot be taken."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from typing import Literal, NamedTuple

from heathrise.core.job import Job, Label, SupplierOffer
from heathrise.core.library import library
from heathrise.core.sums import Noun

# How a row was understood.
How = Literal["code", "number", "name", "chosen", "unknown"]


class PriceRow(NamedTuple):
    """One row of a price list as it was read: what is not there is None."""

    row: int
    number: str
    item: str
    words: str
    supplier: str
    price: float | None
    pack: int | None
    stock: int | None
    currency: str


class PriceSeen(Noun):
    """One row with what would become of it. `problem` says why it is not taken; `was` is the price before."""

    row: int
    number: str
    words: str
    item: str | None
    item_label: str
    how: How
    price: float | None
    was: float | None
    pack: int
    stock: int | None
    change: Literal["new", "dearer", "cheaper", "same", "none"]
    problem: str = ""


class PriceList(Noun):
    """A price list held against the order: its rows, and the offers as they would be with it."""

    supplier: Label
    rows: tuple[PriceSeen, ...]
    offers: tuple[SupplierOffer, ...]
    skipped: int
    taken: int


def item_labels(job: Job) -> dict[str, str]:
    """Return everything that can stand on a kit list, by its code."""
    shelves = library()
    found: dict[str, str] = {code: model.label for code, model in job.equipment.items()}
    for shelf in (shelves.racks, shelves.cables, shelves.bores, shelves.parts):
        found |= {code: row.label for code, row in shelf.items()}
    return found | {code: f"Patch cord {cord.length_m:g} m" for code, cord in shelves.patch_cords.items()}


def seen_prices(
    job: Job, rows: Sequence[PriceRow], supplier: str, chosen: dict[str, str], skipped: int = 0
) -> PriceList:
    """Return a price list held against the order. `chosen` are items a person gave rows by their article numbers."""
    labels = item_labels(job)
    known = {offer.number: offer for offer in job.ordering.offers}
    twice = _at_odds(rows)
    seen = []
    for row in rows:
        item, how = _meant(row, labels, known, chosen)
        seen.append(_seen(row, item, how, labels, known.get(row.number), _problem(job, row, item, twice)))
    fresh = {
        one.number: _offer(row, one, supplier)
        for row, one in zip(rows, seen, strict=True)
        if not one.problem and one.item is not None
    }
    kept = [fresh.pop(offer.number, offer) for offer in job.ordering.offers]
    return PriceList(
        supplier=supplier,
        rows=tuple(seen),
        offers=(*kept, *fresh.values()),
        skipped=skipped,
        taken=sum(not one.problem for one in seen),
    )


def _at_odds(rows: Iterable[PriceRow]) -> dict[str, str]:
    """Return article numbers that stand more than once with different prices or packs, and what is said of each."""
    by_number: dict[str, list[PriceRow]] = defaultdict(list)
    for row in rows:
        by_number[row.number].append(row)
    return {
        number: f"{number} stands in rows {', '.join(str(row.row) for row in some)} with different figures"
        for number, some in by_number.items()
        if len({(row.price, row.pack) for row in some}) > 1
    }


def _meant(
    row: PriceRow, labels: dict[str, str], known: dict[str, SupplierOffer], chosen: dict[str, str]
) -> tuple[str | None, How]:
    """Return which item a row is meant by: what a person said, its code, a number known, its name to the letter."""
    if chosen.get(row.number) in labels:
        return chosen[row.number], "chosen"
    if row.item in labels:
        return row.item, "code"
    if row.number in known:
        return known[row.number].item, "number"
    if row.number in labels:
        return row.number, "code"
    words = row.words.casefold().strip()
    named = [code for code, label in labels.items() if label.casefold() == words]
    return (named[0], "name") if len(named) == 1 else (None, "unknown")


def _problem(job: Job, row: PriceRow, item: str | None, twice: dict[str, str]) -> str:
    """Return why a row is not taken, nothing where it is."""
    return _price_problem(job.practice.currency, row) or twice.get(row.number, "") or _item_problem(row, item)


def _price_problem(currency: str, row: PriceRow) -> str:
    if row.price is None:
        return "no price that can be read"
    if row.price < 0:
        return f"a price below nothing: {row.price:g}"
    if row.currency and row.currency != currency:
        return f"in {row.currency}; this job is in {currency}"
    return ""


def _item_problem(row: PriceRow, item: str | None) -> str:
    if item is None:
        return "which item it is nobody knows; choose one"
    cable, pack = library().cables.get(item), _pack(row, item)
    if cable is not None and not cable.cut_to_length and pack != cable.box_m:
        return f"boxes of {pack} m; the cut list is made for {cable.box_m:g} m"
    return ""


def _seen(
    row: PriceRow,
    item: str | None,
    how: How,
    labels: dict[str, str],
    before: SupplierOffer | None,
    problem: str,
) -> PriceSeen:
    was = before.price if before is not None else None
    change: Literal["new", "dearer", "cheaper", "same", "none"] = "none"
    if not problem and row.price is not None:
        change = _change(was, row.price)
    return PriceSeen(
        row=row.row,
        number=row.number,
        words=row.words,
        item=item,
        item_label=labels[item] if item is not None else "",
        how=how,
        price=row.price,
        was=was,
        pack=_pack(row, item),
        stock=row.stock,
        change=change,
        problem=problem,
    )


def _change(was: float | None, price: float) -> Literal["new", "dearer", "cheaper", "same"]:
    if was is None:
        return "new"
    return "same" if was == price else "dearer" if price > was else "cheaper"


def _pack(row: PriceRow, item: str | None) -> int:
    """Return how many a row's pack holds: where it does not say, as many as the library's."""
    if row.pack is not None:
        return row.pack
    shelves = library()
    if item in shelves.cables:
        return int(shelves.cables[item].box_m)
    return shelves.parts[item].pack if item in shelves.parts else 1


def _offer(row: PriceRow, seen: PriceSeen, supplier: str) -> SupplierOffer:
    return SupplierOffer(
        number=row.number,
        item=seen.item or "",
        supplier=row.supplier or supplier,
        pack=seen.pack,
        price=row.price or 0.0,
        stock=row.stock,
    )
