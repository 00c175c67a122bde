"""The profile of a path from text: typed, out of tables of several kinds, and what is no path."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.job import PathPoint
from heathrise.exchange.pathprofile import read_profile
from heathrise.exchange.unreadable import Unreadable


@pytest.mark.parametrize(
    "text",
    [
        "0,12,0\n400,15.5,8\n900,14,0\n",
        "distance_m,ground_m,obstacle_m\n0,12,0\n400,15.5,8\n900,14,0",
        "0;12;0\r\n400;15,5;8\r\n900;14;0\r\n",
        "Distance\tGround\tTrees\n0\t12\t\n400\t15.5\t8\n\n900\t14\t",
    ],
)
def test_the_same_path_is_read_from_every_table(text):
    assert [(p.distance_m, p.ground_m, p.obstacle_m) for p in read_profile(text)] == [
        (0, 12, 0),
        (400, 15.5, 8),
        (900, 14, 0),
    ]


def test_no_text_is_no_profile():
    assert read_profile(" \n ") == ()


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("0,1\n900,1\n400,1", "out of order: 400 m stands after 900 m"),
        ("10,1\n400,1", "begins at 10 m"),
        ("0,1", "two ends"),
        ("0,1\nhill,2", "Line 2, “hill 2”"),
        ("0,1\n40,2,-3", "Line 2"),
        ("0,1,2,3\n4,5,6,7", "Line 1"),
        ("nothing here", "No line of it is a place"),
    ],
)
def test_what_is_no_path_says_which_line_and_what_to_do(text, says):
    with pytest.raises(Unreadable, match=r"in metres|in order") as refused:
        read_profile(text)
    assert says in str(refused.value)


@given(st.text(max_size=200))
def test_any_text_is_read_or_refused(text):
    try:
        found = read_profile(text)
    except Unreadable:
        return
    assert all(isinstance(place, PathPoint) for place in found)
