"""What a careful colleague says of the order."""

from collections.abc import Iterator

from heathrise.core.library import limit
from heathrise.core.ordering.kit import Kit
from heathrise.core.rule import Observation, rule


@rule("order.no-price")
def no_price(kit: Kit) -> Iterator[Observation]:
    """Lines of the kit list have no price."""
    for line in kit.lines:
        if line.each is None:
            yield Observation(
                subject_ids=(line.item,),
                subject=line.label,
                value=line.order,
                unit="pieces",
                text=f"{line.label} has no price, so the total leaves it out.",
                advice="Ask a supplier and read the price list in stage 8, or give the model a price.",
            )


@rule("order.leftover")
def leftover(kit: Kit) -> Iterator[Observation]:
    """Packs leave over more than is worth having as spares."""
    share, least = limit("order.leftover_share"), limit("order.leftover_cost")
    for line in kit.lines:
        wasted = line.leftover_cost or 0.0
        if line.unit == "pieces" and line.cost and wasted > least and wasted > share * line.cost:
            yield Observation(
                subject_ids=(line.item,),
                subject=line.label,
                value=wasted,
                limit=least,
                unit="",
                text=f"Of {line.label} {line.ordered} are bought for {line.need:g}: {line.leftover:g} left over cost {wasted:g}.",
                advice="Ask for single pieces, or use another that is sold in smaller packs.",
                sum=line.cost_sum,
            )


@rule("order.out-of-stock")
def out_of_stock(kit: Kit) -> Iterator[Observation]:
    """What only one supplier has is not in stock there in the number wanted."""
    for line in kit.lines:
        short = [buy for buy in line.buys if not buy.stocked]
        if short:
            lone = " Nobody else offers it." if line.sources == 1 else ""
            yield Observation(
                subject_ids=(line.item,),
                subject=line.label,
                value=float(sum(buy.count for buy in short)),
                unit="packs",
                severity="warning" if line.sources == 1 else "advice",
                text=f"{line.label}: {short[0].supplier} has fewer in stock than the {short[0].count} that are wanted.{lone}",
                advice="Ask when they come, look for a second supplier, or take another that does the same.",
                sum=line.cost_sum,
            )
