"""A layer of the air on paper: bands, contours and plan, as vectors, at a scale, and as pixels."""

import io

import numpy as np
import pypdfium2 as pdfium
import pytest
from defusedxml.ElementTree import fromstring
from demo.tern_lane import tern_lane
from PIL import Image

from heathrise.core.job import AccessPoint, Wall
from heathrise.core.radio.scene import Grid
from heathrise.exchange.paper.airmap import air_drawn
from heathrise.exchange.paper.pixels import first_page_png
from heathrise.exchange.paper.sheets import Page, titled, write_pdf
from heathrise.exchange.paper.vectors import drawn_svg
from heathrise.exchange.terrain import Terrain, figure

JOB = tern_lane()
GROUND = JOB.storeys[0].id
GRID = Grid(0.0, 0.0, 0.5, 40, 30, 1.0)
SVG = "{http://www.w3.org/2000/svg}"
LEVELS = (-50.0, -47.0, -44.0)
WORDS = "Best signal, weaker way, 5 GHz, dBm"


def cone() -> np.ndarray:
    """A hill with its top in the middle of the grid, 1 dB a metre down."""
    points = GRID.points_m()
    return -40 - np.hypot(points[:, 0] - 10, points[:, 1] - 7.5)


@pytest.fixture
def terrain() -> Terrain:
    return Terrain(GRID, cone(), LEVELS)


@pytest.fixture
def drawn(terrain):
    channels = {point.id: "100" for point in JOB.of(AccessPoint)}
    return air_drawn(JOB, GROUND, terrain, WORDS, channels)


@pytest.fixture
def pdf(drawn) -> bytes:
    return write_pdf([Page(titled(JOB, "Ground: best signal", 7), drawn)], (), "A3", "air")


@pytest.mark.parametrize(("level", "radius_m"), [(-44.0, 4.0), (-47.0, 7.0)])
def test_a_contour_lies_where_the_level_is(terrain, level, radius_m):
    (ring,) = terrain.rings(level)
    assert np.hypot(ring[:, 0] - 10, ring[:, 1] - 7.5) == pytest.approx(radius_m, abs=0.3)


def test_a_place_without_a_value_lies_under_every_level():
    values = np.full(GRID.rows * GRID.columns, np.nan)
    assert Terrain(GRID, values, LEVELS).rings(-50) == []


def test_vectors_hold_every_band_wall_point_level_and_the_words(drawn):
    root = fromstring(drawn_svg(drawn, "x"))
    words = [text.text for text in root.iter(f"{SVG}text")]
    walls = next(group for group in root.iter(f"{SVG}g") if group.get("id") == "HR-WALL")
    assert len(walls) >= len([wall for wall in JOB.of(Wall) if wall.storey_id == GROUND])
    fills = [path for path in root.iter(f"{SVG}path") if path.get("fill-rule") == "evenodd"]
    assert len(fills) == 1 + len(LEVELS)
    assert {"\u221250", "\u221247", "\u221244", WORDS} <= set(words)
    points = [point for point in JOB.of(AccessPoint) if point.storey_id == GROUND]
    assert {f"{point.label} 100" for point in points} <= set(words)


def test_the_paper_says_job_drawing_scale_and_day_and_every_figure_can_be_read(pdf):
    page = pdfium.PdfDocument(pdf)[0]
    words = page.get_textpage().get_text_bounded()
    for said in (
        JOB.name,
        "Ground: best signal",
        "Revision 7",
        "1:",
        "north is up",
        WORDS,
        "\u221247",
        "Foyer 100",
    ):
        assert said in words
    width, height = page.get_size()
    assert (width, height) == pytest.approx((420 / 25.4 * 72, 297 / 25.4 * 72), abs=0.1)


def test_doors_are_drawn_with_their_swing(drawn):
    assert any(stroke.layer == "HR-DOOR" and len(stroke.points) > 5 for stroke in drawn.strokes)


def test_pixels_are_print_quality_and_darker_where_it_is_stronger(drawn, pdf):
    image = Image.open(io.BytesIO(first_page_png(pdf)))
    assert image.info["dpi"] == pytest.approx((150, 150), abs=0.1)
    assert image.width == pytest.approx(420 / 25.4 * 150, abs=2)
    ramp = [int(ink[1:3], 16) + int(ink[3:5], 16) + int(ink[5:7], 16) for ink in drawn.legend.inks]
    assert ramp == sorted(ramp, reverse=True)
    seen = {colour for _, colour in image.getcolors(maxcolors=1 << 22)}
    # Every tint stands on the paper as it is, or within a shade of it.
    for ink in drawn.legend.inks:
        wanted = tuple(int(ink[n : n + 2], 16) for n in (1, 3, 5))
        assert min(max(abs(a - b) for a, b in zip(wanted, one, strict=True)) for one in seen) <= 1


def test_a_huge_sheet_is_drawn_smaller_not_left_out():
    grid = Grid(0.0, 0.0, 1.0, 400, 20, 1.0)
    huge = air_drawn(JOB, GROUND, Terrain(grid, np.full(8000, -60.0), (-70.0, -50.0)), "", {})
    body = write_pdf([Page(titled(JOB, "Ground", 1), huge)], (), "A4", "air")
    words = pdfium.PdfDocument(body)[0].get_textpage().get_text_bounded()
    assert "1:2000" in words


@pytest.mark.parametrize(("level", "words"), [(-65.0, "\u221265"), (20.0, "20"), (2.5, "2.5")])
def test_a_figure_is_written_with_a_true_minus(level, words):
    assert figure(level) == words
