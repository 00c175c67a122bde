"""Cables drawn through a pathway: its bends, where hands are wanted on the way, how hard the hardest pull is."""

import math
from collections.abc import Sequence
from itertools import pairwise

from heathrise.core.job import Pathway, Point
from heathrise.core.library import CableType, limit
from heathrise.core.sums import Noun, Sum, SumLine

# Pathways that cables are drawn through; into the others they are laid.
DRAWN = ("conduit", "duct", "sleeve")
_GRAVITY = 9.81
# A turn less sharp than this is none. [degrees]
_STRAIGHT_DEG = 10.0


class Pull(Noun):
    """A pathway as cables are drawn through it: length, turns in right angles, where pull boxes are wanted on the way.

    `force` is the hardest pull on one cable, from the easier end: between boxes where they are to be made, in one go
    where the pathway is there already. [m, N]
    """

    length_m: float
    bends: float
    boxes: tuple[Point, ...]
    force: Sum
    from_far_end: bool


def pull_of(pathway: Pathway, cables: Sequence[CableType]) -> Pull | None:
    """Return how cables are drawn through a pathway; None for one that is not drawn, or that they are laid in."""
    if pathway.pathway_kind not in DRAWN or len(pathway.path) < 2:
        return None
    cut = cut_at_boxes(pathway.path)
    # In one that is there already nobody knows of a box: it is pulled through in one go.
    goes = [list(pathway.path)] if pathway.there else cut
    heaviest = max((mass_kg_m(cable) for cable in cables), default=0.0)
    ways = [_forces_n(goes, heaviest), _forces_n([list(reversed(one)) for one in reversed(goes)], heaviest)]
    there, back = (max(forces, default=0.0) for forces in ways)
    least = limit("cabling.pull_n")
    worst = min(there, back)
    return Pull(
        length_m=round(_length_m(pathway.path), 2),
        bends=round(sum(_turns_deg(pathway.path)) / 90, 2),
        boxes=tuple(one[-1] for one in cut[:-1]),
        from_far_end=back < there,
        force=Sum(
            label=f"{pathway.label}: pull on one cable",
            value=round(worst, 1),
            unit="N",
            limit=least,
            holds=worst <= least,
            lines=(
                SumLine(label="mass of the heaviest cable", value=round(heaviest, 4), unit="kg/m"),
                SumLine(label="friction", value=limit("cabling.pull_friction"), unit=""),
                *(
                    SumLine(label=f"from the near end, piece {n}", value=round(force, 1), unit="N")
                    for n, force in enumerate(ways[0], 1)
                ),
                SumLine(label="the hardest from the far end", value=round(back, 1), unit="N"),
            ),
            formula="straight: T + mu m g L; at a bend: T x e^(mu angle); the hardest piece between boxes, from the "
            "easier end",
            source="capstan equation; ANSI/TIA-569 and 568: 110 N on a cable of four pairs",
        ),
    )


def mass_kg_m(cable: CableType) -> float:
    """Return about what a metre of a cable weighs, by its diameter. [kg/m]"""
    return math.pi / 4 * (cable.diameter_mm / 1000) ** 2 * limit("cabling.cable_kg_m3")


def cut_at_boxes(path: Sequence[Point]) -> list[list[Point]]:
    """Return a path cut where a pull box is wanted: every 30 m, or after two right angles."""
    far_m, most_deg = limit("cabling.pull_point_m"), 90 * limit("cabling.pull_bends")
    turns = [0.0, *_turns_deg(path), 0.0]
    pieces: list[list[Point]] = [[path[0]]]
    left_m, turned = far_m, 0.0
    for n, (a, b) in enumerate(pairwise(path), 1):
        at, length = a, math.hypot(b.x_m - a.x_m, b.y_m - a.y_m)
        while length > left_m + 1e-6:
            at = _along(at, b, left_m)
            length -= left_m
            pieces[-1].append(at)
            pieces.append([at])
            left_m, turned = far_m, 0.0
        left_m -= length
        pieces[-1].append(b)
        turned += turns[n]
        if turned > most_deg + 1e-6 and n < len(path) - 1:
            pieces.append([b])
            left_m, turned = far_m, 0.0
    return pieces


def _along(a: Point, b: Point, by_m: float) -> Point:
    share = by_m / math.hypot(b.x_m - a.x_m, b.y_m - a.y_m)
    return Point(x_m=round(a.x_m + share * (b.x_m - a.x_m), 3), y_m=round(a.y_m + share * (b.y_m - a.y_m), 3))


def _length_m(path: Sequence[Point]) -> float:
    return sum(math.hypot(b.x_m - a.x_m, b.y_m - a.y_m) for a, b in pairwise(path))


def _turns_deg(path: Sequence[Point]) -> list[float]:
    """Return by how much a path turns at each of its inner points. [degrees]"""
    headings = [math.atan2(b.y_m - a.y_m, b.x_m - a.x_m) for a, b in pairwise(path)]
    turns = [abs(math.degrees(math.remainder(b - a, math.tau))) for a, b in pairwise(headings)]
    return [turn if turn > _STRAIGHT_DEG else 0.0 for turn in turns]


def _forces_n(pieces: Sequence[Sequence[Point]], mass: float) -> list[float]:
    """Return the pull at the end of each piece, by the capstan equation. [N]"""
    mu = limit("cabling.pull_friction")
    found = []
    for piece in pieces:
        turns, force = [*_turns_deg(piece), 0.0], 0.0
        for (a, b), turn in zip(pairwise(piece), turns, strict=True):
            force += mu * mass * _GRAVITY * math.hypot(b.x_m - a.x_m, b.y_m - a.y_m)
            force *= math.exp(mu * math.radians(turn))
        found.append(force)
    return found
