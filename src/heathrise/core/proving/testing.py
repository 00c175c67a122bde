"""One test of a cable held against the lines of its class, reading by reading."""

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import Literal

from heathrise.core.cabling.testlimits import AT_MOST, limit_at
from heathrise.core.job import CableTest, Curve, Quantity, TestReading
from heathrise.core.library import library, limit
from heathrise.core.proving.symptoms import NamedFault, named_fault
from heathrise.core.sums import Noun, Sum, SumLine

UNITS: dict[Quantity, str] = {
    "insertion-loss": "dB",
    "next": "dB",
    "return-loss": "dB",
    "delay": "ns",
    "skew": "ns",
    "loop": "ohm",
    "unbalance": "%",
    "unbalance-ohm": "ohm",
    "length": "m",
    "light-loss": "dB",
    "other": "dB",
}
NAMES: dict[Quantity, str] = {
    "insertion-loss": "insertion loss",
    "next": "crosstalk at the near end",
    "return-loss": "return loss",
    "delay": "delay",
    "skew": "skew",
    "loop": "loop resistance",
    "unbalance": "unbalance of a pair",
    "unbalance-ohm": "unbalance of a pair",
    "length": "length",
    "light-loss": "loss of light",
    "other": "as the tester judges it",
}
# Judged only where the pair loses at least so much; below, the reading says nothing of the cable.
_NEEDS_LOSS = {"return-loss": "proving.no_echo_under_db", "next": "proving.no_crosstalk_under_db"}
STRAIGHT = "12345678"
Verdict = Literal["pass", "marginal", "fail"]


class JudgedReading(Noun):
    """A reading beside its limit; `margin` is what is left of it, negative past it. Without a limit it is for information."""

    quantity: Quantity
    name: str
    pair: str
    f_mhz: float | None
    value: float
    unit: str
    limit: float | None
    margin: float | None
    holds: bool


class JudgedTest(Noun):
    """A test judged: by our lines and by the tester's own word, the graver of both. `by_word` says that the record has no
    readings, only a verdict. `worst` is the reading nearest to its limit, or furthest past it.
    """

    verdict: Verdict
    by_word: bool
    why: str
    worst: JudgedReading | None
    failed: tuple[JudgedReading, ...]
    judged: int
    fault: NamedFault | None
    length_m: float | None
    sum: Sum | None


@lru_cache(maxsize=100_000)
def _limit(quantity: str, cls: str, configuration: str, f_mhz: float | None) -> float | None:
    return limit_at(quantity, cls, configuration, f_mhz)


class _Losses:
    """What each pair loses at a frequency, by the record itself."""

    def __init__(self, test: CableTest):
        by_pair: dict[str, list[tuple[float, float]]] = defaultdict(list)
        for one in test.readings:
            if one.quantity == "insertion-loss" and one.f_mhz is not None:
                by_pair[one.pair].append((one.f_mhz, one.value))
        for curve in test.curves:
            if curve.quantity == "insertion-loss":
                by_pair[curve.pair] += zip(curve.f_mhz, curve.value, strict=True)
        self._by_pair = {pair: sorted(rows) for pair, rows in by_pair.items()}

    def at(self, pair: str, f_mhz: float) -> float | None:
        """Return the most that a pair, or either of two, loses at the nearest frequency read. [dB]"""
        found = [
            rows[min(bisect_left(rows, (f_mhz, -1e9)), len(rows) - 1)][1]
            for name in pair.split("-")
            if (rows := self._by_pair.get(name))
        ]
        return max(found, default=None)


def judged_readings(test: CableTest, light_limit_db: float | None = None) -> tuple[JudgedReading, ...]:
    """Return every single reading of a test beside its limit, and of each curve the point nearest to it, or furthest past.

    References
    ----------
    ISO/IEC 11801-1; crosstalk and return loss count only where the pair loses 4 and 3 dB at least.
    """
    losses = _Losses(test)
    even = {
        "unbalance-ohm": limit("proving.unbalance_ohm"),
        "unbalance": limit("proving.unbalance_percent"),
    }
    balanced = {one.pair for one in test.readings if one.value <= even.get(one.quantity, -1.0)}
    single = tuple(_judged(test, one, losses, light_limit_db, balanced) for one in test.readings)
    nearest = (_nearest(test, curve, losses) for curve in test.curves)
    return (*single, *(_judged(test, one, losses, None, balanced) for one in nearest))


def _limits_of(test: CableTest, curve: Curve, losses: _Losses) -> list[float | None]:
    """Return the limit at every frequency of a curve, None where the pair loses too little to judge it."""
    limits = [_limit(curve.quantity, test.test_class, test.configuration, f_mhz) for f_mhz in curve.f_mhz]
    needed = _NEEDS_LOSS.get(curve.quantity)
    if needed is None:
        return limits
    least = limit(needed)
    lost = (losses.at(curve.pair, f_mhz) for f_mhz in curve.f_mhz)
    return [None if at is not None and at < least else most for most, at in zip(limits, lost, strict=True)]


def _margin(quantity: str, value: float, most: float) -> float:
    return most - value if quantity in AT_MOST else value - most


def _nearest(test: CableTest, curve: Curve, losses: _Losses) -> TestReading:
    """Return the point of a curve that is nearest to its limit; its first where it has none."""
    margins = [
        (_margin(curve.quantity, value, most), n)
        for n, (value, most) in enumerate(zip(curve.value, _limits_of(test, curve, losses), strict=True))
        if most is not None
    ]
    at = min(margins)[1] if margins else 0
    return TestReading(quantity=curve.quantity, pair=curve.pair, f_mhz=curve.f_mhz[at], value=curve.value[at])


def _judged(
    test: CableTest, one: TestReading, losses: _Losses, light_limit_db: float | None, balanced: set[str]
) -> JudgedReading:
    most = (
        light_limit_db
        if one.quantity == "light-loss"
        else _limit(one.quantity, test.test_class, test.configuration, one.f_mhz)
    )
    if (needed := _NEEDS_LOSS.get(one.quantity)) and one.f_mhz is not None:
        lost = losses.at(one.pair, one.f_mhz)
        if lost is not None and lost < limit(needed):
            most = None
    margin = None
    if most is not None:
        margin = round(_margin(one.quantity, one.value, most), 4)
    fine = margin is None or margin >= 0
    # A pair is even enough by the one measure or the other.
    if one.quantity in ("unbalance", "unbalance-ohm") and one.pair in balanced:
        fine = True
    return JudgedReading(
        quantity=one.quantity,
        name=NAMES[one.quantity],
        pair=one.pair,
        f_mhz=one.f_mhz,
        value=one.value,
        unit=UNITS[one.quantity],
        limit=None if most is None else round(most, 3),
        margin=margin,
        holds=fine,
    )


def judge(test: CableTest, scheme: str, light_limit_db: float | None = None) -> JudgedTest:
    """Return what a test says: the wire map first, then the reading nearest to its limit, then the tester's own word."""
    readings = judged_readings(test, light_limit_db)
    failed = _worst_of_each(one for one in readings if not one.holds)
    fault = named_fault(test, failed, scheme)
    with_limit = [one for one in readings if one.margin is not None]
    in_db = [one for one in with_limit if one.unit == "dB"]
    nearest = failed[0] if failed else min(in_db or with_limit, key=_share, default=None)
    wrong_map = test.wire_map not in ("", STRAIGHT) or test.split
    marginal = bool(nearest and nearest.unit == "dB" and (nearest.margin or 0) < limit("proving.marginal_db"))
    verdict: Verdict = "pass"
    if failed or wrong_map or test.verdict == "fail":
        verdict = "fail"
    elif marginal:
        verdict = "marginal"
    lengths = [one.value for one in test.readings if one.quantity == "length"]
    return JudgedTest(
        verdict=verdict,
        by_word=not with_limit and not test.wire_map,
        why=_why(test, failed, wrong_map, nearest if marginal else None, bool(with_limit)),
        worst=nearest,
        failed=failed,
        judged=len(with_limit),
        fault=fault if verdict == "fail" else None,
        length_m=max(lengths, default=None),
        sum=_sum(test, nearest),
    )


def _share(one: JudgedReading) -> float:
    return (one.margin or 0.0) / max(abs(one.limit or 1.0), 1e-9) if one.unit != "dB" else one.margin or 0.0


def _worst_of_each(failed: Iterable[JudgedReading]) -> tuple[JudgedReading, ...]:
    """Return the worst of each quantity, the gravest first."""
    worst: dict[str, JudgedReading] = {}
    for one in failed:
        if one.quantity not in worst or (one.margin or 0) < (worst[one.quantity].margin or 0):
            worst[one.quantity] = one
    return tuple(sorted(worst.values(), key=_share))


def _why(
    test: CableTest,
    failed: Sequence[JudgedReading],
    wrong_map: bool,
    marginal: JudgedReading | None,
    judged: bool,
) -> str:
    said = []
    if wrong_map:
        said.append("split pair" if test.split else f"wires come out as {test.wire_map}")
    said += [in_words(one) for one in failed]
    if test.verdict == "fail":
        said.append("the tester says fail")
    if not said and marginal is not None:
        said.append(in_words(marginal))
    if not said and not judged:
        said.append("by the tester's word: no readings")
    return "; ".join(said)


def in_words(one: JudgedReading) -> str:
    """Return a reading beside its limit in words."""
    at = f" at {one.f_mhz:g} MHz" if one.f_mhz is not None else ""
    pair = f" of {one.pair}" if one.pair else ""
    within = (
        f", {abs(one.margin):.1f} {one.unit} {'within' if one.holds else 'past'}"
        if one.margin is not None
        else ""
    )
    return f"{one.name}{pair}{at} {one.value:g} {one.unit}{within} the limit of {one.limit:.1f} {one.unit}"


def _sum(test: CableTest, worst: JudgedReading | None) -> Sum | None:
    if worst is None or worst.limit is None or worst.margin is None:
        return None
    joined = library().test_configurations[test.configuration]
    at = f" at {worst.f_mhz:g} MHz" if worst.f_mhz is not None else ""
    least = worst.quantity not in AT_MOST
    return Sum(
        label=f"Margin of {worst.name}",
        value=round(worst.margin, 2),
        unit=worst.unit,
        holds=worst.holds,
        lines=(
            SumLine(label=f"read{at}", value=worst.value, unit=worst.unit, note=worst.pair),
            SumLine(
                label=f"limit{at}",
                value=worst.limit,
                unit=worst.unit,
                note=f"class {test.test_class}, {test.configuration}",
            ),
        ),
        formula="read - limit" if least else "limit - read",
        source=joined.source,
    )


class TestCurve(Noun):
    """One quantity of one pair over frequency, and its limit at the same places. [MHz, dB]"""

    __test__ = False

    quantity: Quantity
    name: str
    pair: str
    f_mhz: tuple[float, ...]
    value_db: tuple[float, ...]
    limit_db: tuple[float | None, ...]
    holds: bool


def curves_of(test: CableTest) -> tuple[TestCurve, ...]:
    """Return the curves of a test with their limits. Single readings that have a frequency are curves of few points."""
    losses = _Losses(test)
    few: dict[tuple[Quantity, str], list[tuple[float, float]]] = defaultdict(list)
    for one in test.readings:
        if one.f_mhz is not None:
            few[one.quantity, one.pair].append((one.f_mhz, one.value))
    pointed = (
        Curve(quantity=quantity, pair=pair, f_mhz=tuple(f for f, _ in rows), value=tuple(v for _, v in rows))
        for (quantity, pair), some in few.items()
        for rows in (sorted(some),)
    )
    return tuple(_shown(test, curve, losses) for curve in (*test.curves, *pointed))


def _shown(test: CableTest, curve: Curve, losses: _Losses) -> TestCurve:
    limits = _limits_of(test, curve, losses)
    held = (
        most is None or _margin(curve.quantity, value, most) >= 0
        for value, most in zip(curve.value, limits, strict=True)
    )
    return TestCurve(
        quantity=curve.quantity,
        name=NAMES[curve.quantity],
        pair=curve.pair,
        f_mhz=curve.f_mhz,
        value_db=curve.value,
        limit_db=tuple(None if most is None else round(most, 3) for most in limits),
        holds=all(held),
    )
