"""The cut list: nothing spliced, nothing lost, never more boxes than first fit, and none under its bound."""

import math
import random

import pytest
from demo.fern_hollow import fern_hollow
from demo.tern_lane import tern_lane
from demo.withy_mill import withy_mill
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.cutting import (
    Cut,
    boxes_needed,
    cut_list,
    cut_lists,
    cuts_by_cable,
    filled,
    first_fit,
)
from heathrise.core.findings import assess
from heathrise.core.library import library

CABLE = "cat6a-indoor"
BOX_M = library().cables[CABLE].box_m
LENGTHS = st.lists(st.integers(10, 3050).map(lambda n: n / 10), min_size=1, max_size=24)


def cuts_of(lengths):
    cuts = [Cut(run_id=str(n), label=f"R-{n:02d}", length_m=length) for n, length in enumerate(lengths)]
    return sorted(cuts, key=lambda cut: (-cut.length_m, cut.label))


@given(LENGTHS)
@settings(max_examples=40, deadline=None)
def test_every_run_is_cut_once_from_a_box_that_holds_it_and_no_list_is_under_the_bound(lengths):
    cuts = cuts_of(lengths)
    found = cut_list(CABLE, cuts)
    assert sorted(cut.run_id for box in found.boxes for cut in box.cuts) == sorted(c.run_id for c in cuts)
    for box in found.boxes:
        used = sum(cut.length_m for cut in box.cuts)
        assert used <= box.box_m + 0.01
        assert box.left_m == pytest.approx(box.box_m - used, abs=0.06)
    assert math.ceil(sum(lengths) / BOX_M - 1e-9) <= found.bound <= len(found.boxes) <= found.first_fit
    assert found.proven == (len(found.boxes) == found.bound)


@given(LENGTHS)
@settings(max_examples=25, deadline=None)
def test_a_run_less_never_takes_more_boxes_than_are_proven_to_be_needed(lengths):
    every, fewer = cut_list(CABLE, cuts_of(lengths)), cut_list(CABLE, cuts_of(lengths)[1:])
    if fewer.proven:
        assert len(fewer.boxes) <= len(every.boxes)


def test_the_solver_finds_what_first_fit_misses():
    # Two boxes of 305 m hold these exactly; the longest first leaves the last over.
    lengths = [155, 110, 100, 95, 80, 70]
    assert sum(lengths) == 2 * BOX_M
    cuts = cuts_of(lengths)
    found = cut_list(CABLE, cuts)
    assert (len(first_fit(cuts, BOX_M)), found.first_fit) == (3, 3)
    assert (len(found.boxes), found.bound, found.proven) == (2, 2, True)


@given(LENGTHS)
@settings(max_examples=40, deadline=None)
def test_filling_boxes_round_the_longest_loses_nothing_and_overfills_none(lengths):
    boxes = filled(cuts_of(lengths), BOX_M)
    assert sorted(cut.run_id for box in boxes for cut in box) == sorted(c.run_id for c in cuts_of(lengths))
    assert all(sum(cut.length_m for cut in box) <= BOX_M + 1e-6 for box in boxes)
    assert math.ceil(sum(lengths) / BOX_M - 1e-9) <= len(boxes)


@pytest.mark.parametrize("draw", range(6))
def test_three_hundred_runs_are_cut_from_no_more_boxes_than_the_bound(draw):
    some = random.Random(draw)
    found = cut_list(CABLE, cuts_of([round(some.uniform(12, 88), 1) for _ in range(300)]))
    assert found.proven
    assert len(found.boxes) == found.bound


def test_what_no_box_holds_is_named_and_still_counted():
    cuts = cuts_of([400, 50])
    found = cut_list(CABLE, cuts)
    assert [cut.length_m for cut in found.too_long] == [400]
    assert len(found.boxes) == 1
    assert boxes_needed(library().cables[CABLE], cuts) == 3


def test_what_is_cut_to_length_is_bought_piece_by_piece():
    found = cut_list("fibre-os2", cuts_of([96.4, 12]))
    assert [(box.box_m, len(box.cuts)) for box in found.boxes] == [(100, 1), (20, 1)]
    assert boxes_needed(library().cables["fibre-os2"], cuts_of([96.4, 12])) == 12


@pytest.mark.parametrize("build", [tern_lane, withy_mill, fern_hollow])
def test_the_kit_of_a_demo_job_orders_what_the_list_cuts(build):
    found = assess(build())
    lists = {cable.cable: cable for cable in cut_lists(found.runs).cables}
    new = [plan for plan in found.runs if not plan.existing]
    assert sum(len(box.cuts) for c in lists.values() for box in c.boxes) == len(new)
    for line in found.kit:
        if line.item in lists:
            assert line.order == lists[line.item].first_fit >= len(lists[line.item].boxes)
    longest = max(cut.length_m for cuts in cuts_by_cable(new).values() for cut in cuts)
    assert longest >= max(plan.length_m for plan in new) + 1
