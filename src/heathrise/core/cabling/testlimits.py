"""Limit lines of a balanced-pair channel by class."""

import math

from heathrise.core.library import TestClass, UnknownItem, library

# Results under this are not judged more sharply: the tester cannot.
_FLOOR_DB = 4.0


def _test_class(cls: str, f_mhz: float) -> TestClass:
    row = library().test_classes[cls]
    if not 1 <= f_mhz <= row.top_mhz:
        raise ValueError(f"class {cls} is defined from 1 to {row.top_mhz:g} MHz, not at {f_mhz:g}")
    return row


def insertion_loss_limit_db(cls: str, f_mhz: float) -> float:
    """Return the channel's insertion-loss limit: 1.05 cable + 4 connectors, 4 dB at least. [dB]

    Raises
    ------
    ValueError, UnknownItem
        If the frequency is outside the class, or the class is unknown.

    References
    ----------
    ISO/IEC 11801-1, channel.
    """
    row = _test_class(cls, f_mhz)
    root = math.sqrt(f_mhz)
    cable = row.cable[0] * root + row.cable[1] * f_mhz + row.cable[2] / root
    return max(_FLOOR_DB, 1.05 * cable + 4 * row.connector * root)


def next_limit_db(cls: str, f_mhz: float) -> float:
    """Return the channel's near-end crosstalk limit: cable and two connectors, in voltage. [dB]

    Raises
    ------
    ValueError, UnknownItem
        If the frequency is outside the class, or the class has no line here.

    References
    ----------
    ISO/IEC 11801-1, channel.
    """
    row = _test_class(cls, f_mhz)
    if row.next is None:
        raise UnknownItem(f"the library has no crosstalk line for class {cls}")
    a, b, c, d = row.next
    log = math.log10(f_mhz)
    cable = 10 ** (-(a - b * log) / 20)
    connectors = 2 * 10 ** (-(c - d * log) / 20)
    return -20 * math.log10(cable + connectors)
