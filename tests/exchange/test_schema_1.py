"""A job file of schema 1 with every kind of element in it, written by the release before: turned whole."""

import json
from pathlib import Path

import pytest

from heathrise.core.findings import assess
from heathrise.core.job import Equipment, InLine, InRack, Line, Link, OnSheet, Pathway
from heathrise.core.job.turning import injector_id
from heathrise.exchange.jobfile import NotAJobFile, read_job, write_job
from tests.house import by_label

TEXT = (Path(__file__).parent / "schema-1.json").read_text("utf-8")
OLD = {element["label"]: element for element in json.loads(TEXT)["elements"]}
JOB = read_job(TEXT)
SAME = sorted(
    label for label, old in OLD.items() if old["kind"] not in ("device", "switch", "run", "conduit", "line")
)


@pytest.mark.parametrize("label", SAME)
def test_what_is_as_it_was_keeps_every_word_it_had(label):
    new = by_label(JOB, label).model_dump(mode="json")
    assert kept_of(new, OLD[label]) == OLD[label]


def kept_of(new, old):
    """Return what of a body the old one had: fields that came since are left out, at any depth."""
    if isinstance(old, dict):
        return {key: kept_of(new[key], old[key]) for key in old}
    return new


def test_every_id_is_kept_and_only_the_injector_is_new():
    old = {element["id"] for element in OLD.values()}
    assert {e.id for e in JOB.elements} - old == {injector_id(OLD["R-10"]["id"])}
    assert old <= {e.id for e in JOB.elements}


def test_a_device_stands_on_its_sheet_and_a_switch_in_its_rack():
    desk, switch = by_label(JOB, "Desk outlet"), by_label(JOB, "SW1")
    assert isinstance(desk, Equipment) and isinstance(switch, Equipment)
    assert isinstance(desk.place, OnSheet) and isinstance(switch.place, InRack)
    assert (desk.model, desk.place.at.x_m, desk.place.at.y_m, desk.place.height_m) == (
        "outlet-data",
        9,
        7,
        0.6,
    )
    assert (desk.place.storey_id, switch.place.rack_id) == (OLD["Ground"]["id"], OLD["TR1"]["id"])
    assert switch.place.unit is None


ENDS = [
    ("R-1", ("SW1", "3"), ("AP 1", None)),
    ("R-10", ("TR1", None), ("AP 10", None)),
    ("R-2", ("TR1", None), ("Desk outlet", None)),
    ("R-3", ("TR1", None), ("TR2", None)),
]


@pytest.mark.parametrize(("label", "near", "far"), ENDS, ids=[end[0] for end in ENDS])
def test_a_run_is_a_link_whose_pin_is_the_port_at_its_near_end(label, near, far):
    link = by_label(JOB, label)
    assert isinstance(link, Link)
    assert (link.a.on, link.a.port) == (OLD[near[0]]["id"], near[1])
    assert (link.b.on, link.b.port) == (OLD[far[0]]["id"], far[1])
    assert (link.medium, link.product) == ("copper", OLD[label]["cable"])


def test_an_injector_stands_on_its_runs_way():
    fed = next(e for e in JOB.of(Equipment) if isinstance(e.place, InLine))
    assert (fed.model, fed.place.link_id) == ("injector-30-2g5", OLD["R-10"]["id"])


def test_conduits_and_trays_are_pathways_and_other_lines_stay():
    ways = {way.label: (way.pathway_kind, way.there, len(way.path)) for way in JOB.of(Pathway)}
    assert ways == {
        "Wall sleeve": ("conduit", False, 0),
        "Hall conduit": ("conduit", True, 2),
        "Loft tray": ("tray", False, 2),
    }
    assert by_label(JOB, "Wall sleeve").link_ids == (OLD["R-1"]["id"], OLD["R-2"]["id"])
    assert by_label(JOB, "Hall conduit").note == "Free above the hall."
    assert {line.line_kind for line in JOB.of(Line)} == {"mains", "cable"}


def test_the_order_is_the_one_the_labels_had_before():
    of = {e.label: e.order for e in JOB.elements}
    assert of["R-1"] < of["R-2"] < of["R-3"] < of["R-10"]
    assert of["AP 1"] < of["AP 2"] < of["AP 10"]
    orders = [e.order for e in JOB.elements]
    assert all(orders) and len(set(orders)) == len(orders)


def test_the_picture_comes_along_and_what_is_written_is_read_the_same():
    assert len(JOB.attachments) == 1
    assert read_job(write_job(JOB)) == JOB


def test_what_was_turned_is_assessed_with_nothing_broken():
    assert not [finding for finding in assess(JOB).findings if finding.rule == "findings.could-not-run"]


def with_(label, **changes):
    document = json.loads(TEXT)
    next(e for e in document["elements"] if e["label"] == label).update(changes)
    return json.dumps(document)


def later(label, **changes):
    """The turned file with something changed."""
    document = json.loads(write_job(JOB))
    next(e for e in document["elements"] if e["label"] == label).update(changes)
    return json.dumps(document)


SW1, DESK = OLD["SW1"]["id"], OLD["Desk outlet"]["id"]
NOWHERE = "00000000-0000-4000-8000-000000000000"
REFUSED = [
    (with_("Desk outlet", model="lamp"), "Desk outlet.*lamp"),
    (with_("R-2", cable="string"), "R-2.*string"),
    (with_("R-2", to_id=NOWHERE), f"R-2.*{NOWHERE}"),
    (with_("SW1", rack_id=DESK), "SW1.*(rack|Desk outlet)"),
    (with_("R-2", rack_id=None), "a.on"),
    (with_("Desk outlet", at=None), "place.*at"),
    (later("R-1", a={"on": SW1, "port": "77"}), "R-1.*77"),
    (later("R-1", b={"on": DESK, "port": "9"}), "R-1.*9"),
    (later("SW1", model="switch-of-nobody"), "SW1.*switch-of-nobody"),
    (json.dumps(json.loads(TEXT) | {"schema_version": 3}), "schema version 3"),
]


@pytest.mark.parametrize(("text", "words"), REFUSED, ids=[words for _, words in REFUSED])
def test_what_cannot_be_is_refused_with_what_and_where(text, words):
    with pytest.raises(NotAJobFile, match=words):
        read_job(text)
