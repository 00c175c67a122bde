"""Which run is cut from which box: no splices, as few boxes as can be, longest runs first.

References
----------
Bin packing: first fit decreasing (Johnson, 1974: at most 11/9 of the least and one more); minimum bin slack (Gupta
and Ho, 1999); CP-SAT (Perron and Furnon,
OR-Tools) for the least, its bound shown beside.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Sequence

from ortools.sat.python import cp_model

from heathrise.core.cabling.runs import RunPlan
from heathrise.core.library import CableType, library, limit
from heathrise.core.sums import Noun

# Lengths are whole centimetres to the solver, rounded up.
_CM = 100


class Cut(Noun):
    """A run cut from a box, with what is spared for its ends. [m]"""

    run_id: str
    label: str
    length_m: float


class CableBox(Noun):
    """One box or reel: what is cut from it, in the order it is pulled, and what is left. [m]"""

    cable: str
    cable_label: str
    number: int
    box_m: float
    cuts: tuple[Cut, ...]
    left_m: float


class CableCuts(Noun):
    """The cut list of one cable. `first_fit` is what a person comes to who takes the longest first; no list has
    fewer boxes than `bound`. `too_long` is what no box holds in one piece.
    """

    cable: str
    cable_label: str
    boxes: tuple[CableBox, ...]
    first_fit: int
    bound: int
    proven: bool
    too_long: tuple[Cut, ...] = ()


class CutLists(Noun):
    """The cut lists of a job, a cable each."""

    cables: tuple[CableCuts, ...]


def cut_lists(plans: Iterable[RunPlan]) -> CutLists:
    """Return the cut list of every cable of the runs that do not lie yet."""
    return CutLists(cables=tuple(cut_list(code, cuts) for code, cuts in cuts_by_cable(plans).items()))


def cuts_by_cable(plans: Iterable[RunPlan]) -> dict[str, tuple[Cut, ...]]:
    """Return what is to be cut of each cable for runs that do not lie yet, the longest first."""
    found: dict[str, list[Cut]] = defaultdict(list)
    for plan in plans:
        if not plan.existing:
            length_m = math.ceil((plan.length_m + limit("cabling.cut_spare_m")) * 10) / 10
            found[plan.cable].append(Cut(run_id=plan.run_id, label=plan.label, length_m=length_m))
    return {
        cable: tuple(sorted(cuts, key=lambda cut: (-cut.length_m, cut.label)))
        for cable, cuts in found.items()
    }


def first_fit(cuts: Sequence[Cut], box_m: float) -> list[list[Cut]]:
    """Return the boxes that come of putting each cut, the longest first, into the first box it fits.

    One longer than any box is left out: nothing is spliced.
    """
    boxes: list[list[Cut]] = []
    left: list[float] = []
    for cut in (cut for cut in cuts if cut.length_m <= box_m):
        at = next((n for n, room in enumerate(left) if cut.length_m <= room + 1e-9), len(boxes))
        if at == len(boxes):
            boxes.append([])
            left.append(box_m)
        boxes[at].append(cut)
        left[at] -= cut.length_m
    return boxes


def filled(cuts: Sequence[Cut], box_m: float) -> list[list[Cut]]:
    """Return the boxes that come of filling each as full as can be round the longest cut that is left.

    What sums can be reached is kept as bits of a whole number, a centimetre each. Minimum bin slack (Gupta and Ho, 1999).
    """
    room = math.floor(box_m * _CM)
    left = sorted((cut for cut in cuts if cut.length_m <= box_m), key=lambda cut: -cut.length_m)
    boxes: list[list[Cut]] = []
    while left:
        longest, left = left[0], left[1:]
        taken = _fullest([_whole(cut) for cut in left], room - _whole(longest))
        boxes.append([longest, *(left[n] for n in taken)])
        left = [cut for n, cut in enumerate(left) if n not in taken]
    return boxes


def _whole(cut: Cut) -> int:
    return math.ceil(cut.length_m * _CM - 1e-6)


def _fullest(lengths: Sequence[int], room: int) -> set[int]:
    """Return which lengths fill a room as full as can be."""
    reach, before, within = 1, [], (1 << (room + 1)) - 1
    for length in lengths:
        before.append(reach)
        reach |= (reach << length) & within
    left, taken = reach.bit_length() - 1, set()
    for n in range(len(before) - 1, -1, -1):
        if not before[n] >> left & 1:
            taken.add(n)
            left -= lengths[n]
    return taken


def boxes_needed(cable: CableType, cuts: Sequence[Cut]) -> int:
    """Return how many boxes, or steps where it is cut to length, a cable's cuts take.

    A run longer than a box, which a finding is about, is counted as if it were spliced.
    """
    if cable.cut_to_length:
        return sum(math.ceil(cut.length_m / cable.box_m - 1e-9) for cut in cuts)
    spliced = sum(math.ceil(cut.length_m / cable.box_m) for cut in cuts if cut.length_m > cable.box_m)
    return min(len(first_fit(cuts, cable.box_m)), len(filled(cuts, cable.box_m))) + spliced


def cut_list(code: str, cuts: Sequence[Cut]) -> CableCuts:
    """Return the best list of one cable: first fit where nothing can be better, else what the solver makes of it."""
    cable = library().cables[code]
    if cable.cut_to_length:
        boxes = [[cut] for cut in cuts]
        return _listed(code, cable, boxes, len(boxes), len(boxes), True)
    too_long = tuple(cut for cut in cuts if cut.length_m > cable.box_m)
    cuts = [cut for cut in cuts if cut.length_m <= cable.box_m]
    quick = first_fit(cuts, cable.box_m)
    bound = math.ceil(sum(cut.length_m for cut in cuts) / cable.box_m - 1e-9)
    best = min(quick, filled(cuts, cable.box_m), key=len)
    if len(best) == bound:
        return _listed(code, cable, best, len(quick), bound, True, too_long)
    best, least = _solved(cuts, cable.box_m, best)
    bound = max(bound, least)
    return _listed(code, cable, best, len(quick), bound, len(best) == bound, too_long)


def _solved(cuts: Sequence[Cut], box_m: float, start: list[list[Cut]]) -> tuple[list[list[Cut]], int]:
    """Return (boxes, the least no list is under): each cut in one box, no box over its length, fewest boxes."""
    model, number = cp_model.CpModel(), range(len(start))
    taken = [model.new_bool_var(f"b{n}") for n in number]
    where = [[model.new_bool_var(f"c{i}b{n}") for n in number] for i in range(len(cuts))]
    first = {cut.run_id: n for n, box in enumerate(start) for cut in box}
    for i, cut in enumerate(cuts):
        model.add_exactly_one(where[i])
        for n in number:
            model.add_hint(where[i][n], first[cut.run_id] == n)
    lengths = [_whole(cut) for cut in cuts]
    for n in number:
        model.add(
            sum(lengths[i] * where[i][n] for i in range(len(cuts))) <= math.floor(box_m * _CM) * taken[n]
        )
        if n:
            # Boxes are alike: the ones that are taken come first.
            model.add_implication(taken[n], taken[n - 1])
    model.minimize(sum(taken))
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = limit("cabling.cut_work")
    solver.parameters.num_workers = 1
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return start, 0
    found = [[cut for i, cut in enumerate(cuts) if solver.value(where[i][n])] for n in number]
    return [box for box in found if box], math.ceil(solver.best_objective_bound - 1e-6)


def _listed(
    code: str,
    cable: CableType,
    boxes: list[list[Cut]],
    quick: int,
    bound: int,
    proven: bool,
    too_long: tuple[Cut, ...] = (),
) -> CableCuts:
    listed = []
    for n, cuts in enumerate(boxes, start=1):
        used_m = sum(cut.length_m for cut in cuts)
        box_m = math.ceil(used_m / cable.box_m - 1e-9) * cable.box_m if cable.cut_to_length else cable.box_m
        listed.append(
            CableBox(
                cable=code,
                cable_label=cable.label,
                number=n,
                box_m=box_m,
                cuts=tuple(cuts),
                left_m=round(box_m - used_m, 1),
            )
        )
    return CableCuts(
        cable=code,
        cable_label=cable.label,
        boxes=tuple(listed),
        first_fit=quick,
        bound=bound,
        proven=proven,
        too_long=too_long,
    )
