"""A storey out: DXF with named layers, SVG, PNG."""

import io
from collections.abc import Iterator
from typing import NamedTuple
from xml.etree import ElementTree

from PIL import Image, ImageDraw, ImageFont

from heathrise.core.job import AccessPoint, Equipment, Job, OnSheet, Opening, Point, Rack, Space, Wall
from heathrise.exchange.words import svg_text

_LAYERS = (
    ("HR-WALL", 7),
    ("HR-DOOR", 3),
    ("HR-WINDOW", 4),
    ("HR-SPACE", 8),
    ("HR-NAME", 8),
    ("HR-POINT", 6),
    ("HR-DEVICE", 5),
)
_PX_PER_M = 40
_MARGIN_M = 1.5
_MOST_PX = 6000
Ends = tuple[float, float, float, float]


def wall_faces(wall: Wall) -> list[Ends]:
    """Return a wall's two faces, or its line when it has no thickness."""
    x1, y1, x2, y2 = wall.a.x_m, wall.a.y_m, wall.b.x_m, wall.b.y_m
    if wall.thickness_m is None:
        return [(x1, y1, x2, y2)]
    nx = -(y2 - y1) / wall.length_m * wall.thickness_m / 2
    ny = (x2 - x1) / wall.length_m * wall.thickness_m / 2
    return [(x1 + s * nx, y1 + s * ny, x2 + s * nx, y2 + s * ny) for s in (1, -1)]


def opening_line(wall: Wall, opening: Opening) -> Ends:
    """Return an opening's stretch of its wall."""
    ux = (wall.b.x_m - wall.a.x_m) / wall.length_m
    uy = (wall.b.y_m - wall.a.y_m) / wall.length_m
    start, stop = opening.at_m, opening.at_m + opening.width_m
    return (wall.a.x_m + ux * start, wall.a.y_m + uy * start, wall.a.x_m + ux * stop, wall.a.y_m + uy * stop)


def _lines(job: Job, storey_id: str) -> Iterator[tuple[str, Ends]]:
    for wall in job.of(Wall):
        if wall.storey_id == storey_id:
            for face in wall_faces(wall):
                yield "HR-WALL", face
    for opening in job.of(Opening):
        wall = job.get(Wall, opening.wall_id)
        if wall.storey_id == storey_id:
            yield (
                ("HR-WINDOW" if opening.opening_kind == "window" else "HR-DOOR"),
                opening_line(wall, opening),
            )


class Standing(NamedTuple):
    """What stands at a place, as it is drawn."""

    label: str
    at: Point
    layer: str


def _standing(job: Job, storey_id: str) -> Iterator[Standing]:
    on_sheet = [thing for thing in job.of(Equipment) if isinstance(thing.place, OnSheet)]
    for thing in (*job.of(AccessPoint), *on_sheet, *job.of(Rack)):
        spot = job.spot(thing.id)
        if spot.storey_id == storey_id:
            layer = "HR-POINT" if isinstance(thing, AccessPoint) else "HR-DEVICE"
            yield Standing(thing.label, spot.at, layer)


def _spaces(job: Job, storey_id: str) -> list[Space]:
    return [space for space in job.of(Space) if space.storey_id == storey_id]


def _centre(space: Space) -> tuple[float, float]:
    count = len(space.outline)
    return sum(p.x_m for p in space.outline) / count, sum(p.y_m for p in space.outline) / count


def write_dxf(job: Job, storey_id: str) -> str:
    """Return a storey as DXF in metres, y up, each kind on a named layer."""
    # Loaded when asked for: it takes much memory, and most days nobody asks.
    from ezdxf import units  # noqa: PLC0415
    from ezdxf.filemanagement import new  # noqa: PLC0415

    document = new("R2010", units=units.M)
    for name, colour in _LAYERS:
        document.layers.add(name, color=colour)
    space = document.modelspace()
    for layer, (x1, y1, x2, y2) in _lines(job, storey_id):
        space.add_line((x1, -y1), (x2, -y2), dxfattribs={"layer": layer})
    for room in _spaces(job, storey_id):
        space.add_lwpolyline(
            [(p.x_m, -p.y_m) for p in room.outline], close=True, dxfattribs={"layer": "HR-SPACE"}
        )
        x, y = _centre(room)
        space.add_text(room.label, height=0.25, dxfattribs={"layer": "HR-NAME", "insert": (x, -y)})
    for thing in _standing(job, storey_id):
        at, layer = (thing.at.x_m, -thing.at.y_m), thing.layer
        space.add_circle(at, 0.15, dxfattribs={"layer": layer})
        space.add_text(thing.label, height=0.2, dxfattribs={"layer": layer, "insert": (at[0] + 0.2, at[1])})
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _box(job: Job, storey_id: str) -> tuple[float, float, float, float]:
    xs, ys = [0.0], [0.0]
    for _, (x1, y1, x2, y2) in _lines(job, storey_id):
        xs += [x1, x2]
        ys += [y1, y2]
    for room in _spaces(job, storey_id):
        xs += [p.x_m for p in room.outline]
        ys += [p.y_m for p in room.outline]
    if len(xs) > 1:
        xs, ys = xs[1:], ys[1:]
    return min(xs) - _MARGIN_M, min(ys) - _MARGIN_M, max(xs) + _MARGIN_M, max(ys) + _MARGIN_M


def write_svg(job: Job, storey_id: str) -> str:
    """Return a storey as SVG, one user unit a metre, groups by kind."""
    x0, y0, x1, y1 = _box(job, storey_id)
    root = ElementTree.Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"{x0:.2f} {y0:.2f} {x1 - x0:.2f} {y1 - y0:.2f}",
        width=f"{(x1 - x0) * 10:.1f}mm",
        height=f"{(y1 - y0) * 10:.1f}mm",
    )
    ElementTree.SubElement(root, "title").text = job.name
    groups = {
        name: ElementTree.SubElement(root, "g", id=name, fill="none", stroke="#1F2A33") for name, _ in _LAYERS
    }
    widths = {"HR-WALL": "0.03", "HR-DOOR": "0.06", "HR-WINDOW": "0.06"}
    for layer, (ax, ay, bx, by) in _lines(job, storey_id):
        d = f"M{ax:.3f} {ay:.3f}L{bx:.3f} {by:.3f}"
        ElementTree.SubElement(groups[layer], "path", {"d": d, "stroke-width": widths[layer]})
    for room in _spaces(job, storey_id):
        points = " ".join(f"{p.x_m:.3f},{p.y_m:.3f}" for p in room.outline)
        ElementTree.SubElement(groups["HR-SPACE"], "polygon", {"points": points, "stroke-width": "0.01"})
        x, y = _centre(room)
        _svg_text(groups["HR-NAME"], x, y, room.label)
    for thing in _standing(job, storey_id):
        circle = {
            "cx": f"{thing.at.x_m:.3f}",
            "cy": f"{thing.at.y_m:.3f}",
            "r": "0.15",
            "stroke-width": "0.04",
        }
        ElementTree.SubElement(groups[thing.layer], "circle", circle)
        _svg_text(groups[thing.layer], thing.at.x_m + 0.25, thing.at.y_m, thing.label)
    return svg_text(root)


def _svg_text(group: ElementTree.Element, x: float, y: float, words: str) -> None:
    style = {
        "x": f"{x:.3f}",
        "y": f"{y:.3f}",
        "font-size": "0.3",
        "font-family": "sans-serif",
        "fill": "#1F2A33",
        "stroke": "none",
    }
    ElementTree.SubElement(group, "text", style).text = words


def write_png(job: Job, storey_id: str) -> bytes:
    """Return a storey as PNG, 40 pixels a metre, fewer where it would grow too large."""
    x0, y0, x1, y1 = _box(job, storey_id)
    k = min(_PX_PER_M, _MOST_PX / max(x1 - x0, y1 - y0))
    image = Image.new("RGB", (round((x1 - x0) * k), round((y1 - y0) * k)), "#F6F3EA")
    draw = ImageDraw.Draw(image)
    font = ImageFont.load_default(size=max(9, round(0.3 * k)))

    def px(x: float, y: float) -> tuple[float, float]:
        return (x - x0) * k, (y - y0) * k

    for room in _spaces(job, storey_id):
        draw.polygon([px(p.x_m, p.y_m) for p in room.outline], outline="#CBC4B0")
        draw.text(px(*_centre(room)), room.label, fill="#5B6770", font=font, anchor="mm")
    inks = {"HR-WALL": "#1F2A33", "HR-DOOR": "#A8401F", "HR-WINDOW": "#2C6E8F"}
    for layer, (ax, ay, bx, by) in _lines(job, storey_id):
        draw.line([px(ax, ay), px(bx, by)], fill=inks[layer], width=max(1, round(k * 0.06)))
    for thing in _standing(job, storey_id):
        cx, cy = px(thing.at.x_m, thing.at.y_m)
        r = 0.16 * k
        draw.ellipse([cx - r, cy - r, cx + r, cy + r], outline="#6B3F7A", width=2)
        draw.text((cx + r + 2, cy), thing.label, fill="#6B3F7A", font=font, anchor="lm")
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
