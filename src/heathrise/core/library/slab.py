"""What a layered slab of plain materials lets through and throws back: straight on, and at an angle."""

import cmath
import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heathrise.core.library.loader import library

Floats = NDArray[np.float64]
# The electric field across the plane of incidence, or in it.
Polarisation = Literal["te", "tm"]

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


# The mean power is taken over 5 % of a band, so that a thickness that happens to resonate does not pass for glass.
_STEPS = (0.975, 0.9875, 1.0, 1.0125, 1.025)


def band_ghz(domain: str) -> tuple[float, float, float]:
    """Return the frequencies that stand for the bands under a radio domain's rules. Raises UnknownItem. [GHz]"""
    return library().domains[domain].middle_ghz


def slab_losses_db(layers_mm: Sequence[tuple[str, float]], domain: str) -> tuple[float, float, float]:
    """Return the loss of layers of (material, thickness_mm) at 2.4, 5 and 6 GHz, straight on. [dB]

    Each is the mean power over 5 % of its band; 6 GHz is the middle of the domain's band.
    """
    layers = [(material, mm / 1000) for material, mm in layers_mm]
    low, mid, high = (_mean_loss_db(layers, f_ghz) for f_ghz in band_ghz(domain))
    return low, mid, high


def slab_shares(
    layers_mm: Sequence[tuple[str, float]], f_ghz: float, cosines: Floats, polarisation: Polarisation
) -> tuple[Floats, Floats]:
    """Return the shares of power (passed, thrown back) at each cosine off the normal, means over 5 % of a band.

    References
    ----------
    ITU-R P.2040 section 2.3, multi-layer slab; the matrix of Born and Wolf, section 1.6.2.
    """
    layers = [(material, mm / 1000) for material, mm in layers_mm]
    found = [_shares(layers, f_ghz * step, cosines, polarisation) for step in _STEPS]
    passed, back = (np.mean(np.array(shares), axis=0) for shares in zip(*found, strict=True))
    return passed, back


def _shares(
    layers: Sequence[tuple[str, float]], f_ghz: float, cosines: Floats, polarisation: Polarisation
) -> tuple[Floats, Floats]:
    """Return (passed, thrown back) at one frequency."""
    k0, sine_sq = 2 * math.pi * f_ghz * 1e9 / _C, 1 - cosines**2
    one, none = np.ones_like(cosines, complex), np.zeros_like(cosines, complex)
    a, b, c, d = one, none, none, one
    opaque = False
    for material, thickness_m in layers:
        eps = permittivity(material, f_ghz)
        inside = np.sqrt(eps - sine_sq)
        admittance = inside if polarisation == "te" else inside / eps
        phase = k0 * thickness_m * inside
        if float(-phase.imag.min()) * 20 * math.log10(math.e) > _MOST_DB:
            # Nothing comes out of it again: it is as good as endless.
            a, c, opaque = a + b * admittance, c + d * admittance, True
            break
        cos, sin = np.cos(phase), np.sin(phase)
        a, b, c, d = (
            a * cos + b * 1j * admittance * sin,
            a * 1j * sin / admittance + b * cos,
            c * cos + d * 1j * admittance * sin,
            c * 1j * sin / admittance + d * cos,
        )
    front = a if opaque else a + b * cosines
    behind = c if opaque else c + d * cosines
    whole = front * cosines + behind
    back = np.abs((front * cosines - behind) / whole) ** 2
    passed = np.zeros_like(back) if opaque else np.abs(2 * cosines / whole) ** 2
    return passed, np.minimum(back, 1.0 - passed)


def loss_curve(layers_mm: Sequence[tuple[str, float]]) -> tuple[tuple[float, float], ...]:
    """Return (GHz, dB) of layers from 1 to 7.5 GHz, for a plot."""
    layers = [(material, mm / 1000) for material, mm in layers_mm]
    return tuple((f / 20, round(slab_loss_db(layers, f / 20), 2)) for f in range(20, 151))


def _mean_loss_db(layers: Sequence[tuple[str, float]], f_ghz: float) -> float:
    shares = [10 ** (-slab_loss_db(layers, f_ghz * step) / 10) for step in _STEPS]
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
