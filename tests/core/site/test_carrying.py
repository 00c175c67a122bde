"""What is read again keeps its ids, so that what a person said of it stands."""

from uuid import uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.job import Point
from heathrise.core.site.carrying import carried
from heathrise.core.site.proposal import (
    Proposal,
    ProposedOpening,
    ProposedSpace,
    ProposedStorey,
    ProposedWall,
)


def new() -> str:
    return str(uuid4())


def drawn(walls, k=1.0, turned=False):
    """Walls with a door in the first and a space round the first corner, `k` times as large, with fresh ids."""

    def at(x, y):
        return Point(x_m=round(x * k, 3), y_m=round(y * k, 3))

    made = tuple(
        ProposedWall(
            id=new(),
            a=at(*(ends[2:] if turned else ends[:2])),
            b=at(*(ends[:2] if turned else ends[2:])),
            thickness_m=0.1,
        )
        for ends in walls
    )
    long = ((walls[0][2] - walls[0][0]) ** 2 + (walls[0][3] - walls[0][1]) ** 2) ** 0.5
    start = long - 1.9 if turned else 1.0
    door = ProposedOpening(id=new(), wall_id=made[0].id, opening_kind="door", at_m=start * k, width_m=0.9 * k)
    space = ProposedSpace(
        id=new(),
        label="Office",
        outline=(at(0, 0), at(4, 0), at(4, 3), at(0, 3)),
        wall_ids=tuple(w.id for w in made),
    )
    return Proposal(storeys=(ProposedStorey(label="S", walls=made, openings=(door,), spaces=(space,)),))


WALLS = [(0, 0, 6, 0), (6, 0, 6, 5), (0, 0, 0, 5), (0, 5, 6, 5)]


@pytest.mark.parametrize("k", [1.0, 1.37, 0.1], ids=["as large", "by another scale", "by another unit"])
@pytest.mark.parametrize("turned", [False, True], ids=["", "ends the other way"])
def test_everything_in_its_place_keeps_its_id(k, turned):
    before = drawn(WALLS)
    (old,), (new_,) = before.storeys, carried(before, drawn(WALLS, k, turned), 1 / k).storeys
    assert [w.id for w in new_.walls] == [w.id for w in old.walls]
    assert new_.openings[0].id == old.openings[0].id
    assert new_.openings[0].wall_id == old.walls[0].id
    assert new_.spaces[0].id == old.spaces[0].id
    assert new_.spaces[0].wall_ids == old.spaces[0].wall_ids


def test_what_is_new_or_elsewhere_has_an_id_of_its_own():
    before = drawn(WALLS)
    after = drawn([WALLS[0], (2, 0, 2, 5), *WALLS[2:]])
    old, new_ = before.storeys[0], carried(before, after, 1.0).storeys[0]
    assert new_.walls[1].id == after.storeys[0].walls[1].id
    assert new_.walls[2].id == old.walls[2].id


def test_two_walls_in_one_place_do_not_get_one_id():
    before = drawn(WALLS)
    new_ = carried(before, drawn([*WALLS, WALLS[0]]), 1.0).storeys[0]
    assert len({w.id for w in new_.walls}) == 5


def test_another_number_of_storeys_is_another_building():
    before, after = drawn(WALLS), drawn(WALLS)
    two = after.model_copy(update={"storeys": after.storeys * 2})
    assert carried(before, two, 1.0) is two


@given(
    st.lists(st.tuples(*[st.integers(0, 40)] * 4).filter(lambda e: e[:2] != e[2:]), min_size=1, max_size=12)
)
def test_any_reading_carried_holds_as_many_and_no_id_twice(walls):
    before, after = drawn(walls), drawn(walls)
    found = carried(before, after, 1.0).storeys[0]
    ids = [w.id for w in found.walls]
    assert len(set(ids)) == len(ids) == len(walls)
    assert {w.wall_id for w in found.openings} <= set(ids)
