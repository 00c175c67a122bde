"""What a build-up costs and throws back by angle: against closed formulas, and the laws it keeps."""

import cmath
import math

import numpy as np
import pytest

from heathrise.core.library import library
from heathrise.core.library.by_angle import COSINES, by_angle
from heathrise.core.library.slab import band_ghz, permittivity, slab_losses_db, slab_shares


def one_layer(material, metres, f_ghz, degrees, field):
    """Return (passed, thrown back) of one layer by Airy's sum over what goes to and fro inside it."""
    eps, cosine = permittivity(material, f_ghz), math.cos(math.radians(degrees))
    inside = cmath.sqrt(eps - (1 - cosine**2))
    r = (
        (cosine - inside) / (cosine + inside)
        if field == "te"
        else (eps * cosine - inside) / (eps * cosine + inside)
    )
    once = cmath.exp(-2j * math.pi * f_ghz * 1e9 / 299_792_458.0 * inside * metres)
    whole = 1 - r**2 * once**2
    return abs((1 - r**2) * once / whole) ** 2, abs(r * (1 - once**2) / whole) ** 2


@pytest.mark.parametrize(
    ("material", "mm"), [("concrete", 150), ("glass", 6), ("plasterboard", 25), ("wood", 44), ("brick", 102)]
)
@pytest.mark.parametrize("degrees", [0, 30, 60, 80, 88])
@pytest.mark.parametrize("field", ["te", "tm"])
def test_a_layer_is_airys_sum(material, mm, degrees, field):
    f_ghz, steps = 5.5, (0.975, 0.9875, 1.0, 1.0125, 1.025)
    cosine = np.array([math.cos(math.radians(degrees))])
    passed, back = slab_shares([(material, mm)], f_ghz, cosine, field)
    wanted = np.mean([one_layer(material, mm / 1000, f_ghz * s, degrees, field) for s in steps], axis=0)
    assert (passed[0], back[0]) == pytest.approx(wanted, rel=1e-6, abs=1e-12)


@pytest.mark.parametrize("code", library().build_ups)
@pytest.mark.parametrize("domain", ["etsi-like", "fcc-like"])
def test_nothing_comes_from_nothing(code, domain):
    found = by_angle(library().build_ups[code], domain)
    passed = 10 ** (-found.loss_db / 10)
    assert (found.back >= 0).all()
    assert (passed + found.back <= 1 + 1e-9).all()
    through, back = found.diffuse
    assert ((through + back) <= 1 + 1e-6).all()


@pytest.mark.parametrize("code", library().build_ups)
def test_straight_on_the_design_value_stands(code):
    made = library().build_ups[code]
    assert by_angle(made, "etsi-like").loss_db[-1] == pytest.approx(made.losses_db)


@pytest.mark.parametrize("code", ["brick-215", "stud-plasterboard", "concrete-150", "door-solid"])
def test_a_wall_costs_more_the_flatter_it_is_met(code):
    found = by_angle(library().build_ups[code], "etsi-like")
    at = [found.loss_db[int(math.cos(math.radians(d)) * (COSINES - 1)), 1] for d in (0, 60, 75, 85)]
    assert sorted(at) == at
    assert at[-1] - at[0] > 10


@pytest.mark.parametrize("code", ["metal-clad", "door-roller-metal", "metal-roof", "lead-lined"])
def test_metal_throws_back_what_it_does_not_let_through(code):
    assert by_angle(library().build_ups[code], "etsi-like").back[COSINES // 50 :].min() > 0.97


def test_the_middle_of_6_ghz_is_that_of_the_domain():
    assert band_ghz("fcc-like")[2] == 6.525
    assert band_ghz("etsi-like")[2] == 6.185
    low, high = (slab_losses_db([("concrete", 200)], domain)[2] for domain in ("etsi-like", "fcc-like"))
    assert high > low
