"""What if a line of the order were another: what does the same and what that makes of the total; one more, one fewer."""

from heathrise.core.deriving import Memo
from heathrise.core.edit import EditError, Operation, Put, apply
from heathrise.core.findings.slices import SLICES
from heathrise.core.findings.verdicts import judged
from heathrise.core.findings.whatif import Turned, turned
from heathrise.core.job import AccessPoint, Element, Equipment, Job, Link
from heathrise.core.job.view import changed_keys
from heathrise.core.library import CableType, EquipmentModel, library
from heathrise.core.ordering.buying import purchases
from heathrise.core.ordering.derived import bought, kit, wanted
from heathrise.core.ordering.kit import KitLine, shelf_of
from heathrise.core.sums import Noun


class Instead(Noun):
    """Another item in place of one, everywhere: what the kit costs then, and the faults and warnings that come and go."""

    item: str
    label: str
    cost: float
    more: float
    brings: tuple[Turned, ...]
    mends: int
    operations: tuple[Operation, ...]


class LineAsked(Noun):
    """A line of the order asked about. `one_more` and `one_fewer` are what the whole order costs beside what it does now."""

    item: str
    label: str
    unit: str
    cost: float
    one_more: float | None
    one_fewer: float | None
    leftover: float
    leftover_cost: float | None
    instead: tuple[Instead, ...]
    currency: str


_MOST = 5


def line_asked(memo: Memo, item: str) -> LineAsked:
    """Return what if an item of the order were another.

    Raises
    ------
    EditError
        If the order has no line of it.
    """
    job: Job = memo.source
    found = kit(memo.look)
    line = next((line for line in found.lines if line.item == item), None)
    if line is None:
        raise EditError("the order has no such line any more")
    return LineAsked(
        item=item,
        label=line.label,
        unit=line.unit,
        cost=found.cost_sum.value,
        one_more=_with(memo, line, 1),
        one_fewer=_with(memo, line, -1),
        leftover=line.leftover,
        leftover_cost=line.leftover_cost,
        instead=tuple(_instead(memo, item, other) for other in _others(job, item)),
        currency=job.practice.currency,
    )


def _with(memo: Memo, line: KitLine, more: int) -> float | None:
    """Return what the order costs more with so many more of a line, None where it has no price or none is left."""
    job, amounts = memo.source, wanted(memo.look)
    now = amounts.get(line.item, 0)
    if line.cost is None or line.unit != "pieces" or now + more < 0 or line.item not in amounts:
        return None
    changed = purchases(amounts | {line.item: now + more}, shelf_of(job, amounts), job.ordering.suppliers)
    return round(changed.cost - bought(memo.look).cost, 2)


def _others(job: Job, item: str) -> list[str]:
    """Return what does the same as an item: no dearer ones than the five that come nearest in price."""
    if item in job.equipment:
        now = job.equipment[item]
        fits = [code for code, model in job.equipment.items() if code != item and _does(now, model)]
        prices = {code: job.equipment[code].price or 0.0 for code in fits}
        return sorted(fits, key=lambda code: abs(prices[code] - (now.price or 0.0)))[:_MOST]
    shelf = library().cables
    if item in shelf:
        same = [code for code, cable in shelf.items() if code != item and _lies(shelf[item], cable)]
        return sorted(same, key=lambda code: shelf[code].box_price or 0.0)[:_MOST]
    return []


def _does(now: EquipmentModel, other: EquipmentModel) -> bool:
    """Say whether a model does what another does, in its place and on its bands."""
    kinds = ("radiates", "joins", "feeds_through", "hangs", "lands_cables", "racks", "keeps_running")
    return (
        all(getattr(now, kind) == getattr(other, kind) for kind in kinds)
        and now.forwards == other.forwards
        and now.sign == other.sign
        and now.purpose == other.purpose
        and set(now.mounts) <= set(other.mounts)
        and other.outdoor >= now.outdoor
        and {radio.band for radio in now.bands} <= {radio.band for radio in other.bands}
        and len(other.port_list) >= len(now.port_list)
        and (other.bays, other.channels) >= (now.bays, now.channels)
    )


def _lies(now: CableType, other: CableType) -> bool:
    """Say whether a cable may lie wherever another may, and carries no less."""
    rank = {code: row.rank for code, row in library().categories.items()}
    return (
        other.conducts == now.conducts
        and not other.copper_clad
        and other.pair_mm2 == now.pair_mm2
        and now.environments <= other.environments
        and rank[other.category] >= rank[now.category]
    )


def _instead(memo: Memo, item: str, other: str) -> Instead:
    job: Job = memo.source
    operations = tuple(Put(element=element) for element in _changed(job, item, other))
    before, cost = judged(memo.look), kit(memo.look).cost_sum.value
    label = job.equipment[other].label if other in job.equipment else library().cables[other].label
    try:
        after = apply(job, operations).job
    except EditError as error:
        refused = Turned(key="refused", severity="fault", title=str(error), subject=label)
        return Instead(item=other, label=label, cost=cost, more=0, brings=(refused,), mends=0, operations=())
    with memo.tried(after, changed_keys(job, after, SLICES)) as look:
        then, new_cost = judged(look), kit(look).cost_sum.value
    known, left = {f.key for f in before}, {f.key for f in then}
    return Instead(
        item=other,
        label=label,
        cost=new_cost,
        more=round(new_cost - cost, 2),
        brings=tuple(turned(f) for f in then if f.key not in known and f.severity != "advice"),
        mends=sum(f.key not in left and f.severity != "advice" for f in before),
        operations=operations,
    )


def _changed(job: Job, item: str, other: str) -> list[Element]:
    """Return everything of an item as the other item."""
    found: list[Element] = []
    found += [p.model_copy(update={"model": other}) for p in job.of(AccessPoint) if p.model == item]
    found += [t.model_copy(update={"model": other}) for t in job.of(Equipment) if t.model == item]
    found += [
        link.model_copy(update={"product": other})
        for link in job.of(Link)
        if not link.there and link.product == item
    ]
    return found
