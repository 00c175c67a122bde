"""What a build-up costs the air, and what it throws back, by the angle it is met at.

A build-up of layers is computed (`slab`); its design value at normal incidence stands, and the layers say how it
changes with the angle. One without layers is taken as a slab of what its faces are made of, with as much loss inside
as its design value leaves. The field of an upright antenna lies across the plane of incidence on walls (TE) and in it
on floors (TM); what is polarised the other way passes walls more easily and is left out: the careful side.

References
----------
ITU-R P.2040 section 2: layered slab; a slab in power, both faces and what is thrown back inside it.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from heathrise.core.library.items import BuildUp
from heathrise.core.library.slab import Polarisation, band_ghz, permittivity, slab_shares

Floats = NDArray[np.float64]
# Cosines off the normal at which a table is kept; the first stands for a ray along the face.
COSINES = 513
_GRID = np.maximum(np.linspace(0.0, 1.0, COSINES), 0.001)
# No more than this is told apart. [dB]
MOST_DB = 200.0
_LEVEL = frozenset({"slab", "roof"})


@dataclass(frozen=True)
class ByAngle:
    """Loss [dB] and share of power thrown back, (COSINES, 3) by the cosine off the normal and by band."""

    loss_db: Floats
    back: Floats

    @property
    def diffuse(self) -> tuple[Floats, Floats]:
        """Shares (passed, thrown back) of power that comes from everywhere, (3,) each.

        Lambert's mean: each direction counts by twice its cosine.
        """
        weight = 2 * _GRID[:, None] / np.trapezoid(2 * _GRID, dx=1.0)
        passed, back = (
            np.trapezoid(s * weight, dx=1.0, axis=0) for s in (10 ** (-self.loss_db / 10), self.back)
        )
        return passed, back


NOTHING = ByAngle(np.zeros((COSINES, 3)), np.zeros((COSINES, 3)))


@lru_cache(maxsize=256)
def by_angle(build_up: BuildUp, domain: str) -> ByAngle:
    """Return what a build-up costs and throws back by angle, under a radio domain's rules."""
    if build_up.kind == "planting":
        return even(build_up.losses_db)
    field: Polarisation = "tm" if build_up.kind in _LEVEL else "te"
    bands = [
        _layered(build_up, f_ghz, loss_db, field)
        if build_up.layers
        else _plain(build_up.face, f_ghz, loss_db, field)
        for f_ghz, loss_db in zip(band_ghz(domain), build_up.losses_db, strict=True)
    ]
    loss_db, back = (np.column_stack(columns) for columns in zip(*bands, strict=True))
    loss_db = np.clip(loss_db, 0.0, MOST_DB)
    return ByAngle(loss_db, np.minimum(back, 1 - 10 ** (-loss_db / 10)))


def even(losses_db: tuple[float, float, float]) -> ByAngle:
    """Return what costs the same at every angle and throws nothing back."""
    return ByAngle(np.tile(np.array(losses_db, float), (COSINES, 1)), np.zeros((COSINES, 3)))


def _layered(build_up: BuildUp, f_ghz: float, loss_db: float, field: Polarisation) -> tuple[Floats, Floats]:
    """Return (loss, thrown back) of layers; straight on the loss is the build-up's own."""
    passed, back = slab_shares(build_up.layers, f_ghz, _GRID, field)
    shape_db = -10 * np.log10(np.maximum(passed, 1e-30))
    return loss_db + shape_db - shape_db[-1], back


def _plain(face: str, f_ghz: float, loss_db: float, field: Polarisation) -> tuple[Floats, Floats]:
    """Return (loss, thrown back) of a slab of what its faces are made of that costs so much straight on."""
    eps, sine_sq = permittivity(face, f_ghz), 1 - _GRID**2
    inside = np.sqrt(eps - sine_sq)
    admittance = inside if field == "te" else inside / eps
    surface = np.abs((_GRID - admittance) / (_GRID + admittance)) ** 2
    wanted = 10 ** (-loss_db / 10)
    if eps.real < abs(eps.imag):
        # A conductor: what does not get through comes back, at any angle.
        return np.full(COSINES, loss_db), np.minimum(surface, 1 - wanted)
    kept = _kept(float(surface[-1]), wanted)
    # The way through is longer inside at an angle; loss by the length of it.
    longer = inside.real[-1] / inside.real
    once = kept**longer
    round_trip = 1 - (surface * once) ** 2
    passed = (1 - surface) ** 2 * once / round_trip
    back = surface + (1 - surface) ** 2 * surface * once**2 / round_trip
    shape_db = -10 * np.log10(np.maximum(passed, 1e-30))
    return loss_db + shape_db - shape_db[-1], np.clip(back, 0.0, 1.0)


def _kept(surface: float, wanted: float) -> float:
    """Return what one way through keeps so that the whole passes `wanted`; all of it where the faces take more.

    (1 - R)^2 k / (1 - R^2 k^2) = T solved for k.
    """
    if surface == 0.0:
        return min(1.0, wanted)
    through = (1 - surface) ** 2
    root = np.sqrt(through**2 + 4 * (wanted * surface) ** 2)
    return float(min(1.0, (root - through) / (2 * wanted * surface**2)))
