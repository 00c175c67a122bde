"""What stands on a run's way and begins it anew: an extender takes the data up and hands it on, with power."""

from collections import defaultdict
from itertools import pairwise

from heathrise.core.job import Equipment, InLine, Job
from heathrise.core.sums import Noun


class Box(Noun):
    """One box on a run's way: where it stands from the run's beginning, what it asks for and gives on. [m, W]"""

    box_id: str
    label: str
    at_m: float | None
    takes_class: int
    gives_class: int
    max_w: float
    typical_w: float


def boxes_in(job: Job) -> dict[str, tuple[Box, ...]]:
    """Return the boxes that begin a run anew, by its id, from its beginning on; those without a place come last."""
    found: dict[str, list[Box]] = defaultdict(list)
    for thing in job.of(Equipment):
        model = job.equipment[thing.model]
        if isinstance(thing.place, InLine) and model.joins:
            box = Box(
                box_id=thing.id,
                label=thing.label,
                at_m=thing.place.at_m,
                takes_class=model.takes_class,
                gives_class=model.gives_class,
                max_w=model.max_w,
                typical_w=model.typical_w,
            )
            found[thing.place.link_id].append(box)
    far = float("inf")
    return {
        run: tuple(sorted(row, key=lambda b: far if b.at_m is None else b.at_m)) for run, row in found.items()
    }


def spans_m(boxes: tuple[Box, ...], length_m: float) -> tuple[float, ...]:
    """Return the lengths a run falls into: from its beginning to the first box, and so on to its end. [m]

    A box without a place, or past the end, is taken to stand where all spans are alike.
    """
    count = len(boxes)
    even = [length_m * (n + 1) / (count + 1) for n in range(count)]
    places = [even[n] if box.at_m is None or box.at_m > length_m else box.at_m for n, box in enumerate(boxes)]
    return tuple(b - a for a, b in pairwise([0.0, *sorted(places), length_m]))
