"""Length limits of a channel: cords and heat count together."""

from collections.abc import Sequence

from heathrise.core.library import library, limit
from heathrise.core.sums import Noun

# Other cords are capped where a 70 m fixed part would be.
_CAP_AT_M = 70.0


class EquivalentLength(Noun):
    """Fixed parts and cords as one length at 20 C, held against 102 m and 90 m."""

    equivalent_m: float
    limit_m: float
    fixed_m: float
    ok: bool


def heat_factor(temperature_c: float, screened: bool) -> float:
    """Return the share by which insertion loss grows over 20 C.

    Screened cable 0.2 %/K; unscreened 0.4 %/K to 40 C and 0.6 %/K above.

    References
    ----------
    ANSI/TIA-568.2, insertion-loss temperature factors.
    """
    over = max(0.0, temperature_c - 20.0)
    if screened:
        return 0.002 * over
    return 0.004 * min(over, 20.0) + 0.006 * max(0.0, over - 20.0)


def hot_link_m(temperature_c: float, screened: bool) -> float:
    """Return the longest permanent link when all of it is at one temperature. [m]

    Examples
    --------
    >>> round(hot_link_m(40, screened=False), 4)
    83.3333
    """
    return limit("cabling.permanent_link_m") / (1 + heat_factor(temperature_c, screened))


def cord_budget_m(horizontal_m: float, derate: float) -> float | None:
    """Return the length left for cords beside a fixed part at 20 C; None over 90 m. [m]

    C = (102 - H) / (1 + D), at most 27 m of 24 AWG and 21 m of 26 AWG.

    Raises
    ------
    ValueError
        If a length or the derating is negative.

    References
    ----------
    ANSI/TIA-568.0, work-area cords.
    """
    if horizontal_m < 0 or derate < 0:
        raise ValueError(f"fixed part {horizontal_m} m and derating {derate} must not be negative")
    if horizontal_m > limit("cabling.permanent_link_m"):
        return None
    most = limit("cabling.equivalent_m")
    caps = {cord.derate: cord.cap_m for cord in library().cords.values()}
    cap = caps.get(round(derate, 3), (most - _CAP_AT_M) / (1 + derate))
    return min(cap, (most - horizontal_m) / (1 + derate))


def equivalent_length(
    parts: Sequence[tuple[float, float]], cords_m: float, derate: float, screened: bool
) -> EquivalentLength:
    """Hold parts of (length_m, temperature_c) and cords against both limits.

    sum(L (1 + k)) + C (1 + D) <= 102 m and sum(L) <= 90 m.

    Raises
    ------
    ValueError
        If a length is negative.

    References
    ----------
    ANSI/TIA-568 C = (102 - H)/(1 + D), with each part at its own temperature.
    """
    if cords_m < 0 or any(length < 0 for length, _ in parts):
        raise ValueError("a length is negative")
    fixed_m = sum(length for length, _ in parts)
    warm_m = sum(length * (1 + heat_factor(t, screened)) for length, t in parts)
    equivalent_m = warm_m + cords_m * (1 + derate)
    most = limit("cabling.equivalent_m")
    ok = equivalent_m <= most + 1e-9 and fixed_m <= limit("cabling.permanent_link_m") + 1e-9
    return EquivalentLength(equivalent_m=equivalent_m, limit_m=most, fixed_m=fixed_m, ok=ok)


def longest_fixed_m(mean_heat: float, cords_m: float, derate: float) -> float:
    """Return the longest fixed part that passes both limits at a mean heat factor. [m]"""
    by_loss = (limit("cabling.equivalent_m") - cords_m * (1 + derate)) / (1 + mean_heat)
    return min(limit("cabling.permanent_link_m"), by_loss)
