"""Units as they are written to a person, and the few conversions the core needs.

Everything inside is SI (metres, watts, Celsius by the field's habit). A quantity inside a sentence
is written by `quantity` so that whoever shows the sentence can turn it into feet or Fahrenheit.
"""

import math
import re

_QUANTITY = re.compile(r"\[\[(-?[\d.]+)\|([^\]|]*)\]\]")


def quantity(value: float, unit: str, digits: int = 1) -> str:
    """Return a marked quantity for a sentence, for example ``[[96.2|m]]``."""
    return f"[[{round(value, digits):.{digits}f}|{unit}]]"


def plain(text: str) -> str:
    """Return a sentence with its marked quantities written in SI.

    >>> plain("Run R-14 is [[96.2|m]] long.")
    'Run R-14 is 96.2 m long.'
    """
    return _QUANTITY.sub(lambda m: f"{m[1]} {m[2]}".rstrip(), text)


def db_to_ratio(level_db: float) -> float:
    """Return the power ratio of a level in dB."""
    return float(10.0 ** (level_db / 10.0))


def ratio_to_db(ratio: float) -> float:
    """Return the level in dB of a power ratio above zero."""
    return 10.0 * math.log10(ratio)
