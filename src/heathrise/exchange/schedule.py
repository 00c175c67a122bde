"""The schedule of runs as a table: CSV, a workbook with what is drilled and cut beside it."""

import io
from collections.abc import Iterable, Sequence

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from heathrise.core.cabling.cutting import CutLists
from heathrise.core.cabling.drilling import DrillList
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.racks.elevation import Elevation
from heathrise.core.racks.patching import PatchList
from heathrise.core.switching.ports import Ports
from heathrise.exchange.tables import Cell, safe, to_csv

Row = tuple[Cell, ...]

SCHEDULE = (
    "run",
    "from",
    "port",
    "to",
    "cable",
    "length_m",
    "limit_m",
    "hottest_c",
    "speed_mbps",
    "spaces",
    "holes",
    "together",
    "there_already",
    "holds",
)
HOLES = ("hole", "storey", "wall", "made_of", "across_m", "down_m", "sleeve", "fire_minutes", "hours", "runs")
CUTS = ("cable", "box", "holds_m", "run", "length_m", "left_m")
STANDING = ("rack", "unit", "thing", "model", "height_u", "depth_mm", "weight_kg", "state")
PATCHES = ("rack", "run", "to", "panel", "panel_port", "switch", "port", "cord_m", "colour", "state")
_WIDEST = 44
_UNITS = {"m": "m", "u": "U", "mm": "mm", "kg": "kg", "c": "C", "mbps": "Mb/s", "minutes": "min"}


def heading(name: str) -> str:
    """Return the name of a column as it is printed: with its unit, where it has one."""
    stem, _, unit = name.rpartition("_")
    return f"{stem.replace('_', ' ')}, {_UNITS[unit]}" if unit in _UNITS else name.replace("_", " ")


def schedule_rows(plans: Iterable[RunPlan], ports: Ports) -> list[Row]:
    """Return a row a run, as `SCHEDULE` names its columns."""
    return [_run(plan, ports) for plan in plans]


def _run(plan: RunPlan, ports: Ports) -> Row:
    port = ports.by_run.get(plan.run_id)
    return (
        plan.label,
        plan.from_label,
        f"{port.switch_label}/{port.port}" if port else "",
        plan.to_label,
        plan.cable_label,
        round(plan.length_m, 1),
        round(plan.limit_m, 1),
        round(plan.hottest_c),
        plan.speed_mbps,
        ", ".join(plan.environments),
        len(plan.holes),
        plan.bundle,
        "yes" if plan.existing else "no",
        "yes" if plan.holds else "no",
    )


def standing_rows(racks: Iterable[Elevation]) -> list[Row]:
    """Return a row a thing in a rack, from the top down, as `STANDING` names its columns."""
    return [
        (rack.label, one.unit, one.label, one.what, one.height_u, one.depth_mm, one.weight_kg, one.state)
        for rack in racks
        for one in reversed(rack.items)
    ]


def patch_rows(racks: Iterable[PatchList]) -> list[Row]:
    """Return a row a patch, as `PATCHES` names its columns."""
    return [
        (
            rack.label,
            one.run_label,
            one.to_label,
            one.panel,
            one.panel_port,
            one.switch,
            one.port,
            one.cord.value if one.cord else None,
            one.colour,
            one.state,
        )
        for rack in racks
        for one in rack.patches
    ]


def hole_rows(holes: DrillList) -> list[Row]:
    """Return a row a hole, numbered as on the drawings, as `HOLES` names its columns."""
    return [
        (
            number,
            hole.storey_label,
            hole.wall_label,
            hole.through,
            round(hole.at.x_m, 2),
            round(hole.at.y_m, 2),
            hole.bore_label,
            hole.fire_minutes or "",
            hole.hours,
            ", ".join(hole.run_labels),
        )
        for number, hole in enumerate(holes.holes, start=1)
    ]


def cut_rows(cuts: CutLists) -> list[Row]:
    """Return a row a cut, in the order they are cut, as `CUTS` names its columns."""
    return [
        (cable.cable_label, box.number, box.box_m, cut.label, round(cut.length_m, 1), round(box.left_m, 1))
        for cable in cuts.cables
        for box in cable.boxes
        for cut in box.cuts
    ]


def schedule_csv(rows: Iterable[Row]) -> str:
    """Return the schedule as CSV."""
    return to_csv(SCHEDULE, rows)


def workbook(sheets: Sequence[tuple[str, Sequence[str], Sequence[Row]]]) -> bytes:
    """Return tables as one workbook, a sheet each: heads that stay in sight, filters, figures as figures."""
    book = Workbook()
    book.remove(book.worksheets[0])
    for name, head, rows in sheets:
        _fill(book.create_sheet(name), head, rows)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _fill(sheet: Worksheet, head: Sequence[str], rows: Sequence[Row]) -> None:
    sheet.append(list(head))
    for row in rows:
        sheet.append([safe(cell) for cell in row])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "B2"
    sheet.auto_filter.ref = sheet.dimensions
    for n, column in enumerate(sheet.iter_cols(min_row=1), start=1):
        longest = max(len(str(cell.value if cell.value is not None else "")) for cell in column)
        sheet.column_dimensions[get_column_letter(n)].width = min(_WIDEST, longest + 3)
        for cell in column:
            cell.alignment = Alignment(wrap_text=longest > _WIDEST, vertical="top")
