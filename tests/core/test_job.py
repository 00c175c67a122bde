"""The job file's bounds: what a job refuses, and in which words."""

import pytest
from pydantic import ValidationError

from heathrise.core.job import ELEMENT, Job
from tests.house import House

HERE = "00000000-0000-7000-8000-00000000000"


def body(kind, **more):
    return {"kind": kind, "id": f"{HERE}1", "label": "Thing", **more}


AT = {"x_m": 1, "y_m": 1}
REFUSED = [
    (body("wall", storey_id=f"{HERE}2", a=AT, b=AT), "no length"),
    (
        body(
            "underlay",
            storey_id=f"{HERE}2",
            attachment_id=f"{HERE}3",
            width_px=10,
            height_px=10,
            metres_per_px=0,
        ),
        "greater than 0",
    ),
    (body("storey", elevation_m="ground"), "valid number"),
    (body("storey", elevation_m=float("nan")), "finite"),
    (body("space", storey_id=f"{HERE}2", outline=[AT, AT]), "at least 3"),
    (
        body(
            "access-point", storey_id=f"{HERE}2", at=AT, model="x", radios=[{"band": "5", "power_dbm": 9}] * 2
        ),
        "two radios",
    ),
    (body("link", a={"on": f"{HERE}2"}, b={"on": "not-an-id"}, product="x"), "pattern"),
    (body("network", vlan=5000, subnet="10.0.0.0/24"), "4094"),
    (body("network", vlan=5, subnet="10.0.0.1/24"), "valid IPv4"),
    (body("storey", elevation_m=0, colour="red"), "Extra inputs"),
    (body("turret"), "does not match any of the expected tags"),
    ({**body("rack", storey_id=f"{HERE}2", at=AT), "label": "  "}, "at least 1 character"),
]


@pytest.mark.parametrize(("element", "words"), REFUSED, ids=[words for _, words in REFUSED])
def test_an_element_that_cannot_be_is_refused_in_words(element, words):
    with pytest.raises(ValidationError, match=words):
        ELEMENT.validate_python(element)


def test_a_run_to_a_missing_rack_is_refused_by_name():
    house = House()
    point = house.point()
    house.d.run("R-01", f"{HERE}9", point, "cat6-indoor")
    with pytest.raises(ValidationError, match=r"run R-01: a.on names .* no such rack or equipment"):
        _ = house.job


def test_a_reference_of_the_wrong_kind_is_refused():
    house = House()
    rack = house.rack()
    house.d.in_rack("SW1", "switch-8-poe", house.point())
    assert rack
    with pytest.raises(ValidationError, match="no such rack"):
        _ = house.job


def test_an_item_that_is_not_in_the_library_is_refused():
    house = House()
    house.point(model="ap-of-tomorrow")
    with pytest.raises(ValidationError, match="ap-of-tomorrow, but the library has no such item"):
        _ = house.job


def test_a_job_has_one_site_and_no_id_twice():
    house = House()
    elements = house.job.elements
    with pytest.raises(ValidationError, match="same id"):
        Job(name="x", elements=(*elements, elements[0]))
    second = elements[0].model_copy(update={"id": f"{HERE}7"})
    with pytest.raises(ValidationError, match="more than one site"):
        Job(name="x", elements=(*elements, second))


def test_a_job_without_its_facts_has_defaults():
    job = Job(name="empty")
    assert job.site.domain == "etsi-like"
    assert job.practice.cords_m == 10
    assert job.storeys == ()
