"""What a careful colleague says of the order."""

from collections.abc import Iterator

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
                advice="Ask the supplier and enter it in the library.",
            )
