"""A layer of the air as a print: tinted bands, contours with their figures, the plan in ink; SVG or PNG."""

import io
from dataclasses import dataclass
from xml.etree import ElementTree

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from heathrise.core.job import Job, Opening, Space, Wall
from heathrise.core.radio.scene import Grid
from heathrise.core.site.building import ring_polygon
from heathrise.exchange.words import svg_text

Floats = NDArray[np.float64]
Line = tuple[float, float, float, float]
# Contours are drawn through a surface this much finer than the cells.
_FINER = 4
_PX_PER_M = 60.0
_MOST_PX = 5000
_PALE, _DEEP, _INK, _PAPER = (244, 239, 221), (154, 111, 172), "#1F2A33", "#F6F3EA"
_CONTOUR = "#5A3467"
_FOOT_M = 2.2
# A contour shorter than this carries no figure.
_LABELLED_M = 5.0
# Debian's fonts-dejavu-core; it has the true minus, which the font Pillow carries has not.
_FONT = "DejaVuSans.ttf"


@dataclass(frozen=True)
class Print:
    """What is printed: a grid of values, the levels of its contours, and the words at its foot."""

    job: Job
    storey_id: str
    grid: Grid
    values: Floats
    levels: tuple[float, ...]
    words: str

    @property
    def rows(self) -> Floats:
        """Values by row and column; a place without one lies under every level."""
        return np.nan_to_num(self.values.reshape(self.grid.rows, self.grid.columns), nan=-1e6)

    def rings(self, level: float) -> list[Floats]:
        """Return the outlines of where a level is reached, in metres, (n, 2) each."""
        size = (self.grid.columns * _FINER, self.grid.rows * _FINER)
        fine = cv2.resize(self.rows.astype(np.float32), size, interpolation=cv2.INTER_LINEAR)
        reached = (fine >= level).astype(np.uint8)
        found, _ = cv2.findContours(reached, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
        step = self.grid.cell_m / _FINER
        corner = np.array([self.grid.x0_m, self.grid.y0_m])
        rings = [corner + (ring.reshape(-1, 2) + 0.5) * step for ring in found if len(ring) > 2]
        return [np.asarray(shapely.LineString(ring).simplify(0.4 * step).coords) for ring in rings]

    def contours(self, level: float) -> list[Floats]:
        """Return the lines of a level without what only follows the edge of the sheet."""
        g, rim = self.grid, self.grid.cell_m / _FINER
        x1, y1 = g.x0_m + g.columns * g.cell_m, g.y0_m + g.rows * g.cell_m
        sheet = shapely.box(g.x0_m + rim, g.y0_m + rim, x1 - rim, y1 - rim)
        lines = [shapely.LineString([*ring, ring[0]]).intersection(sheet) for ring in self.rings(level)]
        parts = shapely.get_parts(shapely.line_merge(lines))
        return [np.asarray(part.coords) for part in parts if part.geom_type == "LineString"]

    def labelled(self, ring: Floats) -> tuple[float, float] | None:
        """Return where the figure of a contour stands, None for one too short to carry it."""
        line = shapely.LineString(ring)
        if line.length < _LABELLED_M:
            return None
        at = line.interpolate(0.37, normalized=True)
        return float(at.x), float(at.y)

    def names(self) -> list[tuple[float, float, str]]:
        """Return the names of the storey's spaces and where they stand."""
        found = []
        for space in self.job.of(Space):
            if space.storey_id == self.storey_id:
                shape = ring_polygon(space.outline)
                corner = shapely.Point(shape.bounds[0] + 0.35, shape.bounds[1] + 0.55)
                at = corner if shape.contains(corner) else shape.representative_point()
                found.append((at.x, at.y, space.label))
        return found

    def tint(self, number: int) -> tuple[int, int, int]:
        """Return the colour of a band, pale sedge to deep heather."""
        share = number / max(len(self.levels), 1)
        low, mid, high = (round(a + share * (b - a)) for a, b in zip(_PALE, _DEEP, strict=True))
        return low, mid, high

    def walls(self) -> list[tuple[Line, bool]]:
        """Return the walls of the storey as lines, and their openings, which are drawn pale."""
        found: list[tuple[Line, bool]] = []
        walls = {wall.id: wall for wall in self.job.of(Wall) if wall.storey_id == self.storey_id}
        for wall in walls.values():
            found.append(((wall.a.x_m, wall.a.y_m, wall.b.x_m, wall.b.y_m), False))
        for opening in self.job.of(Opening):
            over = walls.get(opening.wall_id)
            if over is not None:
                dx = (over.b.x_m - over.a.x_m) / over.length_m
                dy = (over.b.y_m - over.a.y_m) / over.length_m
                a, b = opening.at_m, opening.at_m + opening.width_m
                x, y = over.a.x_m, over.a.y_m
                found.append(((x + dx * a, y + dy * a, x + dx * b, y + dy * b), True))
        return found

    def points(self) -> list[tuple[float, float, str]]:
        """Return the access points of the storey."""
        return [
            (e.at.x_m, e.at.y_m, e.label)
            for e in self.job.elements
            if e.kind == "access-point" and e.storey_id == self.storey_id
        ]


def figure(level: float) -> str:
    """Return a level as it stands on a contour."""
    return f"\u2212{-level:g}" if level < 0 else f"{level:g}"


def print_svg(sheet: Print) -> str:
    """Return a print as SVG, one user unit a metre, at 1:100."""
    g = sheet.grid
    width, height = g.columns * g.cell_m, g.rows * g.cell_m
    box = f"{g.x0_m:.2f} {g.y0_m:.2f} {width:.2f} {height + _FOOT_M:.2f}"
    size = {"width": f"{width * 10:.1f}mm", "height": f"{(height + _FOOT_M) * 10:.1f}mm"}
    root = ElementTree.Element("svg", {"xmlns": "http://www.w3.org/2000/svg", "viewBox": box, **size})
    ElementTree.SubElement(root, "title").text = f"{sheet.job.name}: {sheet.words}"
    _rect(root, g.x0_m, g.y0_m, width, height + _FOOT_M, _PAPER)
    _rect(root, g.x0_m, g.y0_m, width, height, _css(sheet.tint(0)))
    for number, level in enumerate(sheet.levels, start=1):
        rings = sheet.rings(level)
        d = "".join("M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in ring) + "Z" for ring in rings)
        body = {"d": d, "fill": _css(sheet.tint(number)), "fill-rule": "evenodd"}
        ElementTree.SubElement(root, "path", body)
    for level in sheet.levels:
        lines = sheet.contours(level)
        d = "".join("M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in line) for line in lines)
        style = {"fill": "none", "stroke": _CONTOUR, "stroke-width": "0.025"}
        ElementTree.SubElement(root, "path", {"d": d, **style})
        for at in filter(None, map(sheet.labelled, lines)):
            _text(root, *at, figure(level), 0.28, _CONTOUR)
    for (x1, y1, x2, y2), pale in sheet.walls():
        style = {"stroke": _PAPER if pale else _INK, "stroke-width": "0.1" if pale else "0.12"}
        ElementTree.SubElement(root, "path", {"d": f"M{x1:.3f} {y1:.3f}L{x2:.3f} {y2:.3f}", **style})
    for x, y, label in sheet.names():
        _text(root, x, y, label, 0.3, _INK, "start")
    for x, y, label in sheet.points():
        d = f"M{x - 0.3:.2f} {y + 0.22:.2f}L{x:.2f} {y - 0.3:.2f}L{x + 0.3:.2f} {y + 0.22:.2f}Z"
        ElementTree.SubElement(root, "path", {"d": d, "fill": _PAPER, "stroke": _INK, "stroke-width": "0.05"})
        _text(root, x, y + 0.6, label, 0.32, _INK)
    _legend(root, sheet, g.y0_m + height)
    return svg_text(root)


def _legend(root: ElementTree.Element, sheet: Print, top_m: float) -> None:
    x0 = sheet.grid.x0_m + 0.5
    for number in range(len(sheet.levels) + 1):
        _rect(root, x0 + number * 1.4, top_m + 0.4, 1.4, 0.4, _css(sheet.tint(number)))
        if number < len(sheet.levels):
            _text(root, x0 + (number + 1) * 1.4, top_m + 1.15, figure(sheet.levels[number]), 0.32, _INK)
    _text(root, x0, top_m + 1.8, f"{sheet.job.name}: {sheet.words}", 0.36, _INK, "start")


def _css(colour: tuple[int, int, int]) -> str:
    return "#{:02X}{:02X}{:02X}".format(*colour)


def _rect(root: ElementTree.Element, x: float, y: float, width: float, height: float, fill: str) -> None:
    body = {
        "x": f"{x:.2f}",
        "y": f"{y:.2f}",
        "width": f"{width:.2f}",
        "height": f"{height:.2f}",
        "fill": fill,
    }
    ElementTree.SubElement(root, "rect", body)


def _text(
    root: ElementTree.Element, x: float, y: float, words: str, size: float, fill: str, anchor: str = "middle"
) -> None:
    body = {"x": f"{x:.2f}", "y": f"{y:.2f}", "font-size": f"{size}", "font-family": "sans-serif"}
    look = {
        "fill": fill,
        "text-anchor": anchor,
        "paint-order": "stroke",
        "stroke": _PAPER,
        "stroke-width": "0.08",
    }
    ElementTree.SubElement(root, "text", {**body, **look}).text = words


def print_png(sheet: Print) -> bytes:
    """Return a print as PNG, 60 pixels a metre (150 dpi at 1:100), fewer where it would grow too large."""
    g = sheet.grid
    width, height = g.columns * g.cell_m, g.rows * g.cell_m
    k = min(_PX_PER_M, _MOST_PX / max(width, height + _FOOT_M))
    image = Image.new("RGB", (round(width * k), round((height + _FOOT_M) * k)), _PAPER)
    draw = ImageDraw.Draw(image)
    small, large = (ImageFont.truetype(_FONT, max(9, round(m * k))) for m in (0.28, 0.36))

    def px(x: float, y: float) -> tuple[float, float]:
        return (x - g.x0_m) * k, (y - g.y0_m) * k

    image.paste(_bands(sheet, round(width * k), round(height * k)), (0, 0))
    for level in sheet.levels:
        for line in sheet.contours(level):
            draw.line([px(x, y) for x, y in line], fill=_CONTOUR, width=max(1, round(0.025 * k)))
            at = sheet.labelled(line)
            if at is not None:
                draw.text(
                    px(*at),
                    figure(level),
                    fill=_CONTOUR,
                    font=small,
                    anchor="mm",
                    stroke_width=2,
                    stroke_fill=_PAPER,
                )
    for (x1, y1, x2, y2), pale in sheet.walls():
        draw.line([px(x1, y1), px(x2, y2)], fill=_PAPER if pale else _INK, width=max(2, round(0.12 * k)))
    for x, y, label in sheet.names():
        draw.text(px(x, y), label, fill=_INK, font=small, anchor="lm", stroke_width=2, stroke_fill=_PAPER)
    for x, y, label in sheet.points():
        draw.polygon(
            [px(x - 0.3, y + 0.22), px(x, y - 0.3), px(x + 0.3, y + 0.22)], fill=_PAPER, outline=_INK, width=3
        )
        draw.text(
            px(x, y + 0.55), label, fill=_INK, font=small, anchor="mm", stroke_width=2, stroke_fill=_PAPER
        )
    foot = g.y0_m + height
    for number in range(len(sheet.levels) + 1):
        left = g.x0_m + 0.5 + number * 1.4
        draw.rectangle([px(left, foot + 0.4), px(left + 1.4, foot + 0.8)], fill=sheet.tint(number))
        if number < len(sheet.levels):
            draw.text(
                px(left + 1.4, foot + 1.1), figure(sheet.levels[number]), fill=_INK, font=small, anchor="mm"
            )
    draw.text(
        px(g.x0_m + 0.5, foot + 1.75), f"{sheet.job.name}: {sheet.words}", fill=_INK, font=large, anchor="lm"
    )
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(150, 150))
    return out.getvalue()


def _bands(sheet: Print, width: int, height: int) -> Image.Image:
    fine = cv2.resize(sheet.rows.astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR)
    table = np.array([sheet.tint(n) for n in range(len(sheet.levels) + 1)], np.uint8)
    return Image.fromarray(table[np.searchsorted(np.array(sheet.levels), fine, side="right")])
