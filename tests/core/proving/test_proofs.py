"""What records prove of a job: which test counts, what a port and a point are held against, how faults and tasks stand."""

from datetime import timedelta

import pytest

from heathrise.core.deriving import Memo
from heathrise.core.edit import apply
from heathrise.core.findings.ready import proven
from heathrise.core.findings.slices import SLICES
from heathrise.core.job import AccessPoint, Job
from heathrise.core.job.view import changed_keys
from heathrise.core.proving.derived import done, faults, proofs, proposals, run_proof
from heathrise.core.proving.ports import port_subject
from tests.core.findings.test_rules import sound
from tests.house import by_label, changed, look_at
from tests.site import MORNING, a_test_of, noted, record, run_id, seen


def proof(job: Job, label: str = "R-01"):
    return run_proof(look_at(job), run_id(job, label))


def test_no_record_no_proof():
    assert proof(sound().job).state == "none"


@pytest.mark.parametrize(
    ("made", "state"),
    [
        ({}, "pass"),
        ({"verdict": "fail"}, "fail"),
        ({"configuration": "channel"}, "other"),
        ({"cls": "E"}, "other"),
        ({"cls": ""}, "pass"),
    ],
)
def test_a_test_of_something_else_does_not_count(made, state):
    job = sound().job
    assert proof(noted(job, a_test_of(run_id(job), **made))).state == state


def test_the_newest_test_that_counts_is_taken_whichever_came_in_first():
    job = sound().job
    failed = a_test_of(run_id(job), verdict="fail", said_at=MORNING)
    mended = a_test_of(run_id(job), said_at=MORNING + timedelta(hours=2))
    channel = a_test_of(run_id(job), configuration="channel", said_at=MORNING + timedelta(hours=3))
    found = proof(noted(job, mended, channel, failed))
    assert (found.state, found.tests, found.test_id) == ("pass", 3, mended.id)


def test_a_plug_at_the_device_is_tested_as_a_modular_plug_link():
    job = changed(sound().job, "House practice", device_end="plug")
    assert proof(job).configuration == "modular-plug link"
    assert proof(noted(job, a_test_of(run_id(job)))).state == "other"
    assert proof(noted(job, a_test_of(run_id(job), configuration="modular-plug link"))).state == "pass"


def test_lengths_that_do_not_agree_are_said_and_all_are_kept():
    job = sound().job
    lengths = [
        record(run_id(job), "length", number=number, by=by) for number, by in ((12, "Ana"), (19, "Ben"))
    ]
    found = proof(noted(job, *lengths))
    assert (found.measured_m, found.apart) == (19, True)


def test_a_port_is_held_against_speed_watts_and_network():
    job = sound().job
    subject = port_subject(by_label(job, "SW1").id, "1")
    states = []
    for body in ({"mbps": 2500, "watts": 9.0}, {"mbps": 100}, {"mbps": 0}, {"mbps": 2500, "watts": 25.0}):
        port = next(
            one
            for one in proofs(look_at(noted(job, seen(subject, "port", **body)))).ports
            if one.subject == subject
        )
        states.append(port.state)
    assert states == ["holds", "differs", "differs", "differs"]


def test_an_access_point_is_held_against_its_serial_and_its_radios():
    job = changed(sound().job, "AP west", serial="SN-1")
    point = job.get(AccessPoint, by_label(job, "AP west").id)
    channel = next(c for c in proofs(look_at(job)).points[0].checks if c.code == "channel")
    right = {"band": "5", "channel": int(channel.planned), "power_dbm": 17}
    for body, state in (
        ({"serial": "sn-1", "radios": [right]}, "holds"),
        ({"serial": "SN-2", "radios": [right]}, "differs"),
        ({"serial": "SN-1", "radios": [{**right, "power_dbm": 20}]}, "differs"),
        ({"serial": "SN-1"}, "part"),
    ):
        found = proofs(look_at(noted(job, seen(point.id, "point", **body)))).points
        assert next(one for one in found if one.point_id == point.id).state == state


def test_two_who_tick_the_same_offline_are_both_named_and_open_again_opens_it():
    job = sound().job
    task = f"pull:{run_id(job)}"
    both = [record(run_id(job), "done", task=task, by=by) for by in ("Ana", "Ben")]
    assert done(look_at(noted(job, *both)))[task].by == ("Ana", "Ben")
    again = record(run_id(job), "undone", task=task)
    assert not done(look_at(noted(job, *both, again)))[task].done


def test_a_fault_stands_as_it_was_last_said_and_keeps_its_turns():
    job = sound().job
    fault = record(run_id(job), text="Jack cracked", measured={"measured": "fault", "owner": "Ben"})
    turns = [
        record(run_id(job), about=fault.id, text=text, measured={"measured": "turn", "state": state})
        for state, text in (("mended", "new jack"), ("open", "cracked again"), ("accepted", "client knows"))
    ]
    states = []
    for n in range(4):
        (shown,) = faults(look_at(noted(job, fault, *turns[:n])))
        states.append((shown.state, shown.is_open))
    assert states == [("open", True), ("mended", True), ("open", True), ("accepted", False)]
    assert [step.text for step in shown.steps] == ["new jack", "cracked again", "client knows"]
    assert (shown.owner, shown.reason) == ("Ben", "client knows")


def test_what_was_found_otherwise_becomes_an_edit_and_is_settled_once():
    job = sound().job
    point = by_label(job, "AP west")
    found = seen(point.id, "otherwise", field="height_m", value="2,45", shown="2.6")
    (shown,) = proposals(look_at(noted(job, found)))
    assert (shown.drawn, shown.found, shown.problem) == ("2.6", "2,45", "")
    assert apply(job, shown.operations).job.get(AccessPoint, point.id).height_m == 2.45
    settled = record(point.id, about=found.id, measured={"measured": "settled", "taken": True})
    assert proposals(look_at(noted(job, found, settled))) == ()


@pytest.mark.parametrize(
    ("field", "value", "says"),
    [
        ("height_m", "very high", "cannot be taken as typed"),
        ("height_m", "999", "cannot be taken as typed"),
        ("colour", "red", "no such field"),
    ],
)
def test_what_cannot_be_taken_says_why(field, value, says):
    job = sound().job
    found = seen(by_label(job, "AP west").id, "otherwise", field=field, value=value)
    (shown,) = proposals(look_at(noted(job, found)))
    assert says in shown.problem
    assert shown.operations == ()


def test_what_was_written_down_outlives_what_it_is_about():
    job = sound().job
    gone = "01890000-0000-7000-8000-0000000000ff"
    written = [a_test_of(gone), seen(gone, "otherwise", field="label", value="x"), seen(gone, "fault")]
    look = look_at(noted(job, *written))
    assert "no more" in proposals(look)[0].problem
    assert faults(look)[0].label == "what is no more on the drawing"


def test_a_tick_makes_stale_what_it_is_about_and_no_other_run():
    job = sound().job
    memo = Memo(job)
    proven(memo.look)
    after = noted(job, record(run_id(job), "done", task=f"terminate-rack:{run_id(job)}"))
    memo.advance(after, 1, changed_keys(job, after, SLICES))
    memo.worked.clear()
    proven(memo.look)
    assert memo.worked["proving.run_proof"] == 1
    assert not any(name.startswith(("radio", "cabling", "switching")) for name in memo.worked)


def test_a_job_is_ready_when_all_is_proven_and_nothing_is_open():
    job = sound().job
    ready = proven(look_at(job)).ready
    assert not ready.holds
    runs = [a_test_of(run_id(job, label)) for label in ("R-01", "R-02")]
    ports = [seen(port.subject, "port", mbps=10_000, watts=5.0) for port in proofs(look_at(job)).ports]
    gates = {gate.code: gate.holds for gate in proven(look_at(noted(job, *runs, *ports))).ready.gates}
    assert gates["runs"]
    assert gates["ports"]
    assert not gates["points"]
