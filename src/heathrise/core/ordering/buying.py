"""Which packs are bought from whom: what is needed is covered at least cost, deliveries counted.

Items without a delivery or a stock in the way fall apart into one sum each (dynamic programming over the count);
the others are one programme in whole numbers.

References
----------
CP-SAT (L. Perron and V. Furnon, OR-Tools); the bound it proves is said beside its answer.
"""

import math
from collections.abc import Iterable, Mapping, Sequence

from ortools.sat.python import cp_model

from heathrise.core.job import Supplier, SupplierOffer
from heathrise.core.library import limit
from heathrise.core.library.packs import least_packs
from heathrise.core.sums import Noun

_CENT = 100
# What cannot be had from stock is ordered all the same, and asked about: dearer than anything that lies there.
_SHORT = 1000


class Buy(Noun):
    """So many packs of one offer. `stocked` is False where fewer lie at the supplier than are taken."""

    number: str
    supplier: str
    pack: int
    count: int
    price: float
    cost: float
    stocked: bool = True


class Delivery(Noun):
    """What a supplier's delivery costs for all that is bought there."""

    supplier: str
    bought: float
    cost: float
    days: int
    free_from: float | None


class Purchases(Noun):
    """What is bought of each item, and the deliveries. No purchase costs less than `bound`."""

    buys: dict[str, tuple[Buy, ...]]
    deliveries: tuple[Delivery, ...]
    cost: float
    bound: float
    proven: bool


def purchases(
    wanted: Mapping[str, int], shelf: Mapping[str, Sequence[SupplierOffer]], suppliers: Iterable[Supplier]
) -> Purchases:
    """Return what is bought of each wanted item; what nobody offers is left out."""
    asked = {item: count for item, count in wanted.items() if count > 0 and shelf.get(item)}
    known = {supplier.name: supplier for supplier in suppliers}
    coupled = {item for item in asked if _is_coupled(shelf[item], known)}
    counts = {item: fewest_cost(asked[item], shelf[item]) for item in asked}
    apart = {item: tuple(_bought(counts[item])) for item in asked if item not in coupled}
    fixed_c = sum(_cents(buy.cost) for buys in apart.values() for buy in buys)
    if not coupled:
        return _summed(apart, known, fixed_c, True)
    spent = _spent(apart)
    solved, bound_c, proven = _solved({i: asked[i] for i in coupled}, shelf, known, counts, spent)
    return _summed({item: (apart | solved)[item] for item in asked}, known, fixed_c + bound_c, proven)


def _is_coupled(offers: Sequence[SupplierOffer], suppliers: Mapping[str, Supplier]) -> bool:
    """Say whether an item's purchase depends on others': by a delivery, or by what lies in stock."""
    named = [suppliers[offer.supplier] for offer in offers if offer.supplier in suppliers]
    return any(one.delivery for one in named) or any(offer.stock is not None for offer in offers)


def fewest_cost(count: int, offers: Sequence[SupplierOffer]) -> dict[SupplierOffer, int]:
    """Return how many packs of each offer cover a count at least cost, stock and deliveries aside.

    Raises
    ------
    ValueError
        If there is no offer.
    """
    taken = least_packs(count, [(offer.pack, offer.price) for offer in offers])
    return {offers[at]: times for at, times in taken.items()}


def _cents(price: float) -> int:
    return round(price * _CENT)


def _bought(counts: Mapping[SupplierOffer, int]) -> Iterable[Buy]:
    """Return what is bought, the largest packs first."""
    for offer, count in sorted(counts.items(), key=lambda pair: (-pair[0].pack, pair[0].number)):
        yield Buy(
            number=offer.number,
            supplier=offer.supplier,
            pack=offer.pack,
            count=count,
            price=offer.price,
            cost=round(count * offer.price, 2),
            stocked=offer.stock is None or offer.stock >= count,
        )


def _spent(buys: Mapping[str, Sequence[Buy]]) -> dict[str, int]:
    """Return what is spent at each supplier already. [cents]"""
    spent: dict[str, int] = {}
    for some in buys.values():
        for buy in some:
            spent[buy.supplier] = spent.get(buy.supplier, 0) + _cents(buy.cost)
    return spent


def _solved(
    wanted: Mapping[str, int],
    shelf: Mapping[str, Sequence[SupplierOffer]],
    suppliers: Mapping[str, Supplier],
    start: Mapping[str, Mapping[SupplierOffer, int]],
    spent: Mapping[str, int],
) -> tuple[dict[str, tuple[Buy, ...]], int, bool]:
    """Return (purchases, the cents none is under, whether proven) of items that hang together."""
    model = cp_model.CpModel()
    taken: dict[SupplierOffer, cp_model.IntVar] = {}
    cost: list[cp_model.LinearExprT] = []
    at: dict[str, list[cp_model.LinearExprT]] = {}
    for item, need in wanted.items():
        for offer in shelf[item]:
            most = math.ceil(need / offer.pack) + _worth(offer, suppliers)
            whole = taken[offer] = model.new_int_var(0, most, offer.number)
            model.add_hint(whole, start[item].get(offer, 0))
            cost.append(_cents(offer.price) * whole)
            at.setdefault(offer.supplier, []).append(_cents(offer.price) * whole)
            if offer.stock is not None and offer.stock < most:
                over = model.new_int_var(0, most - offer.stock, f"{offer.number} over")
                model.add(over >= whole - offer.stock)
                cost.append((_SHORT + _cents(offer.price)) * over)
        model.add(sum(offer.pack * taken[offer] for offer in shelf[item]) >= need)
    for name, supplier in suppliers.items():
        if supplier.delivery and name in at:
            cost.append(_delivered(model, supplier, at[name], spent.get(name, 0)))
    model.minimize(sum(cost))
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = limit("order.exact_work")
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return {item: tuple(_bought(start[item])) for item in wanted}, 0, False
    found = {
        item: tuple(
            _bought(
                {offer: solver.value(taken[offer]) for offer in shelf[item] if solver.value(taken[offer])}
            )
        )
        for item in wanted
    }
    return found, math.floor(solver.best_objective_bound), status == cp_model.OPTIMAL


def _worth(offer: SupplierOffer, suppliers: Mapping[str, Supplier]) -> int:
    """Return how many packs more may be worth their price because the delivery is free with them."""
    supplier = suppliers.get(offer.supplier)
    if supplier is None or supplier.free_from is None or not offer.price:
        return 0
    return math.ceil(supplier.delivery / offer.price)


def _delivered(
    model: cp_model.CpModel, supplier: Supplier, bought: list[cp_model.LinearExprT], spent_c: int
) -> cp_model.LinearExprT:
    """Return what a supplier's delivery costs: nothing where nothing is bought, or enough."""
    used, paid = model.new_bool_var(f"{supplier.name} used"), model.new_bool_var(f"{supplier.name} paid")
    whole = sum(bought) + spent_c
    model.add(whole == 0).only_enforce_if(~used)
    if supplier.free_from is None:
        model.add(paid == used)
    else:
        model.add(whole >= _cents(supplier.free_from)).only_enforce_if(used, ~paid)
        model.add_implication(paid, used)
    return _cents(supplier.delivery) * paid


def _summed(
    buys: dict[str, tuple[Buy, ...]], suppliers: Mapping[str, Supplier], bound_c: int, proven: bool
) -> Purchases:
    spent = _spent(buys)
    deliveries = tuple(
        _delivery(supplier, spent[name]) for name, supplier in suppliers.items() if spent.get(name)
    )
    cost = sum(spent.values()) / _CENT + sum(one.cost for one in deliveries)
    return Purchases(
        buys=buys,
        deliveries=deliveries,
        cost=round(cost, 2),
        bound=min(round(cost, 2), bound_c / _CENT),
        proven=proven,
    )


def _delivery(supplier: Supplier, spent_c: int) -> Delivery:
    free = supplier.free_from is not None and spent_c >= _cents(supplier.free_from)
    return Delivery(
        supplier=supplier.name,
        bought=spent_c / _CENT,
        cost=0.0 if free else supplier.delivery,
        days=supplier.days,
        free_from=supplier.free_from,
    )
