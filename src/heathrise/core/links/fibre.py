"""The loss account of a fibre, and the drop of a pair that feeds what stands at its end."""

from heathrise.core.library import limit

_PER_KELVIN = 0.00393
_AT_C = 20.0


def fibre_loss_db(length_m: float, per_km_db: float, connectors: int, splices: int) -> float:
    """Return the loss of a fibre from module to module. [dB]

    length x loss per km + connectors x 0.75 + splices x 0.3.

    Raises
    ------
    ValueError
        If an input is below zero.

    References
    ----------
    ISO/IEC 11801-1, clause 9: loss of a mated connector and of a splice at the most.
    """
    if min(length_m, per_km_db, connectors, splices) < 0:
        raise ValueError(
            f"{length_m} m, {per_km_db} dB/km, {connectors} connectors, {splices} splices: none below zero"
        )
    return (
        length_m / 1000 * per_km_db
        + connectors * limit("links.connector_db")
        + splices * limit("links.splice_db")
    )


def pair_loop_ohm(area_mm2: float, length_m: float, temperature_c: float) -> float:
    """Return the resistance of a copper pair out and back. [ohm]

    2 L rho / A x (1 + 0.00393 (t - 20)), rho 0.01724 ohm mm2/m.

    Raises
    ------
    ValueError
        If the area is not above zero, or the length is below it.

    References
    ----------
    IEC 60228: annealed copper at 20 C.
    """
    if not area_mm2 > 0 or length_m < 0:
        raise ValueError(f"a pair of {area_mm2} mm2 over {length_m} m: area above zero, length not below it")
    return 2 * length_m * 0.01724 / area_mm2 * (1 + _PER_KELVIN * (temperature_c - _AT_C))
