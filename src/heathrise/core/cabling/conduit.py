"""Conduit fill by area."""

from collections.abc import Sequence

from heathrise.core.sums import Noun

# One cable 53 %, two 31 %, three and more 40 % of the bore.
_LIMITS = {1: 0.53, 2: 0.31}
_MANY = 0.40


class ConduitFill(Noun):
    """Share of the bore filled, against the limit for that many cables."""

    fill: float
    limit: float
    ok: bool


def conduit_fill(inner_mm: float, ods_mm: Sequence[float]) -> ConduitFill:
    """Return the fill of a bore by cables of the outer diameters given. [mm]

    Raises
    ------
    ValueError
        If the bore or a diameter is not above zero.

    References
    ----------
    53/31/40 % rule of national wiring rules and ANSI/TIA-569.
    """
    if not inner_mm > 0 or any(not od > 0 for od in ods_mm):
        raise ValueError(f"bore {inner_mm} mm and every diameter must be above zero")
    fill = sum(od * od for od in ods_mm) / (inner_mm * inner_mm)
    most = _LIMITS.get(len(ods_mm), _MANY)
    return ConduitFill(fill=fill, limit=most, ok=fill <= most + 1e-12)
