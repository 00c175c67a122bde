"""Devices of a client's list: what kind they are, and where they stand on the plan by the rooms they are said to be in."""

import math
import re
from collections import defaultdict
from collections.abc import Callable, Sequence
from functools import lru_cache

import shapely
from pydantic import Field

from heathrise.core.edit import Put
from heathrise.core.job import Equipment, Job, Network, OnSheet, Point, Space
from heathrise.core.library import library
from heathrise.core.site.building import polygon
from heathrise.core.site.wording import plain
from heathrise.core.sums import Noun

NewId = Callable[[], str]
# A word this long may also end another: "Deckenkamera" is a camera.
_ENDING = 5
# Things stand this far from the room's walls, and this far apart. [m]
_FROM_WALL_M, _APART_M = 0.4, 0.8
_MOST_OF_A_ROW = 50


class ListedDevice(Noun):
    """One row of a client's list: what it is, how many, where, and what identifies the unit."""

    row: int
    label: str
    device: str | None = None
    count: int = Field(1, ge=0)
    place: str = ""
    floor: str = ""
    position: str = ""
    mac: str = ""
    serial: str = ""
    vlan: str = ""
    address: str = ""
    note: str = ""


class Placed(Noun):
    """Devices put on the plan by their rooms, and rows that could not be, with the reason."""

    puts: tuple[Put, ...]
    left: tuple[tuple[int, str], ...]


@lru_cache(maxsize=4096)
def device_kind_of(words: str) -> str | None:
    """Return the kind of device a text names: by whole words, then by how its words end; None where none is named."""
    said = plain(words).split()
    text = f" {' '.join(said)} {' '.join(word.removesuffix('s') for word in said)} "
    kinds = library().device_kinds.items()
    whole = [
        (len(known), -place, key)
        for place, (key, row) in enumerate(kinds)
        for known in map(plain, row.words)
        if known and f" {known} " in text
    ]
    if whole:
        return max(whole)[2]
    ends = ((key, w) for key, row in kinds for w in row.words if len(w) >= _ENDING)
    return next((key for key, w in ends if any(word.endswith(w) for word in said)), None)


def place_listed(job: Job, devices: Sequence[ListedDevice], new_id: NewId) -> Placed:
    """Return the things of a list as they would stand in the rooms it names; what moves is not put anywhere."""
    puts: list[Put] = []
    left: list[tuple[int, str]] = []
    rooms = _Rooms(job)
    used = {element.label for element in job.elements}
    networks = {network.vlan: network.id for network in job.of(Network)}
    for device in devices:
        kind = library().device_kinds.get(device.device or "")
        fits = rooms.named(device)
        why = _why_not(device, kind.model if kind else None, kind is not None and kind.moves, len(fits))
        if why:
            left.append((device.row, why))
            continue
        space = fits[0]
        for number in range(min(device.count, _MOST_OF_A_ROW)):
            label = _free(device.label, number, device.count, used)
            puts.append(
                Put(
                    element=Equipment(
                        id=new_id(),
                        label=label,
                        model=(kind.model if kind else None) or "outlet-data",
                        place=OnSheet(
                            storey_id=space.storey_id, at=rooms.spot(space), height_m=_height(device)
                        ),
                        mac=device.mac if device.count == 1 else "",
                        serial=device.serial if device.count == 1 else "",
                        network_id=_network(device.vlan, networks),
                        note="; ".join(filter(None, (device.position, device.address, device.note)))[:200],
                    )
                )
            )
    return Placed(puts=tuple(puts), left=tuple(left))


def _why_not(device: ListedDevice, model: str | None, moves: bool, fits: int) -> str:
    if moves or (device.device is not None and model is None):
        return "it moves or goes by air: it is counted, not placed"
    if not device.place:
        return "no room is said"
    if fits != 1:
        return f"{fits or 'no'} space{'s are' if fits > 1 else ' is'} called {device.place}"
    if device.count > _MOST_OF_A_ROW:
        return f"{device.count} of one row are counted, not placed"
    return ""


def _free(label: str, number: int, count: int, used: set[str]) -> str:
    name = label if count == 1 else f"{label} {number + 1}"
    tried, again = name[:80], 2
    while tried in used:
        tried, again = f"{name[:72]} ({again})", again + 1
    used.add(tried)
    return tried


def _network(vlan: str, networks: dict[int, str]) -> str | None:
    found = re.search(r"\d{1,4}", vlan)
    return networks.get(int(found[0])) if found else None


def _height(device: ListedDevice) -> float:
    """Return how high a thing hangs by the words of its position; a ceiling's height is the storey's to say."""
    said = plain(device.position)
    found = re.search(r"(\d+[.,]?\d*)\s*m\b", device.position)
    if found:
        return min(20.0, float(found[1].replace(",", ".")))
    high = ("ceiling", "decke", "plafond", "techo", "soffitto", "tak", "sufit", "teto")
    return 2.6 if any(word in said.split() for word in high) else 0.4


class _Rooms:
    """Spaces by what they are called, and the next free spot in each."""

    def __init__(self, job: Job):
        self.storeys = {storey.id: plain(storey.label) for storey in job.storeys}
        self.spaces = job.of(Space)
        self.spots: dict[str, list[Point]] = defaultdict(list)

    def named(self, device: ListedDevice) -> list[Space]:
        """Return the spaces a place names: whole, by its number, by its words; on the floor that is said where several fit."""
        wanted, number = plain(device.place), _number(device.place)
        if not wanted and not number:
            return []
        marks = [
            (3 if space.label.casefold() == device.place.casefold() else 0)
            + (2 if number and _number(space.label) == number else 0)
            + (1.5 if wanted and plain(space.label) == wanted else 0)
            - (2 if number and _number(space.label) not in ("", number) else 0)
            + (
                0.5
                if device.floor
                and plain(device.floor)
                and plain(device.floor) in self.storeys[space.storey_id]
                else 0
            )
            for space in self.spaces
        ]
        best = max(marks, default=0)
        return [space for space, mark in zip(self.spaces, marks, strict=True) if mark == best and mark >= 1.5]

    def spot(self, space: Space) -> Point:
        """Return the next free spot of a space: along rows inside it, a step apart."""
        room = polygon(space).buffer(-_FROM_WALL_M)
        room = polygon(space) if room.is_empty else room
        if not self.spots[space.id]:
            x0, y0, x1, y1 = room.bounds
            grid = [
                Point(x_m=round(x0 + i * _APART_M, 2), y_m=round(y0 + j * _APART_M, 2))
                for j in range(math.floor((y1 - y0) / _APART_M) + 1)
                for i in range(math.floor((x1 - x0) / _APART_M) + 1)
            ]
            inside = [p for p in grid if room.covers(shapely.Point(p.x_m, p.y_m))]
            middle = room.representative_point()
            self.spots[space.id] = inside[::-1] or [Point(x_m=round(middle.x, 2), y_m=round(middle.y, 2))]
        free = self.spots[space.id]
        return free.pop() if len(free) > 1 else free[0]


def _number(words: str) -> str:
    """Return the number a room has in a text, without what leads it."""
    found = re.search(r"(?<![\w.])[A-Za-z]?-?\d+(?:[.\-/]\d+)*[a-z]?(?![\w])", words)
    return found[0].lower() if found else ""
