"""Things of a client's list on the plan: in the room that is meant, or left with the reason."""

import pytest
import shapely
from demo.drawing import at

from heathrise.core.job import Job, Space, Storey
from heathrise.core.site.building import polygon
from heathrise.core.site.listed import ListedDevice, device_kind_of, place_listed
from heathrise.store.jobs import new_id


@pytest.mark.parametrize(
    ("words", "kind"),
    [
        ("Deckenkamera", "camera"),
        ("CCTV cameras", "camera"),
        ("Desk phone", "desk-phone"),
        ("Phone", "phone"),
        ("Imprimante réseau", "printer"),
        ("Portátil", "laptop"),
        ("Bird house", None),
        ("", None),
    ],
)
def test_kinds_by_words_in_several_tongues(words, kind):
    assert device_kind_of(words) == kind


@pytest.fixture
def house() -> Job:
    ground = Storey(id=new_id(), label="Ground", elevation_m=0.0)
    first = Storey(id=new_id(), label="First floor", elevation_m=3.0)

    def room(label: str, storey: Storey, x: float) -> Space:
        corners = ((x, 0), (x + 4, 0), (x + 4, 3), (x, 3))
        return Space(id=new_id(), label=label, storey_id=storey.id, outline=tuple(at(*c) for c in corners))

    rooms = [room("0.01 Hall", ground, 0), room("0.02 Office", ground, 4), room("1.01 Hall", first, 0)]
    return Job(name="House", elements=(ground, first, *rooms))


def test_things_stand_in_the_room_that_is_meant_apart_from_each_other(house):
    rows = [
        ListedDevice(row=1, label="Printer", device="printer", count=3, place="Office"),
        ListedDevice(
            row=2,
            label="Camera",
            device="camera",
            place="1.01 Hall",
            position="ceiling",
            mac="0a:00:00:00:00:01",
        ),
    ]
    placed = place_listed(house, rows, new_id)
    things = [put.element for put in placed.puts]
    assert [t.label for t in things] == ["Printer 1", "Printer 2", "Printer 3", "Camera"]
    (office,) = [s for s in house.of(Space) if s.label == "0.02 Office"]
    spots = {(t.place.at.x_m, t.place.at.y_m) for t in things[:3]}
    assert len(spots) == 3
    assert all(polygon(office).contains(shapely.Point(s)) for s in spots)
    assert things[3].place.storey_id == house.storeys[1].id
    assert (things[3].mac, things[3].place.height_m) == ("0a:00:00:00:00:01", 2.6)


@pytest.mark.parametrize(
    ("device", "why"),
    [
        (ListedDevice(row=1, label="Laptop", device="laptop", place="Office"), "moves"),
        (ListedDevice(row=1, label="Printer", device="printer"), "no room is said"),
        (ListedDevice(row=1, label="Printer", device="printer", place="Garden"), "no space is called Garden"),
        (ListedDevice(row=1, label="Printer", device="printer", place="Hall"), "2 spaces are called Hall"),
    ],
)
def test_what_cannot_be_placed_says_why(house, device, why):
    placed = place_listed(house, [device], new_id)
    assert placed.puts == ()
    ((row, said),) = placed.left
    assert row == 1
    assert why in said


def test_the_floor_that_is_said_tells_two_rooms_of_a_name_apart(house):
    row = ListedDevice(row=1, label="Printer", device="printer", place="Hall", floor="First floor")
    (put,) = place_listed(house, [row], new_id).puts
    assert put.element.place.storey_id == house.storeys[1].id
