"""How far data cables keep from mains cables."""

from heathrise.core.job import Line
from heathrise.core.library import limit


def apart_m(line: Line) -> float:
    """Return how far data cables keep from a mains cable they lie beside, by its load. [m]"""
    if line.load_kva <= limit("cabling.mains_small_kva"):
        return limit("cabling.apart_small_m")
    return limit(
        "cabling.apart_middle_m"
        if line.load_kva <= limit("cabling.mains_middle_kva")
        else "cabling.apart_large_m"
    )
