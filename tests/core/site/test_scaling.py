"""What tells a scale: lengths in rows, treads, and what weighs more."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.site.chains import lengths_in_rows
from heathrise.core.site.drawing import Drawing, Words
from heathrise.core.site.scaling import scale_of
from heathrise.core.site.treads import goings


def row(lengths, per_unit, y=0.0, shown=str, start=0.0):
    """Lengths in millimetres, each in the middle of its stretch."""
    ends = start + np.cumsum([0, *lengths]) / 1000 / per_unit
    return [
        Words((a + b) / 2, y, 0.2 / per_unit, shown(n))
        for a, b, n in zip(ends[:-1], ends[1:], lengths, strict=True)
    ]


@pytest.mark.parametrize("per_unit", [0.02, 0.0254, 1.0])
def test_lengths_in_a_row_tell_the_scale_by_how_far_apart_they_stand(per_unit):
    clues = lengths_in_rows(row([4200, 3100, 5400], per_unit))
    assert clues[0].per_unit == pytest.approx(per_unit)
    assert "in a row" in clues[0].says


def test_a_length_that_was_not_read_is_made_up_for_by_the_whole():
    whole = Words(sum((4200, 3100, 5400)) / 2 / 1000 / 0.02, 30.0, 10.0, "12700")
    first, second, _ = row([4200, 3100, 5400], 0.02)
    assert lengths_in_rows([first, second, whole])[0].per_unit == pytest.approx(0.02)
    assert not lengths_in_rows([first, second])


def test_a_column_of_lengths_is_a_row_too():
    turned = [Words(w.y, w.x, w.height, w.words) for w in row([4200, 3100, 5400], 0.02)]
    assert lengths_in_rows(turned)[0].per_unit == pytest.approx(0.02)


def test_numbers_of_rooms_in_a_row_are_no_lengths():
    assert not lengths_in_rows([Words(100.0 * n, 0.0, 10.0, str(100 + n)) for n in range(1, 5)])


def test_lengths_that_do_not_agree_tell_nothing():
    said = [Words(x, 0.0, 10.0, w) for x, w in ((0.0, "4200"), (150.0, "3100"), (700.0, "5400"))]
    assert not lengths_in_rows(said)


@given(
    st.lists(st.integers(2000, 9000), min_size=3, max_size=6),
    st.floats(0.001, 2.0),
    st.floats(-500, 500),
)
def test_any_row_says_the_scale_it_was_drawn_at(lengths, per_unit, start):
    clues = lengths_in_rows(row(lengths, per_unit, start=start))
    if max(lengths) >= 1.05 * min(lengths):
        assert any(c.per_unit == pytest.approx(per_unit) for c in clues)
    else:
        assert not clues


def flight(deep, wide, count, x=0.0, turn_deg=0.0):
    at = np.array([[x + n * deep, 0.0, x + n * deep, wide] for n in range(count)])
    c, s = np.cos(np.radians(turn_deg)), np.sin(np.radians(turn_deg))
    return (at.reshape(-1, 2) @ np.array([[c, s], [-s, c]])).reshape(-1, 4)


@pytest.mark.parametrize("turn_deg", [0, 90, 33])
def test_a_flight_of_treads_is_found_whichever_way_it_runs(turn_deg):
    walls = np.array([[0, -5, 100, -5], [0, 50, 100, 50.0]])
    assert goings(np.vstack([flight(2.8, 11, 10, 5.0, turn_deg), walls])) == pytest.approx([2.8])


@pytest.mark.parametrize(
    ("deep", "wide", "count"),
    [(2.8, 11, 5), (2.8, 11, 40), (1, 30, 12), (10, 11, 10)],
    ids=["too few", "paving", "hatching", "squares"],
)
def test_rows_of_lines_that_are_no_flight_are_none(deep, wide, count):
    assert not len(goings(flight(deep, wide, count)))


def test_treads_tell_units_that_size_alone_does_not():
    drawing = Drawing()
    for x1, y1, x2, y2 in [(0, 0, 40000, 0), (40000, 0, 40000, 30000), *flight(280, 1100, 12, 900)]:
        drawing.line("0", x1, y1, x2, y2)
    scale = scale_of(drawing)
    assert scale.per_unit == 0.001
    assert not scale.known
    assert [e.says for e in scale.evidence] == ["1 flight of treads 0.28 m deep"]
    # Drawn ten times as large, they are treads of another unit.
    larger = Drawing()
    for line in drawing.lines:
        larger.line("0", *(n / 10 for n in line))
    assert scale_of(larger).per_unit == 0.01


def test_without_units_or_doors_a_page_is_as_large_as_its_treads_say():
    drawing = Drawing(unit="pixels")
    for line in [(0, 0, 900, 0), (900, 0, 900, 700), *flight(14, 50, 9, 30)]:
        drawing.line("0", *line)
    assert scale_of(drawing, paper=True).per_unit == pytest.approx(0.28 / 14)
