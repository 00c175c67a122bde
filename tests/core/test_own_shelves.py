"""What a job lays over the library's shelves, as screens choose from it."""

import pytest

from heathrise.core.deriving import Memo
from heathrise.core.edit import EditError, Put, Remove, apply
from heathrise.core.findings import assess
from heathrise.core.findings.slices import SLICES
from heathrise.core.job.own import own_shelves
from heathrise.core.job.view import changed_keys
from heathrise.core.library import library
from heathrise.core.library.equipment import shown
from tests.house import House, by_label, changed


def with_model(**figures) -> House:
    house = House(settled=True)
    base = library().equipment["switch-24-poe"]
    model = base.model_copy(update={"label": "Switch of the house", **figures})
    house.add("model", model.label, code="own-model-1", model=model.model_dump())
    return house


def test_a_job_without_anything_of_its_own_lays_nothing_over():
    own = assess(House().job).own
    assert (own.build_ups, own.equipment, own.patterns) == ({}, {}, {})


def test_a_model_of_its_own_says_what_it_can_do():
    own = assess(with_model(budget_w=740).job).own.equipment["own-model-1"]
    assert (own.label, own.budget_w) == ("Switch of the house", 740)
    assert own.can == shown(library().equipment["switch-24-poe"]).can


def test_what_a_model_can_do_follows_its_figures_not_its_origin():
    """A switch that no longer joins its ports is no switch to choose from."""
    assert assess(with_model(forwards="none").job).own.equipment["own-model-1"].can == ("racks",)


def test_a_build_up_of_layers_shows_what_its_layers_cost():
    house = House(settled=True)
    layers = [{"material": "concrete", "thickness_mm": 200}]
    house.add("build-up", "Own wall", code="own-1", build_kind="wall", layers=layers)
    own = assess(house.job).own.build_ups["own-1"]
    assert own.label == "Own wall"
    assert own.loss_5_db == house.job.build_ups["own-1"].loss_5_db > 15


@pytest.mark.parametrize("code", ["own-model-1", "switch-24-poe"])
def test_a_model_is_planned_with_whether_new_or_laid_over(code):
    house = House(settled=True)
    base = library().equipment["switch-24-poe"]
    house.add("model", "Mine", code=code, model=base.model_copy(update={"budget_w": 33.0}).model_dump())
    house.rack()
    house.switch(model=code)
    house.run(house.point())
    (budget,) = assess(house.job).budgets
    assert budget.budget_w == 33


def test_a_model_in_use_is_not_taken_away():
    house = with_model()
    house.rack()
    house.switch(model="own-model-1")
    with pytest.raises(EditError):
        apply(house.job, [Remove(id=by_label(house.job, "Switch of the house").id)])


def test_figures_that_cannot_be_are_refused():
    job = with_model().job
    mine = by_label(job, "Switch of the house")
    with pytest.raises(ValueError, match="greater than or equal to 0"):
        Put(
            element=type(mine).model_validate(
                mine.model_dump() | {"model": mine.model.model_dump() | {"max_w": -1}}
            )
        )


def test_an_edit_elsewhere_leaves_the_shelves_as_they_were():
    """Screens compare by identity: the same shelves are the same object after any other edit."""
    house = with_model()
    house.point()
    memo = Memo(house.job)
    before = own_shelves(memo.look)
    moved = changed(house.job, "AP 1", at={"x_m": 2, "y_m": 2})
    memo.advance(moved, 1, changed_keys(house.job, moved, SLICES))
    assert own_shelves(memo.look) is before
    dearer = changed(
        moved,
        "Switch of the house",
        model=by_label(moved, "Switch of the house").model.model_copy(update={"price": 1.0}),
    )
    memo.advance(dearer, 2, changed_keys(moved, dearer, SLICES))
    assert own_shelves(memo.look).equipment["own-model-1"].price == 1
