"""A client's own drawing: one storey of twenty rooms along a corridor, as faces of walls, doors and names."""

import io

import ezdxf

ROOMS = 20
_WIDE_M, _DEEP_M, _WALL_M, _CORRIDOR_M = 5.0, 6.0, 0.15, 2.4
_NAMES = (
    "Classroom",
    "Classroom",
    "Office",
    "Store",
    "Classroom",
    "Meeting",
    "WC",
    "Classroom",
    "Staff",
    "Lab",
)


def twenty_rooms() -> bytes:
    """Return a DXF in metres: each room's inner faces, the building's outer ones, leaves with their swing."""
    document = ezdxf.new(units=6)
    sheet = document.modelspace()
    for layer in ("WALLS", "DOORS", "ROOM-NAMES", "GRID"):
        document.layers.add(layer)
    columns = ROOMS // 2
    pitch = _WIDE_M + _WALL_M
    wide = columns * pitch + _WALL_M
    high = 2 * _DEEP_M + _CORRIDOR_M + 4 * _WALL_M
    faces(sheet, 0, 0, wide, high)
    corridor = 2 * _WALL_M + _DEEP_M
    faces(sheet, _WALL_M, corridor, wide - _WALL_M, corridor + _CORRIDOR_M)
    for row, y in enumerate((_WALL_M, corridor + _CORRIDOR_M + _WALL_M)):
        for column in range(columns):
            x = _WALL_M + column * pitch
            faces(sheet, x, y, x + _WIDE_M, y + _DEEP_M)
            name = f"{_NAMES[column]} {row}.{column:02d}"
            at = (x + 1.5, y + _DEEP_M / 2)
            sheet.add_text(name, height=0.25, dxfattribs={"layer": "ROOM-NAMES"}).set_placement(at)
    sheet.add_text("Corridor", height=0.25, dxfattribs={"layer": "ROOM-NAMES"}).set_placement(
        (wide / 2, corridor + 1.0)
    )
    sheet.add_line((-2, 0), (-2, high), dxfattribs={"layer": "GRID"})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def faces(sheet: ezdxf.layouts.Modelspace, x0: float, y0: float, x1: float, y1: float) -> None:
    """Draw the four faces round an opening."""
    corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    sheet.add_lwpolyline(corners, close=True, dxfattribs={"layer": "WALLS"})
