"""A test held against the lines of its class: published figures, what is not judged, how a fault is named."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.cabling.testlimits import (
    insertion_loss_limit_db,
    limit_at,
    next_limit_db,
    return_loss_limit_db,
)
from heathrise.core.job import CableTest
from heathrise.core.library import library
from heathrise.core.proving.symptoms import WHEN
from heathrise.core.proving.testing import curves_of, judge


@pytest.mark.parametrize(
    ("line", "cls", "f_mhz", "configuration", "db"),
    [
        # ISO/IEC 11801-1 and ANSI/TIA-568.2, as printed there.
        (insertion_loss_limit_db, "D", 100, "permanent link", 20.4),
        (insertion_loss_limit_db, "E", 100, "permanent link", 18.5),
        (insertion_loss_limit_db, "E", 250, "permanent link", 30.7),
        (insertion_loss_limit_db, "EA", 100, "permanent link", 17.8),
        (next_limit_db, "D", 100, "permanent link", 32.3),
        (next_limit_db, "E", 100, "permanent link", 41.8),
        (next_limit_db, "E", 250, "permanent link", 35.3),
        (next_limit_db, "D", 16, "channel", 43.6),
        (next_limit_db, "EA", 330, "channel", 31.0),
        (next_limit_db, "EA", 500, "permanent link", 28.0),
        (return_loss_limit_db, "D", 100, "channel", 10.0),
        (return_loss_limit_db, "D", 100, "permanent link", 12.0),
        (return_loss_limit_db, "E", 100, "permanent link", 14.0),
        (return_loss_limit_db, "E", 250, "channel", 8.0),
        (return_loss_limit_db, "EA", 500, "channel", 6.0),
        (return_loss_limit_db, "EA", 500, "permanent link", 8.0),
    ],
)
def test_lines_are_as_printed(line, cls, f_mhz, configuration, db):
    assert line(cls, f_mhz, configuration) == pytest.approx(db, abs=0.06)


@pytest.mark.parametrize("cls", ["D", "E", "EA"])
@pytest.mark.parametrize("quantity", ["insertion-loss", "next", "return-loss"])
def test_a_link_is_held_harder_than_the_channel_round_it(cls, quantity):
    for f_mhz in (1, 8, 31, 62.5, 100):
        link, channel = (limit_at(quantity, cls, conf, f_mhz) for conf in ("permanent link", "channel"))
        assert link <= channel if quantity == "insertion-loss" else link >= channel


def test_what_has_no_line_has_no_limit():
    assert limit_at("next", "D", "channel", 101) is None
    assert limit_at("next", "F", "channel", 50) is None
    assert limit_at("insertion-loss", "E", "fibre link", 50) is None
    assert limit_at("length", "E", "channel", None) is None


def a_test(*readings, cls="E", configuration="permanent link", **more):
    rows = [
        {"quantity": quantity, "pair": pair, "f_mhz": f_mhz, "value": value}
        for quantity, pair, f_mhz, value in readings
    ]
    return CableTest(configuration=configuration, test_class=cls, readings=rows, **more)


@pytest.mark.parametrize(
    ("margin_db", "verdict"),
    [(5.0, "pass"), (1.0, "pass"), (0.99, "marginal"), (0.0, "marginal"), (-0.01, "fail")],
)
def test_a_pass_within_one_decibel_is_called_out(margin_db, verdict):
    most = insertion_loss_limit_db("E", 100, "permanent link")
    judged = judge(a_test(("insertion-loss", "12", 100, most - margin_db)), "B")
    assert (judged.verdict, judged.sum.value) == (verdict, pytest.approx(margin_db, abs=0.01))


@pytest.mark.parametrize(
    ("reading", "holds"),
    [
        (("delay", "12", None, 498), True),
        (("delay", "12", None, 499), False),
        (("skew", "", None, 44), True),
        (("skew", "", None, 45), False),
        (("loop", "36", None, 21), True),
        (("loop", "36", None, 21.1), False),
        (("unbalance", "45", None, 3), True),
        (("unbalance", "45", None, 3.1), False),
        (("unbalance-ohm", "45", None, 0.21), False),
        (("length", "12", None, 99), True),
        (("other", "12", 100, -40), True),
    ],
)
def test_what_has_no_frequency_is_held_too(reading, holds):
    assert (judge(a_test(reading), "B").verdict == "pass") is holds


def test_a_pair_is_even_by_the_one_measure_or_the_other():
    uneven_in_percent = a_test(("unbalance", "12", None, 4.0), ("unbalance-ohm", "12", None, 0.15))
    assert judge(uneven_in_percent, "B").verdict == "pass"


def test_a_short_link_is_not_judged_by_its_echo():
    """Where a pair loses under 3 dB return loss says nothing of it, where it loses under 4 dB crosstalk neither."""
    short = [("insertion-loss", "12", 20, 2.9), ("return-loss", "12", 20, 3.0), ("next", "12-36", 20, 10.0)]
    assert judge(a_test(*short), "B").verdict == "pass"
    longer = [("insertion-loss", "12", 20, 3.1), ("return-loss", "12", 20, 3.0)]
    assert judge(a_test(*longer), "B").verdict == "fail"


def test_a_curve_is_judged_where_it_is_worst():
    f_mhz = [1.0, 10.0, 100.0, 250.0]
    lost = [insertion_loss_limit_db("E", f, "permanent link") - 2 for f in f_mhz]
    lost[2] += 2.5
    test = CableTest(
        configuration="permanent link",
        test_class="E",
        curves=[{"quantity": "insertion-loss", "pair": "45", "f_mhz": f_mhz, "value": lost}],
    )
    judged = judge(test, "B")
    assert (judged.verdict, judged.worst.f_mhz, judged.worst.margin) == ("fail", 100.0, pytest.approx(-0.5))
    (curve,) = curves_of(test)
    assert not curve.holds
    assert curve.limit_db[0] == 4.0


def test_the_testers_own_fail_stands_and_a_pass_of_its_own_mends_nothing():
    assert judge(a_test(verdict="fail"), "B").verdict == "fail"
    over = insertion_loss_limit_db("E", 100, "permanent link") + 1
    judged = judge(a_test(("insertion-loss", "12", 100, over), verdict="pass"), "B")
    assert judged.verdict == "fail"
    assert "past the limit" in judged.why


def test_a_verdict_without_readings_is_said_to_be_one():
    judged = judge(a_test(verdict="pass"), "B")
    assert (judged.verdict, judged.by_word) == ("pass", True)


@pytest.mark.parametrize(
    ("test", "code", "says"),
    [
        (a_test(wire_map="x2345678"), "open", "pair 1-2 is dead"),
        (a_test(wire_map="1234567x"), "open", "pair 7-8"),
        (a_test(wire_map="ss345678"), "short", "Wires 1, 2 touch"),
        (a_test(wire_map="21345678"), "reversed", "pair 1-2"),
        (a_test(wire_map="36145278"), "one-end-a-other-b", "T568A"),
        (a_test(wire_map="12354678"), "reversed", "pair 4-5"),
        (a_test(wire_map="78345612"), "crossed", "airs 1-2 and 7-8"),
        (a_test(wire_map="13245678"), "wrong-order", "Wires 2, 3"),
        (a_test(wire_map="12345678", split=True), "split", "taken for one pair"),
        (a_test(("next", "12-36", 100, 20.0)), "split", "talk to each other"),
        (a_test(("next", "12-36", 100, 40.0)), "untwisted", "twist undone"),
        (a_test(("return-loss", "12", 100, 9.0)), "kinked", "Signal comes back"),
        (a_test(("delay", "12", None, 560)), "too-long", "longer than drawn"),
        (a_test(("loop", "12", None, 40)), "resistance", "poor contact"),
    ],
)
def test_a_fault_is_named_from_its_symptom(test, code, says):
    judged = judge(test, "B")
    assert judged.verdict == "fail"
    assert judged.fault.code == code
    assert says in judged.fault.text


def test_every_symptom_is_known_and_each_is_used():
    assert {row.when for row in library().wire_faults.values()} == set(WHEN)


@given(st.permutations("12345678"))
def test_every_wrong_wire_map_has_a_name(wires):
    test = a_test(wire_map="".join(wires))
    judged = judge(test, "A")
    assert (judged.verdict == "pass") == (test.wire_map == "12345678")
    assert (judged.fault is None) == (judged.verdict == "pass")


@given(st.floats(0, 60), st.floats(1, 250), st.floats(0.01, 20))
def test_losing_more_never_helps(lost, f_mhz, more):
    margins = [
        judge(a_test(("insertion-loss", "12", f_mhz, value)), "B").worst.margin
        for value in (lost, lost + more)
    ]
    assert margins[1] <= margins[0]
