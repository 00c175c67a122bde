"""What spaces are for, proposed from their names and kinds; and what is meant to be dark."""

import pytest

from heathrise.core.edit import apply
from heathrise.core.findings import assess
from heathrise.core.job import Space
from heathrise.core.site.actions import NotPossible, ProposeNeeds
from heathrise.core.site.guessing import guess, mark
from heathrise.core.site.shaping import shape
from heathrise.store.jobs import new_id
from tests.house import House, by_label, changed


def named(label, site="school", box=(0, 0, 8, 6), **body):
    house = House()
    house.d.space(house.ground, label, box, **body)
    job = changed(house.job, "Site", site_kind=site)
    return guess(by_label(job, label), site)


@pytest.mark.parametrize(
    ("label", "need", "stays"),
    [
        ("Classroom 3", "lessons", True),
        ("0.14 Klassenzimmer", "lessons", True),
        ("Salle de classe 2", "lessons", True),
        ("Flur EG", "calls", False),
        ("Couloir", "calls", False),
        ("WC Herren", "presence", False),
        ("Toilettes", "presence", False),
        ("Büro Leitung", "calls", True),
        ("Lagerraum", None, None),
        ("Lager 2", "presence", False),
        ("Cafétéria", None, None),
        ("Despacho", "calls", True),
    ],
)
def test_a_name_tells_by_whole_words_in_several_languages(label, need, stays):
    found = named(label)
    assert (found.need if found else None) == need
    if found is not None and stays is not None:
        assert bool(found.m2_per_person) is stays


def test_a_kind_tells_where_the_name_does_not():
    assert named("X1", space_kind="corridor").need == "calls"
    assert named("X2", space_kind="plant").need == "presence"
    assert named("X3", space_kind="outdoor").need == "outdoor"
    assert named("X4") is None


def test_a_bedroom_is_one_at_home_only():
    assert named("Bedroom", "home").need == "browsing"
    assert named("Bedroom", "school") is None


def test_what_was_proposed_is_marked_until_somebody_says_otherwise():
    house = House()
    house.d.space(house.ground, "Classroom 1", (0, 0, 6, 8))
    shaped = shape(house.job, ProposeNeeds(), new_id)
    job = apply(house.job, shaped.operations).job
    room = by_label(job, "Classroom 1")
    assert isinstance(room, Space)
    assert (room.need, room.people) == ("lessons", 24)
    assert room.proposed == mark(room.need, room.people, room.profile)
    said = changed(job, "Classroom 1", people=30)
    again = by_label(said, "Classroom 1")
    assert again.proposed != mark(again.need, again.people, again.profile)
    with pytest.raises(NotPossible):
        shape(said, ProposeNeeds(), new_id)


def test_what_somebody_said_is_never_proposed_over():
    house = House()
    house.d.space(house.ground, "Classroom 1", (0, 0, 6, 8), people=3)
    with pytest.raises(NotPossible):
        shape(house.job, ProposeNeeds(), new_id)


@pytest.mark.parametrize(
    ("build_up", "asked"), [("lead-lined", False), ("metal-clad", True), ("brick-102", True)]
)
def test_a_room_behind_lead_is_not_asked_for_a_second_signal(build_up, asked):
    house = House(settled=True)
    for label in ("Ground outer", "Ground middle"):
        house.d.elements = [
            e.model_copy(update={"build_up": build_up}) if e.label.startswith(label) else e
            for e in house.d.elements
        ]
    house.point(x=3, y=4)
    job = changed(house.job, "Ground west", need="calls")
    said = {f.subject for f in assess(job).findings if f.rule == "air.no-second-signal"}
    assert ("Ground west" in said) is asked
