"""Limit lines of a balanced pair by class and by how it is joined to the tester, and the few limits without a frequency."""

import math

from heathrise.core.library import TestClass, UnknownItem, library, limit

# Results under this are not judged more sharply: the tester cannot.
_FLOOR_DB = 4.0
CHANNEL = "channel"


def _test_class(cls: str, f_mhz: float) -> TestClass:
    row = library().test_classes[cls]
    if not 1 <= f_mhz <= row.top_mhz:
        raise ValueError(f"class {cls} is defined from 1 to {row.top_mhz:g} MHz, not at {f_mhz:g}")
    return row


def insertion_loss_limit_db(cls: str, f_mhz: float, configuration: str = CHANNEL) -> float:
    """Return the insertion-loss limit: a share of the cable and its connectors, 4 dB at least. [dB]

    Raises
    ------
    ValueError, UnknownItem
        If the frequency is outside the class, or the class is unknown.

    References
    ----------
    ISO/IEC 11801-1: channel 1.05 cable + 4 connectors, permanent link 0.9 cable + 3.
    """
    row, joined = _test_class(cls, f_mhz), library().test_configurations[configuration]
    root = math.sqrt(f_mhz)
    cable = row.cable[0] * root + row.cable[1] * f_mhz + row.cable[2] / root
    return max(_FLOOR_DB, joined.cable_share * cable + joined.connectors * row.connector * root)


def next_limit_db(cls: str, f_mhz: float, configuration: str = CHANNEL) -> float:
    """Return the near-end crosstalk limit: cable and the connectors at that end, in voltage. [dB]

    Raises
    ------
    ValueError, UnknownItem
        If the frequency is outside the class, or the class has no line here.

    References
    ----------
    ISO/IEC 11801-1: channel with two connectors, permanent link with one; ANSI/TIA-568.2 from 330 MHz.
    """
    row, joined = _test_class(cls, f_mhz), library().test_configurations[configuration]
    above = row.next_above.get(joined.line)
    if above is not None and f_mhz > above[0]:
        return above[1] - above[2] * math.log10(f_mhz / above[0])
    if row.next is None:
        raise UnknownItem(f"the library has no crosstalk line for class {cls}")
    a, b, c, d = row.next
    log = math.log10(f_mhz)
    cable = 10 ** (-(a - b * log) / 20)
    connectors = joined.near_connectors * 10 ** (-(c - d * log) / 20)
    return -20 * math.log10(cable + connectors)


def return_loss_limit_db(cls: str, f_mhz: float, configuration: str = CHANNEL) -> float:
    """Return the return-loss limit. [dB]

    Raises
    ------
    ValueError, UnknownItem
        If the frequency is outside the class, or the class has no line here.

    References
    ----------
    ISO/IEC 11801-1, channel and permanent link.
    """
    row = _test_class(cls, f_mhz)
    pieces = row.return_loss.get(library().test_configurations[configuration].line, ())
    for to_mhz, a, b in pieces:
        if f_mhz <= to_mhz:
            return a - b * math.log10(f_mhz)
    raise UnknownItem(f"the library has no return-loss line for class {cls}, {configuration}")


LINES_DB = {
    "insertion-loss": insertion_loss_limit_db,
    "next": next_limit_db,
    "return-loss": return_loss_limit_db,
}
# Losses are to be small, separations large.
AT_MOST = frozenset({"insertion-loss", "delay", "skew", "loop", "unbalance", "unbalance-ohm", "light-loss"})


def limit_at(quantity: str, cls: str, configuration: str, f_mhz: float | None) -> float | None:
    """Return the limit of a quantity, in its own unit; None where there is none here. [dB, ns, ohm, %]"""
    joined = library().test_configurations[configuration]
    if joined.line == "light":
        return None
    line = LINES_DB.get(quantity)
    if line is not None:
        known = f_mhz is not None and cls in library().test_classes
        if not known or not 1 <= float(f_mhz or 0) <= library().test_classes[cls].top_mhz:
            return None
        return line(cls, float(f_mhz or 0), configuration)
    fixed = {
        "delay": joined.delay_ns,
        "skew": joined.skew_ns,
        "loop": joined.loop_ohm,
        "unbalance": limit("proving.unbalance_percent"),
        "unbalance-ohm": limit("proving.unbalance_ohm"),
    }
    return fixed.get(quantity)
