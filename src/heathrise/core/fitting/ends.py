"""How a pair cable is ended, drawn large for whoever stands on a ladder: the colours in their order, both ways of a job."""

from typing import Literal

from heathrise.core.job import Job
from heathrise.core.sums import Noun

Colour = Literal["orange", "green", "blue", "brown"]
_B: tuple[tuple[Colour, bool], ...] = (
    ("orange", True),
    ("orange", False),
    ("green", True),
    ("blue", False),
    ("blue", True),
    ("green", False),
    ("brown", True),
    ("brown", False),
)
_SWAPPED: dict[Colour, Colour] = {"orange": "green", "green": "orange", "blue": "blue", "brown": "brown"}
# Which pair stands at each pin. ANSI/TIA-568.
_PAIRS = {"B": (2, 2, 3, 1, 1, 3, 4, 4), "A": (3, 3, 2, 1, 1, 2, 4, 4)}


class EndPin(Noun):
    """One pin: its number, the colour of its wire, whether it is the white one of its pair, which pair that is."""

    pin: int
    colour: Colour
    white: bool
    pair: int


class EndGuide(Noun):
    """How ends are made in a job: by which scheme, pin by pin, and what is minded."""

    scheme: Literal["A", "B"]
    pins: tuple[EndPin, ...]
    device_end: Literal["jack", "plug"]
    rules: tuple[str, ...]


def pins_of(scheme: Literal["A", "B"]) -> tuple[EndPin, ...]:
    """Return the pins of a scheme, 1 to 8.

    References
    ----------
    ANSI/TIA-568: T568A and T568B.
    """
    rows = _B if scheme == "B" else tuple((_SWAPPED[colour], white) for colour, white in _B)
    return tuple(
        EndPin(pin=n, colour=colour, white=white, pair=pair)
        for n, ((colour, white), pair) in enumerate(zip(rows, _PAIRS[scheme], strict=True), start=1)
    )


def colours_of(scheme: Literal["A", "B"]) -> str:
    """Return a scheme in words, pin 1 first."""
    names = (f"white-{pin.colour}" if pin.white else pin.colour for pin in pins_of(scheme))
    return f"{scheme}: {', '.join(names)}"


def end_guide(job: Job) -> EndGuide:
    """Return how ends are made in a job: one scheme for all of it."""
    practice = job.practice
    ends = "Field plug at the device" if practice.device_end == "plug" else "Jack and cord at the device"
    return EndGuide(
        scheme=practice.ends,
        pins=pins_of(practice.ends),
        device_end=practice.device_end,
        rules=(
            f"{practice.ends} at both ends of every cable, in the whole job.",
            f"{ends}; jack at the panel. Solid wire to jack and panel, cords stranded.",
            "Device end first, powered end last: nothing is live while hands are on it.",
            "Twist kept to the last 13 mm; jacket under the strain relief; pairs not split.",
            "All four pairs, always: a gigabit needs them, and power takes them.",
            "Label read aloud at both ends before anything is cut.",
        ),
    )
