"""The profile of a path as text: a line a place, with distance, height of the ground and what stands there, in metres."""

import csv
import io

from heathrise.core.job import PathPoint
from heathrise.core.links.profile import checked_profile
from heathrise.exchange.unreadable import Unreadable

_MOST = 500
_SO = "A line is distance, height of the ground and height of what stands there, in metres; the rest may be left out"


def read_profile(text: str) -> tuple[PathPoint, ...]:
    """Return the places of a profile, typed or out of a table: parted by semicolons, tabs or commas, with a head or
    without. With semicolons and tabs a comma may part the decimals. No text is no profile.

    Raises
    ------
    Unreadable
        If a line is no place, or the places are no path; the message names the line.
    """
    delimiter = next((mark for mark in (";", "\t") if mark in text), ",")
    found: list[PathPoint] = []
    for number, row in enumerate(_rows(text, delimiter), start=1):
        cells = [cell.strip().replace(",", ".") for cell in row]
        if not any(cells) or (not found and not _is_number(cells[0])):
            continue
        found.append(_place(number, cells))
        if len(found) > _MOST:
            raise Unreadable(
                f"Line {number}: a profile has at most {_MOST} places", "Leave out places between"
            )
    if not found:
        if text.strip():
            raise Unreadable("No line of it is a place", _SO)
        return ()
    try:
        return checked_profile(found)
    except ValueError as error:
        raise Unreadable(
            f"Read as a path, {error}", "Put the lines in order from one end to the other, the first at 0 m"
        ) from error


def _rows(text: str, delimiter: str) -> list[list[str]]:
    try:
        return list(csv.reader(io.StringIO(text), delimiter=delimiter))
    except csv.Error as error:
        raise Unreadable(f"It is no table ({error})", _SO) from error


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def _place(number: int, cells: list[str]) -> PathPoint:
    figures = [cell for cell in cells if cell]
    if not all(map(_is_number, figures)) or len(figures) > 3:
        raise Unreadable(f"Line {number}, “{' '.join(cells)}”, is no place of a path", _SO)
    distance, ground, obstacle = [*map(float, figures), 0.0, 0.0][:3]
    try:
        return PathPoint(distance_m=distance, ground_m=ground, obstacle_m=obstacle)
    except ValueError as error:
        raise Unreadable(f"Line {number}, “{' '.join(cells)}”, is no place of a path", _SO) from error
