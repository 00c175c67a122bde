"""The kit list of a job: what is needed, with spares, in packs, from whom and at what price; and the total."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from heathrise.core.job import Job, SupplierOffer
from heathrise.core.library import library, limit
from heathrise.core.ordering.buying import Buy, Delivery, Purchases, purchases
from heathrise.core.ordering.labour import HoursLine
from heathrise.core.ordering.needs import KitNeed
from heathrise.core.sums import Noun, Sum, SumLine

# Where nobody offers an item, the library's own price stands.
LIST_PRICE = "list price"


class KitLine(Noun):
    """One line of the bill of materials.

    `order` packs of `pack` cover `need`, less what is `kept`, and `spare`; where packs of several sizes are mixed it
    counts pieces. `leftover` is what the packs hold beyond need and wanted spares, `leftover_cost` what of the price that is.
    """

    group: str
    item: str
    label: str
    need: float
    unit: str
    kept: int
    spare: float
    pack: float
    packed: float | None
    order: int
    ordered: str
    each: float | None
    cost: float | None
    supplier: str
    buys: tuple[Buy, ...]
    sources: int
    leftover: float
    leftover_cost: float | None
    why: str
    need_sum: Sum
    cost_sum: Sum | None


@dataclass(frozen=True)
class Kit:
    """What the order stage shows and the ledger sums."""

    lines: tuple[KitLine, ...]
    hours: tuple[HoursLine, ...]
    deliveries: tuple[Delivery, ...]
    cost_sum: Sum
    hours_sum: Sum
    bought: float
    bound: float
    proven: bool


def wanted_of(found: Iterable[KitNeed]) -> dict[str, int]:
    """Return how much of each item is bought: need less what is kept, and spares. In whole pieces or metres."""
    wanted: dict[str, int] = {}
    for need in found:
        amount = need.boxes * int(need.pack) if need.boxes is not None else math.ceil(need.amount - need.kept)
        wanted[need.item] = wanted.get(need.item, 0) + amount + need.spare
    return wanted


def shelf_of(job: Job, items: Iterable[str]) -> dict[str, tuple[SupplierOffer, ...]]:
    """Return who offers each item: the job's offers, else the library's list price."""
    offered: dict[str, list[SupplierOffer]] = {}
    for offer in job.ordering.offers:
        offered.setdefault(offer.item, []).append(offer)
    return {item: tuple(_usable(item, offered.get(item, ())) or listed(job, item)) for item in items}


def _usable(item: str, offers: Sequence[SupplierOffer]) -> Sequence[SupplierOffer]:
    """Return offers that can be used: cable in boxes of the size the cut list is made for."""
    cable = library().cables.get(item)
    if cable is None or cable.cut_to_length:
        return offers
    return [offer for offer in offers if offer.pack == cable.box_m]


def listed(job: Job, item: str) -> list[SupplierOffer]:
    """Return the library's own offers of an item, none where it has no price."""
    shelves = library()
    model = job.equipment.get(item)
    if model is not None:
        each = [] if model.price is None else [(1, model.price)]
        return [
            _own(item, size, price) for size, price in (*each, *((p.count, p.price) for p in model.packs))
        ]
    if item in shelves.parts:
        part = shelves.parts[item]
        return [] if part.price is None else [_own(item, part.pack, round(part.price * part.pack, 2))]
    if item in shelves.cables:
        cable = shelves.cables[item]
        return [] if cable.box_price is None else [_own(item, int(cable.box_m), cable.box_price)]
    if item in shelves.bores:
        return [_own(item, 1, shelves.bores[item].price_per_m)]
    price = next((s[item].price for s in (shelves.racks, shelves.patch_cords) if item in s), None)
    return [] if price is None else [_own(item, 1, price)]


def _own(item: str, pack: int, price: float) -> SupplierOffer:
    return SupplierOffer(number=f"{item} x {pack}", item=item, supplier=LIST_PRICE, pack=pack, price=price)


def buy_for(job: Job, found: Sequence[KitNeed]) -> Purchases:
    """Return what is bought for a list of needs."""
    wanted = wanted_of(found)
    return purchases(wanted, shelf_of(job, wanted), job.ordering.suppliers)


def kit_lines(job: Job, found: Sequence[KitNeed], bought: Purchases) -> tuple[KitLine, ...]:
    """Return every line of the list, with what the client keeps by name only at its end.

    An item that stands in two groups is bought with the first of them.
    """
    lines, seen = [], set()
    offers = shelf_of(job, (need.item for need in found))
    for need in found:
        buys = () if need.item in seen else bought.buys.get(need.item, ())
        seen.add(need.item)
        lines.append(_line(job, need, buys, len({offer.supplier for offer in offers[need.item]})))
    return (*lines, *_delivered(bought.deliveries), *_extras(job), *_kept(job))


def _line(job: Job, need: KitNeed, buys: tuple[Buy, ...], sources: int) -> KitLine:
    pieces = sum(buy.count * buy.pack for buy in buys)
    lone = buys[0] if len(buys) == 1 else None
    cost = round(sum(buy.cost for buy in buys), 2) if buys else None
    asked = need.amount - need.kept
    none_wanted = not buys and need.boxes is None and asked + need.spare <= 0
    over = max(0.0, pieces - asked - need.spare) if buys else 0.0
    pack = float(lone.pack) if lone else (float(need.pack) if not buys else 1.0)
    order = lone.count if lone else pieces if buys else math.ceil((asked + need.spare) / need.pack)
    currency = job.practice.currency
    return KitLine(
        group=need.group,
        item=need.item,
        label=need.label,
        need=need.amount,
        unit=need.unit,
        kept=need.kept,
        spare=round(max(0.0, pieces - asked), 1) if buys else need.spare,
        pack=pack,
        packed=pack if pack > 1 else None,
        order=max(0, order),
        ordered=" + ".join(f"{b.count} × {b.pack}" if b.pack > 1 else f"{b.count}" for b in buys),
        each=lone.price if lone else (round(cost / pieces, 2) if cost is not None and pieces else None),
        cost=0.0 if none_wanted else cost,
        supplier=", ".join(dict.fromkeys(b.supplier for b in buys if b.supplier != LIST_PRICE)),
        buys=buys,
        sources=sources,
        leftover=round(over, 1),
        leftover_cost=round(cost * over / pieces, 2) if cost is not None and pieces else None,
        why=f"{need.why}; {need.kept} kept by the client taken off" if need.kept else need.why,
        need_sum=_need_sum(need),
        cost_sum=_cost_sum(need, buys, currency) if buys else None,
    )


def _need_sum(need: KitNeed) -> Sum:
    most = int(limit("order.sum_lines"))
    shown, rest = need.counted[:most], need.counted[most:]
    lines = [SumLine(label=name, value=round(count, 2), unit=need.unit) for name, count in shown]
    if rest:
        whole = round(sum(count for _, count in rest), 2)
        lines.append(SumLine(label=f"and {len(rest)} more", value=whole, unit=need.unit))
    if need.kept:
        lines.append(SumLine(label="kept by the client", value=-need.kept, unit=need.unit))
    if need.spare:
        lines.append(SumLine(label="spares", value=need.spare, unit=need.unit, note="limits: order"))
    return Sum(
        label=f"{need.label}: what it is counted from",
        value=round(need.amount - need.kept + need.spare, 1),
        unit=need.unit,
        lines=tuple(lines),
        formula=need.why,
        source="the model of this job; library: consumables",
    )


def _cost_sum(need: KitNeed, buys: Sequence[Buy], currency: str) -> Sum:
    lines = [
        SumLine(
            label=f"{buy.count} packs of {buy.pack}" if buy.pack > 1 else f"{buy.count} singly",
            value=buy.cost,
            unit=currency,
            note=f"{buy.price:g} each; {buy.number}, {buy.supplier}"
            + ("" if buy.stocked else "; not in stock"),
        )
        for buy in buys
    ]
    return Sum(
        label=need.label,
        value=round(sum(buy.cost for buy in buys), 2),
        unit=currency,
        lines=tuple(lines),
        formula="packs x price, the mix of least cost",
        source="offers of this job, else the library's list price; before tax",
    )


def _plain(group: str, item: str, label: str, count: float, price: float | None, why: str) -> KitLine:
    return KitLine(
        group=group,
        item=item,
        label=label,
        need=count,
        unit="pieces",
        kept=0,
        spare=0,
        pack=1,
        packed=None,
        order=math.ceil(count),
        ordered=f"{count:g}",
        each=price,
        cost=None if price is None else round(price * count, 2),
        supplier="",
        buys=(),
        sources=0,
        leftover=0,
        leftover_cost=None,
        why=why,
        need_sum=Sum(label=label, value=count, unit="pieces", source=why),
        cost_sum=None,
    )


def _delivered(deliveries: Iterable[Delivery]) -> list[KitLine]:
    lines = []
    for one in deliveries:
        why = "each order" if one.free_from is None else f"nothing from {one.free_from:g} on"
        if one.cost:
            lines.append(_plain("Delivery", "delivery", one.supplier, 1, one.cost, why))
    return lines


def _extras(job: Job) -> list[KitLine]:
    return [
        _plain("By hand", "extra", row.what, row.count, row.price, row.note or "put in by hand")
        for row in job.ordering.extras
    ]


def _kept(job: Job) -> list[KitLine]:
    """Return what the client keeps without a line of its own: counted so that nobody buys it again."""
    keeps = job.practice.old_kit == "keep"
    lines = []
    for item in job.brief.kept:
        stays = keeps and item.serves
        if stays and item.item is not None:
            continue
        why = "kept: it serves its need" if stays else "to be replaced: price it as new kit"
        group, price = ("Kept", 0.0) if stays else ("Replaced", None)
        line = _plain(group, "kept", item.what, item.count, price, why)
        lines.append(line.model_copy(update={"order": 0, "ordered": "0"}) if stays else line)
    return lines


def kit_of(job: Job, lines: tuple[KitLine, ...], hours: tuple[HoursLine, ...], bought: Purchases) -> Kit:
    """Return the whole order with its totals."""
    return Kit(
        lines,
        hours,
        bought.deliveries,
        _kit_sum(job, lines),
        Sum(
            label="Hours",
            value=round(sum(line.hours for line in hours), 1),
            unit="h",
            lines=tuple(SumLine(label=line.label, value=line.hours, unit="h") for line in hours),
            formula="sum of count x rate x hardships",
            source="library: labour, or the firm's rates in this job",
        ),
        bought.cost,
        bought.bound,
        bought.proven,
    )


def _kit_sum(job: Job, lines: Sequence[KitLine]) -> Sum:
    currency, budget = job.practice.currency, job.brief.budget
    cost = round(sum(line.cost or 0.0 for line in lines), 2)
    unknown = sum(line.cost is None for line in lines)
    shown = [
        SumLine(label=f"{line.label} x {line.order:g}", value=line.cost, unit=currency)
        for line in lines
        if line.cost is not None
    ]
    return Sum(
        label=f"Kit, at least: {unknown} prices unknown" if unknown else "Kit",
        value=cost,
        unit=currency,
        limit=budget,
        holds=budget is None or (cost <= budget and not unknown),
        lines=(*shown, *_unpriced(lines)),
        formula="sum of packs x price, and deliveries",
        source="offers of this job, else the library's list prices; before tax",
    )


def _unpriced(lines: Sequence[KitLine]) -> tuple[SumLine, ...]:
    """Return a line that names what has no price: the sum is not complete without it."""
    names = [f"{line.label} x {line.order:g}" for line in lines if line.cost is None]
    if not names:
        return ()
    return (SumLine(label="without a price", value=len(names), unit="lines", note="; ".join(names)),)


def totals(kit: Kit, job: Job) -> Mapping[str, float]:
    """Return what a job costs: kit with the firm's part, work, tax, and all of it."""
    ordering = job.ordering
    material = kit.cost_sum.value * (1 + ordering.margin_percent / 100)
    work = kit.hours_sum.value * ordering.labour_per_h
    tax = (material + work) * ordering.tax_percent / 100
    return {"material": material, "work": work, "tax": tax, "whole": material + work + tax}
