"""The elevation of a rack on paper: front and rear at scale, in units counted from below."""

from heathrise.core.job import Job
from heathrise.core.library import EquipmentModel, limit
from heathrise.core.racks.care import RackPlan
from heathrise.core.racks.elevation import Elevation, Standing
from heathrise.exchange.paper.drawn import XY, Drawn, Stroke, Words

# The frame about the units, the room between front and rear, and a port with its pitch. [m]
_FRAME_M, _APART_M = 0.045, 0.35
_PORT_M = (0.013, 0.011)
_PITCH_M = (0.0165, 0.0185)


def rack_drawn(job: Job, plan: RackPlan) -> Drawn:
    """Return a rack from the front and from the rear."""
    of = plan.elevation
    unit = limit("rack.unit_mm") / 1000
    wide = of.wide_mm / 1000
    strokes: list[Stroke] = []
    words: list[Words] = []
    for n, face in enumerate(("front", "rear")):
        left = n * (wide + _APART_M)
        strokes += _frame(of, left, unit)
        words.append(Words("HR-POINT", (left + _FRAME_M, -0.03), f"{of.label}, {face}"))
        words += [
            Words("HR-NAME", (left - 0.025, _top(of, u, unit) + unit / 2), str(u), small=True)
            for u in range(1, of.height_u + 1)
        ]
        for one in of.items:
            if one.unit is not None and one.height_u and face in (one.face, "rear"):
                strokes += _box(of, one, left, unit)
                words.append(_name(of, one, left, unit, face))
                model = job.model_of(one.element_id)
                if face == "front" and model is not None:
                    strokes += _ports(model, of, one, left, unit)
    return Drawn(tuple(strokes), (), tuple(words), right_m=0.05, below_m=0.05)


def _top(of: Elevation, unit_no: int, unit: float) -> float:
    """Return how far below the rack's top a unit's upper edge lies. [m]"""
    return _FRAME_M + (of.height_u - unit_no) * unit


def _rect(layer: str, x: float, y: float, wide: float, high: float) -> Stroke:
    corners: tuple[XY, ...] = ((x, y), (x + wide, y), (x + wide, y + high), (x, y + high))
    return Stroke(layer, corners, closed=True)


def _frame(of: Elevation, left: float, unit: float) -> list[Stroke]:
    wide, high = of.wide_mm / 1000, of.height_u * unit + 2 * _FRAME_M
    rails = [
        Stroke("HR-SPACE", ((left, _top(of, u, unit)), (left + wide, _top(of, u, unit))))
        for u in range(1, of.height_u + 1)
    ]
    return [_rect("HR-WALL", left, 0.0, wide, high), *rails]


def _box(of: Elevation, one: Standing, left: float, unit: float) -> list[Stroke]:
    assert one.unit is not None
    top = _top(of, one.unit + one.height_u - 1, unit)
    inset = _FRAME_M
    return [_rect("HR-POINT", left + inset, top, of.wide_mm / 1000 - 2 * inset, one.height_u * unit)]


def _name(of: Elevation, one: Standing, left: float, unit: float, face: str) -> Words:
    assert one.unit is not None
    top = _top(of, one.unit + one.height_u - 1, unit)
    deep = f", {one.depth_mm:g} mm deep" if one.depth_mm and face == "rear" else ""
    # On the front the ports want the right of it.
    x = left + (_FRAME_M + 0.055 if face == "front" else of.wide_mm / 2000)
    return Words("HR-NAME", (x, top + one.height_u * unit / 2), f"{one.label}{deep}", small=face == "rear")


def _ports(model: EquipmentModel, of: Elevation, one: Standing, left: float, unit: float) -> list[Stroke]:
    """Return the ports of a front in two rows, read downwards and to the right, against its right edge."""
    assert one.unit is not None
    top = _top(of, one.unit + one.height_u - 1, unit)
    rows = 1 if len(model.port_list) <= 8 else 2 * one.height_u
    columns = -(-len(model.port_list) // rows)
    right = left + of.wide_mm / 1000 - _FRAME_M - 0.01
    pitch = min(_PITCH_M[0], (of.wide_mm / 1000 - 2 * _FRAME_M - 0.12) / max(columns, 1))
    first = right - columns * pitch
    return [
        _rect(
            "HR-DEVICE",
            first + (n // rows) * pitch,
            top + 0.004 + (n % rows) * _PITCH_M[1],
            min(_PORT_M[0], pitch * 0.8),
            _PORT_M[1],
        )
        for n in range(len(model.port_list))
    ]
