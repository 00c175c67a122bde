"""What a constant-power device draws through its cable, one formula a function.

Symbols: V source_v, R loop_ohm out and back, P load_w at the device, I current_a.
"""

import math
from typing import NamedTuple

from heathrise.core.library import library, limit

_PER_KELVIN = 0.00393
_AT_C = 20.0


class NoOperatingPoint(ValueError):
    """The cable cannot deliver the load at any current."""


class Feed(NamedTuple):
    """Current, voltage at the device, power drawn at the source and lost in the cable."""

    current_a: float
    pd_v: float
    pse_w: float
    loss_w: float


def feed(load_w: float, source_v: float, loop_ohm: float) -> Feed:
    """Return how a constant-power load is fed through its cable.

    The device holds its power steady, so it draws more as the cable drops more voltage. Of the
    two currents that satisfy V I = P + R I^2 the lower is stable and is returned, in the form
    I = 2 P / (V + sqrt(V^2 - 4 R P)), exact at R = 0 too.

    Parameters
    ----------
    load_w : power at the device, zero or more. [W]
    source_v : voltage at the source, above zero. [V]
    loop_ohm : out-and-back resistance, warm, zero or more. [ohm]

    Raises
    ------
    ValueError
        If an input is outside its range.
    NoOperatingPoint
        If the load exceeds V^2 / (4 R), the most the cable can deliver.

    References
    ----------
    IEEE Std 802.3-2022, clauses 33 and 145: constant-power load.

    Examples
    --------
    >>> round(feed(12.95, 44.0, 20.0).current_a, 3)
    0.35
    """
    if not (load_w >= 0 and source_v > 0 and loop_ohm >= 0):
        raise ValueError(
            f"load {load_w} W and loop {loop_ohm} ohm must not be negative, source {source_v} V "
            "must be above zero"
        )
    under_root = source_v * source_v - 4 * loop_ohm * load_w
    if under_root < 0:
        most = max_power_w(source_v, loop_ohm)
        raise NoOperatingPoint(f"{load_w} W over {loop_ohm} ohm: the line delivers {most:.1f} W")
    current = 2 * load_w / (source_v + math.sqrt(under_root))
    loss = loop_ohm * current * current
    return Feed(
        current_a=current,
        pd_v=source_v - loop_ohm * current,
        pse_w=source_v * current,
        loss_w=loss,
    )


def max_power_w(source_v: float, loop_ohm: float) -> float:
    """Return the most a line can ever deliver: V^2 / (4 R). [W]"""
    if not (source_v > 0 and loop_ohm > 0):
        raise ValueError(f"source {source_v} V and loop {loop_ohm} ohm must be above zero")
    return source_v * source_v / (4 * loop_ohm)


def cable_loop_ohm(awg: int, temperature_c: float, length_m: float, pairs: int) -> float:
    """Return the loop of a cable alone, without twist, cords or connectors. [ohm]

    Two powered pairs put two conductors side by side each way, so their loop equals one
    conductor; four pairs halve it.

    Raises
    ------
    ValueError
        If the gauge is not in the library, or `pairs` is not 2 or 4.
    """
    per_100m = library().conductors_ohm_per_100m.get(awg)
    if per_100m is None or pairs not in (2, 4) or length_m < 0:
        raise ValueError(f"no cable of {awg} AWG over {length_m} m with {pairs} powered pairs")
    warm = 1 + _PER_KELVIN * (temperature_c - _AT_C)
    return per_100m * length_m / 100 * warm * (1 if pairs == 2 else 0.5)


def channel_loop_ohm(awg: int, temperature_c: float, length_m: float, pairs: int) -> float:
    """Return the loop of a run as installed: twist, cords and connectors counted. [ohm]"""
    ends = limit("power.cords_two_pair_ohm" if pairs == 2 else "power.cords_four_pair_ohm")
    return cable_loop_ohm(awg, temperature_c, length_m, pairs) * limit("power.twist") + ends


def thin_cords_ohm(awg: int, cords_m: float, pairs: int) -> float:
    """Return what cords thinner than 24 AWG, which the usual channel counts, add to its loop. [ohm]"""
    cords = library().cords
    more = cords[str(awg)].conductor_ohm_per_100m - cords["24"].conductor_ohm_per_100m
    return more * cords_m / 100 * (1 if pairs == 2 else 0.5)
