"""Two houses, two earths: what guards copper between them."""

from collections.abc import Callable

from heathrise.core.edit import Put
from heathrise.core.job import Equipment, InLine, Job, Link


def guard_of(job: Job) -> str | None:
    """Return the cheapest model that leads surges on a cable to earth, None where the library has none."""
    fits = {code: model for code, model in job.equipment.items() if model.guards_surge}
    return min(fits, key=lambda code: fits[code].price or 0.0, default=None)


def guards_on(job: Job, link_id: str) -> int:
    """Return how many surge guards stand on a link's way."""
    return sum(
        isinstance(thing.place, InLine)
        and thing.place.link_id == link_id
        and job.equipment[thing.model].guards_surge
        for thing in job.of(Equipment)
    )


def guarded(job: Job, link: Link, length_m: float | None, new_id: Callable[[], str]) -> tuple[Put, ...]:
    """Return what puts a surge guard at both ends of a link; nothing where the library has none. [m]"""
    code = guard_of(job)
    if code is None:
        return ()
    ends = (("near", 0.0), ("far", None if length_m is None else round(length_m, 2)))
    return tuple(
        Put(
            element=Equipment(
                id=new_id(),
                label=f"Surge guard of {link.label}, {end} end",
                model=code,
                place=InLine(link_id=link.id, at_m=at_m),
            )
        )
        for end, at_m in ends
    )
