"""What ink on paper is told apart into: doors of every kind, faces, faint lines, words."""

import cv2
import numpy as np
import pytest
from benchmarks.hands.scores import read
from benchmarks.hands.strokes import Habit, strokes
from benchmarks.hands.truth import corridor, scored
from benchmarks.hands.tuned import Sent
from benchmarks.hands.writers import picture

from heathrise.core.site.drawing import Words
from heathrise.core.site.tracing import Traced
from heathrise.exchange.inkopenings import opened, slides, swings
from heathrise.exchange.lettering import read_letters, with_areas
from heathrise.exchange.paperink import evened, ink_of

NAMES = ("Corridor", "Office", "Meeting", "Store", "Kitchen", "Laboratory")
CELL_M = 0.02


def px(*metres: float) -> list[int]:
    return [round(m / CELL_M) for m in metres]


def sheet() -> np.ndarray:
    """Paper with a level wall 0.2 m thick from x 1 to 7 at y 4, with a gap from 3 to 3.9."""
    paper = np.zeros((400, 400), np.uint8)
    paper[slice(*px(3.9, 4.1)), slice(*px(1, 7))] = 255
    paper[slice(*px(3.8, 4.2)), slice(*px(3, 3.9))] = 0
    return paper


WALL = Traced((1, 4, 7, 4), 0.2, gaps_m=((2.0, 2.9),))


def swing(paper, hinge_x, towards, r=0.9, turn=90, width=1):
    x, y = px(hinge_x, 4)
    start = 0 if towards > 0 else 180
    way = -turn if towards > 0 else turn
    cv2.ellipse(paper, (x, y), (px(r)[0],) * 2, 0, start, start + way, 255, width)
    tip = np.radians(start + way)
    end = (round(x + r / CELL_M * np.cos(tip)), round(y + r / CELL_M * np.sin(tip)))
    cv2.line(paper, (x, y), end, 255, width)
    return paper


class TestSwings:
    @pytest.mark.parametrize(("hinge_x", "towards"), [(3.0, 1), (3.9, -1)], ids=["left", "right"])
    @pytest.mark.parametrize("width", [1, 3])
    def test_a_leaf_at_either_side_of_a_gap(self, hinge_x, towards, width):
        (arc,) = swings(swing(sheet(), hinge_x, towards, width=width), [WALL], CELL_M)
        assert arc.x == pytest.approx(hinge_x, abs=0.1)
        assert arc.r == pytest.approx(0.9, abs=0.12)

    def test_two_leaves_are_two_arcs(self):
        paper = swing(swing(sheet(), 3.0, 1, 0.45), 3.9, -1, 0.45)
        arcs = swings(paper, [WALL], CELL_M)
        assert sorted(round(a.x) for a in arcs) == [3, 4]
        assert all(a.r == pytest.approx(0.45, abs=0.08) for a in arcs)

    def test_a_leaf_drawn_half_open(self):
        (arc,) = swings(swing(sheet(), 3.0, 1, turn=45), [WALL], CELL_M)
        assert abs(arc.turn) == pytest.approx(np.pi / 4)

    def test_a_gap_with_nothing_in_it_has_none(self):
        assert not swings(sheet(), [WALL], CELL_M)

    @pytest.mark.parametrize("gap", [(2.0, 2.0), (2.0, 2.1)])
    def test_a_gap_narrower_than_any_leaf_has_none(self, gap):
        assert not swings(sheet(), [Traced((1, 4, 7, 4), 0.2, gaps_m=(gap,))], CELL_M)

    def test_half_an_arc_without_its_leaf_is_none(self):
        paper = sheet()
        cv2.ellipse(paper, tuple(px(3, 4)), (45, 45), 0, 0, -40, 255, 1)
        assert not swings(paper, [WALL], CELL_M)


class TestStretches:
    def test_a_filled_wall_that_is_empty_for_a_doors_width_has_a_gap_there(self):
        found = opened(sheet(), Traced((1, 4, 7, 4), 0.2), CELL_M)
        ((low, high),) = found.gaps_m
        assert (low, high) == (pytest.approx(2.0, abs=0.05), pytest.approx(2.9, abs=0.05))
        assert not found.panes_m

    def test_a_gap_that_is_known_is_not_found_twice(self):
        assert opened(sheet(), WALL, CELL_M).gaps_m == WALL.gaps_m

    def test_lines_in_a_filled_wall_are_a_pane(self):
        paper = sheet()
        paper[200, slice(*px(3, 3.9))] = 255
        found = opened(paper, Traced((1, 4, 7, 4), 0.2), CELL_M)
        assert not found.gaps_m
        assert found.panes_m == ((pytest.approx(2.0, abs=0.05), pytest.approx(2.9, abs=0.05)),)

    def test_a_line_all_along_between_two_faces_is_no_pane(self):
        paper = np.zeros((400, 400), np.uint8)
        for y in (3.85, 4.0, 4.15):
            paper[px(y)[0], slice(*px(1, 7))] = 255
        assert not opened(paper, Traced((1, 4, 7, 4), 0.3), CELL_M).panes_m

    @pytest.mark.parametrize("side", [-1, 1])
    def test_a_leaf_that_slides_beside_a_gap_gives_both_its_faces(self, side):
        paper = sheet()
        paper[px(4 + side * 0.14)[0], slice(*px(2.95, 3.95))] = 255
        found = slides(paper, [WALL], CELL_M)
        assert len(found) == 2
        assert np.allclose(np.sign(found[:, 1] - 4), side)

    def test_nothing_slides_where_the_gap_is_crossed(self):
        paper = sheet()
        paper[px(4.14)[0], slice(*px(2.95, 3.95))] = 255
        paper[200, slice(*px(3, 3.9))] = 255
        assert not len(slides(paper, [WALL], CELL_M))


class TestPaper:
    def test_a_shadow_is_evened_out(self):
        lit = np.linspace(255, 110, 640)[None, :].repeat(480, 0)
        assert np.ptp(evened(lit.astype(np.uint8))[40:-40, 40:-40]) < 12

    def test_a_line_little_darker_than_paper_is_faint_ink_and_no_more(self):
        rng = np.random.default_rng(5)
        paper = np.clip(210 + rng.normal(0, 6, (400, 400)), 0, 255)
        paper[100:112, 40:360] = 25
        paper[300:302, 40:360] -= 45
        ink = ink_of(paper.astype(np.uint8))
        row = slice(60, 340)
        assert (ink.strong[106, row] > 0).all()
        assert (ink.faint[300, row] > 0).mean() > 0.75
        assert (ink.strong[300, row] > 0).mean() < 0.1
        assert (ink.faint[200:280] > 0).mean() < 0.01


@pytest.mark.parametrize(
    ("styles", "least"),
    [(("double",), 1.0), (("half",), 0.8), (("arc",), 1.0), (("slide",), 0.8), (("swing",), 1.0)],
    ids=lambda v: v[0] if isinstance(v, tuple) else "",
)
def test_doors_of_every_kind_come_in_from_a_small_picture(styles, least):
    plan = corridor(NAMES, 61, styles)
    habit = Habit(walls="filled", measures="m", furniture=False)
    body = picture(strokes(plan, habit), dpi=150, grain=6, blur=0.8, turn=1.1)
    score = scored(read(Sent("", "picture", body, [plan])), [plan])
    assert score.usable("picture")
    assert score.doors >= least, score.told()


def test_a_closer_look_adds_words_and_takes_none_away():
    plan = corridor(NAMES, 62)
    body = picture(strokes(plan, Habit(walls="filled", measures="mm")), dpi=150)
    gray = cv2.imdecode(np.frombuffer(body, np.uint8), cv2.IMREAD_GRAYSCALE)
    first = read_letters(gray)
    assert {"Corridor", "Laboratory"} <= {w.words.split()[-1] for w in first}
    lost = [w for w in first if not w.words[-1].isdigit()]
    again = read_letters(gray, lost)
    assert [w.words for w in again[: len(lost)]] == [w.words for w in lost]
    assert len(again) == len(first)


def test_metres_below_a_name_are_its_area():
    name, below, aside = Words(50, 50, 10, "Office"), Words(52, 68, 9, "13.41m"), Words(300, 68, 9, "4.20m")
    assert [w.words for w in with_areas([name, below, aside])] == ["Office", "13.41 m²", "4.20m"]
