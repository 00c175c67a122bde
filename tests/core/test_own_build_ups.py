"""A job's own build-ups: figures over the library's, layers by the slab, and what protects them."""

from uuid import uuid4

import pytest

from heathrise.core.edit import EditError, Put, Remove, apply
from heathrise.core.job import OwnBuildUp
from heathrise.core.library import library, slab_losses_db
from heathrise.core.library.slab import loss_curve
from heathrise.core.radio.scene import scene_of
from heathrise.core.site.building import building_of
from tests.house import House, by_label, changed


def own(**body) -> OwnBuildUp:
    return OwnBuildUp.model_validate({"id": str(uuid4()), "label": "Own", "code": "brick-102", **body})


def test_own_figures_stand_in_for_the_librarys_and_the_air_feels_it():
    job = House().job
    thick = apply(job, [Put(element=own(loss_24_db=20, loss_5_db=30, loss_6_db=33))]).job
    assert thick.build_ups["brick-102"].loss_5_db == 30
    assert library().build_ups["brick-102"].loss_5_db == 9
    middle = [
        loss
        for name, loss in zip(
            building_of(thick).obstacles.names, building_of(thick).obstacles.losses_db, strict=True
        )
        if name == by_label(thick, "Ground middle").id
    ]
    assert tuple(middle[0]) == (20, 30, 33)
    assert scene_of(building_of(thick)) is not scene_of(building_of(job))


def test_layers_are_computed_by_the_slab():
    made = own(code="own-1", layers=[{"material": "concrete", "thickness_mm": 200}])
    built = made.as_build_up("etsi-like")
    assert built.losses_db == slab_losses_db([("concrete", 200)], "etsi-like")
    assert built.thickness_m == pytest.approx(0.2)
    assert "P.2040" in built.source
    assert made.as_build_up("fcc-like").loss_6_db > built.loss_6_db
    with pytest.raises(ValueError, match="no slab material"):
        own(layers=[{"material": "cheese", "thickness_mm": 10}])


def test_more_of_a_lossy_layer_never_costs_less_by_much_and_the_curve_spans_the_bands():
    losses = [slab_losses_db([("concrete", mm)], "etsi-like")[1] for mm in (50, 100, 200, 400)]
    assert losses == sorted(losses)
    curve = loss_curve([("glass", 6)])
    assert (curve[0][0], curve[-1][0]) == (1.0, 7.5)


def test_a_build_up_in_use_cannot_be_taken_away():
    job = apply(House().job, [Put(element=own(code="own-1", label="Straw"))]).job
    job = changed(job, "Ground middle", build_up="own-1")
    straw = next(e for e in job.elements if e.kind == "build-up")
    with pytest.raises(EditError, match="own-1"):
        apply(job, [Remove(id=straw.id)])
    free = changed(job, "Ground middle", build_up="cavity")
    assert apply(free, [Remove(id=straw.id)]).job.of(OwnBuildUp) == ()


def test_a_wall_of_an_unknown_build_up_is_refused():
    with pytest.raises(EditError, match="no such item"):
        changed(House().job, "Ground middle", build_up="own-9")


def test_the_library_has_thirty_and_plain_slabs_agree_with_their_layers():
    shelf = library().build_ups
    assert len(shelf) >= 30
    for code in ("concrete-100", "concrete-150", "reinforced-200"):
        computed = slab_losses_db(shelf[code].layers, "etsi-like")
        assert computed[1] == pytest.approx(shelf[code].loss_5_db, rel=0.25), code
