"""What leaves of the runs, read back by readers of others: drawings, workbook, table, papers."""

import csv
import io
import math
from types import SimpleNamespace

import ezdxf
import openpyxl
import pypdfium2
import pytest
from defusedxml.ElementTree import fromstring
from demo.tern_lane import tern_lane
from hypothesis import given, settings
from hypothesis import strategies as st

from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.drilling import drill_list
from heathrise.core.cabling.routes import Leg
from heathrise.core.deriving import Memo
from heathrise.core.job import Point, Storey
from heathrise.exchange.paper.drawn import LAYERS, bundles, leaf
from heathrise.exchange.paper.placing import Box, beside, placed
from heathrise.exchange.paper.sheets import PAPERS, SCALES
from heathrise.exchange.schedule import CUTS, HOLES, SCHEDULE, heading
from heathrise.work.answers import ANSWERS, Answer
from heathrise.work.asking import LabelsAsked, PapersAsked, RunsFileAsked, ScheduleAsked
from tests.house import House


@pytest.fixture(scope="module")
def memo() -> Memo:
    return Memo(tern_lane())


def asked(memo: Memo, name: str, question) -> Answer:
    opened = SimpleNamespace(memo=lambda: SimpleNamespace(look=memo.look, source=memo.source, revision=7))
    return ANSWERS[name].answer(opened, question)


def ground(memo: Memo) -> Storey:
    return memo.source.storeys[0]


def drawing(memo: Memo, ending: str, paper: str = "A3") -> bytes:
    return asked(
        memo, "export.runs", RunsFileAsked(storey_id=ground(memo).id, ending=ending, paper=paper)
    ).body


def test_the_drawing_is_read_back_as_dxf_with_its_layers_and_every_hole(memo):
    document = ezdxf.read(io.StringIO(drawing(memo, "dxf").decode()))
    assert {layer.dxf.name for layer in document.layers} >= set(LAYERS)
    space = document.modelspace()
    holes = drill_list(memo.source, runs(memo.look).plans).holes
    here = [hole for hole in holes if hole.storey_id == ground(memo).id]
    assert len(space.query('CIRCLE[layer=="HR-HOLE"]')) == len(here)
    drawn_m = sum(
        math.dist(a, b)
        for line in space.query('LWPOLYLINE[layer=="HR-RUN" | layer=="HR-RUN-OUTSIDE"]')
        for a, b in zip(line.get_points("xy"), line.get_points("xy")[1:], strict=False)
    )
    # Runs of one bundle are one line: less is drawn than is laid, and not nothing.
    laid_m = sum(
        leg.length_m
        for plan in runs(memo.look).plans
        for leg in plan.legs
        if leg.storey_id == ground(memo).id and leg.a != leg.b
    )
    assert 0.3 * laid_m < drawn_m < laid_m


def test_the_drawing_is_read_back_as_svg(memo):
    root = fromstring(drawing(memo, "svg"))
    groups = {group.get("id"): group for group in root if group.get("id")}
    assert set(groups) == set(LAYERS)
    words = {text.text for text in root.iter() if text.tag.endswith("text")}
    assert "Recital hall" in words
    assert any("R-02" in (text or "") for text in words)


@pytest.mark.parametrize("paper", ["A4", "A3", "A1"])
def test_the_drawing_is_on_paper_at_the_scale_it_says(memo, paper):
    document = pypdfium2.PdfDocument(drawing(memo, "pdf", paper))
    (page,) = document
    wide, tall = (round(size / 72 * 25.4) for size in page.get_size())
    assert (wide, tall) == PAPERS[paper]
    text = page.get_textpage().get_text_range()
    assert "Tern Lane Music School" in text
    assert "Revision 7" in text
    assert "measure on site" in text
    scale = next(s for s in SCALES if f"1:{s}\r" in text or text.endswith(f"1:{s}"))
    longest = max(_lines(page), default=0.0)
    # The hall and the rooms beside it are 40 m from wall to wall; the reader counts the ink of the stroke with it.
    assert longest / 72 * 25.4 == pytest.approx(40_000 / scale + 2 * LAYERS["HR-WALL"].width_mm, abs=0.05)
    document.close()


def _lines(page: pypdfium2.PdfPage) -> list[float]:
    """The widths of the paths on a page that are no frame: nothing as wide as the paper. [pt]"""
    boxes = [path.get_bounds() for path in page.get_objects(filter=[pypdfium2.raw.FPDF_PAGEOBJ_PATH])]
    sizes = [right - left for left, _, right, _ in boxes]
    return [size for size in sizes if size < page.get_width() - 80]


def test_the_set_has_every_storey_then_the_schedule_the_holes_and_the_cuts(memo):
    document = pypdfium2.PdfDocument(asked(memo, "export.papers", PapersAsked(paper="A4")).body)
    pages = [page.get_textpage().get_text_range() for page in document]
    document.close()
    titles = [
        "Runs, Ground",
        "Runs, First",
        "Schedule of runs",
        "What is drilled",
        "What is cut from which box",
    ]
    first = [next(n for n, page in enumerate(pages) if title in page) for title in titles]
    assert first == sorted(first)
    whole = "\n".join(pages)
    for plan in runs(memo.look).plans:
        assert plan.label in whole
    assert all("House practice" in page for page in pages)


def test_the_workbook_is_read_back_with_figures_as_figures(memo):
    book = openpyxl.load_workbook(
        io.BytesIO(asked(memo, "export.schedule", ScheduleAsked(ending="xlsx")).body)
    )
    assert book.sheetnames == ["Runs", "Holes", "Cuts"]
    plans = runs(memo.look).plans
    rows = list(book["Runs"].iter_rows(values_only=True))
    assert rows[0] == SCHEDULE
    assert [row[0] for row in rows[1:]] == [plan.label for plan in plans]
    length = SCHEDULE.index("length_m")
    assert [row[length] for row in rows[1:]] == [round(plan.length_m, 1) for plan in plans]
    assert tuple(cell.value for cell in book["Holes"][1]) == HOLES
    assert tuple(cell.value for cell in book["Cuts"][1]) == CUTS
    assert book["Cuts"].max_row - 1 == len([plan for plan in plans if not plan.existing])


def test_the_table_is_read_back_and_no_label_is_a_formula():
    house = House()
    house.rack()
    house.run(house.point(), "=1+1")
    memo = Memo(house.job)
    text = asked(memo, "export.schedule", ScheduleAsked(ending="csv")).body.decode()
    (row,) = csv.DictReader(io.StringIO(text))
    assert row["run"] == "'=1+1"
    book = openpyxl.load_workbook(
        io.BytesIO(asked(memo, "export.schedule", ScheduleAsked(ending="xlsx")).body)
    )
    assert book["Runs"]["A2"].data_type == "s"


def test_a_job_without_runs_still_has_papers():
    memo = Memo(House().job)
    document = pypdfium2.PdfDocument(asked(memo, "export.papers", PapersAsked()).body)
    assert len(document) == 1
    document.close()


def test_heads_of_columns_carry_their_units():
    assert heading("length_m") == "length, m"
    assert heading("there_already") == "there already"


def leg(a: tuple[float, float], b: tuple[float, float], environment: str = "general") -> Leg:
    ends = [Point(x_m=x, y_m=y) for x, y in (a, b)]
    return Leg(
        storey_id="s",
        a=ends[0],
        b=ends[1],
        z0_m=2,
        z1_m=2,
        length_m=math.dist(a, b),
        temperature_c=20,
        environment=environment,
        what="",
    )


def test_runs_that_lie_together_are_one_stroke_as_far_as_they_do():
    strokes = bundles([leg((0, 0), (10, 0)), leg((4, 0), (10, 0)), leg((10, 0), (4, 0)), leg((4, 0), (4, 3))])
    assert sorted((stroke.points, stroke.many) for stroke in strokes) == [
        (((0.0, 0.0), (4.0, 0.0)), 1),
        (((4.0, 0.0), (4.0, 3.0)), 1),
        (((4.0, 0.0), (10.0, 0.0)), 3),
    ]


SPANS = st.lists(st.tuples(st.integers(0, 20), st.integers(0, 20)), min_size=1, max_size=12)


@given(SPANS)
@settings(max_examples=80)
def test_as_many_metres_are_counted_in_bundles_as_are_laid(spans):
    laid = [leg((a, 1), (b, 1)) for a, b in spans if a != b]
    counted = sum(stroke.many * math.dist(*stroke.points) for stroke in bundles(laid))
    assert counted == pytest.approx(sum(one.length_m for one in laid))


def test_a_door_swings_from_its_leaf_to_its_latch():
    hinge, opened, *_, latch = leaf((2, 0), (3, 0))
    assert hinge == (2, 0)
    assert opened == pytest.approx((2, 1))
    assert latch == pytest.approx((3, 0))


def test_words_take_the_first_place_that_is_free():
    sign = Box(-1, -1, 2, 2)
    right, left, above = beside(0, 0, 10, 4, 2)[:3]
    assert placed([(right, left)], [sign]) == [right]
    assert placed([(right, left), (right, left, above)], [sign]) == [right, left]


def test_the_list_from_old_labels_to_new_is_read_back(memo):
    kept = SimpleNamespace(newest=lambda: SimpleNamespace(job=memo.source, revision=7))
    body = ANSWERS["export.labels"].answer(kept, LabelsAsked(scheme="panel-and-place")).body
    rows = list(csv.DictReader(io.StringIO(body.decode())))
    assert [row["now"] for row in rows] == [plan.label for plan in runs(memo.look).plans]
    assert len({row["then"] for row in rows}) == len(rows)
