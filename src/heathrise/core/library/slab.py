"""Loss of a layered slab of plain materials at normal incidence."""

import cmath
import math
from collections.abc import Sequence

from heathrise.core.library.loader import library

_C = 299_792_458.0
_EPS0 = 8.8541878128e-12
# Thicker layers than this would overflow the matrix long before they let anything through.
_MOST_DB = 300.0


def permittivity(material: str, f_ghz: float) -> complex:
    """Return the complex relative permittivity of a material. Source: ITU-R P.2040 table 3."""
    row = library().slab_materials[material]
    real = row.a * f_ghz**row.b
    conductivity = row.c * f_ghz**row.d
    return complex(real, -conductivity / (2 * math.pi * f_ghz * 1e9 * _EPS0))


# The frequencies that stand for the bands. [GHz]
BAND_GHZ = (2.437, 5.5, 6.185)


def slab_losses_db(layers_mm: Sequence[tuple[str, float]]) -> tuple[float, float, float]:
    """Return the loss of layers of (material, thickness_mm) at 2.4, 5 and 6 GHz. [dB]

    Each is the mean power over 5 % of its band, so that one thickness that happens to resonate
    does not pass for glass.
    """
    layers = [(material, mm / 1000) for material, mm in layers_mm]
    low, mid, high = (_mean_loss_db(layers, f_ghz) for f_ghz in BAND_GHZ)
    return low, mid, high


def loss_curve(layers_mm: Sequence[tuple[str, float]]) -> tuple[tuple[float, float], ...]:
    """Return (GHz, dB) of layers from 1 to 7.5 GHz, for a plot."""
    layers = [(material, mm / 1000) for material, mm in layers_mm]
    return tuple((f / 20, round(slab_loss_db(layers, f / 20), 2)) for f in range(20, 151))


def _mean_loss_db(layers: Sequence[tuple[str, float]], f_ghz: float) -> float:
    shares = [10 ** (-slab_loss_db(layers, f_ghz * step) / 10) for step in (0.975, 0.9875, 1, 1.0125, 1.025)]
    return round(-10 * math.log10(sum(shares) / len(shares)), 1)


def slab_loss_db(layers: Sequence[tuple[str, float]], f_ghz: float) -> float:
    """Return the loss through layers of (material, thickness_m) in air, normal incidence. [dB]

    Each layer is its characteristic matrix; their product gives the transmitted share.

    Raises
    ------
    ValueError
        If a thickness is negative or the frequency is not above zero.

    References
    ----------
    ITU-R P.2040, multi-layer slab; the matrix of Born and Wolf, section 1.6.

    Examples
    --------
    >>> round(slab_loss_db([("concrete", 0.2)], 2.44), 4)
    14.7637
    """
    if not f_ghz > 0:
        raise ValueError(f"f_ghz is {f_ghz}; it must be above zero")
    k0 = 2 * math.pi * f_ghz * 1e9 / _C
    a, b, c, d = 1 + 0j, 0j, 0j, 1 + 0j
    scale_db = 0.0
    for material, thickness_m in layers:
        if thickness_m < 0:
            raise ValueError(f"layer {material} has thickness {thickness_m} m; zero is the least")
        n = cmath.sqrt(permittivity(material, f_ghz))
        phase = k0 * n * thickness_m
        decay_db = -20 * phase.imag * math.log10(math.e)
        if scale_db + decay_db > _MOST_DB:
            return _MOST_DB
        cos, sin = cmath.cos(phase), cmath.sin(phase)
        m = (cos, 1j * sin / n, 1j * n * sin, cos)
        a, b, c, d = (
            a * m[0] + b * m[2],
            a * m[1] + b * m[3],
            c * m[0] + d * m[2],
            c * m[1] + d * m[3],
        )
        scale_db += decay_db
    transmitted = 2 / (a + b + c + d)
    return float(-20 * math.log10(abs(transmitted)))
