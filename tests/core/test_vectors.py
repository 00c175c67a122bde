"""The worked examples: every given case holds, and a wrong one is caught."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.vectors import TOPICS, agrees, evaluate

CASES = json.loads((Path(__file__).parent / "worked_examples.json").read_text("utf-8"))


@pytest.mark.parametrize("case", CASES, ids=[f"{c['topic']}: {c['name']}" for c in CASES])
def test_a_worked_example_holds(case):
    outcome = evaluate(case)
    assert outcome.holds, outcome


def test_every_topic_has_an_example():
    assert {case["topic"] for case in CASES} == set(TOPICS)


@pytest.mark.parametrize(
    ("expected", "got", "holds"),
    [
        (10.0, 10.009, True),
        (10.0, 10.011, False),
        (0.0006, 0.00055, True),
        (None, None, True),
        (None, 4.0, False),
        (4.0, None, False),
        (True, True, True),
        (True, 1, True),
        (False, True, False),
        ({"a": 1.0}, {"a": 1.0, "b": 2.0}, True),
        ({"a": 1.0, "b": 2.0}, {"a": 1.0}, False),
        ({"a": None}, {"a": None}, True),
    ],
)
def test_agreement(expected, got, holds):
    assert agrees(expected, got) is holds


IMPOSSIBLE = [
    ("poe-feed", {"pse_v": 44, "loop_ohm": 40, "pd_w": 25.5}, None),
    ("dc-feed", {"source_v": 48, "loop_ohm": 60, "load_w": 15}, {"feed": None, "max_w": 9.6}),
    ("cord-budget", {"horizontal_m": 90.5, "derate": 0.2}, None),
    ("insertion-loss-limit", {"cls": "D", "f_mhz": 250}, None),
    ("insertion-loss-limit", {"cls": "F", "f_mhz": 100}, None),
    ("next-limit", {"cls": "F", "f_mhz": 100}, None),
    (
        "poe-cable",
        {"awg": 28, "temperature_c": 20, "length_m": 90, "pairs": 4, "pse_v": 52, "pd_w": 60},
        None,
    ),
]


@pytest.mark.parametrize(("topic", "given_", "expect"), IMPOSSIBLE)
def test_what_cannot_be_has_no_answer(topic, given_, expect):
    assert evaluate({"topic": topic, "name": "impossible", "given": given_, "expect": expect}).holds


@pytest.mark.parametrize(
    ("case", "why"),
    [
        ({"topic": "phase-of-the-moon", "given": {}, "expect": 1}, "unknown topic"),
        ({"topic": "hot-link", "given": {}, "expect": 90}, "cannot read given"),
        (
            {"topic": "hot-link", "given": {"temperature_c": "hot", "screened": False}, "expect": 90},
            "cannot read",
        ),
        ({"topic": "hot-link", "expect": 90}, "cannot read given"),
    ],
)
def test_a_case_that_cannot_be_read_does_not_hold_and_says_why(case, why):
    outcome = evaluate(case)
    assert not outcome.holds
    assert why in outcome.why


@given(st.floats(0.5, 2).filter(lambda f: abs(f - 1) > 0.01))
def test_a_wrong_expectation_never_holds(factor):
    case = next(c for c in CASES if c["topic"] == "path-loss")
    assert not evaluate(case | {"expect": case["expect"] * factor}).holds
