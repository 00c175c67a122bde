"""Scale of a drawing, and storeys laid over each other."""

import math
import statistics

from heathrise.core.job import Point
from heathrise.core.library import limit
from heathrise.core.site.proposal import Proposal
from heathrise.core.sums import Noun, Sum, SumLine

PAPER_M = {"A0": 1.189, "A1": 0.841, "A2": 0.594, "A3": 0.420, "A4": 0.297}


class ScaleFound(Noun):
    """A scale with the sum it came from."""

    metres_per_px: float
    sum: Sum


def _found(metres_per_px: float, lines: tuple[SumLine, ...], formula: str, source: str) -> ScaleFound:
    total = Sum(
        label="Scale",
        value=round(metres_per_px * 1000, 3),
        unit="mm/px",
        lines=lines,
        formula=formula,
        source=source,
    )
    return ScaleFound(metres_per_px=metres_per_px, sum=total)


def scale_by_length(length_px: float, length_m: float) -> ScaleFound:
    """Return the scale of a known length. Raises ValueError for a length of zero."""
    if length_px <= 0 or length_m <= 0:
        raise ValueError("a scale needs a length above zero, on the drawing and in the building")
    lines = (
        SumLine(label="drawn", value=round(length_px, 1), unit="px"),
        SumLine(label="measured", value=length_m, unit="m"),
    )
    return _found(length_m / length_px, lines, "measured / drawn", "survey practice")


def scale_by_print(longer_side_px: float, paper: str, printed_scale: float) -> ScaleFound:
    """Return the scale of a whole sheet scanned edge to edge: paper size and printed scale.

    Raises
    ------
    ValueError
        If the paper is unknown or the scale is not above zero.
    """
    if paper not in PAPER_M:
        raise ValueError(f"paper {paper} is not one of {', '.join(PAPER_M)}")
    if printed_scale <= 0 or longer_side_px <= 0:
        raise ValueError("the printed scale must be a number above zero, like 100 for 1:100")
    lines = (
        SumLine(label=f"longer side of {paper}", value=PAPER_M[paper] * 1000, unit="mm"),
        SumLine(label="printed scale 1 to", value=printed_scale, unit=""),
        SumLine(label="longer side of the picture", value=longer_side_px, unit="px"),
    )
    per_px = PAPER_M[paper] * printed_scale / longer_side_px
    return _found(per_px, lines, "paper x printed scale / pixels", "ISO 216")


def scale_by_door(proposal: Proposal, metres_per_unit: float, door_m: float) -> ScaleFound:
    """Return the scale at which the usual door of a proposal is as wide as it is in truth.

    Raises
    ------
    ValueError
        If the proposal has no door or passage of a door's proportions.
    """
    widths = [o.width_m for s in proposal.storeys for o in s.openings if o.opening_kind != "window"]
    if not widths:
        raise ValueError("no door was found on the drawing; say a length you know instead")
    usual = statistics.median(widths)
    lines = (
        SumLine(label=f"middle one of {len(widths)} doors as shown", value=round(usual, 3), unit="m"),
        SumLine(label="a door in truth", value=door_m, unit="m"),
        SumLine(label="scale so far", value=metres_per_unit, unit="m/unit"),
    )
    return _found(
        metres_per_unit * door_m / usual, lines, "scale so far x true / shown", "limits: usual leaf widths"
    )


class Alignment(Noun):
    """How a storey is moved and turned to lie over another, and how well two points agree."""

    dx_m: float
    dy_m: float
    turn_deg: float
    error_m: float
    holds: bool
    sum: Sum


def alignment(here: tuple[Point, Point], there: tuple[Point, Point]) -> Alignment:
    """Return the turn and move that bring two points of one storey onto the same two of another.

    Sizes are kept: if the two pairs are not equally far apart, half of the difference is left at
    each, and said.

    Raises
    ------
    ValueError
        If two points of a pair are the same.
    """
    one, other = _span(here), _span(there)
    if min(math.hypot(*one), math.hypot(*other)) < 0.5:
        raise ValueError("the two points must be at least half a metre apart; the further the better")
    turn = math.atan2(other[1], other[0]) - math.atan2(one[1], one[0])
    turn = (turn + math.pi) % (2 * math.pi) - math.pi
    mid, goal = _middle(here), _middle(there)
    cos, sin = math.cos(turn), math.sin(turn)
    dx = goal[0] - (cos * mid[0] - sin * mid[1])
    dy = goal[1] - (sin * mid[0] + cos * mid[1])
    error = abs(math.hypot(*one) - math.hypot(*other))
    most = limit("plan.align_max_m")
    total = Sum(
        label="Difference of the two points",
        value=round(error, 3),
        unit="m",
        limit=most,
        holds=error <= most,
        lines=(
            SumLine(label="apart on this storey", value=round(math.hypot(*one), 3), unit="m"),
            SumLine(label="apart on the other", value=round(math.hypot(*other), 3), unit="m"),
            SumLine(label="turned", value=round(math.degrees(turn), 2), unit="deg"),
        ),
        formula="|apart here - apart there|",
        source="limits: plan.align_max_m",
    )
    return Alignment(
        dx_m=dx, dy_m=dy, turn_deg=math.degrees(turn), error_m=round(error, 3), holds=error <= most, sum=total
    )


def _span(pair: tuple[Point, Point]) -> tuple[float, float]:
    return pair[1].x_m - pair[0].x_m, pair[1].y_m - pair[0].y_m


def _middle(pair: tuple[Point, Point]) -> tuple[float, float]:
    return (pair[0].x_m + pair[1].x_m) / 2, (pair[0].y_m + pair[1].y_m) / 2


def moved(point: Point, dx_m: float, dy_m: float, turn_deg: float = 0.0) -> Point:
    """Return a point turned about the sheet's zero, then moved, to the millimetre."""
    cos, sin = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
    x, y = cos * point.x_m - sin * point.y_m + dx_m, sin * point.x_m + cos * point.y_m + dy_m
    return Point(x_m=round(x, 3), y_m=round(y, 3))
