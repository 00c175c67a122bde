"""A printed layer of the air: bands, contours and plan, as vectors and as pixels."""

import io
from xml.etree import ElementTree

import numpy as np
import pytest
from demo.tern_lane import tern_lane
from PIL import Image

from heathrise.core.job import Wall
from heathrise.core.radio.scene import Grid
from heathrise.exchange.terrain import Print, figure, print_png, print_svg

JOB = tern_lane()
GROUND = JOB.storeys[0].id
GRID = Grid(0.0, 0.0, 0.5, 40, 30, 1.0)
SVG = "{http://www.w3.org/2000/svg}"


def cone() -> np.ndarray:
    """A hill with its top in the middle of the grid, 1 dB a metre down."""
    points = GRID.points_m()
    return -40 - np.hypot(points[:, 0] - 10, points[:, 1] - 7.5)


@pytest.fixture
def sheet():
    return Print(JOB, GROUND, GRID, cone(), (-50.0, -47.0, -44.0), "Ground, best signal, 5 GHz, dBm")


@pytest.mark.parametrize(("level", "radius_m"), [(-44.0, 4.0), (-47.0, 7.0)])
def test_a_contour_lies_where_the_level_is(sheet, level, radius_m):
    (ring,) = sheet.rings(level)
    assert np.hypot(ring[:, 0] - 10, ring[:, 1] - 7.5) == pytest.approx(radius_m, abs=0.3)


def test_a_place_without_a_value_lies_under_every_level(sheet):
    values = cone()
    values[:] = np.nan
    assert Print(JOB, GROUND, GRID, values, sheet.levels, "").rings(-50) == []


def test_vectors_hold_every_wall_point_level_and_the_words(sheet):
    root = ElementTree.fromstring(print_svg(sheet))  # noqa: S314 - written here
    words = [text.text for text in root.iter(f"{SVG}text")]
    walls = [w for w in JOB.of(Wall) if w.storey_id == GROUND]
    strokes = [p for p in root.iter(f"{SVG}path") if p.get("stroke-width") == "0.12"]
    assert len(strokes) == len(walls)
    assert {"\u221250", "\u221247", "\u221244"} <= set(words)
    assert {label for _, _, label in sheet.points()} <= set(words)
    assert f"{JOB.name}: {sheet.words}" in words


def test_pixels_are_print_quality_and_darker_where_it_is_stronger(sheet):
    image = Image.open(io.BytesIO(print_png(sheet)))
    assert image.info["dpi"] == pytest.approx((150, 150), abs=0.1)
    top, edge = (image.convert("L").getpixel((round(x * 60), round(7.7 * 60))) for x in (11.1, 19.8))
    assert image.width == 20 * 60
    assert top < edge


def test_a_huge_sheet_is_drawn_smaller_not_left_out():
    grid = Grid(0.0, 0.0, 1.0, 400, 20, 1.0)
    image = Image.open(
        io.BytesIO(print_png(Print(JOB, GROUND, grid, np.full(8000, -60.0), (-70.0, -50.0), "")))
    )
    assert image.width <= 5000


@pytest.mark.parametrize(("level", "words"), [(-65.0, "\u221265"), (20.0, "20"), (2.5, "2.5")])
def test_a_figure_is_written_with_a_true_minus(level, words):
    assert figure(level) == words
