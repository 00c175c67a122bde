"""From a site fresh out of its boxes to one that is as planned: matched, told step by step, seen to be so."""

import pytest
from demo.load import JOBS


@pytest.mark.parametrize("name", list(JOBS))
def test_a_demo_job_is_brought_from_fresh_to_as_planned(bench_of, name):
    bench = bench_of(JOBS[name]())
    before = bench.get("controller/live")
    assert not before["compared"]["as_planned"]
    assert before["matched"]["strangers"] == []
    assert all(match["serial"] for match in before["matched"]["matches"])
    bench.brought_on()
    after = bench.get("controller/live")
    assert after["compared"]["differences"] == []
    assert after["compared"]["as_planned"]
    assert {unit["phase"] for unit in after["live"]["units"]} == {"up"}


def test_the_simulated_units_are_those_planned_and_nobody_elses(bench):
    live = bench.get("controller/live")
    planned = {device["label"]: device["model"] for device in live["matched"]["matches"]}
    models = {unit["serial"]: unit["model"] for unit in live["live"]["units"]}
    for match in live["matched"]["matches"]:
        assert models[match["serial"]] == planned[match["label"]]
        assert match["mac"].startswith("02:")


def test_steps_come_in_a_safe_order(bench):
    kinds = [step["kind"] for step in bench.get("controller/live")["steps"]["steps"]]
    first = {kind: kinds.index(kind) for kind in kinds}
    order = [
        "backup",
        "console",
        "take",
        "firmware",
        "alias",
        "network",
        "name",
        "radio",
        "edges",
        "trunks",
        "verify",
    ]
    assert [first[kind] for kind in order] == sorted(first[kind] for kind in order)
    steps = bench.get("controller/live")["steps"]["steps"]
    assert [s["item"] for s in steps if s["kind"] == "take"][:2] == ["GW1", "SW1"]
    assert [s["words"] for s in steps if s["kind"] == "trunks"] == [
        "Set 1 trunk of SW1",
        "Set 1 trunk of GW1",
    ]


def test_pushed_twice_there_is_nothing_left_to_do(bench):
    bench.brought_on()
    again = bench.post("controller/pushes")
    assert (again["state"], again["steps"]) == ("done", [])


def test_an_edit_of_the_plan_shows_as_a_difference_and_only_that_is_sent(bench):
    bench.brought_on()
    job = bench.client.get(bench.at).get_json()
    guest = next(e for e in job["elements"] if e["kind"] == "network" and e["purpose"] == "guest")
    bench.edit([{"op": "put", "element": guest | {"lease_h": 2.0}}])
    live = bench.get("controller/live")
    (only,) = live["compared"]["differences"]
    assert (only["section"], only["state"]) == ("network", "differs")
    assert only["fields"] == [{"field": "lease_h", "label": "lease, h", "planned": "2", "found": "4"}]
    assert [s["kind"] for s in live["steps"]["steps"]] == ["backup", "network", "verify"]
    bench.brought_on()
    assert bench.get("controller/live")["compared"]["as_planned"]


def test_settled_units_are_known_by_serial_from_then_on(bench):
    bench.settle_units()
    matches = bench.get("controller/live")["matched"]["matches"]
    assert {match["how"] for match in matches} == {"serial"}
    assert all(match["settled"] for match in matches)


def test_a_serial_is_not_given_to_two(bench):
    matches = bench.get("controller/live")["matched"]["matches"]
    same = {"serial": matches[0]["serial"], "mac": ""}
    units = [{"element_id": match["element_id"], **same} for match in matches[:2]]
    found = bench.post("controller/units", {"units": units})
    assert found["status"] == 422
    assert "already" in found["detail"]


def test_a_unit_blinks_where_it_is_asked_to(bench):
    serial = bench.get("controller/live")["matched"]["matches"][0]["serial"]
    bench.post("controller/blink", {"serial": serial, "on": True})
    units = {unit["serial"]: unit["blinks"] for unit in bench.get("controller/live")["live"]["units"]}
    assert [s for s, blinks in units.items() if blinks] == [serial]


def test_people_walk_on_the_points_once_names_are_on_the_air(bench):
    assert all(not person["serial"] for person in bench.get("controller/people")["people"])
    bench.brought_on()
    bench.wait(60)
    people = bench.get("controller/people")["people"]
    assert sum(bool(person["serial"]) for person in people) > len(people) / 2
    assert any(line["words"] == "It is taken over." for line in bench.get("controller/log")["lines"])


def test_a_push_goes_back_to_what_was_before(bench):
    bench.brought_on()
    job = bench.client.get(bench.at).get_json()
    main = next(e for e in job["elements"] if e["kind"] == "network" and e["purpose"] == "main")
    bench.edit([{"op": "put", "element": main | {"lease_h": 1.0}}])
    push = bench.brought_on()
    back = bench.post(f"controller/pushes/{push['id']}/back")
    assert back["state"] == "undone"
    (left,) = bench.get("controller/live")["compared"]["differences"]
    assert left["fields"] == [{"field": "lease_h", "label": "lease, h", "planned": "1", "found": "24"}]
    assert not back["can_go_back"]


def test_a_passphrase_changed_here_is_seen_to_differ_and_sent(bench):
    bench.brought_on()
    name = next(one for one in bench.get("network/passphrases")["passphrases"] if one["needed"])
    bench.post(f"network/passphrases/{name['ssid_id']}", {}, "put")
    live = bench.get("controller/live")
    (only,) = live["compared"]["differences"]
    assert (only["key"], only["fields"][0]["field"]) == (f"name:{name['label']}", "passphrase")
    assert [step["kind"] for step in live["steps"]["steps"]] == ["backup", "name", "verify"]
    bench.brought_on()
    assert bench.get("controller/live")["compared"]["as_planned"]


def test_two_called_alike_are_sent_nothing_until_they_are_named_apart(bench):
    job = bench.client.get(bench.at).get_json()
    yard = next(e for e in job["elements"] if e["label"] == "Yard" and e["kind"] == "access-point")
    bench.edit([{"op": "put", "element": yard | {"label": "Kennels"}}])
    assert bench.get("controller/live")["steps"]["steps"] == []
    found = bench.post("controller/pushes")
    assert found["status"] == 422
    assert "2 devices are called Kennels" in found["detail"]
    assert bench.get("controller/pushes/last")["push"] is None


def test_a_controller_of_somebodys_is_not_replaced_by_a_simulated_one(bench):
    body = {"address": "http://192.0.2.10/sites/real", "account": "me", "secret": "kept"}
    bench.post("controller", body, "put")
    assert bench.get("controller")["stand_in"] is False
    assert bench.post("controller/stand-in")["status"] == 422
    assert bench.get("controller")["address"] == body["address"]
